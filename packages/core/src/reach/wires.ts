import type { Design } from '../design/design';
import { interfaceUp, placeKey, type Outage } from '../failures/outage';
import { holds, hostLength, prefixOf, type Address } from '../prefix/address';
import { membersReach, type Attachment, type Segments } from '../segments/segments';

/** Who has which address, and who is across which wire: what forwarding asks of a design besides tables. */
export class Wires {
  private readonly ownersOf = new Map<Address, Attachment[]>();
  /** The same for link-local addresses, which only count on their own wire. */
  private readonly onWire = new Map<Address, Attachment[]>();

  constructor(
    readonly design: Design,
    readonly segments: Segments,
  ) {
    design.routers.forEach((r, router) => {
      r.interfaces.forEach((i, iface) => {
        for (const a of i.addresses) this.ownersOf.set(a.bits, [...(this.ownersOf.get(a.bits) ?? []), { router, iface }]);
        const own = i.linkLocal?.address;
        if (own !== undefined) this.onWire.set(own, [...(this.onWire.get(own) ?? []), { router, iface }]);
      });
    });
  }

  /** Interfaces with this address, up or not. */
  owners(ip: Address): readonly Attachment[] {
    return this.ownersOf.get(ip) ?? [];
  }

  private readonly insideOf = new Map<Address, boolean>();

  /** Whether an address is one of a router's, or on a subnet of one, whatever is up: nobody outside has it. */
  inside(ip: Address): boolean {
    let known = this.insideOf.get(ip);
    if (known === undefined) {
      known =
        this.owners(ip).length > 0 ||
        this.design.routers.some((r) =>
          r.interfaces.some((i) => i.kind !== 'loopback' && i.addresses.some((a) => holds(prefixOf(a.bits, a.length), ip))),
        );
      this.insideOf.set(ip, known);
    }
    return known;
  }

  up(outage: Outage, a: Attachment): boolean {
    return interfaceUp(this.design, outage, a.router, a.iface);
  }

  /** Interfaces that are up, connected and on a subnet that holds the address; those of the longest subnet. */
  attached(outage: Outage, ip: Address): readonly Attachment[] {
    let best: Attachment[] = [];
    let length = -1;
    this.design.routers.forEach((r, router) => {
      r.interfaces.forEach((i, iface) => {
        for (const a of i.addresses) {
          if (a.length < length || a.length === hostLength(a.bits) || i.kind === 'loopback' || !holds(prefixOf(a.bits, a.length), ip)) continue;
          if (!this.up(outage, { router, iface }) || outage.severed.has(placeKey(router, iface))) continue;
          if (a.length > length) best = [];
          length = a.length;
          best.push({ router, iface });
        }
      });
    });
    return best;
  }

  /** Routers at which a packet from (or to) an address begins (or ends): its owner, else the gateways of its subnet. */
  endsOf(outage: Outage, ip: Address): readonly number[] {
    const own = this.owners(ip).filter((a) => this.up(outage, a));
    return [...new Set((own.length > 0 ? own : this.attached(outage, ip)).map((a) => a.router))];
  }

  /** Who takes a packet sent out of an interface to an address on its wire: a router, a host, or nobody. */
  across(outage: Outage, router: number, iface: string, address: Address): number | 'host' | 'nobody' {
    const { design, segments } = this;
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
    if (found) return this.up(outage, found) && !outage.severed.has(placeKey(found.router, found.iface)) ? found.router : 'nobody';
    return owners.some((o) => members.some((m) => m.router === o.router && m.iface === o.iface)) ? 'nobody' : 'host';
  }
}
