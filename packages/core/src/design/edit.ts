import type { SourceDocument } from '../formats/documents';
import { localName } from '../formats/cursor';
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
    const changed = { file: e.file, ...(d?.encoding ? { encoding: d.encoding } : {}), tree };
    if (Object.keys(tree).length > 0) out.splice(d ? n : out.length, d ? 1 : 0, changed);
    else if (d) out.splice(n, 1);
  }
  return out;
}

/** The document's words for a path: list entries by their key. */
export function pathWords(tree: unknown, at: DocumentPath): string {
  const out: string[] = [];
  let node: unknown = tree;
  for (const step of at) {
    if (typeof step === 'number') {
      node = Array.isArray(node) ? (node as unknown[])[step] : undefined;
      const entry = node as Record<string, unknown> | undefined;
      const key = ['name', 'area-id', 'prefix', 'router-id', 'ip', 'identifier', 'source', 'match', 'destination-prefix'].find(
        (k) => entry && Object.keys(entry).some((m) => localName(m) === k),
      );
      const member = entry && key ? Object.keys(entry).find((m) => localName(m) === key) : undefined;
      const shown = entry && member ? String(entry[member]) : String(step + 1);
      out[out.length - 1] = `${out.at(-1) ?? ''}[${shown}]`;
    } else {
      node = typeof node === 'object' && node !== null ? (node as Record<string, unknown>)[step] : undefined;
      out.push(localName(step));
    }
  }
  return out.join('/');
}
