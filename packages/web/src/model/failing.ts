import { workbench } from '../worker/client';
import { writeAddress } from './address';
import { told, useStore } from './state';

const { setState: set, getState: get } = useStore;

let failureTurn = 0;

/** Takes things down in the order given; the newest wish wins. An empty list restores everything. */
export async function setFailures(fail: readonly string[], address = true): Promise<void> {
  const turn = ++failureTurn;
  set({ fail });
  if (address) writeAddress(get());
  try {
    const glance = await workbench().failures.glance(fail);
    if (turn === failureTurn && glance) set({ failure: glance });
    const failure = await workbench().failures.fail(fail);
    if (turn === failureTurn && failure) set({ failure: fail.length > 0 ? failure : undefined });
  } catch (e) {
    told(e, 'Computing the failure');
  }
}
