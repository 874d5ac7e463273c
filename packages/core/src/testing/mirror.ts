import type { Family } from '../design/family';
import type { SourceDocument } from '../documents/documents';
import type { FailureSpec } from '../failures/outage';
import { designFrom } from '../formats/read-set';
import { predict, type Prediction } from '../predict';
import { formatPrefix } from '../prefix/address';
import { parseIpv4, parseTypedPrefix } from '../prefix/ipv4';
import { formatIpv6, parseIpv6 } from '../prefix/ipv6';

type Json = Record<string, unknown>;

const site = parseIpv6('2001:db8:f000::') ?? 0n;
const wire = parseIpv6('fe80::') ?? 0n;

/** The IPv6 address that stands for an IPv4 one: a site of its own with the 32 bits behind. */
export const six = (four: string): string => formatIpv6(site | BigInt(parseIpv4(four) ?? 0));

/** The link-local address of the interface whose IPv4 address this is. */
export const linkLocal = (four: string): string => formatIpv6(wire | BigInt(parseIpv4(four) ?? 0));

/** The IPv6 prefix that stands for an IPv4 one: 96 bits longer; the default is the default. */
export function sixPrefix(four: string): string {
  const [address = '', length = '32'] = four.split('/');
  return length === '0' ? '::/0' : `${six(address)}/${96 + Number(length)}`;
}

const list = (x: unknown): readonly Json[] => (Array.isArray(x) ? (x as Json[]) : []);
const child = (x: unknown, key: string): Json | undefined => {
  const o = x as Json | undefined;
  return o === undefined ? undefined : ((o[key] ?? Object.entries(o).find(([k]) => k.split(':').at(-1) === key)?.[1]) as Json | undefined);
};
const put = (o: Json, key: string, value: unknown): void => {
  o[Object.keys(o).find((k) => k.split(':').at(-1) === key) ?? key] = value;
};

/** Addresses of interfaces, with a link-local one beside them; an interface without any has just IPv6 on. */
function mirrorInterface(i: Json): Json {
  const four = child(i, 'ipv4');
  if (!four) return {};
  const addresses = list(four['address']);
  const first = addresses[0]?.['ip'] as string | undefined;
  const loopback = String(i['type']).endsWith('softwareLoopback');
  const mtu = four['mtu'] as number | undefined;
  return {
    'ietf-ip:ipv6': {
      ...(four['enabled'] === undefined ? {} : { enabled: four['enabled'] }),
      ...(mtu === undefined || mtu < 1280 ? {} : { mtu }),
      address: [
        ...addresses.map((a) => ({ ip: six(String(a['ip'])), 'prefix-length': 96 + Number(a['prefix-length']) })),
        ...(first === undefined || loopback ? [] : [{ ip: linkLocal(first), 'prefix-length': 64 }]),
      ],
    },
  };
}

const prefixLeaves = new Set(['prefix', 'match']);
/** What is typed in any form of a prefix, as the like of it. */
function typedLike(x: string): string {
  const p = /^[\d./ ]+$/.test(x) ? parseTypedPrefix(x) : undefined;
  return p ? sixPrefix(formatPrefix(p)) : x;
}

/** An OSPFv2 tree in the words of OSPFv3. */
function mirrorOspf(x: unknown, key = ''): unknown {
  if (Array.isArray(x)) return x.map((y) => (key === 'advertise' && typeof y === 'string' ? sixPrefix(y) : mirrorOspf(y, key)));
  if (typeof x === 'string') {
    if (prefixLeaves.has(key)) return typedLike(x);
    if (key === 'identifier') return linkLocal(x);
    if (key === 'next-hop') return six(x);
    return x;
  }
  if (typeof x !== 'object' || x === null) return x;
  return Object.fromEntries(
    Object.entries(x).map(([k, v]) => {
      const bare = k.split(':').at(-1) ?? k;
      const name = bare === 'ospfv2-key-id' ? 'ospfv3-sa-id' : bare.startsWith('ospfv2-') ? bare.replace('ospfv2-', 'ospfv3-') : k;
      return [name, mirrorOspf(v, bare)];
    }),
  );
}

const staticRoutes = (routes: readonly Json[]): Json[] =>
  routes.map((r) => {
    const hop = { ...(r['next-hop'] as Json) };
    if (typeof hop['next-hop-address'] === 'string') hop['next-hop-address'] = six(hop['next-hop-address']);
    return { ...r, 'destination-prefix': sixPrefix(String(r['destination-prefix'])), 'next-hop': hop };
  });

