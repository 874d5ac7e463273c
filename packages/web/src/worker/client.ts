import { wrap, type Remote } from 'comlink';
import type { Workbench } from './workbench';

/** The desks as they are spoken to from the page: every answer takes a while. */
export type Desks = { readonly [D in keyof Workbench]: Remote<Workbench[D]> };

let remote: Desks | undefined;

/** The one door to the computation. Made on first use, in the browser only. */
export function workbench(): Desks {
  // What is reached through a property lives in the worker as well: its methods are called there.
  remote ??= wrap<Workbench>(new Worker(new URL('./workbench.worker.ts', import.meta.url), { type: 'module' })) as unknown as Desks;
  return remote;
}
