import type { Speaker } from '../adjacency/speakers';
import type { Edit } from '../design/edit';
import { applyEdits } from '../design/edit';
import type { SourceDocument } from '../documents/documents';
import { readEntry } from '../entry/entry';
import type { FailureSpec } from '../failures/outage';
import { designFrom } from '../formats/read-set';
import type { Prediction } from '../predict';
import { breaking } from '../reach/breaking';
import { Forwarding } from '../reach/forwarding';
import { LoopbackWays } from '../sweep/loopback-ways';
import { takenDown } from '../sweep/sweep';
import { spreadOver } from './spread-over';

/** What is left of a failure: what one would mend. */
export interface Damage {
  /** Names of expectations. */
  readonly broken: readonly string[];
  /** Ordered pairs of loopbacks that arrive while nothing fails. */
  readonly cutPairs: number;
  /** Largest growth of an OSPF cost; `undefined` where none grows. */
  readonly longestDetour: number | undefined;
}

/** A link that is not there, and what the failure would do if it were. */
export interface AddedLink extends Damage {
  /** The line of quick entry that adds it, and its edits. */
  readonly line: string;
  readonly edits: readonly Edit[];
  readonly routers: readonly [string, string];
}

/** What adding a link would save. */
export interface LinkAdvice {
  readonly now: Damage;
  /** The best of all that were tried; `undefined`: none saves anything. */
  readonly best: AddedLink | undefined;
  readonly tried: number;
  /** How many pairs of routers a link could join, in an area that both stand in. */
  readonly possible: number;
}

/** The least is best: expectations, then pairs, then how much longer a way becomes. */
const compareDamage = (a: Damage, b: Damage): number =>
  a.broken.length - b.broken.length || a.cutPairs - b.cutPairs || (a.longestDetour ?? -1) - (b.longestDetour ?? -1);

/** Two routers that a link could join. */
interface Candidate {
  readonly a: number;
  readonly b: number;
  /** Of what kind it is: pairs that join the same parts of an area, with borders at the same ends, mend the same cuts. */
  readonly kind: string;
}

/** Whether two ends are full, or rest in 2-Way, as those of a LAN do that do not lead it (RFC 2328 §10.4). */
const areMet = ({ a }: Prediction['adjacencies']['pairs'][number]): boolean => a.state === 'full' || a.state === '2-way';

/** In which part of each of its areas a router is, when something is down: parts hang together by neighbours that are full. */
function partsOf(p: Prediction): (s: Speaker, area: number) => string {
  const over = new Map<string, string>();
  const key = (speaker: number, area: number): string => `${area} ${speaker}`;
  const top = (k: string): string => {
    let at = k;
    for (let up = over.get(at); up !== undefined; up = over.get(at)) at = up;
    if (at !== k) over.set(k, at);
    return at;
  };
  for (const { a, b } of p.adjacencies.pairs.filter(areMet)) {
    const [x, y] = [top(key(a.port.speaker, a.port.area.id)), top(key(b.port.speaker, b.port.area.id))];
    if (x !== y) over.set(x, y);
  }
  return (s, area) => top(key(s.index, area));
}

/** Pairs of routers that are neighbours, by index: `3 7`. */
const neighboursIn = (p: Prediction): ReadonlySet<string> =>
  new Set(
    p.adjacencies.pairs.filter(areMet).map(({ a, b }) => {
      const [x, y] = [a.port.routerIndex, b.port.routerIndex];
      return `${Math.min(x, y)} ${Math.max(x, y)}`;
    }),
  );

/**
 * Pairs of routers that stand, in an area that both are in.
 *
 * @param apart  only those that are apart in it; else all that are no neighbours
 */
