import type { Speaker } from '../adjacency/speakers';
import { backbone } from '../design/design';
import { areaKindOf, type AreaKind } from '../design/terms';
import { pathTo } from '../evidence/route-evidence';
import type { AreaDatabase } from '../lsdb/area-database';
import { formatAddress } from '../prefix/address';
import type { Prediction } from '../predict';
import { areaWords } from './flooding';
import { heldIn } from './held';
import { routerNamed, typeName, typeOf, typeText } from './lsa-words';

/** How many advertisements of a type an area puts on each of its routers. */
export interface TypeLoad {
  /** As it is written: `3`, `0x2003`. */
  readonly type: string;
  readonly name: string;
  readonly count: number;
}

/** A router with a part in an area, and what it is there. */
export interface RoleAt {
  readonly router: string;
  /** Why it is that, in a sentence. */
  readonly why: string;
  /** Nothing but interfaces without neighbours make it so: probably left over. */
  readonly leftOver: boolean;
}

/** A virtual link as its ends have it. */
export interface VirtualLinkSeen {
  readonly ends: readonly [string, string];
  readonly through: number;
  /** Cost of its path through the transit area; `undefined`: down. */
  readonly cost: number | undefined;
  /** Routers of that path, from the first end to the second; empty while it is down. */
  readonly path: readonly string[];
}

/** One area as its routers have it. */
export interface AreaGlance {
  readonly id: number;
  /** Its type as each router has it, the most usual first: more than one is a disagreement. */
  readonly kinds: readonly { readonly kind: AreaKind; readonly routers: readonly string[] }[];
  readonly routers: readonly string[];
  readonly borders: readonly RoleAt[];
  readonly boundaries: readonly RoleAt[];
  /** Routers that hear each other; more than one list: the area is in pieces. */
  readonly pieces: readonly (readonly string[])[];
  /** How it hangs on the backbone. */
  readonly attached: 'backbone' | 'directly' | 'by virtual link' | 'not at all';
  readonly virtualLinks: readonly VirtualLinkSeen[];
  /** Advertisements that each router of it holds, of its fullest piece, by type; types 5 among them where these come in. */
  readonly load: readonly TypeLoad[];
  /** What an expectation of the design allows at most, by type. */
  readonly limits: readonly { readonly type: string; readonly atMost: number; readonly name: string }[];
  /** What an expectation allows the table of one of its routers at most. */
  readonly tables: readonly { readonly router: string; readonly atMost: number; readonly name: string }[];
}

/** Type of an area in one router. Whether summaries come in is the border routers' to say; the others have it as these do. */
function kindIn(p: Prediction, s: Speaker, area: number, totally: boolean): AreaKind {
  const { type, summary } = p.routing.areaOf(s, area);
  return areaKindOf(type, p.routing.isBorderRouter(s) ? summary : !totally);
}

function kindsOf(p: Prediction, area: number, speakers: readonly Speaker[]): AreaGlance['kinds'] {
  const borders = speakers.filter((s) => p.routing.isBorderRouter(s));
  const totally = borders.length > 0 && borders.every((s) => !p.routing.areaOf(s, area).summary);
  const by = new Map<AreaKind, string[]>();
  for (const s of speakers) {
    const kind = kindIn(p, s, area, totally);
    const list = by.get(kind);
    if (list) list.push(s.router.name);
    else by.set(kind, [s.router.name]);
  }
  return [...by].map(([kind, routers]) => ({ kind, routers })).sort((a, b) => b.routers.length - a.routers.length);
}

const some = (names: readonly string[]): string =>
  names.length > 4 ? `${names.slice(0, 3).join(', ')} and ${names.length - 3} more` : names.join(', ');

/** Why a router stands between areas: its interfaces in each, and whether anybody answers there. */
function borderRole(p: Prediction, s: Speaker): RoleAt {
  const areas = p.routing.areasOf(s).map((id) => {
    const ports = s.ports.filter((x) => x.area.id === id && x.up);
    const neighbours = ports.flatMap((x) => p.adjacencies.views[x.index] ?? []).filter((v) => v.state === 'full').length;
    return { id, names: ports.map((x) => x.iface.name), neighbours, virtual: ports.length === 0 };
  });
  const parts = areas.map((a) =>
    a.virtual
      ? `${areaWords(a.id)} by a virtual link`
      : `${areaWords(a.id)} by ${some(a.names)}${a.neighbours === 0 ? ' (nobody answers there)' : ''}`,
  );
  const passes = p.routing.isBorderRouter(s);
  const empty = areas.filter((a) => !a.virtual && a.neighbours === 0);
  return {
    router: s.router.name,
    why: `It has ${parts.join(', ')}${passes ? '.' : ': without the backbone it passes nothing on (RFC 3509 §2).'}`,
    leftOver: areas.length > 1 && empty.length > 0 && empty.length < areas.length && empty.some((a) => a.id === backbone),
  };
}

