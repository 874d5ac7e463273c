'use client';

import { proxy } from 'comlink';
import { useEffect, useMemo, useRef, useState } from 'react';
import { told, useStore } from '../model/state';
import { readThen, type MomentView, type TimeCall, type TimeView } from '../model/time-view';
import { workbench } from '../worker/client';

/** Simulates what happens whenever that, the design or the times change. */
export function useTime(runs: number, seed: number): { readonly time: TimeView | undefined; readonly standing: boolean } {
  const routers = useStore((s) => s.view?.routers);
  const fail = useStore((s) => s.fail);
  const thenWords = useStore((s) => s.then);
  const watch = useStore((s) => s.watch);
  const profile = useStore((s) => s.profile);
  const family = useStore((s) => s.family);
  const call = useMemo(
    (): TimeCall => ({ fail, then: thenWords.flatMap((t) => readThen(t) ?? []), watch, profile, seed, runs }),
    [fail, thenWords, watch, profile, seed, runs],
  );
  const [state, setState] = useState<{ readonly of: unknown; readonly call: TimeCall; readonly view: TimeView; readonly done: boolean }>();
  useEffect(() => {
    if (!routers || call.fail.length + call.then.length === 0) return undefined;
    let current = true;
    const take = (view: TimeView, done: boolean): void => {
      if (current) setState({ of: routers, call, view, done });
    };
    workbench()
      .timing.simulate(
        call,
        proxy((view: TimeView | number) => {
          if (typeof view !== 'number') take(view, view.done);
          else if (current) setState((now) => (now?.call === call && !now.done ? { ...now, view: { ...now.view, runs: view } } : now));
        }),
      )
      .then(
        (view) => {
          if (view) take(view, true);
        },
        (e: unknown) => told(e, 'Simulating the failure'),
      );
    return () => {
      current = false;
    };
  }, [routers, call, family]);
  const mine = state?.of === routers && state?.call === call;
  // While another question is being answered, what stood there stays.
  const time = call.fail.length + call.then.length === 0 ? undefined : state?.view;
  return { time, standing: mine && state.done };
}

/** The same for answers about the same run. */
const keyOf = (t: TimeView | undefined): string => (t ? JSON.stringify([t.happenings, t.flows.map((f) => f.word), t.endMs, t.seed]) : '');

/** The network at a moment; the newest wish wins, and what stood there stays until it is answered. */
export function useMoment(ms: number, router: string | undefined, time: TimeView | undefined, standing: boolean): MomentView | undefined {
  const [state, setState] = useState<{ readonly of: TimeView | undefined; readonly view: MomentView }>();
  const busy = useRef(false);
  const next = useRef<(() => void) | undefined>(undefined);
  useEffect(() => {
    if (!standing) return;
    const ask = (): void => {
      busy.current = true;
      next.current = undefined;
      workbench()
        .timing.stand(ms, router)
        .then(
          (view) => {
            if (view) setState({ of: time, view });
          },
          (e: unknown) => told(e, 'Standing at a moment'),
        )
        .finally(() => {
          busy.current = false;
          next.current?.();
        });
    };
    // One at a time: what is asked while one is answered waits, and only the last of it is asked.
    if (busy.current) next.current = ask;
    else ask();
  }, [ms, router, time, standing]);
  return state && time && keyOf(state.of) === keyOf(time) ? state.view : undefined;
}

/**
 * Moves a handle by itself.
 *
 * @param at  where it stands, when it begins @param step  where it stands a while of the clock later; `undefined`: it was at the end
 */
export function usePlaying(
  at: number,
  step: (from: number, clock: number) => number | undefined,
  set: (ms: number) => void,
): { readonly playing: boolean; readonly play: (on: boolean) => void } {
  const [playing, setPlaying] = useState(false);
  const latest = useRef({ at, step, set });
  useEffect(() => {
    latest.current = { at, step, set };
  });
  useEffect(() => {
    if (!playing) return undefined;
    let frame = 0;
    let before: number | undefined;
    // Frames may come faster than the page is drawn: where it stands is counted here.
    let { at: now } = latest.current;
    const go = (clock: number): void => {
      const next = before === undefined ? now : latest.current.step(now, clock - before);
      before = clock;
      if (next === undefined) {
        setPlaying(false);
        return;
      }
      if (next !== now) latest.current.set(next);
      now = next;
      frame = requestAnimationFrame(go);
    };
    frame = requestAnimationFrame(go);
    return () => cancelAnimationFrame(frame);
  }, [playing]);
  return { playing, play: setPlaying };
}
