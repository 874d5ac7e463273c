import type { Interface, OspfInstance, Router } from '../../design/design';
import { families, type Family } from '../../design/family';
import { interfaceUp } from '../../failures/outage';
import { formatAddress, formatPrefix, isLinkLocal, prefixOf } from '../../prefix/address';
import { formatIpv6 } from '../../prefix/ipv6';
import { prefixBook } from '../../prefix/prefix-book';
import type { Port } from '../../adjacency/speakers';
import type { Prediction } from '../../predict';
import type { Check, CheckContext } from '../context';
import type { Draft } from '../finding';

/** Checks that hold the two families against each other: they run once, where IPv6 is looked at. */

const written = (router: Router): Router => router.asWritten ?? router;
const familyWords = (p: Prediction): string => (p.family === 6 ? 'IPv6' : 'IPv4');
const versionWords = (p: Prediction): string => (p.family === 6 ? 'OSPFv3' : 'OSPFv2');

/** Adds an interface to an area of a process as the other version has it there: type, cost, passive. */
function joinAs(c: CheckContext, router: Router, process: OspfInstance | undefined, like: Port): Draft['repairs'] {
  const area = process?.areas.find((a) => a.id === like.area.id && a.at.length > 0);
  if (!area) return [];
  const leaf = {
    name: like.iface.name,
    ...(like.settings.written.has('interface-type') ? { 'interface-type': like.type } : {}),
    ...(like.settings.cost === undefined ? {} : { cost: like.settings.cost }),
    ...(like.settings.passive ? { passive: true } : {}),
  };
  const edit = c.edit(router, area.at, ['interfaces', 'interface'], undefined);
  return [
    {
      title: `Put ${like.iface.name} of ${router.name} into area ${formatAddress(area.id)} there too`,
      router: router.name,
      edits: [{ ...edit, at: [...edit.at, area.interfaces.length], from: undefined, to: leaf }],
    },
  ];
}

/** An interface that one version has in an area and the other forgot, though it carries both families. */
export const forgottenInOneFamily: Check = {
  rule: 'forgotten-in-one-family',
  about: 'An interface carries both families and is in the area of one version of OSPF only: it was probably forgotten in the other.',
  families: [6],
  run: (c) => {
    const { other, prediction: six } = c;
    if (!other) return [];
    const drafts: Draft[] = [];
    const look = (has: Prediction, lacks: Prediction): void => {
      for (const p of has.adjacencies.ports) {
        const router = six.design.routers[p.routerIndex];
        const source = router && written(router);
        const iface = source?.interfaces[p.ifaceIndex];
        if (!source || !iface || lacks.portOf(p.routerIndex, p.ifaceIndex) || lacks.speakersOf(p.routerIndex).length === 0) continue;
        const carries = lacks.family === 6 ? iface.six : iface.addresses.length > 0;
        if (!carries) continue;
        const process = lacks.speakersOf(p.routerIndex)[0]?.instance;
        drafts.push({
          rule: 'forgotten-in-one-family',
          severity: p.settings.passive ? 'warning' : 'error',
          where: [c.place(source, iface.at, undefined, { interface: iface.name }), c.portPlace(p)],
          message: `${iface.name} of ${source.name} is in area ${formatAddress(p.area.id)} of ${versionWords(has)} and carries ${familyWords(lacks)} too, but ${versionWords(lacks)} does not have it.`,
          seen: p.settings.passive
            ? `Its ${familyWords(lacks)} prefix is known to nobody.`
            : `Whoever faces it sends hellos of ${versionWords(lacks)} and hears none.`,
          evidence: [
            c.setting(p, 'interface-type', versionWords(has), `area ${formatAddress(p.area.id)}, cost ${p.cost}`),
            { router: source.name, what: versionWords(lacks), value: 'no line and no rule takes this interface', origin: 'computed' },
          ],
          repairs: joinAs(c, source, process, p),
          rfc: lacks.family === 6 ? 'RFC 5340 §4.1.2' : 'RFC 2328 §9.1',
        });
      }
    };
    look(other, six);
    look(six, other);
    return drafts;
  },
};

/** An interface whose areas differ between the versions. */
export const areasDiffer: Check = {
  rule: 'areas-differ',
  about: 'An interface stands in one area for OSPFv2 and in another for OSPFv3: that may be meant, and each version has border routers of its own.',
  families: [6],
  run: (c) =>
    c.prediction.adjacencies.ports.flatMap((p): Draft[] => {
      const twin = c.other?.portOf(p.routerIndex, p.ifaceIndex);
      if (!twin || twin.area.id === p.area.id) return [];
      return [
        {
          rule: 'areas-differ',
          severity: 'note',
          where: [c.portPlace(p), c.portPlace(twin)],
          message: `${p.iface.name} of ${c.routerName(p.routerIndex)} is in area ${formatAddress(twin.area.id)} for OSPFv2 and in area ${formatAddress(p.area.id)} for OSPFv3.`,
          evidence: [
            c.setting(twin, 'area-id', 'OSPFv2', `area ${formatAddress(twin.area.id)}`),
            c.setting(p, 'area-id', 'OSPFv3', `area ${formatAddress(p.area.id)}`),
          ],
          repairs: [],
          rfc: 'RFC 5340 §2',
        },
      ];
    }),
};

