import { byName } from '../parts/words';
import { groundAround, inland, onCoast, type Footing } from './grounds';
import { plate, plateWidth, type Point, type Size } from './shapes';
import { freeSpot, labelPlace } from './ground-labels';
import { tidyInside } from './tidy';

/** What the layout is made of. Areas and routers by name; segments as lists of routers. */
export interface LayoutInput {
  readonly routers: readonly { readonly name: string; readonly areas: readonly string[]; readonly size?: Size }[];
  readonly links: readonly { readonly id: number; readonly members: readonly string[]; readonly lan: boolean }[];
  /** Places chosen by hand, from the middle of the chart. */
  readonly places?: Readonly<Record<string, Point>>;
}
export interface AreaGround {
  readonly area: string;
  /** Outline of the ground as an SVG path. */
  readonly path: string;
  /** The corners that the outline is smoothed from, in order; convex. */
  readonly corners: readonly Point[];
  readonly label: Point;
  readonly anchor: 'start' | 'middle' | 'end';
}
export interface MapLayout {
  readonly width: number;
  readonly height: number;
  /** The middle of the backbone: places chosen by hand are counted from it. */
  readonly centre: Point;
  readonly routers: Readonly<Record<string, Point>>;
  /** Bars of LANs with two or more routers, by segment. */
  readonly lans: Readonly<Record<number, Point>>;
  readonly grounds: readonly AreaGround[];
}

const backbone = '0.0.0.0';
/** Room that a plate takes on the sheet: wide enough for the longest name. */
interface Room {
  readonly x: number;
  readonly y: number;
}
/** Small campuses get more paper around each plate, so that what is written on lines has its place. */
const spareFor = (routers: number): Room => (routers <= 30 ? { x: 44, y: 36 } : { x: 14, y: 28 });
const roomFor = (names: readonly string[], spare: Room): Room => ({
  x: Math.max(plate.least, ...names.map(plateWidth)) + spare.x,
  y: plate.height + spare.y,
});

/** Who gives way when two plates touch: a free one to one on the coast, both to one that was placed by hand. */
type Hold = 'free' | 'coast' | 'hand';
const firmness: Record<Hold, number> = { free: 0, coast: 1, hand: 2 };

interface Node {
  readonly id: string;
  x: number;
  y: number;
  readonly hold: Hold;
  readonly room: Room;
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

interface Sector {
  readonly area: string;
  readonly borders: readonly string[];
  readonly rows: readonly (readonly string[])[];
  readonly weight: number;
}

const mean = (values: readonly number[]): number => (values.length === 0 ? 0 : values.reduce((a, b) => a + b, 0) / values.length);

/** Areas around the backbone: their border routers, then rows by distance from these. */
function sectors(input: LayoutInput, neighbours: ReadonlyMap<string, readonly string[]>): Sector[] {
  const areas = [...new Set(input.routers.flatMap((r) => r.areas))].filter((a) => a !== backbone).sort(byName);
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
    return { area, borders, rows: filled, weight: Math.max(1.4, borders.length * 0.9, inside.size ** 0.6) };
  });
}

/** Orders the names of a row by where their neighbours stand, so that few links cross. */
function order(row: readonly string[], angleOf: ReadonlyMap<string, number>, neighbours: ReadonlyMap<string, readonly string[]>): string[] {
  const key = (n: string): number => {
    const known = (neighbours.get(n) ?? []).flatMap((m) => angleOf.get(m) ?? []);
    return known.length === 0 ? (angleOf.get(n) ?? 0) : mean(known);
  };
  return [...row].sort((a, b) => key(a) - key(b) || byName(a, b));
}

/** Rounds after which it is asked whether there is any headway. */
const stallAfter = 40;
/** Overlaps of rooms below this many pixels are left: rooms have paper to spare around each plate. */
const least = 0.2;

