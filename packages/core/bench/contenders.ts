import { converge, converging, Simulation, type Convergence } from '../src/convergence/converge';
import { plainProfile } from '../src/convergence/timing-profile';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { applyEdits } from '../src/design/edit';
import type { Design } from '../src/design/design';
import { forwardingOf } from '../src/compare/forwarding-kept';
import { routeChanges } from '../src/compare/route-changes';
import { families, type Family } from '../src/design/family';
import type { FailureSpec } from '../src/failures/outage';
import { checkDesign } from '../src/findings/catalogue';
import { documentText, type SourceDocument } from '../src/documents/documents';
import { designFrom, readSet } from '../src/formats/read-set';
import { generateCampus } from '../src/generate/generate-campus';
import type { Expectation } from '../src/design/settings';
import { formatFailure } from '../src/failures/outage';
import { prefixOf, type Address, type Prefix } from '../src/prefix/address';
import { judge } from '../src/reach/expectations';
import { Forwarding } from '../src/reach/forwarding';
import { loopbacks, matrixOf } from '../src/reach/matrix';
import { cellAt } from '../src/reach/matrix-cells';
import { trace } from '../src/reach/trace';
import { prefixId } from '../src/prefix/prefix-book';
import { predict, type Prediction } from '../src/predict';
import { routeTypes } from '../src/design/terms';
import { CutCounter } from '../src/sweep/cut-counter';
import { planSummaries, type Limits, type Task } from '../src/summaries/planner';
import { linkFailures } from '../src/failures/single-failures';
import { mirrored } from '../src/testing/mirror';
import { plainPlans } from '../src/testing/plain-planner';
import { meanCase } from './cases';
import { ordinaryTables } from './ordinary';

const name = process.argv[2] ?? '';
const size = Number(process.argv[3] ?? 100);
/** A folder of router documents to measure on, instead of a campus made here. */
const folder = process.argv[4];

/** A made-up campus in which every other area is not summarised: tables are large, as they are where nobody planned. */
const made = (): SourceDocument[] =>
  generateCampus({ routers: size, areas: Math.max(2, Math.round(size / 45)), seed: 3 }).map(withoutEveryOtherRange);
const texts = folder
  ? readdirSync(folder).map((file) => ({ name: file, content: readFileSync(join(folder, file), 'utf8') }))
  : made().map((d) => ({ name: d.file, content: documentText(d) }));
const { design, documents } = readSet(texts);

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
  const { rows } = p.fast;
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
    const limit = readable.domain.speakers[n]?.instance.paths ?? 32;
    for (const r of table.values()) {
      count++;
      const type = routeTypes.indexOf(r.type);
      checksum = add(checksum, word(r.bits, r.length, type, r.metric, r.forwardMetric ?? 0) + Math.min(r.hops.length, limit));
    }
  });
  return { count, checksum, of: 'routes' };
}

/**
 * Runs the work until it is warm, as that of a page that is open: at least ten runs, and for three seconds; the best is
 * taken. What takes over two seconds is run once more and that is taken.
 */
function time(work: () => unknown): number {
  return timeOn(() => undefined, work);
}

/** The same for work on something that is made anew for each run, which is not timed. */
function timeOn<T>(make: () => T, work: (x: T) => unknown): number {
  let best = Infinity;
  const until = performance.now() + 3000;
  for (let i = 0; i < 10 || performance.now() < until; i++) {
    const x = make();
    const start = performance.now();
    work(x);
    const took = performance.now() - start;
    if (i >= 2) best = Math.min(best, took);
    if (i >= 1 && took > 2000) return Math.min(best, took);
  }
  return best;
}

/** A document with one cost changed, at the n-th turn another one. */
function edited(n: number): readonly SourceDocument[] {
  const router = design.routers[n % size];
  const at = router?.instances[0]?.areas[0]?.interfaces.at(-1)?.at;
  return router && at
    ? applyEdits(documents, [{ router: router.name, file: router.file, at: [...at, 'cost'], from: undefined, to: 11 + (n % 7) }])
    : documents;
}

let turn = 0;
const whole = (d: Design): Prediction => {
  const p = predict(d);
  p.fast.rows.prepare();
  return p;
};

/** How many cuts are tried where each is computed as a whole; that takes its time. */
const tried = size > 500 ? 12 : 50;
const sampled = <T>(all: readonly T[]): T[] => {
  const step = Math.max(1, Math.floor(all.length / tried));
  return all.filter((_, i) => i % step === 0 && i / step < tried);
};

