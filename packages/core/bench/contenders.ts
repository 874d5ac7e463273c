import { applyEdits } from '../src/design/edit';
import type { Design } from '../src/design/design';
import { routeChanges } from '../src/compare/route-changes';
import type { ChangeCount } from '../src/dense/changes';
import type { FailureSpec } from '../src/failures/outage';
import { documentText, type SourceDocument } from '../src/formats/documents';
import { designFrom, readSet } from '../src/formats/read-set';
import { generateCampus } from '../src/generate/generate-campus';
import { predict, type Prediction } from '../src/predict';
import { routeTypes } from '../src/routes/route';
import { linkFailures } from '../src/sweep/single-failures';
import { ordinaryTables } from './ordinary';

const name = process.argv[2] ?? '';
const size = Number(process.argv[3] ?? 100);
/** A made-up campus in which every other area is not summarised: tables are large, as they are where nobody planned. */
const documents = generateCampus({ routers: size, areas: Math.max(2, Math.round(size / 45)), seed: 3 }).map(withoutEveryOtherRange);
const texts = documents.map((d) => ({ name: d.file, content: documentText(d) }));
const design = designFrom(documents).design;

function withoutEveryOtherRange(d: SourceDocument): SourceDocument {
  const tree = JSON.parse(documentText(d), (key, value: unknown) => {
    if (key !== 'area' || !Array.isArray(value)) return value;
    return value.map((a: Record<string, unknown>) => {
      const last = Number(String(a['area-id']).split('.').at(-1));
      const { ranges, ...rest } = a;
      return ranges !== undefined && (last / 10) % 2 === 1 ? rest : a;
    });
  }) as SourceDocument['tree'];
  return { ...d, tree };
}

interface Result {
  readonly ms: number;
  readonly count: number;
  readonly checksum: number;
  readonly of: string;
}

/** The design as if it had just been read: nothing that is remembered for its objects holds. */
const fresh = (): Design => ({ ...design, routers: design.routers.map((r) => ({ ...r, instances: r.instances.map((i) => ({ ...i })) })) });

const add = (sum: number, x: number): number => (sum + (x % 1_000_003)) % 1_000_000_007;
const word = (bits: number, length: number, type: number, metric: number, forward: number): number =>
  (((bits * 33 + length) % 1_000_003) * (type + 1) + metric * 31 + forward * 7) % 1_000_000_007;
const forwardCounts = (type: number): boolean => type === 3 || type === 5;

/** Every route of every router in the arrays: their number and a sum over prefixes, kinds, costs and numbers of hops. */
function answers(p: Prediction): Omit<Result, 'ms'> {
  const { rows } = p.routing;
  const table = rows.emptyBuffer();
  let [count, checksum] = [0, 0];
  for (const s of p.adjacencies.speakers) {
    rows.fill(table, s);
    const slots = rows.arrays.slotsOf(s);
    count += table.count;
    for (let i = 0; i < table.count; i++) {
      const { bits, length } = rows.arrays.prefixes.prefix(table.prefix[i] ?? 0);
      const type = table.kind[i] ?? 0;
      const hops = slots.places(table.hops[i] ?? 0).length;
      checksum = add(checksum, word(bits, length, type, table.metric[i] ?? 0, forwardCounts(type) ? (table.forward[i] ?? 0) : 0) + hops);
    }
  }
  return { count, checksum, of: 'routes' };
}

/** The same of tables that hold an object for each route. */
function ordinaryAnswers(d: Design): Omit<Result, 'ms'> {
  let [count, checksum] = [0, 0];
  const { tables, readable } = ordinaryTables(d);
  tables.forEach((table, n) => {
    const limit = readable.speakers[n]?.instance.paths ?? 32;
    for (const r of table.values()) {
      count++;
      const type = routeTypes.indexOf(r.type);
      checksum = add(checksum, word(r.bits, r.length, type, r.metric, r.forwardMetric ?? 0) + Math.min(r.hops.length, limit));
    }
  });
  return { count, checksum, of: 'routes' };
}

/** Runs the work to warm up, then takes the best of the runs; what takes over two seconds is run once more and that is taken. */
function time(work: () => unknown, runs = 10): number {
  let best = Infinity;
  for (let i = 0; i < runs; i++) {
    const start = performance.now();
    work();
    const took = performance.now() - start;
    if (i >= 2) best = Math.min(best, took);
    if (i >= 1 && took > 2000) return Math.min(best, took);
  }
  return best;
}

/** A document with one cost changed, at the n-th turn another one. */
function edited(n: number): SourceDocument[] {
  const router = design.routers[n % size];
  const at = router?.instances[0]?.areas[0]?.interfaces.at(-1)?.at;
  return router && at
    ? applyEdits(documents, [{ router: router.name, file: router.file, at: [...at, 'cost'], from: undefined, to: 11 + (n % 7) }])
    : documents;
}

let turn = 0;
const whole = (d: Design): Prediction => {
  const p = predict(d);
  p.routing.rows.prepare();
  return p;
};