/** Moves plates apart until none touches another; the firmer of two stays. */
function separate(nodes: readonly Node[], rounds = 400): void {
  const x = Float64Array.from(nodes, (n) => n.x);
  const y = Float64Array.from(nodes, (n) => n.y);
  const width = Float64Array.from(nodes, (n) => n.room.x);
  const height = Float64Array.from(nodes, (n) => n.room.y);
  const firm = Uint8Array.from(nodes, (n) => firmness[n.hold]);
  const row = Int32Array.from(nodes, (_, i) => i);
  const widest = width.reduce((a, b) => Math.max(a, b), 0);
  let last = Infinity;
  for (let n = 0; n < rounds; n++) {
    sortByPlace(row, x);
    const pushed = pushApart(row, x, y, width, height, firm, widest);
    if (pushed === 0) break;
    if (n % stallAfter !== stallAfter - 1) continue;
    // A crowd that has no more room only swaps places.
    if (pushed > last * 0.9) break;
    last = pushed;
  }
  nodes.forEach((node, i) => ([node.x, node.y] = [x[i] ?? 0, y[i] ?? 0]));
}

/** Sorts places by x, equal ones by number: nearly sorted as they are from round to round, that takes one look. */
function sortByPlace(row: Int32Array, x: Float64Array): void {
  for (let i = 1; i < row.length; i++) {
    const at = row[i] ?? 0;
    const own = x[at] ?? 0;
    let j = i - 1;
    for (; j >= 0; j--) {
      const other = row[j] ?? 0;
      const d = (x[other] ?? 0) - own;
      if (d < 0 || (d === 0 && other < at)) break;
      row[j + 1] = other;
    }
    row[j + 1] = at;
  }
}

/**
 * One round from left to right: who stands further off than a plate is wide cannot touch. Gives the number of pairs that
 * were pushed apart. Small, and of steady types: it runs over every pair of neighbours.
 */
function pushApart(
  row: Int32Array,
  x: Float64Array,
  y: Float64Array,
  width: Float64Array,
  height: Float64Array,
  firm: Uint8Array,
  widest: number,
): number {
  let pushed = 0;
  for (let i = 0; i < row.length; i++) {
    const a = row[i] ?? 0;
    for (let j = i + 1; j < row.length; j++) {
      const b = row[j] ?? 0;
      const dx = (x[b] ?? 0) - (x[a] ?? 0);
      if (dx > widest) break;
      const dy = (y[b] ?? 0) - (y[a] ?? 0);
      const wantY = ((height[a] ?? 0) + (height[b] ?? 0)) / 2;
      const oy = wantY - (dy < 0 ? -dy : dy);
      if (oy <= least) continue;
      const wantX = ((width[a] ?? 0) + (width[b] ?? 0)) / 2;
      const ox = wantX - (dx < 0 ? -dx : dx);
      if (ox <= least) continue;
      pushed++;
      const [fa, fb] = [firm[a] ?? 0, firm[b] ?? 0];
      const share = fa === fb ? 0.5 : fa > fb ? 0 : 1;
      const [at, by] = ox / wantX < oy / wantY ? [x, (dx < 0 ? -1 : 1) * ox] : [y, (dy < 0 ? -1 : 1) * oy];
      at[a] = (at[a] ?? 0) - by * share;
      at[b] = (at[b] ?? 0) + by * (1 - share);
    }
  }
  return pushed;
}

/** The rings stand a little wider than high, as windows are. */
const stretch: Point = { x: 1.08, y: 0.96 };

/** How far apart two plates must stand along the ring at an angle, so that they do not touch. */
const stepAt = (angle: number, room: Room): number => Math.min(room.x / Math.abs(Math.sin(angle)), room.y / Math.abs(Math.cos(angle))) * 1.04;
/** How far apart two rings must be. */
const ringAt = (angle: number, room: Room): number =>
  Math.max(room.y, Math.min(room.x, room.x / Math.abs(Math.cos(angle)), room.y / Math.abs(Math.sin(angle))));

/** A part of the chart as seen from its middle: the angle it looks at, and how far it opens to each side. */
interface Wedge {
  readonly centre: number;
  readonly half: number;
}

/**
 * Fills a wedge with rows of plates from a radius on: a row that is too long for its ring goes on in the next. As every
 * plate stays within the wedge, and a wedge is convex, the grounds of two areas do not cover one another.
 */