const median = (list: readonly number[]): number => [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)] ?? 0;

/** Cables that OSPF speaks on: what a bare graph has, too. */
function cables(p: Prediction): FailureSpec[] {
  return linkFailures(p).filter((f) => {
    if (f.kind !== 'link') return false;
    const router = p.routerIndex(f.router);
    const iface = p.design.routers[router]?.interfaces.findIndex((i) => i.name === f.iface) ?? -1;
    return p.segments.list[p.segments.of[router]?.[iface] ?? -1]?.kind === 'cable';
  });
}

/** Counts what a cut changes, from the state before alone; one that cannot be told so would be a fault of the bench. */
function counted(counter: CutCounter | undefined, cut: FailureSpec): { lost: number; changed: number } {
  const c = counter?.count(cut);
  if (!c) throw new Error(`the cut ${JSON.stringify(cut)} is not counted`);
  return c;
}

/**
 * Every single link failure counted, sweep after sweep: the median of all but the first three. Apart from these the very
 * first one of a process, with all that is prepared once for a state.
 */
function sweep(list: (p: Prediction) => FailureSpec[], first = false): Result {
  const base = whole(design);
  const all = list(base);
  const times: number[] = [];
  let routes = 0;
  let counter: CutCounter | undefined;
  for (let run = 0; run < (first ? 1 : 11); run++) {
    const start = performance.now();
    counter ??= CutCounter.over(base);
    routes = 0;
    for (const cut of all) {
      const c = counted(counter, cut);
      routes += c.lost + c.changed;
    }
    times.push(performance.now() - start);
  }
  return {
    ms: median(first ? times : times.slice(3)),
    count: routes,
    checksum: 0,
    of: `changed routes in ${all.length.toLocaleString('en-GB')} cuts`,
  };
}

/** A few of the cuts, ours in passing and each as a whole: mean milliseconds of one. */
function someCuts(
  once: (base: Prediction, cut: FailureSpec) => { took: number; lost: number; changed: number },
  warm: readonly FailureSpec[],
): Result {
  const base = whole(design);
  const some = sampled(linkFailures(base));
  for (const cut of warm) once(base, cut);
  let [ms, count, checksum] = [0, 0, 0];
  some.forEach((cut, i) => {
    const { took, lost, changed } = once(base, cut);
    ms += took / some.length;
    count += lost + changed;
    checksum = add(checksum, (lost * 3 + changed * 7) * (i + 1));
  });
  return { ms, count, checksum, of: `changed routes in ${some.length} of ${linkFailures(base).length} cuts` };
}

/** Ours: after sweeps over all of them, as in the row above. */
function cut(): Result {
  const base = whole(design);
  const counter = CutCounter.over(base);
  const all = linkFailures(base);
  for (let run = 0; run < 8; run++) for (const c of all) counted(counter, c);
  return someCuts((_, c) => {
    const start = performance.now();
    const { lost, changed } = counted(counter, c);
    return { took: performance.now() - start, lost, changed };
  }, []);
}

/** Everything computed and every table written out; laying the tables side by side is not timed. */
function cutAnew(): Result {
  const all = linkFailures(whole(design));
  return someCuts(
    (base, c) => {
      const start = performance.now();
      const after = predict(base.design, [c]);
      const { rows } = after.fast;
      rows.prepare();
      const table = rows.emptyBuffer();
      for (const s of after.adjacencies.speakers) rows.fill(table, s);
      const took = performance.now() - start;
      let [lost, changed] = [0, 0];
      for (const { count } of routeChanges(base, after)) {
        lost += count.lost;
        changed += count.changed + count.gained;
      }
      return { took, lost, changed };
    },
    all.slice(0, 2),
  );
}

/** Every fifth single link failure until every route of every router can be answered: the time that 99 of 100 keep within. */
function whatIf(): Result {
  const base = whole(design);
  const some = linkFailures(base).filter((_, i) => i % 5 === 0);
  const once = (f: FailureSpec): number => {
    const start = performance.now();
    base.fail(f).fast.rows.prepare();
    return performance.now() - start;
  };
  for (const f of some.slice(0, 150)) once(f);
  const took = some.map(once).sort((a, b) => a - b);
  const at = (share: number): number => took[Math.min(took.length - 1, Math.floor(took.length * share))] ?? 0;
  return { ms: at(0.99), count: took.length, checksum: 0, of: `cuts, half of them within ${at(0.5).toFixed(1)} ms` };
}

