import type { Leaders } from '../adjacency/dr-election';
import type { Adjacencies, NeighborView } from '../adjacency/settle';
import { helloAddress, type Port, type Speaker } from '../adjacency/speakers';
import { chance } from '../design/chance';
import type { NeighborState } from '../design/terms';
import type { Outage } from '../failures/outage';
import { placeKey } from '../failures/outage';
import type { VirtualAdjacency } from '../lsdb/originate';
import type { LocalRoute } from '../routes/local-routes';
import type { activeRanges, RoutingTable } from '../routes/routing-table';
import type { HopList } from '../spf/shortest-path-tree';
import { everywhere, Store, type Content, type Held } from './contents';
import { EventQueue } from './event-queue';
import type { Facing, Ground } from './ground';
import { spfDelay, type SpfDelay } from './spf-delay';
import type { Span, TimingProfile } from './timing-profile';

/** How far a pair has come, from one side: the states of RFC 2328 §10.1 that make a difference here. */
export const pairStates = ['down', 'init', '2-way', 'exchange', 'full'] as const satisfies readonly NeighborState[];
export const down = 0;
export const init = 1;
export const twoWay = 2;
export const exchange = 3;
export const full = 4;

/** What a calculation amounts to, kept for all runs that come to the same. */
export interface Computed {
  /** Counts results. */
  readonly id: number;
  readonly table: RoutingTable;
  /** What is said into each area by types 3 and 4. */
  readonly summaries: readonly Content[];
  /** Types 5 and 7. */
  readonly outside: readonly Content[];
  readonly translating: boolean;
  readonly virtuals: readonly VirtualAdjacency[];
  /** Own ranges in force, by the key of their prefix. */
  readonly ranges: ReturnType<typeof activeRanges>;
  /** Routers in the areas that were looked at. */
  readonly routers: number;
}

/** What time is spent on, from the failure to a table. */
export type ChainKind =
  | 'carrier'
  | 'dead-interval'
  | 'bfd'
  | 'hellos'
  | 'wait-timer'
  | 'exchange'
  | 'ls-interval'
  | 'flooding'
  | 'retransmission'
  | 'spf-delay'
  | 'calculation'
  | 'installation'
  | 'virtual-link';

/** One stretch of the way from a failure to a change, with what came before it. Times in ms. */
export interface ChainLink {
  readonly before: ChainLink | undefined;
  readonly kind: ChainKind;
  /** Where: a router, or an interface of one, in words. */
  readonly where: string;
  readonly from: number;
  readonly to: number;
}

/** What is told of a run when somebody watches it. */
export type EventKind =
  | 'fails'
  | 'returns'
  | 'port-down'
  | 'port-up'
  | 'neighbour'
  | 'leader'
  | 'originates'
  | 'withdraws'
  | 'learns'
  | 'calculates'
  | 'installs'
  | 'virtual-link'
  | 'edit';

export interface RunEvent {
  readonly ms: number;
  readonly router: string;
  readonly kind: EventKind;
  readonly detail: string;
  /** What led to it; none where something happens to the network from outside. */
  readonly chain?: ChainLink | undefined;
}

/** A packet, or an exchange of many, between two ports as it is sent: what whoever listens on the wire would write down. Times in ms. */
export type PacketTold =
  | {
      readonly kind: 'hello';
      readonly ms: number;
      readonly from: number;
      readonly to: number;
      /** Whether it lists whom it goes to, and whom it names as leaders. */
      readonly lists: boolean;
      readonly dr: number;
      readonly bdr: number;
    }
  /** Both begin to describe their databases; headers of each. */
  | {
      readonly kind: 'exchange';
      readonly ms: number;
      readonly until: number;
      readonly from: number;
      readonly to: number;
      readonly headers: readonly [from: number, to: number];
    }
  /** One asks the other for what is newer there. */
  | { readonly kind: 'loading'; readonly ms: number; readonly from: number; readonly to: number; readonly asked: number };

