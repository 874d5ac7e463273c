import { readFileSync } from 'node:fs';
import { shareWords, timeWords } from '@gentle-compass/core/convergence/chain';
import { converge, familiesOf, simulationsOf, type Convergence, type Spread } from '@gentle-compass/core/convergence/converge';
import type { Happening } from '@gentle-compass/core/convergence/simulate';
import { plainProfile, readProfile, writeProfile, type TimingProfile } from '@gentle-compass/core/convergence/timing-profile';
import type { Pair } from '@gentle-compass/core/convergence/watching';
import type { Family } from '@gentle-compass/core/design/family';
import { formatAddress, isSix } from '@gentle-compass/core/prefix/address';
import { addressOf } from './address';
import { failuresOf } from './failures';
import { readInput } from './predict';
import { sayAll, tell } from './say';
import { Unusable } from './unusable';

export interface ConvergeCall {
  readonly fail: readonly string[];
  readonly restore: readonly string[];
  readonly profile: string | undefined;
  readonly seed: string;
  readonly runs: string;
  readonly watch: readonly string[];
  readonly family: string | undefined;
  readonly json: boolean;
}

/** `SPEC@MS`, or `SPEC` alone for the first moment. */
function happeningOf(kind: 'fail' | 'restore', word: string): Happening {
  const at = /^(.+)@([^@]*)$/.exec(word);
  const ms = at ? Number(at[2]) : 0;
  if (at && (at[2] === '' || !Number.isFinite(ms) || ms < 0))
    throw new Unusable(`"${word}": after @ stands a moment in ms from the first event, as in ${at[1] ?? ''}@1500.`);
  const [spec] = failuresOf([at?.[1] ?? word]);
  if (!spec) throw new Unusable(`"${word}" is no failure.`);
  return { ms, kind, spec };
}

/** What happens, counted from the first of it. */
function happeningsOf(call: ConvergeCall): Happening[] {
  const all = [...call.fail.map((w) => happeningOf('fail', w)), ...call.restore.map((w) => happeningOf('restore', w))];
  if (all.length === 0) throw new Unusable('nothing happens: name what goes with --fail SPEC, or what returns with --restore SPEC.');
  const first = Math.min(...all.map((h) => h.ms));
  return all.map((h) => ({ ...h, ms: h.ms - first })).sort((a, b) => a.ms - b.ms);
}

function profileOf(file: string | undefined): TimingProfile {
  if (file === undefined) return plainProfile;
  let tree: unknown;
  try {
    tree = JSON.parse(readFileSync(file, 'utf8'));
  } catch (e) {
    if (e instanceof SyntaxError) throw new Unusable(`${file} is not JSON: ${e.message}.`);
    throw e;
  }
  const { profile, problems } = readProfile(tree);
  if (problems.length > 0) throw new Unusable(`${file}: ${problems.join(' ')}`);
  return profile;
}

function whole(name: string, text: string, from: number, to: number): number {
  const n = Number(text);
  if (!Number.isInteger(n) || n < from || n > to) throw new Unusable(`${name} is a whole number from ${from} to ${to}, not "${text}".`);
  return n;
}

function pairOf(word: string): Pair {
  const [from, to, more] = word.split(',');
  if (from === undefined || to === undefined || more !== undefined)
    throw new Unusable(`--watch takes FROM,TO, two addresses; "${word}" is none such.`);
  const pair = { from: addressOf(from.trim()), to: addressOf(to.trim()) };
  if (isSix(pair.from) !== isSix(pair.to)) throw new Unusable(`${from} and ${to} are of two families; a packet has one.`);
  return pair;
}

const rounded = (ms: number): number => Math.round(ms * 1000) / 1000;
const spreadJson = (s: Spread | undefined): object | null =>
  s ? { earliest: rounded(s.earliest), typical: rounded(s.typical), latest: rounded(s.latest) } : null;

function json(c: Convergence, profile: TimingProfile): object {
  return {
    profile: writeProfile(profile),
    seed: c.seed,
    runs: c.runs,
    'last-change-ms': spreadJson(c.lastChange),
    routers: Object.fromEntries(
      c.routers.map((r) => [
        r.router,
        {
          'detected-ms': spreadJson(r.detected),
          'learned-ms': spreadJson(r.learned),
          'spf-ms': spreadJson(r.spf),
          'first-change-ms': spreadJson(r.firstChange),
          'last-change-ms': spreadJson(r.lastChange),
        },
      ]),
    ),
    events: c.events.map((e) => ({ ms: rounded(e.ms), router: e.router, kind: e.kind, detail: e.detail })),
    flows: c.flows.map((f) => ({
      from: formatAddress(f.from),
      to: formatAddress(f.to),
      spans: f.spans.map((s) => ({ 'from-ms': rounded(s.fromMs), 'to-ms': rounded(s.toMs), fate: s.fate, at: s.at })),
    })),
    loops: c.loops.map((l) => ({
      from: formatAddress(l.from),
      to: formatAddress(l.to),
      routers: l.routers,
      'from-ms': rounded(l.fromMs),
      'to-ms': rounded(l.toMs),
    })),
  };
}

