import type { Family } from '@gentle-compass/core/design/family';
import { workbench } from '../worker/client';
import { writeAddress } from './address';
import { layBeside } from './comparing';
import { setFailures } from './failing';
import { judging } from './judging';
import { received } from './received';
import { told, useStore } from './state';

const { setState: set, getState: get } = useStore;

/** Has the worker look at the family of the address bar, where the design speaks it. */
export async function followFamily(): Promise<void> {
  const { family, view } = get();
  if (!view || view.family === family || !view.families.includes(family)) return;
  judging.end();
  set({ view: received.whole(await workbench().editing.lookAt(family)), failure: undefined, comparison: undefined });
}

/** Looks at a family in every stage: tables, neighbours, failures and the map are those of it from here on. */
export async function lookAt(family: Family): Promise<void> {
  const to = { family, prefix: undefined };
  writeAddress({ ...get(), ...to });
  set(to);
  try {
    await followFamily();
    const { fail } = get();
    if (fail.length > 0) await setFailures(fail, false);
    await layBeside();
    void judging.begin();
  } catch (e) {
    told(e, 'Looking at the other family');
  }
}
