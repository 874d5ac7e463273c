import { comparePrefixes, formatAddress, formatPrefix, type Prefix } from '../prefix/address';
import type { Prediction } from '../predict';
import { summarisers } from './space';

/** A summary as it is laid, before it is written anywhere. */
export interface Laid {
  readonly prefix: Prefix;
  /** Fixed; `undefined`: it follows its parts. */
  readonly cost: number | undefined;
  readonly hidden: boolean;
}

/** What is summarised: an area at its border routers, or what a boundary router announces outside. */
export type Scope = { readonly kind: 'area'; readonly area: number } | { readonly kind: 'outside'; readonly router: string };

/** A router that writes a scope's summaries, with those that it has. */
export interface Writer {
  readonly router: string;
  readonly laid: readonly Laid[];
}

/** Who has to write the summaries of a scope: of an NSSA's translators all that could take over (RFC 3101 §3.1). */
export function writersOf(p: Prediction, scope: Scope): Writer[] {
  if (scope.kind === 'area')
    return summarisers(p, scope.area).map((s) => ({
      router: s.router.name,
      laid: p.routing.areaOf(s, scope.area).ranges.map((r) => ({ prefix: r.prefix, cost: r.cost, hidden: !r.advertise })),
    }));
  const own = p.speakersOf(p.routerIndex(scope.router));
  const nssas = own.flatMap((s) => p.routing.areasOf(s).filter((a) => p.routing.isBorderRouter(s) && p.routing.areaOf(s, a).type === 'nssa'));
  const all = new Map([...own, ...nssas.flatMap((a) => summarisers(p, a))].map((s) => [s.router.name, s]));
  return [...all.values()].map((s) => ({
    router: s.router.name,
    laid: s.instance.externalRanges.map((r) => ({ prefix: r.prefix, cost: r.metric, hidden: !r.advertise })),
  }));
}

const same = (a: Prefix, b: Prefix): boolean => a.bits === b.bits && a.length === b.length;
const alike = (a: Laid, b: Laid): boolean => same(a.prefix, b.prefix) && a.cost === b.cost && a.hidden === b.hidden;

/** Summaries as some routers have them together, each prefix once: what stands, where they agree. */
export function asItStands(writers: readonly Writer[]): Laid[] {
  const out: Laid[] = [];
  for (const w of writers) for (const l of w.laid) if (!out.some((o) => same(o.prefix, l.prefix))) out.push(l);
  return out.sort((a, b) => comparePrefixes(a.prefix, b.prefix));
}

/** Whether all who write a scope's summaries have the same. */
export const agree = (writers: readonly Writer[]): boolean => {
  const all = asItStands(writers);
  return writers.every((w) => w.laid.length === all.length && all.every((l) => w.laid.some((x) => alike(x, l))));
};

/** The lines of quick entry that leave exactly these summaries on all who write them; none where all is so already. */
export function layingLines(scope: Scope, writers: readonly Writer[], laid: readonly Laid[]): string[] {
  const where =
    scope.kind === 'area'
      ? `area ${scope.area < 256 ? scope.area : formatAddress(scope.area)}`
      : `outside on ${writers.map((w) => w.router).join(' ')}`;
  const gone = asItStands(writers).filter((l) => !laid.some((x) => same(x.prefix, l.prefix)));
  const changed = laid.filter((l) => !writers.every((w) => w.laid.some((x) => alike(x, l))));
  const costWord = scope.kind === 'area' ? 'cost' : 'metric';
  return [
    ...gone.map((l) => `range ${formatPrefix(l.prefix)} ${where} off`),
    ...changed.map(
      (l) => `range ${formatPrefix(l.prefix)} ${where}${l.cost === undefined ? '' : ` ${costWord} ${l.cost}`}${l.hidden ? ' hidden' : ''}`,
    ),
  ];
}
