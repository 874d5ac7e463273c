import { formatFailure } from '../failures/outage';
import type { LinkLoad } from '../loads/loads';
import { formatAddress } from '../prefix/address';
import { harmOf, type CaseResult } from '../sweep/sweep';
import { xmlText } from '../documents/xml-text';

/** A load as machines read it. */
export const loadJson = (l: LinkLoad): object => ({ router: l.router, interface: l.iface, mbps: l.mbps, 'capacity-mbps': l.capacity ?? null });

/** A case of a sweep as machines read it. */
export const caseJson = (c: CaseResult): object => ({
  fail: c.fail.map(formatFailure),
  'lost-routes': c.lostRoutes,
  'changed-routes': c.changedRoutes,
  'longest-detour': c.longestDetour ?? null,
  'cut-pairs': c.cutPairs,
  'cut-examples': c.cutExamples.map(({ from, to }) => ({ from: formatAddress(from), to: formatAddress(to) })),
  'broken-expectations': c.broken,
  'over-capacity': c.overCapacity.map(loadJson),
});

const counted = (n: number, one: string, many = `${one}s`): string => `${n.toLocaleString('en-GB')} ${n === 1 ? one : many}`;

/** What a case does, in words; empty where it does nothing. */
export function caseWords(c: CaseResult): string {
  const over = c.overCapacity[0];
  return [
    c.broken.length > 0 ? `breaks ${c.broken.join(', ')}` : '',
    c.cutPairs > 0 ? `${counted(c.cutPairs, 'pair')} of loopbacks cut` : '',
    c.lostRoutes > 0 ? `${counted(c.lostRoutes, 'route')} lost` : '',
    c.changedRoutes > 0 ? `${counted(c.changedRoutes, 'route')} changed` : '',
    c.longestDetour === undefined ? '' : `up to ${c.longestDetour.toLocaleString('en-GB')} longer`,
    over
      ? `${counted(c.overCapacity.length, 'interface')} over capacity, ${over.router}/${over.iface} first with ${over.mbps} of ${over.capacity ?? 0} Mbit/s`
      : '',
  ]
    .filter(Boolean)
    .join('; ');
}

/** How many cases do how much harm, in a sentence. */
export function sweepWords(cases: readonly CaseResult[]): string {
  const count = (h: string): number => cases.filter((c) => harmOf(c) === h).length;
  return `${counted(cases.length, 'case')}: ${count('cut')} cut loopbacks apart or break expectations, ${count('longer')} make ways longer, ${count('harmless')} are harmless.`;
}

/** A sweep as JUnit: a case fails where it breaks expectations. */
export function sweepJunit(cases: readonly CaseResult[], brokenAlready: readonly string[]): string {
  const line = (name: string, failed: string, told: string): string => {
    const body =
      failed !== ''
        ? `<failure message="${xmlText(failed)}">${xmlText(told)}</failure>`
        : told === ''
          ? ''
          : `<system-out>${xmlText(told)}</system-out>`;
    const open = `    <testcase classname="gentle-compass" name="${xmlText(name)}" time="0"`;
    return body === '' ? `${open}/>` : `${open}>\n      ${body}\n    </testcase>`;
  };
  const already = brokenAlready.length > 0 ? `broken while nothing fails: ${brokenAlready.join(', ')}` : '';
  const lines = [
    line('expectations while nothing fails', already, already),
    ...cases.map((c) => line(c.fail.map(formatFailure).join(' '), c.broken.length > 0 ? `breaks ${c.broken.join(', ')}` : '', caseWords(c))),
  ];
  const failures = cases.filter((c) => c.broken.length > 0).length + (already === '' ? 0 : 1);
  const numbers = `tests="${lines.length}" failures="${failures}" errors="0"`;
  return `<?xml version="1.0" encoding="UTF-8"?>\n<testsuites name="Gentle Compass" ${numbers}>\n  <testsuite name="sweep" ${numbers} skipped="0" time="0">\n${lines.join('\n')}\n  </testsuite>\n</testsuites>\n`;
}
