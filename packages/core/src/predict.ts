import { resettle, settleAdjacencies, type Adjacencies, type Resettled } from './adjacency/settle';
import { leaderNamed } from './adjacency/leader-named';
import { speakersIn, type Port, type Speaker } from './adjacency/speakers';
import type { Design } from './design/design';
import { designDifference } from './design/difference';
import { formatPrefix, prefixOf, type Prefix } from './prefix/address';
import { designOf, familyView, hasFamily, type Family } from './design/family';
import { addFailure, interfaceUp, noOutage, placeKey, routersHit, type FailureSpec, type Outage } from './failures/outage';
import { learns, type LocalRoute } from './routes/local-routes';
import { ribOf, type RibRoute } from './routes/rib';
import { DenseRouting } from './dense/dense-routing';
import { PlainRouting } from './plain/plain-routing';
import { plainRoutesOf, type Routing } from './routes/routing';
import { findSegments, type Segments } from './segments/segments';

export interface PredictOptions {
  /** Host names in the order in which routers start; absent: all together. */
  readonly startOrder?: readonly string[];
  /** Leaders of an earlier state to start from instead of a cold start. */
  readonly incumbents?: Adjacencies;
  /** 6: what OSPFv3 and IPv6 make of the design; else OSPFv2 and IPv4. */
  readonly family?: Family;
  /** `plain`: every stage as the standard words it, slow and obvious; the answer is the same. */
  readonly road?: 'plain';
}

function grouped<T>(items: readonly T[], by: (item: T) => number): Map<number, T[]> {
  const out = new Map<number, T[]>();
  for (const item of items) {
    const list = out.get(by(item));
    if (list) list.push(item);
    else out.set(by(item), [item]);
  }
  return out;
}

/** What the network comes to rest in. Tables are made when asked for and kept. */
export class Prediction {
  private readonly ribs = new Map<number, readonly RibRoute[]>();
  private byRouter: ReadonlyMap<number, readonly Speaker[]> | undefined;
  private bySegment: ReadonlyMap<number, readonly Port[]> | undefined;
  private names: ReadonlyMap<string, number> | undefined;
  constructor(
    readonly design: Design,
    readonly segments: Segments,
    readonly outage: Outage,
    readonly adjacencies: Adjacencies,
    readonly routing: Routing,
    /** Words of the failure list that the design does not know. */
    readonly problems: readonly string[],
    readonly failures: readonly FailureSpec[],
    private readonly options: PredictOptions = {},
  ) {}

  private earlier: Prediction | undefined;
  private editedFrom: WeakRef<Prediction> | undefined;

  /** The state that this one was computed from, by a failure or an edit, as long as somebody holds it. */
  get from(): Prediction | undefined {
    return this.earlier ?? this.editedFrom?.deref();
  }

  /** Which addresses are looked at. */
  get family(): Family {
    return this.design.family ?? 4;
  }

  /** The fast road to this state; `undefined` where it was computed on the plain one. */
  get dense(): DenseRouting | undefined {
    return this.routing instanceof DenseRouting ? this.routing : undefined;
  }

  /** The same for those who know that it is there. */
  get fast(): DenseRouting {
    const { dense } = this;
    if (!dense) throw new RangeError('computed on the plain road: there are no arrays');
    return dense;
  }

  /** The state after one more failure: only what it touches is computed again, where that gives the same as everything. */
  fail(failure: FailureSpec): Prediction {
    const { design, segments } = this;
    const failures = [...this.failures, failure];
    const { outage, problems } = downWith(this, failure);
    const change = outage.routers.size === this.outage.routers.size ? this.resettled(outage) : undefined;
    const routing = change && this.dense?.after(outage, change);
    if (!change || !routing) return predict(design, failures, this.options);
    const next = new Prediction(design, segments, outage, change.adjacencies, routing, [...this.problems, ...problems], failures, this.options);
    next.earlier = this;
    return next;
  }

  /** The router whose failure that of a leader stands for, as a failure; `undefined` for others, and where nobody leads. */
  leaderOf(failure: FailureSpec): FailureSpec | undefined {
    const named = failure.kind === 'leader' ? leaderNamed(this, failure) : '';
    return typeof named === 'string' ? undefined : named;
  }

