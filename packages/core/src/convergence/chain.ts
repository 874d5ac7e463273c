import type { ChainKind, ChainLink } from './run-state';

/** What one kind of waiting took, of all the time until the last change. Times in ms. */
export interface Share {
  readonly kind: ChainKind;
  readonly ms: number;
  /** Where most of it was. */
  readonly where: string;
}

/** What kinds of waiting are called. */
const words: Readonly<Record<ChainKind, (where: string) => string>> = {
  carrier: (w) => `the carrier of ${w}`,
  'dead-interval': (w) => `the dead interval on ${w}`,
  bfd: (w) => `BFD on ${w}`,
  hellos: (w) => `waiting for hellos of ${w}`,
  'wait-timer': (w) => `the wait for who leads on ${w}`,
  exchange: (w) => `the exchange of databases at ${w}`,
  'ls-interval': (w) => `MinLSInterval on ${w}`,
  flooding: (w) => `flooding as far as ${w}`,
  retransmission: (w) => `sending again from ${w}`,
  'spf-delay': (w) => `the SPF delay of ${w}`,
  calculation: (w) => `the calculation of ${w}`,
  installation: (w) => `installing on ${w}`,
  'virtual-link': (w) => `hellos of a virtual link of ${w}`,
};

/** What the time until a change was spent on, largest first. */
export function sharesOf(chain: ChainLink | undefined): Share[] {
  const by = new Map<ChainKind, { ms: number; where: string; most: number }>();
  for (let l = chain; l; l = l.before) {
    const ms = l.to - l.from;
    const s = by.get(l.kind);
    if (!s) by.set(l.kind, { ms, where: l.where, most: ms });
    else {
      s.ms += ms;
      // Flooding is told by how far it came, the rest by where it took longest.
      if (l.kind !== 'flooding' && ms > s.most) s.where = l.where;
      s.most = Math.max(s.most, ms);
    }
  }
  return [...by].map(([kind, { ms, where }]) => ({ kind, ms, where })).sort((a, b) => b.ms - a.ms);
}

/** A time as people say it. */
export function timeWords(ms: number): string {
  if (ms >= 1000) return `${(ms / 1000).toFixed(ms >= 100_000 ? 0 : ms >= 10_000 ? 1 : 2)} s`;
  return `${ms.toFixed(ms >= 10 ? 0 : 1)} ms`;
}

/** The slowest part of the way to the last change, in a sentence; `undefined` where nothing changed. */
export function slowestWords(chain: ChainLink | undefined): string | undefined {
  const shares = sharesOf(chain);
  const [first] = shares;
  if (!first) return undefined;
  const all = shares.reduce((n, s) => n + s.ms, 0);
  return `${timeWords(first.ms)} of ${timeWords(all)} is ${words[first.kind](first.where)}`;
}

/** One share in words. */
export const shareWords = (s: Share): string => `${timeWords(s.ms)}: ${words[s.kind](s.where)}`;
