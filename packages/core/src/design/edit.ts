import { hostNameOf, type SourceDocument } from '../documents/documents';
import { keyOfEntry } from '../documents/list-key';
import { localName } from '../documents/shape';
import type { DocumentPath } from './design';

/** A value in a router document; `undefined`: not written. */
export type DocumentValue = string | number | boolean | null | readonly DocumentValue[] | { readonly [member: string]: DocumentValue } | undefined;

/** A change of one node in one router document, with its way back. */
export interface Edit {
  /** Host name of the router whose document changes. */
  readonly router: string;
  /** File of that document. */
  readonly file: string;
  readonly at: DocumentPath;
  readonly from: DocumentValue;
  readonly to: DocumentValue;
  /** Of an edit that makes or takes out a whole document (at the root): its place among the documents, and its encoding. */
  readonly document?: { readonly place: number; readonly encoding?: 'xml' };
}

export const invertEdit = (e: Edit): Edit => ({ ...e, from: e.to, to: e.from });

type Node = Record<string, unknown> | unknown[];

/** The value at a path of a tree; `undefined` when nothing stands there. */
export function valueAt(tree: unknown, at: DocumentPath): unknown {
  let node: unknown = tree;
  for (const step of at) {
    if (typeof node !== 'object' || node === null) return undefined;
    node = Array.isArray(node) ? node[step as number] : (node as Record<string, unknown>)[step];
  }
  return node;
}

/**
 * A copy of the tree with another value at the path, sharing everything else. Containers on the way that are missing
 * are made; a value of `undefined` takes the member out. Empty containers that stay behind are taken out as well, so
 * that an edit and its inverse give the first document back.
 */
export function withValue(tree: unknown, at: DocumentPath, to: unknown): unknown {
  const [step, ...rest] = at;
  if (step === undefined) return to;
  const node: Node = typeof tree === 'object' && tree !== null ? (tree as Node) : typeof step === 'number' ? [] : {};
  if (Array.isArray(node)) {
    const copy = [...node];
    // The way back of an entry that was put at the end: it goes again.
    if (rest.length === 0 && to === undefined && step === copy.length - 1) return copy.slice(0, -1);
    copy[step as number] = withValue(copy[step as number], rest, to);
    return copy;
  }
  const child = withValue(node[step], rest, to);
  const copy: Record<string, unknown> = { ...node };
  const emptied = child === undefined || (typeof child === 'object' && child !== null && Object.keys(child).length === 0 && rest.length > 0);
  if (emptied) return Object.fromEntries(Object.entries(copy).filter(([k]) => k !== step));
  copy[step] = child;
  return copy;
}

/** The member of a node that stands under a local name, or the name itself where none does. */
export function memberName(tree: unknown, at: DocumentPath, name: string): string {
  const node = valueAt(tree, at);
  if (typeof node !== 'object' || node === null) return name;
  return Object.keys(node).find((k) => localName(k) === localName(name)) ?? name;
}

/** An edit that sets one leaf under a node of a document; names on the way are taken as the document writes them. */
export function setLeaf(document: SourceDocument, router: string, at: DocumentPath, names: readonly string[], to: DocumentValue): Edit {
  let path: DocumentPath = at;
  for (const n of names) path = [...path, memberName(document.tree, path, n)];
  return { router, file: document.file, at: path, from: valueAt(document.tree, path) as DocumentValue, to };
}

/**
 * Applies edits to a set of documents in order. Documents that no edit touches are kept as they are. An edit to a file
 * that is not there makes the document, and one that empties a document takes it out.
 */
export function applyEdits(documents: readonly SourceDocument[], edits: readonly Edit[]): SourceDocument[] {
  const out = [...documents];
  for (const e of edits) {
    const n = out.findIndex((d) => d.file === e.file);
    const d = out[n];
    const tree = withValue(d?.tree ?? {}, e.at, e.to) as Record<string, unknown>;
    const encoding = d ? d.encoding : e.document?.encoding;
    const changed = { file: e.file, ...(encoding ? { encoding } : {}), tree };
    if (Object.keys(tree).length > 0) out.splice(d ? n : (e.document?.place ?? out.length), d ? 1 : 0, changed);
    else if (d) out.splice(n, 1);
  }
  return out;
}

/**
 * Whether edits that were computed on some documents mean the same on others: every value that they change stands there as it
 * did, under the same names. An entry of a list at another place is another one.
 */
