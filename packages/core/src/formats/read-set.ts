import type { Defaults } from '../design/defaults';
import { standardDefaults } from '../design/defaults';
import type { Design, DocumentPath, Router, Topology } from '../design/design';
import { changesByClock, routerAt } from '../design/key-lifetimes';
import { nameFits, noSettings, type AddressGroup, type Settings } from '../design/settings';
import { isZip, unzip } from '../documents/archive';
import { readCompass } from '../documents/compass-file';
import type { ReadContext, ReadProblem } from '../documents/cursor';
import { documentKind, hostNameOf, type InputFile, type SourceDocument } from '../documents/documents';
import { parseDocumentText } from '../documents/json-text';
import { megabytes, readLimits, refuse } from '../documents/limits';
import { Positions } from '../documents/positions';
import { documentsFromCsv } from './read-csv';
import { readRouter } from './read-router';
import { joinSettings, readGroups, readSettings } from './read-settings';
import { readTopology } from './read-topology';
import { parseXml } from '../documents/xml';

/** Moments at which key lifetimes may be judged, in ms since 1970: one that was named, that of the settings, the clock's. */
export interface Moment {
  readonly named?: number | undefined;
  readonly clock?: number;
}

export interface ReadResult {
  readonly design: Design;
  /** The documents behind the design, routers and topology, in the order in which they came. */
  readonly documents: readonly SourceDocument[];
  readonly problems: readonly ReadProblem[];
  /** Nodes that nothing is computed from, as `file: path`. */
  readonly notUsed: readonly string[];
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
  const tables: { name: string; text: string }[] = [];
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
    if (/\.csv$/i.test(f.name) && text.trim() !== '') {
      tables.push({ name: f.name, text });
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
    if ('message' in whole) problems.push(...placed({ file: f.name, tree: parsed.tree, text }, [whole]));
    else {
      documents.push(...whole.documents);
      name ??= whole.name;
    }
  }
  if (tables.length > 0) {
    const built = documentsFromCsv(tables);
    documents.push(...built.documents);
    problems.push(
      ...built.problems,
      ...built.notUsed.map((n): ReadProblem => {
        const [file = '', what = ''] = n.split(': ');
        return {
          severity: 'note',
          file,
          path: what,
          message: `Not used: ${what}.`,
          remedy: 'docs/formats.md lists the columns that a campus is built from.',
        };
      }),
    );
  }
  return { documents, problems, name };
}

const byName = (a: { name: string }, b: { name: string }): number => (a.name < b.name ? -1 : a.name > b.name ? 1 : 0);

/** Problems of one document with the line and column of their node. */
function placed(document: SourceDocument, problems: readonly ReadProblem[]): ReadProblem[] {
  if (problems.length === 0) return [];
  const positions = new Positions(document);
  return problems.map(({ at, ...p }) => (at === undefined ? p : { ...p, ...positions.at(at) }));
}

/** What one document gave. */
interface OneRead<T> {
  readonly value: T;
  readonly problems: readonly ReadProblem[];
  readonly notUsed: readonly string[];
}

/** Readings by document: after an edit only the documents that it touched are read again. They go with their documents. */
const readings = new WeakMap<SourceDocument, { readonly under: unknown; readonly read: OneRead<unknown> }>();

/**
 * Reads one document in a context of its own, or gives what it gave before.
 *
 * @param under  what else the reading depends on; another one makes it anew
 */
function readOne<T>(d: SourceDocument, under: unknown, read: (c: ReadContext) => T): OneRead<T> {
  const known = readings.get(d);
  if (known && known.under === under) return known.read as OneRead<T>;
  const context: ReadContext = { file: d.file, problems: [], notUsed: [] };
  const value = read(context);
  const made: OneRead<T> = { value, problems: placed(d, context.problems), notUsed: context.notUsed.map((path) => `${d.file}: ${path}`) };
  readings.set(d, { under, read: made });
  return made;
}

/** Groups of addresses from a file beside the design: `{ "group": [...] }`, or a settings document. */
export function groupsFrom(file: InputFile): { groups: readonly AddressGroup[]; problems: readonly ReadProblem[] } {
  const { documents, problems } = readDocuments([file]);
  const read = documents.map((d) => readOne(d, 'groups', (c) => readGroups(d.tree, c)));
  return { groups: read.flatMap((r) => r.value), problems: [...problems, ...read.flatMap((r) => r.problems)] };
}

/** The parts of a design as they are read, with what was noticed. */
class Gathering {
  readonly problems: ReadProblem[] = [];
  readonly notUsed: string[] = [];
  take<T>(one: OneRead<T>): T {
    this.problems.push(...one.problems);
    this.notUsed.push(...one.notUsed);
    return one.value;
  }
}

/** What holds in each router while nothing is written: the first profile that names it. Names that fit nothing are told. */
function profileChoice(settings: Settings): (router: string) => Defaults {
  return (router) => settings.profiles.find((p) => p.routers.some((r) => nameFits(r, router)))?.defaults ?? standardDefaults;
}