/** How many routers are named in a message. */
const someNames = (names: readonly string[]): string =>
  names.length > 4 ? `${names.slice(0, 4).join(', ')} and ${names.length - 4} more` : names.join(', ');

/** A prefix of one family that is not reached, with the place whose other family is. */
interface Unreached {
  readonly prefix: string;
  readonly address: string;
  readonly router: Router;
  readonly iface: Interface;
}

/** What the same routers reach in one family and not in the other: told once, however much it is. */
function unreachedFinding(c: CheckContext, family: Family, sources: readonly number[], targets: readonly Unreached[]): Draft {
  const names = sources.map((n) => c.routerName(n));
  const [gone, there] = [`IPv${family}`, `IPv${family === 6 ? 4 : 6}`];
  const some = targets.slice(0, 3).map((t) => `${t.prefix} of ${t.router.name}`);
  const more = targets.length > some.length ? ` and ${targets.length - some.length} more` : '';
  const where =
    names.length < targets.length
      ? sources.slice(0, 4).flatMap((n) => {
          const s = c.prediction.speakersOf(n)[0];
          return s ? [c.place(s.router, s.instance.at)] : [];
        })
      : targets.slice(0, 4).map((t) => c.place(t.router, t.iface.at, undefined, { interface: t.iface.name }));
  return {
    rule: 'reached-in-one-family',
    severity: 'warning',
    topic: `${gone} ${targets[0]?.prefix ?? ''}`,
    where,
    message: `${someNames(names)} ${names.length === 1 ? 'reaches' : 'reach'} by ${there} and not by ${gone}: ${some.join(', ')}${more}.`,
    evidence: targets
      .flatMap((t) =>
        names.map((router) => ({
          router,
          what: gone,
          value: `no route to ${t.address} (${t.router.name}/${t.iface.name})`,
          origin: 'computed' as const,
        })),
      )
      .slice(0, 8),
    repairs: [],
    rfc: 'RFC 5340 §2',
  };
}

/** Interfaces with prefixes of both families, of which other routers reach one and not the other. */
export const reachedInOneFamily: Check = {
  rule: 'reached-in-one-family',
  about: 'Interfaces have prefixes of both families, and from some routers one of them is reached and the other is not.',
  families: [6],
  run: (c) => {
    const { other: four, prediction: six } = c;
    if (!four) return [];
    const both = six.design.routers.map((_, n) => four.speakersOf(n).length > 0 && six.speakersOf(n).length > 0 && !six.outage.routers.has(n));
    const tables = six.design.routers.map((_, n) => (both[n] ? [lookup(four, n), lookup(six, n)] : undefined));
    // By the routers that lack it: what falls together has one cause.
    const groups = new Map<string, { readonly family: Family; readonly sources: readonly number[]; readonly targets: Map<string, Unreached> }>();
    six.design.routers.forEach((router, r) =>
      router.interfaces.forEach((iface, n) => {
        const [a, b] = [written(router).interfaces[n]?.addresses[0], iface.addresses[0]];
        if (!a || !b || !interfaceUp(six.design, six.outage, r, n)) return;
        // What is in neither version is nobody's to reach; what one of them forgot is told by itself.
        if (!four.portOf(r, n) || !six.portOf(r, n)) return;
        const lost: Readonly<Record<Family, number[]>> = { 4: [], 6: [] };
        tables.forEach((t, from) => {
          if (!t || from === r) return;
          const [x, y] = [t[0]?.(a.bits) ?? false, t[1]?.(b.bits) ?? false];
          if (x !== y) lost[x ? 6 : 4].push(from);
        });
        for (const family of families) {
          const sources = lost[family];
          if (sources.length === 0) continue;
          const key = `${family} ${sources.join()}`;
          const group = groups.get(key) ?? { family, sources, targets: new Map<string, Unreached>() };
          groups.set(key, group);
          const gone = family === 6 ? b : a;
          const prefix = formatPrefix(prefixOf(gone.bits, gone.length));
          if (!group.targets.has(prefix)) group.targets.set(prefix, { prefix, address: formatAddress(gone.bits), router, iface });
        }
      }),
    );
    return [...groups.values()].map((g) => unreachedFinding(c, g.family, g.sources, [...g.targets.values()]));
  },
};

/** Whether a router has a line that leads to an address. */
function lookup(p: Prediction, router: number): (address: number) => boolean {
  const lines = p.ribOnce(router);
  const usable = lines.filter((r) => r.hops.length > 0);
  const exact = new Set(usable.map((r) => r.key));
  const lengths = [...new Set(usable.map((r) => r.length))];
  return (address) => lengths.some((length) => exact.has(prefixBook.holder(address, length) ?? -1));
}

