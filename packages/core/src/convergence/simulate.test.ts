import fc from 'fast-check';
import { designDifference } from '../design/difference';
import { applyEdits } from '../design/edit';
import { families, familyView, type Family } from '../design/family';
import type { SourceDocument } from '../documents/documents';
import { parseFailure, type FailureSpec } from '../failures/outage';
import { designFrom } from '../formats/read-set';
import { predict, type Prediction } from '../predict';
import { formatAddress, formatPrefix } from '../prefix/address';
import type { Speaker } from '../adjacency/speakers';
import { learns } from '../routes/local-routes';
import { documentsFor } from '../testing/mirror';
import { richCampusOf, richPlans, type RichPlan } from '../testing/rich-campus';
import { databaseWords, readableWords } from '../testing/table-words';
import { Ground } from './ground';
import { happeningWords, Run, type Happening } from './simulate';
import { plainProfile } from './timing-profile';

/** Every router's table at the end of a run, in the words of a prediction's. */
function tablesAtEnd(run: Run): string[] {
  return run.state.actors.flatMap((actor) => {
    const { hops } = actor.hopList;
    const table = run.installed(actor)?.table.routes;
    return [...(table?.values() ?? [])].map((r) => {
      const ways = r.hops.map((h) => `${hops[h]?.port.iface.name ?? ''}>${hops[h]?.address === undefined ? '' : formatAddress(hops[h].address)}`);
      return `${actor.speaker.router.name} ${formatPrefix(r)} ${r.type} ${r.metric} ${r.forwardMetric ?? ''} ${ways.sort().join()}`;
    });
  });
}

/** Advertisements of types 3, 4, 5 and 7 that each router holds at the end, of those whom it floods with. */
function databasesAtEnd(run: Run, p: Prediction): string[] {
  const alive = (s: Speaker): string => `${s.router.name} ${s.instance.name}`;
  return run.state.actors.flatMap((actor) => {
    const s = p.adjacencies.speakers.find((x) => alive(x) === alive(actor.speaker));
    if (!s) return [];
    const name = (n: number): string => alive(run.ground.speakers[n] ?? actor.speaker);
    const scopes = p.routing
      .areasOf(s)
      .map((a) => ({ a, there: new Set(p.routing.database(s, a)?.speakers.map((n) => alive(p.adjacencies.speakers[n] ?? s))) }));
    const held = scopes.flatMap(({ a, there }) =>
      [...actor.store(a).all()].flatMap((h) => (h.content && h.name.type > 2 && there.has(name(h.name.speaker)) ? [{ a, l: h.content.lsa }] : [])),
    );
    const wide = new Set(p.routing.externals(s).map((l) => alive(p.adjacencies.speakers[l.speaker] ?? s)));
    for (const h of actor.wide.all()) if (h.content && wide.has(name(h.name.speaker))) held.push({ a: -1, l: h.content.lsa });
    return held.flatMap(({ a, l }) => {
      if (l.type === 1 || l.type === 2) return [];
      const more = l.type === 5 || l.type === 7 ? ` ${l.metricType} ${formatAddress(l.forwarding)} ${l.tag} ${String(l.propagate)}` : '';
      return `${s.router.name} ${a} ${l.type} ${formatPrefix(l)} ${formatAddress(l.adv)} ${l.metric}${more}`;
    });
  });
}

/** An advertisement keeps the id that it was given first: which of two that share an address has its host bits set, is history (RFC 2328 E). */
const withoutIds = (words: readonly string[]): string[] => words.map((w) => w.replace(/^(\S+ \S+ \S+) \S* /, '$1 '));

const specsOf = (failures: readonly string[], picks: readonly number[]): FailureSpec[] =>
  picks.flatMap((n) => {
    const f = parseFailure(failures[n % Math.max(failures.length, 1)] ?? '');
    return typeof f === 'string' ? [] : [f];
  });

/** Both of a run: what it comes to an hour later, and what is predicted of the network as it then is. */
function sameAsPredicted(run: Run, after: Prediction): boolean {
  if (after.routing.unsettled.length > 0 || after.adjacencies.unsettled.length > 0) return false;
  const told = run.happenings.map((h) => `${h.kind} ${happeningWords(h)} at ${h.ms}`).join();
  expect([told, ...tablesAtEnd(run).sort()]).toEqual([told, ...readableWords(after).sort()]);
  expect(databasesAtEnd(run, after).sort()).toEqual(withoutIds(databaseWords(after)).sort());
  return true;
}

/** A random network that can be simulated: what routers hand each other by another protocol may live on in a circle, which no prediction tells. */
function groundOf(plan: RichPlan, family: Family): { ground: Ground; failures: readonly string[] } | undefined {
  const rich = richCampusOf(plan);
  const ground = new Ground(designFrom(documentsFor(family, rich.campus.documents())).design, family);
  return ground.quarrel !== undefined || ground.speakers.some(learns) ? undefined : { ground, failures: rich.failures };
}

