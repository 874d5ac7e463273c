import { wrap, type Remote } from 'comlink';
import type { Workbench } from './workbench';

/** The desks as they are spoken to from the page: every answer takes a while. */
export type Desks = { readonly [D in keyof Workbench]: Remote<Workbench[D]> };

type Asked = (...args: unknown[]) => Promise<unknown>;

/** Desks whose questions end, with the reason, when the worker behind them breaks down: nobody waits for ever. */
export function desksOf(worker: Worker, remote: Desks): Desks {
  const broken = new Promise<never>((_, reject) => {
    const told = (e: Event): void => {
      const reason = 'message' in e && typeof e.message === 'string' && e.message !== '' ? `: ${e.message}` : '';
      reject(new Error(`the computing part of the page broke down or could not be loaded${reason}. Reload the page; what is kept stays kept`));
    };
    worker.addEventListener('error', told);
    worker.addEventListener('messageerror', told);
  });
  broken.catch(() => undefined);
  const desk = (name: keyof Workbench): unknown =>
    new Proxy(
      {},
      {
        get:
          (_, method): Asked =>
          (...args) =>
            // What is reached through a property lives in the worker as well: its methods are called there.
            Promise.race([(remote[name] as unknown as Record<PropertyKey, Asked>)[method]?.(...args), broken]),
      },
    );
  return new Proxy({}, { get: (_, name) => desk(name as keyof Workbench) }) as Desks;
}

let desks: Desks | undefined;

/** The one door to the computation. Made on first use, in the browser only; a browser that refuses workers throws why. */
export function workbench(): Desks {
  if (!desks) {
    const worker = new Worker(new URL('./workbench.worker.ts', import.meta.url), { type: 'module' });
    desks = desksOf(worker, wrap<Workbench>(worker) as unknown as Desks);
  }
  return desks;
}