/** Names in the settings that no router of the design has, each with its place. */
function unknownNames(design: Design, documents: readonly SourceDocument[]): ReadProblem[] {
  const names = design.routers.map((r) => r.name);
  const tell = (name: string, where: { file: string; at: DocumentPath }, path: string, leaf = 'router'): ReadProblem[] => {
    if (names.some((n) => nameFits(name, n))) return [];
    const problem: ReadProblem = {
      severity: 'note',
      file: where.file,
      path: `settings/${path}/${leaf}`,
      at: [...where.at, leaf],
      message: `"${name}" is no router of this design.`,
      remedy: 'Correct the name, or take it out.',
    };
    const document = documents.find((d) => d.file === where.file);
    return document ? placed(document, [problem]) : [problem];
  };
  const { profiles, alike, groups, expectations } = design.settings;
  return [
    ...profiles.flatMap((p) => p.routers.flatMap((r) => tell(r, p, `profile[name=${p.name}]`))),
    ...alike.flatMap((g) => g.routers.flatMap((r) => tell(r, g, `alike[name=${g.name}]`))),
    ...groups.flatMap((g) => g.members.flatMap((m) => (m.kind === 'routers' ? tell(m.pattern, g, `group[name=${g.name}]`, 'members') : []))),
    ...expectations.flatMap((e) => ('router' in e ? tell(e.router, e, `expectation[name=${e.name}]`) : [])),
  ];
}

/**
 * Builds the design from parsed documents. The result does not depend on their order, but for two of one name. Documents
 * that were read before, as the same objects under the same profile, are not read again.
 *
 * @param now  moment at which key lifetimes are judged; with none anywhere all keys count
 */
export function designFrom(documents: readonly SourceDocument[], now?: Moment): ReadResult {
  const gathered = new Gathering();
  const { problems, notUsed } = gathered;
  const kinds = new Map<ReturnType<typeof documentKind>, SourceDocument[]>();
  for (const d of documents) {
    const kind = documentKind(d.tree);
    const list = kinds.get(kind);
    if (list) list.push(d);
    else kinds.set(kind, [d]);
  }
  const of = (kind: ReturnType<typeof documentKind>): readonly SourceDocument[] => kinds.get(kind) ?? [];
  const kept = new Set<SourceDocument>(of('settings'));
  const settings = of('settings')
    .map((d) => gathered.take(readOne(d, 'settings', (c) => readSettings(d.tree, c))))
    .reduce(joinSettings, noSettings);
  const defaultsFor = profileChoice(settings);
  const routers = new Map<string, Router>();
  for (const d of of('router')) {
    // Which profile holds is known by the host name, which is read first.
    const name = hostNameOf(d.tree);
    const router = gathered.take(readOne(d, name === undefined ? undefined : defaultsFor(name), (c) => readRouter(d.tree, c, defaultsFor)));
    const twin = router && routers.get(router.name);
    if (router && twin)
      problems.push(
        ...placed(d, [
          refuse(
            d.file,
            `The host name "${router.name}" already stands in ${twin.file}.`,
            'Rename one of the two routers; this document is left out.',
            {
              path: 'ietf-system:system/hostname',
              at: ['ietf-system:system', 'hostname'],
            },
          ),
        ]),
      );
    else if (router) {
      routers.set(router.name, router);
      kept.add(d);
    }
  }
  let topology: Topology | undefined;
  for (const d of of('topology')) {
    if (topology) problems.push(refuse(d.file, 'This is a second topology document.', 'Join the two; this one is left out.'));
    else {
      topology = gathered.take(readOne(d, 'topology', (c) => readTopology(d.tree, c)));
      kept.add(d);
    }
  }
  for (const d of of('other'))
    problems.push(
      refuse(
        d.file,
        'This file is neither a router document nor a topology.',
        'A router document holds "ietf-system:system", "ietf-interfaces:interfaces" and "ietf-routing:routing"; a topology holds "ietf-network:networks".',
      ),
    );
  const design = atMoment({ routers: [...routers.values()].sort(byName), topology: topology ?? { links: [], riskGroups: [] }, settings }, now);
  problems.push(...unknownNames(design, of('settings')));
  return { design, documents: documents.filter((d) => kept.has(d)), problems, notUsed };
}

/** The design with the keys that are in use at a moment; the moment stands in it where any key has a lifetime. */
function atMoment(design: Design, now: Moment = {}): Design {
  const at = now.named ?? design.settings.now ?? now.clock;
  if (at === undefined || !design.routers.some(changesByClock)) return design;
  return { ...design, now: at, routers: design.routers.map((r) => (changesByClock(r) ? routerAt(r, at) : r)) };
}

/** Reads files of any mix (documents, archives, one topology) into a design. @param now  as for `designFrom` */
export function readSet(files: readonly InputFile[], now?: Moment): ReadResult {
  const { documents, problems } = readDocuments(files);
  const read = designFrom(documents, now);
  return { ...read, problems: [...problems, ...read.problems] };
}
