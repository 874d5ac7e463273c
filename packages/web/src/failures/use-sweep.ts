import { compareCosts } from '@gentle-compass/core/sweep/sweep';
import { proxy } from 'comlink';
import { useRef, useState } from 'react';
import { told } from '../model/state';
import type { CaseView, SweepWish } from '../model/sweep-view';
import type { DesignView } from '../model/view';
import { workbench } from '../worker/client';

/** How far a sweep is, and what it found. */
export interface SweepState {
  readonly wish: string;
  readonly done: number;
  /** 0: not known yet. */
  readonly all: number;
  readonly cases: readonly CaseView[];
  readonly running: boolean;
  /** Seconds that the rest takes, as things went so far. */
  readonly left: number | undefined;
}

export const wishKey = ({ kinds, pairs }: SweepWish): string => `${kinds.join()} ${pairs}`;

const worstFirst = (a: CaseView, b: CaseView): number => compareCosts(a, b, a.words.join(' '), b.words.join(' '));

/** A sweep of the design that is open: begins, stops, goes on where it was; another design or another wish begins anew. */
export function useSweep(of: DesignView['routers'] | undefined): {
  readonly state: SweepState | undefined;
  readonly begin: (wish: SweepWish) => void;
  readonly stop: () => void;
} {
  const [state, setState] = useState<SweepState & { readonly of: unknown }>();
  const turn = useRef(0);
  const run = async (wish: SweepWish): Promise<void> => {
    const mine = ++turn.current;
    const key = wishKey(wish);
    const known = state?.of === of && state?.wish === key ? state : undefined;
    const before = known && known.done < known.all ? known : undefined;
    const cases: CaseView[] = [...(before?.cases ?? [])];
    const began = performance.now();
    const from = before?.done ?? 0;
    const show = (done: number, all: number, running: boolean): void => {
      if (mine !== turn.current) return;
      const perCase = done > from ? (performance.now() - began) / (done - from) : undefined;
      const left = perCase === undefined ? undefined : (perCase * (all - done)) / 1000;
      setState({ of, wish: key, done, all, cases: cases.toSorted(worstFirst), running, left });
    };
    show(from, before?.all ?? 0, true);
    let [done, all] = [from, before?.all ?? 0];
    let ended = false;
    try {
      const end = await workbench().sweep.run(
        wish,
        before !== undefined,
        proxy((d: number, a: number, found: readonly CaseView[]) => {
          cases.push(...found);
          [done, all] = [d, a];
          // The last of what was found may come after the word that all is done.
          show(d, a, !ended);
        }),
      );
      ended = true;
      if (end === 'outdated' && mine === turn.current) setState(undefined);
      else show(done, all, false);
    } catch (e) {
      told(e, 'Trying every failure');
      show(done, all, false);
    }
  };
  return {
    state: state?.of === of ? state : undefined,
    begin: (wish) => void run(wish),
    stop: () => void workbench().sweep.stop(),
  };
}
