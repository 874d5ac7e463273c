import type { SweepKind } from '@gentle-compass/core/sweep/cases';
import type { Harm } from '@gentle-compass/core/sweep/sweep';

/** One case of a sweep, as it is shown. */
export interface CaseView {
  /** What fails, as it is typed. */
  readonly words: readonly string[];
  readonly harm: Harm;
  readonly lostRoutes: number;
  readonly changedRoutes: number;
  /** Ordered pairs of loopbacks that are cut apart; some of them by their addresses. */
  readonly cutPairs: number;
  readonly examples: readonly { readonly from: string; readonly to: string }[];
  /** Largest growth of a cost; `null` where none grows. */
  readonly longestDetour: number | null;
  readonly broken: readonly string[];
  /** Interfaces over capacity, the fullest first. */
  readonly over: readonly { readonly router: string; readonly iface: string; readonly mbps: number; readonly capacity: number }[];
}

/** What is swept. */
export interface SweepWish {
  readonly kinds: readonly SweepKind[];
  readonly pairs: boolean;
}

/** How a sweep ended: all was tried; it was stopped and can go on; the design is another one by now. */
export type SweepEnd = 'done' | 'stopped' | 'outdated';
