import type { Interface, OspfInstance, OspfInterface, Router } from '../../design/design';
import { formatAddress, formatPrefix, networkOf } from '../../prefix/address';
import type { DocumentValue, Edit } from '../../design/edit';
import type { DocumentPath } from '../../design/design';
import type { Check, CheckContext } from '../context';
import type { Draft } from '../finding';

/** One setting of a router that is not its identity, in words and with the way to write it. */
interface Setting {
  /** What is compared: the same words in each router of a group. */
  readonly what: string;
  readonly value: string;
  /** Node, leaf and value in the document, where copying it makes the two alike. */
  readonly at: DocumentPath;
  readonly leaf: readonly string[];
  readonly raw: DocumentValue;
  readonly iface?: string;
}

/** What an interface faces, by which those of two routers are matched when their names differ: a shared LAN, or a common neighbour. */
function facing(c: CheckContext, router: number, iface: number): string[] {
  const { segments, design } = c.prediction;
  const segment = segments.list[segments.of[router]?.[iface] ?? -1];
  if (!segment) return [];
  const [subnet] = c.prediction.subnetsOn(segment.index);
  const others = segment.members.filter((m) => m.router !== router).map((m) => design.routers[m.router]?.name ?? '');
  return segment.kind === 'lan' ? [`the LAN ${subnet ? formatPrefix(subnet) : ''}`] : others.map((o) => `the cable to ${o}`);
}

function interfaceSettings(i: Interface, s: OspfInterface | undefined, area: string, label: string, addressNode: string): Setting[] {
  const of = (what: string, value: string | number | boolean, leaf: string, raw: DocumentValue = value): Setting => ({
    what: `${label}: ${what}`,
    value: String(value),
    at: s?.at ?? [],
    leaf: [leaf],
    raw,
    iface: i.name,
  });
  const mtu: Setting = { what: `${label}: MTU`, value: String(i.mtu), at: i.at, leaf: [addressNode, 'mtu'], raw: i.mtu, iface: i.name };
  const on: Setting = { what: `${label}: switched on`, value: String(i.enabled), at: i.at, leaf: ['enabled'], raw: i.enabled, iface: i.name };
  if (!s) return [mtu, on, { what: `${label}: area`, value: 'not in OSPF', at: [], leaf: [], raw: null, iface: i.name }];
  const keys = s.authentication.keys.map((k) => `${k.algorithm} ${k.id}`).join(', ') || 'none';
  return [
    mtu,
    on,
    { what: `${label}: area`, value: area, at: [], leaf: [], raw: null, iface: i.name },
    of('network type', s.type, 'interface-type'),
    of('passive', s.passive, 'passive'),
    of('OSPF on it', s.enabled, 'enabled'),
    of('cost', s.cost ?? 'derived', 'cost', s.cost ?? null),
    of('hello interval', s.hello, 'hello-interval'),
    of('dead interval', s.dead, 'dead-interval'),
    of('MTU ignored', s.mtuIgnore, 'mtu-ignore'),
    of('prefix suppression', s.prefixSuppression, 'prefix-suppression'),
    { ...of('authentication', keys, 'authentication', null), leaf: [] },
  ];
}

function processSettings(o: OspfInstance): Setting[] {
  const of = (what: string, value: string | number | boolean, leaf: readonly string[], at = o.at, raw: DocumentValue = value): Setting => ({
    what,
    value: String(value),
    at,
    leaf,
    raw,
  });
  const list = (what: string, values: readonly string[]): Setting => of(what, [...values].sort().join('; ') || 'none', [], o.at, null);
  return [
    of('OSPF', o.enabled ? 'on' : 'off', ['enabled'], o.at, o.enabled),
    of(
      'reference bandwidth',
      o.autoCost ? `${o.referenceBandwidth} Mbit/s` : 'costs not derived',
      o.autoCost ? ['auto-cost', 'reference-bandwidth'] : [],
      o.at,
      o.referenceBandwidth,
    ),
    of('equal-cost paths', o.paths, ['spf-control', 'paths']),
    of('stub router', o.stubRouter, [], o.at, null),
    of('RFC 1583 compatible', o.rfc1583Compatible, ['gentle-compass:rfc1583-compatible']),
    of('cost of ranges', o.rangeCost, ['gentle-compass:range-cost']),
    of('border model', o.borderModel, ['gentle-compass:border-model']),
    list(
      'redistribution',
      o.redistribution.map((r) => `${r.source} metric ${r.metric} ${r.metricType} tag ${r.tag} policy ${r.policies.join(', ') || 'none'}`),
    ),
    list('default route', o.defaultRoute ? [`${o.defaultRoute.announce} metric ${o.defaultRoute.metric} ${o.defaultRoute.metricType}`] : []),
    list(
      'external ranges',
      o.externalRanges.map((r) => `${formatPrefix(r.prefix)}${r.advertise ? '' : ' hidden'}`),
    ),
    list('policy into the own table', o.ribPolicy),
    list(
      'areas',
      o.areas.map((a) => formatAddress(a.id)),
    ),
    ...o.areas.flatMap((a): Setting[] => {
      const area = `area ${formatAddress(a.id)}`;
      return [
        of(`${area}: type`, a.type, [], a.at, null),
        of(`${area}: summaries`, a.summary, ['summary'], a.at),
        of(`${area}: default cost`, a.defaultCost, ['default-cost'], a.at),
        list(
          `${area}: ranges`,
          a.ranges.map((r) => `${formatPrefix(r.prefix)}${r.advertise ? '' : ' hidden'}${r.cost === undefined ? '' : ` cost ${r.cost}`}`),
        ),
        list(`${area}: summaries let in`, a.summaryIn),
        list(`${area}: summaries let out`, a.summaryOut),
      ];
    }),
  ];
}

