import { prefixBook } from '../prefix/prefix-book';
import { interfaceUp, placeKey } from '../failures/outage';
import { formatAddress, formatPrefix, holds, prefixOf, hostLength, type Address } from '../prefix/address';
import type { Ipv4 } from '../prefix/ipv4';
import type { Prediction } from '../predict';
import { QuickLines, type Line } from './quick-lines';
import { membersReach, type Attachment } from '../segments/segments';

/** What becomes of a packet. `leaves`: it goes to a next hop that is no router of the design. */
export type BranchFate = 'delivered' | 'dropped' | 'looping' | 'leaves';

/** One way out of a router for a packet. `to`: the router that takes it next; `undefined`: outside of the design. */
export interface Way {
  readonly route: Line;
  readonly iface: string;
  readonly nextHop: Ipv4 | undefined;
  readonly to: number | undefined;
}

/** What one router does with a packet: it ends here, for a reason in words, or goes on by equal ways. */
export type Step =
  | {
      readonly kind: 'end';
      readonly fate: 'delivered' | 'dropped';
      readonly reason: string;
      readonly route: Line | undefined;
      readonly iface?: string;
    }
  | { readonly kind: 'on'; readonly ways: readonly Way[] };

interface Lookup {
  /** What was done before with packets that a line sends to next hops: that does not depend on their address. */
  readonly steps: Map<Line, Step>;
  /** The lines for the addresses that were named beforehand, by their places. */
  readonly named?: readonly (Line | undefined)[];
  readonly byKey: ReadonlyMap<number, Line>;
  /** Prefix lengths that the table has, longest first. */
  readonly lengths: readonly number[];
}

const lookupOf = (rib: readonly Line[]): Lookup => ({
  steps: new Map(),
  byKey: new Map(rib.map((r) => [r.key, r])),
  lengths: [...new Set(rib.map((r) => r.length))].sort((a, b) => b - a),
});

function longest({ byKey, lengths }: Lookup, ip: Ipv4): Line | undefined {
  for (const length of lengths) {
    const r = byKey.get(prefixBook.holder(ip, length) ?? -1);
    if (r) return r;
  }
  return undefined;
}

/** Forwarding by longest match through every router of a prediction (RFC 1812 §5.2.4.3). Tables are indexed when first used. */
export class Forwarding {
  private readonly lookups = new Map<number, Lookup>();
  /** Addresses whose lines were looked up beforehand. */
  private readonly places = new Map<Address, number>();
  private readonly ownersOf = new Map<Address, Attachment[]>();
  /** The same for link-local addresses, which only count on their own wire. */
  private readonly onWire = new Map<Address, Attachment[]>();
  constructor(readonly prediction: Prediction) {
    prediction.design.routers.forEach((r, router) => {
      r.interfaces.forEach((i, iface) => {
        for (const a of i.addresses) this.ownersOf.set(a.bits, [...(this.ownersOf.get(a.bits) ?? []), { router, iface }]);
        const own = i.linkLocal?.address;
        if (own !== undefined) this.onWire.set(own, [...(this.onWire.get(own) ?? []), { router, iface }]);
      });
    });
  }

  /** For these addresses alone: every table is made once, and only the lines that hold one of them are kept. */
  static forAddresses(prediction: Prediction, addresses: readonly Ipv4[]): Forwarding {
    const steps = Forwarding.preparing(prediction, addresses);
    for (;;) {
      const step = steps.next();
      if (step.done) return step.value;
    }
  }

  /** The same router by router, so that whoever waits can look up. */
  static *preparing(prediction: Prediction, addresses: readonly Ipv4[]): Generator<undefined, Forwarding> {
    const f = new Forwarding(prediction);
    for (const ip of addresses) if (!f.places.has(ip)) f.places.set(ip, f.places.size);
    const quick = QuickLines.over(prediction);
    for (const router of prediction.design.routers.keys()) {
      // Where the arrays can tell, no table is made.
      const all = quick?.tells(router) ? undefined : lookupOf(prediction.ribOnce(router));
      const named = [...f.places.keys()].map((ip) => (all ? longest(all, ip) : quick?.find(router, ip)));
      quick?.forget(router);
      f.lookups.set(router, { ...lookupOf([...new Set(named.flatMap((r) => r ?? []))]), named });
      yield undefined;
    }
    return f;
  }

  /** For a state that differs little from another one: tables of routers in which they are the same are taken over, where they are known. */
  static after(before: Forwarding, prediction: Prediction, same: ReadonlySet<number>): Forwarding {
    const f = new Forwarding(prediction);
    for (const router of same) {
      const known = before.lookups.get(router);
      // What was done with packets depends on others too: that is found anew.
      if (known && !known.named) f.lookups.set(router, { ...known, steps: new Map() });
    }
    return f;
  }

  private up(a: Attachment): boolean {
    return interfaceUp(this.prediction.design, this.prediction.outage, a.router, a.iface);
  }

  /** Interfaces with this address, up or not. */
  owners(ip: Ipv4): readonly Attachment[] {
    return this.ownersOf.get(ip) ?? [];
  }

  /** Interfaces that are up, connected and on a subnet that holds the address; those of the longest subnet. */
  attached(ip: Ipv4): readonly Attachment[] {
    let best: Attachment[] = [];
    let length = -1;
    const { design, outage } = this.prediction;
    design.routers.forEach((r, router) => {
      r.interfaces.forEach((i, iface) => {
        for (const a of i.addresses) {
          if (a.length < length || a.length === hostLength(a.bits) || i.kind === 'loopback' || !holds(prefixOf(a.bits, a.length), ip)) continue;
          if (!this.up({ router, iface }) || outage.severed.has(placeKey(router, iface))) continue;
          if (a.length > length) best = [];
          length = a.length;
          best.push({ router, iface });
        }
      });
    });
    return best;
  }