const spreadText = (s: Spread | undefined): string => (s ? `${timeWords(s.earliest)} / ${timeWords(s.typical)} / ${timeWords(s.latest)}` : 'nothing');

/** How many loops are listed as text: the longest. */
const mostLoops = 20;

async function text(c: Convergence): Promise<void> {
  await sayAll(`All tables are as they stay after ${spreadText(c.lastChange)} (earliest, typical, latest of ${c.runs} runs, seed ${c.seed}).\n`);
  if (c.slowest !== undefined)
    await sayAll(`In the typical run ${c.lastRouter ?? ''} is last: ${c.slowest}.\n${c.shares.map((s) => `  ${shareWords(s)}\n`).join('')}`);
  const width = Math.max(6, ...c.routers.map((r) => r.router.length));
  const line = (cells: readonly string[]): string =>
    `${(cells[0] ?? '').padEnd(width)} ${cells
      .slice(1)
      .map((x) => x.padEnd(30))
      .join(' ')
      .trimEnd()}\n`;
  await sayAll(`\n${line(['router', 'noticed by itself', 'heard', 'first change', 'last change'])}`);
  const late = (r: Convergence['routers'][number]): number => r.lastChange?.typical ?? -1;
  for (const r of [...c.routers].sort((a, b) => late(b) - late(a)))
    if (r.detected ?? r.learned ?? r.lastChange)
      await sayAll(line([r.router, ...[r.detected, r.learned, r.firstChange, r.lastChange].map((s) => (s ? spreadText(s) : '-'))]));
  for (const f of c.flows) {
    await sayAll(`\n${formatAddress(f.from)} to ${formatAddress(f.to)}\n`);
    for (const s of f.spans)
      await sayAll(
        `  ${timeWords(s.fromMs)} to ${timeWords(s.toMs)}: ${s.fate}${s.at.length > 0 ? ` at ${s.at.join(', ')}` : ''}${s.why === undefined ? '' : ` (${s.why})`}${s.fate === 'carried' ? ` by ${s.path.join(', ')}` : ''}\n`,
      );
  }
  if (c.loops.length === 0) return;
  const longest = [...c.loops].sort((a, b) => b.toMs - b.fromMs - (a.toMs - a.fromMs));
  await sayAll(
    `\n${c.loops.length} times packets between loopbacks go round${c.loops.length > mostLoops ? `; the ${mostLoops} longest (--json has all)` : ''}:\n`,
  );
  for (const l of longest.slice(0, mostLoops))
    await sayAll(`  ${formatAddress(l.from)} to ${formatAddress(l.to)}: ${l.routers.join(', ')}, ${timeWords(l.fromMs)} to ${timeWords(l.toMs)}\n`);
}

/** `converge`: how long the network takes after a failure or a return, router by router, by many simulated runs. */
export async function convergeCommand(paths: readonly string[], call: ConvergeCall): Promise<number> {
  if (call.family !== undefined && call.family !== '4' && call.family !== '6') throw new Unusable(`--family is 4 or 6, not "${call.family}".`);
  const happenings = happeningsOf(call);
  const profile = profileOf(call.profile);
  const watch = call.watch.map(pairOf);
  const seed = whole('--seed', call.seed, 0, 0xffff_ffff);
  const runs = whole('--runs', call.runs, 1, 100_000);
  const { design } = readInput(paths);
  const families = call.family === undefined ? familiesOf(design) : [Number(call.family) as Family];
  const simulations = simulationsOf(design, happenings, families);
  const [trouble] = simulations.flatMap((s) => [...s.ground.problems, ...s.problems, s.refusal ?? []].flat());
  if (trouble !== undefined) throw new Unusable(trouble);
  const c = converge(simulations, { profile, seed, runs, watch });
  for (const p of c.problems) tell(`gentle-compass: ${p}\n`);
  if (call.json) await sayAll(`${JSON.stringify(json(c, profile))}\n`);
  else await text(c);
  return 0;
}
