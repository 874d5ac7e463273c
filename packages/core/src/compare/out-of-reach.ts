import { interfaceUp, placeKey } from '../failures/outage';
import type { Router } from '../design/design';
import { hostLength, lastOf, networkOf, plus, type Address, type Prefix } from '../prefix/address';
import { prefixBook } from '../prefix/prefix-book';
import type { Prediction } from '../predict';
import { fatesTo, isDelivered } from '../reach/fates';
import { Forwarding } from '../reach/forwarding';
import { keepsTables } from './keeps-tables';

/** A network that stands in the design, and an address in it that stands for all: of a host where there is room for one. */
interface Destination {
  readonly key: number;
  readonly address: Address;
  /** It lies outside: what leaves by its own line reaches it. */
  readonly outside: boolean;
}

/** Addresses of a network between its first and its last one. */
const hosts = (bits: Address, length: number): number => Math.max(0, 2 ** (hostLength(bits) - length) - 2);
/** The last but one address of a network; of the smallest ones the first. */
const lastHost = (bits: Address, length: number): Address => (hosts(bits, length) > 0 ? plus(lastOf({ bits, length }), -1) : bits);

/** An address of a network that no interface of the design has, so that the packet goes to whoever is attached. */
function probe(f: Forwarding, bits: Address, length: number): Address {
  for (let n = 0; n < Math.min(64, hosts(bits, length)); n++) {
    const ip = plus(lastHost(bits, length), -n);
    if (f.owners(ip).length === 0) return ip;
  }
  const up = [0, 1, 2].map((n) => plus(bits, n)).find((ip) => networkOf(ip, length) === bits && f.endsOf(ip).length > 0 && f.owners(ip).length > 0);
  return up ?? bits;
}

/** Networks on interfaces that are up and connected, of those asked for. */
function standing(p: Prediction, f: Forwarding, asked: (key: number) => boolean): Destination[] {
  const out = new Map<number, Destination>();
  const { design, outage } = p;
  design.routers.forEach((r, router) => {
    r.interfaces.forEach((i, iface) => {
      for (const a of i.addresses) {
        const bits = networkOf(a.bits, a.length);
        const key = prefixBook.id(bits, a.length);
        if (out.has(key) || !asked(key) || !interfaceUp(design, outage, router, iface) || outage.severed.has(placeKey(router, iface))) continue;
        out.set(key, { key, address: probe(f, bits, a.length), outside: false });
      }
    });
  });
  for (const r of design.routers)
    for (const x of beyond(r)) {
      const key = prefixBook.id(x.bits, x.length);
      if (!out.has(key) && asked(key)) out.set(key, { key, address: lastHost(x.bits, x.length), outside: true });
    }
  return [...out.values()];
}

/** Networks that a router knows beyond the design: of its static routes and of other protocols, the default aside. */
const beyond = (r: Router): Prefix[] =>
  [
    ...r.staticRoutes.filter((s) => !s.discard && s.nextHops.length > 0).map((s) => s.prefix),
    ...r.instances.flatMap((o) => o.otherRoutes.map((x) => x.prefix)),
  ].filter((p) => p.length > 0);

/**
 * Who reached a network that still stands, and does not any more: judged by where packets end, not by whether some line
 * holds the address. A default or a summary may send them out of the design, in a circle, or to where they are dropped. A
 * network outside of the design is reached while packets for it leave by its own line.
 *
 * @param lost  prefixes of which some router lost its line: only what they cover is looked at
 * @returns     indexes of routers in the second state, by the key of the network
 */
export function outOfReach(before: Prediction, after: Prediction, lost: ReadonlySet<number>): Map<number, number[]> {
  const out = new Map<number, number[]>();
  if (lost.size === 0) return out;
  const lengths = [...new Set(Array.from(lost, (k) => prefixBook.lengthOf(k)))];
  const asked = (key: number): boolean =>
    lost.has(key) || lengths.some((l) => l < prefixBook.lengthOf(key) && lost.has(prefixBook.holder(prefixBook.bitsOf(key), l) ?? -1));
  const owners = new Forwarding(after);
  const there = standing(after, owners, asked);
  if (there.length === 0) return out;
  const over = (p: Prediction): Forwarding =>
    keepsTables(p)
      ? p === after
        ? owners
        : new Forwarding(p)
      : Forwarding.forAddresses(
          p,
          there.map((d) => d.address),
        );
  const now = over(after);
  let then: Forwarding | undefined;
  for (const d of there) {
    const own = d.outside ? d.key : undefined;
    const fates = fatesTo(now, d.address, own);
    const cut = after.design.routers.flatMap((_, r) => (isDelivered(fates, r) || after.outage.routers.has(r) ? [] : [r]));
    if (cut.length === 0) continue;
    then ??= over(before);
    const earlier = fatesTo(then, d.address, own);
    const routers = cut.filter((r) => {
      const b = before.routerIndex(after.design.routers[r]?.name ?? '');
      return b >= 0 && isDelivered(earlier, b);
    });
    if (routers.length > 0) out.set(d.key, routers);
  }
  return out;
}
