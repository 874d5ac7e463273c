import { nobodyLeads } from '../adjacency/leader-named';
import { refusals } from '../adjacency/hello-match';
import { face, settleAdjacencies, type Adjacencies } from '../adjacency/settle';
import { speakersOf, type Port, type Speaker } from '../adjacency/speakers';
import type { Design } from '../design/design';
import { chance } from '../design/chance';
import { designOf, familyView, type Family } from '../design/family';
import { DenseRouting } from '../dense/dense-routing';
import { addFailure, interfaceUp, noOutage, placeKey, type FailureSpec, type Outage } from '../failures/outage';
import type { VirtualAdjacency } from '../lsdb/originate';
import { formatAddress, formatPrefix } from '../prefix/address';
import type { LocalRoute } from '../routes/local-routes';
import { localRoutesOf, type Routing } from '../routes/routing';
import { agreedVirtualLinks, type AgreedVirtualLink } from '../routes/virtual-links';
import { HopList } from '../spf/shortest-path-tree';
import { findSegments, type Segments } from '../segments/segments';
import { Contents, everywhere, turnMarks, type FloodedLsa, type Held, type LsaName, type Store } from './contents';

/** One port as it faces another one on its segment. */
export interface Facing {
  readonly index: number;
  /** Ports by their numbers. */
  readonly port: number;
  readonly peer: number;
  /** Number of the same pair from the other side. */
  readonly back: number;
}

/** What all hold of one scope at the beginning. */
export interface Base {
  readonly held: ReadonlyMap<number, Held>;
  readonly marks: Int32Array;
}

/** A virtual link that both ends agree on, from one of them. */
export interface VirtualWay extends AgreedVirtualLink {
  readonly speaker: number;
}

/** An outage in which routers that are down stand with every interface down, so that all keep their numbers. */
export function asPorts(design: Design, outage: Outage): Outage {
  const ports = new Set(outage.ports);
  for (const r of outage.routers) design.routers[r]?.interfaces.forEach((_, i) => ports.add(placeKey(r, i)));
  return { routers: new Set(), ports, severed: outage.severed };
}

/** What failures take down together; a leader that no router was found for takes nothing. */
export function outageOf(design: Design, segments: Segments, failures: readonly FailureSpec[]): { outage: Outage; problems: string[] } {
  let outage = noOutage;
  const problems: string[] = [];
  for (const f of failures) {
    if (f.kind === 'leader') {
      problems.push(nobodyLeads(f));
      continue;
    }
    const next = addFailure(design, segments, outage, f);
    outage = next.outage;
    problems.push(...next.problems);
  }
  return { outage, problems };
}

/** The network of one family before anything happens, at rest: what every run begins with, found once. */
export class Ground {
  readonly design: Design;
  readonly segments: Segments;
  readonly initial: Outage;
  readonly adjacencies: Adjacencies;
  readonly routing: Routing;
  readonly contents: Contents;
  /** By port. */
  readonly facingsOf: readonly (readonly Facing[])[];
  readonly facings: readonly Facing[];
  /** Whether the port takes the other's hellos when both are up; by facing. */
  readonly hears: Uint8Array;
  /** Ports that are up when nothing has failed, by number. */
  readonly able: Uint8Array;
  /** Ports by their segment. */
  readonly portsOn: readonly (readonly number[])[];
  readonly virtualWays: readonly VirtualWay[];
  readonly problems: readonly string[];
  private readonly areaBases = new Map<string, Base>();
  private readonly none: Base = { held: new Map(), marks: new Int32Array(8) };

  /** @param down  what has failed before, and settled */
  constructor(
    of: Design,
    readonly family: Family,
    down: readonly FailureSpec[] = [],
  ) {
    const design = familyView(of, family);
    this.design = design;
    this.segments = findSegments(designOf(design));
    const { outage, problems } = outageOf(design, this.segments, down);
    this.problems = problems;
    this.initial = outage;
    let before = settleAdjacencies(design, this.segments, noOutage);
    down.forEach((_, n) => {
      const so = outageOf(design, this.segments, down.slice(0, n + 1)).outage;
      before = settleAdjacencies(design, this.segments, asPorts(design, so), before);
    });
    this.adjacencies = before;
    this.routing = new DenseRouting(design, asPorts(design, outage), this.adjacencies);
    const whole = speakersOf(design, this.segments, noOutage).ports;
    this.able = Uint8Array.from(whole, (p) => Number(p.up));
    this.contents = new Contents(chance(0x5a17), (scope, lsa) => this.words(scope, lsa));
    const { facings, facingsOf, portsOn } = facingPorts(this.segments, whole);
    this.facings = facings;
    this.facingsOf = facingsOf;
    this.portsOn = portsOn;
    this.hears = Uint8Array.from(facings, (f) => {
      const [p, q] = [whole[f.port], whole[f.peer]];
      return p && q && refusals(p, q).length === 0 ? 1 : 0;
    });
    const { domain } = this.routing;
    this.virtualWays = domain.speakers.flatMap((s) => agreedVirtualLinks(domain, s).map((l) => ({ ...l, speaker: s.index })));
  }

  get speakers(): readonly Speaker[] {
    return this.adjacencies.speakers;
  }

  get ports(): readonly Port[] {
    return this.adjacencies.ports;
  }

  get virtuals(): readonly VirtualAdjacency[] {
    return this.routing.virtuals;
  }

