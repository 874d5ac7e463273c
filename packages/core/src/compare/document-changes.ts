import { localName } from '../documents/shape';
import { hostNameOf, type SourceDocument } from '../documents/documents';
import { digestOf, hideKeys } from '../documents/key-digest';
import { keyOfEntry } from '../documents/list-key';

/** One line of configuration that differs between two designs. Keys are not shown. */
export interface LineChange {
  /** Host name; the file's name where the document is no router's. */
  readonly router: string;
  readonly file: string;
  /** The node in the document's words, list entries by their keys: `ospf/areas/area[0.0.0.10]/interfaces/interface[lo]/cost`. */
  readonly path: string;
  /** `undefined`: not written. */
  readonly from: string | undefined;
  readonly to: string | undefined;
}

const isObject = (x: unknown): x is Record<string, unknown> => typeof x === 'object' && x !== null && !Array.isArray(x);

/** A key as something that compares and shows nothing: its length at most differs. */
const secret = (member: string, value: unknown): unknown =>
  hideKeys(member, value) === value ? value : { 'not shown': digestOf('0', String(value)).slice(-6) };

/** IPv6 addresses and prefixes have colons as identities have them behind their module. */
const isAddress = (x: string): boolean => /^[0-9a-f:.]+(\/\d+)?$/i.test(x);

/** Leaves of a value in one line: `interface-type point-to-point, cost 20`. Keys are not shown. */
function leaves(x: unknown, path: readonly string[]): string[] {
  if (Array.isArray(x)) return x.length === 0 ? [`${path.join('/')} none`] : x.flatMap((y: unknown) => leaves(y, path));
  if (isObject(x)) return Object.entries(x).flatMap(([k, v]) => leaves(hideKeys(k, v), [...path, localName(k)]));
  return [`${path.join('/')} ${typeof x === 'string' && path.length > 0 && !isAddress(x) ? localName(x) : String(x)}`.trim()];
}

const shown = (x: unknown): string | undefined => (x === undefined ? undefined : leaves(x, []).join(', '));

/** Entries of a list by their keys; `undefined` where not every entry has one of its own. */
function keyed(list: readonly unknown[]): Map<string, unknown> | undefined {
  const out = new Map<string, unknown>();
  for (const entry of list) {
    const key = keyOfEntry(entry);
    if (key === undefined || out.has(key)) return undefined;
    out.set(key, entry);
  }
  return out;
}

type Tell = (path: string, from: string | undefined, to: string | undefined) => void;

/** A node that came or went: its leaves as one line, the entries of its lists as lines of their own. */
function whole(node: unknown, path: readonly string[], tell: (path: string, leaves: string) => void): void {
  const rest: Record<string, unknown> = {};
  const deeper: [string[], unknown][] = [];
  const gather = (x: Record<string, unknown>, at: readonly string[], into: Record<string, unknown>): void => {
    for (const [k, v] of Object.entries(x)) {
      const entries = Array.isArray(v) ? keyed(v) : undefined;
      if (entries) for (const [key, entry] of entries) deeper.push([[...at, `${localName(k)}[${key}]`], entry]);
      else if (isObject(v)) {
        const below: Record<string, unknown> = {};
        gather(v, [...at, localName(k)], below);
        if (Object.keys(below).length > 0) into[k] = below;
      } else into[k] = v;
    }
  };
  if (isObject(node)) gather(node, path, rest);
  const text = isObject(node) ? leaves(rest, []).join(', ') : shown(node);
  if (text !== undefined && text !== '') tell(path.join('/'), text);
  for (const [at, entry] of deeper) whole(entry, at, tell);
}

function walk(from: unknown, to: unknown, path: readonly string[], tell: Tell): void {
  if (from === to) return;
  if (from === undefined) {
    whole(to, path, (p, text) => tell(p, undefined, text));
    return;
  }
  if (to === undefined) {
    whole(from, path, (p, text) => tell(p, text, undefined));
    return;
  }
  if (Array.isArray(from) && Array.isArray(to)) {
    const [a, b] = [keyed(from), keyed(to)];
    const [head, name] = [path.slice(0, -1), path.at(-1) ?? ''];
    if (a && b) {
      for (const [k, x] of a) walk(x, b.get(k), [...head, `${name}[${k}]`], tell);
      for (const [k, y] of b) if (!a.has(k)) walk(undefined, y, [...head, `${name}[${k}]`], tell);
      return;
    }
    if (from.length === to.length && from.every(isObject) && to.every(isObject)) {
      from.forEach((x, i) => {
        walk(x, to[i], from.length === 1 ? path : [...head, `${name}[${i + 1}]`], tell);
      });
      return;
    }
  } else if (isObject(from) && isObject(to)) {
    for (const k of new Set([...Object.keys(from), ...Object.keys(to)])) walk(secret(k, from[k]), secret(k, to[k]), [...path, localName(k)], tell);
    return;
  }
  const [x, y] = [shown(from), shown(to)];
  if (x !== y) tell(path.join('/'), x, y);
}

/** Lines that differ between the documents of two designs, router by router; documents that are the same object are passed over. */
export function documentChanges(before: readonly SourceDocument[], after: readonly SourceDocument[]): LineChange[] {
  const out: LineChange[] = [];
  const label = (d: SourceDocument): string => hostNameOf(d.tree) ?? d.file;
  // A router that was renamed keeps its file; one that came in another file keeps its name.
  const old = new Map(before.map((d) => [label(d), d]));
  const files = new Map(before.map((d) => [d.file, d]));
  const seen = new Set<SourceDocument>();
  for (const d of after) {
    const was = old.get(label(d)) ?? files.get(d.file);
    if (was) seen.add(was);
    if (was?.tree === d.tree) continue;
    const add = (path: string, from: string | undefined, to: string | undefined): void => {
      out.push({ router: label(d), file: d.file, path, from, to });
    };
    if (was) walk(was.tree, d.tree, [], add);
    else add('', undefined, 'the whole document');
  }
  for (const d of before) if (!seen.has(d)) out.push({ router: label(d), file: d.file, path: '', from: 'the whole document', to: undefined });
  return out.sort((a, b) => (a.router < b.router ? -1 : a.router > b.router ? 1 : 0));
}