export function stillFits(edits: readonly Edit[], before: readonly SourceDocument[], now: readonly SourceDocument[]): boolean {
  let [old, current] = [before, now];
  return edits.every((e) => {
    const [x, y] = [old, current].map((list) => list.find((d) => d.file === e.file)?.tree);
    const same = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b);
    if ((x === undefined) !== (y === undefined) || !same(valueAt(y ?? {}, e.at), e.from) || pathWords(x, e.at) !== pathWords(y, e.at)) return false;
    [old, current] = [applyEdits(old, [e]), applyEdits(current, [e])];
    return true;
  });
}

const isObject = (x: unknown): x is Record<string, unknown> => typeof x === 'object' && x !== null && !Array.isArray(x);

/** Differences of two values of a tree, as small as their way back allows: an edit and its inverse keep the order of members. */
function differences(from: unknown, to: unknown, at: DocumentPath, out: Pick<Edit, 'at' | 'from' | 'to'>[]): void {
  if (from === to) return;
  const whole = (): void => {
    if (JSON.stringify(from) !== JSON.stringify(to)) out.push({ at, from: from as DocumentValue, to: to as DocumentValue });
  };
  if (Array.isArray(from) && Array.isArray(to) && from.length > 0 && from.length <= to.length) {
    const longer = from.length < to.length;
    // Entries at the end come one by one, where all before them stay; other moves in a list change the list.
    if (longer && !from.every((x, i) => JSON.stringify(x) === JSON.stringify(to[i]))) whole();
    else if (longer) to.slice(from.length).forEach((x, i) => out.push({ at: [...at, from.length + i], from: undefined, to: x as DocumentValue }));
    else
      from.forEach((x, i) => {
        differences(x, to[i], [...at, i], out);
      });
    return;
  }
  if (!isObject(from) || !isObject(to)) {
    whole();
    return;
  }
  const [old, now] = [Object.keys(from), Object.keys(to)];
  // Members that came at the end are taken out again from there; any other move of members is a change of the whole node.
  if (old.length === 0 || !old.every((k, i) => now[i] === k) || now.slice(old.length).some((k) => isEmpty(to[k]))) {
    whole();
    return;
  }
  for (const k of old) differences(from[k], to[k], [...at, k], out);
  for (const k of now.slice(old.length)) out.push({ at: [...at, k], from: undefined, to: to[k] as DocumentValue });
}

const isEmpty = (x: unknown): boolean => typeof x === 'object' && x !== null && Object.keys(x).length === 0;

/** Edits that turn some documents into others; applied backwards they give the first ones again, in their order. */
export function editsBetween(before: readonly SourceDocument[], after: readonly SourceDocument[]): Edit[] {
  const out: Edit[] = [];
  const old = new Map(before.map((d, place) => [d.file, { d, place }]));
  const now = new Map(after.map((d) => [d.file, d]));
  const routerOf = (d: SourceDocument): string => hostNameOf(d.tree) ?? '';
  const placed = (d: SourceDocument, place: number): Pick<Edit, 'document'> => ({
    document: { place, ...(d.encoding ? { encoding: d.encoding } : {}) },
  });
  for (const d of after) {
    const was = old.get(d.file)?.d;
    if (!was || was.tree === d.tree) continue;
    const found: Pick<Edit, 'at' | 'from' | 'to'>[] = [];
    differences(was.tree, d.tree, [], found);
    out.push(...found.map((f): Edit => ({ router: routerOf(was), file: d.file, ...f })));
  }
  // The last one goes first, so that on the way back each finds its place.
  for (const { d, place } of [...old.values()].reverse())
    if (!now.has(d.file)) out.push({ router: routerOf(d), file: d.file, at: [], from: d.tree as DocumentValue, to: {}, ...placed(d, place) });
  const kept = before.filter((d) => now.has(d.file)).length;
  after
    .filter((d) => !old.has(d.file))
    .forEach((d, n) => out.push({ router: routerOf(d), file: d.file, at: [], from: {}, to: d.tree as DocumentValue, ...placed(d, kept + n) }));
  return out;
}

/** The document's words for a path: list entries by their key. */
export function pathWords(tree: unknown, at: DocumentPath): string {
  const out: string[] = [];
  let node: unknown = tree;
  for (const step of at) {
    if (typeof step === 'number') {
      node = Array.isArray(node) ? (node as unknown[])[step] : undefined;
      const shown = keyOfEntry(node, ['ip']) ?? String(step + 1);
      out[out.length - 1] = `${out.at(-1) ?? ''}[${shown}]`;
    } else {
      node = typeof node === 'object' && node !== null ? (node as Record<string, unknown>)[step] : undefined;
      out.push(localName(step));
    }
  }
  return out.join('/');
}