  private readonly hopLists: HopList[] = [];
  private readonly locals = new Map<string, readonly LocalRoute[]>();

  /** A process's hops: one list for all runs. */
  hopList(s: Speaker): HopList {
    return (this.hopLists[s.index] ??= new HopList());
  }

  /** What a router has without OSPF while it knows some of its interfaces to be down, as places. */
  localRoutes(s: Speaker, known: ReadonlySet<string>): readonly LocalRoute[] {
    const key = `${s.index} ${[...known].sort().join()}`;
    let routes = this.locals.get(key);
    if (!routes) this.locals.set(key, (routes = localRoutesOf(this.design, { routers: new Set(), ports: known, severed: new Set() }, s)));
    return routes;
  }

  private words(scope: number, lsa: FloodedLsa): string {
    const name = (speaker: number): string => this.speakers[speaker]?.router.name ?? '';
    const where = scope === everywhere ? '' : `, area ${formatAddress(scope)}`;
    switch (lsa.type) {
      case 1:
        return `links of ${name(lsa.speaker)}${where}`;
      case 2:
        return `network ${this.family === 6 ? `of ${name(lsa.port.speaker)}, ${lsa.port.iface.name}` : `${formatAddress(lsa.id)}/${lsa.length}`}${where}`;
      case 3:
        return `summary ${formatPrefix(lsa)} by ${name(lsa.speaker)}${where}`;
      case 4:
        return `way to ${formatAddress(lsa.bits)} by ${name(lsa.speaker)}${where}`;
      case 5:
      case 7:
        return `external ${formatPrefix(lsa)} by ${name(lsa.speaker)}${where}`;
    }
  }

  private baseOf(scope: number, lsas: Iterable<readonly [speaker: number, lsa: FloodedLsa]>): Base {
    const held = new Map<number, Held>();
    const marks = new Int32Array(8);
    for (const [speaker, lsa] of lsas) {
      const content = this.contents.of(scope, speaker, lsa);
      if (held.has(content.name.id)) continue;
      held.set(content.name.id, { name: content.name, content, sequence: 1, at: -Infinity });
      turnMarks(marks, content);
    }
    return { held, marks };
  }

  /** What a router holds of an area at the beginning. */
  areaBase(s: Speaker, areaId: number): Base {
    const db = this.routing.database(s, areaId);
    if (!db) return this.none;
    const key = String(db.index);
    let base = this.areaBases.get(key);
    if (!base) {
      const said = [...db.summaries.values()].flat();
      const network = (n: { port: Port }): number => n.port.speaker;
      base = this.baseOf(areaId, [
        ...[...db.routers.values()].map((r) => [r.speaker, r] as const),
        ...[...db.networks.values()].map((n) => [network(n), n] as const),
        ...said.map((l) => [l.speaker, l] as const),
        ...db.nssa.map((l) => [l.speaker, l] as const),
      ]);
      this.areaBases.set(key, base);
    }
    return base;
  }

  private readonly wide = new Map<readonly unknown[], Base>();
  private readonly own: (readonly LsaName[] | undefined)[] = [];

  /** What a router says itself at the beginning. */
  ownOf(speaker: number, stores: readonly Store[]): readonly LsaName[] {
    return (this.own[speaker] ??= stores.flatMap((s) => [...s.base.values()].flatMap((h) => (h.name.speaker === speaker ? [h.name] : []))));
  }

  /** Types 5 that a router holds at the beginning. */
  wideBase(s: Speaker): Base {
    const lsas = this.routing.externals(s);
    let base = this.wide.get(lsas);
    if (!base)
      this.wide.set(
        lsas,
        (base = this.baseOf(
          everywhere,
          lsas.map((l) => [l.speaker, l] as const),
        )),
      );
    return base;
  }

  /** Whether a port of the design is up, by the interfaces that are down. */
  carried(p: Port, outage: Outage): boolean {
    return interfaceUp(this.design, outage, p.routerIndex, p.ifaceIndex);
  }

  /** Routers that share an id within reach of each other: nothing comes to rest between them. */
  get quarrel(): string | undefined {
    const seen = new Map<number, Speaker>();
    for (const s of this.speakers) {
      const other = seen.get(s.routerId);
      if (other && other.routerIndex !== s.routerIndex)
        return `${other.router.name} and ${s.router.name} have one router id, ${formatAddress(s.routerId)}`;
      seen.set(s.routerId, s);
    }
    return undefined;
  }
}

function facingPorts(segments: Segments, ports: readonly Port[]): Pick<Ground, 'facings' | 'facingsOf' | 'portsOn'> {
  const on: number[][] = Array.from({ length: segments.count }, () => []);
  for (const p of ports) if (p.segment >= 0) on[p.segment]?.push(p.index);
  const facings: Facing[] = [];
  const of: Facing[][] = ports.map(() => []);
  on.forEach((there, segment) => {
    for (let i = 0; i < there.length; i++)
      for (let j = i + 1; j < there.length; j++) {
        const [a, b] = [ports[there[i] ?? -1], ports[there[j] ?? -1]];
        if (!a || !b || !face(segments, segment, a, b)) continue;
        const n = facings.length;
        const [x, y] = [
          { index: n, port: a.index, peer: b.index, back: n + 1 },
          { index: n + 1, port: b.index, peer: a.index, back: n },
        ];
        facings.push(x, y);
        of[a.index]?.push(x);
        of[b.index]?.push(y);
      }
  });
  return { facings, facingsOf: of, portsOn: on };
}
