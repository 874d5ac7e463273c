import { say } from './say';
import { areaId, prefixNumber } from '@gentle-compass/core/documents/leaf-types';
import type { Family } from '@gentle-compass/core/design/family';
import { comparePrefixes, formatAddress, formatPrefix, isSix, type Prefix } from '@gentle-compass/core/prefix/address';
import { predictFamilies } from '@gentle-compass/core/predict';
import { planSummaries, rowText, type Choice } from '@gentle-compass/core/summaries/planner';
import { areaTask, insideByArea } from '@gentle-compass/core/summaries/space';
import { readInput } from './predict';
import { Unusable } from './unusable';

export interface SummarizeCall {
  readonly area: string;
  readonly atMost: string;
  readonly leaveOut: readonly string[];
  readonly reserve: readonly string[];
  readonly allowForeign: string;
  readonly family: string | undefined;
  readonly json: boolean;
}

const prefix = (text: string): Prefix => {
  const p = text.includes('/') ? prefixNumber.read(text) : undefined;
  if (!p) throw new Unusable(`"${text}" is no prefix such as 10.96.0.0/16 or 2001:db8:40::/48.`);
  return p;
};

const count = (option: string, text: string, from: number): number => {
  const n = /^\d{1,9}$/.test(text) ? Number(text) : NaN;
  if (!(n >= from)) throw new Unusable(`${option} takes a number from ${from} up, not "${text}".`);
  return n;
};

const choiceJson = (c: Choice, six: boolean): object => {
  const addresses = (n: bigint): number | string => (six ? n.toString() : Number(n));
  return {
    summaries: c.summaries.map(formatPrefix),
    outside: c.outside.map(formatPrefix),
    foreign: c.foreign.map((f) => ({ prefix: formatPrefix(f.prefix), area: f.area === null ? null : formatAddress(f.area) })),
    'claimed-addresses': addresses(c.claimed),
    'needed-addresses': addresses(c.needed),
  };
};

/** How much of something is used, in words that hold for IPv6 too. */
function filled({ needed, claimed }: Choice): string {
  if (claimed === 0n) return '';
  const share = Number((needed * 10_000n) / claimed) / 100;
  return share < 0.01 ? ', next to nothing of it in use' : `, ${share.toFixed(share < 10 ? 2 : 0)}% of it in use`;
}

const named = (n: number, one: string, many = `${one}s`): string => `${n} ${n === 1 ? one : many}`;

function choiceText(c: Choice, n: number): string[] {
  const outside = c.outside.length === 0 ? 'nothing outside' : `${named(c.outside.length, 'prefix', 'prefixes')} outside`;
  const foreign = c.foreign.map((f) => `${formatPrefix(f.prefix)} (${f.area === null ? 'from elsewhere' : `area ${formatAddress(f.area)}`})`);
  return [
    `${n === 0 ? 'Best' : named(c.summaries.length, 'summary', 'summaries')}: ${rowText(c.summaries) || 'none'}`,
    `  ${outside}${filled(c)}`,
    ...(c.outside.length === 0 ? [] : [`  outside: ${rowText(c.outside)}`]),
    ...(foreign.length === 0 ? [] : [`  foreign: ${foreign.join(', ')}`]),
  ];
}

/** `summarize`: the best summaries of an area, and of each other number of them. */
export function summarizeCommand(paths: readonly string[], call: SummarizeCall): number {
  const area = areaId.read(call.area);
  if (area === undefined) throw new Unusable(`"${call.area}" is not ${areaId.expected}.`);
  const atMost = count('--at-most', call.atMost, 1);
  const allowForeign = count('--allow-foreign', call.allowForeign, 0);
  const wishes = { leaveOut: call.leaveOut.map(prefix), reserve: call.reserve.map(prefix) };
  if (call.family !== undefined && call.family !== '4' && call.family !== '6') throw new Unusable(`--family is 4 or 6, not "${call.family}".`);
  const predictions = predictFamilies(readInput(paths).design);
  const has = (f: Family): boolean => predictions.some((x) => x.family === f && (insideByArea(x).get(area)?.size ?? 0) > 0);
  const family: Family = call.family === undefined ? (has(4) || !has(6) ? 4 : 6) : call.family === '4' ? 4 : 6;
  const p = predictions.find((x) => x.family === family);
  if (!p || !has(family)) {
    const known = [...new Set(predictions.flatMap((x) => [...insideByArea(x).keys()]))].sort((a, b) => a - b);
    const other = call.family !== undefined && has(family === 4 ? 6 : 4) ? ` with IPv${family}` : '';
    throw new Unusable(`there is no area ${formatAddress(area)}${other}; there are ${known.map(formatAddress).join(', ') || 'none'}.`);
  }
  const six = family === 6;
  const strange = wishes.reserve.find((x) => isSix(x.bits) !== six);
  if (strange)
    throw new Unusable(`${formatPrefix(strange)} cannot be reserved among prefixes of IPv${family}; write --family ${six ? 4 : 6} for it.`);
  const task = areaTask(p, area, wishes);
  const choices = planSummaries(task, { atMost, allowForeign });
  if (call.json) {
    const parts = [...task.parts].sort(comparePrefixes).map(formatPrefix);
    say(`${JSON.stringify({ area: formatAddress(area), parts, choices: choices.map((c) => choiceJson(c, six)) }, null, 2)}\n`);
  } else
    say(
      `${[`Area ${formatAddress(area)} has ${named(task.parts.length, 'prefix', 'prefixes')} to summarise.`, ...choices.flatMap(choiceText)].join('\n')}\n`,
    );
  return 0;
}
