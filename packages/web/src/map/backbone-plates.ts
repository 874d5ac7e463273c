import type { Hold, Node } from './apart';
import type { LayoutInput } from './layout-input';
import { mean } from './sectors';
import { plate, type Point } from './shapes';
import { tidyInside } from './tidy';

/** Routers of the backbone alone: between the border routers that they are linked to. */
export function placeInner(
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
export function tidyInner(input: LayoutInput, inner: readonly string[], nodes: Map<string, Node>, reach: Point): void {
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
  tidyInside(inner, places, edges, { x: reach.x * 0.68, y: reach.y * 0.72 }, { x: plate.width / 2, y: plate.height / 2 });
  for (const id of inner) {
    const [node, p] = [nodes.get(id), places.get(id)];
    if (node && p) [node.x, node.y] = [p.x, p.y];
  }
}