  /** Routers at which a packet from (or to) an address begins (or ends): its owner, else the gateways of its subnet. */
  endsOf(ip: Ipv4): readonly number[] {
    const own = this.owners(ip).filter((a) => this.up(a));
    return [...new Set((own.length > 0 ? own : this.attached(ip)).map((a) => a.router))];
  }

  private lookupAt(router: number): Lookup {
    let l = this.lookups.get(router);
    if (!l) this.lookups.set(router, (l = lookupOf(this.prediction.rib(router))));
    return l;
  }

  /** Lines from the arrays of the fast road, where they are enough. */
  private quick: QuickLines | undefined;
  private readonly quickSteps = new Map<Line, Step>();

  /** Forwarding from the arrays of the fast road where they can tell, without tables: the same ways, in another order. */
  static quickly(prediction: Prediction): Forwarding {
    const f = new Forwarding(prediction);
    f.quick = QuickLines.over(prediction);
    return f;
  }

  /** The longest route of a router that holds the address. */
  lookup(router: number, ip: Ipv4): Line | undefined {
    if (this.quick && !this.lookups.has(router) && this.quick.tells(router)) return this.quick.find(router, ip);
    const known = this.lookupAt(router);
    const place = known.named ? this.places.get(ip) : undefined;
    return place === undefined ? longest(known, ip) : known.named?.[place];
  }

  /** What a router does with a packet for an address. */
  step(router: number, to: Ipv4): Step {
    const { design, outage } = this.prediction;
    const name = design.routers[router]?.name ?? '';
    const drop = (reason: string, route?: Line): Step => ({ kind: 'end', fate: 'dropped', reason, route });
    if (outage.routers.has(router)) return drop(`${name} is down`);
    if (this.owners(to).some((a) => a.router === router && this.up(a)))
      return { kind: 'end', fate: 'delivered', reason: `${formatAddress(to)} is ${name} itself`, route: undefined };
    const route = this.lookup(router, to);
    if (!route) return drop(`${name} has no route that holds ${formatAddress(to)}`);
    if (route.hops.length === 0)
      return drop(
        route.source === 'ospf-discard'
          ? `${name} summarises ${formatPrefix(route)} and has nothing more exact inside it: its discard route takes the packet`
          : `the route ${formatPrefix(route)} (${route.source}) of ${name} discards`,
        route,
      );
    // Lines that were written out quickly are objects of their own router.
    const steps = this.quick && !this.lookups.has(router) ? this.quickSteps : this.lookupAt(router).steps;
    const known = steps.get(route);
    if (known) return known;
    const made = this.stepBy(router, route, to);
    if (route.hops.every((h) => h.address !== undefined)) steps.set(route, made);
    return made;
  }

  /** What a router does with a packet that a line of its table takes. */
  private stepBy(router: number, route: Line, to: Ipv4): Step {
    const name = this.prediction.design.routers[router]?.name ?? '';
    const drop = (reason: string): Step => ({ kind: 'end', fate: 'dropped', reason, route });
    const ways: Way[] = [];
    const direct = route.hops.filter((h) => h.address === undefined);
    for (const h of direct) {
      const out = this.overSegment(router, h.iface, to);
      if (out === 'host')
        return { kind: 'end', fate: 'delivered', reason: `a host on ${formatPrefix(route)}, at ${h.iface} of ${name}`, route, iface: h.iface };
      if (out === 'nobody') return drop(`${formatAddress(to)} is an interface that is down or cut off`);
      ways.push({ route, iface: h.iface, nextHop: undefined, to: out });
    }
    for (const h of route.hops) {
      if (h.address === undefined) continue;
      const out = this.overSegment(router, h.iface, h.address);
      if (out === 'nobody') return drop(`the next hop ${formatAddress(h.address)} of ${name} is an interface that is down or cut off`);
      ways.push({ route, iface: h.iface, nextHop: h.address, to: out === 'host' ? undefined : out });
    }
    return { kind: 'on', ways };
  }

  /** Who takes a packet sent out of an interface to an address on its wire: a router, a host, or nobody. */
  private overSegment(router: number, iface: string, address: Ipv4): number | 'host' | 'nobody' {
    const { design, outage, segments } = this.prediction;
    const index = design.routers[router]?.interfaces.findIndex((i) => i.name === iface) ?? -1;
    const segment = segments.list[segments.of[router]?.[index] ?? -1];
    const owners = this.onWire.get(address) ?? this.owners(address);
    if (outage.severed.has(placeKey(router, index))) return 'nobody';
    const members = segment?.members ?? [];
    const self = members.findIndex((m) => m.router === router && m.iface === index);
    const across = members.findIndex(
      (m, n) =>
        n !== self &&
        segment &&
        membersReach(segment, self, n) &&
        owners.some((o) => o.router === m.router && (o.iface === m.iface || members.length === 2)),
    );
    const found = members[across];
    if (found) return this.up(found) && !outage.severed.has(placeKey(found.router, found.iface)) ? found.router : 'nobody';
    return owners.some((o) => members.some((m) => m.router === o.router && m.iface === o.iface)) ? 'nobody' : 'host';
  }
}
