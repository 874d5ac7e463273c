import type { Plan } from './random-campus';

/**
 * A slow and obvious reference for random plans, written from RFC 2328's words with nothing shared with the engine:
 * all distances by Floyd and Warshall (§16.1), summaries passed on until nothing changes (§12.4.3, §16.2), externals
 * compared pair by pair (§16.4, §16.4.1). Costs and first hops only, `prefix -> type cost hops`.
 */
export type ReferenceTable = Map<string, { type: string; cost: number; forward: number | undefined; hops: string[] }>;

interface Node {
  readonly router?: number;
  readonly lan?: number;
}
interface AreaWorld {
  readonly id: number;
  readonly nodes: readonly Node[];
  readonly distance: readonly (readonly number[])[];
  readonly members: readonly number[];
}

const far = Infinity;

/** Network of an area as a complete matrix of distances between routers and LANs. */
function worldOf(plan: Plan, id: number): AreaWorld {
  const members = plan.routers.flatMap((r, n) => {
    const wired =
      plan.cables.some((c) => c.area === id && (c.a === n || c.b === n)) ||
      plan.lans.some((l) => l.area === id && l.members.some((m) => m.router === n)) ||
      plan.users.some((u) => u.area === id && u.router === n);
    return r.home === id || wired ? [n] : [];
  });
  const nodes: Node[] = [
    ...members.map((router) => ({ router })),
    ...plan.lans.flatMap((l, lan) => (l.area === id && l.members.length > 1 && l.type === 'broadcast' ? [{ lan }] : [])),
  ];
  const at = (router: number): number => nodes.findIndex((x) => x.router === router);
  const d: number[][] = nodes.map((_, i) => nodes.map((__, j) => (i === j ? 0 : far)));
  const edge = (i: number, j: number, cost: number): void => {
    const row = d[i];
    if (row) row[j] = Math.min(row[j] ?? far, cost);
  };
  for (const c of plan.cables)
    if (c.area === id) {
      edge(at(c.a), at(c.b), c.there);
      edge(at(c.b), at(c.a), c.back);
    }
  plan.lans.forEach((l, lan) => {
    // Point-to-multipoint: a link between every two members, each at its own cost.
    if (l.area === id && l.type === 'point-to-multipoint')
      for (const m of l.members) for (const o of l.members) if (m !== o) edge(at(m.router), at(o.router), m.cost);
    const j = nodes.findIndex((x) => x.lan === lan);
    if (l.area !== id || j < 0) return;
    for (const m of l.members) {
      edge(at(m.router), j, m.cost);
      edge(j, at(m.router), 0);
    }
  });
  for (let k = 0; k < nodes.length; k++)
    for (let i = 0; i < nodes.length; i++) for (let j = 0; j < nodes.length; j++) edge(i, j, (d[i]?.[k] ?? far) + (d[k]?.[j] ?? far));
  return { id, nodes, distance: d, members };
}

const distanceTo = (w: AreaWorld, from: number, to: Node): number => {
  const i = w.nodes.findIndex((x) => x.router === from);
  const j = w.nodes.findIndex((x) => (to.router === undefined ? x.lan === to.lan : x.router === to.router));
  return w.distance[i]?.[j] ?? far;
};

/** First hops from a router to a node: every link whose cost and the rest of the way make the distance. */
function firstHops(plan: Plan, w: AreaWorld, from: number, to: Node): string[] {
  const whole = distanceTo(w, from, to);
  const out = new Set<string>();
  if (whole === far || to.router === from) return [];
  plan.cables.forEach((c, n) => {
    if (c.area !== w.id) return;
    for (const [self, peer, cost] of [
      [c.a, c.b, c.there],
      [c.b, c.a, c.back],
    ] as const)
      if (self === from && cost + distanceTo(w, peer, to) === whole) out.add(`c${n} ${plan.routers[peer]?.name ?? ''}`);
  });
  plan.lans.forEach((l, n) => {
    const self = l.members.find((m) => m.router === from);
    if (l.area !== w.id || !self || l.members.length < 2) return;
    if (to.lan === n && self.cost === whole) out.add(`lan${n} `);
    for (const m of l.members)
      if (m.router !== from && self.cost + distanceTo(w, m.router, to) === whole) out.add(`lan${n} ${plan.routers[m.router]?.name ?? ''}`);
  });
  return [...out].sort();
}

