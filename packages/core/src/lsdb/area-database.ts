import type { Adjacencies } from '../adjacency/settle';
import type { Speaker } from '../adjacency/speakers';
import { backbone } from '../design/design';
import type { Ipv4 } from '../prefix/ipv4';
import { Groups } from '../segments/groups';
import { areaGraph, type AreaGraph } from './area-graph';
import type { ExternalLsa, NetworkLsa, SummaryLsa } from './lsa';
import { networkLsas, routerLsa, type VirtualAdjacency } from './originate';
import { LinkColumns, type RouterBits, type RouterLsa } from './router-links';

/** What border routers say into an area. */
export interface SummariesSaid {
  /** Types 3, by speakers in their order; each list is written out when somebody looks at it. */
  readonly networks: readonly { readonly speaker: number; readonly made: () => readonly SummaryLsa[] }[];
  /** Types 4 by originating speaker. */
  readonly boundaries: ReadonlyMap<number, readonly SummaryLsa[]>;
}

const nothingSaid: SummariesSaid = { networks: [], boundaries: new Map() };

/** The link-state database of one area, as far as flooding reaches: a split area has several. */
export class AreaDatabase {
  /** Type 7. */
  nssa: readonly ExternalLsa[] = [];
  private source: (() => SummariesSaid) | undefined;
  private said: SummariesSaid | undefined;
  private readonly written = new Map<number, readonly SummaryLsa[]>();
  private all: ReadonlyMap<number, readonly SummaryLsa[]> | undefined;

  constructor(
    readonly index: number,
    readonly areaId: number,
    readonly speakers: readonly number[],
    readonly routers: ReadonlyMap<Ipv4, RouterLsa>,
    /** By their keys. */
    readonly networks: ReadonlyMap<number, NetworkLsa>,
    private drawn?: AreaGraph,
  ) {}

  /** Its routers and networks as a graph; a later state that has the same ones has the same graph. */
  get graph(): AreaGraph {
    return (this.drawn ??= areaGraph(this.areaId, this.routers.values(), this.networks.values()));
  }

  /** Puts in what border routers say now; it is gathered when somebody looks at it. */
  publish(source: () => SummariesSaid): void {
    this.source = source;
    this.said = undefined;
    this.written.clear();
    this.all = undefined;
  }

  private get summariesSaid(): SummariesSaid {
    return (this.said ??= this.source?.() ?? nothingSaid);
  }

  /** Types 3 by originating speaker, in the order of the speakers. */
  *networksSaid(): Generator<readonly SummaryLsa[]> {
    for (const { speaker, made } of this.summariesSaid.networks) {
      let lsas = this.written.get(speaker);
      if (!lsas) {
        lsas = made();
        this.written.set(speaker, lsas);
      }
      yield lsas;
    }
  }

  /** Types 4 by originating speaker. */
  get boundariesSaid(): ReadonlyMap<number, readonly SummaryLsa[]> {
    return this.summariesSaid.boundaries;
  }

  /** Types 3 and 4 by originating speaker. */
  get summaries(): ReadonlyMap<number, readonly SummaryLsa[]> {
    if (!this.all) {
      const out = new Map<number, readonly SummaryLsa[]>();
      const said = [...this.networksSaid()];
      const { networks, boundaries } = this.summariesSaid;
      networks.forEach(({ speaker }, i) => out.set(speaker, [...(said[i] ?? []), ...(boundaries.get(speaker) ?? [])]));
      this.all = out;
    }
    return this.all;
  }
}

/**
 * Areas that a speaker counts as attached: those with an interface that is up, and where empty areas count also those
 * whose interfaces are all down. The backbone always needs an interface that is up (or a virtual link).
 */
export function attachedAreas(s: Speaker): number[] {
  let first: number | undefined;
  let more: number[] | undefined;
  for (let i = 0; i < s.ports.length; i++) {
    const p = s.ports[i];
    if (!p?.up && !(p && s.instance.countsEmptyAreas && p.area.id !== backbone)) continue;
    const { id } = p.area;
    if (first === undefined) first = id;
    else if (id !== first && !more?.includes(id)) (more ??= [first]).push(id);
  }
  if (first === undefined) return [];
  // Most have one.
  return more ? more.sort((a, b) => a - b) : [first];
}

