import fc from 'fast-check';
import { allDistances, noWay, type Edges } from './all-distances';

/** Distances by trying every vertex in between. */
function slowly(n: number, g: Edges): number[] {
  const d = new Array<number>(n * n).fill(Infinity);
  for (let v = 0; v < n; v++) {
    for (let e = g.first[v] ?? 0; e < (g.first[v + 1] ?? 0); e++)
      d[v * n + (g.to[e] ?? 0)] = Math.min(d[v * n + (g.to[e] ?? 0)] ?? Infinity, g.metric[e] ?? 0);
    d[v * n + v] = 0;
  }
  for (let k = 0; k < n; k++)
    for (let v = 0; v < n; v++) for (let w = 0; w < n; w++) d[v * n + w] = Math.min(d[v * n + w] ?? 0, (d[v * n + k] ?? 0) + (d[k * n + w] ?? 0));
  return d;
}

/** Some edges lead one way only, some stand twice, some come back to where they began; some cost nothing. */
const graphs = fc.integer({ min: 1, max: 14 }).chain((n) =>
  fc
    .array(fc.record({ from: fc.nat(n - 1), to: fc.nat(n - 1), metric: fc.oneof(fc.nat(6), fc.constant(65_535)) }), { maxLength: 4 * n })
    .map((edges): { n: number; graph: Edges } => {
      const sorted = [...edges].sort((a, b) => a.from - b.from);
      const first = Int32Array.from({ length: n + 1 }, (_, v) => sorted.filter((e) => e.from < v).length);
      return { n, graph: { first, to: Int32Array.from(sorted, (e) => e.to), metric: Int32Array.from(sorted, (e) => e.metric) } };
    }),
);

test('Distances of random graphs are those found by trying every vertex in between', () => {
  fc.assert(
    fc.property(graphs, ({ n, graph }) => {
      expect(Array.from(allDistances(graph), (d) => (d === noWay ? Infinity : d))).toEqual(slowly(n, graph));
    }),
    { numRuns: 2000 },
  );
});

test('two that a third leads to, and none back, do not come to stand beside each other', () => {
  // 0 leads to 1 and 2, 3 leads to 1 and 2; nothing leads on.
  const graph = { first: Int32Array.of(0, 2, 2, 2, 4), to: Int32Array.of(1, 2, 1, 2), metric: Int32Array.of(5, 6, 7, 8) };
  const far = noWay;
  expect(Array.from(allDistances(graph))).toEqual([0, 5, 6, far, far, 0, far, far, far, far, 0, far, far, 7, 8, 0]);
});
