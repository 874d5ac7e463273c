import { timingLeaves } from '@gentle-compass/core/convergence/timing-profile';
import { shelf } from '../storage/shelf';
import { go } from './moving';
import { told, useStore } from './state';
import { thenText, type Then } from './time-view';

const { setState: set, getState: get } = useStore;

const key = 'timing-profile';

/** Takes up the times that were kept in this browser; what is no profile any more is left. */
export async function takeUpProfile(): Promise<void> {
  try {
    const text = await shelf().setting(key);
    const tree: unknown = text === undefined ? undefined : JSON.parse(text);
    if (typeof tree === 'object' && tree !== null) set({ profile: tree as Record<string, unknown> });
  } catch {
    // Plain times hold.
  }
}

/** Keeps other times than the plain ones in this browser; those that are plain again are not written. */
export async function keepProfile(profile: Readonly<Record<string, unknown>>): Promise<void> {
  const own = Object.fromEntries(
    Object.entries(profile).filter(([leaf, v]) => JSON.stringify(v) !== JSON.stringify(timingLeaves.find((l) => l.leaf === leaf)?.plain)),
  );
  set({ profile: own });
  try {
    await shelf().keepSetting(key, JSON.stringify(own));
  } catch (e) {
    told(e, 'Keeping the times');
  }
}

/** Puts something into the course of events, or takes it out. */
export const addThen = (t: Then): void => go({ then: [...get().then, thenText(t)] });
export const dropThen = (n: number): void => go({ then: get().then.filter((_, i) => i !== n) });