  /**
   * The state after one more failure as all other routers see it: a router that fails stands there with every interface
   * down, so that all keep their numbers and only what it touches is computed again. Its own table says nothing.
   */
  failSeenByOthers(failure: FailureSpec): Prediction {
    const { design, segments } = this;
    const { outage, problems } = downWith(this, failure);
    // What a router hands to others by another protocol goes with it, but not with its interfaces.
    if (outage.routers.size > this.outage.routers.size && this.adjacencies.speakers.some(learns)) return this.fail(failure);
    const gone = new Set([...outage.routers].filter((r) => !this.outage.routers.has(r)));
    const ports = new Set(outage.ports);
    for (const r of gone) design.routers[r]?.interfaces.forEach((_, i) => ports.add(placeKey(r, i)));
    const seen: Outage = { routers: this.outage.routers, ports, severed: outage.severed };
    const change = this.resettled(seen);
    const adjacencies = change.adjacencies;
    const routing = this.dense?.after(seen, change, undefined, gone) ?? new DenseRouting(design, seen, adjacencies);
    const failures = [...this.failures, failure];
    const next = new Prediction(design, segments, seen, adjacencies, routing, [...this.problems, ...problems], failures, this.options);
    next.earlier = this;
    return next;
  }

  /**
   * The state of a design in which a few router documents were edited: only what they touch is computed again, where that
   * gives the same as everything.
   */
  edited(design: Design): Prediction {
    const { startOrder, incumbents, road } = this.options;
    const plain = this.failures.length === 0 && startOrder === undefined && incumbents === undefined && road === undefined;
    const view = familyView(design, this.family);
    const change = plain ? editedAdjacencies(this, view) : undefined;
    const routing = change && this.dense?.after(this.outage, change, view);
    if (!change || !routing) return predict(design, [], this.family === 6 ? { family: 6 } : {});
    knownSegments.set(designOf(view), this.segments);
    const next = new Prediction(view, this.segments, this.outage, change.adjacencies, routing, [], [], this.family === 6 ? { family: 6 } : {});
    next.editedFrom = new WeakRef(this);
    return next;
  }

  /** Neighbours after ports went down or fell silent. */
  private resettled(outage: Outage): Resettled {
    const changed = new Map<number, Port>();
    for (const routerIndex of routersHit(this.outage, outage))
      for (const s of this.speakersOf(routerIndex))
        for (const p of s.ports) {
          const able = p.settings.enabled && (p.address !== undefined || p.iface.unnumbered);
          const up = able && interfaceUp(this.design, outage, routerIndex, p.ifaceIndex);
          const severed = outage.severed.has(placeKey(routerIndex, p.ifaceIndex));
          if (up !== p.up || severed !== p.severed) changed.set(p.index, p.standing(up, severed));
        }
    return resettle(this.adjacencies, this.design, this.segments, changed);
  }

  /** The state before the last failure, computed when asked for; `undefined` in the base state. */
  get before(): Prediction | undefined {
    if (this.failures.length > 0) this.earlier ??= predict(this.design, this.failures.slice(0, -1), this.options);
    return this.earlier;
  }

  /** OSPF processes of a router, in the order of their names. */
  speakersOf(routerIndex: number): readonly Speaker[] {
    this.byRouter ??= grouped(this.adjacencies.speakers, (s) => s.routerIndex);
    return this.byRouter.get(routerIndex) ?? [];
  }

  /** Ports in OSPF on a segment, in the order of their routers. */
  portsOn(segment: number): readonly Port[] {
    this.bySegment ??= grouped(this.adjacencies.ports, (p) => p.segment);
    return (segment < 0 ? undefined : this.bySegment.get(segment)) ?? [];
  }

  /** Distinct subnets of the family on a segment; of IPv6 none where all speak by link-local addresses alone. */
  subnetsOn(segment: number): readonly Prefix[] {
    const s = this.segments.list[segment];
    if (this.family === 4) return s?.subnets ?? [];
    const out = new Map<string, Prefix>();
    for (const m of s?.members ?? [])
      for (const a of this.design.routers[m.router]?.interfaces[m.iface]?.addresses ?? []) {
        const p = prefixOf(a.bits, a.length);
        out.set(formatPrefix(p), p);
      }
    return [...out.values()];
  }

  /** The port of an interface, both as indexes into the design; `undefined` when it is not in OSPF. */
  portOf(routerIndex: number, ifaceIndex: number): Port | undefined {
    for (const s of this.speakersOf(routerIndex)) for (const p of s.ports) if (p.ifaceIndex === ifaceIndex) return p;
    return undefined;
  }

  /** Index of a router by host name; -1 when there is none. */
  routerIndex(name: string): number {
    this.names ??= new Map(this.design.routers.map((r, i) => [r.name, i]));
    return this.names.get(name) ?? -1;
  }

  /** Routes of a router that do not come from OSPF. */
  localRoutes(routerIndex: number): readonly LocalRoute[] {
    const router = this.design.routers[routerIndex];
    if (!router || this.outage.routers.has(routerIndex)) return [];
    const speakers = this.speakersOf(routerIndex);
    if (speakers[0]) {
      const seen = new Map<string, LocalRoute>();
      for (const s of speakers)
        for (const r of this.routing.localRoutes(s)) if (this.routing.handing(s, r).is === 'stands') seen.set(`${r.key} ${r.source}`, r);
      return [...seen.values()];
    }
    return plainRoutesOf(this.design, this.outage, routerIndex);
  }

