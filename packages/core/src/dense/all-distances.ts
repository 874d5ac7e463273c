import type { AreaGraph } from '../lsdb/area-graph';

/** Distance where there is no way; two of them add up within 32 bits. */
export const noWay = 0x3fff_ffff;

/** What of a graph decides over distances. */
export type Edges = Pick<AreaGraph, 'first' | 'to' | 'metric'>;

/**
 * Distances from every vertex to every other, row by row: that from v to w stands at `v * n + w`, `noWay` without a way
 * (RFC 2328 §16.1).
 *
 * Vertices are taken out one after the other, first those with the fewest neighbours, and what led through one becomes an
 * edge between its neighbours. Then they come back in the reverse order: every way from or to one leads over one of the
 * neighbours that it had when it was taken out, and from there distances are known. Most routers of a campus have two
 * neighbours, so that a pair of routers is looked at little more than twice.
 */
export function allDistances(graph: Edges): Int32Array {
  const n = graph.first.length - 1;
  const direct = new Int32Array(n * n).fill(noWay);
  const near = neighboursOf(graph, n, direct);
  const taken = takeOut(n, direct, near);
  return putBack(n, direct, taken);
}

/** Vertices next to each vertex, in either direction; costs of edges are put into the matrix. */
function neighboursOf(graph: Edges, n: number, direct: Int32Array): number[][] {
  const { first, to, metric } = graph;
  const near: number[][] = [];
  for (let v = 0; v < n; v++) near.push([]);
  for (let v = 0; v < n; v++)
    for (let e = first[v]!; e < first[v + 1]!; e++) {
      const w = to[e]!;
      if (w === v) continue;
      if (direct[v * n + w] === noWay && direct[w * n + v] === noWay) {
        near[v]?.push(w);
        near[w]?.push(v);
      }
      if (metric[e]! < direct[v * n + w]!) direct[v * n + w] = metric[e]!;
    }
  return near;
}

/** Vertices in the order in which they were taken out, each with the neighbours that were left then. */
interface Taken {
  readonly order: Int32Array;
  readonly near: readonly (readonly number[])[];
}

function takeOut(n: number, direct: Int32Array, near: number[][]): Taken {
  const order = new Int32Array(n);
  const gone = new Uint8Array(n);
  for (let at = 0; at < n; at++) {
    const v = fewest(near, gone);
    order[at] = v;
    gone[v] = 1;
    const around = near[v] ?? [];
    for (let i = 0; i < around.length; i++) {
      const a = around[i]!;
      const there = near[a];
      if (!there) continue;
      // The last one takes the place of what is gone.
      const place = there.indexOf(v);
      const last = there.pop() ?? v;
      if (last !== v) there[place] = last;
      for (let j = 0; j < i; j++) shortcut(n, direct, near, a, v, around[j]!);
    }
  }
  return { order, near };
}

/** The vertex with the fewest neighbours of those that are left. */
function fewest(near: readonly (readonly number[])[], gone: Uint8Array): number {
  let best = -1;
  let least = Infinity;
  for (let v = 0; v < gone.length; v++) {
    const count = gone[v] === 1 ? Infinity : (near[v]?.length ?? 0);
    if (count >= least) continue;
    best = v;
    least = count;
    if (count <= 1) break;
  }
  return best;
}

/** What leads between two vertices over a third becomes an edge between the two, in both directions. */
function shortcut(n: number, direct: Int32Array, near: number[][], a: number, v: number, b: number): void {
  const [toB, toA] = [direct[a * n + b]!, direct[b * n + a]!];
  const there = direct[a * n + v]! + direct[v * n + b]!;
  const back = direct[b * n + v]! + direct[v * n + a]!;
  // Where edges lead one way only there may be no way over the third at all: then the two do not come to stand beside each other.
  if (toB === noWay && toA === noWay && (there < noWay || back < noWay)) {
    near[a]?.push(b);
    near[b]?.push(a);
  }
  if (there < toB) direct[a * n + b] = there;
  if (back < toA) direct[b * n + a] = back;
}

/** Distances among those that are back stand in the first rows and columns, in the order in which they came back. */
let among = new Int32Array(0);

function putBack(n: number, direct: Int32Array, taken: Taken): Int32Array {
  if (among.length < n * n) among = new Int32Array(n * n);
  const place = new Int32Array(n);
  for (let k = 0; k < n; k++) {
    const v = taken.order[n - 1 - k]!;
    place[v] = k;
    for (let t = 0, row = k * n, column = k; t < k; t++, row++, column += n) {
      among[row] = noWay;
      among[column] = noWay;
    }
    among[k * n + k] = 0;
    for (const u of taken.near[v] ?? []) addOver(n, k, place[u]!, direct[v * n + u]!, direct[u * n + v]!);
  }
  return inOrder(n, place, direct);
}

/** Ways of the vertex at place k to and from all before it, over its neighbour at place u. Small, and of steady types. */
function addOver(n: number, k: number, u: number, there: number, back: number): void {
  const matrix = among;
  for (let t = 0, row = k * n, from = u * n; t < k; t++, row++, from++) {
    const d = there + matrix[from]!;
    if (d < matrix[row]!) matrix[row] = d;
  }
  for (let t = 0, column = k, to = u; t < k; t++, column += n, to += n) {
    const d = matrix[to]! + back;
    if (d < matrix[column]!) matrix[column] = d;
  }
}

/** The matrix by vertices again; it takes the place of another one. */
function inOrder(n: number, place: Int32Array, out: Int32Array): Int32Array {
  for (let v = 0; v < n; v++) {
    const row = place[v]! * n;
    for (let w = 0; w < n; w++) out[v * n + w] = among[row + place[w]!]!;
  }
  return out;
}
