import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { InputFile } from '../documents/documents';
/** Lays a prediction beside what real routers recorded, point by point. Only tests use this. */

interface Hop {
  'outgoing-interface': string;
  'next-hop'?: string;
  'next-hop-any'?: boolean;
}
interface RouteJson {
  prefix: string;
  metric?: number;
  'route-type': string;
  'route-type-any'?: string[];
  'forward-metric'?: number;
  'route-tag'?: number;
  'next-hops': { 'next-hop': Hop[] };
}
interface NeighborJson {
  'neighbor-router-id': string;
  address: string;
  state: string;
  'state-seen'?: string[];
}
interface InterfaceJson {
  name: string;
  state: string;
  cost?: number;
  passive?: boolean;
  'dr-router-id': string | null;
  'bdr-router-id': string | null;
  neighbors: { neighbor: NeighborJson[] };
}
interface LsaJson {
  type: number;
  'lsa-id': string;
  'adv-router': string;
  stale?: boolean;
  body?: unknown;
}
interface AreaJson {
  'area-id': string;
  interfaces: { interface: InterfaceJson[] };
  'virtual-links'?: { 'virtual-link': { 'transit-area-id': string; 'router-id': string; neighbors: { neighbor: NeighborJson[] } }[] };
  database?: { lsa: LsaJson[] };
}
interface OspfJson {
  'is-abr': boolean;
  'is-asbr': boolean;
  'local-rib': { route: RouteJson[] };
  areas: { area: AreaJson[] };
  database?: { 'as-external': LsaJson[] };
}
export interface RouterJson {
  'router-id'?: string;
  ospfv2?: OspfJson;
  ospfv3?: OspfJson;
  rib?: { prefix: string; source: string; 'next-hops': Hop[] }[];
}
export interface RecordedCase {
  fail?: string;
  ignore?: { what: string; router?: string; key?: string; reason: string }[];
  routers: Record<string, RouterJson>;
}

/** Right and all points of one kind, and the differences in words. */
export interface Outcome {
  readonly right: number;
  readonly points: number;
  readonly ignored: number;
  readonly differences: readonly string[];
}

const canon = (o: unknown): unknown => {
  if (Array.isArray(o)) return o.map(canon).sort((a, b) => (JSON.stringify(a) < JSON.stringify(b) ? -1 : 1));
  if (typeof o === 'object' && o !== null)
    return Object.fromEntries(
      Object.entries(o)
        .sort(([a], [b]) => (a < b ? -1 : 1))
        .map(([k, v]) => [k, canon(v)]),
    );
  return o;
};

const hopWords = (hops: readonly Hop[], any: ReadonlySet<string>): string =>
  hops
    .map((h) => `${h['outgoing-interface']} ${any.has(h['outgoing-interface']) ? '' : (h['next-hop'] ?? '')}`)
    .sort()
    .filter((h, i, all) => all[i - 1] !== h)
    .join(', ');

/** Next hops that differ, in words; `undefined` when they are the same. */
function hopDifference(got: readonly Hop[], wanted: readonly Hop[]): string | undefined {
  const any = new Set(wanted.flatMap((h) => (h['next-hop-any'] ? [h['outgoing-interface']] : [])));
  const [a, b] = [hopWords(got, any), hopWords(wanted, any)];
  return a === b ? undefined : `hops ${a || 'none'}, recorded ${b || 'none'}`;
}

const byKey = <T>(items: readonly T[], key: (t: T) => string): Map<string, T> => new Map(items.map((i) => [key(i), i]));

function neighbours(o: OspfJson | undefined): Map<string, NeighborJson> {
  const out = new Map<string, NeighborJson>();
  for (const a of o?.areas.area ?? []) {
    for (const i of a.interfaces.interface) for (const n of i.neighbors.neighbor) out.set(`${i.name} ${n.address}`, n);
    for (const l of a['virtual-links']?.['virtual-link'] ?? [])
      out.set(`virtual ${l['transit-area-id']} ${l['router-id']}`, {
        'neighbor-router-id': l['router-id'],
        address: '',
        state: l.neighbors.neighbor[0]?.state ?? 'down',
      });
  }
  return out;
}

