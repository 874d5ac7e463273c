import type { Node, Room } from './apart';
import { freeSpot, labelPlace } from './ground-labels';
import { groundAround, inland, onCoast, type Footing } from './grounds';
import { backbone, type AreaGround, type LayoutInput, type MapLayout } from './layout-input';
import { mean, type Sector } from './sectors';
import { plate, plateWidth, type Point, type Size } from './shapes';

/** Grounds, labels and the size of the sheet; the picture is moved so that it begins at 0, 0. */
export function frame(
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
    const boxes = Object.entries(routers).map(([name, at]) => {
      const size = sizes.get(name);
      return { at, half: { x: (size?.width ?? plateWidth(name)) / 2, y: (size?.height ?? plate.height) / 2 } };
    });
    const ground = groundAround(core);
    grounds.unshift({
      area: backbone,
      ...ground,
      label: freeSpot(
        plates,
        boxes,
        centre,
        ground.corners,
        outlines.map((o) => o.corners),
      ),
      anchor: 'middle',
    });
  }
  return { width: maxX - minX, height: maxY - minY, centre, routers, lans, grounds };
}