function boundaryRole(p: Prediction, s: Speaker): RoleAt {
  const { redistribution, defaultRoute } = s.instance;
  const said = [
    ...redistribution.map(
      (r) =>
        `brings ${r.source} routes in as ${r.metricType}, metric ${r.metric}${r.policies.length > 0 ? `, by the policy ${r.policies.join(', ')}` : ', all of them'}`,
    ),
    ...(defaultRoute
      ? [
          `announces a default ${defaultRoute.announce === 'always' ? 'always' : 'while it has one'}, ${defaultRoute.metricType}, metric ${defaultRoute.metric}`,
        ]
      : []),
    ...(p.routing.domain.translating.has(s.index) ? ['translates type 7 into type 5'] : []),
  ];
  return { router: s.router.name, why: `It ${said.join('; ')}.`, leftOver: false };
}

/** What each router of one piece of an area holds for it, by type. */
export function loadOf(p: Prediction, db: AreaDatabase): TypeLoad[] {
  const counts = new Map<number, number>();
  for (const { lsa } of heldIn(p, db)) {
    const type = typeOf(lsa);
    counts.set(type, (counts.get(type) ?? 0) + 1);
  }
  return [...counts].sort(([a], [b]) => a - b).map(([type, count]) => ({ type: typeText(type), name: typeName(type), count }));
}

const total = (load: readonly TypeLoad[]): number => load.reduce((n, l) => n + l.count, 0);

function attachmentOf(p: Prediction, id: number, borders: readonly Speaker[]): AreaGlance['attached'] {
  if (id === backbone) return 'backbone';
  const able = borders.filter((s) => p.routing.isBorderRouter(s) && p.routing.areasOf(s).includes(backbone));
  if (able.length === 0) return 'not at all';
  return able.some((s) => s.ports.some((x) => x.area.id === backbone && x.up)) ? 'directly' : 'by virtual link';
}

function virtualLinksOf(p: Prediction, area: number): VirtualLinkSeen[] {
  const out = new Map<string, VirtualLinkSeen>();
  for (const s of p.adjacencies.speakers)
    for (const v of s.instance.areas.flatMap((a) => a.virtualLinks)) {
      if (v.transitArea !== area && area !== backbone) continue;
      const ends = [s.router.name, routerNamed(p, v.routerId)].sort() as [string, string];
      const up = p.routing.virtuals.find((x) => x.speaker === s.index && x.peerId === v.routerId && x.transitArea === v.transitArea);
      const key = `${ends.join(' ')} ${v.transitArea}`;
      if (!out.has(key) || up) {
        const tree = up && p.routing.tree(s, v.transitArea);
        const peer = tree?.graph.vertexOfRouter.get(v.routerId);
        const path = tree && peer !== undefined ? pathTo(p, tree, peer).steps.map((x) => x.router) : [];
        out.set(key, { ends, through: v.transitArea, cost: up?.cost, path: path[0] === ends[0] ? path : [...path].reverse() });
      }
    }
  return [...out.values()];
}

/** Every area of the design at one look: type, borders, pieces, how it hangs on the backbone, and its load (RFC 2328 §3). */
export function areasAtAGlance(p: Prediction): AreaGlance[] {
  const { speakers } = p.adjacencies;
  const ids = [...new Set(p.routing.databases.map((d) => d.areaId))].sort((a, b) => a - b);
  return ids.map((id) => {
    const pieces = p.routing.databases.filter((d) => d.areaId === id);
    const own = pieces.flatMap((d) => d.speakers.flatMap((n) => speakers[n] ?? []));
    const between = own.filter((s) => p.routing.areasOf(s).length > 1);
    const loads = pieces.map((d) => loadOf(p, d)).sort((a, b) => total(b) - total(a));
    return {
      id,
      kinds: kindsOf(p, id, own),
      routers: own.map((s) => s.router.name),
      borders: between.map((s) => borderRole(p, s)),
      boundaries: own.filter((s) => p.routing.isBoundaryRouter(s)).map((s) => boundaryRole(p, s)),
      pieces: pieces.map((d) => d.speakers.map((n) => speakers[n]?.router.name ?? '')),
      attached: attachmentOf(p, id, between),
      virtualLinks: virtualLinksOf(p, id),
      load: loads[0] ?? [],
      limits: p.design.settings.expectations.flatMap((e) =>
        e.kind === 'advertisements' && e.area === id && (e.family ?? p.family) === p.family
          ? [{ type: typeText(p.family === 6 ? (e.type === 5 ? 0x4000 : 0x2000) | e.type : e.type), atMost: e.atMost, name: e.name }]
          : [],
      ),
      tables: p.design.settings.expectations.flatMap((e) =>
        e.kind === 'table' && own.some((s) => s.router.name === e.router) && (e.family ?? p.family) === p.family
          ? [{ router: e.router, atMost: e.atMost, name: e.name }]
          : [],
      ),
    };
  });
}

/** The area's id as people write it, and its words. */
export const areaText = (id: number): string => (id < 256 ? String(id) : formatAddress(id));