function fillWedge(
  rows: readonly (readonly string[])[],
  wedge: Wedge,
  from: number,
  room: Room,
  put: (id: string, angle: number, r: number) => void,
): void {
  const { centre, half } = wedge;
  const ring = ringAt(centre, room);
  let r = from;
  for (const row of rows) {
    for (let next = 0; next < row.length;) {
      const angles = [0];
      for (let at = -half; next + angles.length < row.length;) {
        at += stepAt(centre + at, room) / r;
        if (at > half) break;
        angles.push(at + half);
      }
      const span = angles.at(-1) ?? 0;
      const wide = span === 0 ? 1 : Math.min((2 * half) / span, 1.9);
      angles.forEach((a, i) => {
        const off = (a - span / 2) * wide;
        // Towards the sides of a wide wedge a ring would run back behind the straight coast: it is bent outward there.
        put(row[next + i] ?? '', centre + off, Math.max(r, from / Math.cos(off)));
      });
      next += angles.length;
      r += next < row.length ? ring : Math.max(ring, 100);
    }
  }
}

/** The straight coast that an area's border routers stand on: what is inside lies beyond it. */
interface Coast {
  readonly normal: Point;
  /** Distance of the coast from the middle, along its normal. */
  readonly at: number;
  readonly area: string;
  /** Plates and bars of the area. */
  readonly inside: string[];
}

const foldedWidth = (sizes: ReadonlyMap<string, Size>): number => Math.max(0, ...[...sizes.values()].map((z) => z.width));

/** Moves what was pushed across its own coast back on land; tells whether anything was. */
function pushInland(coasts: readonly Coast[], nodes: ReadonlyMap<string, Node>): boolean {
  let moved = false;
  for (const { normal, at, inside } of coasts)
    for (const id of inside) {
      const n = nodes.get(id);
      const short = n ? at + 52 - (n.x * normal.x + n.y * normal.y) : 0;
      if (!n || short <= 0.5) continue;
      n.x += normal.x * (short + 6);
      n.y += normal.y * (short + 6);
      moved = true;
    }
  return moved;
}

/** How the ring around the backbone is divided: its radius, and the angle that each area gets. */
interface Ring {
  readonly radius: number;
  /** Angles that the areas look at from the middle, and how far each opens. */
  readonly wedges: readonly { readonly centre: number; readonly width: number }[];
}

/**
 * Divides the ring so that the border routers of each area fit side by side in front of it, and each area has room by its
 * size. Plates are wider than high: at the sides of the chart an area needs less of the ring than above and below.
 */
function divideRing(around: readonly Sector[], inner: number, spare: Room, folded: boolean): Ring {
  const least = Math.max(around.length === 0 ? 60 : 190, 60 + 34 * Math.sqrt(inner) * 1.6);
  const total = around.reduce((n, s) => n + s.weight, 0) || 1;
  // By size alone, and then a few times by what is needed where an area has come to lie.
  const [bySize, byNeed] = folded ? [0.1, 0.9] : [0.55, 0.45];
  let widths = around.map((s) => (s.weight / total) * 2 * Math.PI);
  let radius = least;
  for (let round = 0; round < 12; round++) {
    const centres = centresOf(widths);
    const needs = around.map((s, n) => {
      const step = stepAt(centres[n] ?? 0, roomFor(s.borders, spare)) * 1.08;
      return Math.max(1, s.borders.length) * step;
    });
    const all = needs.reduce((a, b) => a + b, 0) || 1;
    widths = around.map((s, n) => 2 * Math.PI * (bySize * (s.weight / total) + byNeed * ((needs[n] ?? 0) / all)));
    radius = Math.max(least, ...needs.map((need, n) => need / Math.min((widths[n] ?? 1) * 1.02, 2.4)));
  }
  const centres = centresOf(widths);
  return { radius, wedges: widths.map((width, n) => ({ width, centre: centres[n] ?? 0 })) };
}

/** Angles of the middles of wedges that follow one another, the first above on the left. */
function centresOf(widths: readonly number[]): number[] {
  let at = -Math.PI * 0.75 - (widths[0] ?? 0) / 2;
  return widths.map((w) => {
    at += w;
    return at - w / 2;
  });
}

/**
 * Lays out a campus as a chart: the backbone in the middle, every other area a ground around it, border routers on the
 * coast between. Places chosen by hand are kept. The same input always gives the same picture.
 */
