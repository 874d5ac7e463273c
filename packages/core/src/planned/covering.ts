import { alternatesOf, coverageOf, type Covered } from '../alternates/alternates';
import { applyEdits, type Edit } from '../design/edit';
import type { SourceDocument } from '../documents/documents';
import { readEntry } from '../entry/entry';
import { designFrom } from '../formats/read-set';
import { formatPrefix } from '../prefix/address';
import type { Prediction } from '../predict';
import { spreadOver } from './spread-over';

/** A next hop of a route that could not be done without its link at once (RFC 5286 §3.6), all that a router has of them. */
export interface Uncovered {
  readonly router: string;
  /** Interface of the next hop. */
  readonly iface: string;
  /** Routes that go there and have no alternate without this link. */
  readonly prefixes: readonly string[];
}

/** Next hops without an alternate that does without their link, those with the most prefixes first. */
export function uncoveredOf(list: readonly Covered[]): Uncovered[] {
  const by = new Map<string, { readonly router: string; readonly iface: string; readonly prefixes: Set<string> }>();
  for (const c of list) {
    if (c.alternate?.link) continue;
    const key = `${c.router}/${c.primary.iface}`;
    const known = by.get(key) ?? { router: c.router, iface: c.primary.iface, prefixes: new Set<string>() };
    by.set(key, known);
    known.prefixes.add(formatPrefix(c.prefix));
  }
  return [...by.values()]
    .map((u) => ({ ...u, prefixes: [...u.prefixes] }))
    .sort((a, b) => b.prefixes.length - a.prefixes.length || (`${a.router}/${a.iface}` < `${b.router}/${b.iface}` ? -1 : 1));
}

/** A link or a cost, and how many next hops would have no alternate without their link then. */
export interface Covering {
  readonly kind: 'link' | 'cost';
  /** The line of quick entry that makes it so. */
  readonly line: string;
  readonly edits: readonly Edit[];
  /** Next hops without an alternate, and all of them. */
  readonly left: number;
  readonly all: number;
}

/** What would cover most. */
export interface CoverAdvice {
  readonly left: number;
  readonly all: number;
  /** The best link and the best cost; those that cover no more than there is are left out. */
  readonly link: Covering | undefined;
  readonly cost: Covering | undefined;
  readonly tried: number;
  readonly possible: number;
}

/** Lines that are worth trying, each kind up to so many. */
const mostLines = 60;

const mostCost = 65_534;

/** Routers next to each router: those with which it is full. */
function besides(p: Prediction): ReadonlyMap<number, ReadonlySet<number>> {
  const out = new Map<number, Set<number>>();
  const put = (a: number, b: number): unknown => (out.get(a) ?? out.set(a, new Set()).get(a))?.add(b);
  for (const { a, b } of p.adjacencies.pairs)
    if (a.state === 'full') {
      put(a.port.routerIndex, b.port.routerIndex);
      put(b.port.routerIndex, a.port.routerIndex);
    }
  return out;
}

/** Links from routers with uncovered next hops to routers two steps away, and other costs of their own links and of those of their neighbours. */
function linesFor(p: Prediction, uncovered: readonly Uncovered[]): { readonly links: string[]; readonly costs: string[] } {
  const next = besides(p);
  const name = (n: number): string => p.design.routers[n]?.name ?? '';
  const areas = (n: number): ReadonlySet<number> => new Set(p.speakersOf(n).flatMap((s) => s.ports.map((x) => x.area.id)));
  const links = new Set<string>();
  const costs = new Set<string>();
  for (const router of new Set(uncovered.map((u) => u.router))) {
    const n = p.routerIndex(router);
    const mine = areas(n);
    const near = next.get(n) ?? new Set();
    const far = new Set([...near].flatMap((x) => [...(next.get(x) ?? [])]));
    for (const other of far)
      if (other !== n && !near.has(other) && [...areas(other)].some((a) => mine.has(a))) links.add(`link ${[router, name(other)].sort().join(' ')}`);
    for (const at of [n, ...near])
      for (const s of p.speakersOf(at))
        for (const port of s.ports) {
          if (port.settings.passive || port.iface.kind === 'loopback' || p.portsOn(port.segment).length < 2) continue;
          for (const to of [1, Math.ceil(port.cost / 2), port.cost * 2, port.cost * 4])
            if (to !== port.cost && to >= 1 && to <= mostCost)
              costs.add(`${p.family === 6 ? 'v3 ' : ''}set cost ${to} on ${name(at)}/${port.iface.name}`);
        }
  }
  return { links: [...links], costs: [...costs] };
}

/**
 * Looks for the link and the cost after which the fewest next hops have no alternate without their link, by trying: links to
 * routers two steps away, and other costs near routers that have uncovered next hops. After each trial it gives how many
 * there were.
 *
 * @param p          the design at rest, in the family that is looked at
 * @param documents  what it was read from
 */
export function* covering(p: Prediction, documents: readonly SourceDocument[]): Generator<number, CoverAdvice> {
  const now = alternatesOf(p);
  const { all, link: covered } = coverageOf(now);
  const left = all - covered;
  const { links, costs } = linesFor(p, uncoveredOf(now));
  let tried = 0;
  const best: { link: Covering | undefined; cost: Covering | undefined } = { link: undefined, cost: undefined };
  for (const [kind, lines] of [['link', spreadOver(links, mostLines)] as const, ['cost', spreadOver(costs, mostLines)] as const])
    for (const line of lines) {
      tried++;
      const { plan } = readEntry(line, documents);
      if (plan) {
        const after = p.edited(designFrom(applyEdits(documents, plan.edits)).design);
        const c = coverageOf(alternatesOf(after));
        const made: Covering = { kind, line, edits: plan.edits, left: c.all - c.link, all: c.all };
        const share = (x: { readonly left: number; readonly all: number }): number => (x.all === 0 ? 0 : x.left / x.all);
        // A new link brings routes of its own: the share decides, not the number.
        if (share(made) < share({ left, all }) && share(made) < share(best[kind] ?? { left, all })) best[kind] = made;
      }
      yield tried;
    }
  return { left, all, ...best, tried, possible: links.length + costs.length };
}
