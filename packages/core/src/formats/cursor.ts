import * as v from 'valibot';
import type { DocumentPath } from '../design/design';

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
  readonly schema: v.GenericSchema<unknown, T>;
  readonly expected: string;
}

/** Member name without its module. */
export const localName = (member: string): string => member.slice(member.indexOf(':') + 1);

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
  private readonly used = new Set<string>();
  private constructor(
    private readonly context: ReadContext,
    private readonly node: Record<string, unknown>,
    readonly at: DocumentPath,
    private readonly label: string,
    private readonly children: Cursor[] = [],
  ) {}

  static root(context: ReadContext, node: Record<string, unknown>): Cursor {
    return new Cursor(context, node, [], '');
  }

  /** The document's words for this place. */
  get path(): string {
    return this.label;
  }

  private join(part: string): string {
    return this.label === '' ? part : `${this.label}/${part}`;
  }

  private member(name: string): string | undefined {
    if (Object.hasOwn(this.node, name)) return name;
    for (const key of Object.keys(this.node)) if (localName(key) === name) return key;
    return undefined;
  }

  problem(name: string, message: string, remedy: string, severity: 'error' | 'note' = 'error'): void {
    this.context.problems.push({
      severity,
      file: this.context.file,
      path: name === '' ? this.label : this.join(name),
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

  /** Local names of all members that the document writes. */
  written(): ReadonlySet<string> {
    return new Set(Object.keys(this.node).map(localName));
  }

  /** The container of that name; `undefined` when it is absent or is none. */
  child(name: string): Cursor | undefined {
    const key = this.member(name);
    if (key === undefined) return undefined;
    this.used.add(key);
    const value = this.node[key];
    if (Array.isArray(value) && value.length === 1 && value[0] === null) return this.adopt({}, [...this.at, key], this.join(name)); // an empty leaf, as RFC 7951 §6.9 writes it
    if (!isObject(value)) {
      this.problem(name, `${showValue(value)} stands where an object is expected.`, 'Write a JSON object here.');
      return undefined;
    }
    return this.adopt(value, [...this.at, key], this.join(name));
  }

  private adopt(node: Record<string, unknown>, at: DocumentPath, label: string): Cursor {
    const c = new Cursor(this.context, node, at, label);
    this.children.push(c);
    return c;
  }

  /** The entries of a list, each named by its key leaf. Entries that are no objects are reported and left out. */
  list(name: string, keyLeaf: string): Cursor[] {
    const key = this.member(name);
    if (key === undefined) return [];
    this.used.add(key);
    const value = this.node[key];
    if (!Array.isArray(value)) {
      this.problem(name, `${showValue(value)} stands where a list is expected.`, 'Write a JSON array here.');
      return [];
    }
    const out: Cursor[] = [];
    value.forEach((entry: unknown, i) => {
      if (!isObject(entry)) {
        this.problem(`${name}[${i + 1}]`, `${showValue(entry)} is no list entry.`, 'Write a JSON object here.');
        return;
      }
      const k = Object.keys(entry).find((m) => localName(m) === keyLeaf);
      const id = k === undefined ? undefined : entry[k];
      const shown = typeof id === 'string' || typeof id === 'number' ? `[${keyLeaf}=${showValue(id).replaceAll('"', '')}]` : `[${i + 1}]`;
      out.push(this.adopt(entry, [...this.at, key, i], this.join(`${name}${shown}`)));
    });
    return out;
  }

  /** A leaf's value; `undefined` when absent or bad (a bad one is reported). */
  leaf<T>(name: string, type: LeafType<T>): T | undefined {
    const key = this.member(name);
    if (key === undefined) return undefined;
    this.used.add(key);
    const result = v.safeParse(type.schema, this.node[key]);
    if (result.success) return result.output;
    this.problem(
      name,
      `${showValue(this.node[key])} is not ${type.expected}.`,
      `Write ${type.expected}; until then the value counts as not written.`,
    );
    return undefined;
  }

  /** A leaf-list's values; bad ones are reported and left out. */
  leafList<T>(name: string, type: LeafType<T>): T[] | undefined {
    const key = this.member(name);
    if (key === undefined) return undefined;
    this.used.add(key);
    const value = this.node[key];
    if (!Array.isArray(value)) {
      this.problem(name, `${showValue(value)} stands where a list is expected.`, 'Write a JSON array here.');
      return undefined;
    }
    const out: T[] = [];
    value.forEach((entry: unknown, i) => {
      const result = v.safeParse(type.schema, entry);
      if (result.success) out.push(result.output);
      else this.problem(`${name}[${i + 1}]`, `${showValue(entry)} is not ${type.expected}.`, `Write ${type.expected}.`);
    });
    return out;
  }

  /** Marks members as known although nothing is computed from them here. */
  known(...names: string[]): void {
    for (const n of names) {
      const key = this.member(n);
      if (key !== undefined) this.used.add(key);
    }
  }

  /** Lists what nothing asked for, here and below. */
  finish(): void {
    for (const key of Object.keys(this.node)) if (!this.used.has(key)) this.context.notUsed.push(this.join(localName(key)));
    for (const c of this.children) c.finish();
  }
}
