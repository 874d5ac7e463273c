import { placeKey } from '../failures/outage';
import type { ExternalLsa } from '../lsdb/lsa';
import type { Address } from '../prefix/address';
import { formatAddress } from '../prefix/address';
import { lineIndex, longest, type LineIndex } from '../reach/forwarding';
import { Wires } from '../reach/wires';
import { ribOf, type RibGround, type RibRoute } from '../routes/rib';
import { handing, type HandingGround } from '../routes/handing-over';
import { learns, type LocalHop, type LocalRoute } from '../routes/local-routes';
import type { Route } from '../routes/route';
import { plainRoutesOf } from '../routes/routing';
import type { Ground } from './ground';
import type { Node, RunState } from './run-state';

/** What a router does with a packet at a moment. */
export interface Deed {
  /** Where it goes on to; none where it ends. */
  readonly next: readonly number[];
  /** Whether a part of it arrives here, or leaves the design for an address out there. */
  readonly arrives: boolean;
  /** Why a part of it is lost here. */
  readonly lost: string | undefined;
  /** A part of it leaves the design, though nobody out there has the address. */
  readonly leaves?: boolean;
}

/** Tables that runs share, and who is across which wire. */
export class MomentGround {
  readonly wires: Wires;
  private readonly ribs = new Map<string, readonly RibRoute[]>();
  private readonly indexes = new Map<readonly RibRoute[], LineIndex>();

  constructor(readonly ground: Ground) {
    this.wires = new Wires(ground.design, ground.segments);
  }

  /** A router's own table for what its processes installed and the interfaces that it took out. */
  rib(run: RunState, node: Node): readonly RibRoute[] {
    const parts = node.actors.map((a) => a.installed?.id ?? -1);
    const key = `${node.routerIndex} ${parts.join()} ${[...node.installedDown].sort().join()}`;
    let rib = this.ribs.get(key);
    if (!rib) {
      const { ground } = this;
      const of = (index: number) => run.actors[index]?.installed;
      const asked: RibGround = {
        hopList: (s) => ground.hopList(s),
        activeRanges: (s) => of(s.index)?.ranges ?? new Map<number, { area: number; advertise: boolean }>(),
        externals: (s) => of(s.index)?.outside.flatMap((c): ExternalLsa[] => (c.lsa.type === 5 ? [c.lsa] : [])) ?? [],
      };
      const speakers = node.actors.map((a) => a.speaker);
      rib = ribOf(asked, speakers, this.locals(run, node), (s) => of(s.index)?.table.routes ?? new Map<number, Route>());
      // What others hand over is in no key.
      if (!speakers.some(learns)) this.ribs.set(key, rib);
    }
    return rib;
  }

  /** What a router has without OSPF; one that runs none has its direct and static routes. */
  private locals(run: RunState, node: Node): LocalRoute[] {
    const { ground } = this;
    const down = node.installedDown;
    if (node.actors.length === 0) return plainRoutesOf(ground.design, { routers: new Set(), ports: down, severed: new Set() }, node.routerIndex);
    const handed: HandingGround = {
      speakers: run.speakers,
      localRoutes: (s) => ground.localRoutes(s, run.nodes[s.routerIndex]?.installedDown ?? down),
      ospfRoute: (s, k) => run.actors[s.index]?.installed?.table.routes.get(k),
    };
    const stand = node.actors.flatMap(({ speaker: s }) => handed.localRoutes(s).filter((r) => handing(handed, s, r).is === 'stands'));
    return [...new Map(stand.map((r) => [`${r.key} ${r.source}`, r])).values()];
  }

  index(rib: readonly RibRoute[]): LineIndex {
    let index = this.indexes.get(rib);
    if (!index) this.indexes.set(rib, (index = lineIndex(rib)));
    return index;
  }
}

/** Forwarding as the routers' tables and the wires are at the moment, whatever the routers know of it. */
export class Moment {
  constructor(
    readonly shared: MomentGround,
    readonly run: RunState,
  ) {}

  /** What a router does with a packet for an address. */
  deed(router: number, to: Address): Deed {
    return this.deeds(router)(to);
  }

  /** The same for many addresses, as long as nothing changes: what one line says is found once. */
  deeds(router: number): (to: Address) => Deed {
    const { run, shared } = this;
    const { wires, ground } = shared;
    const node = run.nodes[router];
    const name = ground.design.routers[router]?.name ?? '';
    if (!node?.alive) {
      const off = end(`${name} is down`);
      return () => off;
    }
    const index = shared.index(shared.rib(run, node));
    const known = new Map<readonly LocalHop[], Deed>();
    return (to) => {
      if (wires.owners(to).some((a) => a.router === router && wires.up(run.outage, a))) return arrived;
      const line = longest(index, to);
      if (!line) return end(`${name} has no route that holds ${formatAddress(to)}`);
      if (line.hops.length === 0) return end(`a route of ${name} discards it`);
      let deed = known.get(line.hops);
      if (deed) return deed;
      deed = this.through(node, name, line.hops, to);
      // What is attached is another wire's end for each address; and what leaves the design depends on whether it is to.
      if (line.hops.every((h) => h.address !== undefined) && !deed.arrives && !deed.leaves) known.set(line.hops, deed);
      return deed;
    };
  }

  private through(node: Node, name: string, hops: readonly LocalHop[], to: Address): Deed {
    const { run, shared } = this;
    const { wires, ground } = shared;
    const router = node.routerIndex;
    const next = new Set<number>();
    let arrives = false;
    let lost: string | undefined;
    let leaves = false;
    // Of equal ways those that the router knows to be down take nothing; it sends into the others.
    const placeOf = (h: LocalHop): string => placeKey(router, ground.design.routers[router]?.interfaces.findIndex((i) => i.name === h.iface) ?? -1);
    const open = hops.filter((h) => !node.known.has(placeOf(h)));
    if (open.length === 0) return end(`${name} knows ${hops[0]?.iface ?? ''} to be down and has no other way yet`);
    for (const h of open) {
      const address = h.address ?? to;
      const across = run.outage.ports.has(placeOf(h)) ? 'nobody' : wires.across(run.outage, router, h.iface, address);
      if (across === 'nobody') lost = `${name} still sends out of ${h.iface}, where it reaches nobody`;
      else if (across === 'host' && h.address !== undefined && wires.inside(to)) {
        leaves = true;
        lost ??= `${name} sends it out of the design by ${h.iface}, where nobody has ${formatAddress(to)}`;
      } else if (across === 'host') arrives = true;
      else next.add(across);
    }
    return { next: [...next], arrives, lost, leaves };
  }
}

const arrived: Deed = { next: [], arrives: true, lost: undefined };
const end = (lost: string): Deed => ({ next: [], arrives: false, lost });
