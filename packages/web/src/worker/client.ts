import { wrap, type Remote } from 'comlink';
import type { Workbench } from './workbench';

/** The desks as they are spoken to from the page: every answer takes a while. */
export type Desks = { readonly [D in keyof Workbench]: Remote<Workbench[D]> };

type Asked = (...args: unknown[]) => Promise<unknown>;

/** Desks whose questions end, with the reason, when the worker behind them breaks down: nobody waits for ever. */
export function desksOf(worker: Worker, remote: Desks): Desks {
  let broken: Error | undefined;
  // Only of questions that are still open: an answer is held on to by nobody.
  const open = new Set<(e: Error) => void>();
  const told = (e: Event): void => {
    const reason = 'message' in e && typeof e.message === 'string' && e.message !== '' ? `: ${e.message}` : '';
    broken ??= new Error(`the computing part of the page broke down or could not be loaded${reason}. Reload the page; what is kept stays kept`);
    for (const end of open) end(broken);
    open.clear();
  };
  worker.addEventListener('error', told);
  worker.addEventListener('messageerror', told);
  const ask = (desk: keyof Workbench, method: PropertyKey, args: readonly unknown[]): Promise<unknown> =>
    new Promise((resolve, reject) => {
      if (broken) {
        reject(broken);
        return;
      }
      open.add(reject);
      const done = (end: (x: never) => void) => (x: unknown) => {
        open.delete(reject);
        end(x as never);
      };
      // What is reached through a property lives in the worker as well: its methods are called there.
      const answer = (remote[desk] as unknown as Record<PropertyKey, Asked>)[method]?.(...args) ?? Promise.resolve();
      answer.then(done(resolve), done(reject));
    });
  const desk = (name: keyof Workbench): unknown =>
    new Proxy(
      {},
      {
        get:
          (_, method): Asked =>
          (...args) =>
            ask(name, method, args),
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