/** Everything about a router but its identity: its name, its addresses, its router id, its priorities, the next hops of its own routes. */
function settingsOf(c: CheckContext, router: Router, index: number, labels: ReadonlyMap<number, string>): Map<string, Setting> {
  const out = new Map<string, Setting>();
  const add = (s: Setting): unknown => out.set(s.what, s);
  for (const o of c.processesOf(router)) processSettings(o).forEach(add);
  router.interfaces.forEach((i, n) => {
    const label = labels.get(n);
    if (label === undefined) return;
    const port = c.prediction.portOf(index, n);
    interfaceSettings(i, port?.settings, port ? formatAddress(port.area.id) : '', label, c.addressNode).forEach(add);
  });
  const statics = router.staticRoutes.map(
    (r) => `${formatPrefix({ bits: networkOf(r.prefix.bits, r.prefix.length), length: r.prefix.length })}${r.discard ? ' discard' : ''}`,
  );
  add({ what: 'static routes', value: statics.sort().join('; ') || 'none', at: [], leaf: [], raw: null });
  return out;
}

/** A label for each interface of a router by which its counterpart in another is known. */
function labelsOf(c: CheckContext, router: Router, index: number, names: ReadonlySet<string>, group: ReadonlySet<string>): Map<number, string> {
  return new Map(
    router.interfaces.map((i, n): [number, string] => {
      // A cable between two routers of the group is its own counterpart.
      const faces = facing(c, index, n).filter((f) => ![...group].some((g) => f === `the cable to ${g}`));
      const own = facing(c, index, n).length > 0 && faces.length === 0;
      return [n, own ? 'the cable between them' : (faces[0] ?? (names.has(i.name) ? i.name : `${i.name} (only in ${router.name})`))];
    }),
  );
}

const usual = (values: readonly string[]): string => {
  const count = new Map<string, number>();
  for (const v of values) count.set(v, (count.get(v) ?? 0) + 1);
  return [...count].sort((a, b) => b[1] - a[1])[0]?.[0] ?? '';
};

/** Routers that were chosen as alike, and differ in more than their identity. */
export const alikeDiffers: Check = {
  rule: 'alike-differs',
  about: 'Routers that are meant to be alike differ in more than name, addresses and router id.',
  run: (c) =>
    c.prediction.design.settings.alike.flatMap((g): Draft[] => {
      const { routers } = c.prediction.design;
      const members = g.routers.flatMap((name) => {
        const index = routers.findIndex((r) => r.name === name);
        const router = routers[index];
        return router ? [{ router, index }] : [];
      });
      const nameCount = new Map<string, number>();
      for (const m of members) for (const i of m.router.interfaces) nameCount.set(i.name, (nameCount.get(i.name) ?? 0) + 1);
      const shared = new Set([...nameCount].filter(([, n]) => n > 1).map(([name]) => name));
      const names = new Set(g.routers);
      const tables = members.map((m) => settingsOf(c, m.router, m.index, labelsOf(c, m.router, m.index, shared, names)));
      const whats = [...new Set(tables.flatMap((t) => [...t.keys()]))];
      return whats.flatMap((what): Draft[] => {
        const held = tables.map((t) => t.get(what));
        // An interface that only one router has is told once, by its area, not by each of its settings.
        if (held.some((h) => !h) && !what.endsWith(': area')) return [];
        const values = held.map((h) => h?.value ?? 'missing');
        const common = usual(values);
        const model = held.find((h) => h?.value === common);
        return members.flatMap((m, n): Draft[] => {
          const own = held[n];
          if (values[n] === common) return [];
          const edits: Edit[] =
            own && model && own.leaf.length > 0 && own.at.length > 0 && model.raw !== null ? [c.edit(m.router, own.at, own.leaf, model.raw)] : [];
          const others = members.filter((_, k) => values[k] === common).map((x) => x.router.name);
          return [
            {
              rule: 'alike-differs',
              severity: 'warning',
              topic: what,
              where: [c.place(m.router, own?.at ?? [], own?.leaf.join('/') || undefined, own?.iface === undefined ? {} : { interface: own.iface })],
              message: `${m.router.name} is meant to be like ${others.slice(0, 3).join(', ')} (“${g.name}”) and differs in ${what}: ${values[n] ?? ''} against ${common}.`,
              evidence: members.map((x, k) => ({ router: x.router.name, what, value: values[k] ?? '', origin: 'computed' as const })),
              repairs: edits.length > 0 ? [{ title: `Set ${what} of ${m.router.name} to ${common}`, router: m.router.name, edits }] : [],
              rfc: 'RFC 2328 appendix C',
            },
          ];
        });
      });
    }),
};
