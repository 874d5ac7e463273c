import { writeAddress, type Address, type Stage } from './address';
import { setFailures } from './failing';
import { useStore } from './state';

const { setState: set, getState: get } = useStore;

/** Moves to a stage or selects something; the address bar follows, so that the back button works. */
export function go(to: Partial<Address>): void {
  const next: Address = { ...get(), ...to };
  writeAddress(next);
  set({ ...to });
  // The document that is open is that of the chosen router.
  if ('router' in to && get().document !== undefined && to.router !== get().document) set({ document: to.router, documentLine: undefined });
  if (to.fail) void setFailures(to.fail, false);
}

export const goStage = (stage: Stage): void => go({ stage });
