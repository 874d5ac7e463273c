import { tidyInside } from './tidy';

/** What the layout is made of. Areas and routers by name; segments as lists of routers. */
export interface LayoutInput {
  readonly routers: readonly { readonly name: string; readonly areas: readonly string[] }[];
  readonly links: readonly { readonly id: number; readonly members: readonly string[]; readonly lan: boolean }[];
}
export interface Point {
  readonly x: number;
  readonly y: number;
}
export interface AreaGround {
  readonly area: string;
  /** Outline of the ground as an SVG path. */
  readonly path: string;
  readonly label: Point;
  readonly anchor: 'start' | 'middle' | 'end';
}
export interface MapLayout {
  readonly width: number;
  readonly height: number;
  readonly routers: Readonly<Record<string, Point>>;
  /** Bars of LANs with two or more routers, by segment. */
  readonly lans: Readonly<Record<number, Point>>;
  readonly grounds: readonly AreaGround[];
}

const backbone = '0.0.0.0';
/** Size of a name plate, and the room it wants around it. */
export const plate = { width: 84, height: 22 } as const;
/** Width of a plate that holds a name. */
export const plateWidth = (name: string): number => Math.max(plate.width, name.length * 6.9 + 14);

/** Room that a plate takes on the sheet: wide enough for the longest name. */
interface Room {
  readonly x: number;
  readonly y: number;
}
const roomFor = (names: readonly string[]): Room => ({ x: Math.max(plate.width, ...names.map(plateWidth)) + 14, y: plate.height + 34 });

interface Node {
  readonly id: string;
  x: number;
  y: number;
  /** Border routers stay on the coast. */
  readonly fixed: boolean;
  /** A LAN's bar is wider than a plate. */
  readonly wide?: boolean;
}

/** Distance in links from a set of routers, through routers of one area only. */
function depths(start: readonly string[], inside: ReadonlySet<string>, neighbours: ReadonlyMap<string, readonly string[]>): Map<string, number> {
  const out = new Map(start.map((s) => [s, 0]));
  const queue = [...start];
  for (let at = queue.shift(); at !== undefined; at = queue.shift())
    for (const n of neighbours.get(at) ?? [])
      if (inside.has(n) && !out.has(n)) {
        out.set(n, (out.get(at) ?? 0) + 1);
        queue.push(n);
      }
  const deepest = Math.max(0, ...out.values());
  for (const n of inside) if (!out.has(n)) out.set(n, Math.max(1, deepest));
  return out;
}

function neighbourMap(input: LayoutInput): Map<string, string[]> {
  const out = new Map<string, string[]>();
  const add = (a: string, b: string): void => {
    const list = out.get(a);
    if (!list) out.set(a, [b]);
    else if (!list.includes(b)) list.push(b);
  };
  for (const l of input.links) for (const a of l.members) for (const b of l.members) if (a !== b) add(a, b);
  return out;
}

/** Convex hull, counter-clockwise (Andrew's monotone chain). */
export function convexHull(points: readonly Point[]): Point[] {
  const ps = [...points].sort((a, b) => a.x - b.x || a.y - b.y);
  if (ps.length < 3) return ps;
  const cross = (o: Point, a: Point, b: Point): number => (a.x - o.x) * (b.y - o.y) - (a.y - o.y) * (b.x - o.x);
  const half = (list: readonly Point[]): Point[] => {
    const out: Point[] = [];
    for (const p of list) {
      for (;;) {
        const [a, b] = [out.at(-2), out.at(-1)];
        if (!a || !b || cross(a, b, p) > 0) break;
        out.pop();
      }
      out.push(p);
    }
    out.pop();
    return out;
  };
  return [...half(ps), ...half([...ps].reverse())];
}

/** A closed smooth line through points (quadratic curves between the middles of the sides). */
function smooth(points: readonly Point[]): string {
  const n = points.length;
  const mid = (i: number): Point => {
    const a = points[i % n] ?? { x: 0, y: 0 };
    const b = points[(i + 1) % n] ?? a;
    return { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 };
  };
  const f = (p: Point): string => `${p.x.toFixed(1)} ${p.y.toFixed(1)}`;
  let out = `M ${f(mid(n - 1))}`;
  points.forEach((p, i) => (out += ` Q ${f(p)} ${f(mid(i))}`));
  return `${out} Z`;
}

/** A place on a ground: `half` is how far the ground reaches beyond it to each side. */
interface Footing {
  readonly at: Point;
  readonly half: Point;
}

/** Routers of the inside stand well within the shore; the coast runs through the plates of border routers. */
const inland: Point = { x: plate.width / 2 + 22, y: plate.height / 2 + 22 };
const onCoast: Point = { x: plate.width * 0.36, y: plate.height * 0.62 };

