import { nameFits, type AddressGroup, type End, type GroupMember } from '../design/settings';
import { covers, hostLength, isLoopbackAddress, isSix, plus, prefixOf, formatPrefix, type Address, type Prefix } from '../prefix/address';
import type { Design, Router } from '../design/design';

/** An address in a prefix that a host could have. */
export const hostOf = (p: Prefix): Address => (p.length >= hostLength(p.bits) - 1 ? p.bits : plus(p.bits, 1));

/** Loopback addresses of a router, of the family that is looked at, up or not; those that it keeps to itself (127/8, ::1) are nobody's goal. */
export const loopbacksOf = (design: Design, router: number): readonly Address[] =>
  (design.routers[router]?.interfaces ?? []).flatMap((i) =>
    i.kind === 'loopback' ? i.addresses.flatMap((a) => (isLoopbackAddress(a.bits) ? [] : [a.bits])) : [],
  );

/** An address on a subnet that no router has, so that a packet from it starts at each gateway; where all are given out, one that is. */
export function guestOf(subnet: Prefix, taken: ReadonlySet<Address>): Address {
  const room = hostLength(subnet.bits) - subnet.length;
  // Routers have the first or the last addresses: the middle is looked at first. Of IPv4 the last one is everybody's.
  const half = room > 20 ? 1 << 19 : 1 << Math.max(room - 1, 0);
  const last = room > 20 ? half * 2 : (1 << room) - (isSix(subnet.bits) ? 1 : 2);
  for (let n = half; n <= last && n < half + 1000; n++) if (!taken.has(plus(subnet.bits, n))) return plus(subnet.bits, n);
  for (let n = room < 2 ? 0 : 1; n < half; n++) if (!taken.has(plus(subnet.bits, n)) && room >= 2) return plus(subnet.bits, n);
  return [0, 1, 2].map((n) => plus(subnet.bits, n)).find((a) => taken.has(a)) ?? subnet.bits;
}

/** What a prefix stands for: each subnet of the design in it by one host, each loopback by itself; of a foreign one its first host. */
function addressesIn(design: Design, prefix: Prefix): Address[] {
  const taken = new Set<Address>();
  const subnets = new Map<string, Prefix>();
  const hosts = new Set<Address>();
  for (const r of design.routers)
    for (const i of r.interfaces)
      for (const a of i.addresses) {
        taken.add(a.bits);
        const subnet = prefixOf(a.bits, a.length);
        if (covers(prefix, { bits: a.bits, length: hostLength(a.bits) }) && (i.kind === 'loopback' || a.length === hostLength(a.bits)))
          hosts.add(a.bits);
        // A prefix inside a subnet stands for hosts on it.
        else if (covers(prefix, subnet)) subnets.set(formatPrefix(subnet), subnet);
      }
  const inside = [...hosts, ...[...subnets.values()].map((s) => guestOf(s, taken))];
  return inside.length > 0 ? inside : [hostOf(prefix)];
}

function memberAddresses(design: Design, m: GroupMember): readonly Address[] {
  const six = (design.family ?? 4) === 6;
  const loopbacks = (fits: (r: Router) => boolean): Address[] => design.routers.flatMap((r, n) => (fits(r) ? loopbacksOf(design, n) : []));
  switch (m.kind) {
    case 'address':
      return isSix(m.address) === six ? [m.address] : [];
    case 'prefix':
      return isSix(m.prefix.bits) === six ? addressesIn(design, m.prefix) : [];
    case 'routers':
      return loopbacks((r) => nameFits(m.pattern, r.name));
    case 'area':
      return loopbacks((r) => r.instances.some((o) => o.areas.some((a) => a.id === m.area)));
  }
}

/** Addresses that belong to a group, of the family that is looked at, each once. */
export const groupAddresses = (design: Design, group: AddressGroup): Address[] => [
  ...new Set(group.members.flatMap((m) => memberAddresses(design, m))),
];

/** The group of a name. */
export const groupNamed = (design: Design, name: string): AddressGroup | undefined => design.settings.groups.find((g) => g.name === name);

/** Addresses that an end stands for, of the family that is looked at: of a name those of the group, else the loopbacks of the router. */
export function addressesOf(design: Design, end: End): readonly Address[] {
  if (typeof end === 'number') return isSix(end) === ((design.family ?? 4) === 6) ? [end] : [];
  const group = groupNamed(design, end);
  return group
    ? groupAddresses(design, group)
    : loopbacksOf(
        design,
        design.routers.findIndex((r) => r.name === end),
      );
}

/** Why an end stands for nothing, in words; `undefined` where it stands for something. */
export function endFault(design: Design, end: End): string | undefined {
  if (typeof end === 'number') return undefined;
  const group = groupNamed(design, end);
  if (!group && design.routers.findIndex((r) => r.name === end) < 0) return `there is no router and no group “${end}” in this design`;
  if (addressesOf(design, end).length > 0) return undefined;
  return group
    ? `nothing of IPv${design.family ?? 4} belongs to the group “${end}”`
    : `${end} has no loopback with an IPv${design.family ?? 4} address`;
}
