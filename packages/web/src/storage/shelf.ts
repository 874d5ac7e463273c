import Dexie, { type EntityTable } from 'dexie';
import type { HistoryStep, StoredDocuments } from '../model/view';

/** A design as the browser keeps it, with its history of edits. */
export interface StoredDesign extends StoredDocuments {
  readonly id: string;
  readonly history: readonly HistoryStep[];
  /** How many steps of the history are in force; those after it can be redone. */
  readonly position: number;
  /** Milliseconds since 1970. */
  readonly updated: number;
}

class Shelf extends Dexie {
  designs!: EntityTable<StoredDesign, 'id'>;
  settings!: EntityTable<{ key: string; value: string }, 'key'>;
  constructor() {
    super('gentle-compass');
    this.version(1).stores({ designs: 'id, updated', settings: 'key' });
  }
}

let shelf: Shelf | undefined;
const open = (): Shelf => (shelf ??= new Shelf());

/** Keeps a design and marks it as the open one, in one transaction. */
export async function keepDesign(d: StoredDesign): Promise<void> {
  const db = open();
  await db.transaction('rw', db.designs, db.settings, async () => {
    await db.designs.put(d);
    await db.settings.put({ key: 'open', value: d.id });
  });
}

/** Designs that this browser keeps, the latest first, without their documents. */
export async function keptDesigns(): Promise<{ id: string; name: string; routers: number; updated: number }[]> {
  const all = await open().designs.orderBy('updated').reverse().limit(12).toArray();
  return all.map(({ id, name, documents, updated }) => ({ id, name, routers: documents.length, updated }));
}

/** A kept design by its id. */
export const keptDesign = (id: string): Promise<StoredDesign | undefined> => open().designs.get(id);

/** The design that was open last; `undefined` on the first visit. */
export async function lastDesign(): Promise<StoredDesign | undefined> {
  const db = open();
  const id = await db.settings.get('open');
  return id ? db.designs.get(id.value) : undefined;
}