/** Ground that holds its footings. */
function groundAround(footings: readonly Footing[]): string {
  const corners = footings.flatMap(({ at: p, half: { x: w, y: h } }) => [
    { x: p.x - w, y: p.y - h * 0.55 },
    { x: p.x - w * 0.6, y: p.y - h },
    { x: p.x + w * 0.6, y: p.y - h },
    { x: p.x + w, y: p.y - h * 0.55 },
    { x: p.x + w, y: p.y + h * 0.55 },
    { x: p.x + w * 0.6, y: p.y + h },
    { x: p.x - w * 0.6, y: p.y + h },
    { x: p.x - w, y: p.y + h * 0.55 },
  ]);
  return smooth(convexHull(corners));
}

interface Sector {
  readonly area: string;
  readonly borders: readonly string[];
  readonly rows: readonly (readonly string[])[];
  readonly weight: number;
}

const mean = (values: readonly number[]): number => (values.length === 0 ? 0 : values.reduce((a, b) => a + b, 0) / values.length);

/** Areas around the backbone: their border routers, then rows by distance from these. */
function sectors(input: LayoutInput, neighbours: ReadonlyMap<string, readonly string[]>): Sector[] {
  const areas = [...new Set(input.routers.flatMap((r) => r.areas))]
    .filter((a) => a !== backbone)
    .sort((a, b) => a.localeCompare(b, 'en', { numeric: true }));
  const placed = new Set<string>();
  return areas.map((area) => {
    const inArea = input.routers.filter((r) => r.areas.includes(area));
    const borders = inArea.filter((r) => r.areas.length > 1 && !placed.has(r.name)).map((r) => r.name);
    for (const b of borders) placed.add(b);
    const inside = new Set(inArea.filter((r) => r.areas.length === 1).map((r) => r.name));
    const start = inArea.filter((r) => r.areas.length > 1).map((r) => r.name);
    const depth = depths(start, inside, neighbours);
    const rows: string[][] = [];
    for (const n of inside) (rows[Math.max((depth.get(n) ?? 1) - 1, 0)] ??= []).push(n);
    const filled = Array.from(rows, (r: string[] | undefined) => r ?? []).filter((r) => r.length > 0);
    return { area, borders, rows: filled, weight: Math.max(1.4, borders.length, ...filled.map((r) => r.length)) };
  });
}

/** Orders the names of a row by where their neighbours stand, so that few links cross. */
function order(row: readonly string[], angleOf: ReadonlyMap<string, number>, neighbours: ReadonlyMap<string, readonly string[]>): string[] {
  const key = (n: string): number => {
    const known = (neighbours.get(n) ?? []).flatMap((m) => angleOf.get(m) ?? []);
    return known.length === 0 ? (angleOf.get(n) ?? 0) : mean(known);
  };
  return [...row].sort((a, b) => key(a) - key(b) || a.localeCompare(b, 'en', { numeric: true }));
}

/** Moves plates apart until none touches another; those on the coast stay. */
function separate(nodes: readonly Node[], room: Room, rounds = 200): void {
  for (let n = 0; n < rounds; n++) {
    let moves = 0;
    // From left to right: who stands further off than a plate is wide cannot touch. A round without a move has seen all.
    const row = [...nodes].sort((a, b) => a.x - b.x);
    row.forEach((a, i) => {
      for (let j = i + 1; j < row.length; j++) {
        const b = row[j];
        if (!b || b.x - a.x > room.x + 18) break;
        const dx = b.x - a.x;
        const dy = b.y - a.y;
        const [ox, oy] = [room.x + (a.wide || b.wide ? 18 : 0) - Math.abs(dx), room.y - Math.abs(dy)];
        if (ox <= 0 || oy <= 0) continue;
        moves++;
        const share = a.fixed === b.fixed ? [0.5, 0.5] : a.fixed ? [0, 1] : [1, 0];
        if (ox / room.x < oy / room.y) {
          const s = (dx < 0 ? -1 : 1) * ox;
          a.x -= s * (share[0] ?? 0);
          b.x += s * (share[1] ?? 0);
        } else {
          const s = (dy < 0 ? -1 : 1) * oy;
          a.y -= s * (share[0] ?? 0);
          b.y += s * (share[1] ?? 0);
        }
      }
    });
    if (moves === 0) return;
  }
}

/**
 * Lays out a campus as a chart: the backbone in the middle, every other area a ground around it, border routers on the
 * coast between. The same input always gives the same picture.
 */