export function layoutMap(input: LayoutInput): MapLayout {
  const plain = input.routers.filter((r) => r.size === undefined);
  const spare = spareFor(input.routers.length);
  const room = roomFor(
    plain.map((r) => r.name),
    spare,
  );
  const sizes = new Map(input.routers.flatMap((r) => (r.size ? [[r.name, r.size] as const] : [])));
  const roomOf = (id: string): Room => {
    const size = sizes.get(id);
    return size ? { x: size.width + 20, y: size.height + 30 } : roomFor([id], spare);
  };
  const lans = input.links.filter((l) => l.lan && new Set(l.members).size > 1);
  const lanKeys = new Map(lans.map((l) => [`lan ${l.id}`, [...new Set(l.members)]]));
  const neighbours = neighbourMap(input);
  for (const [key, members] of lanKeys) neighbours.set(key, members);
  const around = sectors(input, neighbours);
  const inner = input.routers.filter((r) => r.areas.length === 1 && r.areas[0] === backbone).map((r) => r.name);
  const { radius, wedges } = divideRing(around, inner.length, spare, sizes.size > 0);
  const angleOf = new Map<string, number>();
  const nodes = new Map<string, Node>();
  const places = new Map(Object.entries(input.places ?? {}));
  const coasts: Coast[] = [];
  const areasOf = new Map(input.routers.map((r) => [r.name, r.areas]));
  const put = (id: string, x: number, y: number, hold: Hold): void => {
    angleOf.set(id, Math.atan2(y, x));
    nodes.set(id, { id, x, y, hold, room: roomOf(id) });
  };
  for (const [index, s] of around.entries()) {
    const { centre = 0, width = 1 } = wedges[index] ?? {};
    const wedge = { centre, half: Math.min(width * 0.43, 0.95) };
    // Border routers stand on a straight stretch of coast, so that it runs through all of them.
    const [c, d] = [Math.cos(wedge.centre), Math.sin(wedge.centre)];
    const along = { x: -d * stretch.x, y: c * stretch.y };
    const step = Math.max(stepAt(wedge.centre, roomFor(s.borders, spare)), Math.min(width * radius * 0.36, 190)) / Math.hypot(along.x, along.y);
    s.borders.forEach((b, i) => {
      const k = (i - (s.borders.length - 1) / 2) * step;
      put(b, c * radius * stretch.x + along.x * k, d * radius * stretch.y + along.y * k, 'coast');
    });
    const off = Math.hypot(along.x, along.y);
    const normal = { x: along.y / off, y: -along.x / off };
    if (s.borders.length > 0)
      coasts.push({ area: s.area, normal, at: radius * (c * stretch.x * normal.x + d * stretch.y * normal.y), inside: s.rows.flat() });
    const rows = s.rows.map((row) => order(row, angleOf, neighbours));
    const own = s.rows.flat();
    const large = own.reduce((most, id) => Math.max(most, roomOf(id).y - room.y), 0);
    const widest = roomFor(own.length > 0 && large === 0 ? own : [], spare);
    // A large plate is wide: beside the backbone it stands further off than above and below.
    const beside = (Math.abs(c) * (foldedWidth(sizes) + (roomFor(s.borders, spare).x - spare.x))) / 2 + Math.abs(d) * 44 + 30;
    const from = radius + (large > 0 ? beside : s.borders.length === 0 ? 150 : 104);
    fillWedge(rows, wedge, from, widest, (id, angle, r) => put(id, Math.cos(angle) * r * stretch.x, Math.sin(angle) * r * stretch.y, 'free'));
  }
  placeInner(inner, nodes, neighbours, angleOf, radius, put);
  for (const [key, members] of lanKeys) {
    const on = members.flatMap((m) => nodes.get(m) ?? []);
    // Its words stand below the bar.
    const bar = { x: Math.max(room.x + 36, 150), y: room.y + 16 };
    if (on.length === 0) continue;
    const at = { x: mean(on.map((n) => n.x)), y: mean(on.map((n) => n.y)) };
    nodes.set(key, { id: key, ...at, hold: 'free', room: bar });
    // A LAN lies on its area's side of the coast, also one of border routers alone.
    const home = coasts.find((c) => members.every((m) => areasOf.get(m)?.includes(c.area)));
    home?.inside.push(key);
  }
  const alone = input.routers.filter((r) => r.areas.length === 0 && !places.has(r.name)).map((r) => r.name);
  pushInland(coasts, nodes);
  for (let n = 0; n < 6; n++) {
    separate([...nodes.values()]);
    if (!pushInland(coasts, nodes)) break;
  }
  tidyInner(input, inner, nodes, radius);
  separate([...nodes.values()]);
  // Places chosen by hand come last: nobody else moves but who would be covered.
  for (const r of input.routers) {
    const own = places.get(r.name);
    if (own) nodes.set(r.name, { id: r.name, x: own.x, y: own.y, hold: 'hand', room: roomOf(r.name) });
  }
  if (places.size > 0) separate([...nodes.values()]);
  return frame(input, around, nodes, lanKeys, alone, room, sizes);
}

