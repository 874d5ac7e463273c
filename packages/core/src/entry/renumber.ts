import { formatPrefix, formatAddress, networkOf } from '../prefix/address';
import type { Ipv4, Ipv4Prefix } from '../prefix/ipv4';
import { hostsOf, Refusal, type End, type Site } from './site';

/** An address becomes another wherever it stands: next hops, static neighbours, router ids. */
export function replaceEverywhere(site: Site, from: Ipv4, to: Ipv4): void {
  const text = `"${formatAddress(from)}"`;
  for (const r of site.design.routers) {
    const draft = site.draft.router(r.name);
    if (JSON.stringify(draft.tree).includes(text)) draft.replaceAddress(from, to);
  }
}

/** The subnet that an end's first address is in. */
export function subnetOf(site: Site, end: End): Ipv4Prefix {
  const a = site.interfaceOf(end)?.addresses[0];
  if (!a) throw new Refusal(`${end.router}/${end.iface} has no address.`);
  return { bits: networkOf(a.bits, a.length), length: a.length };
}

/** Gives a wire another subnet: every end keeps its place in it where there is room. Says what became of whom. */
export function renumber(site: Site, ends: readonly End[], to: Ipv4Prefix): void {
  const hosts = hostsOf(to);
  if (hosts.count < ends.length) throw new Refusal(`${formatPrefix(to)} has room for ${hosts.count}, not for ${ends.length} ends.`);
  const moves = ends.map((e) => {
    const a = site.interfaceOf(e)?.addresses[0];
    if (!a) throw new Refusal(`${e.router}/${e.iface} has no address to renumber.`);
    return { end: e, from: a.bits, place: a.bits - hostsOf({ bits: networkOf(a.bits, a.length), length: a.length }).at(0) };
  });
  const fits = moves.every((m) => m.place >= 0 && m.place < hosts.count) && new Set(moves.map((m) => m.place)).size === moves.length;
  const order = [...moves].sort((a, b) => a.from - b.from);
  const plan = moves.map((m) => ({ ...m, to: hosts.at(fits ? m.place : order.indexOf(m)) }));
  // First all interfaces, then what names their addresses: a new address of one may be the old one of another.
  for (const m of plan) site.draft.router(m.end.router).readdress(m.from, m.to, to.length, m.end.iface);
  const clash = plan.some((m) => plan.some((o) => o !== m && o.from === m.to));
  if (!clash) for (const m of plan) replaceEverywhere(site, m.from, m.to);
}
