import {
  covers,
  formatAddress,
  formatPrefix,
  hostLength,
  isLinkLocal,
  isSix,
  bits6,
  lastOf,
  prefixOf,
  type Address,
  type Prefix,
} from '../../prefix/address';
import { member } from '../../design/draft';
import { purposeOf } from '../../design/pools';
import { replaceEverywhere } from '../renumber';
import { hostsOf, Refusal, type End, type Site } from '../site';
import type { CommandKind } from './command';

interface Holder extends End {
  readonly ip: Address;
  readonly subnet: Prefix;
  readonly loopback: boolean;
}

/** Every address of the design but those of one interface. */
export function othersThan(site: Site, place: End): Holder[] {
  return site.design.routers.flatMap((r) =>
    r.interfaces.flatMap((i) =>
      r.name === place.router && i.name === place.iface
        ? []
        : i.addresses.map((a): Holder => ({
            router: r.name,
            iface: i.name,
            ip: a.bits,
            subnet: prefixOf(a.bits, a.length),
            loopback: i.kind === 'loopback',
          })),
    ),
  );
}

/** The lowest address of a subnet that nobody has; `undefined` when it is full. */
function freeHost(subnet: Prefix, others: readonly Holder[]): Address | undefined {
  const hosts = hostsOf(subnet);
  const taken = new Set(others.map((o) => o.ip));
  for (let n = 0; n < Math.min(hosts.count, 65_536); n++) if (!taken.has(hosts.at(n))) return hosts.at(n);
  return undefined;
}

const host = (ip: Address, length: number): string => `${formatAddress(ip)}/${length}`;

/** Why an address cannot stand where it is typed, with what could instead. */
export function refuseWhatClashes(site: Site, place: End, ip: Address, length: number, others: readonly Holder[], loopback: boolean): void {
  const subnet = prefixOf(ip, length);
  const one = hostLength(ip);
  const [first, last] = [subnet.bits, lastOf(subnet)];
  const free = freeHost(subnet, others);
  const area = site.ospfOf(site.router(place.router), place.iface)?.area.id;
  const spare = length === one ? site.addresses.next('loopbacks', area) : undefined;
  const next = spare
    ? [{ after: 'as', text: host(spare.bits, one), help: `the next free loopback address of ${spare.from}` }]
    : free === undefined
      ? []
      : [{ after: 'as', text: host(free, length), help: `the next free address of ${formatPrefix(subnet)}` }];
  if (length < one - 1 && (ip === first || (ip === last && !isSix(ip))))
    throw new Refusal(
      `${formatAddress(ip)} is the ${isSix(ip) ? 'address of every router' : ip === first ? 'number' : 'broadcast address'} of ${formatPrefix(subnet)}, not an address in it.`,
      next,
    );
  const twin = others.find((o) => o.ip === ip);
  if (twin) throw new Refusal(`${formatAddress(ip)} stands on ${twin.router}/${twin.iface} already.`, next);
  const wide = others.find((o) => o.subnet.length !== length && (covers(o.subnet, subnet) || covers(subnet, o.subnet)) && !(loopback && o.loopback));
  if (!wide) return;
  const fresh = site.addresses.next(purposeOf(subnet, false), area, length);
  const inWide = freeHost(wide.subnet, others);
  throw new Refusal(`${formatPrefix(subnet)} overlaps ${formatPrefix(wide.subnet)} of ${wide.router}/${wide.iface}.`, [
    ...(inWide !== undefined && !loopback
      ? [{ after: 'as', text: host(inWide, wide.subnet.length), help: `the next free address beside ${wide.router}` }]
      : []),
    ...(fresh ? [{ after: 'as', text: host(hostsOf(fresh).at(0), length), help: `in the next free subnet, ${formatPrefix(fresh)}` }] : []),
  ]);
}

/** Says when the ends of a wire part, or when others are met, and offers to take the whole wire along. */
export function tellEnds(site: Site, place: End, subnet: Prefix, others: readonly Holder[]): void {
  const behind = site.endsOn(place).filter((e) => e.router !== place.router || e.iface !== place.iface);
  const left = behind.filter(
    (e) => !others.some((o) => o.router === e.router && o.iface === e.iface && o.subnet.bits === subnet.bits && o.subnet.length === subnet.length),
  );
  const names = (ends: readonly End[]): string => ends.map((e) => `${e.router}/${e.iface}`).join(', ');
  if (left.length > 0) {
    site.notes.push(`${names(left)} ${left.length === 1 ? 'stays' : 'stay'} on another subnet: the ends of this wire would no longer be on one.`);
    site.instead.push({
      line: `renumber ${place.router}/${place.iface} as ${formatPrefix(subnet)}`,
      help: `takes ${left.length === 1 ? 'the other end' : 'the other ends'} along`,
    });
  }
  const met = others.filter(
    (o) => o.subnet.bits === subnet.bits && o.subnet.length === subnet.length && !behind.some((e) => e.router === o.router && e.iface === o.iface),
  );
  if (met.length > 0) site.notes.push(`It would stand on one subnet with ${names(met)}.`);
}

