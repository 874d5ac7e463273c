import { facingValues, type FacingValue } from '@gentle-compass/core/evidence/neighbor-words';
import type { Held } from '../held';
import { pairIdOf } from '../views';

/** Two ends that face each other. */
export class NeighboursDesk {
  constructor(private readonly held: Held) {}

  /** Parameters of two facing ends side by side, by the id of their pair. */
  facing(id: string): readonly FacingValue[] {
    const { now } = this.held;
    const pair = now.adjacencies.pairs.find((x) => pairIdOf(now, x) === id);
    return pair ? facingValues(pair) : [];
  }
}