type Entry = { type: string; cost: number; forward: number | undefined; hops: string[]; area: number; attached: boolean };
type Known = Map<string, Entry>;

const empty = { table: new Map<string, Entry>(), exits: new Map<number, Entry[]>() };

const merge = (a: readonly string[], b: readonly string[]): string[] => [...new Set([...a, ...b])].sort();

function offer(known: Known, prefix: string, e: Entry): void {
  const old = known.get(prefix);
  if (!old || e.cost < old.cost) known.set(prefix, e);
  else if (e.cost === old.cost) known.set(prefix, { ...old, hops: merge(old.hops, e.hops) });
}

const cableNet = (net: string): string => `${net}/31`;

function intra(plan: Plan, w: AreaWorld, from: number): Known {
  const known: Known = new Map();
  const stub = (router: number, prefix: string, cost: number, iface: string): void => {
    const d = distanceTo(w, from, { router });
    if (d === far) return;
    const own = router === from;
    offer(known, prefix, {
      type: 'intra-area',
      cost: d + cost,
      forward: undefined,
      hops: own ? [`${iface} `] : firstHops(plan, w, from, { router }),
      area: w.id,
      attached: own,
    });
  };
  plan.routers.forEach((r, n) => r.home === w.id && stub(n, `${r.id}/32`, 0, 'lo'));
  plan.cables.forEach((c, n) => {
    if (c.area !== w.id) return;
    stub(c.a, cableNet(c.net), c.there, `c${n}`);
    stub(c.b, cableNet(c.net), c.back, `c${n}`);
  });
  plan.users.forEach((u, n) => u.area === w.id && stub(u.router, u.net, u.cost, `users${n}`));
  plan.lans.forEach((l, n) => {
    if (l.area !== w.id) return;
    const only = l.members[0];
    if (l.type === 'point-to-multipoint') {
      l.members.forEach((m, i) => stub(m.router, `${l.net.replace('.0/24', '')}.${i + 1}/32`, 0, `lan${n}`));
      return;
    }
    if (l.members.length === 1 && only) stub(only.router, l.net, only.cost, `lan${n}`);
    const d = distanceTo(w, from, { lan: n });
    if (l.members.length > 1 && d < far)
      offer(known, l.net, {
        type: 'intra-area',
        cost: d,
        forward: undefined,
        hops: firstHops(plan, w, from, { lan: n }),
        area: w.id,
        attached: l.members.some((m) => m.router === from),
      });
  });
  return known;
}

interface Said {
  readonly router: number;
  readonly into: number;
  readonly prefix: string;
  readonly cost: number;
  readonly boundary?: number;
}

