import { strToU8, unzipSync, zipSync } from 'fflate';
import { parse as parseJson, parseTree, printParseErrorCode, visit, type Node, type ParseError } from 'jsonc-parser';
import type { Design, Router, Topology } from '../design/design';
import { localName, type ReadContext, type ReadProblem } from './cursor';
import { parseXml, writeXml } from './xml';
import { readCompass } from './compass-file';
import { readRouter } from './read-router';
import { readTopology } from './read-topology';

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

export interface ReadResult {
  readonly design: Design;
  /** The documents behind the design, routers and topology, in the order in which they came. */
  readonly documents: readonly SourceDocument[];
  readonly problems: readonly ReadProblem[];
  /** Nodes that nothing is computed from, as `file: path`. */
  readonly notUsed: readonly string[];
}

/** What one import may hold (octets, files, nesting); past them a clear refusal. */
export const readLimits = {
  fileBytes: 64 * 1024 * 1024,
  files: 10_000,
  unpackedBytes: 512 * 1024 * 1024,
  nesting: 100,
} as const;

const megabytes = (bytes: number): string => `${Math.round(bytes / 1024 / 1024)} MB`;
const refuse = (file: string, message: string, remedy: string, place: Partial<ReadProblem> = {}): ReadProblem => ({
  severity: 'error',
  file,
  path: '',
  message,
  remedy,
  ...place,
});

/** 1-based line and column of an offset. */
export function placeOf(text: string, offset: number): { line: number; column: number } {
  let line = 1;
  let start = 0;
  for (let i = text.indexOf('\n'); i >= 0 && i < offset; i = text.indexOf('\n', i + 1)) {
    line++;
    start = i + 1;
  }
  return { line, column: offset - start + 1 };
}

function decode(file: InputFile): string | ReadProblem {
  if (typeof file.content === 'string') return file.content.replace(/^\ufeff/, '');
  const c = file.content;
  if ((c[0] === 0xff && c[1] === 0xfe) || (c[0] === 0xfe && c[1] === 0xff)) return refuse(file.name, 'This file is UTF-16.', 'Save it as UTF-8.');
  if ((c[0] === 0 && c[1] === 0) || (c[0] !== undefined && c[1] === 0))
    return refuse(file.name, 'This file is not UTF-8 text (UTF-16, UTF-32 or no text at all).', 'Save it as UTF-8 text.');
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(c);
  } catch {
    return refuse(file.name, 'This file is not UTF-8 text; it looks like another encoding, such as Latin-1.', 'Save it as UTF-8.');
  }
}

/** Nesting deeper than `limit`, found without recursion; the offset where it begins. */
function tooDeep(text: string, limit: number): number | undefined {
  let depth = 0;
  let inText = false;
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i);
    if (inText) {
      if (c === 92) i++;
      else if (c === 34) inText = false;
    } else if (c === 34) inText = true;
    else if (c === 123 || c === 91) {
      if (++depth > limit) return i;
    } else if (c === 125 || c === 93) depth--;
  }
  return undefined;
}

const faultWords: Record<string, string> = {
  InvalidSymbol: 'a word stands here that is no JSON value',
  InvalidNumberFormat: 'a number is written in a way JSON does not know',
  PropertyNameExpected: 'a member name in double quotes is missing',
  ValueExpected: 'a value is missing',
  ColonExpected: 'a colon is missing',
  CommaExpected: 'a comma is missing',
  CloseBraceExpected: 'a closing brace } is missing',
  CloseBracketExpected: 'a closing bracket ] is missing',
  EndOfFileExpected: 'more text follows after the end of the value',
  UnexpectedEndOfString: 'a text is not closed with a quote',
  InvalidCharacter: 'a character stands here that JSON does not allow',
  InvalidCommentToken: 'a comment stands here; JSON has none',
  UnexpectedEndOfComment: 'a comment stands here; JSON has none',
};

/** Member names written twice in one object (RFC 7951 forbids it): the second one's offset and name. */
function duplicateMembers(text: string): { name: string; offset: number }[] {
  const out: { name: string; offset: number }[] = [];
  const stack: Set<string>[] = [];
  visit(text, {
    onObjectBegin: () => {
      stack.push(new Set());
      return true;
    },
    onObjectProperty: (name, offset) => {
      const names = stack.at(-1);
      if (names?.has(name)) out.push({ name, offset });
      names?.add(name);
    },
    onObjectEnd: () => {
      stack.pop();
    },
  });
  return out;
}