/** A second address may not lie in a subnet that the interface has. */
function refuseOwn(
  known: readonly { readonly bits: Address; readonly length: number }[],
  typed: { readonly ip: Address; readonly length: number },
): void {
  const subnet = prefixOf(typed.ip, typed.length);
  const own = known.find((a) => covers(prefixOf(a.bits, a.length), subnet) || covers(subnet, prefixOf(a.bits, a.length)));
  if (own && !(own.length === hostLength(own.bits) && typed.length === own.length && own.bits !== typed.ip))
    throw new Refusal(`${formatPrefix(subnet)} overlaps ${formatPrefix(prefixOf(own.bits, own.length))}, which the interface has already.`);
}

/** The link-local address of an interface: its only one of the kind, and no other's on the wire. */
function linkLocal(site: Site, place: End, ip: Address): string {
  const isIt = (x: Address | undefined): boolean => x !== undefined && isSix(x) && isLinkLocal(bits6(x));
  const twin = site
    .endsOn(place)
    .find((e) => (e.router !== place.router || e.iface !== place.iface) && site.interfaceOf(e)?.linkLocal?.address === ip);
  if (twin)
    throw new Refusal(`${formatAddress(ip)} stands on ${twin.router}/${twin.iface}, on the same wire: two ends need two link-local addresses.`);
  const draft = site.open(place.router);
  const before = site.interfaceOf(place)?.linkLocal;
  draft.dropAddresses(place.iface, isIt);
  draft.giveFamily(place.iface, { ip, length: 64 });
  return `${place.router}/${place.iface} speaks from ${formatAddress(ip)}${before && !before.derived ? ` instead of ${formatAddress(before.address)}` : ''}`;
}

/** `address kelp-1/to-kelp-3 as 10.97.2.4/31`: the address of one interface. */
export const address: CommandKind = {
  verb: 'address',
  help: 'give one interface another address, or a second one',
  form: 'address ROUTER/INTERFACE as ADDRESS/LENGTH | address ROUTER/INTERFACE and ADDRESS/LENGTH | address ROUTER/INTERFACE off',
  example: 'address kelp-3/library as 10.97.16.9/24',
  read(r) {
    const place = r.place();
    const how = r.oneOf(
      [
        { text: 'as', help: 'the address follows, with its length or mask' },
        { text: 'and', help: 'one more beside those it has' },
        { text: 'off', help: 'no address any more' },
      ],
      '"as", "and" or "off"',
    );
    const typed = how === 'off' ? undefined : r.hostAddress('address');
    r.end();
    return (site) => {
      const here = site.interfaceOf(place);
      const draft = site.open(place.router);
      const node = draft.iface(place.iface);
      if (!here || !node) throw new Refusal(`There is no interface ${place.router}/${place.iface}.`);
      const known = here.addresses[0];
      const add = (ip: Address, length: number): void => draft.giveFamily(place.iface, { ip, length });
      if (!typed) {
        // A link-local address stays: it is the wire's, not the design's.
        draft.dropAddresses(place.iface, (x) => x !== undefined && !(isSix(x) && isLinkLocal(bits6(x))));
        return `${place.router}/${place.iface} has no ${site.family === 6 ? 'global IPv6 ' : ''}address`;
      }
      if (isSix(typed.ip) && isLinkLocal(bits6(typed.ip))) return linkLocal(site, place, typed.ip);
      const others = othersThan(site, place);
      refuseWhatClashes(site, place, typed.ip, typed.length, others, here.kind === 'loopback');
      if (how === 'and' && known) {
        refuseOwn(here.addresses, typed);
        add(typed.ip, typed.length);
        return `${place.router}/${place.iface} has ${host(typed.ip, typed.length)} beside ${here.addresses.map((a) => host(a.bits, a.length)).join(', ')}`;
      }
      tellEnds(site, place, prefixOf(typed.ip, typed.length), others);
      if (known) {
        draft.readdress(known.bits, typed.ip, typed.length, place.iface);
        if (known.bits !== typed.ip) replaceEverywhere(site, known.bits, typed.ip);
      } else add(typed.ip, typed.length);
      const before = known ? ` instead of ${host(known.bits, known.length)}` : '';
      if (member(node, 'enabled') === false) site.notes.push(`${place.iface} is switched off.`);
      return `${place.router}/${place.iface} has ${host(typed.ip, typed.length)}${before}`;
    };
  },
};
