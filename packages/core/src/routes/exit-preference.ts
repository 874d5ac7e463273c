import { backbone } from '../design/design';
import type { RouterPath } from './route';

/** A way to a boundary router or forwarding address. */
export type ExitPath = Pick<RouterPath, 'type' | 'area' | 'cost'>;

/**
 * Rank of a path to a boundary router or forwarding address, smaller is better (RFC 2328 §16.4.1): paths inside an
 * area other than the backbone come first, all others are alike. RFC 1583 knew no such preference.
 */
export const exitRank = (p: ExitPath, rfc1583Compatible: boolean): number =>
  rfc1583Compatible || (p.type === 'intra-area' && p.area !== backbone) ? 0 : 1;

/** Of several paths to one boundary router the one to use (RFC 2328 §16.4 (3)): rank, cost, then the larger area id. */
export function preferredPath(paths: readonly RouterPath[], rfc1583Compatible: boolean): RouterPath | undefined {
  let best: RouterPath | undefined;
  for (const p of paths) {
    if (!best) best = p;
    else {
      const d = exitRank(p, rfc1583Compatible) - exitRank(best, rfc1583Compatible) || p.cost - best.cost || best.area - p.area;
      if (d < 0) best = p;
    }
  }
  return best;
}