/** Parses JSON text; every fault with its line, column and remedy. */
export function parseDocumentText(file: string, text: string): { tree?: Record<string, unknown>; problems: ReadProblem[] } {
  const deep = tooDeep(text, readLimits.nesting);
  if (deep !== undefined)
    return {
      problems: [
        refuse(
          file,
          `The file is nested more than ${readLimits.nesting} levels deep.`,
          'A router document needs about 20; check what made this file.',
          placeOf(text, deep),
        ),
      ],
    };
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    const errors: ParseError[] = [];
    parseJson(text, errors, { disallowComments: true, allowTrailingComma: false });
    const first = errors[0];
    const words = first ? (faultWords[printParseErrorCode(first.error)] ?? 'it does not follow the JSON rules') : 'it does not follow the JSON rules';
    const place = placeOf(text, first?.offset ?? 0);
    return {
      problems: [
        refuse(
          file,
          `This file is not JSON: ${words} (line ${place.line}, column ${place.column}).`,
          'Mend the file at that place, or export it again from where it came.',
          place,
        ),
      ],
    };
  }
  if (typeof value !== 'object' || value === null || Array.isArray(value))
    return {
      problems: [
        refuse(
          file,
          'The JSON in this file is not an object.',
          'A router document is an object with "ietf-system:system", "ietf-interfaces:interfaces" and "ietf-routing:routing".',
        ),
      ],
    };
  const problems = duplicateMembers(text).map(({ name, offset }) =>
    refuse(file, `The member "${name}" is written twice in one object.`, 'Keep one of the two; the last one was read.', {
      ...placeOf(text, offset),
      path: name,
    }),
  );
  return { tree: value as Record<string, unknown>, problems };
}

const known = new Set(['system', 'interfaces', 'routing', 'routing-policy', 'key-chains']);

/** What a parsed object is: a router document, a topology, a design file of ours, or none of these. */
export function documentKind(tree: Record<string, unknown>): 'router' | 'topology' | 'compass' | 'other' {
  if (tree.format === 'gentle-compass') return 'compass';
  const names = Object.keys(tree).map(localName);
  if (names.some((n) => known.has(n))) return 'router';
  if (names.includes('networks') || names.includes('risk-groups')) return 'topology';
  return 'other';
}

/** What an archive says it holds, without unpacking anything. */
function zipEntries(content: Uint8Array): { name: string; size: number }[] {
  const out: { name: string; size: number }[] = [];
  unzipSync(content, {
    filter: (e) => {
      if (!e.name.endsWith('/') && /\.(json|xml)$/i.test(e.name)) out.push({ name: e.name, size: e.originalSize });
      return false;
    },
  });
  return out;
}

const climbsOut = (name: string): boolean => name.split(/[/\\]/).includes('..') || /^([/\\]|[A-Za-z]:)/.test(name);

/** Files of a zip; names that climb out and files over the limit are left out, an archive over the limits is refused whole. */
function unzip(file: InputFile, problems: ReadProblem[]): InputFile[] {
  const content = file.content;
  if (typeof content === 'string') return [];
  try {
    const wanted = new Set<string>();
    let total = 0;
    for (const e of zipEntries(content)) {
      const name = `${file.name} › ${e.name}`;
      if (climbsOut(e.name))
        problems.push(
          refuse(name, 'This name climbs out of the archive.', 'Pack the archive again with plain relative names; this entry is left out.'),
        );
      else if (e.size > readLimits.fileBytes)
        problems.push(
          refuse(
            name,
            `Unpacked this file would have ${megabytes(e.size)}; the limit is ${megabytes(readLimits.fileBytes)}.`,
            'A router document is seldom over 1 MB; check what made this archive.',
          ),
        );
      else {
        wanted.add(e.name);
        total += e.size;
      }
    }
    if (total > readLimits.unpackedBytes || wanted.size > readLimits.files) {
      problems.push(
        refuse(
          file.name,
          `Unpacked this archive would be over ${megabytes(readLimits.unpackedBytes)} or ${readLimits.files.toLocaleString('en-GB')} files.`,
          'Split the archive, or check what made it; nothing of it was read.',
        ),
      );
      return [];
    }
    // Sizes are the archive's own words: fflate unpacks into just that much room and fails where there is more.
    return Object.entries(unzipSync(content, { filter: (e) => wanted.has(e.name) })).map(([name, c]) => ({ name, content: c }));
  } catch {
    problems.push(refuse(file.name, 'This archive cannot be unpacked; it may be cut short.', 'Fetch or pack it again.'));
    return [];
  }
}

const isZip = (f: InputFile): boolean =>
  typeof f.content !== 'string' && f.content[0] === 0x50 && f.content[1] === 0x4b && (f.content[2] === 3 || f.content[2] === 5);

