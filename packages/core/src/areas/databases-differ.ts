import type { Speaker } from '../adjacency/speakers';
import type { Prediction } from '../predict';
import { areaWords } from './flooding';
import { databaseOf, heldKey, type Held } from './held';

/** An advertisement that one of two routers holds, or both. */
export interface HeldByTwo {
  readonly held: Held;
  readonly by: 'both' | 'first' | 'second';
  /** Why the other one does not hold it, and that this is right; empty where both do. */
  readonly why: string;
}

/** Why a router does not hold what another one does. */
function whyLacking(p: Prediction, lacks: Speaker, { area }: Held): string {
  const own = p.routing.areasOf(lacks);
  const { name } = lacks.router;
  if (area === undefined) {
    const types = own.map((a) => p.routing.areaOf(lacks, a).type);
    if (types.includes('normal')) return `Nobody who floods it is reached from ${name} by full neighbours.`;
    return `${name} stands in ${types.includes('nssa') ? 'an NSSA' : 'a stub area'} alone: no type 5 comes there.`;
  }
  return own.includes(area)
    ? `${areaWords(area)[0]?.toUpperCase() ?? ''}${areaWords(area).slice(1)} is in pieces, and ${name} is in another one.`
    : `${name} has no part in ${areaWords(area)}.`;
}

/** The databases of two routers side by side: what both hold, what one holds alone, and why that is right (RFC 2328 §13.3). */
export function compareDatabases(p: Prediction, first: Speaker, second: Speaker): HeldByTwo[] {
  const [a, b] = [databaseOf(p, first), databaseOf(p, second)];
  const inFirst = new Set(a.map(heldKey));
  const inSecond = new Set(b.map(heldKey));
  return [
    ...a.map((held): HeldByTwo => {
      const both = inSecond.has(heldKey(held));
      return { held, by: both ? 'both' : 'first', why: both ? '' : whyLacking(p, second, held) };
    }),
    ...b.filter((held) => !inFirst.has(heldKey(held))).map((held): HeldByTwo => ({ held, by: 'second', why: whyLacking(p, first, held) })),
  ];
}
