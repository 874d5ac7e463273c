import { formatPrefix, isSix, parseAddress, placeIn, prefixOf, type Address, type Prefix } from '../prefix/address';
import { hostsOf, Refusal, type End, type Site } from './site';

/** An address becomes another wherever it stands: next hops, static neighbours, router ids. */
export function replaceEverywhere(site: Site, from: Address, to: Address): void {
  for (const r of site.design.routers) {
    const draft = site.open(r.name);
    if (mentions(draft.tree, from)) draft.replaceAddress(from, to);
  }
}

/** Whether a text below a node is that address, however it is written. */
function mentions(node: unknown, address: Address): boolean {
  if (typeof node === 'string') return node.includes(':') === isSix(address) && parseAddress(node) === address;
  return typeof node === 'object' && node !== null && Object.values(node).some((x) => mentions(x, address));
}

/** The subnet that an end's first address is in. */
export function subnetOf(site: Site, end: End): Prefix {
  const a = site.interfaceOf(end)?.addresses[0];
  if (!a) throw new Refusal(`${end.router}/${end.iface} has no address.`);
  return prefixOf(a.bits, a.length);
}

/** Gives a wire another subnet: every end keeps its place in it where there is room. Says what became of whom. */
export function renumber(site: Site, ends: readonly End[], to: Prefix): void {
  const hosts = hostsOf(to);
  if (hosts.count < ends.length) throw new Refusal(`${formatPrefix(to)} has room for ${hosts.count}, not for ${ends.length} ends.`);
  const moves = ends.map((e) => {
    const a = site.interfaceOf(e)?.addresses[0];
    if (!a) throw new Refusal(`${e.router}/${e.iface} has no address to renumber.`);
    const old = prefixOf(a.bits, a.length);
    // How far behind the first host of its subnet it is.
    return { end: e, from: a.bits, place: Number(placeIn(old, a.bits) - placeIn(old, hostsOf(old).at(0))) };
  });
  const fits = moves.every((m) => m.place >= 0 && m.place < hosts.count) && new Set(moves.map((m) => m.place)).size === moves.length;
  const order = [...moves].sort((a, b) => a.place - b.place);
  const plan = moves.map((m) => ({ ...m, to: hosts.at(fits ? m.place : order.indexOf(m)) }));
  // First all interfaces, then what names their addresses: a new address of one may be the old one of another.
  for (const m of plan) site.open(m.end.router).readdress(m.from, m.to, to.length, m.end.iface);
  const clash = plan.some((m) => plan.some((o) => o !== m && o.from === m.to));
  if (!clash) for (const m of plan) replaceEverywhere(site, m.from, m.to);
}
