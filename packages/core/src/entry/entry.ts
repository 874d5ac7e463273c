import type { Edit } from '../design/edit';
import type { Design } from '../design/design';
import { applyEdits } from '../design/edit';
import type { SourceDocument } from '../documents/documents';
import type { ReadProblem } from '../documents/cursor';
import { designFrom } from '../formats/read-set';
import { formatAddress } from '../prefix/address';
import { address } from './commands/address';
import { addLan, addLink, addPool, addRouter } from './commands/build';
import { bothFamilies } from './commands/both-families';
import { expect, group } from './commands/expect';
import { demand, fail, scenario, sharedRisk } from './commands/what-if';
import { addInterface } from './commands/interface';
import { clear, set } from './commands/change';
import { range } from './commands/summarising';
import { clone } from './commands/clone';
import type { CommandKind } from './commands/command';
import { announce, key, redistribute, staticRoute, virtualLink } from './commands/outside';
import { join, leave, move, remove, rename, renumberWire } from './commands/rearrange';
import { filter, policy, prefixSet } from './commands/policing';
import { Malformed } from '../design/draft';
import { Refusal, Site, type Instead } from './site';
import { hasFamily, type Family } from '../design/family';
import { EntryFault, Reader, wordsOf, type Suggestion, type Vocabulary } from './words';

/** Lines that are about one version of the protocol; with "v3" before them about OSPFv3. */
const ofOneVersion: readonly CommandKind[] = [
  set,
  clear,
  join,
  leave,
  move,
  address,
  renumberWire,
  range,
  key,
  staticRoute,
  redistribute,
  announce,
  filter,
  virtualLink,
];

/** `v3 set hello 5 on kelp-4/to-kelp-1`: a line about OSPFv3 and IPv6. */
const ofThree: CommandKind = {
  verb: 'v3',
  help: 'the line that follows is about OSPFv3 and IPv6',
  form: `v3 ${ofOneVersion.map((c) => c.verb).join('|')} ...`,
  example: 'v3 set hello 5 on area 10',
  read(r) {
    const verb = r.oneOf(
      ofOneVersion.map(({ verb: text, help }) => ({ text, help })),
      'what to do',
    );
    r.family = 6;
    const work = ofOneVersion.find((c) => c.verb === verb)?.read(r);
    return (site) => {
      if (!work || !site.design.routers.some((x) => x.instances.length > 0))
        throw new Refusal('No router runs OSPFv3: the line "ipv6 PREFIX" gives it to all of them.');
      return `OSPFv3: ${work(site)}`;
    };
  },
};

/** Every verb of quick entry, in the order in which they are offered. */
export const commands: readonly CommandKind[] = [
  addRouter,
  addLink,
  addLan,
  addInterface,
  clone,
  set,
  clear,
  join,
  leave,
  move,
  address,
  renumberWire,
  rename,
  range,
  key,
  staticRoute,
  redistribute,
  announce,
  prefixSet,
  policy,
  filter,
  virtualLink,
  bothFamilies,
  ofThree,
  addPool,
  group,
  expect,
  fail,
  scenario,
  sharedRisk,
  demand,
  remove,
];

/** What a line would do: its words, what should be known beforehand, and the edits. */
export interface EntryPlan {
  readonly title: string;
  readonly notes: readonly string[];
  readonly edits: readonly Edit[];
  /** What is to go down, where the line is about that alone; an empty list: all comes back. */
  readonly down?: readonly string[];
}

/** Why a line does nothing: in words, with the place in the line. */
export interface EntryError {
  readonly message: string;
  readonly at: number;
  readonly end: number;
  /** Right as far as it goes: only not complete yet. */
  readonly unfinished: boolean;
}

/** Another line, and what speaks for it. */
export interface OtherLine {
  readonly line: string;
  readonly help: string;
}

/** A line understood, or not, and how it could go on. */
export interface EntryReading {
  readonly plan?: EntryPlan;
  readonly error?: EntryError;
  /** What could stand where the line ends; words to take over, and hints. */
  readonly suggestions: readonly Suggestion[];
  /** Where in the line a suggestion that is taken over begins. */
  readonly from: number;
  /** Other lines that would do where this one cannot, or that may be meant. */
  readonly instead?: readonly OtherLine[];
  /** The verb's form, once the verb stands. */
  readonly form?: string;
}

/** Names in a design that lines can speak of. */
export function vocabularyOf(design: Design, selected: readonly string[] = []): Vocabulary {
  const ifaces = new Map(design.routers.map((r) => [r.name, r.interfaces.map((i) => i.name)]));
  const areas = new Set(design.routers.flatMap((r) => r.instances.flatMap((o) => o.areas.map((a) => a.id))));
  return {
    routers: design.routers.map((r) => r.name),
    interfacesOf: (r) => ifaces.get(r) ?? [],
    areas: [...areas].sort((a, b) => a - b).map(formatAddress),
    groups: design.settings.groups.map((g) => g.name),
    selected,
  };
}

const verbs = commands.map(({ verb, help }) => ({ text: verb, help }));

interface Understood {
  readonly kind: CommandKind;
  /** The family that the line names, by an address, a prefix or "v3". */
  readonly family: Family | undefined;
  readonly work: (site: Site) => string;
  readonly understood: readonly string[];
  readonly rest: readonly Suggestion[];
}

function understand(line: string, known: Vocabulary): Understood {
  const r = new Reader(wordsOf(line), known, line.length);
  const verb = r.oneOf(verbs, 'what to do');
  const kind = commands.find((c) => c.verb === verb);
  if (!kind) throw r.before(`"${verb}" is not known.`);
  const work = kind.read(r);
  return { kind, family: r.family, work, understood: r.understood, rest: r.rest };
}