/** One router's own table and what else it forwards by. */
export class Node {
  readonly actors: Actor[] = [];
  /** Interfaces that it knows to be down, as places. */
  readonly known: Set<string>;
  /** Interfaces whose direct routes are out of its table. */
  installedDown: Set<string>;
  alive: boolean;

  constructor(
    readonly routerIndex: number,
    down: ReadonlySet<string>,
    alive: boolean,
  ) {
    this.known = new Set(down);
    this.installedDown = new Set(down);
    this.alive = alive;
  }
}

/** One OSPF process as it runs. */
export class Actor {
  readonly areas = new Map<number, Store>();
  wide: Store;
  spf: SpfDelay;
  /** Its ends of virtual links that are up. */
  virtuals: readonly VirtualAdjacency[] = [];
  translating = false;
  /** The table that it calculated last, and the one that it forwards by. */
  calculated: Computed | undefined;
  installed: Computed | undefined;
  /** The table that is being written, or was last. */
  goal: Computed | undefined;
  /** How often its document was edited. */
  editions = 0;
  busyUntil = 0;
  installingUntil = 0;
  /** Advertisements of its own that are to be said, by name, where that differs from what is said. */
  readonly wanted = new Map<number, Content | undefined>();
  /** Names of its own advertisements by what they come from. */
  readonly own: Record<'links' | 'told' | 'outside', Set<number>> = { links: new Set(), told: new Set(), outside: new Set() };
  /** What it was last brought to say from each of these; `undefined`: that is not known as one list. */
  readonly said: Partial<Record<keyof Actor['own'], readonly Content[]>> = {};
  readonly originated = new Map<number, number>();
  linksDue = false;
  /** Goes up when the router is switched off and on: deeds of an earlier life are not done. */
  life = 0;

  constructor(
    readonly index: number,
    public speaker: Speaker,
    readonly node: Node,
    readonly hopList: HopList,
  ) {
    this.wide = new Store(everywhere, new Map());
    this.spf = spfDelay(speaker.instance.spfSchedule);
  }

  store(areaId: number): Store {
    let s = this.areas.get(areaId);
    if (!s) this.areas.set(areaId, (s = new Store(areaId, new Map())));
    return s;
  }

  scope(id: number): Store {
    return id === everywhere ? this.wide : this.store(id);
  }

  get(scope: number, name: number): Held | undefined {
    return (scope === everywhere ? this.wide : this.areas.get(scope))?.get(name);
  }
}

const none: Leaders = { dr: 0, bdr: 0 };

/** The moments of one router in one run, in ms; `undefined` where nothing happened. */
export interface Moments {
  detected?: number;
  learned?: number;
  spf?: number;
  firstChange?: number;
  lastChange?: number;
  /** What it noticed by, in words. */
  cause?: string;
  /** What the time until its last change was spent on. */
  chain?: ChainLink | undefined;
}

/** Everything that moves in one run. */
export class RunState {
  readonly queue = new EventQueue();
  readonly random: () => number;
  readonly ports: Port[];
  readonly speakers: Speaker[];
  readonly actors: Actor[];
  readonly nodes: Node[];
  /** Neighbours and leaders as each port has them at the moment. */
  readonly adjacencies: Adjacencies & {
    readonly views: (readonly NeighborView[])[];
    readonly leaders: Leaders[];
    speakers: Speaker[];
    ports: Port[];
  };
  /** By facing. */
  readonly state: Uint8Array;
  readonly heardAt: Float64Array;
  readonly saidDr: Float64Array;
  readonly saidBdr: Float64Array;
  /** By port: physically there; cut off; hellos at `phase` and every interval before and after. */
  readonly there: Uint8Array;
  readonly severed: Uint8Array;
  readonly phase: Float64Array;
  /** By facing: the port takes the other's hellos when both are up; by port: it is up when nothing failed. Edits change both. */
  readonly hears: Uint8Array;
  readonly able: Uint8Array;
  readonly delayOf = new Map<number, number>();
  outage: Outage;
  readonly moments: Moments[];
  events: RunEvent[] | undefined;
  /** Packets between neighbours, when somebody listens. */
  packets: PacketTold[] | undefined;
  /** Whom to tell when a table or a wire changed. */
  changed: ((router: number) => void) | undefined;

