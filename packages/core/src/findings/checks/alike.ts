import type { Interface, OspfInstance, OspfInterface, Router } from '../../design/design';
import { address6, formatAddress, formatPrefix, networkOf } from '../../prefix/address';
import { Draft as Drafting, listIn, member } from '../../design/draft';
import type { DocumentValue, Edit } from '../../design/edit';
import type { SourceDocument } from '../../documents/documents';
import { statementWords } from '../../evidence/policy-words';
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

/** What a policy does, by what it says and not by the names that it and its prefix sets go by. */
function policyContent(router: Router, name: string, depth = 0): string {
  const { definitions, sets } = router.policies;
  const policy = definitions.get(name);
  if (!policy || depth > 8) return `${name} (not there)`;
  return policy.statements
    .map((s) => {
      const set = s.matchSet && sets.get(s.matchSet.name);
      const lines = [
        ...(set?.lines ?? []).map((l) => `${formatPrefix(l.prefix)} ${l.from}-${l.to}`),
        ...(set?.lines6 ?? []).map((l) => `${formatPrefix({ bits: address6(l.prefix.bits), length: l.prefix.length })} ${l.from}-${l.to}`),
      ].sort();
      const words = statementWords({
        ...s,
        callPolicy: s.callPolicy === undefined ? undefined : `(${policyContent(router, s.callPolicy, depth + 1)})`,
        ...(s.matchSet && { matchSet: { ...s.matchSet, name: `{${lines.join(', ')}}` } }),
      });
      return words;
    })
    .join('; ');
}

function processSettings(o: OspfInstance, content: (policy: string) => string): Setting[] {
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
      o.redistribution.map(
        (r) => `${r.source} metric ${r.metric} ${r.metricType} tag ${r.tag} policy ${r.policies.map(content).join(', ') || 'none'}`,
      ),
    ),
    list('default route', o.defaultRoute ? [`${o.defaultRoute.announce} metric ${o.defaultRoute.metric} ${o.defaultRoute.metricType}`] : []),
    list(
      'external ranges',
      o.externalRanges.map((r) => `${formatPrefix(r.prefix)}${r.advertise ? '' : ' hidden'}`),
    ),
    list('policy into the own table', o.ribPolicy.map(content)),
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
        list(`${area}: summaries let in`, a.summaryIn.map(content)),
        list(`${area}: summaries let out`, a.summaryOut.map(content)),
      ];
    }),
  ];
}

