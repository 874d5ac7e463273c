import { shareWords } from '@gentle-compass/core/convergence/chain';
import type { Convergence, Simulation } from '@gentle-compass/core/convergence/converge';
import type { Ground } from '@gentle-compass/core/convergence/ground';
import type { ChainLink, RunEvent } from '@gentle-compass/core/convergence/run-state';
import { Replay, type HeldThen, type LineThen } from '@gentle-compass/core/convergence/replay';
import { happeningWords, type Happening } from '@gentle-compass/core/convergence/simulate';
import { endsAround, type Watch } from '@gentle-compass/core/convergence/tuning';
import { follow, type Pair } from '@gentle-compass/core/convergence/watching';
import { applyEdits } from '@gentle-compass/core/design/edit';
import type { SpfSchedule } from '@gentle-compass/core/design/design';
import type { SourceDocument } from '@gentle-compass/core/documents/documents';
import { readEntry } from '@gentle-compass/core/entry/entry';
import { parseFailure } from '@gentle-compass/core/failures/outage';
import { designFrom } from '@gentle-compass/core/formats/read-set';
import { formatAddress, formatPrefix, isSix, type Address } from '@gentle-compass/core/prefix/address';
import { spreadOver } from '@gentle-compass/core/planned/spread-over';
import type { Prediction } from '@gentle-compass/core/predict';
import type { End } from '@gentle-compass/core/design/settings';
import { addressesOf } from '@gentle-compass/core/reach/ends';
import { plainProfile } from '@gentle-compass/core/convergence/timing-profile';
import type { Story, Then, TimeBar, TimeRow, FlowView, HeldThenView, LineThenView, LoopView, TimeView, WatchView } from '../model/time-view';
import { addressNamed } from './reach-making';

/** Pairs that are followed when nobody names any. */
const followed = 5;
/** Loopbacks among which they are looked for. */
const lookedAmong = 60;

/** What happens, of what is asked for; words that cannot be are told. */
export function happeningsOf(
  fail: readonly string[],
  then: readonly Then[],
  documents: readonly SourceDocument[],
): { readonly happenings: readonly Happening[]; readonly problems: readonly string[] } {
  const problems: string[] = [];
  let now = documents;
  const all: Then[] = [...fail.map((what): Then => ({ ms: 0, kind: 'fail', what })), ...then];
  const happenings = all
    .map((t, n) => ({ t, n }))
    .sort((a, b) => a.t.ms - b.t.ms || a.n - b.n)
    .flatMap(({ t }): Happening[] => {
      if (t.kind !== 'line') {
        const spec = parseFailure(t.what);
        if (typeof spec !== 'string') return [{ ms: t.ms, kind: t.kind, spec }];
        problems.push(spec);
        return [];
      }
      const { plan, error } = readEntry(t.what, now);
      if (!plan || plan.down) {
        problems.push(`“${t.what}”: ${plan ? 'what goes down is an event of its own' : (error?.message ?? 'no line of quick entry')}`);
        return [];
      }
      now = applyEdits(now, plan.edits);
      return [{ ms: t.ms, kind: 'edit', design: designFrom(now).design, words: plan.title }];
    });
  return { happenings, problems };
}

/** A pair of addresses that is followed, and as what it was asked for. */
export interface Watched extends Pair {
  readonly word: string;
}

/** Pairs as they are typed, `FROM TO`, as addresses; what names none is told. */
export function watchedOf(p: Prediction, words: readonly string[]): { readonly watched: readonly Watched[]; readonly problems: readonly string[] } {
  const problems: string[] = [];
  const watched = words.flatMap((word): Watched[] => {
    const [from = '', to = ''] = word.split(' ');
    const [a, b] = [from, to].map((w) => addressNamed(p, w));
    const fault = [a, b].find((x) => typeof x === 'string');
    if (typeof fault === 'string') problems.push(fault);
    if (a === undefined || b === undefined || typeof a === 'string' || typeof b === 'string') return [];
    return [{ word, from: a, to: b }];
  });
  return { watched, problems };
}

