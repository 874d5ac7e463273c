import type { Speaker } from '../adjacency/speakers';
import { designOf } from '../design/family';
import type { Design } from '../design/design';
import type { AreaGraph } from '../lsdb/area-graph';
import { eachAttached } from '../lsdb/attached-prefixes';
import { covers, hull, isSix, type Prefix } from '../prefix/address';
import { prefixBook, prefixId } from '../prefix/prefix-book';
import type { Prediction } from '../predict';
import { mergedSupernets, type ForeignPrefix, type Task } from './planner';

/** What may be left aside, or thought of beforehand. */
export interface Wishes {
  /** Prefixes that need no summary, with all that they contain: neither part nor foreign. */
  readonly leaveOut?: readonly Prefix[];
  /** Prefixes that will be there one day. */
  readonly reserve?: readonly Prefix[];
}

/** A boundary router that announces its own, or what it translates. */
export interface Announced {
  readonly prefix: Prefix;
  readonly metric: number;
  readonly metricType: 'type-1' | 'type-2';
  readonly tag: number;
  /** It comes out of an NSSA. */
  readonly translated: boolean;
}

const keyOf = (p: Prefix): number => prefixId(p.bits, p.length);

const inGraph = new WeakMap<AreaGraph, ReadonlySet<number>>();

/** What the routers of one piece of an area describe, links, LANs and loopbacks, by number; made once for a graph. */
function attachedIn(graph: AreaGraph): ReadonlySet<number> {
  let known = inGraph.get(graph);
  if (!known) {
    const found = new Set<number>();
    eachAttached(graph, (_, id) => found.add(id));
    inGraph.set(graph, (known = found));
  }
  return known;
}

/** What lies inside each area, each prefix once, by number. */
export function insideByArea(p: Prediction): ReadonlyMap<number, ReadonlySet<number>> {
  const out = new Map<number, Set<number>>();
  for (const db of p.routing.databases) {
    let known = out.get(db.areaId);
    if (!known) out.set(db.areaId, (known = new Set()));
    for (const id of attachedIn(db.graph)) known.add(id);
  }
  return out;
}

/** Prefixes of static routes, and of what other protocols bring, by number; of the prediction's family. */
function fromElsewhere(p: Prediction): Set<number> {
  const six = p.family === 6;
  const out = new Set<number>();
  const take = (x: Prefix): unknown => isSix(x.bits) === six && out.add(keyOf(x));
  for (const r of p.design.routers) {
    for (const s of r.staticRoutes) take(s.prefix);
    for (const o of r.instances) for (const x of o.otherRoutes) take(x.prefix);
  }
  return out;
}

/** The design's own space: its pools of a family, else the smallest prefix that holds all that lies inside. */
export function supernetsOf(p: Prediction, inside: Iterable<Prefix>): Prefix[] {
  const six = p.family === 6;
  const pools = p.design.settings.pools.map((x) => x.prefix).filter((x) => isSix(x.bits) === six);
  if (pools.length > 0) return mergedSupernets(pools);
  const whole = hull([...inside]);
  return whole ? [whole] : [];
}

function taskOf(p: Prediction, own: ReadonlySet<number>, foreign: Iterable<ForeignPrefix>, wishes: Wishes, supernets: readonly Prefix[]): Task {
  const { leaveOut = [], reserve = [] } = wishes;
  const stays = (x: Prefix): boolean => !leaveOut.some((o) => covers(o, x));
  const parts = new Set([...[...own].filter((id) => stays(prefixBook.prefix(id))), ...reserve.map(keyOf)]);
  return {
    parts: [...parts].map((id) => prefixBook.prefix(id)),
    foreign: [...foreign].filter((f) => stays(f.prefix) && !parts.has(keyOf(f.prefix))),
    supernets,
  };
}

/**
 * What is to be summarised of an area (RFC 2328 §3.5): all that lies in it and what is reserved are the parts; what lies in
 * other areas, static routes, and what other protocols bring is foreign. A prefix that the area has itself is never foreign.
 */
export function areaTask(p: Prediction, area: number, wishes: Wishes = {}): Task {
  const areas = insideByArea(p);
  const own = areas.get(area) ?? new Set<number>();
  const foreign = new Map<number, ForeignPrefix>();
  for (const id of fromElsewhere(p)) if (!own.has(id)) foreign.set(id, { prefix: prefixBook.prefix(id), area: null });
  for (const [other, ids] of areas)
    for (const id of ids) if (other !== area && !own.has(id)) foreign.set(id, { prefix: prefixBook.prefix(id), area: other });
  const inside = [...areas.values()].flatMap((ids) => [...ids].map((id) => prefixBook.prefix(id)));
  return taskOf(p, own, foreign.values(), wishes, supernetsOf(p, inside));
}

/** The state, under its failures, in which a router folds nothing of what it announces outside. */
export function unfolded(p: Prediction, router: string): Prediction {
  const whole: Design = designOf(p.design);
  const at = whole.routers.findIndex((r) => r.name === router);
  const folds = whole.routers[at];
  if (!folds?.instances.some((o) => o.externalRanges.length > 0)) return p;
  const plain = { ...folds, instances: folds.instances.map((o) => ({ ...o, externalRanges: [] })) };
  let base = p;
  while (base.before) base = base.before;
  return p.failures.reduce((x, f) => x.fail(f), base.edited({ ...whole, routers: whole.routers.with(at, plain) }));
}

/** What a boundary router or translator announces before its external ranges fold it, ascending (RFC 2328 §12.4.4, RFC 3101 §3.2); no default. */
export function announcedBy(p: Prediction, router: string): Announced[] {
  const before = unfolded(p, router);
  const speakers = before.speakersOf(before.routerIndex(router));
  const out = new Map<number, Announced>();
  for (const s of speakers) {
    const own = [...before.routing.externals(s), ...before.routing.databases.flatMap((db) => db.nssa)];
    for (const l of own)
      if (l.speaker === s.index && l.length > 0 && !out.has(keyOf(l)))
        out.set(keyOf(l), {
          prefix: { bits: l.bits, length: l.length },
          metric: l.metric,
          metricType: l.metricType,
          tag: l.tag,
          translated: l.reason === 'translated',
        });
  }
  return [...out.values()];
}

/** What is to be summarised of what a boundary router announces: all inside the system, and what comes from elsewhere, is foreign. */
export function boundaryTask(p: Prediction, announced: readonly Announced[], wishes: Wishes = {}): Task {
  const own = new Set(announced.map((a) => keyOf(a.prefix)));
  const foreign = new Map<number, ForeignPrefix>();
  const add = (id: number, area: number | null): unknown => !own.has(id) && foreign.set(id, { prefix: prefixBook.prefix(id), area });
  for (const id of fromElsewhere(p)) add(id, null);
  for (const [area, ids] of insideByArea(p)) for (const id of ids) add(id, area);
  const parts = announced.map((a) => a.prefix);
  const whole = hull([...parts, ...(wishes.reserve ?? [])]);
  return taskOf(p, own, foreign.values(), wishes, whole ? [whole] : []);
}

/** Border routers that summarise an area: those that stand in it and in another one (RFC 2328 §12.4.3). */
export const summarisers = (p: Prediction, area: number): Speaker[] =>
  p.adjacencies.speakers.filter((s) => p.routing.isBorderRouter(s) && p.routing.areasOf(s).includes(area));
