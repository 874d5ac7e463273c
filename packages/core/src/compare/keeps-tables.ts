import type { Prediction } from '../predict';

/** Designs up to this many routers keep the tables that a comparison makes. */
const keptUpTo = 150;

/** Whether a comparison keeps the tables of this state: those of larger designs are looked at once, for memory's sake. */
export function keepsTables(p: Prediction): boolean {
  return p.design.routers.length <= keptUpTo;
}
