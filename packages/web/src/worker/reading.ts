import { wrap, type Remote } from 'comlink';
import type { InputFile } from '@gentle-compass/core/documents/documents';
import type { ImportOutcome } from '../model/view';
import { desksOf, type Desks } from './client';
import type { Workbench } from './workbench';

/** The reading was stopped by whoever asked for it. */
export class Stopped extends Error {}

/** A reading under way, and what ends it at once. */
export interface Reading {
  readonly outcome: Promise<ImportOutcome>;
  readonly stop: () => void;
}

/** Reads files in a worker of its own: it can be stopped whatever the files are, and the open design's worker goes on answering. */
export function readApart(files: readonly InputFile[], name: string): Reading {
  const worker = new Worker(new URL('./workbench.worker.ts', import.meta.url), { type: 'module' });
  const desks = desksOf(worker, wrap<Workbench>(worker) as unknown as Desks & Remote<Workbench>);
  let stop = (): void => undefined;
  const stopped = new Promise<never>((_, reject) => {
    stop = () => reject(new Stopped('Reading was stopped.'));
  });
  const outcome = Promise.race([desks.files.readFiles(files, name), stopped]).finally(() => worker.terminate());
  return { outcome, stop };
}
