import { formatFailure } from '@gentle-compass/core/failures/outage';
import { predictFamilies } from '@gentle-compass/core/predict';
import { caseJson, caseWords, sweepJunit, sweepWords } from '@gentle-compass/core/reports/sweep-report';
import { caseCount, eachCase, sweepCases, sweepKinds, usualKinds, type SweepKind } from '@gentle-compass/core/sweep/cases';
import { compareCases, harmOf, sweeping, Trials, type CaseResult } from '@gentle-compass/core/sweep/sweep';
import { demandsOf } from './demands';
import { readInput } from './predict';
import { sayAll, tell } from './say';
import { Unusable } from './unusable';

const formats = ['text', 'json', 'junit'] as const;
/** Cases that a text names one by one. */
const mostTold = 40;

export interface SweepCall {
  readonly kinds: string | undefined;
  readonly pairs: boolean;
  /** A further file of expectations. */
  readonly expect: string | undefined;
  /** A table of traffic, beside what the design carries. */
  readonly demands: string | undefined;
  readonly format: string;
}

function kindsOf(text: string | undefined): readonly SweepKind[] {
  if (text === undefined) return usualKinds;
  return text.split(',').map((word) => {
    const kind = sweepKinds.find((k) => k === word.trim());
    if (!kind) throw new Unusable(`"${word}" is nothing to sweep; write ${sweepKinds.join(', ')}, separated by commas.`);
    return kind;
  });
}

/** Tells now and then how far it is, where somebody looks on. */
function* withProgress(results: Iterable<CaseResult>, of: number): Generator<CaseResult> {
  let done = 0;
  let told = Date.now();
  for (const r of results) {
    done++;
    if (process.stderr.isTTY && Date.now() - told > 1000) {
      told = Date.now();
      tell(`${done} of ${of} tried\n`);
    }
    yield r;
  }
}

async function text(cases: readonly CaseResult[], already: readonly string[]): Promise<void> {
  if (already.length > 0) await sayAll(`broken while nothing fails: ${already.join(', ')}\n`);
  const doing = cases.filter((c) => harmOf(c) !== 'harmless' || c.lostRoutes > 0 || c.overCapacity.length > 0);
  for (const c of doing.slice(0, mostTold)) await sayAll(`${harmOf(c).padEnd(8)} ${c.fail.map(formatFailure).join(' + ')}: ${caseWords(c)}\n`);
  if (doing.length > mostTold) await sayAll(`and ${doing.length - mostTold} more (--format json has all)\n`);
  await sayAll(`${sweepWords(cases)}\n`);
}

/** `sweep`: every single failure of some kinds, and every two together: what each cuts, breaks and makes longer. Exit 1 where one breaks an expectation. */
export async function sweepCommand(paths: readonly string[], call: SweepCall): Promise<number> {
  if (!formats.some((f) => f === call.format)) throw new Unusable(`"${call.format}" is no format of sweep; write ${formats.join(', ')}.`);
  const kinds = kindsOf(call.kinds);
  const { expect } = call;
  const read = readInput(expect === undefined ? paths : [...paths, expect]);
  if (expect !== undefined && !read.design.settings.expectations.some((e) => e.file === expect))
    throw new Unusable(`${expect} holds no expectation that could be read; it is a settings document with an "expectation" list.`);
  const families = predictFamilies(read.design);
  const trials = new Trials(families, demandsOf(families, call.demands));
  const singles = sweepCases(families, kinds);
  const results = withProgress(sweeping(trials, eachCase(singles, call.pairs)), caseCount(singles.length, call.pairs));
  const cases = [...results].sort(compareCases);
  const { brokenAlready } = trials;
  if (call.format === 'text') await text(cases, brokenAlready);
  else if (call.format === 'junit') await sayAll(sweepJunit(cases, brokenAlready));
  else {
    await sayAll('{"cases":[');
    for (const [i, c] of cases.entries()) await sayAll(`${i === 0 ? '' : ','}\n${JSON.stringify(caseJson(c))}`);
    await sayAll('\n]}\n');
  }
  const breaking = cases.filter((c) => c.broken.length > 0).length;
  if (breaking > 0) tell(`sweep ends with 1: ${breaking} of ${cases.length} cases break an expectation.\n`);
  else if (brokenAlready.length > 0) tell('sweep ends with 1: an expectation does not hold while nothing fails.\n');
  return breaking + brokenAlready.length > 0 ? 1 : 0;
}
