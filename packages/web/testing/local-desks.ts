import type { Desks } from '../src/worker/client';
import { Workbench } from '../src/worker/workbench';

/** Takes the place of `worker/client` in tests of screens: the desks in the same thread, as slow to answer as a worker, and what goes through is copied. */
let bench = new Workbench();

/** What the page asked, in its order: `editing.editText`. */
export const asked: string[] = [];
const faults = new Map<string, Error>();
const holds = new Map<string, Promise<void>[]>();

/** Lets the next call of a method fail, before it does anything. */
export function failNext(method: string, error: Error): void {
  faults.set(method, error);
}

/** Holds back the next answer of a method; gives what lets it go. */
export function holdNext(method: string): () => void {
  let release = (): void => undefined;
  const held = new Promise<void>((go) => (release = go));
  holds.set(method, [...(holds.get(method) ?? []), held]);
  return release;
}

/** A worker that was just started. */
export function renewDesks(): void {
  bench = new Workbench();
  asked.length = 0;
  faults.clear();
  holds.clear();
}

type Method = (...args: unknown[]) => unknown;
const copied = (x: unknown): unknown => (typeof x === 'function' ? x : structuredClone(x));

async function answer(desk: keyof Workbench, method: string, args: readonly unknown[]): Promise<unknown> {
  const name = `${desk}.${method}`;
  asked.push(name);
  const hold = holds.get(name)?.shift();
  await Promise.resolve();
  const fault = faults.get(name);
  faults.delete(name);
  if (fault) throw fault;
  const at = bench[desk] as unknown as Record<string, Method>;
  const result = copied(await at[method]?.(...args.map(copied)));
  await hold;
  return result;
}

const desks = new Proxy(
  {},
  {
    get: (_, desk) =>
      new Proxy(
        {},
        {
          get:
            (__, method) =>
            (...args: unknown[]) =>
              answer(String(desk) as keyof Workbench, String(method), args),
        },
      ),
  },
) as Desks;

/** The one door to the computation, as the page knows it. */
export const workbench = (): Desks => desks;
