import './channel';
import Dexie, { type EntityTable, type Table } from 'dexie';
import type { StoredDocuments } from '../model/view';
import {
  Overtaken,
  type Change,
  type DesignRow,
  type DesignSummary,
  type DocumentRow,
  type StepEffect,
  type StepRow,
  type StoredDesign,
  type VersionRow,
} from './kept';

import { isSoundRow, putTogether, type Opened, type RawDesign } from './sound';

/** How version 1 kept a design: everything in one record. */
interface FirstDesign {
  readonly id: string;
  readonly name: string;
  readonly documents: StoredDocuments['documents'];
  readonly history: StoredDesign['history'];
  readonly position: number;
  readonly updated: number;
}

const rowsOf = (id: string, documents: StoredDocuments['documents']): DocumentRow[] =>
  documents.map((document) => ({ design: id, file: document.file, document }));
const stepsOf = (id: string, history: StoredDesign['history']): StepRow[] => history.map((s, n) => ({ ...s, design: id, n }));

/** Writes many rows a few at a time: each is copied while the page stands still. */
async function putInPieces(table: Table<DocumentRow, [string, string]>, rows: readonly DocumentRow[]): Promise<void> {
  for (let i = 0; i < rows.length; i += 40) await table.bulkPut(rows.slice(i, i + 40));
}

/**
 * What this browser keeps. Version 1 had a record for each design; since version 2 documents and steps stand alone, so that
 * an edit writes only what it changes.
 */
export class Shelf extends Dexie {
  designs!: EntityTable<DesignRow, 'id'>;
  documents!: Table<DocumentRow, [string, string]>;
  steps!: Table<StepRow, [string, number]>;
  versions!: EntityTable<VersionRow, 'id'>;
  settings!: EntityTable<{ key: string; value: string }, 'key'>;
  constructor(name = 'gentle-compass') {
    super(name);
    this.version(1).stores({ designs: 'id, updated', settings: 'key' });
    this.version(2)
      .stores({ designs: 'id, updated', documents: '[design+file], design', steps: '[design+n], design', versions: 'id, design', settings: 'key' })
      .upgrade(async (tx) => {
        const old = (await tx.table('designs').toArray()) as FirstDesign[];
        for (const d of old) {
          await tx.table('documents').bulkPut(rowsOf(d.id, d.documents));
          await tx.table('steps').bulkPut(stepsOf(d.id, d.history));
          const row: DesignRow = {
            id: d.id,
            name: d.name,
            updated: d.updated,
            revision: 1,
            position: d.position,
            files: d.documents.map((x) => x.file),
          };
          await tx.table('designs').put(row);
        }
      });
  }

  /**
   * One writing transaction. Each names every table, so that never two of them are under way at once, in whatever tab: a
   * browser that is killed while two are half done takes the whole store for damaged and throws it away.
   */
  private write<T>(work: () => PromiseLike<T>): Promise<T> {
    return this.transaction('rw', this.tables, work);
  }

  /** Keeps a whole design and marks it as the open one, in one transaction. Gives its revision. */
  async put(d: StoredDesign): Promise<number> {
    return this.write(async () => {
      const known = await this.designs.get(d.id);
      if (known && known.revision !== d.revision) throw new Overtaken(false);
      const revision = d.revision + 1;
      await this.documents.where('design').equals(d.id).delete();
      await this.steps.where('design').equals(d.id).delete();
      await putInPieces(this.documents, rowsOf(d.id, d.documents));
      await this.steps.bulkPut(stepsOf(d.id, d.history));
      await this.designs.put({
        id: d.id,
        name: d.name,
        updated: Date.now(),
        revision,
        position: d.position,
        files: d.documents.map((x) => x.file),
        ...(known?.summary ? { summary: known.summary } : {}),
        ...(d.variantOf === undefined ? {} : { variantOf: d.variantOf }),
      });
      await this.settings.put({ key: 'open', value: d.id });
      return revision;
    });
  }

  /**
   * Writes one change, all of it or nothing. Gives the new revision.
   *
   * @throws Overtaken  another tab wrote the design since this one read it: nothing is written
   */
  async change(d: StoredDesign, c: Change): Promise<number> {
    return this.write(async () => {
      const row = await this.designs.get(d.id);
      if (!row) throw new Overtaken(true);
      if (row.revision !== d.revision) throw new Overtaken(false);
      const files = c.documents.map((x) => x.file);
      const stay = new Set(files);
      await this.documents.bulkDelete(row.files.filter((f) => !stay.has(f)).map((f): [string, string] => [d.id, f]));
      await this.documents.bulkPut(rowsOf(d.id, c.changed));
      await this.steps.where('[design+n]').between([d.id, c.history.length], [d.id, Dexie.maxKey]).delete();
      await this.steps.bulkPut(
        c.steps.flatMap((n): StepRow[] => {
          const step = c.history[n];
          return step ? [{ ...step, design: d.id, n }] : [];
        }),
      );
      const revision = row.revision + 1;
      await this.designs.put({ ...row, updated: Date.now(), revision, position: c.position, files });
      return revision;
    });
  }

