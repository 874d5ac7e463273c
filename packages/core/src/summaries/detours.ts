import type { Speaker } from '../adjacency/speakers';
import { backbone, type AreaRange } from '../design/design';
import { distancesFrom, noWay } from '../dense/area-rows';
import type { AreaDatabase } from '../lsdb/area-database';
import type { AreaGraph } from '../lsdb/area-graph';
import { rangeCost, rangeFor } from '../lsdb/summary-lsa';
import { comparePrefixes, covers, type Prefix } from '../prefix/address';
import { prefixBook, prefixId } from '../prefix/prefix-book';
import type { Prediction } from '../predict';
import { insideCosts, type Costs } from './inside-costs';
import { summarisers } from './space';

/** A destination to which a summary makes the way longer. */
export interface Detour {
  /** Router of the backbone where the way begins. */
  readonly from: string;
  readonly to: Prefix;
  /** Cost of the way that packets take, and the border router at which they enter the area. */
  readonly cost: number;
  readonly through: string;
  /** The same without the summary. */
  readonly shortest: number;
  readonly better: string;
  /** All equal ways are longer; otherwise some packets go round and others do not. */
  readonly always: boolean;
}

/** What one summary makes longer, the worst first. */
export interface Detours {
  readonly area: number;
  readonly prefix: Prefix;
  readonly list: readonly Detour[];
  /** Parts to be told by themselves beside the summary, so that no way is always longer; `undefined` where that takes too many. */
  readonly apart: readonly Prefix[] | undefined;
}

/** A border router of the area in the backbone: what its prefixes cost it, and under which range it tells each. */
interface Border {
  readonly speaker: Speaker;
  readonly vertex: number;
  readonly costs: Costs;
  readonly rangeOf: (id: number) => AreaRange | undefined;
}

/** One that tells of a summary, at a cost. */
interface Teller extends Border {
  readonly told: number;
}

/** Where packets enter the area, and what they have cost by then. */
interface Entry {
  readonly border: Border;
  readonly cost: number;
}

/** Distances in a graph, row by row. */
type Rows = (vertex: number) => Int32Array;

function rowsOf(p: Prediction, db: AreaDatabase): Rows {
  const dense = p.dense?.arrays.areaOf(db).distances;
  if (dense) return (v) => dense.row(v);
  const made = new Map<number, Int32Array>();
  return (v) => {
    let row = made.get(v);
    if (!row) made.set(v, (row = distancesFrom(db.graph, v)));
    return row;
  };
}

/** Ways of packets for a summary through the backbone: each router sends them towards the border router that is cheapest as it is told. */
class WaysIn {
  private readonly known = new Map<number, readonly Entry[]>();

  constructor(
    private readonly graph: AreaGraph,
    private readonly rows: Rows,
    private readonly tellers: readonly Teller[],
    /** Border routers of the area, by vertex: they have every part themselves, and let nothing pass. */
    private readonly borders: ReadonlyMap<number, Border>,
  ) {}

  /** Entries of what a router sends; of several equal ways all. */
  from(router: number): readonly Entry[] {
    const border = this.borders.get(router);
    if (border) return [{ border, cost: 0 }];
    const known = this.known.get(router);
    if (known) return known;
    this.known.set(router, []);
    const row = this.rows(router);
    const total = (t: Teller): number => (row[t.vertex] ?? noWay) + t.told;
    const reached = this.tellers.filter((t) => (row[t.vertex] ?? noWay) < noWay);
    const least = Math.min(...reached.map(total));
    const entries = reached.filter((t) => total(t) === least).flatMap((t) => this.towards(router, t.vertex));
    this.known.set(router, entries);
    return entries;
  }

  /** One step on the way to a border router: the next router decides anew, a network passes on. */
  private towards(vertex: number, to: number): Entry[] {
    const { graph, rows } = this;
    const all = rows(vertex)[to] ?? noWay;
    const out: Entry[] = [];
    for (let e = graph.first[vertex] ?? 0; e < (graph.first[vertex + 1] ?? 0); e++) {
      const next = graph.to[e] ?? 0;
      const step = graph.metric[e] ?? 0;
      if (step + (rows(next)[to] ?? noWay) !== all) continue;
      const further = next < graph.routers.length ? this.from(next) : this.towards(next, to);
      for (const x of further) out.push({ border: x.border, cost: x.cost + step });
    }
    return out;
  }
}

function bordersIn(p: Prediction, graph: AreaGraph, area: number): Border[] {
  return summarisers(p, area).flatMap((speaker) => {
    const vertex = graph.vertexOfRouter.get(speaker.routerId);
    if (vertex === undefined) return [];
    const settings = p.routing.areaOf(speaker, area);
    const rangeOf = (id: number): AreaRange | undefined => rangeFor(settings, prefixBook.prefix(id));
    return [{ speaker, vertex, costs: insideCosts(p, speaker, area), rangeOf }];
  });
}

/** How many parts may be told by themselves beside a summary: more, and little is left of it. */
export const mostApart = 8;

/** Which parts would have to be told by themselves: those that go round, and those that go round once these are out of the summary. */
function toTellApart(graph: AreaGraph, rows: Rows, borders: readonly Border[], key: number, first: readonly Detour[]): Prefix[] | undefined {
  const apart = new Map<number, Prefix>();
  const isApart = (id: number): boolean => [...apart.values()].some((p) => covers(p, prefixBook.prefix(id)));
  for (let list = first; list.length > 0;) {
    for (const d of list) apart.set(prefixId(d.to.bits, d.to.length), d.to);
    if (apart.size > mostApart) return undefined;
    const then = borders.map((b): Border => ({ ...b, rangeOf: (id) => (isApart(id) ? undefined : b.rangeOf(id)) }));
    list = detoursOf(graph, rows, then, key, () => '').filter((d) => d.always);
  }
  return [...apart.values()].sort(comparePrefixes);
}