/** Pairs worth following: ends of expectations, then loopbacks whose packets are lost in the moment after the first failure. */
export function pairsTouched(simulation: Simulation, p: Prediction, replay: Replay): Watched[] {
  const rest = simulation.moment(simulation.atRest(replay.profile));
  const { wires } = simulation.shared;
  const outage = simulation.ground.initial;
  const name = (a: Address): string => simulation.ground.design.routers[wires.owners(a)[0]?.router ?? -1]?.name ?? formatAddress(a);
  const first = Math.min(...simulation.happenings.map((h) => h.ms), Infinity);
  const hit = replay.stand(Number.isFinite(first) ? first : 0);
  const touched = (x: Pair): boolean => {
    const starts = wires.endsOf(outage, x.from);
    if (starts.length === 0 || wires.owners(x.to).some((o) => starts.includes(o.router))) return false;
    return follow(rest, starts, x.to).fate === 'carried' && hit.flow(x.from, x.to)?.fate !== 'carried';
  };
  const own = (end: End): Address | undefined => addressesOf(p.design, end).find((a) => isSix(a) === (simulation.family === 6));
  const stated = p.design.settings.expectations.flatMap((e): Watched[] => {
    if (e.kind !== 'reach' && e.kind !== 'session') return [];
    const [from, to] = [own(e.from), own(e.to)];
    return from === undefined || to === undefined ? [] : [{ word: `${formatAddress(from)} ${formatAddress(to)}`, from, to }];
  });
  // Those next to what fails before all others.
  const specs = simulation.happenings.flatMap((h) => (h.kind === 'edit' ? [] : [h.spec]));
  const near = new Set(endsAround(simulation.ground, specs).map((e) => e.router));
  const isNear = (l: { readonly router: number }): boolean => near.has(simulation.ground.design.routers[l.router]?.name ?? '');
  const chosenEnds = [...simulation.loopbacks.filter(isNear).slice(0, lookedAmong / 2), ...spreadOver(simulation.loopbacks, lookedAmong)];
  const ends = [...new Set(chosenEnds.map((l) => l.address))];
  const between = ends.flatMap((from) => ends.flatMap((to): Watched[] => (from === to ? [] : [{ word: `${name(from)} ${name(to)}`, from, to }])));
  const chosen = stated.filter(touched).slice(0, 2);
  const lost = between.filter(touched);
  // Both directions of few ends say less than many ends.
  const some = lost.length > 0 ? lost : between;
  const more = spreadOver(some, followed - chosen.length);
  return [...new Map([...chosen, ...more].map((x) => [`${formatAddress(x.from)} ${formatAddress(x.to)}`, x])).values()];
}

const floods = (l: ChainLink): boolean => l.kind === 'flooding' || l.kind === 'retransmission';

/** What a router's time went into, from the failure or the arrival of its news on. */
function barsOf(chain: ChainLink | undefined): TimeBar[] {
  const out: TimeBar[] = [];
  for (let l = chain; l; l = l.before) {
    if (floods(l)) {
      // Hop by hop; what had to be sent again on the way is told.
      let { from, kind } = l;
      for (let b = l.before; b && floods(b); b = b.before) {
        from = b.from;
        if (b.kind === 'retransmission') kind = b.kind;
      }
      if (l.to > from) out.push({ kind, from, to: l.to, where: l.where });
      break;
    }
    if (l.to > l.from) out.push({ kind: l.kind, from: l.from, to: l.to, where: l.where });
  }
  return out;
}

const happens = new Set<RunEvent['kind']>(['fails', 'returns']);

/** What a router sees by itself. */
const notices = new Set<RunEvent['kind']>(['port-down', 'port-up', 'neighbour', 'edit']);

/** What each router went through in the typical run; the first that knew first. */
function rowsOf(c: Convergence): TimeRow[] {
  const by = new Map<string, RunEvent[]>();
  for (const e of c.events) if (!happens.has(e.kind)) (by.get(e.router) ?? by.set(e.router, []).get(e.router))?.push(e);
  return [...by]
    .map(([router, events]): TimeRow => {
      const times = c.routers.find((r) => r.router === router);
      const changed = events.filter((e) => e.kind === 'installs');
      // Of a router whose table stays: what it heard, and what it calculated from it.
      const told = changed.length > 0 ? changed : events.filter((e) => e.kind === 'calculates' || e.kind === 'learns').slice(-1);
      const bars = new Map(told.flatMap((e) => barsOf(e.chain)).map((b) => [`${b.kind} ${b.from} ${b.to}`, b]));
      return {
        router,
        cause: times?.cause ?? null,
        knew: events[0]?.ms ?? 0,
        noticed: events.find((e) => notices.has(e.kind))?.ms ?? null,
        firstChange: changed[0]?.ms ?? null,
        lastChange: changed.at(-1)?.ms ?? null,
        spread: times?.lastChange ?? null,
        bars: [...bars.values()].sort((a, b) => a.from - b.from),
        changes: [...new Set(changed.map((e) => e.ms))],
      };
    })
    .sort((a, b) => a.knew - b.knew || (a.router < b.router ? -1 : 1));
}