  /** Writes down what a step did, if it is still the step it was. */
  async effect(id: string, n: number, title: string, effect: StepEffect): Promise<void> {
    await this.write(async () => {
      const step = await this.steps.get([id, n]);
      if (step?.title === title) await this.steps.put({ ...step, effect });
    });
  }

  /** The last prediction in numbers; it is no change of the design. */
  async summarise(id: string, summary: DesignSummary): Promise<void> {
    await this.write(() => this.designs.update(id, { summary }));
  }

  /** Everything that is kept of a design, as it is; `undefined` where nothing is. */
  async raw(id: string): Promise<RawDesign | undefined> {
    return this.transaction('r', this.designs, this.documents, this.steps, async () => {
      const row: unknown = await this.designs.get(id);
      if (row === undefined) return undefined;
      const documents = await this.documents.where('design').equals(id).toArray();
      const steps = await this.steps.where('[design+n]').between([id, Dexie.minKey], [id, Dexie.maxKey]).toArray();
      return { row, documents, steps };
    });
  }

  /** A kept design with everything of it, and what of it is damaged. */
  async opened(id: string): Promise<Opened | undefined> {
    const raw = await this.raw(id);
    return raw && putTogether(id, raw);
  }

  /** A kept design, as far as it is whole. */
  async design(id: string): Promise<StoredDesign | undefined> {
    return (await this.opened(id))?.design;
  }

  /** The design that was open last; `undefined` on the first visit. */
  async last(): Promise<Opened | undefined> {
    const open = await this.settings.get('open');
    return open && this.opened(open.value);
  }

  /** A setting of this browser; `undefined`: never kept. */
  async setting(key: string): Promise<string | undefined> {
    return (await this.settings.get(key))?.value;
  }

  async keepSetting(key: string, value: string): Promise<void> {
    await this.write(() => this.settings.put({ key, value }));
  }

  async markOpen(id: string): Promise<void> {
    await this.write(() => this.settings.put({ key: 'open', value: id }));
  }

  /** Every kept design, the latest first, without its documents. */
  async list(): Promise<DesignRow[]> {
    const rows: unknown[] = await this.designs.toArray();
    return rows
      .map((row): DesignRow => {
        if (isSoundRow(row)) return row;
        const { id, name } = row as Partial<DesignRow>;
        return {
          id: String(id),
          name: `${typeof name === 'string' ? name : 'A design without a name'} (damaged)`,
          updated: 0,
          revision: 0,
          position: 0,
          files: [],
        };
      })
      .sort((a, b) => b.updated - a.updated);
  }

  async rename(id: string, name: string): Promise<void> {
    await this.write(async () => {
      const row = await this.designs.get(id);
      if (row) await this.designs.put({ ...row, name, revision: row.revision + 1 });
    });
  }

  /** Takes a design away with its steps and versions. */
  async remove(id: string): Promise<void> {
    await this.write(async () => {
      for (const t of [this.documents, this.steps]) await t.where('design').equals(id).delete();
      await this.versions.where('design').equals(id).delete();
      await this.designs.delete(id);
    });
  }

  versionsOf(design: string): Promise<VersionRow[]> {
    return this.versions.where('design').equals(design).sortBy('made');
  }

  async putVersion(v: VersionRow): Promise<void> {
    await this.write(() => this.versions.put(v));
  }

  async removeVersion(id: string): Promise<void> {
    await this.write(() => this.versions.delete(id));
  }
}

let open: Shelf | undefined;

/** The shelf of this browser. */
export const shelf = (): Shelf => (open ??= new Shelf());

const channelName = 'gentle-compass-shelf';
const tab = Math.floor(Math.random() * 2 ** 48).toString(36);
let channel: BroadcastChannel | undefined;

/** Tells other tabs that a design was written or taken away; where tabs cannot speak with each other, nobody hears. */
export function announce(id: string): void {
  try {
    channel ??= new BroadcastChannel(channelName);
    channel.postMessage({ id, tab });
  } catch {
    // Who writes on what another tab has changed is told then.
  }
}

/** Hears of designs that other tabs wrote or took away. Gives false where the browser lets tabs not speak with each other. */
export function hearOthers(heard: (id: string) => void): boolean {
  try {
    channel ??= new BroadcastChannel(channelName);
  } catch {
    return false;
  }
  channel.onmessage = (e: MessageEvent<{ id: string; tab: string }>) => {
    if (e.data.tab !== tab) heard(e.data.id);
  };
  return true;
}
