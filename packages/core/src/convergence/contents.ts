import { AreaDatabase } from '../lsdb/area-database';
import type { AreaGraph } from '../lsdb/area-graph';
import type { ExternalLsa, NetworkLsa, SummaryLsa } from '../lsdb/lsa';
import type { RouterLsa } from '../lsdb/router-links';
import { prefixId } from '../prefix/prefix-book';

/** What is flooded, as this simulation holds it. */
export type FloodedLsa = RouterLsa | NetworkLsa | SummaryLsa | ExternalLsa;

/** Where an advertisement is flooded: an area by its id, or everywhere that takes externals. */
export const everywhere = -1;

/** What an advertisement is about, and who says it: instances with the same name replace each other (RFC 2328 §12.1). */
export interface LsaName {
  readonly id: number;
  /** An area's id, or `everywhere`. */
  readonly scope: number;
  readonly type: 1 | 2 | 3 | 4 | 5 | 7;
  /** Index of the process that says it. */
  readonly speaker: number;
  /** In words, as events tell it. */
  readonly words: string;
}

/** What an advertisement says. Kept once for all instances, routers and runs that say the same. */
export interface Content {
  readonly name: LsaName;
  readonly lsa: FloodedLsa;
  /** Two random numbers that stand for it where databases are told apart. */
  readonly mark: readonly [number, number];
}

/** The parts of a database that calculations stand on apart: types 1 and 2, types 3 and 4, type 7, type 5. */
export const partOf = (type: LsaName['type']): 0 | 1 | 2 | 3 => (type < 3 ? 0 : type < 5 ? 1 : type === 7 ? 2 : 3);

/** One advertisement as a router holds it. `content` is missing when it was withdrawn (MaxAge). */
export interface Held {
  readonly name: LsaName;
  readonly content: Content | undefined;
  readonly sequence: number;
  /** When it came in or was originated; -Infinity at the beginning. */
  readonly at: number;
}

/**
 * Whether an instance is newer than another one (RFC 2328 §13.1): by its number; of two with one number, as a router leaves them that
 * began anew, by the checksum, for which the mark of the content stands; a withdrawn one before all others.
 */
export function isNewer(a: Held, b: Held | undefined): boolean {
  if (!b) return true;
  if (a.sequence !== b.sequence) return a.sequence > b.sequence;
  if (a.content === b.content || !b.content) return false;
  return !a.content || a.content.mark[0] > b.content.mark[0];
}

/** Marks of a database's parts, combined: two numbers for each part. */
export type Marks = Int32Array;

/** Every advertisement of one scope that a router holds: what all held at the beginning, and what came since. */
export class Store {
  readonly since = new Map<number, Held>();
  readonly marks: Marks;

  constructor(
    readonly scope: number,
    readonly base: ReadonlyMap<number, Held>,
    marks: Marks = new Int32Array(8),
  ) {
    this.marks = marks.slice();
  }

  get(name: number): Held | undefined {
    return this.since.get(name) ?? this.base.get(name);
  }

  /** Takes an instance in. @returns  whether it says something else than the one before */
  put(held: Held): boolean {
    const before = this.get(held.name.id)?.content;
    this.since.set(held.name.id, held);
    if (before === held.content) return false;
    if (before) this.turn(before);
    if (held.content) this.turn(held.content);
    return true;
  }

  private turn(c: Content): void {
    turnMarks(this.marks, c);
  }

  /** All that it holds. */
  *all(): Generator<Held> {
    for (const [id, h] of this.base) if (!this.since.has(id)) yield h;
    yield* this.since.values();
  }

  /** Parts as a key: stores with the same one say the same. */
  part(n: 0 | 1 | 2 | 3): string {
    return `${this.marks[2 * n] ?? 0}.${this.marks[2 * n + 1] ?? 0}`;
  }
}

/** Puts a content into the marks of its part, or takes it out: the same deed. */
export function turnMarks(marks: Marks, c: Content): void {
  const n = 2 * partOf(c.name.type);
  marks[n] = (marks[n] ?? 0) ^ c.mark[0];
  marks[n + 1] = (marks[n + 1] ?? 0) ^ c.mark[1];
}

