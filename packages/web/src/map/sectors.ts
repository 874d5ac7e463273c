import { byName } from '../parts/words';
import { backbone, type LayoutInput } from './layout-input';

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

export function neighbourMap(input: LayoutInput): Map<string, string[]> {
  const out = new Map<string, string[]>();
  const add = (a: string, b: string): void => {
    const list = out.get(a);
    if (!list) out.set(a, [b]);
    else if (!list.includes(b)) list.push(b);
  };
  for (const l of input.links) for (const a of l.members) for (const b of l.members) if (a !== b) add(a, b);
  return out;
}

export interface Sector {
  readonly area: string;
  readonly borders: readonly string[];
  readonly rows: readonly (readonly string[])[];
  readonly weight: number;
}

export const mean = (values: readonly number[]): number => (values.length === 0 ? 0 : values.reduce((a, b) => a + b, 0) / values.length);

/** Areas around the backbone: their border routers, then rows by distance from these. */
export function sectors(input: LayoutInput, neighbours: ReadonlyMap<string, readonly string[]>): Sector[] {
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
export function order(row: readonly string[], angleOf: ReadonlyMap<string, number>, neighbours: ReadonlyMap<string, readonly string[]>): string[] {
  const key = (n: string): number => {
    const known = (neighbours.get(n) ?? []).flatMap((m) => angleOf.get(m) ?? []);
    return known.length === 0 ? (angleOf.get(n) ?? 0) : mean(known);
  };
  return [...row].sort((a, b) => key(a) - key(b) || byName(a, b));
}
