import { create } from 'zustand';
import type { StoredDesign } from '../storage/kept';
import type { Address } from './address';
import { NotTaken } from './stored';
import type { ChangeSummary, ComparisonView, DesignView, FailureView, ImportOutcome } from './view';

/** What the last edit, undo or redo did: shown until something else happens. */
export interface LastChange {
  readonly title: string;
  /** Absent while it is being worked out. */
  readonly change?: ChangeSummary;
}

/** What "now" is compared with. */
export interface Reference {
  readonly kind: 'version' | 'design' | 'opened' | 'last-change';
  /** Of the version or the design. */
  readonly id: string;
  readonly name: string;
}

/** A form that is open, with what stands in it at first. */
export interface OpenForm {
  readonly name: 'expectation' | 'prefixSet' | 'policy' | 'filter';
  readonly values: Readonly<Record<string, string>>;
}

export interface State extends Address {
  readonly view: DesignView | undefined;
  readonly design: StoredDesign | undefined;
  readonly failure: FailureView | undefined;
  /** Times of this browser’s own that simulations count with, by their names in a file; what is not in it is plain. */
  readonly profile: Readonly<Record<string, unknown>>;
  readonly lastChange: LastChange | undefined;
  readonly outcome: ImportOutcome | undefined;
  /** Something went wrong that the user must know of. */
  readonly trouble: string | undefined;
  /** The trouble is a fault of ours over an edit: what goes on is offered. */
  readonly fault: boolean;
  /** Why the browser does not keep the design: it is to be exported, or kept again. */
  readonly unkept: string | undefined;
  /** A design that the store holds only in part; what is whole of it is open as a copy. */
  readonly damaged: { readonly id: string; readonly name: string; readonly words: readonly string[] } | undefined;
  /** Something happened in another tab that the user should know of. */
  readonly notice: string | undefined;
  readonly reference: Reference | undefined;
  /** Now against that, once it is laid side by side. */
  readonly comparison: ComparisonView | undefined;
  /** The line of quick entry, while it is open. */
  readonly entry: string | undefined;
  /** A form in the place of a line. */
  readonly form: OpenForm | undefined;
  /** Whether the list of keys is shown. */
  readonly keys: boolean;
  /** The blueprint is open for changes. */
  readonly blueprinting: boolean;
  /** What to set on the chosen router stands in the place of the map. */
  readonly worksheet: boolean;
  /** The router whose document is open for reading and editing. */
  readonly document: string | undefined;
  /** The line of it to bring into sight. */
  readonly documentLine: number | undefined;
  readonly firstVisit: boolean;
  readonly working: string | undefined;
  /** Files that are being read, in words, and what stops that. */
  readonly reading: { readonly words: string; readonly stop: () => void } | undefined;
  /** Areas that the map shows as one plate; `undefined` while nobody has chosen. */
  readonly folded: readonly string[] | undefined;
}

export const useStore = create<State>(() => ({
  family: 4,
  stage: 'layout',
  router: undefined,
  segment: undefined,
  pair: undefined,
  meet: 'pairs',
  face: 'values',
  prefix: undefined,
  fail: [],
  tell: 'lost',
  then: [],
  watch: [],
  area: undefined,
  show: 'glance',
  part: 'ruler',
  look: 'tables',
  from: undefined,
  to: undefined,
  lsa: undefined,
  beside: undefined,
  table: undefined,
  view: undefined,
  design: undefined,
  failure: undefined,
  profile: {},
  lastChange: undefined,
  outcome: undefined,
  trouble: undefined,
  fault: false,
  unkept: undefined,
  damaged: undefined,
  notice: undefined,
  reference: undefined,
  comparison: undefined,
  entry: undefined,
  form: undefined,
  keys: false,
  blueprinting: false,
  worksheet: false,
  document: undefined,
  documentLine: undefined,
  firstVisit: false,
  working: 'Opening the chart',
  reading: undefined,
  folded: undefined,
}));

/** Tells the user what did not work, and why. */
export function told(error: unknown, doing: string): void {
  const reason = error instanceof Error ? error.message : String(error);
  useStore.setState({ trouble: `${doing} did not work: ${reason}`, fault: error instanceof NotTaken, working: undefined });
}