  constructor(
    readonly ground: Ground,
    readonly profile: TimingProfile,
    seed: number,
  ) {
    const { adjacencies, design, initial } = ground;
    this.random = chance(seed);
    this.ports = adjacencies.ports.slice();
    this.speakers = adjacencies.speakers.slice();
    this.outage = initial;
    this.adjacencies = {
      speakers: this.speakers,
      ports: this.ports,
      pairs: [],
      views: adjacencies.views.slice(),
      leaders: adjacencies.leaders.slice(),
      unsettled: [],
    };
    const n = ground.facings.length;
    this.state = new Uint8Array(n);
    this.heardAt = new Float64Array(n).fill(-Infinity);
    this.saidDr = new Float64Array(n);
    this.saidBdr = new Float64Array(n);
    const places = (p: Port): string => placeKey(p.routerIndex, p.ifaceIndex);
    this.there = Uint8Array.from(this.ports, (p) => Number(p.up));
    this.severed = Uint8Array.from(this.ports, (p) => Number(initial.severed.has(places(p))));
    this.phase = Float64Array.from(this.ports, (p) => -this.random() * p.settings.hello * 1000);
    this.hears = ground.hears.slice();
    this.able = ground.able.slice();
    const downOf = new Map<number, Set<string>>();
    for (const place of initial.ports) {
      const r = Number(place.slice(0, place.indexOf('/')));
      (downOf.get(r) ?? downOf.set(r, new Set()).get(r))?.add(place);
    }
    this.nodes = design.routers.map((_, i) => new Node(i, downOf.get(i) ?? new Set(), !initial.routers.has(i)));
    this.actors = this.speakers.map((s) => {
      const node = this.nodes[s.routerIndex] ?? new Node(s.routerIndex, new Set(), false);
      const actor = new Actor(s.index, s, node, ground.hopList(s));
      if (node.alive) this.takeBase(actor);
      node.actors.push(actor);
      return actor;
    });
    for (const f of ground.facings) {
      const view = adjacencies.views[f.port]?.find((v) => v.peer.index === f.peer);
      this.state[f.index] = view ? restingState(view.state) : down;
      const l = view ? (adjacencies.leaders[f.peer] ?? none) : none;
      this.saidDr[f.index] = l.dr;
      this.saidBdr[f.index] = l.bdr;
    }
    this.moments = design.routers.map(() => ({}));
  }

  private takeBase(actor: Actor): void {
    const { ground } = this;
    for (const a of ground.routing.areasOf(actor.speaker)) {
      const base = ground.areaBase(actor.speaker, a);
      actor.areas.set(a, new Store(a, base.held, base.marks));
    }
    const wide = ground.wideBase(actor.speaker);
    actor.wide = new Store(everywhere, wide.held, wide.marks);
    actor.virtuals = ground.virtuals.filter((v) => v.speaker === actor.index);
    actor.translating = ground.routing.domain.translating.has(actor.index);
    for (const h of ground.ownOf(actor.index, [...actor.areas.values(), actor.wide]))
      actor.own[h.type < 3 ? 'links' : h.type < 5 ? 'told' : 'outside'].add(h.id);
  }

  get now(): number {
    return this.queue.now;
  }

  /** Somewhere in a span, in ms. */
  draw(span: Span): number {
    return typeof span === 'number' ? span : span[0] + this.random() * (span[1] - span[0]);
  }

  /** A packet's time over a segment: the same for all of a run. */
  delay(segment: number): number {
    let d = this.delayOf.get(segment);
    if (d === undefined) this.delayOf.set(segment, (d = this.draw(this.profile.linkDelay)));
    return d;
  }

  /** What led to the deed that is being done. */
  chain: ChainLink | undefined;
  /** When the network was last touched from outside. */
  happened = 0;

