import { routerIdOf } from '../../design/router-id';
import { processOf } from '../../design/family';
import { bits6, formatPrefix, formatAddress, isLinkLocal, isSix, type Address } from '../../prefix/address';
import { container, listIn, member, setMember, type Json } from '../../design/draft';
import { areaText, Refusal, type Site } from '../site';
import { isPrefix } from '../references';
import type { Reader } from '../words';
import { endsIn, readTargets, whereWords } from './change';
import type { CommandKind } from './command';

/** `on` and routers, up to the first of some words. */
export function routersUntil(r: Reader, options: readonly string[]): string[] {
  r.word('on', 'the routers follow');
  const names = [r.router()];
  while (!r.done && !options.includes(r.peek() ?? '')) {
    const next = r.router('another router, or an option');
    if (names.includes(next)) throw r.before(`${next} stands twice.`);
    names.push(next);
  }
  return names;
}

const metricTypes = [
  { text: 'type-1', help: 'the way to the exit counts too' },
  { text: 'type-2', help: 'only the outside metric counts' },
] as const;

/** How what comes from outside is announced, as far as a line says it. */
export interface Metric {
  metric?: number;
  type?: 'type-1' | 'type-2';
  off?: boolean;
}

/** Options of a line that announces: metric, its type, and to cease. */
export const metricOptions = (r: Reader, into: Metric): Readonly<Record<string, { help: string; read: () => void }>> => ({
  metric: { help: 'metric outside', read: () => (into.metric = r.number('metric', 0, 0xff_fffe)) },
  type: { help: 'metric type', read: () => (into.type = r.oneOf(metricTypes, 'a metric type')) },
  off: { help: 'no more', read: () => (into.off = true) },
});

/** Metric and type as leaves of a document. */
export const metricLeaves = (m: Metric): Json => ({
  ...(m.metric === undefined ? {} : { metric: m.metric }),
  ...(m.type === undefined ? {} : { 'metric-type': m.type }),
});

/** `bring static on harbour-exit metric 30 policy partners-only`. */
export const redistribute: CommandKind = {
  verb: 'bring',
  help: 'bring routes of another source into OSPF, or cease to',
  form: 'bring static|direct|other on ROUTER... [metric METRIC] [type TYPE] [tag TAG] [policy NAME] [off]',
  example: 'bring static on harbour-exit metric 30 type type-1',
  read(r) {
    const source = r.oneOf(
      [
        { text: 'static', help: 'static routes' },
        { text: 'direct', help: 'subnets of its own interfaces' },
        { text: 'other', help: 'what another protocol brings' },
      ],
      'a source',
    );
    const names = routersUntil(r, ['metric', 'type', 'tag', 'policy', 'off']);
    const m: Metric = {};
    let tag: number | undefined;
    let policy: string | undefined;
    r.options({
      ...metricOptions(r, m),
      tag: { help: 'route tag', read: () => (tag = r.number('tag', 0, 4_294_967_295)) },
      policy: { help: 'only what this policy takes', read: () => (policy = r.text('policy')) },
    });
    return (site) => {
      for (const n of names) {
        if (policy !== undefined && !site.router(n).policies.definitions.has(policy))
          throw new Refusal(`${n} has no policy "${policy}"; it has ${[...site.router(n).policies.definitions.keys()].join(', ') || 'none'}.`);
        const ospf = site.open(n).ospf(site.processName);
        const list = listIn(ospf, 'gentle-compass:redistribution');
        const known = list.findIndex((x) => member(x, 'source') === source);
        const made: Json = {
          source,
          ...metricLeaves(m),
          ...(tag === undefined ? {} : { tag }),
          ...(policy === undefined ? {} : { policy: [policy] }),
        };
        if (m.off !== true) list.splice(known < 0 ? list.length : known, known < 0 ? 0 : 1, made);
        else if (known >= 0) list.splice(known, 1);
        if (list.length === 0) setMember(ospf, 'redistribution', undefined);
      }
      if (policy === undefined && m.off !== true) site.notes.push(`Without a policy every ${source} route is taken, later ones too.`);
      return `${source} routes ${m.off === true ? 'no longer ' : ''}redistributed on ${whereWords(names)}`;
    };
  },
};