/** The whole prediction with every table written out and kept, as one block of numbers. */
function keep(): Result {
  const kept = new Int32Array(40_000_000);
  let n = 0;
  const times: number[] = [];
  for (let run = 0; run < 40; run++) {
    const d = fresh();
    const start = performance.now();
    const { rows } = whole(d).fast;
    const table = rows.emptyBuffer();
    n = 0;
    for (const s of rows.arrays.domain.speakers) {
      rows.fill(table, s);
      kept.set(table.prefix.subarray(0, table.count), n);
      kept.set(table.metric.subarray(0, table.count), n + table.count);
      kept.set(table.hops.subarray(0, table.count), n + 2 * table.count);
      n += 3 * table.count;
    }
    times.push(performance.now() - start);
  }
  return { ms: median(times.slice(20)), count: n / 3, checksum: 0, of: 'routes' };
}

/** The campus with 64 mistakes of the kinds that engineers make: one side's timer, a passive link, an area's cost. */
function faulty(): SourceDocument[] {
  const { design: d } = designFrom(documents);
  const links = d.routers.flatMap((r) => {
    const ospf = r.instances[0]?.areas.flatMap((a) => a.interfaces) ?? [];
    return ospf.flatMap((i) => (i.passive || i.type !== 'point-to-point' ? [] : [{ r, i }]));
  });
  const step = Math.floor(links.length / 64);
  return Array.from({ length: 64 }, (_, n) => links[n * step]).reduce<SourceDocument[]>(
    (docs, l, n) =>
      l
        ? applyEdits(docs, [
            {
              router: l.r.name,
              file: l.r.file,
              at: [...l.i.at, n % 3 === 0 ? 'passive' : 'hello-interval'],
              from: undefined,
              to: n % 3 === 0 ? true : 7,
            },
          ])
        : docs,
    [...documents],
  );
}

/** Every finding of a campus with mistakes, with what it costs, once, in a process that has done nothing before. */
function check(): Result {
  const broken = faulty();
  const start = performance.now();
  const read = designFrom(broken);
  const { findings } = checkDesign(predict(read.design), broken);
  return { ms: performance.now() - start, count: findings.length, checksum: 0, of: 'findings' };
}

/** The same campus read, predicted and every table written out, in such a process. */
function everything(): Result {
  const broken = faulty();
  const start = performance.now();
  const p = predict(designFrom(broken).design);
  for (const s of p.adjacencies.speakers) p.routing.tableOnce(s);
  return { ms: performance.now() - start, count: 0, checksum: 0, of: 'findings' };
}

/** The same campus with IPv6 and OSPFv3 like IPv4 and OSPFv2; parsed anew, so that nothing that was read of it is remembered. */
const ofBoth = (): Design =>
  designFrom(mirrored(documents.map((d) => ({ file: d.file, tree: JSON.parse(documentText(d)) as SourceDocument['tree'] })))).design;

/** Some families of that, predicted whole. */
function familiesOf(list: readonly Family[]): Result {
  const two = ofBoth();
  const anew = (): Design => ({ ...two, routers: two.routers.map((r) => ({ ...r, instances: r.instances.map((i) => ({ ...i })) })) });
  const each = (d: Design): Prediction[] =>
    list.map((family) => {
      const p = predict(d, [], { family });
      p.fast.rows.prepare();
      return p;
    });
  const ms = timeOn(anew, each);
  const count = each(two).reduce((n, p) => n + answers(p).count, 0);
  return { ms, count, checksum: 0, of: 'routes' };
}

/** Two thousand prefixes of an area in some hundred clusters, as they grow where nobody planned, and foreign ones between them. */
function prefixesToPlan(): Task {
  let state = 7;
  const below = (n: number): number => (state = (state * 48_271) % 2_147_483_647) % n;
  const lengths = [24, 24, 24, 26, 27, 31, 32];
  const own = new Map<number, Prefix>();
  const foreign = new Map<number, Prefix>();
  while (own.size < 2000) {
    const base = 0x0a60_0000 + below(256) * 0x2000;
    const p = prefixOf(base + below(32) * 0x100 + below(8) * 32, lengths[below(lengths.length)] ?? 24);
    own.set(prefixId(p.bits, p.length), p);
  }
  while (foreign.size < 200) {
    const p = prefixOf(0x0a60_0000 + below(0x2000) * 0x100, 24);
    const key = prefixId(p.bits, p.length);
    if (!own.has(key)) foreign.set(key, p);
  }
  return {
    parts: [...own.values()],
    foreign: [...foreign.values()].map((prefix) => ({ prefix, area: 1 })),
    supernets: [prefixOf(0x0a60_0000, 11)],
  };
}

