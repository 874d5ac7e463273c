import { wrap, type Remote } from 'comlink';
import type { Workbench } from './workbench';

let remote: Remote<Workbench> | undefined;

/** The one door to the computation. Made on first use, in the browser only. */
export function workbench(): Remote<Workbench> {
  remote ??= wrap<Workbench>(new Worker(new URL('./workbench.worker.ts', import.meta.url), { type: 'module' }));
  return remote;
}