export function layoutMap(input: LayoutInput): MapLayout {
  const room = roomFor(input.routers.map((r) => r.name));
  const lans = input.links.filter((l) => l.lan && new Set(l.members).size > 1);
  const lanKeys = new Map(lans.map((l) => [`lan ${l.id}`, [...new Set(l.members)]]));
  const neighbours = neighbourMap(input);
  for (const [key, members] of lanKeys) neighbours.set(key, members);
  const around = sectors(input, neighbours);
  const inner = input.routers.filter((r) => r.areas.length === 1 && r.areas[0] === backbone).map((r) => r.name);
  const borderCount = around.reduce((n, s) => n + s.borders.length, 0);
  const total = around.reduce((n, s) => n + s.weight, 0) || 1;
  const radius = Math.max(around.length === 0 ? 60 : 190, (borderCount * room.x * 1.15) / (2 * Math.PI), 60 + 34 * Math.sqrt(inner.length) * 1.6);
  const angleOf = new Map<string, number>();
  const nodes = new Map<string, Node>();
  const put = (id: string, angle: number, r: number, fixed: boolean): void => {
    angleOf.set(id, angle);
    nodes.set(id, { id, x: Math.cos(angle) * r * 1.08, y: Math.sin(angle) * r * 0.96, fixed });
  };
  let at = -Math.PI * 0.75 - (around[0]?.weight ?? 0) * (Math.PI / total);
  for (const s of around) {
    const width = (s.weight / total) * 2 * Math.PI;
    const centre = at + width / 2;
    at += width;
    s.borders.forEach((b, i) => put(b, centre + ((i - (s.borders.length - 1) / 2) / Math.max(s.borders.length, 2)) * width * 0.72, radius, true));
    let r = radius;
    for (const row of s.rows) {
      const sorted = order(row, angleOf, neighbours);
      r += s.borders.length === 0 ? 150 : 108;
      // An arc holds a row while its plates fit side by side; a fuller one moves out.
      r = Math.max(r, Math.min((row.length * room.x * 0.9) / (width * 0.92), r + 260));
      sorted.forEach((n, i) => put(n, centre + ((i - (row.length - 1) / 2) / Math.max(row.length, 2)) * width * 0.86, r, false));
    }
  }
  placeInner(inner, nodes, neighbours, angleOf, radius);
  for (const [key, members] of lanKeys) {
    const at = members.flatMap((m) => nodes.get(m) ?? []);
    if (at.length > 0) nodes.set(key, { id: key, x: mean(at.map((n) => n.x)), y: mean(at.map((n) => n.y)), fixed: false, wide: true });
  }
  const alone = input.routers.filter((r) => r.areas.length === 0).map((r) => r.name);
  separate([...nodes.values()], room);
  tidyInner(input, inner, nodes, radius);
  return frame(input, around, nodes, lanKeys, alone, room);
}

/** Routers of the backbone alone: between the border routers that they are linked to. */
function placeInner(
  rest: readonly string[],
  nodes: Map<string, Node>,
  neighbours: ReadonlyMap<string, readonly string[]>,
  angleOf: Map<string, number>,
  radius: number,
): void {
  rest.forEach((n, i) =>
    nodes.set(n, {
      id: n,
      x: Math.cos((i / rest.length) * 2 * Math.PI) * radius * 0.35,
      y: Math.sin((i / rest.length) * 2 * Math.PI) * radius * 0.35,
      fixed: false,
    }),
  );
  const reach = radius * 0.62;
  for (let round = 0; round < 60; round++)
    for (const n of rest) {
      const node = nodes.get(n);
      const near = (neighbours.get(n) ?? []).flatMap((m) => nodes.get(m) ?? []);
      if (!node || near.length === 0) continue;
      let tx = mean(near.map((m) => m.x)) * 0.75;
      let ty = mean(near.map((m) => m.y)) * 0.75;
      for (const o of rest) {
        const other = nodes.get(o);
        if (!other || o === n) continue;
        const [dx, dy] = [node.x - other.x, (node.y - other.y) * 1.4];
        const d = Math.max(Math.hypot(dx, dy), 20);
        tx += (dx / d) * (13000 / d);
        ty += (dy / d) * (10000 / d);
      }
      const d = Math.hypot(tx, ty);
      const k = d > reach ? reach / d : 1;
      node.x += (tx * k - node.x) * 0.4;
      node.y += (ty * k - node.y) * 0.4;
    }
  for (const n of rest) angleOf.set(n, Math.atan2(nodes.get(n)?.y ?? 0, nodes.get(n)?.x ?? 0));
}

/** Lines of the backbone run free of plates: its own routers are moved until they do. Large backbones stay as they are. */
function tidyInner(input: LayoutInput, inner: readonly string[], nodes: Map<string, Node>, radius: number): void {
  const free = new Set(inner);
  const places = new Map<string, Point>([...nodes].map(([id, n]) => [id, { x: n.x, y: n.y }]));
  const edges = input.links.flatMap((l) => {
    const [a, b] = l.members;
    return l.lan || a === undefined || b === undefined || !(free.has(a) || free.has(b)) ? [] : [{ a, b }];
  });
  // The work grows with routers times links squared; a large backbone is not searched through.
  if (inner.length * edges.length * edges.length > 8_000) return;
  tidyInside(inner, places, edges, { x: radius * 0.68, y: radius * 0.72 }, { x: plate.width / 2, y: plate.height / 2 });
  for (const id of inner) {
    const [node, p] = [nodes.get(id), places.get(id)];
    if (node && p) [node.x, node.y] = [p.x, p.y];
  }
}