/** By what names them; those of version 3, whose ids are counted, by type and originator with how many there are. */
function advertisements(o: OspfJson | undefined, version: 2 | 3): { lsas: Map<string, LsaJson & { count?: number }>; stale: Set<string> } {
  const lsas = new Map<string, LsaJson & { count?: number }>();
  const stale = new Set<string>();
  const put = (where: string, l: LsaJson): void => {
    if (l.stale) stale.add(`${where} ${l['adv-router']}`);
    else if (version === 3) {
      const key = `${where} ${l.type} ${l['adv-router']}`;
      lsas.set(key, { type: l.type, 'lsa-id': '', 'adv-router': l['adv-router'], count: (lsas.get(key)?.count ?? 0) + 1 });
    } else if (l.type <= 7) lsas.set(`${where} ${l.type} ${l['lsa-id']} ${l['adv-router']}`, l);
  };
  for (const a of o?.areas.area ?? []) for (const l of a.database?.lsa ?? []) put(a['area-id'], l);
  for (const l of o?.database?.['as-external'] ?? []) put('as', l);
  return { lsas, stale };
}

const elected = new Set(['dr', 'bdr', 'dr-other', 'waiting']);

/** Compares every router of a recorded case: flags, routes, neighbours, leaders, advertisements with bodies, own tables. */
export function compareRecorded(predicted: Readonly<Record<string, RouterJson>>, recorded: RecordedCase): Outcome {
  let right = 0;
  let points = 0;
  let ignored = 0;
  const differences: string[] = [];
  const matches = (pattern: string | undefined, text: string): boolean =>
    new RegExp(
      `^${(pattern ?? '*')
        .replace(/[.+^${}()|[\]\\]/g, '\\$&')
        .replaceAll('*', '.*')
        .replaceAll('?', '.')}$`,
    ).test(text);
  const point = (what: string, router: string, key: string, difference: string | undefined): void => {
    if (recorded.ignore?.some((g) => g.what === what && matches(g.router, router) && matches(g.key, key))) {
      ignored++;
      return;
    }
    points++;
    if (difference === undefined) right++;
    else differences.push(`${what} ${router} ${key}: ${difference}`);
  };
  for (const [name, wanted] of Object.entries(recorded.routers)) {
    const got = predicted[name] ?? {};
    point('flag', name, 'router-id', got['router-id'] === wanted['router-id'] ? undefined : String(got['router-id']));
    for (const version of [2, 3] as const) compareProcess(name, version, got[`ospfv${version}`], wanted[`ospfv${version}`]);
    compareRibs(point, name, got, wanted);
  }
  return { right, points, ignored, differences };

  function compareProcess(name: string, version: 2 | 3, g: OspfJson | undefined, w: OspfJson | undefined): void {
    if (!w) return;
    for (const f of ['is-abr', 'is-asbr'] as const)
      if (f in w) point('flag', name, `ospfv${version} ${f}`, g?.[f] === w[f] ? undefined : `${String(g?.[f])}, recorded ${String(w[f])}`);
    compareRoutes(point, name, g, w);
    const [gn, wn] = [neighbours(g), neighbours(w)];
    for (const key of new Set([...gn.keys(), ...wn.keys()])) {
      const [a, b] = [gn.get(key), wn.get(key)];
      if (!b && (a?.state ?? 'down') === 'down') continue;
      const allowed = b?.['state-seen'] ?? [b?.state ?? 'down'];
      point('neighbour', name, key, allowed.includes(a?.state ?? 'down') ? undefined : `${a?.state ?? 'down'}, recorded ${allowed.join(' or ')}`);
    }
    for (const area of w.areas.area) {
      const mine = byKey(g?.areas.area.find((a) => a['area-id'] === area['area-id'])?.interfaces.interface ?? [], (i) => i.name);
      for (const i of area.interfaces.interface) {
        if (i.passive) continue;
        const m = mine.get(i.name);
        const says = (x: InterfaceJson | undefined): string =>
          `${x?.state ?? 'down'}${x && elected.has(x.state) ? ` ${x['dr-router-id'] ?? '-'} ${x['bdr-router-id'] ?? '-'}` : ''}`;
        const cost =
          i.cost !== undefined && i.state !== 'loopback' && i.state !== 'down' && m?.cost !== i.cost
            ? `, cost ${String(m?.cost)} recorded ${i.cost}`
            : '';
        point('dr', name, i.name, says(m) === says(i) && cost === '' ? undefined : `${says(m)}, recorded ${says(i)}${cost}`);
      }
    }
    const [gl, wl] = [advertisements(g, version), advertisements(w, version)];
    // A second implementation's recording shows no databases.
    for (const key of w.database ? new Set([...gl.lsas.keys(), ...wl.lsas.keys()]) : []) {
      const [a, b] = [gl.lsas.get(key), wl.lsas.get(key)];
      if (!b && wl.stale.has(`${key.split(' ')[0] ?? ''} ${key.split(' ').at(-1) ?? ''}`)) continue;
      point(
        'lsa',
        name,
        key,
        a && b ? (a.count === b.count ? undefined : `${a.count ?? 0} of them, recorded ${b.count ?? 0}`) : a ? 'too many' : 'missing',
      );
      if (a && b?.body !== undefined)
        point('body', name, key, JSON.stringify(canon(a.body)) === JSON.stringify(canon(b.body)) ? undefined : JSON.stringify(a.body));
    }
  }
}

