import { localName } from './shape';
import { writeXml } from './xml';

/** A file as it came: its name (with folders) and its octets or text. */
export interface InputFile {
  readonly name: string;
  readonly content: Uint8Array | string;
}

/** A router document or topology as text that has been parsed: the unit that is edited, kept and exported. */
export interface SourceDocument {
  readonly file: string;
  readonly tree: Record<string, unknown>;
  /** The text it was read from, while no edit has touched it: the source of line numbers. */
  readonly text?: string;
  /** The encoding it came in and is written in; absent: JSON. */
  readonly encoding?: 'xml';
}

const known = new Set(['system', 'interfaces', 'routing', 'routing-policy', 'key-chains']);

/** What a parsed object is: a router document, a topology, a design file of ours, or none of these. */
export function documentKind(tree: Record<string, unknown>): 'router' | 'topology' | 'settings' | 'compass' | 'other' {
  if (tree.format === 'gentle-compass') return 'compass';
  const names = new Set<string>();
  for (const key of Object.keys(tree)) {
    const name = localName(key);
    if (known.has(name)) return 'router';
    names.add(name);
  }
  if (names.has('networks') || names.has('risk-groups')) return 'topology';
  return names.has('settings') ? 'settings' : 'other';
}

/** Text of a document: as it came, or after an edit as this program writes it. */
export const documentText = (d: SourceDocument): string =>
  d.text ?? (d.encoding === 'xml' ? writeXml(d.tree) : `${JSON.stringify(d.tree, null, 2)}\n`);

/** The host name that a router document gives, before anything else of it is read; `undefined` when it is no text. */
export function hostNameOf(tree: Record<string, unknown>): string | undefined {
  const member = (node: object, name: string): unknown => {
    for (const key of Object.keys(node)) if (localName(key) === name) return (node as Record<string, unknown>)[key];
    return undefined;
  };
  const system = member(tree, 'system');
  const name = typeof system === 'object' && system !== null ? member(system, 'hostname') : undefined;
  return typeof name === 'string' ? name : undefined;
}