/** Every router's table, and the ways to boundary routers, until nothing changes. */
export function referenceTables(plan: Plan): ReferenceTable[] {
  const worlds = plan.areas.map((a) => worldOf(plan, a.id));
  const areasOf = (n: number): AreaWorld[] => worlds.filter((w) => w.members.includes(n));
  const isBorder = (n: number): boolean => areasOf(n).length > 1 && areasOf(n).some((w) => w.id === 0);
  const typeOf = (id: number): string => plan.areas[id]?.type ?? 'normal';
  const activeBackbone = (n: number): boolean =>
    plan.cables.some((c) => c.area === 0 && (c.a === n || c.b === n)) ||
    plan.lans.some((l) => l.area === 0 && l.members.length > 1 && l.members.some((m) => m.router === n));
  const boundaries = [...new Set(plan.externals.map((e) => e.router))];
  let said: Said[] = [];
  let tables: Known[] = [];
  let exits: Map<number, Entry[]>[] = [];
  const reads = (n: number): AreaWorld[] => (isBorder(n) && activeBackbone(n) ? areasOf(n).filter((w) => w.id === 0) : areasOf(n));
  const compute = (): void => {
    tables = plan.routers.map((_, n) => {
      const known: Known = new Map();
      for (const w of areasOf(n)) for (const [p, e] of intra(plan, w, n)) offer(known, p, e);
      const ownRanges = new Set(
        isBorder(n)
          ? plan.ranges.filter((x) => x.router === n && [...known].some(([p, e]) => e.area === x.area && inside(x.prefix, p))).map((x) => x.prefix)
          : [],
      );
      const across: Known = new Map();
      for (const w of reads(n))
        for (const s of said) {
          if (s.into !== w.id || s.router === n || s.boundary !== undefined || known.has(s.prefix) || ownRanges.has(s.prefix)) continue;
          const d = distanceTo(w, n, { router: s.router });
          if (d < far)
            offer(across, s.prefix, {
              type: 'inter-area',
              cost: d + s.cost,
              forward: undefined,
              hops: firstHops(plan, w, n, { router: s.router }),
              area: w.id,
              attached: false,
            });
        }
      return new Map([...known, ...across]);
    });
    exits = plan.routers.map((_, n) => {
      const out = new Map<number, Entry[]>();
      for (const b of boundaries) {
        const inside = areasOf(n).flatMap((w): Entry[] => {
          const d = b === n || typeOf(w.id) !== 'normal' || !w.members.includes(b) ? far : distanceTo(w, n, { router: b });
          return d < far
            ? [{ type: 'intra-area', cost: d, forward: undefined, hops: firstHops(plan, w, n, { router: b }), area: w.id, attached: false }]
            : [];
        });
        // Area by area: what its tree shows, else what is told there (§16.2 (5), (6)).
        const across = reads(n).flatMap((w): Entry[] => {
          if (inside.some((e) => e.area === w.id)) return [];
          const best: Known = new Map();
          for (const s of said) {
            const d = s.boundary === b && s.into === w.id && s.router !== n ? distanceTo(w, n, { router: s.router }) : far;
            if (d < far)
              offer(best, '', {
                type: 'inter-area',
                cost: d + s.cost,
                forward: undefined,
                hops: firstHops(plan, w, n, { router: s.router }),
                area: w.id,
                attached: false,
              });
          }
          return [...best.values()];
        });
        out.set(b, [...inside, ...across]);
      }
      return out;
    });
  };
  for (let round = 0; round < 12; round++) {
    compute();
    const next: Said[] = [];
    plan.routers.forEach((_, n) => {
      if (!isBorder(n)) return;
      for (const w of areasOf(n)) next.push(...announcements(plan, n, w.id, typeOf(w.id), tables[n] ?? empty.table, exits[n] ?? empty.exits));
    });
    if (JSON.stringify(next) === JSON.stringify(said)) break;
    said = next;
  }
  return plan.routers.map((_, n) =>
    withExternals(
      plan,
      n,
      tables[n] ?? empty.table,
      exits[n] ?? empty.exits,
      areasOf(n).some((w) => typeOf(w.id) === 'normal'),
    ),
  );
}

const bitsOf = (prefix: string): string =>
  (prefix.split('/')[0] ?? '')
    .split('.')
    .map((o) => Number(o).toString(2).padStart(8, '0'))
    .join('');

/** True when every address of the second prefix lies in the first. */
function inside(whole: string, part: string): boolean {
  const length = Number(whole.split('/')[1]);
  return Number(part.split('/')[1]) >= length && bitsOf(part).startsWith(bitsOf(whole).slice(0, length));
}