const keyOf = (r: AreaRange): number => prefixId(r.prefix.bits, r.prefix.length);

/** Who tells of a summary, each at the cost of its own parts. */
function tellersOf(borders: readonly Border[], key: number): Teller[] {
  return borders.flatMap((b) => {
    const own = [...b.costs].filter(([id]) => {
      const range = b.rangeOf(id);
      return range?.advertise === true && keyOf(range) === key;
    });
    const range = own[0] && b.rangeOf(own[0][0]);
    if (!range) return [];
    return [
      {
        ...b,
        told: rangeCost(
          range,
          own.map(([, cost]) => cost),
          b.speaker.instance.rangeCost,
        ),
      },
    ];
  });
}

/** Parts that nobody tells by another name than that of a summary: for the others packets do not follow it. */
function foldedByAll(borders: readonly Border[], key: number): number[] {
  const all = new Set(borders.flatMap((b) => [...b.costs.keys()]));
  const foldedAt = (b: Border, id: number): boolean => {
    const range = b.rangeOf(id);
    return range !== undefined && (keyOf(range) === key || !range.advertise);
  };
  return [...all].filter(
    (id) =>
      borders.every((b) => !b.costs.has(id) || foldedAt(b, id)) && borders.some((b) => b.costs.has(id) && keyOf(b.rangeOf(id) as AreaRange) === key),
  );
}

function detoursOf(graph: AreaGraph, rows: Rows, borders: readonly Border[], key: number, nameOf: (vertex: number) => string): Detour[] {
  const tellers = tellersOf(borders, key);
  if (tellers.length < 2) return [];
  const ways = new WaysIn(graph, rows, tellers, new Map(borders.map((b) => [b.vertex, b])));
  const parts = foldedByAll(borders, key);
  const out: Detour[] = [];
  for (let v = 0; v < graph.routers.length; v++) {
    const entries = borders.some((b) => b.vertex === v) ? [] : ways.from(v);
    if (entries.length === 0) continue;
    const row = rows(v);
    for (const id of parts) {
      const taken = costliest(entries, id);
      const best = cheapest(borders, row, id);
      if (taken && best && taken.cost > best.cost)
        out.push({
          from: nameOf(v),
          to: prefixBook.prefix(id),
          cost: taken.cost,
          through: taken.border.speaker.router.name,
          shortest: best.cost,
          better: best.border.speaker.router.name,
          always: entries.every((e) => e.cost + (e.border.costs.get(id) ?? noWay) > best.cost),
        });
    }
  }
  // The worst first; equal ones always in one order, as what is said of them is compared with what was said before.
  const byName = (a: string, b: string): number => Number(a > b) - Number(a < b);
  return out.sort((a, b) => b.cost - b.shortest - (a.cost - a.shortest) || a.cost - b.cost || byName(a.from, b.from) || comparePrefixes(a.to, b.to));
}

/** Of the equal ways of packets the one that costs most to a part. */
function costliest(entries: readonly Entry[], id: number): Entry | undefined {
  let found: Entry | undefined;
  for (const { border, cost } of entries) {
    const inside = border.costs.get(id);
    if (inside !== undefined && (!found || cost + inside > found.cost)) found = { border, cost: cost + inside };
  }
  return found;
}

/** The way to a part that costs least, were it told by itself. */
function cheapest(borders: readonly Border[], row: Int32Array, id: number): Entry | undefined {
  let found: Entry | undefined;
  for (const border of borders) {
    const inside = border.costs.get(id);
    const way = row[border.vertex] ?? noWay;
    if (inside !== undefined && way < noWay && (!found || way + inside < found.cost)) found = { border, cost: way + inside };
  }
  return found;
}

/**
 * What summaries make longer: of two border routers that tell of one, the backbone chooses by its cost, which is that of its
 * dearest part or fixed, and not by where the part lies (RFC 2328 §12.4.3). Looked at from every router of the backbone, border
 * routers of other areas among them, through which all others come. A summary that only one router tells makes nothing longer.
 */
export function detours(p: Prediction): Detours[] {
  const out: Detours[] = [];
  const { speakers } = p.adjacencies;
  const areas = [...new Set(p.routing.databases.map((d) => d.areaId))].filter((a) => a !== backbone);
  for (const area of areas) {
    if (summarisers(p, area).filter((s) => p.routing.areaOf(s, area).ranges.length > 0).length < 2) continue;
    for (const db of p.routing.databases.filter((d) => d.areaId === backbone)) {
      const { graph } = db;
      const borders = bordersIn(p, graph, area);
      const nameOf = (v: number): string => speakers[graph.routers[v]?.speaker ?? -1]?.router.name ?? '';
      const ranges = new Map(borders.flatMap((b) => p.routing.areaOf(b.speaker, area).ranges.map((r) => [keyOf(r), r.prefix] as const)));
      for (const [key, prefix] of ranges) {
        const rows = rowsOf(p, db);
        const list = detoursOf(graph, rows, borders, key, nameOf);
        if (list.length > 0)
          out.push({
            area,
            prefix,
            list,
            apart: toTellApart(
              graph,
              rows,
              borders,
              key,
              list.filter((d) => d.always),
            ),
          });
      }
    }
  }
  return out;
}