function loopsOf(c: Convergence, name: (a: Address) => string): LoopView[] {
  const by = new Map<string, { routers: readonly string[]; fromMs: number; toMs: number; pairs: number; example: string }>();
  for (const l of c.loops) {
    const key = `${l.routers.toSorted().join(' ')} ${l.fromMs} ${l.toMs}`;
    const known = by.get(key);
    if (known) known.pairs++;
    else by.set(key, { routers: l.routers, fromMs: l.fromMs, toMs: l.toMs, pairs: 1, example: `${name(l.from)} to ${name(l.to)}` });
  }
  return [...by.values()];
}

/** What runs came to, for the page. */
export function timeView(
  c: Convergence,
  simulation: Simulation,
  watched: readonly Watched[],
  { of, done, problems }: { readonly of: number; readonly done: boolean; readonly problems: readonly string[] },
): Omit<TimeView, 'other'> {
  const { ground, happenings: all } = simulation;
  const name = nameIn(simulation);
  const rest = simulation.moment(simulation.atRest(plainProfile));
  const rows = rowsOf(c);
  const flows = watched.map((w): FlowView => {
    const flow = c.flows.find((f) => f.from === w.from && f.to === w.to);
    const n = watched.indexOf(w);
    const healed = c.healed[n] ?? [];
    return {
      word: w.word,
      from: formatAddress(w.from),
      to: formatAddress(w.to),
      fromName: name(w.from),
      toName: name(w.to),
      spans: (flow?.spans ?? []).map((x) => ({ ...x, why: x.why ?? null })),
      before: follow(rest, simulation.shared.wires.endsOf(ground.initial, w.from), w.to).path.map((r) => ground.design.routers[r]?.name ?? ''),
      healedLatest: healed.length === 0 || healed.includes(undefined) ? null : Math.max(...healed.flatMap((t) => t ?? [])),
    };
  });
  const happenings = all.map((h) => ({
    ms: h.ms,
    words: h.kind === 'restore' ? `${happeningWords(h)} returns` : happeningWords(h),
  }));
  const lastMoment = Math.max(0, ...rows.flatMap((r) => [r.knew, ...r.changes]), ...happenings.map((h) => h.ms));
  return {
    runs: c.runs,
    of,
    done,
    seed: c.seed,
    lastChange: c.lastChange ?? null,
    lastChanges: c.lastChanges,
    slowest: c.slowest ?? null,
    lastRouter: c.lastRouter ?? null,
    shares: c.shares.map((s) => ({ ms: s.ms, words: shareWords(s), kind: s.kind })),
    rows,
    silent: ground.design.routers.length - rows.length,
    flows: flows.map((f) => ({ ...f, spans: f.spans.map((x, n) => (n === f.spans.length - 1 ? { ...x, toMs: Math.max(x.toMs, lastMoment) } : x)) })),
    loops: loopsOf(c, name),
    happenings,
    endMs: lastMoment,
    problems: [...new Set([...problems, ...c.problems, ...simulation.problems])],
  };
}

/** An address by the router that has it. */
export function nameIn({ shared, ground }: Simulation): (a: Address) => string {
  return (a) => {
    const owner = shared.wires.owners(a)[0];
    const router = owner && ground.design.routers[owner.router];
    return router && router.interfaces[owner.iface]?.kind === 'loopback' ? router.name : formatAddress(a);
  };
}

const hopWords = (h: { readonly iface: string; readonly address?: Address | undefined }): string =>
  h.address === undefined ? h.iface : `${h.iface} ${formatAddress(h.address)}`;

const lineWords = (l: LineThen['now']): string =>
  !l ? '' : l.hops.length === 0 ? 'discards it' : `${l.hops.map(hopWords).join(', ')}${l.route ? ` cost ${l.route.metric}` : ''}`;

export const lineView = (l: LineThen): LineThenView => {
  const prefix = l.now ?? l.before;
  return { prefix: prefix ? formatPrefix(prefix) : '', now: lineWords(l.now), before: lineWords(l.before), moved: Replay.moved(l) };
};

export const heldView = (h: HeldThen): HeldThenView => ({
  area: h.area === undefined ? '' : formatAddress(h.area),
  type: h.type,
  words: h.words,
  state: h.withdrawn ? 'withdrawn' : h.isNew ? 'new' : h.news > 0 || h.since !== undefined ? 'newer' : 'as before',
  since: h.since ?? null,
});