/** The best summaries, at most eight, of two thousand prefixes; by number of summaries, with what they leave outside. */
function planned(plan: (t: Task, l: Limits) => readonly { summaries: readonly Prefix[]; outside: number }[]): Result {
  const task = prefixesToPlan();
  const limits = { atMost: 8, allowForeign: 2 };
  const found = plan(task, limits);
  let checksum = 0;
  for (const c of found) for (const p of c.summaries) checksum = add(checksum, p.bits + p.length * 31 + c.outside);
  return { ms: time(() => plan(task, limits)), count: found.length, checksum, of: 'plans' };
}

/** The first two hundred loopbacks, from all over the campus. */
const someLoopbacks = (p: Prediction): readonly Address[] => {
  const all = [...new Set(loopbacks(p))];
  const step = Math.max(1, Math.floor(all.length / 200));
  return all.filter((_, n) => n % step === 0).slice(0, 200);
};

/** What becomes of packets between loopbacks, there and back: as one number for each pair. */
function reached(pairs: (p: Prediction, rows: readonly Address[]) => Iterable<readonly [string, string, number, number]>): Result {
  const told = (p: Prediction): { count: number; checksum: number } => {
    let [count, checksum] = [0, 0];
    for (const [there, back, hops, cost] of pairs(p, someLoopbacks(p))) {
      count++;
      checksum = add(checksum, there.length * 7 + back.length * 31 + hops * 1009 + cost * 13);
    }
    return { count, checksum };
  };
  const ms = timeOn(() => whole(fresh()), told);
  return { ms, ...told(whole(design)), of: 'pairs' };
}

function* byMatrix(p: Prediction, rows: readonly Address[]): Generator<readonly [string, string, number, number]> {
  const m = matrixOf(p, rows);
  for (const r of rows.keys())
    for (const c of rows.keys()) {
      const { there, back, hops, cost } = cellAt(m, r, c);
      yield [there, back, hops ?? -1, cost ?? -1];
    }
}

function* byTraces(p: Prediction, rows: readonly Address[]): Generator<readonly [string, string, number, number]> {
  const f = new Forwarding(p);
  for (const from of rows)
    for (const to of rows) {
      const t = trace(f, from, to);
      const [start] = f.endsOf(from);
      const hops = Math.max(...t.forward.branches.map((b) => b.hops.length - 1));
      yield [t.forward.fate, t.return.fate, hops, start === undefined ? -1 : (f.lookup(start, to)?.route?.metric ?? -1)];
    }
}

/** Fifty expectations of all sorts, some of which are to outlive a failure. */
function expectations(): Expectation[] {
  const all = loopbacks(whole(design));
  const at = (n: number): Address => all[(n * 7919) % all.length] ?? 0;
  const router = (n: number): string => design.routers[(n * 104_729) % design.routers.length]?.name ?? '';
  const [cut] = linkFailures(whole(design));
  const base = (n: number) => ({
    name: `e${n}`,
    file: '',
    at: [],
    under: n % 10 === 0 && cut ? (formatFailure(cut) as Expectation['under']) : ('normal' as const),
  });
  return Array.from({ length: 50 }, (_, n): Expectation => {
    const ends = { from: at(n), to: at(n + 100) };
    if (n % 5 === 3)
      return { ...base(n), kind: 'path', ...ends, through: [], avoids: [], atMostHops: 20, atMostCost: undefined, symmetric: n % 2 === 1 };
    if (n % 5 === 4) return { ...base(n), kind: 'table', router: router(n), atMost: 400 };
    return { ...base(n), kind: 'reach', ...ends, bothWays: true, withinMs: undefined, leavesBy: undefined };
  });
}

/**
 * The same expectations after each of many edits.
 *
 * @param again    the state after an edit, from the one before or from nothing
 * @param plainly  by whole tables alone
 */
function expectedAfterEdits(again: (before: Prediction, d: Design) => Prediction, plainly: boolean): Result {
  const all = expectations();
  const held = (p: Prediction): number =>
    judge(plainly ? new Forwarding(p) : forwardingOf(p), all, plainly ? { plainly } : { forward: forwardingOf }).filter((r) => r.holds).length;
  let turn = 0;
  let p = whole(design);
  const ms = timeOn(
    () => designFrom(edited(turn++)).design,
    (d) => {
      p = again(p, d);
      held(p);
    },
  );
  const count = held(whole(designFrom(edited(3)).design));
  return { ms, count, checksum: count, of: 'of 50 hold' };
}

