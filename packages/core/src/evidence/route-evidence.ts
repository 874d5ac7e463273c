import { prefixBook, prefixId } from '../prefix/prefix-book';
import type { Speaker } from '../adjacency/speakers';
import { lsaBody, lsaKey, type LsaKey } from '../lsdb/lsa-body';
import { type Lsa } from '../lsdb/lsa';
import { covers, formatAddress, formatPrefix } from '../prefix/address';
import { lengthOfMask, type Ipv4 } from '../prefix/ipv4';
import type { Prediction } from '../predict';
import type { Route } from '../routes/route';
import type { RibRoute } from '../routes/rib';
import type { Tree } from '../spf/shortest-path-tree';

/** One router on the way through an area, with the distance from the start. */
export interface PathStep {
  readonly router: string;
  readonly distance: number;
  /** The step before crosses a LAN led by this address. */
  readonly throughNetwork?: string;
}

/** Where an advertisement comes from: the router, and the interface or node of its document that made it. */
export interface Origin {
  readonly router: string;
  readonly iface?: string;
  readonly area: string;
  /** Which node of the document made it. */
  readonly node: 'interface' | 'ranges' | 'external-ranges' | 'area' | 'redistribution' | 'default' | 'none';
}

/** One link in the chain from a route to what was configured. */
export type EvidenceStep =
  | {
      readonly kind: 'own-table';
      readonly source: RibRoute['source'];
      readonly preference: number;
      readonly passedOver: readonly { readonly source: string; readonly preference: number }[];
    }
  | {
      readonly kind: 'rule';
      readonly rule: string;
      readonly type: Route['type'];
      readonly metric: number;
      readonly forwardMetric?: number;
      readonly area: string;
    }
  | {
      readonly kind: 'advertisement';
      readonly lsa: LsaKey;
      readonly body: Record<string, unknown>;
      readonly area: string;
      readonly origin: Origin;
      readonly metric: number;
      readonly says: string;
    }
  | {
      readonly kind: 'path';
      readonly area: string;
      readonly to: string;
      readonly distance: number;
      readonly steps: readonly PathStep[];
      readonly alsoVia: number;
    }
  | { readonly kind: 'at-border'; readonly router: string; readonly prefixes: readonly string[] }
  /** A summary of the router's own: what no part of it takes is dropped. */
  | { readonly kind: 'discard'; readonly origin: Origin; readonly parts: readonly string[] };

export interface RouteEvidence {
  readonly router: string;
  readonly prefix: string;
  readonly steps: readonly EvidenceStep[];
}

const nameOf = (p: Prediction, speaker: number): string => p.adjacencies.speakers[speaker]?.router.name ?? '';

/** The way through a tree to a vertex, router by router, along the first of equal parents; and how many other equal ways there are on it. */
export function pathTo(p: Prediction, tree: Tree, vertex: number): { steps: PathStep[]; alsoVia: number } {
  const steps: PathStep[] = [];
  let alsoVia = 0;
  let through: string | undefined;
  for (let v: number | undefined = vertex; v !== undefined; v = tree.parents(v)[0]) {
    alsoVia += Math.max(tree.parents(v).length - 1, 0);
    const router = tree.graph.routers[v];
    if (!router) {
      through = formatAddress(tree.graph.networks[v - tree.graph.routers.length]?.id ?? 0);
      continue;
    }
    const last = steps.at(-1);
    if (last && through !== undefined) steps[steps.length - 1] = { ...last, throughNetwork: through };
    through = undefined;
    steps.push({ router: nameOf(p, router.speaker), distance: tree.distance[v] ?? 0 });
  }
  return { steps: steps.reverse(), alsoVia };
}

function stepPath(p: Prediction, s: Speaker, area: number, to: Ipv4): EvidenceStep[] {
  const tree = p.routing.tree(s, area);
  const v = tree?.graph.vertexOfRouter.get(to);
  if (!tree || v === undefined) return [];
  const { steps, alsoVia } = pathTo(p, tree, v);
  return [
    { kind: 'path', area: formatAddress(area), to: nameOf(p, tree.graph.routers[v]?.speaker ?? -1), distance: tree.distance[v] ?? 0, steps, alsoVia },
  ];
}