/** Routers of the backbone alone: between the border routers that they are linked to. */
function placeInner(
  rest: readonly string[],
  nodes: Map<string, Node>,
  neighbours: ReadonlyMap<string, readonly string[]>,
  angleOf: Map<string, number>,
  radius: number,
  put: (id: string, x: number, y: number, hold: Hold) => void,
): void {
  rest.forEach((n, i) =>
    put(n, Math.cos((i / rest.length) * 2 * Math.PI) * radius * 0.35, Math.sin((i / rest.length) * 2 * Math.PI) * radius * 0.35, 'free'),
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
    // Towards a LAN each of its routers has a line of its own: nobody may stand on it, for he would seem to be a member.
    if (l.lan) return places.has(`lan ${l.id}`) ? l.members.map((m) => ({ a: m, b: `lan ${l.id}` })) : [];
    return a === undefined || b === undefined || !(free.has(a) || free.has(b)) ? [] : [{ a, b }];
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
  sizes: ReadonlyMap<string, Size>,
): MapLayout {
  const margin = 62;
  const widest = Math.max(plate.width, ...[...sizes.values()].map((z) => z.width));
  const tallest = Math.max(0, ...[...sizes.values()].map((z) => z.height - plate.height)) / 2;
  const all = [...nodes.values()];
  const minX = Math.min(0, ...all.map((n) => n.x)) - widest / 2 - margin;
  const minY = Math.min(0, ...all.map((n) => n.y)) - margin - 24 - tallest;
  const maxX = Math.max(0, ...all.map((n) => n.x)) + widest / 2 + margin;
  let maxY = Math.max(0, ...all.map((n) => n.y)) + margin + 24 + tallest;
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
      if (!at || !r.areas.includes(area)) return [];
      const size = sizes.get(r.name);
      return [{ at, half: size ? { x: size.width / 2 + 16, y: size.height / 2 + 16 } : r.areas.length > 1 ? onCoast : inland }];
    }),
    ...lanPoints(area).map((at) => ({ at, half: inland })),
  ];
  const outlines: { area: string; corners: readonly Point[]; bottom: boolean; middle: number }[] = [];
  for (const s of around) {
    const footings = footingsOf(s.area);
    if (footings.length === 0) continue;
    const bottom = mean(footings.map((f) => f.at.y)) > centre.y;
    const inner = footings.filter((f) => f.half !== onCoast);
    const shore = groundAround(footings).corners;
    outlines.push({ area: s.area, corners: shore, bottom, middle: mean((inner.length > 0 ? inner : footings).map((f) => f.at.x)) });
  }
  const plates = Object.values(routers);
  for (const { area, corners, bottom, middle } of outlines) {
    const label = labelPlace(
      corners,
      bottom,
      middle,
      plates,
      outlines.filter((o) => o.area !== area).map((o) => o.corners),
    );
    const footings = footingsOf(area);
    grounds.push({ area, ...groundAround(footings), label, anchor: 'middle' });
  }
  const core = footingsOf(backbone);
  if (core.length > 0) {
    const onLine = (a: Point | undefined, b: Point | undefined): Point[] =>
      a && b ? [0.2, 0.35, 0.5, 0.65, 0.8].map((t) => ({ x: a.x + (b.x - a.x) * t, y: a.y + (b.y - a.y) * t })) : [];
    const onLines = input.links.flatMap((l) =>
      l.lan ? l.members.flatMap((m) => onLine(routers[m], lans[l.id])) : onLine(routers[l.members[0] ?? ''], routers[l.members[1] ?? '']),
    );
    const plates = [...Object.values(routers), ...Object.values(lans), ...onLines];
    const ground = groundAround(core);
    grounds.unshift({ area: backbone, ...ground, label: freeSpot(plates, centre, ground.corners), anchor: 'middle' });
  }
  return { width: maxX - minX, height: maxY - minY, centre, routers, lans, grounds };
}
