import { prefixBook } from '../prefix/prefix-book';
import { formatAddress, formatPrefix, type Address } from '../prefix/address';
import type { Ipv4 } from '../prefix/ipv4';
import type { Prediction } from '../predict';
import { QuickLines, type Line } from './quick-lines';
import type { Attachment } from '../segments/segments';
import { Wires } from './wires';

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

/** A router's lines as longest match looks for them. */
export interface LineIndex {
  readonly byKey: ReadonlyMap<number, Line>;
  /** Prefix lengths that the table has, longest first. */
  readonly lengths: readonly number[];
}

interface Lookup extends LineIndex {
  /** What was done before with packets that a line sends to next hops: that does not depend on their address. */
  readonly steps: Map<Line, Step>;
  /** The lines for the addresses that were named beforehand, by their places. */
  readonly named?: readonly (Line | undefined)[];
}

/** The lines of a table by what longest match looks for. */
export const lineIndex = (rib: readonly Line[]): LineIndex => ({
  byKey: new Map(rib.map((r) => [r.key, r])),
  lengths: [...new Set(rib.map((r) => r.length))].sort((a, b) => b - a),
});

const lookupOf = (rib: readonly Line[]): Lookup => ({ steps: new Map(), ...lineIndex(rib) });

/** The longest line that holds an address (RFC 1812 §5.2.4.3). */
export function longest({ byKey, lengths }: LineIndex, ip: Ipv4): Line | undefined {
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
  private readonly wires: Wires;
  constructor(readonly prediction: Prediction) {
    this.wires = new Wires(prediction.design, prediction.segments);
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
    return this.wires.up(this.prediction.outage, a);
  }

  /** Interfaces with this address, up or not. */
  owners(ip: Ipv4): readonly Attachment[] {
    return this.wires.owners(ip);
  }

  /** Interfaces that are up, connected and on a subnet that holds the address; those of the longest subnet. */
  attached(ip: Ipv4): readonly Attachment[] {
    return this.wires.attached(this.prediction.outage, ip);
  }

  /** Routers at which a packet from (or to) an address begins (or ends): its owner, else the gateways of its subnet. */
  endsOf(ip: Ipv4): readonly number[] {
    return this.wires.endsOf(this.prediction.outage, ip);
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
    const { outage } = this.prediction;
    const name = this.prediction.design.routers[router]?.name ?? '';
    const drop = (reason: string): Step => ({ kind: 'end', fate: 'dropped', reason, route });
    const ways: Way[] = [];
    const direct = route.hops.filter((h) => h.address === undefined);
    for (const h of direct) {
      const out = this.wires.across(outage, router, h.iface, to);
      if (out === 'host')
        return { kind: 'end', fate: 'delivered', reason: `a host on ${formatPrefix(route)}, at ${h.iface} of ${name}`, route, iface: h.iface };
      if (out === 'nobody') return drop(`${formatAddress(to)} is an interface that is down or cut off`);
      ways.push({ route, iface: h.iface, nextHop: undefined, to: out });
    }
    for (const h of route.hops) {
      if (h.address === undefined) continue;
      const out = this.wires.across(outage, router, h.iface, h.address);
      if (out === 'nobody') return drop(`the next hop ${formatAddress(h.address)} of ${name} is an interface that is down or cut off`);
      ways.push({ route, iface: h.iface, nextHop: h.address, to: out === 'host' ? undefined : out });
    }
    return { kind: 'on', ways };
  }
}
