import type { SourceDocument } from '@gentle-compass/core/documents/documents';
import { proxy, wrap } from 'comlink';
import type { CaseView, SweepEnd, SweepWish } from '../model/sweep-view';
import { desksOf, type Desks } from './client';
import type { Workbench } from './workbench';

/** Workers that sweep side by side, and the documents that they hold. */
interface Sweepers {
  readonly desks: readonly Desks[];
  readonly documents: readonly SourceDocument[];
  readonly end: () => void;
}

/** A large design is held by few of them: each has all of its tables. */
const largeAbove = 600;
const mostOfLarge = 2;
const most = 4;

/** How many work side by side: one core stays with the page and the workbench that answers it. */
export function sweepersFor(routers: number, cores: number): number {
  const able = Math.max(1, Math.min(most, cores - 1));
  return routers > largeAbove ? Math.min(able, mostOfLarge) : able;
}

let now: Sweepers | undefined;

function begun(count: number): Sweepers {
  const workers = Array.from({ length: count }, () => new Worker(new URL('./workbench.worker.ts', import.meta.url), { type: 'module' }));
  return {
    desks: workers.map((w) => desksOf(w, wrap<Workbench>(w) as unknown as Desks)),
    documents: [],
    end: () => {
      for (const w of workers) w.terminate();
    },
  };
}

/**
 * Sweeps a design in workers of its own, each its share of the cases; `report` hears how far all of them are together, and
 * what was found since.
 *
 * @param goesOn  a sweep of the same documents and the same wish that was stopped goes on where it was
 */
export async function sweepSideBySide(
  documents: readonly SourceDocument[],
  routers: number,
  wish: SweepWish,
  goesOn: boolean,
  report: (done: number, all: number, found: readonly CaseView[]) => void,
): Promise<SweepEnd> {
  const of = sweepersFor(routers, navigator.hardwareConcurrency);
  if (now && now.desks.length !== of) endSweepers();
  const mine = (now ??= begun(of));
  try {
    if (mine.documents !== documents) {
      now = { ...mine, documents };
      await Promise.all(mine.desks.map((d) => d.sweep.load(documents as SourceDocument[])));
    }
    const far = mine.desks.map(() => ({ done: 0, all: undefined as number | undefined }));
    const ends = await Promise.all(
      mine.desks.map((d, n) =>
        d.sweep.run(
          wish,
          goesOn,
          proxy((done: number, all: number, found: readonly CaseView[]) => {
            far[n] = { done, all };
            report(
              far.reduce((sum, f) => sum + f.done, 0),
              // Not known before each has counted its share.
              far.some((f) => f.all === undefined) ? 0 : far.reduce((sum, f) => sum + (f.all ?? 0), 0),
              found,
            );
          }),
          { mine: n, of },
        ),
      ),
    );
    if (routers > largeAbove && ends.every((e) => e === 'done')) endSweepers();
    return ends.find((e) => e === 'outdated') ?? ends.find((e) => e === 'stopped') ?? 'done';
  } catch (e) {
    // Whoever tries again gets new ones.
    endSweepers();
    throw e;
  }
}

function endSweepers(): void {
  now?.end();
  now = undefined;
}

/** Stops all of them for now. */
export async function stopSweepers(): Promise<void> {
  await Promise.all((now?.desks ?? []).map((d) => d.sweep.stop()));
}