  /** A router's own table, after preference and policy. */
  rib(routerIndex: number): readonly RibRoute[] {
    const known = this.ribs.get(routerIndex);
    if (known) return known;
    const made = ribOf(this.routing, this.speakersOf(routerIndex), this.localRoutes(routerIndex), (s) => this.routing.table(s));
    this.ribs.set(routerIndex, made);
    return made;
  }

  /** The same table, made for one look and not kept: to run over all routers of a large design in little memory. */
  ribOnce(routerIndex: number): readonly RibRoute[] {
    return (
      this.ribs.get(routerIndex) ?? ribOf(this.routing, this.speakersOf(routerIndex), this.localRoutes(routerIndex), (s) => this.routing.tableOnce(s))
    );
  }
}

/** Edits of more routers than these are computed whole: little of the state before would be left. */
const few = 4;

/** Neighbours after the edit of a few routers whose wires, areas and imports are the same; `undefined` otherwise. */
function editedAdjacencies(before: Prediction, design: Design): Resettled | undefined {
  const difference = designDifference(before.design, design);
  if (difference.reach === 'whole' || difference.routers.length > few) return undefined;
  const changed = new Map<number, Port>();
  const edited: Speaker[] = [];
  for (const i of difference.routers) {
    const own = before.speakersOf(i);
    const next = speakersIn(design, before.segments, before.outage, i, own[0]?.index ?? 0, own[0]?.ports[0]?.index ?? 0);
    if (next.length !== own.length) return undefined;
    for (const [n, s] of next.entries()) {
      const mine = own[n];
      if (mine?.routerId !== s.routerId || mine.ports.length !== s.ports.length) return undefined;
      for (const [k, p] of s.ports.entries()) {
        const q = mine.ports[k];
        if (q?.ifaceIndex !== p.ifaceIndex || q.index !== p.index || q.area.id !== p.area.id) return undefined;
        changed.set(p.index, p);
      }
      edited.push(s);
    }
  }
  return resettle(before.adjacencies, design, before.segments, changed, edited);
}

/** What is down with one more failure, or why it cannot be told what would be. */
export function downWith(
  p: Pick<Prediction, 'design' | 'segments' | 'outage' | 'adjacencies'>,
  failure: FailureSpec,
): { outage: Outage; problems: string[] } {
  const named = leaderNamed(p, failure);
  return typeof named === 'string' ? { outage: p.outage, problems: [named] } : addFailure(p.design, p.segments, p.outage, named);
}

const knownSegments = new WeakMap<Design, Segments>();

/** Who shares a wire with whom: found once for a design, and the same in each of its failures. */
function segmentsOf(view: Design): Segments {
  const design = designOf(view);
  let segments = knownSegments.get(design);
  if (!segments) {
    segments = findSegments(design);
    knownSegments.set(design, segments);
  }
  return segments;
}

/**
 * Predicts what every router of a design comes to know: neighbours, leaders, databases, routes.
 *
 * @param failures  applied in the order given, the network settling after each; words that the design does not know
 *                  are told in `problems` and change nothing
 */
export function predict(of: Design, failures: readonly FailureSpec[] = [], options: PredictOptions = {}): Prediction {
  const design = familyView(of, options.family ?? of.family ?? 4);
  const segments = segmentsOf(design);
  let outage = noOutage;
  let adjacencies = settleAdjacencies(design, segments, outage, options.incumbents, options.startOrder);
  const problems: string[] = [];
  for (const f of failures) {
    const next = downWith({ design, segments, outage, adjacencies }, f);
    problems.push(...next.problems);
    outage = next.outage;
    adjacencies = settleAdjacencies(design, segments, outage, adjacencies);
  }
  const routing = options.road === 'plain' ? new PlainRouting(design, outage, adjacencies) : new DenseRouting(design, outage, adjacencies);
  return new Prediction(design, segments, outage, adjacencies, routing, problems, failures, options);
}

/** The predictions of a design, a family each: that of IPv4, and that of IPv6 where the design says anything of it. */
export function predictFamilies(design: Design, failures: readonly FailureSpec[] = [], options: PredictOptions = {}): readonly Prediction[] {
  const four = predict(design, failures, options);
  if (!hasFamily(design, 6)) return [four];
  // One router is down for both families: the one that leads in IPv4, where anybody does.
  return [four, predict(design, asInFamily(four, failures), { ...options, family: 6 })];
}

/** Failures with the leaders that a state of another family found written as routers; those that it did not find as they are. */
function asInFamily(p: Prediction, failures: readonly FailureSpec[]): readonly FailureSpec[] {
  if (failures.every((f) => f.kind !== 'leader')) return failures;
  return failures.map((f, n) => {
    const named = leaderNamed(predict(p.design, failures.slice(0, n)), f);
    return typeof named === 'string' ? f : named;
  });
}