/** Runs of one failure in the middle of the network: the first cable of a border router. */
function reconvergence(runs: number, simulate: (s: Simulation, runs: number) => Convergence): Result {
  const border = whole(design).routing.domain.borderRouters[0]?.router.name ?? '';
  const cut = linkFailures(whole(design)).find((f) => 'router' in f && f.router === border);
  if (!cut) throw new Error('no cable at a border router');
  const happenings = [{ ms: 0, kind: 'fail' as const, spec: cut }];
  let c: Convergence | undefined;
  const ms = time(() => {
    c = simulate(new Simulation(design, 4, happenings), runs);
  });
  const spread = c?.lastChange;
  return { ms, count: c?.deeds ?? 0, checksum: Math.round(1000 * ((spread?.earliest ?? 0) + (spread?.latest ?? 0))), of: `events in ${runs} runs` };
}

const together = (s: Simulation, runs: number): Convergence => converge([s], { profile: plainProfile, seed: 1, runs, whole: false });

/** Runs by themselves: none knows what another calculated. */
function eachByItself(s: Simulation, runs: number): Convergence {
  const steps = converging([s], { profile: plainProfile, seed: 1, runs, whole: false, forgetful: true });
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
  }
}

const contenders: Record<string, () => Result> = {
  'converge-100': () => reconvergence(100, together),
  converge: () => reconvergence(10, together),
  'converge-each': () => reconvergence(10, eachByItself),
  matrix: () => reached(byMatrix),
  'matrix-traced': () => reached(byTraces),
  'expected-edited': () => expectedAfterEdits((before, d) => before.edited(d), false),
  'expected-anew': () => expectedAfterEdits((_, d) => whole(d), true),
  'plan-summaries': () =>
    planned((t, l) =>
      planSummaries(t, l)
        .map((c) => ({ summaries: c.summaries, outside: c.outside.length }))
        .sort((a, b) => a.summaries.length - b.summaries.length),
    ),
  'plan-plainly': () => planned((t, l) => plainPlans(t, l).flatMap((p) => (p && p.summaries.length > 0 ? [p] : []))),
  'both-families': () => familiesOf(families),
  'of-both-the-first': () => familiesOf([4]),
  check,
  everything,
  'what-if': whatIf,
  keep,
  sweep: () => sweep(linkFailures),
  'sweep-first': () => sweep(linkFailures, true),
  cases: () => meanCase(whole(design), false),
  'cases-pairs': () => meanCase(whole(design), true),
  'sweep-cables': () => sweep(cables),
  parse: () => ({ ms: time(() => texts.map((t) => JSON.parse(t.content) as unknown)), count: texts.length, checksum: 0, of: 'documents' }),
  read: () => ({ ms: time(() => readSet(texts)), count: readSet(texts).design.routers.length, checksum: 0, of: 'documents' }),
  predict: () => {
    const ms = timeOn(fresh, whole);
    return { ms, ...answers(whole(design)) };
  },
  ordinary: () => ({ ms: timeOn(fresh, ordinaryTables), ...ordinaryAnswers(design) }),
  tables: () => {
    const p = whole(design);
    const table = p.fast.rows.emptyBuffer();
    const ms = time(() => {
      for (const s of p.adjacencies.speakers) p.fast.rows.fill(table, s);
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
  edit: () => {
    // From the state before, edit after edit, as the page does it.
    let p = whole(design);
    const ms = time(() => {
      p = p.edited(designFrom(edited(turn++)).design);
      p.fast.rows.prepare();
    });
    return { ms, ...answers(whole(designFrom(edited(3)).design)) };
  },
  'edit-anew': () => ({
    ms: time(() => whole(readSet(edited(turn++).map((d) => ({ name: d.file, content: documentText(d) }))).design)),
    ...answers(whole(designFrom(edited(3)).design)),
  }),
  cut,
  'cut-anew': cutAnew,
};
const contender = contenders[name];
if (!contender) throw new Error(`no contender ${name}; known are ${Object.keys(contenders).join(', ')}`);
const result = contender();
process.stdout.write(`${JSON.stringify({ ...result, rss: Math.round(process.memoryUsage().rss / 1e6) })}\n`);