/** Everything about a router but its identity: its name, its addresses, its router id, its priorities, the next hops of its own routes. */
function settingsOf(c: CheckContext, router: Router, index: number, labels: ReadonlyMap<number, string>): Map<string, Setting> {
  const out = new Map<string, Setting>();
  const add = (s: Setting): unknown => out.set(s.what, s);
  for (const o of c.processesOf(router)) processSettings(o, (name) => policyContent(router, name)).forEach(add);
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

/** What a router is, to others: its areas, and whether it stands on a border. */
function roleOf(c: CheckContext, router: number): string {
  const [s] = c.prediction.speakersOf(router);
  if (!s) return 'a router without OSPF';
  const areas = c.prediction.routing.areasOf(s).map(formatAddress).join(' and ');
  return `${c.prediction.routing.isBorderRouter(s) ? 'border router' : 'router'} of area ${areas}`;
}

/**
 * A label for each interface of a router by which its counterpart in another is known: a shared LAN, a common neighbour, its own
 * neighbour of the same role, or its name.
 *
 * @param common  what interfaces of more than one router of the group face
 */
function labelsOf(
  c: CheckContext,
  router: Router,
  index: number,
  names: ReadonlySet<string>,
  group: ReadonlySet<string>,
  common: ReadonlySet<string>,
): Map<number, string> {
  const taken = new Map<string, number>();
  return new Map(
    router.interfaces.map((i, n): [number, string] => {
      // A cable between two routers of the group is its own counterpart.
      const faces = facing(c, index, n).filter((f) => ![...group].some((g) => f === `the cable to ${g}`));
      if (facing(c, index, n).length > 0 && faces.length === 0) return [n, 'the cable between them'];
      const [face] = faces;
      if (face === undefined) return [n, names.has(i.name) ? i.name : `${i.name} (only in ${router.name})`];
      if (common.has(face) || !face.startsWith('the cable to ')) return [n, face];
      // Each has a neighbour of its own there: beacon-1 the one border router of an area, beacon-2 the other.
      const role = `the cable to its ${roleOf(c, c.prediction.routerIndex(face.slice('the cable to '.length)))}`;
      const before = taken.get(role) ?? 0;
      taken.set(role, before + 1);
      return [n, before === 0 ? role : `${role} (${before + 1})`];
    }),
  );
}

/** What interfaces of more than one of these routers face. */
function facedByMore(c: CheckContext, members: readonly { readonly router: Router; readonly index: number }[]): ReadonlySet<string> {
  const count = new Map<string, number>();
  for (const m of members)
    for (const f of new Set(m.router.interfaces.flatMap((_, n) => facing(c, m.index, n)))) count.set(f, (count.get(f) ?? 0) + 1);
  return new Set([...count].flatMap(([f, n]) => (n > 1 ? [f] : [])));
}

const usual = (values: readonly string[]): string => {
  const count = new Map<string, number>();
  for (const v of values) count.set(v, (count.get(v) ?? 0) + 1);
  return [...count].sort((a, b) => b[1] - a[1])[0]?.[0] ?? '';
};

/** One setting of a group of routers meant to be alike, laid side by side. */
export interface AlikeRow {
  readonly what: string;
  /** In the order of the routers; `missing` where one has nothing of the kind. */
  readonly values: readonly string[];
  /** Places of the routers that differ from what most have. */
  readonly odd: readonly number[];
  /** By the place of a router that differs: the edit that gives it what the others have. */
  readonly repairs: readonly { readonly at: number; readonly title: string; readonly edits: readonly Edit[] }[];
  readonly places: readonly Draft['where'][number][];
}

/**
 * Routers side by side in everything but their identity, setting by setting; what only one has is told once, by its area.
 *
 * @param names  host names; those that are not there are left out
 */
export function alikeRows(c: CheckContext, names: readonly string[]): { readonly routers: readonly string[]; readonly rows: readonly AlikeRow[] } {
  const { routers } = c.prediction.design;
  const members = names.flatMap((name) => {
    const index = routers.findIndex((r) => r.name === name);
    const router = routers[index];
    return router ? [{ router, index }] : [];
  });
  const nameCount = new Map<string, number>();
  for (const m of members) for (const i of m.router.interfaces) nameCount.set(i.name, (nameCount.get(i.name) ?? 0) + 1);
  const shared = new Set([...nameCount].filter(([, n]) => n > 1).map(([name]) => name));
  const group = new Set(names);
  const common = facedByMore(c, members);
  const tables = members.map((m) => settingsOf(c, m.router, m.index, labelsOf(c, m.router, m.index, shared, group, common)));
  const whats = [...new Set(tables.flatMap((t) => [...t.keys()]))];
  const rows = whats.flatMap((what): AlikeRow[] => {
    const held = tables.map((t) => t.get(what));
    if (held.some((h) => !h) && !what.endsWith(': area')) return [];
    const values = held.map((h) => h?.value ?? 'missing');
    const most = usual(values);
    const model = held.find((h) => h?.value === most);
    const odd = values.flatMap((v, n) => (v === most ? [] : [n]));
    const repairs = odd.flatMap((n): AlikeRow['repairs'] => {
      const [own, m] = [held[n], members[n]];
      if (!own || !m || !model || own.leaf.length === 0 || own.at.length === 0 || model.raw === null) return [];
      return [{ at: n, title: `Set ${what} of ${m.router.name} to ${most}`, edits: [c.edit(m.router, own.at, own.leaf, model.raw)] }];
    });
    const places = members.map(({ router }, n) => {
      const own = held[n];
      return c.place(router, own?.at ?? [], own?.leaf.join('/') || undefined, own?.iface === undefined ? {} : { interface: own.iface });
    });
    return [{ what, values, odd, repairs, places }];
  });
  return { routers: members.map((m) => m.router.name), rows };
}

/** Routers that were chosen as alike, and differ in more than their identity. */
export const alikeDiffers: Check = {
  rule: 'alike-differs',
  about: 'Routers that are meant to be alike differ in more than name, addresses and router id.',
  run: (c) =>
    c.prediction.design.settings.alike.flatMap((g): Draft[] => {
      const { routers, rows } = alikeRows(c, g.routers);
      return rows.flatMap(({ what, values, odd, repairs, places }) =>
        odd.map((n): Draft => {
          const others = routers.filter((_, k) => !odd.includes(k));
          const common = values.find((_, k) => !odd.includes(k)) ?? '';
          const name = routers[n] ?? '';
          return {
            rule: 'alike-differs',
            severity: 'warning',
            topic: what,
            where: places.slice(n, n + 1),
            message: `${name} is meant to be like ${others.slice(0, 3).join(', ')} (“${g.name}”) and differs in ${what}: ${values[n] ?? ''} against ${common}.`,
            evidence: routers.map((router, k) => ({ router, what, value: values[k] ?? '', origin: 'computed' as const })),
            repairs: repairs.filter((r) => r.at === n).map(({ title, edits }) => ({ title, router: name, edits })),
            rfc: 'RFC 2328 appendix C',
          };
        }),
      );
    }),
};

/** Routers that look as if they were meant to be alike. */
export interface AlikeProposal {
  readonly routers: readonly string[];
  /** Why they are proposed, in words. */
  readonly why: string;
}

/**
 * Groups of routers that are alike in role and place and that nobody named yet: the same areas, border or not, towards the
 * outside or not, and a LAN or neighbours in common.
 */
export function alikeProposals(c: CheckContext): AlikeProposal[] {
  const { prediction: p } = c;
  const named = p.design.settings.alike.map((g) => new Set(g.routers));
  const by = new Map<string, { readonly router: string; readonly index: number; readonly words: string }[]>();
  for (const s of p.adjacencies.speakers) {
    const areas = p.routing.areasOf(s).map(formatAddress);
    const border = p.routing.isBorderRouter(s);
    const boundary = p.routing.isBoundaryRouter(s);
    const role = border ? 'border routers' : boundary ? 'boundary routers' : 'routers';
    const words = `${role} of area ${areas.join(' and ')}`;
    const key = `${words} ${boundary}`;
    const list = by.get(key);
    const one = { router: s.router.name, index: s.routerIndex, words };
    if (list) list.push(one);
    else by.set(key, [one]);
  }
  const out: AlikeProposal[] = [];
  const known = new Map<number, ReadonlySet<string>>();
  const surroundings = (router: number): ReadonlySet<string> => {
    const made = known.get(router) ?? surroundingsOf(c, router);
    known.set(router, made);
    return made;
  };
  for (const list of by.values()) {
    const left = [...list];
    while (left.length > 1) {
      const first = left.shift();
      if (!first) break;
      const around = surroundings(first.index);
      const others = left.filter((x) => [...surroundings(x.index)].some((w) => around.has(w)));
      // More than a handful is a layer of the campus, not a pair that stands in for one another.
      for (const o of others) left.splice(left.indexOf(o), 1);
      if (others.length === 0 || others.length > 3) continue;
      const routers = [first.router, ...others.map((o) => o.router)];
      const common = [...around].filter((w) => others.every((o) => surroundings(o.index).has(w)));
      if (common.length === 0 || named.some((g) => routers.every((r) => g.has(r)))) continue;
      out.push({ routers, why: `${routers.length === 2 ? 'both' : 'all'} ${first.words}, ${common.slice(0, 2).join(' and ')} in common` });
    }
  }
  return out;
}

/** LANs that a router stands on, and routers that it has a cable to. */
const surroundingsOf = (c: CheckContext, router: number): ReadonlySet<string> =>
  new Set((c.prediction.design.routers[router]?.interfaces ?? []).flatMap((_, n) => facing(c, router, n)));

/** Edits that write a group of routers meant to be alike into the settings of the design. */
export function alikeGroupEdits(documents: readonly SourceDocument[], name: string, routers: readonly string[]): Edit[] {
  const draft = new Drafting(documents);
  const list = listIn(draft.settings(), 'alike');
  const at = list.findIndex((g) => member(g, 'name') === name);
  const entry = { name, router: [...routers] };
  if (at >= 0) list[at] = entry;
  else list.push(entry);
  return draft.edits();
}
