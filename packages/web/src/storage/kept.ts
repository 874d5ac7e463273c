import type { ChangeSummary, HistoryStep, StoredDocuments } from '../model/view';

/** A design with its history of edits, as the page works with it. */
export interface StoredDesign extends StoredDocuments {
  readonly id: string;
  readonly history: readonly HistoryStep[];
  /** How many steps of the history are in force; those after it can be redone. */
  readonly position: number;
  /** Milliseconds since 1970. */
  readonly updated: number;
  /** Counts what was written of it: who writes on an older one than there is would overwrite another tab. */
  readonly revision: number;
  /** The design that it was duplicated from. */
  readonly variantOf?: string;
}

/** The last prediction of a design in numbers. */
export interface DesignSummary {
  readonly routers: number;
  readonly areas: number;
  /** `null` in a large design, where tables are made when they are looked at. */
  readonly routes: number | null;
  readonly errors: number;
  readonly warnings: number;
}

export interface DesignRow {
  readonly id: string;
  readonly name: string;
  readonly updated: number;
  readonly revision: number;
  readonly position: number;
  /** Files in the order in which they stand. */
  readonly files: readonly string[];
  readonly summary?: DesignSummary;
  readonly variantOf?: string;
}
export interface DocumentRow {
  readonly design: string;
  readonly file: string;
  readonly document: StoredDocuments['documents'][number];
}
export interface StepRow extends HistoryStep {
  readonly design: string;
  readonly n: number;
}
/** A state of a design under a name, with a note. */
export interface VersionRow {
  readonly id: string;
  readonly design: string;
  readonly name: string;
  readonly note: string;
  readonly made: number;
  readonly documents: StoredDocuments['documents'];
  readonly summary?: DesignSummary;
}

/** What one change writes. */
export interface Change {
  readonly documents: StoredDocuments['documents'];
  /** Documents that are other ones than before, or new. */
  readonly changed: StoredDocuments['documents'];
  readonly history: readonly HistoryStep[];
  readonly position: number;
  /** Places in the history that are to be written; what lies behind its end is taken out. */
  readonly steps: readonly number[];
}

/** Another tab wrote the design first, or took it away. */
export class Overtaken extends Error {
  constructor(readonly gone: boolean) {
    super(gone ? 'The design was deleted in another tab.' : 'The design was changed in another tab.');
  }
}

/** What each step did to the prediction, once it is known. */
export type StepEffect = ChangeSummary;