/** `announce default on harbour-exit always`. */
export const announce: CommandKind = {
  verb: 'announce',
  help: 'announce a default route, or cease to',
  form: 'announce default on ROUTER... [always] [metric METRIC] [type TYPE] [off]',
  example: 'announce default on harbour-exit metric 5 type type-1',
  read(r) {
    r.word('default', 'the default route');
    const names = routersUntil(r, ['always', 'metric', 'type', 'off']);
    const m: Metric = {};
    let always = false;
    r.options({ always: { help: 'even while its own table has none', read: () => (always = true) }, ...metricOptions(r, m) });
    return (site) => {
      for (const n of names) {
        const ospf = site.open(n).ospf(site.processName);
        const value = { announce: always ? 'always' : 'if-present', ...metricLeaves(m) };
        if (m.off === true) setMember(ospf, 'default-route', undefined);
        else setMember(ospf, member(ospf, 'default-route') === undefined ? 'gentle-compass:default-route' : 'default-route', value);
      }
      return `Default route ${m.off === true ? 'no longer announced' : always ? 'always announced' : 'announced while it is there'} by ${whereWords(names)}`;
    };
  },
};

/** `static 0.0.0.0/0 on harbour-exit via 203.0.113.1`. */
export const staticRoute: CommandKind = {
  verb: 'static',
  help: 'add a static route, or take it away',
  form: 'static PREFIX on ROUTER [via ADDRESS] [out INTERFACE] [discard] [preference PREFERENCE] [off]',
  example: 'static 198.51.100.0/28 on harbour-exit via 203.0.113.1',
  read(r) {
    const prefix = r.prefix('prefix');
    r.word('on', 'the router follows');
    const router = r.router();
    const o: { via?: Address; out?: string; discard?: true; preference?: number; off?: true } = {};
    r.options({
      via: { help: 'next hop', read: () => (o.via = r.address('address')) },
      out: { help: 'the interface it leaves by; a link-local next hop needs it', read: () => (o.out = r.interfaceOf(router, 'the interface')) },
      discard: { help: 'drops what it takes', read: () => (o.discard = true) },
      preference: { help: 'less is preferred', read: () => (o.preference = r.number('preference', 0, 255)) },
      off: { help: 'take it away', read: () => (o.off = true) },
    });
    const { via } = o;
    if (via !== undefined && isSix(via) && isLinkLocal(bits6(via)) && o.out === undefined)
      throw r.fault(`${formatAddress(via)} stands on every wire: say the interface, with "out".`, [
        { text: 'out', help: 'the interface it leaves by' },
      ]);
    if (via === undefined && !o.discard && !o.off)
      throw r.fault('Expected "via" and a next hop, or "discard".', [
        { text: 'via', help: 'next hop' },
        { text: 'discard', help: 'drops what it takes' },
      ]);
    return (site) => {
      const draft = site.open(router);
      const protocol = draft.staticProtocol();
      const family = site.family === 6 ? 'ietf-ipv6-unicast-routing:ipv6' : 'ietf-ipv4-unicast-routing:ipv4';
      const list = listIn(container(container(protocol, 'static-routes'), family), 'route');
      const text = formatPrefix(prefix);
      const known = list.findIndex((x) => isPrefix(member(x, 'destination-prefix'), prefix));
      const hop: Json = o.discard
        ? { 'special-next-hop': 'blackhole' }
        : {
            ...(via === undefined ? {} : { 'next-hop-address': formatAddress(via) }),
            ...(o.out === undefined ? {} : { 'outgoing-interface': o.out }),
          };
      const made: Json = { 'destination-prefix': text, 'next-hop': hop, ...(o.preference === undefined ? {} : { 'route-preference': o.preference }) };
      if (o.off && known < 0) throw new Refusal(`${router} has no static route to ${text}.`);
      if (o.off) list.splice(known, 1);
      else list.splice(known < 0 ? list.length : known, known < 0 ? 0 : 1, made);
      if (list.length === 0) {
        const routes = container(protocol, 'static-routes');
        setMember(routes, family, undefined);
        if (Object.keys(routes).length === 0) draft.removeProtocol(protocol);
      }
      return o.off
        ? `Static route to ${text} taken from ${router}`
        : `Static route to ${text} on ${router}, ${o.discard ? 'dropping' : `by ${[via === undefined ? '' : formatAddress(via), o.out ?? ''].filter(Boolean).join(' out of ')}`}`;
    };
  },
};

const algorithms = ['hmac-sha-256', 'hmac-sha-1', 'hmac-sha-384', 'hmac-sha-512', 'md5', 'none'] as const;
const algorithmHelp: Record<(typeof algorithms)[number], string> = {
  'hmac-sha-256': 'RFC 5709',
  'hmac-sha-1': 'RFC 5709',
  'hmac-sha-384': 'RFC 5709',
  'hmac-sha-512': 'RFC 5709',
  md5: 'RFC 2328 appendix D.3',
  none: 'clear text, RFC 2328 appendix D.2',
};