/** §16.4.1: inside an area other than the backbone first; then the nearer; then the larger area. */
const exitRank = (e: Entry): number => (e.type === 'intra-area' && e.area !== 0 ? 0 : 1);
const bestExit = (list: readonly Entry[]): Entry | undefined =>
  [...list].sort((a, b) => exitRank(a) - exitRank(b) || a.cost - b.cost || b.area - a.area)[0];

function announcements(plan: Plan, n: number, into: number, type: string, table: Known, exits: Map<number, Entry[]>): Said[] {
  const out: Said[] = [];
  const inArea = (hops: readonly string[]): boolean =>
    hops.some((h) => {
      const [kind, num] = /^(c|lan|users|lo)(\d*)/.exec(h)?.slice(1) ?? [];
      const i = Number(num);
      return (
        (kind === 'c'
          ? plan.cables[i]?.area
          : kind === 'lan'
            ? plan.lans[i]?.area
            : kind === 'users'
              ? plan.users[i]?.area
              : plan.routers[n]?.home) === into
      );
    });
  const may = (e: Entry): boolean =>
    e.area !== into && (e.type === 'intra-area' || (e.type === 'inter-area' && e.area === 0 && into !== 0)) && !inArea(e.hops);
  if (type !== 'totally') {
    const plain = new Map<string, number>();
    const folded = new Map<Plan['ranges'][number], number[]>();
    for (const [prefix, e] of table) {
      if (!may(e)) continue;
      const range = e.type === 'intra-area' ? plan.ranges.find((x) => x.router === n && x.area === e.area && inside(x.prefix, prefix)) : undefined;
      if (range) folded.set(range, [...(folded.get(range) ?? []), e.cost]);
      else plain.set(prefix, e.cost);
    }
    // A range costs what is fixed, else its dearest part (§12.4.3).
    for (const [range, costs] of folded) if (range.advertise) plain.set(range.prefix, range.cost ?? Math.max(...costs));
    for (const [prefix, cost] of plain) out.push({ router: n, into, prefix, cost });
  }
  if (type !== 'normal') out.push({ router: n, into, prefix: '0.0.0.0/0', cost: plan.areas[into]?.defaultCost ?? 1 });
  else
    for (const [boundary, list] of exits) {
      const e = bestExit(list);
      if (e && may(e)) out.push({ router: n, into, prefix: '', cost: e.cost, boundary });
    }
  return out;
}

function withExternals(plan: Plan, n: number, table: Known, exits: Map<number, Entry[]>, carries: boolean): ReferenceTable {
  const out: ReferenceTable = new Map([...table].map(([p, e]) => [p, { type: e.type, cost: e.cost, forward: e.forward, hops: e.hops }]));
  for (const prefix of new Set(plan.externals.map((e) => e.prefix))) {
    if (!carries || table.has(prefix)) continue;
    const choices = plan.externals.flatMap((x) => {
      const way = x.prefix === prefix && x.router !== n ? bestExit(exits.get(x.router) ?? []) : undefined;
      return way ? [{ x, way }] : [];
    });
    const order = (c: (typeof choices)[number]): number[] => [
      c.x.type,
      c.x.type === 2 ? c.x.metric : 0,
      exitRank(c.way),
      c.way.cost + (c.x.type === 1 ? c.x.metric : 0),
    ];
    const before = (a: number[], b: number[]): number => a.map((v, i) => v - (b[i] ?? 0)).find((d) => d !== 0) ?? 0;
    const best = [...choices].sort((a, b) => before(order(a), order(b)))[0];
    if (!best) continue;
    const same = choices.filter((c) => before(order(c), order(best)) === 0);
    out.set(prefix, {
      type: `external-${best.x.type}`,
      cost: best.x.type === 1 ? best.way.cost + best.x.metric : best.x.metric,
      forward: best.x.type === 2 ? best.way.cost : undefined,
      hops: same.reduce<string[]>((h, c) => merge(h, c.way.hops), []),
    });
  }
  return out;
}
