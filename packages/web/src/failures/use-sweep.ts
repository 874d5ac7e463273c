import { useRef, useState } from 'react';
import { received } from '../model/received';
import { told } from '../model/state';
import type { CaseView, SweepWish } from '../model/sweep-view';
import type { DesignView } from '../model/view';
import { stopSweepers, sweepSideBySide } from '../worker/sweepers';
import { caseKey, rankedWith } from './ranked';

/** How far a sweep is, and what it found. */
export interface SweepState {
  readonly wish: string;
  readonly done: number;
  /** 0: not known yet. */
  readonly all: number;
  /** The worst first. */
  readonly cases: readonly CaseView[];
  readonly running: boolean;
  /** Seconds that the rest takes, as things went so far. */
  readonly left: number | undefined;
}

/** A sweep of the design that is open. */
export interface Sweeping {
  readonly state: SweepState | undefined;
  readonly begin: (wish: SweepWish) => void;
  readonly stop: () => void;
}

export const wishKey = ({ kinds, pairs }: SweepWish): string => `${kinds.join()} ${pairs}`;

/** Milliseconds between two looks at what was found: the page has other things to draw. */
const lookEvery = 150;

/** A sweep of the design that is open: begins, stops, goes on where it was; another design or another wish begins anew. */
export function useSweep(of: DesignView['routers'] | undefined): Sweeping {
  const [state, setState] = useState<SweepState & { readonly of: unknown }>();
  const turn = useRef(0);
  const run = async (wish: SweepWish): Promise<void> => {
    const mine = ++turn.current;
    const key = wishKey(wish);
    const known = state?.of === of && state?.wish === key ? state : undefined;
    const before = known && known.done < known.all ? known : undefined;
    let cases = before?.cases ?? [];
    const seen = new Set(cases.map(caseKey));
    let found: CaseView[] = [];
    const began = performance.now();
    const from = before?.done ?? 0;
    let [done, all, running] = [from, before?.all ?? 0, true];
    let looked: ReturnType<typeof setTimeout> | undefined;
    const look = (): void => {
      clearTimeout(looked);
      looked = undefined;
      if (mine !== turn.current) return;
      cases = rankedWith(cases, found);
      found = [];
      const perCase = done > from ? (performance.now() - began) / (done - from) : undefined;
      const left = perCase === undefined ? undefined : (perCase * (all - done)) / 1000;
      setState({ of, wish: key, done, all, cases, running, left });
    };
    look();
    try {
      const end = await sweepSideBySide(received.documents, of?.length ?? 0, wish, before !== undefined, (d, a, more) => {
        // A share that had to begin anew finds some once more.
        for (const c of more)
          if (!seen.has(caseKey(c))) {
            seen.add(caseKey(c));
            found.push(c);
          }
        [done, all] = [d, a];
        looked ??= setTimeout(look, running ? lookEvery : 0);
      });
      running = false;
      if (end === 'outdated' && mine === turn.current) setState(undefined);
      else look();
    } catch (e) {
      told(e, 'Trying every failure');
      running = false;
      look();
    }
  };
  return {
    state: state?.of === of ? state : undefined,
    begin: (wish) => void run(wish),
    stop: () => void stopSweepers(),
  };
}