function candidates(families: readonly Prediction[], failed: readonly Prediction[], gone: ReadonlySet<number>, apart: boolean): Candidate[] {
  const out = new Map<string, Candidate>();
  families.forEach((p, n) => {
    const after = failed[n] ?? p;
    const part = partsOf(after);
    const met = apart ? undefined : neighboursIn(after);
    const by = new Map<number, { readonly router: number; readonly part: string; readonly border: boolean }[]>();
    for (const s of p.adjacencies.speakers) {
      if (gone.has(s.routerIndex)) continue;
      const border = p.routing.isBorderRouter(s);
      for (const area of new Set(s.ports.map((x) => x.area.id))) {
        const list = by.get(area) ?? [];
        by.set(area, list);
        list.push({ router: s.routerIndex, part: part(s, area), border });
      }
    }
    for (const [area, list] of by)
      list.forEach((x, i) => {
        for (const y of list.slice(i + 1)) {
          const key = `${Math.min(x.router, y.router)} ${Math.max(x.router, y.router)}`;
          if (x.router === y.router || (met ? met.has(key) : x.part === y.part)) continue;
          const kinds = [`${x.part} ${x.border}`, `${y.part} ${y.border}`].sort();
          if (!out.has(key)) out.set(key, { a: x.router, b: y.router, kind: `${area} ${kinds.join(' ')}` });
        }
      });
  });
  return [...out.values()];
}

/** Kinds of links of which one is tried, and links of the best kind that are tried then. */
const mostKinds = 60;
const mostAlike = 40;

/**
 * Looks for the one link between two routers that saves most when something fails, by trying: links that join what is apart
 * in an area, or where nothing is, those between routers of one area that are no neighbours; one of each kind, then more of the
 * best kind. After each trial it gives how many there were.
 *
 * @param families   the design at rest, a prediction for each of its families
 * @param documents  what it was read from
 * @param fail       what fails, in this order
 */
export function* addingLinks(
  families: readonly Prediction[],
  documents: readonly SourceDocument[],
  fail: readonly FailureSpec[],
): Generator<number, LinkAdvice> {
  const starts = families.map((p) => ({ p, ways: new LoopbackWays(p), breaks: breaking(Forwarding.quickly(p)) }));
  const whole = takenDown(families, new Set(), fail);
  const damage = (states: readonly Prediction[]): Damage => {
    const broken = new Set<string>();
    let [cutPairs, longestDetour] = [0, undefined as number | undefined];
    starts.forEach(({ p, ways, breaks }, i) => {
      const after = states[i] ?? p;
      const c = ways.compare(after, whole.failed);
      cutPairs += c.cut;
      if (c.longestDetour !== undefined) longestDetour = Math.max(longestDetour ?? 0, c.longestDetour);
      for (const name of breaks.brokenIn(after, whole.failed)) broken.add(name);
    });
    return { broken: [...broken], cutPairs, longestDetour };
  };
  const now = damage(whole.states);
  const apart = candidates(families, whole.states, whole.failed, true);
  // What is lost by a filter or a range, with no area in pieces, another way may bring all the same.
  const harmed = now.cutPairs + now.broken.length > 0;
  const all = apart.length > 0 || !harmed ? apart : candidates(families, whole.states, whole.failed, false);
  const name = (n: number): string => families[0]?.design.routers[n]?.name ?? '';
  const attempt = ({ a, b }: Candidate): AddedLink | undefined => {
    const line = `link ${name(a)} ${name(b)}`;
    const { plan } = readEntry(line, documents);
    if (!plan) return undefined;
    const { design } = designFrom(applyEdits(documents, plan.edits));
    const states = takenDown(
      families.map((p) => p.edited(design)),
      new Set(),
      fail,
    ).states;
    return { line, edits: plan.edits, routers: [name(a), name(b)], ...damage(states) };
  };
  const kinds = new Map<string, Candidate[]>();
  for (const c of all) {
    const list = kinds.get(c.kind) ?? [];
    kinds.set(c.kind, list);
    list.push(c);
  }
  const done = new Set<Candidate>();
  let best: AddedLink | undefined;
  let bestKind: string | undefined;
  const judge = (c: Candidate): void => {
    if (done.has(c)) return;
    done.add(c);
    const made = attempt(c);
    if (!made || compareDamage(made, now) >= 0 || (best && compareDamage(made, best) >= 0)) return;
    best = made;
    bestKind = c.kind;
  };
  for (const list of [...kinds.values()].sort((a, b) => b.length - a.length).slice(0, mostKinds)) {
    const middle = list[Math.floor(list.length / 2)];
    if (middle) judge(middle);
    yield done.size;
  }
  for (const c of spreadOver(kinds.get(bestKind ?? '') ?? [], mostAlike)) {
    judge(c);
    yield done.size;
  }
  return { now, best, tried: done.size, possible: all.length };
}
