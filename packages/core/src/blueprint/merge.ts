import { keyOfEntry } from '../documents/list-key';
import { localName } from '../documents/shape';
import type { SourceDocument } from '../documents/documents';

/** Something that the blueprint would change and that was edited by hand meanwhile: the hand's edit stays. */
export interface Kept {
  readonly file: string;
  /** Nodes from the document's root, list entries by their key. */
  readonly path: string;
  readonly why: 'edited' | 'deleted';
}

type Json = Record<string, unknown>;
const isObject = (x: unknown): x is Json => typeof x === 'object' && x !== null && !Array.isArray(x);
const same = (a: unknown, b: unknown): boolean => a === b || JSON.stringify(a) === JSON.stringify(b);

function keyed(list: unknown): Map<string, unknown> | undefined {
  if (!Array.isArray(list)) return undefined;
  const out = new Map<string, unknown>();
  for (const x of list as unknown[]) {
    const k = keyOfEntry(x);
    if (k === undefined || out.has(k)) return undefined;
    out.set(k, x);
  }
  return out;
}

type Tell = (path: string, why: Kept['why']) => void;

/** Three values of one node: as it was made, as it stands, as it would be made now. `undefined`: not there. */
function mergeNode(base: unknown, mine: unknown, theirs: unknown, path: string, tell: Tell): unknown {
  if (same(base, theirs) || same(mine, theirs)) return mine;
  if (same(base, mine)) return theirs;
  if (mine === undefined) {
    tell(path, 'deleted');
    return undefined;
  }
  if (isObject(mine) && isObject(theirs)) {
    const from = isObject(base) ? base : {};
    const out: Json = {};
    for (const k of new Set([...Object.keys(mine), ...Object.keys(theirs)])) {
      const made = mergeNode(from[k], mine[k], theirs[k], `${path}/${localName(k)}`, tell);
      if (made !== undefined) out[k] = made;
    }
    return out;
  }
  const [b, m, t] = [keyed(base), keyed(mine), keyed(theirs)];
  if (m && t) {
    const out: unknown[] = [];
    for (const k of new Set([...m.keys(), ...t.keys()])) {
      const made = mergeNode(b?.get(k), m.get(k), t.get(k), `${path}[${k}]`, tell);
      if (made !== undefined) out.push(made);
    }
    return out;
  }
  // One side took it out, or both changed a plain value: what the hand wrote stays.
  tell(path, 'edited');
  return mine;
}

/**
 * Brings a blueprint's new documents into a design that was edited by hand since they were made: what only the blueprint
 * changes follows it, what only the hand changed stays, and where both did the hand wins and it is told.
 *
 * @param base    documents as the blueprint made them before
 * @param mine    the design as it stands; documents that the blueprint never made are left alone
 * @param theirs  documents as the blueprint makes them now
 */
export function mergeDocuments(
  base: readonly SourceDocument[],
  mine: readonly SourceDocument[],
  theirs: readonly SourceDocument[],
): { documents: SourceDocument[]; kept: Kept[] } {
  const kept: Kept[] = [];
  const was = new Map(base.map((d) => [d.file, d]));
  const next = new Map(theirs.map((d) => [d.file, d]));
  const documents = mine.flatMap((d): SourceDocument[] => {
    const tell: Tell = (path, why) => kept.push({ file: d.file, path: path.slice(1), why });
    const [old, now] = [was.get(d.file)?.tree, next.get(d.file)?.tree];
    if (!old && !now) return [d];
    const tree = mergeNode(old, d.tree, now, '', tell);
    if (tree === undefined) return [];
    return tree === d.tree ? [d] : [{ file: d.file, tree: tree as Json, ...(d.encoding ? { encoding: d.encoding } : {}) }];
  });
  const there = new Set(mine.map((d) => d.file));
  for (const d of theirs) {
    if (there.has(d.file)) continue;
    if (!was.has(d.file)) documents.push(d);
    else if (!same(was.get(d.file)?.tree, d.tree)) kept.push({ file: d.file, path: '', why: 'deleted' });
  }
  return { documents, kept };
}