  /** Does something at a moment, as a consequence of what is done now; with a kind the time until then is spent on it. */
  put(at: number, deed: () => void, kind?: ChainKind, where = ''): void {
    const { chain } = this;
    this.queue.put(at, () => {
      this.chain = kind ? { before: chain, kind, where, from: chain?.to ?? this.happened, to: this.now } : chain;
      deed();
    });
  }

  /** From here on everything follows from a timer that ran since the network was touched. */
  begins(kind: ChainKind, where: string): void {
    this.chain = { before: undefined, kind, where, from: this.happened, to: this.now };
  }

  /** Does something later, if the router still runs then. */
  later(actor: Actor, ms: number, deed: () => void, kind?: ChainKind, where = actor.speaker.router.name): void {
    const { life } = actor;
    const alive = (): void => {
      if (actor.life === life && actor.node.alive) deed();
    };
    this.put(this.now + ms, alive, kind, where);
  }

  /** An interface in words. */
  place(port: number): string {
    const p = this.port(port);
    return `${this.ground.design.routers[p.routerIndex]?.name ?? ''}, ${p.iface.name}`;
  }

  actorOf(port: number): Actor {
    const actor = this.actors[this.ports[port]?.speaker ?? -1];
    if (!actor) throw new RangeError(`no port ${port}`);
    return actor;
  }

  /** Whether packets pass from one port to the other at the moment. */
  passes(f: Facing): boolean {
    return (
      this.there[f.port] === 1 &&
      this.there[f.peer] === 1 &&
      this.severed[f.port] === 0 &&
      this.severed[f.peer] === 0 &&
      this.alive(f.port) &&
      this.alive(f.peer)
    );
  }

  private alive(port: number): boolean {
    return this.nodes[this.ports[port]?.routerIndex ?? -1]?.alive ?? false;
  }

  /** A port as its router knows it. */
  port(n: number): Port {
    const p = this.ports[n];
    if (!p) throw new RangeError(`no port ${n}`);
    return p;
  }

  leaders(port: number): Leaders {
    return this.adjacencies.leaders[port] ?? none;
  }

  /** Puts a pair into a state, from one side; what is written from it, is written anew. */
  setState(f: Facing, state: number): void {
    this.state[f.index] = state;
    this.adjacencies.views[f.port] = (this.ground.facingsOf[f.port] ?? []).flatMap((g): NeighborView[] => {
      const s = this.state[g.index] ?? down;
      const peer = this.port(g.peer);
      const speaker = this.speakers[peer.speaker];
      if (s === down || !speaker) return [];
      return [
        {
          port: this.port(g.port),
          peer,
          address: helloAddress(peer, speaker),
          state: pairStates[s] ?? 'down',
          because: s === full ? 'full' : 'not-heard',
          refused: [],
        },
      ];
    });
  }

  note(router: number, what: 'detected' | 'learned' | 'spf'): void {
    const m = this.moments[router];
    if (m && m[what] === undefined) m[what] = this.now;
  }

  /** What a router noticed something by, the first time. */
  cause(router: number, words: string): void {
    const m = this.moments[router];
    if (m) m.cause ??= words;
  }

  /** The table of a router changed. */
  noteChange(router: number): void {
    const m = this.moments[router];
    if (!m) return;
    m.firstChange ??= this.now;
    m.lastChange = this.now;
    m.chain = this.chain;
    this.changed?.(router);
  }

  tell(router: number, kind: EventKind, detail: string): void {
    this.events?.push({ ms: this.now, router: this.ground.design.routers[router]?.name ?? '', kind, detail, chain: this.chain });
  }

  /** What a router has without OSPF, by the interfaces that it knows to be down. */
  localRoutes(s: Speaker, known: ReadonlySet<string>): readonly LocalRoute[] {
    return this.ground.localRoutes(s, known);
  }
}

/** Pairs that rest before the exchange for good stand in 2-Way here. */
const restingState = (s: NeighborState): number => (s === 'full' ? full : s === 'init' ? init : s === 'down' || s === 'attempt' ? down : twoWay);