/** Unpacks archives and parses every JSON file. What cannot be read is reported; the rest goes on. */
export function readDocuments(files: readonly InputFile[]): { documents: SourceDocument[]; problems: ReadProblem[]; name: string | undefined } {
  let name: string | undefined;
  const problems: ReadProblem[] = [];
  const flat = files.flatMap((f) => (isZip(f) ? unzip(f, problems) : [f]));
  if (flat.length > readLimits.files)
    problems.push(
      refuse(
        '',
        `${flat.length.toLocaleString('en-GB')} files are more than the limit of ${readLimits.files.toLocaleString('en-GB')}.`,
        'Import the network in parts; the files up to the limit are read.',
      ),
    );
  const documents: SourceDocument[] = [];
  for (const f of flat.slice(0, readLimits.files)) {
    if (f.content.length > readLimits.fileBytes) {
      problems.push(
        refuse(
          f.name,
          `This file has ${megabytes(f.content.length)}; the limit is ${megabytes(readLimits.fileBytes)}.`,
          'A router document is seldom over 1 MB; check what made this file.',
        ),
      );
      continue;
    }
    const text = decode(f);
    if (typeof text !== 'string') {
      problems.push(text);
      continue;
    }
    if (text.trim() === '') {
      problems.push(refuse(f.name, 'This file is empty.', 'Export it again, or leave it out.'));
      continue;
    }
    const xml = text.trimStart().startsWith('<');
    const parsed = xml ? parseXml(f.name, text, readLimits.nesting) : parseDocumentText(f.name, text);
    problems.push(...parsed.problems);
    if (!parsed.tree) continue;
    if (documentKind(parsed.tree) !== 'compass') {
      documents.push({ file: f.name, tree: parsed.tree, text, ...(xml ? { encoding: 'xml' as const } : {}) });
      continue;
    }
    const whole = readCompass(f.name, parsed.tree);
    if ('message' in whole) problems.push(whole);
    else {
      documents.push(...whole.documents);
      name ??= whole.name;
    }
  }
  return { documents, problems, name };
}

/** Text of a document: as it came, or after an edit as this program writes it. */
export const documentText = (d: SourceDocument): string =>
  d.text ?? (d.encoding === 'xml' ? writeXml(d.tree) : `${JSON.stringify(d.tree, null, 2)}\n`);

/** The node of a parse tree at a document path, for line marks. */
export function nodeAt(text: string, at: readonly (string | number)[]): Node | undefined {
  let node = parseTree(text);
  for (const step of at) {
    if (!node?.children) return undefined;
    node = typeof step === 'number' ? node.children[step] : node.children.find((p) => p.children?.[0]?.value === step)?.children?.[1];
  }
  return node;
}

const byName = (a: { name: string }, b: { name: string }): number => (a.name < b.name ? -1 : a.name > b.name ? 1 : 0);

/** Builds the design from parsed documents. The result does not depend on their order, but for two of one name. */
export function designFrom(documents: readonly SourceDocument[]): ReadResult {
  const problems: ReadProblem[] = [];
  const notUsed: string[] = [];
  const kept: SourceDocument[] = [];
  const routers = new Map<string, Router>();
  let topology: Topology | undefined;
  for (const d of documents) {
    const own: string[] = [];
    const context: ReadContext = { file: d.file, problems, notUsed: own };
    const kind = documentKind(d.tree);
    if (kind === 'router') {
      const router = readRouter(d.tree, context);
      const twin = router && routers.get(router.name);
      if (router && twin)
        problems.push(
          refuse(
            d.file,
            `The host name "${router.name}" already stands in ${twin.file}.`,
            'Rename one of the two routers; this document is left out.',
            { path: 'ietf-system:system/hostname' },
          ),
        );
      else if (router) {
        routers.set(router.name, router);
        kept.push(d);
      }
    } else if (kind === 'topology') {
      if (topology) problems.push(refuse(d.file, 'This is a second topology document.', 'Join the two; this one is left out.'));
      else {
        topology = readTopology(d.tree, context);
        kept.push(d);
      }
    } else
      problems.push(
        refuse(
          d.file,
          'This JSON is neither a router document nor a topology.',
          'A router document holds "ietf-system:system", "ietf-interfaces:interfaces" and "ietf-routing:routing"; a topology holds "ietf-network:networks".',
        ),
      );
    for (const path of own) notUsed.push(`${d.file}: ${path}`);
  }
  const design: Design = { routers: [...routers.values()].sort(byName), topology: topology ?? { links: [], riskGroups: [] } };
  return { design, documents: kept, problems, notUsed };
}

/** Reads files of any mix (documents, archives, one topology) into a design. */
export function readSet(files: readonly InputFile[]): ReadResult {
  const { documents, problems } = readDocuments(files);
  const read = designFrom(documents);
  return { ...read, problems: [...problems, ...read.problems] };
}

/** Packs documents into a .zip, each under its own file name (without the archive it may have come from). */
export function zipDocuments(documents: readonly SourceDocument[]): Uint8Array {
  const files: Record<string, Uint8Array> = {};
  for (const d of documents) {
    const plain = d.file.replace(/^.* › /, '').replace(/^.*[/\\]/, '') || 'document.json';
    let name = plain;
    for (let n = 2; Object.hasOwn(files, name); n++) name = plain.replace(/(\.json|\.xml)?$/, `-${n}$1`);
    files[name] = strToU8(documentText(d));
  }
  return zipSync(files, { level: 6, mtime: '2020-01-01T00:00:00' });
}