/** What changed in each router's table, added up. */
class Sum {
  count = 0;
  checksum = 0;
  add(c: ChangeCount, router: number): void {
    this.count += c.lost + c.gained + c.changed;
    this.checksum = add(this.checksum, (c.lost * 3 + c.gained * 5 + c.changed * 7) * (router + 1));
  }
}

/** How many cuts are tried; computing everything anew for each takes its time. */
const tried = size > 500 ? 12 : 50;

/**
 * Every so many-th single link failure, one after the other: mean time of each.
 *
 * @param once  computes one failure and gives its milliseconds and what it changed
 */
function sweep(once: (base: Prediction, failure: FailureSpec, sum: Sum) => number, warm: number): Result {
  const base = whole(design);
  const all = linkFailures(base);
  const step = Math.max(1, Math.floor(all.length / tried));
  const some = all.filter((_, i) => i % step === 0 && i / step < tried);
  for (const f of some.slice(0, warm)) once(base, f, new Sum());
  const sum = new Sum();
  const ms = some.reduce((t, f) => t + once(base, f, sum), 0) / some.length;
  return { ms, count: sum.count, checksum: sum.checksum, of: `changed routes in ${some.length} of ${all.length} cuts` };
}

/** From the state before, with every change counted. */
function cut(base: Prediction, failure: FailureSpec, sum: Sum): number {
  const start = performance.now();
  const after = base.fail(failure);
  for (const { speaker, count } of routeChanges(base, after)) sum.add(count, speaker.index);
  return performance.now() - start;
}

/** Everything computed and every table written out; laying the tables side by side is not timed. */
function cutAnew(base: Prediction, failure: FailureSpec, sum: Sum): number {
  const start = performance.now();
  const after = predict(base.design, [failure]);
  const { rows } = after.routing;
  rows.prepare();
  const table = rows.emptyBuffer();
  for (const s of after.adjacencies.speakers) rows.fill(table, s);
  const took = performance.now() - start;
  for (const { speaker, count } of routeChanges(base, after)) sum.add(count, speaker.index);
  return took;
}

/** Every fifth single link failure until every route of every router can be answered: the time that 99 of 100 keep within. */
function whatIf(): Result {
  const base = whole(design);
  const some = linkFailures(base).filter((_, i) => i % 5 === 0);
  const once = (f: FailureSpec): number => {
    const start = performance.now();
    base.fail(f).routing.rows.prepare();
    return performance.now() - start;
  };
  for (const f of some.slice(0, 150)) once(f);
  const took = some.map(once).sort((a, b) => a - b);
  const at = (share: number): number => took[Math.min(took.length - 1, Math.floor(took.length * share))] ?? 0;
  return { ms: at(0.99), count: took.length, checksum: 0, of: `cuts, half of them within ${at(0.5).toFixed(1)} ms` };
}

const contenders: Record<string, () => Result> = {
  'what-if': whatIf,
  parse: () => ({ ms: time(() => texts.map((t) => JSON.parse(t.content) as unknown)), count: texts.length, checksum: 0, of: 'documents' }),
  read: () => ({ ms: time(() => readSet(texts)), count: readSet(texts).design.routers.length, checksum: 0, of: 'documents' }),
  predict: () => {
    const designs = Array.from({ length: 12 }, fresh);
    let n = 0;
    const ms = time(() => whole(designs[n++] ?? design));
    return { ms, ...answers(whole(design)) };
  },
  ordinary: () => ({ ms: time(() => ordinaryTables(fresh())), ...ordinaryAnswers(design) }),
  tables: () => {
    const p = whole(design);
    const table = p.routing.rows.emptyBuffer();
    const ms = time(() => {
      for (const s of p.adjacencies.speakers) p.routing.rows.fill(table, s);
    });
    return { ms, ...answers(p) };
  },
  'tables-readable': () => {
    const p = predict(design);
    const ms = time(() => {
      for (const s of p.adjacencies.speakers) p.routing.tableOnce(s);
    });
    return { ms, ...answers(p) };
  },
  memory: () => {
    const start = performance.now();
    const p = whole(design);
    return { ms: performance.now() - start, ...answers(p) };
  },
  edit: () => ({ ms: time(() => whole(designFrom(edited(turn++)).design)), ...answers(whole(designFrom(edited(3)).design)) }),
  'edit-anew': () => ({
    ms: time(() => whole(readSet(edited(turn++).map((d) => ({ name: d.file, content: documentText(d) }))).design)),
    ...answers(whole(designFrom(edited(3)).design)),
  }),
  cut: () => sweep(cut, 12),
  'cut-anew': () => sweep(cutAnew, 2),
};
const contender = contenders[name];
if (!contender) throw new Error(`no contender ${name}; known are ${Object.keys(contenders).join(', ')}`);
const result = contender();
process.stdout.write(`${JSON.stringify({ ...result, rss: Math.round(process.memoryUsage().rss / 1e6) })}\n`);