/** How many advertisements of each type a recorded router holds by area; `undefined` where it shows none, or old ones that were ageing out. */
export function recordedCounts(r: RouterJson, version: 2 | 3): Record<string, number> | undefined {
  const o = r[`ospfv${version}`];
  const lists = [
    ...(o?.areas.area ?? []).map((a) => ({ where: a['area-id'], list: a.database?.lsa ?? [] })),
    { where: 'as', list: o?.database?.['as-external'] ?? [] },
  ];
  if (!o?.database || lists.some((l) => l.list.some((x) => x.stale))) return undefined;
  const out: Record<string, number> = {};
  for (const { where, list } of lists)
    for (const l of list) if (version === 3 || l.type <= 7) out[`${where} ${l.type}`] = (out[`${where} ${l.type}`] ?? 0) + 1;
  return out;
}

type PointFunction = (what: string, router: string, key: string, difference: string | undefined) => void;

function compareRoutes(point: PointFunction, name: string, g: OspfJson | undefined, w: OspfJson): void {
  const [mine, theirs] = [byKey(g?.['local-rib'].route ?? [], (r) => r.prefix), byKey(w['local-rib'].route, (r) => r.prefix)];
  for (const key of new Set([...mine.keys(), ...theirs.keys()])) {
    const [a, b] = [mine.get(key), theirs.get(key)];
    if (!a || !b) {
      point('route', name, key, a ? 'too many' : 'missing');
      continue;
    }
    const wrong: string[] = [];
    if (!(b['route-type-any'] ?? [b['route-type']]).includes(a['route-type'])) wrong.push(`type ${a['route-type']}, recorded ${b['route-type']}`);
    if (b.metric !== undefined && a.metric !== b.metric) wrong.push(`cost ${String(a.metric)}, recorded ${b.metric}`);
    if (b['forward-metric'] !== undefined && b['route-type'].endsWith('2') && a['forward-metric'] !== b['forward-metric'])
      wrong.push(`forward metric ${String(a['forward-metric'])}, recorded ${b['forward-metric']}`);
    if (b['route-tag'] && a['route-tag'] !== b['route-tag']) wrong.push(`tag ${String(a['route-tag'])}, recorded ${b['route-tag']}`);
    const hops = hopDifference(a['next-hops']['next-hop'], b['next-hops']['next-hop']);
    if (hops !== undefined) wrong.push(hops);
    point('route', name, key, wrong.length === 0 ? undefined : wrong.join('; '));
  }
}

function compareRibs(point: PointFunction, name: string, got: RouterJson, wanted: RouterJson): void {
  if (!wanted.rib) return;
  const [mine, theirs] = [byKey(got.rib ?? [], (r) => r.prefix), byKey(wanted.rib, (r) => r.prefix)];
  for (const key of new Set([...mine.keys(), ...theirs.keys()])) {
    const [a, b] = [mine.get(key), theirs.get(key)];
    if (!a || !b) point('rib', name, key, a ? 'too many' : 'missing');
    else if (a.source !== b.source) point('rib', name, key, `${a.source}, recorded ${b.source}`);
    else point('rib', name, key, a.source === 'ospf' ? hopDifference(a['next-hops'], b['next-hops']) : undefined);
  }
}

const recordedRoot = join(__dirname, '../../recorded');

/** Folders of recorded networks. */
export const recordedFolders = readdirSync(recordedRoot).filter((n) => /^\d/.test(n));

/** The documents of a recorded network, its topology among them where it has one. */
export function recordedDocuments(folder: string): InputFile[] {
  const at = join(recordedRoot, folder);
  const files = readdirSync(join(at, 'routers')).map((n) => ({ name: n, content: readFileSync(join(at, 'routers', n), 'utf8') }));
  const topology = join(at, 'topology.json');
  return existsSync(topology) ? [...files, { name: 'topology.json', content: readFileSync(topology, 'utf8') }] : files;
}