/** `key 1 hmac-sha-256 "low tide" on area 10`: authentication of interfaces. The key is not shown. */
export const key: CommandKind = {
  verb: 'key',
  help: 'set the authentication key of interfaces, or take it away',
  form: 'key ID ALGORITHM SECRET on TARGET... | key off on TARGET...',
  example: 'key 1 hmac-sha-256 "low tide" on area 10',
  read(r) {
    if (r.maybe('off')) {
      const targets = readTargets(r);
      return (site) => {
        const ends = endsIn(site, targets, true);
        for (const e of ends) {
          const at = site.open(e.router).ospfInterface(e.iface);
          if (at) setMember(at.entry, 'authentication', undefined);
        }
        return `Key taken from ${whereWords(ends.map((e) => `${e.router}/${e.iface}`))}`;
      };
    }
    // A security association of OSPFv3 has a number of 16 bits (RFC 7166 §4.1), a key of OSPFv2 one of 8 (RFC 2328 D.3).
    const id = r.number('key id', 0, r.family === 6 ? 65_535 : 255);
    const algorithm = r.oneOf(
      algorithms.map((text) => ({ text, help: algorithmHelp[text] })),
      'an algorithm',
    );
    const secret = r.text('secret');
    const targets = readTargets(r);
    return (site) => {
      const ends = endsIn(site, targets, true);
      const six = site.family === 6;
      if (six && !algorithm.startsWith('hmac-'))
        throw new Refusal(`OSPFv3 has no ${algorithm}: its authentication trailer (RFC 7166) takes hmac-sha-1 to hmac-sha-512.`);
      const made = six
        ? { 'ospfv3-sa-id': id, 'ospfv3-key': secret, 'ospfv3-crypto-algorithm': `ietf-key-chain:${algorithm}` }
        : algorithm === 'none'
          ? { 'ospfv2-key': secret }
          : { 'ospfv2-key-id': id, 'ospfv2-key': secret, 'ospfv2-crypto-algorithm': `ietf-key-chain:${algorithm}` };
      for (const e of ends) {
        const at = site.open(e.router).ospfInterface(e.iface);
        if (at) setMember(at.entry, 'authentication', { ...made });
      }
      return `Key ${id}, ${algorithm}, on ${whereWords(ends.map((e) => `${e.router}/${e.iface}`))}`;
    };
  },
};

/** The router id of a router by name. */
function idOf(site: Site, name: string): string {
  const router = site.router(name);
  const instance = processOf(router);
  const found = instance && routerIdOf(router, instance);
  if (!found) throw new Refusal(`${name} has no router id: it runs no OSPF, or has no address.`);
  return formatAddress(found.id);
}

/** `virtual-link kelp-1 kelp-2 through 10` (RFC 2328 §15). */
export const virtualLink: CommandKind = {
  verb: 'virtual-link',
  help: 'join two border routers to one backbone through an area, or part them',
  form: 'virtual-link ROUTER ROUTER through AREA [off]',
  example: 'virtual-link kelp-1 kelp-2 through 10',
  read(r) {
    const a = r.router('the first border router');
    const b = r.router('the second border router');
    if (a === b) throw r.before('A virtual link needs two routers.');
    r.word('through', 'the transit area follows');
    r.maybe('area');
    const area = r.area('the transit area');
    let off = false;
    r.options({ off: { help: 'take it away', read: () => (off = true) } });
    return (site) => {
      for (const name of [a, b])
        if (!site.areasOf(site.router(name)).some((x) => x.id === area))
          throw new Refusal(`${name} has no part in ${areaText(area)}: it cannot be the transit area.`);
      if (area === 0) throw new Refusal('The backbone cannot be the transit area of a virtual link (RFC 2328 §15).');
      for (const [name, peer] of [
        [a, b],
        [b, a],
      ] as const) {
        const draft = site.open(name);
        const entry = draft.ensureArea(0, site.processName);
        const list = listIn(container(entry, 'virtual-links'), 'virtual-link');
        const id = idOf(site, peer);
        const known = list.findIndex((x) => member(x, 'router-id') === id);
        if (off && known < 0) throw new Refusal(`${name} has no virtual link to ${peer}.`);
        if (off) list.splice(known, 1);
        else if (known < 0) list.push({ 'transit-area-id': formatAddress(area), 'router-id': id });
        if (list.length === 0) setMember(entry, 'virtual-links', undefined);
        draft.dropEmptyArea(0);
      }
      return `Virtual link between ${a} and ${b} through ${areaText(area)}${off ? ' taken away' : ''}`;
    };
  },
};