/** Processes and static routes of IPv6. */
function mirrorProtocol(p: Json): Json[] {
  const type = String(p['type']).split(':').at(-1);
  if (type === 'ospfv2') return [{ type: 'ietf-ospf:ospfv3', name: p['name'], ospf: mirrorOspf(child(p, 'ospf')) }];
  const routes = list(child(child(p, 'static-routes'), 'ipv4')?.['route']);
  if (routes.length === 0) return [];
  const name = `${String(p['name'])}-6`;
  return [{ type: 'static', name, 'static-routes': { 'ietf-ipv6-unicast-routing:ipv6': { route: staticRoutes(routes) } } }];
}

/** What is expected of one family is expected of the other. */
function mirrorExpectations(settings: Json | undefined): void {
  if (!settings?.['expectation']) return;
  const all = list(settings['expectation']);
  const address = (x: unknown): unknown => (typeof x === 'string' && parseIpv4(x) !== undefined ? six(x) : x);
  settings['expectation'] = [
    ...all,
    ...all.map((e) => ({
      ...e,
      name: `${String(e['name'])}, IPv6`,
      family: 6,
      ...(e['from'] === undefined ? {} : { from: address(e['from']), to: address(e['to']) }),
      ...(e['prefix'] === undefined ? {} : { prefix: sixPrefix(e['prefix'] as string) }),
    })),
  ];
}

/** What addresses of one family are taken from, there is a like for the other. */
function mirrorPools(settings: Json | undefined): void {
  const pools = list(settings?.['pool']);
  if (settings && pools.length > 0) settings['pool'] = [...pools, ...pools.map((p) => ({ ...p, prefix: sixPrefix(String(p['prefix'])) }))];
}

/** Prefix sets that take both. */
function mirrorSets(tree: Json): void {
  const sets = list(child(child(child(tree, 'routing-policy'), 'defined-sets'), 'prefix-sets')?.['prefix-set']);
  for (const s of sets) {
    const lines = list(child(s, 'prefixes')?.['prefix-list']);
    s['mode'] = 'mixed';
    const longer = (x: unknown): number => Number(x) + (Number(x) === 0 ? 0 : 96);
    (child(s, 'prefixes') as Json)['prefix-list'] = [
      ...lines,
      ...lines.map((l) => ({
        ...l,
        'ip-prefix': sixPrefix(String(l['ip-prefix'])),
        ...(l['mask-length-lower'] === undefined ? {} : { 'mask-length-lower': longer(l['mask-length-lower']) }),
        ...(l['mask-length-upper'] === undefined ? {} : { 'mask-length-upper': longer(l['mask-length-upper']) }),
      })),
    ];
  }
}

/**
 * The same network with IPv6 and OSPFv3 beside IPv4 and OSPFv2: every address, prefix, process, static route and policy of
 * the one has its like in the other, so that what one family computes can be held against what the other does.
 */
export function mirrored(documents: readonly SourceDocument[]): SourceDocument[] {
  return structuredClone(documents).map((d) => {
    const tree = d.tree as Json;
    mirrorExpectations(child(tree, 'settings'));
    mirrorPools(child(tree, 'settings'));
    const interfaces = child(tree, 'interfaces');
    if (!interfaces) return d;
    interfaces['interface'] = list(interfaces['interface']).map((i) => {
      const bare = Object.fromEntries(Object.entries(i).filter(([k]) => k !== 'ipv6'));
      return { ...bare, ...mirrorInterface(i) };
    });
    const protocols = child(child(tree, 'routing'), 'control-plane-protocols');
    const all = list(protocols?.['control-plane-protocol']);
    if (protocols) put(protocols, 'control-plane-protocol', [...all, ...all.flatMap(mirrorProtocol)]);
    mirrorSets(tree);
    return { ...d, tree };
  });
}

/** The documents from which a family is to be computed: for IPv6 its like stands beside IPv4. */
export const documentsFor = (family: Family, documents: readonly SourceDocument[]): readonly SourceDocument[] =>
  family === 6 ? mirrored(documents) : documents;

/** What a family makes of documents. */
export const predictFor = (family: Family, documents: readonly SourceDocument[], failures: readonly FailureSpec[] = []): Prediction =>
  predict(designFrom(documents).design, failures, { family });

/** A prefix of an IPv4 plan as a family has it. */
export const prefixFor = (family: Family, prefix: string): string => (family === 6 ? sixPrefix(prefix) : prefix);

/** Host names by the addresses that hellos come from and packets are sent to. */
export const ownersOf = (p: Prediction): ReadonlyMap<number, string> =>
  new Map(
    p.design.routers.flatMap((r) =>
      r.interfaces.flatMap((i) =>
        [...i.addresses.map((a) => a.bits), ...(i.linkLocal ? [i.linkLocal.address] : [])].map((a) => [a, r.name] as const),
      ),
    ),
  );