/** What one advertisement says about a prefix, and who wrote it for which interface. */
function advertisement(p: Prediction, lsa: Lsa, route: Route): EvidenceStep {
  const base = { kind: 'advertisement' as const, lsa: lsaKey(lsa), body: lsaBody(lsa), area: formatAddress(route.area) };
  switch (lsa.type) {
    case 9: {
      const own = lsa.prefixes.find((x) => prefixId(x.bits, x.length) === route.key);
      const port = own?.port ?? (lsa.of.type === 2 ? lsa.of.port : undefined);
      return {
        ...base,
        origin: { router: nameOf(p, lsa.speaker), area: base.area, node: 'interface', ...(port ? { iface: port.iface.name } : {}) },
        metric: own?.metric ?? 0,
        says:
          lsa.of.type === 2
            ? `leads the LAN with ${formatPrefix(route)}, which its ${lsa.of.routers.length} routers bring together`
            : `has ${formatPrefix(route)} on ${port?.iface.name ?? 'an interface'} at cost ${own?.metric ?? 0}`,
      };
    }
    case 1: {
      const link = lsa.links.find((l) => l.kind === 'stub' && prefixId(l.id, lengthOfMask(l.data) ?? 32) === route.key);
      const origin = {
        router: nameOf(p, lsa.speaker),
        area: base.area,
        node: 'interface' as const,
        ...(link?.port ? { iface: link.port.iface.name } : {}),
      };
      return {
        ...base,
        origin,
        metric: link?.metric ?? 0,
        says: `has ${formatPrefix(route)} on ${link?.port?.iface.name ?? 'an interface'} at cost ${link?.metric ?? 0}`,
      };
    }
    case 2:
      return {
        ...base,
        origin: { router: nameOf(p, lsa.port.speaker), iface: lsa.port.iface.name, area: base.area, node: 'interface' },
        metric: 0,
        says: `leads the LAN ${formatPrefix(route)} with ${lsa.routers.length} routers on it`,
      };
    case 3:
    case 4: {
      const from = formatAddress(lsa.fromArea);
      const why = {
        'intra-area': `brings it from area ${from}`,
        'inter-area': 'passes it on from the backbone',
        range: `sums up ${lsa.parts?.length === 1 ? '1 prefix' : `${lsa.parts?.length ?? 0} prefixes`} of area ${from}`,
        'stub-default': 'stands in for all that does not come in',
        'boundary-router': `knows the way to a boundary router in area ${from}`,
      }[lsa.reason];
      const node = lsa.reason === 'range' ? 'ranges' : lsa.reason === 'stub-default' ? 'area' : 'none';
      return {
        ...base,
        origin: { router: nameOf(p, lsa.speaker), area: node === 'ranges' ? from : base.area, node },
        metric: lsa.metric,
        says: `${why}, at cost ${lsa.metric}`,
      };
    }
    case 5:
    case 7: {
      const forward = lsa.forwarding === 0 ? '' : `, to be sent to ${formatAddress(lsa.forwarding)}`;
      const node =
        lsa.reason === 'default' ? 'default' : lsa.reason === 'nssa-default' ? 'area' : lsa.reason === 'translated' ? 'none' : 'redistribution';
      return {
        ...base,
        origin: { router: nameOf(p, lsa.speaker), area: base.area, node },
        metric: lsa.metric,
        says: `announces it from outside (${lsa.reason}) as ${lsa.metricType} at ${lsa.metric}${forward}`,
      };
    }
  }
}

/** How many border routers a chain is followed through. */
const deepest = 3;

