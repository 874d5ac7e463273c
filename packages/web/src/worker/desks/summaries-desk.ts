import { applyEdits } from '@gentle-compass/core/design/edit';
import { prefixNumber } from '@gentle-compass/core/documents/leaf-types';
import { readLines } from '@gentle-compass/core/entry/lines';
import { formatFailure, type FailureSpec } from '@gentle-compass/core/failures/outage';
import { designFrom } from '@gentle-compass/core/formats/read-set';
import { comparePrefixes, covers, formatPrefix, hostLength, networkOf, type Prefix } from '@gentle-compass/core/prefix/address';
import type { Prediction } from '@gentle-compass/core/predict';
import { detours } from '@gentle-compass/core/summaries/detours';
import { discards } from '@gentle-compass/core/summaries/discards';
import { summaryEffect, type SummaryEffect } from '@gentle-compass/core/summaries/effect';
import { hostOf } from '@gentle-compass/core/reach/ends';
import { claimExample, exampleWay, type ExampleWay } from '@gentle-compass/core/summaries/example-way';
import { flapsOf, heardWith, outsideFlapsOf, outsideHeardWith } from '@gentle-compass/core/summaries/flaps';
import { agree, asItStands, layingLines, writersOf, type Laid, type Scope } from '@gentle-compass/core/summaries/laying';
import { planSummaries, type Limits, type Task } from '@gentle-compass/core/summaries/planner';
import { announcedBy, areaTask, boundaryTask, insideByArea, summarisers, type Wishes } from '@gentle-compass/core/summaries/space';
import type {
  DiscardView,
  DetourView,
  FlapsView,
  LaidText,
  PlanView,
  SpaceView,
  SummaryScopes,
  SummaryTrialView,
  WeighedView,
  WishesText,
} from '../../model/summaries-view';
import type { Held } from '../held';

const readPrefix = (text: string): Prefix | undefined => (text.includes('/') ? prefixNumber.read(text) : undefined);
const laidText = (l: Laid): LaidText => ({ prefix: formatPrefix(l.prefix), cost: l.cost, hidden: l.hidden });
const laidOf = (list: readonly LaidText[]): Laid[] =>
  list.flatMap((l) => {
    const p = readPrefix(l.prefix);
    return p ? [{ prefix: { bits: p.bits, length: p.length }, cost: l.cost, hidden: l.hidden }] : [];
  });

/** Places at once of what only a list shows. */
const mostShown = 200;

/** Summaries: what there is to summarise, what others do with it, and what an edit would change. */
export class SummariesDesk {
  constructor(private readonly held: Held) {}

  /** Areas and boundary routers that have something to summarise. */
  scopes(): SummaryScopes {
    const { now } = this.held;
    const areas = [...insideByArea(now)]
      .map(([area, ids]) => ({ area, parts: ids.size, writers: summarisers(now, area).map((s) => s.router.name) }))
      .sort((a, b) => a.area - b.area);
    const telling = now.adjacencies.speakers.filter((s) => now.routing.isBoundaryRouter(s) || s.instance.externalRanges.length > 0);
    const routers = [...new Set(telling.map((s) => s.router.name))].map((router) => ({ router, announced: announcedBy(now, router).length }));
    return { areas, routers };
  }

  private task(scope: Scope, wishes: WishesText): { readonly task: Task; readonly left: readonly Prefix[]; readonly wrong: readonly string[] } {
    const { now } = this.held;
    const six = now.family === 6;
    const whole = scope.kind === 'area' ? areaTask(now, scope.area) : boundaryTask(now, announcedBy(now, scope.router));
    const read = (text: string): readonly Prefix[] | string => {
      const p = readPrefix(text);
      return p && hostLength(p.bits) === (six ? 128 : 32) ? [{ bits: networkOf(p.bits, p.length), length: p.length }] : text;
    };
    const asked = [...wishes.leaveOut, ...wishes.reserve].map(read);
    const wrong = asked.filter((x) => typeof x === 'string');
    const prefixes = (list: readonly string[]): Prefix[] =>
      list.flatMap((t) => {
        const found = read(t);
        return typeof found === 'string' ? [] : found;
      });
    const loopbacks = wishes.loopbacks ? [] : whole.parts.filter((p) => p.length === hostLength(p.bits));
    const leaveOut = [...prefixes(wishes.leaveOut), ...loopbacks];
    const w: Wishes = { leaveOut, reserve: prefixes(wishes.reserve) };
    const task = scope.kind === 'area' ? areaTask(now, scope.area, w) : boundaryTask(now, announcedBy(now, scope.router), w);
    return { task, left: whole.parts.filter((p) => leaveOut.some((o) => covers(o, p))), wrong };
  }