/** Groups of speakers of each area, joined by full adjacencies and virtual links; areas by id, groups by their first speaker. */
function floodGroups(
  adj: Adjacencies,
  virtuals: readonly VirtualAdjacency[],
  attachedOf: (s: Speaker) => readonly number[],
): { areaId: number; speakers: number[] }[] {
  const members = new Map<number, number[]>();
  const note = (area: number, s: number): void => {
    const list = members.get(area);
    if (list) list.push(s);
    else members.set(area, [s]);
  };
  for (const s of adj.speakers) {
    const areas = attachedOf(s);
    for (let i = 0; i < areas.length; i++) note(areas[i] ?? 0, s.index);
  }
  for (const v of virtuals) if (!members.get(backbone)?.includes(v.speaker)) note(backbone, v.speaker);
  // Two numbers for each join, one after the other.
  const joins = new Map<number, number[]>();
  const join = (area: number, a: number, b: number): void => {
    const list = joins.get(area);
    if (list) list.push(a, b);
    else joins.set(area, [a, b]);
  };
  for (let i = 0; i < adj.pairs.length; i++) {
    const a = adj.pairs[i]?.a;
    if (a?.state === 'full') join(a.port.area.id, a.port.speaker, a.peer.speaker);
  }
  for (const v of virtuals) join(backbone, v.speaker, v.peer);
  const groups = new Groups(adj.speakers.length);
  const out: { areaId: number; speakers: number[] }[] = [];
  for (const areaId of [...members.keys()].sort((a, b) => a - b)) {
    const there = members.get(areaId) ?? [];
    if (virtuals.length > 0) there.sort((a, b) => a - b);
    groups.part(there);
    const joined = joins.get(areaId) ?? [];
    for (let i = 0; i < joined.length; i += 2) groups.join(joined[i] ?? 0, joined[i + 1] ?? 0);
    const byRoot = new Map<number, number[]>();
    for (const s of there) {
      const root = groups.find(s);
      const group = byRoot.get(root);
      if (group) group.push(s);
      else byRoot.set(root, [s]);
    }
    for (const speakers of byRoot.values()) out.push({ areaId, speakers });
  }
  return out;
}

/**
 * The database of an area after some of its routers changed: what the others say is the same.
 *
 * @param touched  speakers that may say something else now, by index
 */
export function databaseAfter(
  before: AreaDatabase,
  adj: Adjacencies,
  touched: ReadonlySet<number>,
  bitsOf: (s: Speaker, areaId: number) => RouterBits,
): AreaDatabase {
  if (touched.size === 0) {
    // What nobody touched is the same advertisements: they are not copied.
    const same = new AreaDatabase(before.index, before.areaId, before.speakers, before.routers, before.networks, before.graph);
    same.nssa = before.nssa;
    return same;
  }
  const routers = new Map(before.routers);
  const columns = new LinkColumns(16 * touched.size, before.graph.six);
  const networks = new Map([...before.networks].filter(([, n]) => !touched.has(n.port.speaker)));
  for (const i of before.speakers) {
    const s = touched.has(i) ? adj.speakers[i] : undefined;
    if (!s) continue;
    routers.set(s.routerId, routerLsa(s, before.areaId, adj, [], bitsOf(s, before.areaId), columns));
    for (const n of networkLsas(s, before.areaId, adj)) networks.set(n.key, n);
  }
  const after = new AreaDatabase(before.index, before.areaId, before.speakers, routers, networks);
  after.nssa = before.nssa;
  return after;
}

/** Builds every area's databases of types 1 and 2. */
export function areaDatabases(
  adj: Adjacencies,
  virtuals: readonly VirtualAdjacency[],
  bitsOf: (s: Speaker, areaId: number) => RouterBits,
  attachedOf: (s: Speaker) => readonly number[] = attachedAreas,
): AreaDatabase[] {
  const columns = new LinkColumns(adj.ports.length + adj.pairs.length * 2, adj.speakers[0]?.instance.version === 3);
  return floodGroups(adj, virtuals, attachedOf).map(({ areaId, speakers }, index) => {
    const routers = new Map<Ipv4, RouterLsa>();
    const networks = new Map<number, NetworkLsa>();
    for (let k = 0; k < speakers.length; k++) {
      const s = adj.speakers[speakers[k] ?? -1];
      if (!s) continue;
      // Of two routers with one id in an area the first by host name stands for both (formats: "unstable").
      if (!routers.has(s.routerId)) routers.set(s.routerId, routerLsa(s, areaId, adj, virtuals, bitsOf(s, areaId), columns));
      for (const n of networkLsas(s, areaId, adj)) if (!networks.has(n.key)) networks.set(n.key, n);
    }
    return new AreaDatabase(index, areaId, speakers, routers, networks);
  });
}
