import { roomFor, separate, spareFor, type Hold, type Node, type Room } from './apart';
import { placeInner, tidyInner } from './backbone-plates';
import { backbone, type LayoutInput, type MapLayout } from './layout-input';
import { divideRing, fillWedge, stepAt, stretch } from './ring';
import { mean, neighbourMap, order, sectors } from './sectors';
import type { Point, Size } from './shapes';
import { frame } from './sheet-frame';

export type { AreaGround, LayoutInput, MapLayout } from './layout-input';

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

/** Beside the line between two routers: their LAN does not lie on their cable. */
function besideLine([a, b]: readonly Node[], middle: Point): Point {
  if (!a || !b) return middle;
  const [dx, dy] = [b.x - a.x, b.y - a.y];
  const length = Math.hypot(dx, dy) || 1;
  // Away from the middle of the chart, where there is more room.
  const side = -dy * middle.x + dx * middle.y >= 0 ? 1 : -1;
  return { x: middle.x - (dy / length) * 64 * side, y: middle.y + (dx / length) * 64 * side };
}

/** Width of the sheet against its height, as it is on most screens beside rail and panel. */
const sheetAspect = 1.2;
/** More than this a chart is not drawn out: coasts and lines would only become longer. */
const mostDrawnOut = 1.5;

/** Draws a chart of folded areas out to the shape of the sheet; plates stay as they are. Gives by how much. */
function fillSheet(nodes: ReadonlyMap<string, Node>): Point {
  const all = [...nodes.values()];
  const across = (axis: 'x' | 'y'): number =>
    Math.max(...all.map((n) => n[axis] + n.room[axis] / 2)) - Math.min(...all.map((n) => n[axis] - n.room[axis] / 2));
  const now = across('x') / across('y');
  const by = { x: Math.min(mostDrawnOut, Math.max(1, sheetAspect / now)), y: Math.min(mostDrawnOut, Math.max(1, now / sheetAspect)) };
  for (const n of all) [n.x, n.y] = [n.x * by.x, n.y * by.y];
  return by;
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
  const cabled = new Set(input.links.flatMap((l) => (l.lan ? [] : [[...l.members].sort().join(' ')])));
  for (const [key, members] of lanKeys) {
    const on = members.flatMap((m) => nodes.get(m) ?? []);
    // Its words stand below the bar.
    const bar = { x: Math.max(room.x + 36, 150), y: room.y + 16 };
    if (on.length === 0) continue;
    const middle = { x: mean(on.map((n) => n.x)), y: mean(on.map((n) => n.y)) };
    const at = cabled.has([...members].sort().join(' ')) ? besideLine(on, middle) : middle;
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
  const wider = sizes.size > 0 ? fillSheet(nodes) : { x: 1, y: 1 };
  tidyInner(input, inner, nodes, { x: radius * wider.x, y: radius * wider.y });
  separate([...nodes.values()]);
  // Places chosen by hand come last: nobody else moves but who would be covered.
  for (const r of input.routers) {
    const own = places.get(r.name);
    if (own) nodes.set(r.name, { id: r.name, x: own.x, y: own.y, hold: 'hand', room: roomOf(r.name) });
  }
  if (places.size > 0) separate([...nodes.values()]);
  return frame(input, around, nodes, lanKeys, alone, room, sizes);
}
