import { predict, type Prediction } from '../predict';
import { sample } from '../testing/sample';
import { cuttingEach, type CutCounts } from './every-cut';

function all(p: Prediction): CutCounts {
  const steps = cuttingEach(p);
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
  }
}

/** OSPF routes of every router in words, from the readable tables. */
function tables(p: Prediction): Map<string, string>[] {
  return p.adjacencies.speakers.map((s) => {
    const { hops } = p.routing.hopList(s);
    const ways = (list: readonly number[]): string =>
      list
        .map((h) => `${hops[h]?.port.iface.name ?? ''} ${hops[h]?.address ?? ''}`)
        .sort()
        .join();
    return new Map(
      [...p.routing.table(s).values()].map((r) => [`${r.bits}/${r.length}`, `${r.type} ${r.metric} ${r.forwardMetric ?? ''} ${ways(r.hops)}`]),
    );
  });
}

test('every single cut of the sample campus counts what whole predictions of each cut show', () => {
  for (const folder of ['saltmarsh-point', 'saltmarsh-point-before-review'] as const) {
    const p = predict(sample(folder).design);
    const before = tables(p);
    const counts = all(p);
    expect(counts.failures.length).toBeGreaterThan(15);
    counts.failures.forEach((f, i) => {
      const after = tables(predict(p.design, [f]));
      const lost = before.map((t, n) => [...t.keys()].filter((k) => !after[n]?.has(k)).length);
      const other = before.map(
        (t, n) =>
          [...t].filter(([k, w]) => after[n]?.has(k) && after[n].get(k) !== w).length + [...(after[n]?.keys() ?? [])].filter((k) => !t.has(k)).length,
      );
      const sum = (list: readonly number[]): number => list.reduce((a, b) => a + b, 0);
      expect({ f, routers: counts.routers[i], lost: counts.lost[i], changed: counts.changed[i] }).toEqual({
        f,
        routers: lost.filter((n, k) => n + (other[k] ?? 0) > 0).length,
        lost: sum(lost),
        changed: sum(other),
      });
    });
  }
});
