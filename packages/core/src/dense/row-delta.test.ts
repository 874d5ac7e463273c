import fc from 'fast-check';
import { noWay } from './area-rows';
import { chooseClasses, importsOf, type Imports } from './imports';
import type { AreaArrays } from './internal-rows';
import { HopSlots } from './hop-slots';
import { patchedImports, patchedRow, rowDelta } from './row-delta';
import type { SummaryRow } from './summary-row';

const prefixCount = 40;
const area = { graph: { routers: [0, 1, 2].map(() => ({ bits: { b: true } })) }, networks: { ids: new Int32Array(0) } } as unknown as AreaArrays;

function rowOf(speaker: number, costs: ReadonlyMap<number, number>): SummaryRow {
  const ids = Int32Array.from(costs.keys());
  return {
    speaker,
    adv: speaker + 1,
    vertex: speaker,
    ids,
    cost: Int32Array.from(costs.values()),
    reason: new Uint8Array(ids.length).fill(1),
    from: new Int32Array(ids.length),
    parts: new Map(),
  };
}

const fresh = (rows: readonly SummaryRow[]): Imports =>
  importsOf(area, rows, prefixCount, { ids: new Int32Array(prefixCount), costs: new Int32Array(prefixCount * 2) });

/** Cost of every prefix for a router at some distances from the border routers. */
function costs(imports: Imports, distance: Int32Array): (number | undefined)[] {
  const slots = new HopSlots();
  const choice = { cost: new Int32Array(imports.classCount), hops: new Int32Array(imports.classCount) };
  chooseClasses(choice, imports, distance, new Int32Array(3), slots);
  return Array.from({ length: prefixCount }, (_, id) => {
    const at = imports.place[id] ?? -1;
    const base = at < 0 ? noWay : (choice.cost[imports.classOf[at] ?? 0] ?? noWay);
    return base >= noWay ? undefined : base + (imports.offset[at] ?? 0);
  });
}

const said = fc.array(fc.tuple(fc.nat(prefixCount - 1), fc.integer({ min: 1, max: 50 })), { minLength: 10, maxLength: 40 }).map((l) => new Map(l));
const moves = fc.array(fc.tuple(fc.nat(2), fc.nat(39), fc.option(fc.integer({ min: 1, max: 50 }))), { maxLength: 6 });

test('imports patched with what moved choose as imports made anew, and one row patched is the row written anew', () => {
  fc.assert(
    fc.property(said, said, said, moves, fc.array(fc.integer({ min: 1, max: 30 }), { minLength: 3, maxLength: 3 }), (a, b, c, list, far) => {
      const before = [a, b, c];
      const after = before.map((m) => new Map(m));
      for (const [j, place, cost] of list) {
        const id = [...(before[j]?.keys() ?? [])][place % (before[j]?.size ?? 1)] ?? 0;
        if (cost === null) after[j]?.delete(id);
        else if (after[j]?.has(id)) after[j].set(id, cost);
      }
      const old = before.map((m, j) => rowOf(j, m));
      const now = after.map((m, j) => rowOf(j, m));
      const imports = fresh(old);
      const delta = rowDelta(imports, old, now);
      const patched = delta && patchedImports(imports, delta);
      const distance = Int32Array.from(far);
      expect(patched && costs(patched, distance)).toEqual(costs(fresh(now), distance));
      expect(patched?.counts.reduce((x, y) => x + y, 0)).toBe(imports.ids.length);
      now.forEach((row, j) => {
        const was = old[j];
        const ids = [...(before[j]?.keys() ?? [])].filter((id) => before[j]?.get(id) !== after[j]?.get(id));
        const made = was && patchedRow(was, ids, (id) => after[j]?.get(id) ?? noWay, 1);
        expect([...(made?.ids ?? [])]).toEqual([...row.ids]);
        expect([...(made?.cost ?? [])]).toEqual([...row.cost]);
      });
    }),
  );
});

test('a prefix that the area was never told of, or another border router, is not patched', () => {
  const [a, b] = [new Map([[1, 5]]), new Map([[2, 5]])];
  const old = [rowOf(0, a), rowOf(1, b)];
  const imports = fresh(old);
  const more = rowDelta(imports, old, [rowOf(0, new Map([...a, [7, 3]])), rowOf(1, b)]);
  expect(more?.ids).toEqual([7]);
  expect(more && patchedImports(imports, more)).toBeUndefined();
  expect(rowDelta(imports, old, [rowOf(0, a)])).toBeUndefined();
  expect(rowDelta(imports, old, [rowOf(0, a), rowOf(2, b)])).toBeUndefined();
});