function ospfSteps(p: Prediction, s: Speaker, route: Route, depth = 0): EvidenceStep[] {
  const out: EvidenceStep[] = [
    {
      kind: 'rule',
      rule: route.rule,
      type: route.type,
      metric: route.metric,
      area: formatAddress(route.area),
      ...(route.forwardMetric === undefined ? {} : { forwardMetric: route.forwardMetric }),
    },
  ];
  for (const lsa of depth === 0 ? route.sources : route.sources.slice(0, 1)) {
    out.push(advertisement(p, lsa, route));
    out.push(...stepPath(p, s, route.area, lsa.adv));
    if (lsa.type === 3 && lsa.reason !== 'stub-default') {
      const parts = lsa.parts?.map(formatPrefix) ?? [formatPrefix(lsa)];
      out.push({ kind: 'at-border', router: nameOf(p, lsa.speaker), prefixes: parts });
      const border = p.adjacencies.speakers[lsa.speaker];
      const part = lsa.parts?.[0] ?? lsa;
      const there = border && p.routing.table(border).get(prefixId(part.bits, part.length));
      if (border && there && depth < deepest && lsa === route.sources[0]) out.push(...ospfSteps(p, border, there, depth + 1));
    }
    // A translator has it from inside an NSSA: the chain goes on there.
    if (lsa.type === 5 && lsa.reason === 'translated' && depth < deepest && lsa === route.sources[0]) {
      const translator = p.adjacencies.speakers[lsa.speaker];
      const inside = translator && p.routing.table(translator).get(route.key);
      if (translator && inside?.type.startsWith('nssa')) {
        out.push({ kind: 'at-border', router: translator.router.name, prefixes: [formatPrefix(route)] });
        out.push(...ospfSteps(p, translator, inside, depth + 1));
      }
    }
  }
  return out;
}

/** The summaries of a router's own that stand behind a discard route, with the parts that bring them in force (RFC 2328 §12.4.3, RFC 3101 §3.2). */
function discardSteps(p: Prediction, s: Speaker, key: number): EvidenceStep[] {
  const table = p.routing.table(s);
  const whole = prefixBook.prefix(key);
  const origin = { router: s.router.name };
  const active = p.routing.activeRanges(s, table).get(key);
  if (active) {
    const parts = [...table.values()].filter((r) => r.type === 'intra-area' && r.area === active.area && covers(whole, r));
    return [{ kind: 'discard', origin: { ...origin, area: formatAddress(active.area), node: 'ranges' }, parts: parts.map(formatPrefix) }];
  }
  const folded = p.routing.externals(s).some((l) => l.speaker === s.index && l.reason === 'external-range' && prefixId(l.bits, l.length) === key);
  if (!folded) return [];
  const imported = p.routing.localRoutes(s).filter((r) => covers(whole, r) && s.instance.redistribution.some((x) => x.source === r.source));
  const translated = [...table.values()].filter((r) => r.type.startsWith('nssa') && covers(whole, r));
  const parts = [...new Set([...imported, ...translated].map(formatPrefix))];
  return [{ kind: 'discard', origin: { ...origin, area: formatAddress(0), node: 'external-ranges' }, parts }];
}

/**
 * Why a router's table holds a route: what won, by which rule, on which advertisements, over which path. The chain is
 * data; sentences are made of it elsewhere. `undefined` when the router has no route to that prefix at all.
 */
export function routeEvidence(p: Prediction, routerIndex: number, key: number): RouteEvidence | undefined {
  const rib = p.rib(routerIndex).find((r) => r.key === key);
  const router = p.design.routers[routerIndex]?.name ?? '';
  const speakers = p.speakersOf(routerIndex);
  const computed = speakers.flatMap((s) => {
    const route = p.routing.table(s).get(key);
    return route ? [{ s, route }] : [];
  });
  if (!rib && computed.length === 0) return undefined;
  const steps: EvidenceStep[] = [];
  if (rib) {
    const passedOver = [
      ...p
        .localRoutes(routerIndex)
        .filter((l) => l.key === key && l.source !== rib.source)
        .map((l) => ({ source: l.source, preference: l.preference })),
      ...(rib.source === 'ospf' ? [] : computed.map(({ s }) => ({ source: 'ospf', preference: s.instance.preference.intra }))),
    ];
    steps.push({ kind: 'own-table', source: rib.source, preference: rib.preference, passedOver });
  }
  if (rib?.source === 'ospf-discard') for (const s of speakers) steps.push(...discardSteps(p, s, key));
  for (const { s, route } of computed) steps.push(...ospfSteps(p, s, route));
  return { router, prefix: prefixBook.text(key), steps };
}