/** What could stand at the end of a line, or in place of the word that does not fit. */
function expectedIn(line: string, known: Vocabulary, onlyAtEnd: boolean): readonly Suggestion[] {
  try {
    return understand(line, known).rest;
  } catch (e) {
    if (!(e instanceof EntryFault)) throw e;
    return onlyAtEnd && !e.unfinished ? [] : e.expected;
  }
}

/** Suggestions for the word that is being typed, or for the next one. */
function suggest(line: string, known: Vocabulary): { suggestions: Suggestion[]; from: number } {
  const words = wordsOf(line);
  const last = words.at(-1);
  const typing = last && last.end === line.length ? last : undefined;
  const before = typing ? line.slice(0, typing.at) : line;
  const typed = typing?.text ?? '';
  // A place is completed in two steps: what is expected depends on the router before the slash.
  const deeper = typed.includes('/') ? expectedIn(line, known, false) : [];
  const seen = new Set<string>();
  const all = [...deeper, ...expectedIn(before, known, true)].filter((s) => !seen.has(s.text) && seen.add(s.text));
  const fitting = all.filter((s) => s.hint === true || (s.text.startsWith(typed) && s.text !== typed));
  return { suggestions: fitting.slice(0, 12), from: typing?.at ?? line.length };
}

/** A line with another value after one of its words; a mask that stands as a word of its own goes with the old value. */
function withValue(line: string, { after, text, help }: Instead): OtherLine {
  const words = wordsOf(line);
  const n = words.findIndex((w) => w.text === after);
  const old = words[n + 1];
  if (n < 0 || !old) return { line: `${line.trimEnd()} ${after} ${text}`, help };
  const next = words[n + 2];
  const end = next && /^\d+\.\d+\.\d+\.\d+$/.test(next.text) ? next.end : old.end;
  return { line: `${line.slice(0, old.at)}${text}${line.slice(end)}`, help };
}

/** Errors of reading that are new after a change, the first of them. */
function newProblem(before: readonly ReadProblem[], after: readonly ReadProblem[]): ReadProblem | undefined {
  const word = (p: ReadProblem): string => `${p.file} ${p.path} ${p.message}`;
  const known = new Set(before.map(word));
  return after.find((p) => p.severity === 'error' && !known.has(word(p)));
}

/** The same line about OSPFv3, where it would change something there too. */
function forThree(
  line: string,
  kind: CommandKind,
  family: Family | undefined,
  design: Design,
  documents: readonly SourceDocument[],
  selected: readonly string[],
): OtherLine[] {
  if (family !== undefined || kind === move || !ofOneVersion.includes(kind) || !hasFamily(design, 6)) return [];
  const other = `v3 ${line.trim()}`;
  try {
    const site = new Site(design, documents, selected, 6);
    understand(other, vocabularyOf(design, selected)).work(site);
    return site.draft.edits().length === 0 ? [] : [{ line: other, help: 'the same for OSPFv3' }];
  } catch (e) {
    if (e instanceof EntryFault || e instanceof Refusal || e instanceof Malformed) return [];
    throw e;
  }
}

/**
 * Reads one line of quick entry against a design: what it would do as edits, or why not, and how it could go on. Nothing is
 * changed.
 *
 * @param selected  routers chosen on the page, for the word `selected`
 */
export function readEntry(line: string, documents: readonly SourceDocument[], selected: readonly string[] = []): EntryReading {
  const read = designFrom(documents);
  const known = vocabularyOf(read.design, selected);
  const [verb, next] = wordsOf(line).map((w) => w.text);
  const inner = verb === 'v3' ? ofOneVersion.find((c) => c.verb === next)?.form : undefined;
  const form = inner === undefined ? commands.find((c) => c.verb === verb)?.form : `v3 ${inner}`;
  const more = { ...suggest(line, known), ...(form === undefined ? {} : { form }) };
  try {
    const { kind, family, work, understood } = understand(line, known);
    const site = new Site(read.design, documents, selected, family ?? 4);
    const title = work(site).replace(/^(area|the backbone) /, (w) => `${w[0]?.toUpperCase() ?? ''}${w.slice(1)}`);
    const edits = site.draft.edits();
    if (site.down) return { ...more, plan: { title, notes: site.notes, edits, down: site.down } };
    const whole = { message: 'Nothing changes: it is so already.', at: 0, end: line.length, unfinished: false };
    const like = kind.verb === 'v3' ? [] : forThree(line, kind, family, read.design, documents, selected);
    if (edits.length === 0) return { ...more, error: whole, ...(like.length > 0 ? { instead: like } : {}) };
    const problem = newProblem(read.problems, designFrom(applyEdits(documents, edits)).problems);
    if (problem) return { ...more, error: { ...whole, message: `${problem.message} ${problem.remedy}` } };
    const others = [...site.instead, ...like];
    if (like.length > 0) site.notes.push('OSPFv3 stays as it is.');
    return {
      ...more,
      ...(others.length > 0 ? { instead: others } : {}),
      plan: { title, notes: [...new Set([...understood, ...site.notes])], edits },
    };
  } catch (e) {
    if (e instanceof EntryFault) return { ...more, error: { message: e.message, at: e.at, end: e.end, unfinished: e.unfinished } };
    if (e instanceof Refusal && e.instead.length > 0)
      return {
        ...more,
        error: { message: e.message, at: 0, end: line.length, unfinished: false },
        instead: e.instead.map((x) => withValue(line, x)),
      };
    if (e instanceof Refusal || e instanceof Malformed) return { ...more, error: { message: e.message, at: 0, end: line.length, unfinished: false } };
    throw e;
  }
}