/** What distinguishes two router-LSAs that are told apart by what they say alone. */
function wordsOf(lsa: FloodedLsa): string {
  switch (lsa.type) {
    case 1: {
      const { b, e, v, nt } = lsa.bits;
      return `${Number(b)}${Number(e)}${Number(v)}${Number(nt)} ${lsa.links.map((l) => `${l.kind}:${l.id}:${l.data}:${l.metric}:${l.nextHop ?? ''}:${l.port?.index ?? ''}`).join()}`;
    }
    case 2:
      return `${lsa.length} ${lsa.routers.join()} ${lsa.prefixes?.join() ?? ''}`;
    case 3:
    case 4:
      return String(lsa.metric);
    case 5:
    case 7:
      return `${lsa.metric} ${lsa.metricType} ${lsa.forwarding} ${lsa.tag} ${String(lsa.propagate)} ${lsa.reason}`;
  }
}

const subject = (lsa: FloodedLsa): string => (lsa.type === 1 ? '' : lsa.type === 2 ? String(lsa.key) : String(prefixId(lsa.bits, lsa.length)));

/** All names and contents that one simulation, with all of its runs, has met; and databases that were made of them. */
export class Contents {
  private readonly names = new Map<string, LsaName>();
  private readonly contents = new Map<string, Content>();
  private readonly graphs = new Map<string, AreaGraph>();
  private readonly databases = new Map<string, AreaDatabase>();
  private readonly fives = new Map<string, readonly ExternalLsa[]>();

  /** @param random  numbers in [0, 1) @param wordsFor  names an advertisement for people */
  constructor(
    private readonly random: () => number,
    private readonly wordsFor: (scope: number, lsa: FloodedLsa) => string,
  ) {}

  /** The content of an advertisement. @param speaker  who says it */
  of(scope: number, speaker: number, lsa: FloodedLsa): Content {
    const called = `${scope} ${lsa.type} ${speaker} ${subject(lsa)}`;
    const key = `${called} ${wordsOf(lsa)}`;
    let content = this.contents.get(key);
    if (!content) {
      let name = this.names.get(called);
      if (!name) this.names.set(called, (name = { id: this.names.size, scope, type: lsa.type, speaker, words: this.wordsFor(scope, lsa) }));
      const mark = (): number => (this.random() * 0x1_0000_0000) | 0;
      this.contents.set(key, (content = { name, lsa, mark: [mark(), mark()] }));
    }
    return content;
  }

  /** The database that a store amounts to: one object for all stores that say the same. */
  database(store: Store): AreaDatabase {
    const drawn = `${store.scope} ${store.part(0)}`;
    const key = `${drawn} ${store.part(1)} ${store.part(2)}`;
    let db = this.databases.get(key);
    if (!db) {
      db = databaseOf(store, this.graphs.get(drawn));
      this.graphs.set(drawn, db.graph);
      this.databases.set(key, db);
    }
    return db;
  }

  /** Types 5 of a store, in the order of who says them. */
  externals(store: Store): readonly ExternalLsa[] {
    const key = store.part(3);
    let list = this.fives.get(key);
    if (!list) this.fives.set(key, (list = inOrder(store).flatMap((c) => (c.lsa.type === 5 ? [c.lsa] : []))));
    return list;
  }
}

const inOrder = (store: Store): Content[] =>
  [...store.all()].flatMap((h) => h.content ?? []).sort((a, b) => a.name.speaker - b.name.speaker || a.name.id - b.name.id);

function databaseOf(store: Store, graph: AreaGraph | undefined): AreaDatabase {
  const routers = new Map<number, RouterLsa>();
  const networks = new Map<number, NetworkLsa>();
  const said = new Map<number, { threes: SummaryLsa[]; fours: SummaryLsa[] }>();
  const nssa: ExternalLsa[] = [];
  for (const { lsa, name } of inOrder(store)) {
    if (lsa.type === 1) routers.set(lsa.adv, lsa);
    else if (lsa.type === 2) networks.set(lsa.key, lsa);
    else if (lsa.type === 7) nssa.push(lsa);
    else if (lsa.type === 3 || lsa.type === 4) {
      const own = said.get(name.speaker) ?? { threes: [], fours: [] };
      said.set(name.speaker, own);
      (lsa.type === 3 ? own.threes : own.fours).push(lsa);
    }
  }
  const db = new AreaDatabase(
    -1,
    store.scope,
    [...routers.values()].map((r) => r.speaker),
    routers,
    networks,
    graph,
  );
  db.nssa = nssa;
  db.publish(() => ({
    networks: [...said].map(([speaker, x]) => ({ speaker, made: () => x.threes })),
    boundaries: new Map([...said].map(([speaker, x]) => [speaker, x.fours])),
  }));
  return db;
}
