import type { DocumentPath } from './document-path';
import { joinedNames, localName, shapeOf, type Shape } from './shape';
import { rootSpot, type Spot } from './spot';

/** Something in a file that could not be taken as it stands. Nothing is thrown for it; the rest is read. */
export interface ReadProblem {
  readonly severity: 'error' | 'note';
  readonly file: string;
  /** The place in the file, in words of the document: `interface[name=to-kelp-1]/cost`; empty for the whole file. */
  readonly path: string;
  /** 1-based, when the place is known. */
  readonly line?: number;
  readonly column?: number;
  /** The node in the document's tree, while line and column are still to be found. */
  readonly at?: DocumentPath;
  /** What is wrong, with the value found. */
  readonly message: string;
  /** What to do about it. */
  readonly remedy: string;
}

/** A leaf that can be read: its check, and how to name what it expects. */
export interface LeafType<T> {
  /** The value as it is used; `undefined` when it is none of this type. */
  readonly read: (value: unknown) => T | undefined;
  readonly expected: string;
  /** How a value was read that could be meant otherwise, and how to write it; `undefined` for one that could not. */
  readonly remark?: (value: unknown) => { readonly message: string; readonly remedy: string } | undefined;
}

const isObject = (value: unknown): value is Record<string, unknown> => typeof value === 'object' && value !== null && !Array.isArray(value);

/** A short picture of a value for a message: never more than 60 characters, no control characters. */
export function showValue(value: unknown): string {
  // JSON reads 1e400 as infinite, and would write it as null.
  const text =
    typeof value === 'number' && !Number.isFinite(value)
      ? 'a number too large to hold'
      : ((JSON.stringify(value) as string | undefined) ?? typeof value);
  // eslint-disable-next-line no-control-regex
  const clean = text.replace(/[\u0000-\u001f\u007f-\u009f\u2028-\u202e]/g, '·');
  return clean.length > 60 ? `${clean.slice(0, 57)}…` : clean;
}

const noCursors: readonly never[] = [];

/** Where a walk through one file collects what it found. */
export interface ReadContext {
  readonly file: string;
  readonly problems: ReadProblem[];
  /** Paths of nodes that nothing reads; they stand again on export. */
  readonly notUsed: string[];
}

/**
 * A place in an RFC 7951 tree. Each node that is asked for counts as known; `finish` lists the others as not used.
 * Names match with and without their module prefix.
 */
export class Cursor {
  /** The nodes below that have been asked for, the first one first, each knowing the next: most nodes have none. */
  private firstChild: Cursor | undefined;
  private lastChild: Cursor | undefined;
  private sibling: Cursor | undefined;
  private spot: Spot | undefined;
  private readonly shape: Shape;
  /** Which members have been asked for: a bit each, and a set for those beyond the thirty-first. */
  private asked = 0;
  private askedBeyond: Set<number> | undefined;
  private constructor(
    private readonly context: ReadContext,
    private readonly node: Record<string, unknown>,
    private readonly parent: Cursor | undefined,
    /** Its member of the parent, and in a list its place and its key leaf. */
    private readonly step: string,
    private readonly index: number | undefined,
    private readonly keyLeaf: string | undefined,
  ) {
    this.shape = shapeOf(node);
  }

  static root(context: ReadContext, node: Record<string, unknown>): Cursor {
    return new Cursor(context, node, undefined, '', undefined, undefined);
  }

  /** Where the node stands in the document's tree. Documents share these paths: they are not to be changed. */
  get at(): DocumentPath {
    return this.findSpot().path;
  }

  private findSpot(): Spot {
    return (this.spot ??= this.parent ? this.parent.findSpot().below(this.step, this.index) : rootSpot());
  }

  /** The document's words for this place. */
  get path(): string {
    if (!this.parent) return '';
    let part = localName(this.step);
    if (this.index !== undefined) {
      const key = this.keyLeaf === undefined ? undefined : this.member(this.keyLeaf);
      const id = key === undefined ? undefined : this.node[key];
      part +=
        typeof id === 'string' || typeof id === 'number' ? `[${this.keyLeaf ?? ''}=${showValue(id).replaceAll('"', '')}]` : `[${this.index + 1}]`;
    }
    return this.parent.join(part);
  }

  private join(part: string): string {
    const path = this.path;
    return path === '' ? part : `${path}/${part}`;
  }

  private member(name: string): string | undefined {
    return this.shape.find(name).key;
  }

  /** Finds a member and counts it as known. */
  private use(name: string): string | undefined {
    const { key, place } = this.shape.find(name);
    if (place < 31) this.asked |= place < 0 ? 0 : 1 << place;
    else (this.askedBeyond ??= new Set()).add(place);
    return key;
  }

  problem(name: string, message: string, remedy: string, severity: 'error' | 'note' = 'error'): void {
    this.context.problems.push({
      severity,
      file: this.context.file,
      path: name === '' ? this.path : this.join(name),
      at: this.pathOf(name),
      message,
      remedy,
    });
  }

