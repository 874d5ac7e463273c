import { formatFailure } from '../failures/outage';
import type { LinkLoad } from '../loads/loads';
import { formatAddress } from '../prefix/address';
import { harmOf, type CaseResult } from '../sweep/sweep';
import { junitText, type JunitCase } from './junit';

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
  const already = brokenAlready.length > 0 ? `broken while nothing fails: ${brokenAlready.join(', ')}` : '';
  return junitText('sweep', [
    { name: 'expectations while nothing fails', failed: already, told: '' },
    ...cases.map((c): JunitCase => {
      const words = caseWords(c);
      return { name: c.fail.map(formatFailure).join(' '), failed: c.broken.length > 0 ? words : '', told: c.broken.length > 0 ? '' : words };
    }),
  ]);
}