export const watchView = (w: Watch): WatchView => ({ ...w, patience: w.patience ?? null });

/** When a router calculates, in words. */
export const scheduleWords = (s: SpfSchedule): string =>
  s.kind === 'fixed'
    ? `always after ${s.delay} ms`
    : s.kind === 'doubling'
      ? `first after ${s.first} ms, hold ${s.hold} ms doubling to ${s.maximum} ms`
      : `RFC 8405: ${s.initial}, ${s.short}, ${s.long} ms`;

/** Each value once, in order. */
export const distinct = <T extends string | number>(all: readonly T[]): T[] =>
  [...new Set(all)].sort((a, b) => (typeof a === 'number' && typeof b === 'number' ? a - b : String(a) < String(b) ? -1 : 1));

/**
 * Lines of the map that packets pass between routers: a cable by its segment, the way to a LAN by its router too. Of parallel ones
 * the first that stands.
 *
 * @param broken  segments over which nobody is full
 */
export function linesBetween(ground: Ground, path: readonly string[], broken: ReadonlySet<number>): string[] {
  const { design, segments } = ground;
  const index = (name: string): number => design.routers.findIndex((r) => r.name === name);
  const out: string[] = [];
  for (let n = 1; n < path.length; n++) {
    const [a, b] = [index(path[n - 1] ?? ''), index(path[n] ?? '')];
    const all = (segments.of[a] ?? []).filter((s) => s >= 0 && (segments.of[b] ?? []).includes(s));
    const shared = all.find((s) => !broken.has(s)) ?? all[0];
    const segment = shared === undefined ? undefined : segments.list[shared];
    if (!segment) continue;
    if (segment.kind === 'cable') out.push(String(segment.index));
    else out.push(`${segment.index} ${path[n - 1] ?? ''}`, `${segment.index} ${path[n] ?? ''}`);
  }
  return out;
}

/** What an event is in a sentence; `undefined`: too small to be told. */
function eventWords(e: RunEvent): string | undefined {
  switch (e.kind) {
    case 'fails':
      return `${e.detail} goes down`;
    case 'returns':
      return `${e.detail} comes back`;
    case 'edit':
      return `${e.router} is changed: ${e.detail}`;
    case 'port-down':
      return `${e.router} sees ${e.detail} go down`;
    case 'port-up':
      return `${e.router} sees ${e.detail} come up`;
    case 'neighbour': {
      const m = /^(.*) at (.*): (down|full)$/.exec(e.detail);
      return m ? `${e.router} ${m[3] === 'down' ? 'gives up' : 'is full with'} ${m[1] ?? ''} on ${m[2] ?? ''}` : undefined;
    }
    case 'leader':
      return `${e.router} elects ${e.detail}`;
    case 'originates':
      return `${e.router} says ${e.detail}`;
    case 'withdraws':
      return `${e.router} withdraws ${e.detail}`;
    case 'virtual-link':
      return `${e.router}, virtual links: ${e.detail}`;
    case 'learns':
    case 'calculates':
    case 'installs':
      return undefined;
  }
}

/** Who leads a LAN describes it; once it has withdrawn that, nobody does, though the wire may carry packets (RFC 2328 §12.4.2, §14.1). */
const undescribed =
  'it led that LAN; until another one leads and says what is on it, nobody describes it, and what lies behind it is lost to all others though packets would pass';

/** The last of what happened until a moment, in sentences, with how much there was before. */
export function storyUntil(events: readonly RunEvent[], ms: number, alive: (router: string) => boolean, most: number): Story {
  const told: { ms: number; words: string; why: string | null; key: string; more: number }[] = [];
  for (const e of events) {
    const words = e.ms <= ms ? eventWords(e) : undefined;
    if (words === undefined) continue;
    // What a router says at one moment is one step.
    const last = told.at(-1);
    const key = `${e.ms} ${e.router} ${e.kind}`;
    const why = e.kind === 'withdraws' && e.detail.startsWith('network ') && alive(e.router) ? undescribed : null;
    if (last?.key === key && (e.kind === 'originates' || e.kind === 'withdraws')) {
      last.more++;
      last.why ??= why;
    } else told.push({ ms: e.ms, words: words.replace(` by ${e.router},`, ','), why, key, more: 0 });
  }
  const lines = told.slice(-most).map((l) => ({ ms: l.ms, words: l.more > 0 ? `${l.words}, and ${l.more} more` : l.words, why: l.why }));
  return { lines, earlier: Math.max(0, told.length - most) };
}