  /** The tree path of a member, of an entry `member[n]` counted from 1, or of this node for an empty name. */
  private pathOf(name: string): DocumentPath {
    const entry = /^(.*)\[(\d+)\]$/.exec(name);
    const key = this.member(entry?.[1] ?? name);
    if (key === undefined) return this.at;
    return entry ? [...this.at, key, Number(entry[2]) - 1] : [...this.at, key];
  }

  /** True when the document writes this member. */
  writes(name: string): boolean {
    return this.member(name) !== undefined;
  }

  /** Local names of all members that the document writes, and one that is written elsewhere but belongs to them. */
  written(more?: string): ReadonlySet<string> {
    return this.shape.names(more ?? '');
  }

  /** Local names of all members that this node and others write. */
  writtenWith(...others: readonly (Cursor | undefined)[]): ReadonlySet<string> {
    let names = this.written();
    for (const o of others) if (o) names = joinedNames(names, o.written());
    return names;
  }

  /** The container of that name; `undefined` when it is absent or is none. */
  child(name: string): Cursor | undefined {
    const key = this.use(name);
    if (key === undefined) return undefined;
    const value = this.node[key];
    if (Array.isArray(value) && value.length === 1 && value[0] === null) return this.container({}, key); // an empty leaf, as RFC 7951 §6.9 writes it
    if (!isObject(value)) {
      this.problem(name, `${showValue(value)} stands where an object is expected.`, 'Write a JSON object here.');
      return undefined;
    }
    return this.container(value, key);
  }

  private adopt(node: Record<string, unknown>, step: string, index?: number, keyLeaf?: string): Cursor {
    const c = new Cursor(this.context, node, this, step, index, keyLeaf);
    if (this.lastChild) this.lastChild.sibling = c;
    else this.firstChild = c;
    this.lastChild = c;
    return c;
  }

  /** The cursor of a container: asked for twice, it is the same one, so that either finds what the other used. */
  private container(node: Record<string, unknown>, step: string): Cursor {
    for (let c = this.firstChild; c; c = c.sibling) if (c.step === step && c.index === undefined) return c;
    return this.adopt(node, step);
  }

  /** The entries of a list, each named by its key leaf. Entries that are no objects are reported and left out. */
  list(name: string, keyLeaf: string): readonly Cursor[] {
    const key = this.use(name);
    if (key === undefined) return noCursors;
    const value = this.node[key];
    if (!Array.isArray(value)) {
      this.problem(name, `${showValue(value)} stands where a list is expected.`, 'Write a JSON array here.');
      return noCursors;
    }
    // As long as the list, and no longer: most have one entry.
    const out = new Array<Cursor>(value.length);
    let n = 0;
    for (let i = 0; i < value.length; i++) {
      const entry: unknown = value[i];
      if (isObject(entry)) out[n++] = this.adopt(entry, key, i, keyLeaf);
      else this.problem(`${name}[${i + 1}]`, `${showValue(entry)} is no list entry.`, 'Write a JSON object here.');
    }
    if (n < value.length) out.length = n;
    return out;
  }

  /** A leaf's value; `undefined` when absent or bad (a bad one is reported). */
  leaf<T>(name: string, type: LeafType<T>): T | undefined {
    const key = this.use(name);
    if (key === undefined) return undefined;
    const read = type.read(this.node[key]);
    if (read !== undefined) {
      this.remark(name, type, this.node[key]);
      return read;
    }
    this.problem(
      name,
      `${showValue(this.node[key])} is not ${type.expected}.`,
      `Write ${type.expected}; until then the value counts as not written.`,
    );
    return undefined;
  }

  private remark(name: string, { remark }: LeafType<unknown>, value: unknown): void {
    const said = remark?.(value);
    if (said) this.problem(name, said.message, said.remedy, 'note');
  }

  /** A leaf-list's values; bad ones are reported and left out. */
  leafList<T>(name: string, type: LeafType<T>): T[] | undefined {
    const key = this.use(name);
    if (key === undefined) return undefined;
    const value = this.node[key];
    if (!Array.isArray(value)) {
      this.problem(name, `${showValue(value)} stands where a list is expected.`, 'Write a JSON array here.');
      return undefined;
    }
    const out: T[] = [];
    value.forEach((entry: unknown, i) => {
      const read = type.read(entry);
      if (read !== undefined) out.push(read);
      else this.problem(`${name}[${i + 1}]`, `${showValue(entry)} is not ${type.expected}.`, `Write ${type.expected}.`);
    });
    return out;
  }

  /** Marks members as known although nothing is computed from them here. */
  known(...names: string[]): void {
    this.knownAll(names);
  }

  /** The same for names that many nodes share. */
  knownAll(names: readonly string[]): void {
    for (let i = 0; i < names.length; i++) this.use(names[i] ?? '');
  }

  /** Lists what nothing asked for, here and below, in the order in which it was asked for. */
  finish(): void {
    const { keys } = this.shape;
    const all = keys.length < 31 ? (1 << keys.length) - 1 : -1;
    if (this.asked !== all)
      keys.forEach((key, i) => {
        const known = i < 31 ? (this.asked >>> i) & 1 : this.askedBeyond?.has(i);
        if (!known) this.context.notUsed.push(this.join(localName(key)));
      });
    for (let c = this.firstChild; c; c = c.sibling) c.finish();
  }
}
