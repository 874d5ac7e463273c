import { isLoopbackAddress, type Address } from '../prefix/address';
import { interfaceUp } from '../failures/outage';
import type { Forwarding } from './forwarding';
import { walk, type Fate } from './trace';

/** An address of a router as a source, with what becomes of packets from it and of the answers. */
export interface Source {
  readonly address: Address;
  readonly iface: string;
  /** The router would take it by itself. */
  readonly chosen: boolean;
  readonly there: Fate;
  readonly back: Fate;
}

/** Addresses of a router that are up, interface by interface; those that it keeps to itself are no sources. */
function addressesUp(f: Forwarding, router: number): { readonly address: Address; readonly iface: string; readonly loopback: boolean }[] {
  const { design, outage } = f.prediction;
  return (design.routers[router]?.interfaces ?? []).flatMap((i, n) =>
    interfaceUp(design, outage, router, n)
      ? i.addresses.flatMap((a) => (isLoopbackAddress(a.bits) ? [] : [{ address: a.bits, iface: i.name, loopback: i.kind === 'loopback' }]))
      : [],
  );
}

/**
 * The address that a router uses by itself for packets of its own to a destination: the first of the interface by which they
 * leave; where that has none (unnumbered, or IPv6 by link-local addresses alone) the first of a loopback, else any
 * (RFC 1122 §3.3.4.3, RFC 6724 §5). `undefined`: it has no address that is up.
 */
export function ownSource(f: Forwarding, router: number, to: Address): Address | undefined {
  const all = addressesUp(f, router);
  if (all.some((a) => a.address === to)) return to;
  const out = f.lookup(router, to)?.hops[0]?.iface;
  return (all.find((a) => a.iface === out) ?? all.find((a) => a.loopback) ?? all[0])?.address;
}

/** Every address of a router as the source of packets to a destination, and whether the answers would come back. */
export function sourcesOf(f: Forwarding, router: number, to: Address): Source[] {
  const chosen = ownSource(f, router, to);
  const there = walk(f, [router], to).fate;
  const goals = f.endsOf(to);
  return addressesUp(f, router).map(({ address, iface }) => ({
    address,
    iface,
    chosen: address === chosen,
    there,
    back: walk(f, goals, address).fate,
  }));
}