  /** Interfaces that have a prefix, the first of each. */
  private places(): Map<string, string> {
    const out = new Map<string, string>();
    for (const r of this.held.now.design.routers)
      for (const i of r.interfaces)
        for (const a of i.addresses) {
          const key = `${networkOf(a.bits, a.length)}/${a.length}`;
          if (!out.has(key)) out.set(key, `${i.name} of ${r.name}`);
        }
    return out;
  }

  /** What there is to summarise of a scope, where everything lies, and what stands. */
  space(scope: Scope, wishes: WishesText): SpaceView {
    const { now } = this.held;
    const { task, left, wrong } = this.task(scope, wishes);
    const places = this.places();
    const reserved = new Set(wishes.reserve.flatMap((t) => readPrefix(t) ?? []).map(formatPrefix));
    const at = (p: Prefix): { prefix: string; place: string } => {
      const prefix = formatPrefix(p);
      return { prefix, place: places.get(`${p.bits}/${p.length}`) ?? (reserved.has(prefix) ? 'reserved for growth' : '') };
    };
    const writers = writersOf(now, scope);
    const others = now.adjacencies.speakers.flatMap((s) =>
      s.instance.areas.flatMap((a) =>
        scope.kind === 'area' && a.id === scope.area ? [] : a.ranges.map((r) => ({ prefix: formatPrefix(r.prefix), area: a.id })),
      ),
    );
    return {
      parts: [...task.parts].sort(comparePrefixes).map(at),
      left: [...left].sort(comparePrefixes).map(at),
      foreign: [...task.foreign].sort((a, b) => comparePrefixes(a.prefix, b.prefix)).map((f) => ({ ...at(f.prefix), area: f.area })),
      others: [...new Map(others.map((o) => [`${o.prefix} ${o.area}`, o])).values()],
      supernets: task.supernets.map(formatPrefix),
      writers: writers.map((w) => ({ router: w.router, laid: w.laid.map(laidText) })),
      stands: asItStands(writers).map(laidText),
      agree: agree(writers),
      wrong,
    };
  }

  /** The best summaries, and the best of each other number. */
  plan(scope: Scope, wishes: WishesText, limits: Limits): PlanView {
    const { task } = this.task(scope, wishes);
    const start = performance.now();
    const choices = planSummaries(task, limits);
    return {
      parts: task.parts.length,
      beyond: task.parts.filter((x) => !task.supernets.some((s) => covers(s, x))).length,
      milliseconds: performance.now() - start,
      choices: choices.map((c) => ({
        summaries: c.summaries.map(formatPrefix),
        outside: c.outside.map(formatPrefix),
        foreign: c.foreign.map((f) => ({ prefix: formatPrefix(f.prefix), area: f.area })),
        claimed: c.claimed,
        needed: c.needed,
      })),
    };
  }

  /** What each of some choices would save, and what the others hear of failures inside; `null` when a newer state or wish came. */
  async weigh(scope: Scope, choices: readonly (readonly string[])[]): Promise<WeighedView | null> {
    const mine = ++this.weighings;
    const turn = (): number => (mine === this.weighings ? this.held.designs : -1);
    const effects = await this.held.sliced(this.weighing(scope, choices), turn);
    if (!effects) return null;
    const { now } = this.held;
    const plans = choices.map((c) => c.flatMap((text) => readPrefix(text) ?? []));
    const heard = await this.held.sliced(
      scope.kind === 'area' ? heardWith(now, scope.area, plans) : outsideHeardWith(now, scope.router, plans),
      turn,
    );
    return heard ? { effects, heard } : null;
  }

  private weighings = 0;

  /** What each choice would save, held against a network in which the scope is not summarised at all. */
  private *weighing(scope: Scope, choices: readonly (readonly string[])[]): Generator<undefined, (SummaryEffect | undefined)[]> {
    const { now, documents } = this.held;
    const writers = writersOf(now, scope);
    const after = (laid: readonly Laid[]): Prediction => {
      const { edits } = readLines(layingLines(scope, writers, laid), documents);
      return edits.length === 0 ? now : now.edited(designFrom(applyEdits(documents, edits)).design);
    };
    const bare = after([]);
    const out: (SummaryEffect | undefined)[] = [];
    for (const c of choices) {
      yield undefined;
      const laid = laidOf(c.map((prefix) => ({ prefix, cost: undefined, hidden: false })));
      out.push(writers.length === 0 ? undefined : summaryEffect(bare, after(laid)));
    }
    return out;
  }

