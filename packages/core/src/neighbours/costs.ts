import type { Port } from '../adjacency/speakers';
import type { Prediction } from '../predict';

/** The cost of one direction, with what it comes from. */
export interface DirectionCost {
  readonly router: string;
  readonly iface: string;
  readonly cost: number;
  readonly from: Port['costFrom'];
  readonly mbps: number | undefined;
}

/** Both directions of a link, or of a router to a LAN and back (which is free, RFC 2328 §16.1). */
export interface CostRow {
  readonly segment: number;
  readonly a: DirectionCost;
  readonly b: DirectionCost;
  /** `differs`: the directions; `speed`: the two ends know other bandwidths for one wire. */
  readonly note: '' | 'differs' | 'speed';
}

/** A reference bandwidth with those who use it, in Mbit/s. */
export interface ReferenceUse {
  readonly mbps: number;
  readonly routers: readonly string[];
  /** Interfaces of unlike speed that all cost 1 by it: in Mbit/s. */
  readonly flat: readonly number[];
}

const directionOf = (p: Prediction, x: Port): DirectionCost => ({
  router: p.design.routers[x.routerIndex]?.name ?? '',
  iface: x.iface.name,
  cost: x.cost,
  from: x.costFrom,
  mbps: x.iface.bandwidthMbps,
});

/** Costs of every full pair in both directions, those that differ first, and the reference bandwidths that stand behind them. */
export function costsOf(p: Prediction): { readonly rows: readonly CostRow[]; readonly references: readonly ReferenceUse[] } {
  const rows = p.adjacencies.pairs
    .filter((x) => x.a.state === 'full' && x.b.state === 'full')
    .map((x): CostRow => {
      const [a, b] = [directionOf(p, x.a.port), directionOf(p, x.a.peer)];
      const speed = a.mbps !== undefined && b.mbps !== undefined && a.mbps !== b.mbps;
      return { segment: x.segment, a, b, note: a.cost !== b.cost ? 'differs' : speed ? 'speed' : '' };
    });
  const by = new Map<number, { routers: string[]; flat: Set<number> }>();
  for (const s of p.adjacencies.speakers) {
    const derived = s.ports.filter((x) => x.costFrom === 'reference-bandwidth');
    if (derived.length === 0) continue;
    const use = by.get(s.instance.referenceBandwidth) ?? { routers: [], flat: new Set<number>() };
    by.set(s.instance.referenceBandwidth, use);
    use.routers.push(s.router.name);
    for (const x of derived) if (x.cost === 1 && x.iface.bandwidthMbps !== undefined) use.flat.add(x.iface.bandwidthMbps);
  }
  const references = [...by].map(([mbps, { routers, flat }]) => ({
    mbps,
    routers: routers.sort(),
    flat: flat.size > 1 ? [...flat].sort((a, b) => a - b) : [],
  }));
  const rank = { differs: 0, speed: 1, '': 2 } as const;
  return { rows: rows.sort((x, y) => rank[x.note] - rank[y.note]), references: references.sort((x, y) => y.routers.length - x.routers.length) };
}