/** One link-local address twice on a wire: each takes what is meant for the other (RFC 4862 §5.4). */
export const equalLinkLocal: Check = {
  rule: 'equal-link-local',
  about: 'Two interfaces on one wire have the same link-local address: duplicate address detection leaves one of them without IPv6.',
  families: [6],
  run: (c) =>
    c.prediction.segments.list.flatMap((segment): Draft[] => {
      const seen = new Map<bigint, { readonly router: Router; readonly n: number }>();
      return segment.members.flatMap((m): Draft[] => {
        const router = c.prediction.design.routers[m.router];
        const iface = router?.interfaces[m.iface];
        const own = iface?.six ? iface.addresses6.find((a) => isLinkLocal(a.bits)) : undefined;
        if (!router || !iface || !own) return [];
        const twin = seen.get(own.bits);
        const other = twin?.router.interfaces[twin.n];
        if (!twin || !other) {
          seen.set(own.bits, { router, n: m.iface });
          return [];
        }
        const ends = [
          { router: twin.router, iface: other },
          { router, iface },
        ];
        return [
          {
            rule: 'equal-link-local',
            severity: 'error',
            where: ends.map((e) => c.place(e.router, e.iface.at, undefined, { interface: e.iface.name })),
            message: `${formatIpv6(own.bits)} stands on ${other.name} of ${twin.router.name} and on ${iface.name} of ${router.name}, which share a wire.`,
            seen: 'One of the two keeps its address as tentative and sends nothing.',
            evidence: ends.map((e) => ({ router: e.router.name, what: e.iface.name, value: formatIpv6(own.bits), origin: 'written' as const })),
            repairs: [],
            rfc: 'RFC 4862 §5.4',
          },
        ];
      });
    }),
};

/** Where a global address is expected and only a link-local one exists. */
export const globalAddressMissing: Check = {
  rule: 'global-address-missing',
  about: 'A router of OSPFv3 has no global address at all, or an interface towards hosts has none: nothing of it can be reached.',
  families: [6],
  run: (c) =>
    c.prediction.adjacencies.speakers.flatMap((s): Draft[] => {
      const out: Draft[] = [];
      const named = s.router.interfaces.some((i) => i.addresses.length > 0);
      if (!named)
        out.push({
          rule: 'global-address-missing',
          severity: 'warning',
          where: [c.place(s.router, s.instance.at)],
          message: `${s.router.name} has only link-local addresses: it carries traffic, and nobody can reach it by an address of its own. Give its loopback one.`,
          evidence: [{ router: s.router.name, what: 'global IPv6 addresses', value: 'none', origin: 'computed' }],
          repairs: [],
          rfc: 'RFC 5340 §2.5',
        });
      for (const p of s.ports) {
        if (!p.up || p.loopback || !p.settings.passive || p.iface.addresses.length > 0) continue;
        out.push({
          rule: 'global-address-missing',
          severity: 'warning',
          where: [c.portPlace(p, 'passive')],
          message: `${p.iface.name} of ${s.router.name} is passive and has no global IPv6 prefix: it brings nothing into OSPFv3.`,
          evidence: [c.setting(p, 'passive', p.iface.name, 'passive, link-local only')],
          repairs: [],
          rfc: 'RFC 5340 §4.4.3.9',
        });
      }
      return out;
    }),
};

/** Address families that are read and told, and not predicted; instance ids that mean one (RFC 5838 §2.1). */
export const addressFamilyNotPredicted: Check = {
  rule: 'address-family-not-predicted',
  about: 'An OSPFv3 process routes another address family than IPv6 unicast: it is read and kept, and its routes are not predicted.',
  families: [4],
  run: (c) =>
    c.prediction.design.routers.flatMap((router): Draft[] =>
      router.instances.flatMap((o): Draft[] => {
        if (o.version !== 3) return [];
        if (o.addressFamily !== 'ipv6')
          return [
            {
              rule: 'address-family-not-predicted',
              severity: 'note',
              where: [c.place(router, o.at, 'address-family')],
              message: `OSPFv3 "${o.name}" of ${router.name} routes IPv4: it is read and kept, and not predicted here.`,
              evidence: [{ router: router.name, what: 'address family', value: o.addressFamily, origin: 'written' }],
              repairs: [],
              rfc: 'RFC 5838 §2',
            },
          ];
        const high = o.areas.flatMap((a) => a.interfaces).filter((i) => i.instanceId >= 64);
        if (high.length === 0) return [];
        return [
          {
            rule: 'address-family-not-predicted',
            severity: 'note',
            where: high.map((i) => c.place(router, i.at, 'instance-id', { interface: i.name })),
            message: `${router.name} uses instance id ${[...new Set(high.map((i) => i.instanceId))].join(', ')} on ${someNames(high.map((i) => i.name))}: from 64 on they stand for other address families where the process says so; it does not, so it is taken for IPv6 unicast.`,
            evidence: high.map((i) => ({ router: router.name, what: i.name, value: `instance id ${i.instanceId}`, origin: 'written' as const })),
            repairs: [],
            rfc: 'RFC 5838 §2.1',
          },
        ];
      }),
    ),
};