/** Grounds, labels and the size of the sheet; the picture is moved so that it begins at 0, 0. */
function frame(
  input: LayoutInput,
  around: readonly Sector[],
  nodes: ReadonlyMap<string, Node>,
  lanKeys: ReadonlyMap<string, readonly string[]>,
  alone: readonly string[],
  room: Room,
): MapLayout {
  const margin = 62;
  const all = [...nodes.values()];
  const minX = Math.min(0, ...all.map((n) => n.x)) - plate.width / 2 - margin;
  const minY = Math.min(0, ...all.map((n) => n.y)) - margin - 24;
  const maxX = Math.max(0, ...all.map((n) => n.x)) + plate.width / 2 + margin;
  let maxY = Math.max(0, ...all.map((n) => n.y)) + margin + 24;
  const routers: Record<string, Point> = {};
  const lans: Record<number, Point> = {};
  for (const n of all) {
    const p = { x: n.x - minX, y: n.y - minY };
    if (lanKeys.has(n.id)) lans[Number(n.id.slice(4))] = p;
    else routers[n.id] = p;
  }
  alone.forEach((n, i) => {
    const perRow = Math.max(1, Math.floor((maxX - minX - 2 * margin) / room.x));
    routers[n] = { x: margin + (i % perRow) * room.x + plate.width / 2, y: maxY - minY + Math.floor(i / perRow) * room.y };
  });
  if (alone.length > 0) maxY += 60 + Math.floor(alone.length / 8) * room.y;
  const centre = { x: -minX, y: -minY };
  const lanPoints = (area: string): Point[] =>
    [...lanKeys]
      .filter(([, ms]) => ms.every((m) => input.routers.find((r) => r.name === m)?.areas.includes(area)))
      .flatMap(([k]) => lans[Number(k.slice(4))] ?? []);
  const grounds: AreaGround[] = [];
  const footingsOf = (area: string): Footing[] => [
    ...input.routers.flatMap((r): Footing[] => {
      const at = routers[r.name];
      return at && r.areas.includes(area) ? [{ at, half: r.areas.length > 1 ? onCoast : inland }] : [];
    }),
    ...lanPoints(area).map((at) => ({ at, half: inland })),
  ];
  for (const s of around) {
    const footings = footingsOf(s.area);
    if (footings.length === 0) continue;
    const bottom = mean(footings.map((f) => f.at.y)) > centre.y;
    const inner = footings.filter((f) => f.half === inland);
    const label = {
      x: mean((inner.length > 0 ? inner : footings).map((f) => f.at.x)),
      y: bottom ? Math.max(...footings.map((f) => f.at.y + f.half.y)) + 24 : Math.min(...footings.map((f) => f.at.y - f.half.y)) - 22,
    };
    grounds.push({ area: s.area, path: groundAround(footings), label, anchor: 'middle' });
  }
  const core = footingsOf(backbone);
  if (core.length > 0) {
    const onLines = input.links.flatMap((l) => {
      const [a, b] = [routers[l.members[0] ?? ''], routers[l.members[1] ?? '']];
      return a && b && !l.lan ? [0.2, 0.35, 0.5, 0.65, 0.8].map((t) => ({ x: a.x + (b.x - a.x) * t, y: a.y + (b.y - a.y) * t })) : [];
    });
    const plates = [...Object.values(routers), ...Object.values(lans), ...onLines];
    grounds.unshift({ area: backbone, path: groundAround(core), label: freeSpot(plates, centre), anchor: 'middle' });
  }
  return { width: maxX - minX, height: maxY - minY, routers, lans, grounds };
}

/** A spot near the middle with no plate on it, for the backbone's name. */
function freeSpot(points: readonly Point[], centre: Point): Point {
  let best = centre;
  let score = -Infinity;
  for (let dx = -180; dx <= 180; dx += 12)
    for (let dy = -150; dy <= 150; dy += 10) {
      const p = { x: centre.x + dx, y: centre.y + dy };
      const clear = Math.min(...points.map((q) => Math.max(Math.abs(q.x - p.x) / 1.9, Math.abs(q.y - p.y))));
      const s = Math.min(clear, 40) - Math.hypot(dx, dy) * 0.05;
      if (s > score) {
        score = s;
        best = p;
      }
    }
  return best;
}