const options = { seed: 20_261_130, numRuns: Number(process.env.RUNS ?? 100), endOnFailure: true };

describe.each(families)('IPv%i', (family) => {
  test('after the last event tables and databases are those that are predicted of the failed design', () => {
    let same = 0;
    fc.assert(
      fc.property(richPlans, fc.array(fc.nat(1000), { minLength: 1, maxLength: 2 }), fc.nat(1000), (plan, picks, seed) => {
        const known = groundOf(plan, family);
        if (!known) return;
        const specs = specsOf(known.failures, picks);
        const happenings = specs.map((spec, n): Happening => ({ ms: n * 30_000, kind: 'fail', spec }));
        const run = new Run(known.ground, plainProfile, seed, happenings).toEnd();
        expect(run.comesToRest).toBe(true);
        run.ageOut();
        run.toEnd();
        if (sameAsPredicted(run, predict(known.ground.design, specs, { family }))) same++;
      }),
      options,
    );
    expect(same).toBeGreaterThan(options.numRuns / 3);
  });

  test('the same after planned steps: costs, drains, timers, what is on or passive', () => {
    let same = 0;
    const leaves = [
      ['cost', 7],
      ['cost', 60_000],
      ['passive', true],
      ['enabled', false],
      ['hello-interval', 7],
      ['prefix-suppression', true],
    ] as const;
    fc.assert(
      fc.property(richPlans, fc.array(fc.tuple(fc.nat(1000), fc.nat(1000)), { minLength: 1, maxLength: 2 }), fc.nat(1000), (plan, picks, seed) => {
        let documents: readonly SourceDocument[] = documentsFor(family, richCampusOf(plan).campus.documents());
        const ground = new Ground(designFrom(documents).design, family);
        if (ground.quarrel !== undefined || ground.speakers.some(learns)) return;
        const happenings: Happening[] = [];
        for (const [place, what] of picks) {
          const port = ground.ports[place % ground.ports.length];
          const s = port && ground.speakers[port.speaker];
          if (!port || !s || port.settings.at.length === 0) return;
          const [leaf, value] = leaves[what % leaves.length] ?? leaves[0];
          const drains = what % 5 === 0;
          const at = drains ? [...s.instance.at, 'stub-router'] : [...port.settings.at, leaf];
          documents = applyEdits(documents, [
            { router: s.router.name, file: s.router.file, at, from: undefined, to: drains ? { always: [null] } : value },
          ]);
          happenings.push({
            ms: 20_000 * happenings.length,
            kind: 'edit',
            design: designFrom(documents).design,
            words: `${s.router.name} ${drains ? 'drains' : leaf}`,
          });
        }
        const last = designFrom(documents).design;
        if (happenings.some((h) => h.kind === 'edit' && designDifference(ground.design, familyView(h.design, family)).reach === 'whole')) return;
        const run = new Run(ground, plainProfile, seed, happenings).toEnd();
        expect(run.comesToRest).toBe(true);
        run.ageOut();
        run.toEnd();
        if (sameAsPredicted(run, predict(last, [], { family, incumbents: run.state.adjacencies }))) same++;
      }),
      options,
    );
    expect(same).toBeGreaterThan(options.numRuns / 4);
  });

  test('the same after returns and flaps, by the leaders that came out of them', () => {
    let same = 0;
    const moves = fc.array(fc.record({ pick: fc.nat(1000), after: fc.constantFrom(20, 700, 3000, 45_000), stays: fc.boolean() }), {
      minLength: 1,
      maxLength: 3,
    });
    fc.assert(
      fc.property(richPlans, moves, fc.boolean(), fc.nat(1000), (plan, list, downBefore, seed) => {
        const known = groundOf(plan, family);
        if (!known) return;
        let ms = 0;
        const happenings: Happening[] = [];
        const left: FailureSpec[] = [];
        const before: FailureSpec[] = [];
        list.forEach((m, n) => {
          const [spec] = specsOf(known.failures, [m.pick]);
          if (!spec) return;
          if (n === 0 && downBefore) before.push(spec);
          else happenings.push({ ms, kind: 'fail', spec });
          ms += m.after;
          if (m.stays) left.push(spec);
          else happenings.push({ ms, kind: 'restore', spec });
          ms += m.after;
        });
        const ground = before.length > 0 ? new Ground(known.ground.design, family, before) : known.ground;
        const run = new Run(ground, plainProfile, seed, happenings, before).toEnd();
        expect(run.comesToRest).toBe(true);
        run.ageOut();
        run.toEnd();
        if (sameAsPredicted(run, predict(ground.design, left, { family, incumbents: run.state.adjacencies }))) same++;
      }),
      options,
    );
    expect(same).toBeGreaterThan(options.numRuns / 3);
  });
});