  private tried(scope: Scope, laid: readonly Laid[]) {
    const { now, documents } = this.held;
    const lines = layingLines(scope, writersOf(now, scope), laid);
    const { edits, faults } = readLines(lines, documents);
    if (edits.length === 0) return { lines, edits, faults, effect: undefined, after: now };
    const after = now.edited(designFrom(applyEdits(documents, edits)).design);
    return { lines, edits, faults, effect: summaryEffect(now, after), after };
  }

  private trials = 0;

  /**
   * What summaries would do that are laid and not yet written; with an example where they claim what is not theirs. `null` when
   * others were laid meanwhile: of a bracket that is being moved only the last place is tried.
   */
  async trial(scope: Scope, wishes: WishesText, list: readonly LaidText[]): Promise<SummaryTrialView | null> {
    const mine = ++this.trials;
    await new Promise((go) => setTimeout(go, 0));
    if (mine !== this.trials) return null;
    const { now } = this.held;
    const laid = laidOf(list);
    const t = this.tried(scope, laid);
    const { task } = this.task(scope, wishes);
    const shown = laid.filter((l) => !l.hidden);
    const foreign = task.foreign.filter((f) => shown.some((l) => covers(l.prefix, f.prefix)));
    return {
      lines: t.lines,
      edits: t.edits,
      faults: t.faults.map((f) => f.message),
      effect: t.effect,
      claim: claimExample(now, t.after, scope.kind === 'area' ? scope.area : undefined, foreign),
    };
  }

  /** What a summary hides of failures inside, beside the others that are laid; `null` when a newer state came. */
  async flaps(scope: Scope, prefix: string, laid: readonly string[] = []): Promise<FlapsView | null> {
    const { now } = this.held;
    const p = readPrefix(prefix);
    if (!p) return null;
    const narrower = laid.flatMap((text) => readPrefix(text) ?? []).filter((x) => x.length > p.length && covers(p, x));
    const steps = scope.kind === 'area' ? flapsOf(now, scope.area, p, narrower) : outsideFlapsOf(now, scope.router, p, narrower);
    const flaps = await this.held.sliced(steps);
    if (!flaps) return null;
    const list = flaps.list.map((f) => ({
      ...f,
      failure: formatFailure(f.failure),
      words: this.failureWords(f.failure),
      lost: f.lost.map(formatPrefix),
      moved: f.moved.map(formatPrefix),
    }));
    return { tried: flaps.tried, list };
  }

  /** A failure of a wire in everyday words. */
  private failureWords(f: FailureSpec): string {
    if (f.kind === 'router' || f.kind === 'group') return formatFailure(f);
    const { now } = this.held;
    const router = now.routerIndex(f.router);
    const iface = now.design.routers[router]?.interfaces.findIndex((i) => i.name === f.iface) ?? -1;
    const segment = now.segments.list[now.segments.of[router]?.[iface] ?? -1];
    if (f.kind === 'interface') return `${f.iface} of ${f.router}`;
    if (f.kind === 'lan') return `the whole LAN ${f.iface}`;
    if (segment?.kind === 'lan') return `${f.router} off the LAN ${f.iface}`;
    return `the link ${(segment?.members ?? []).map((m) => now.design.routers[m.router]?.name ?? '').join(' – ')}`;
  }

  /** The way of one packet, as an example; `null` where there is no such router or address. */
  way(from: string, to: string): ExampleWay | null {
    const p = prefixNumber.read(`${to}/${to.includes(':') ? 128 : 32}`);
    return p ? (exampleWay(this.held.now, from, p.bits) ?? null) : null;
  }

  /** For each summary in force an address that nobody has: its way ends where the summary is made, as it should. */
  discards(): DiscardView[] {
    return discards(this.held.now)
      .slice(0, mostShown)
      .map((d) => ({ ...d, summary: formatPrefix(d.summary) }));
  }

  /** Ways that summaries make longer, the worst first; those too that only some packets take. */
  detours(): DetourView[] {
    return detours(this.held.now).flatMap((d) =>
      d.list.slice(0, mostShown).map((x) => ({
        area: d.area,
        summary: formatPrefix(d.prefix),
        from: x.from,
        to: formatPrefix(x.to),
        host: formatPrefix({ bits: hostOf(x.to), length: hostLength(x.to.bits) }).split('/')[0] ?? '',
        cost: x.cost,
        through: x.through,
        shortest: x.shortest,
        better: x.better,
        always: x.always,
      })),
    );
  }
}
