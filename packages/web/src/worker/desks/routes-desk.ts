import { comparePredictions, comparing, type RouteChange } from '@gentle-compass/core/compare/compare';
import { foldings } from '@gentle-compass/core/compare/folded';
import type { Speaker } from '@gentle-compass/core/adjacency/speakers';
import { WhyAbsent, type Absence } from '@gentle-compass/core/areas/absence';
import { readEntry } from '@gentle-compass/core/entry/entry';
import { lostWays } from '@gentle-compass/core/evidence/lost-ways';
import { treeMoves, treeOf } from '@gentle-compass/core/evidence/tree';
import { formatAddress, formatPrefix } from '@gentle-compass/core/prefix/address';
import type { Prediction } from '@gentle-compass/core/predict';
import { preferenceOf } from '@gentle-compass/core/routes/handing-over';
import type { Route } from '@gentle-compass/core/routes/route';
import { routeEvidence } from '@gentle-compass/core/evidence/route-evidence';
import { prefixNumber } from '@gentle-compass/core/documents/leaf-types';
import { prefixBook, prefixId } from '@gentle-compass/core/prefix/prefix-book';
import type { RibRoute } from '@gentle-compass/core/routes/rib';
import type { BesideRow, CostTrial, HolderRow, OwnRow, TreeView, WhyNotView } from '../../model/reach-view';
import type { EvidenceView, RouteRow } from '../../model/view';
import type { Held } from '../held';
import { linesOf } from '../origin-lines';
import { summaryOf } from '../summing';
import { inOrder, routeRow } from '../views';

/** What the lines of a table have to do with summaries that came or went, by the key of the line. */
function foldedIn(changes: readonly RouteChange[]): ReadonlyMap<number, string> {
  const out = new Map<number, string>();
  for (const f of foldings(changes)) {
    out.set(f.whole.key, f.folded ? `stands for ${f.parts.length}` : `${f.parts.length} in its place`);
    for (const p of f.parts) out.set(p.key, f.folded ? `in ${formatPrefix(f.whole)} now` : `was in ${formatPrefix(f.whole)}`);
  }
  return out;
}

/** Tables of routers, and why they are as they are. */
export class RoutesDesk {
  private trials = 0;

  constructor(private readonly held: Held) {}

  /** A router's own table; with a failure in force, what it changed is marked and lost routes stand in it. */
  table(router: string, compared: boolean): RouteRow[] {
    const { now, failed, reference } = this.held;
    const index = now.routerIndex(router);
    if (index < 0) return [];
    const p = compared ? (failed ?? now) : now;
    const rows = p.rib(index).map((r) => routeRow(p, index, r));
    // A failure is held against the network as it is; without one, that against what it is compared with.
    const base = failed ? now : reference?.now;
    if (!compared || !base) return inOrder(rows);
    const changes = comparePredictions(base, p).routers.find((r) => r.router === router);
    const byKey = new Map(changes?.routes.map((c) => [c.key, c]));
    const hopWords = (r: RibRoute | undefined): string => {
      if (!r) return '';
      const row = routeRow(base, index, r);
      return `${row.metric ?? ''} via ${row.hops.map((h) => h.router || h.iface).join(', ') || 'nothing'}`;
    };
    const foldedWords = foldedIn(changes?.routes ?? []);
    const folded = (key: number): string => foldedWords.get(key) ?? '';
    const marked = rows.map((row): RouteRow => {
      const c = byKey.get(row.key);
      return c ? { ...row, change: c.change, before: hopWords(c.before), folded: folded(row.key) } : row;
    });
    const lost = (changes?.routes ?? [])
      .filter((c) => c.change === 'lost' && c.before)
      .map((c): RouteRow => ({
        ...routeRow(base, index, c.before as RibRoute),
        hops: [],
        change: 'lost',
        before: hopWords(c.before),
        folded: folded(c.key),
      }));
    return inOrder([...marked, ...lost]);
  }

  /** Why a router has a route, with the lines of the documents that it rests on. */
  evidence(router: string, prefix: string, compared: boolean): EvidenceView | null {
    const { now, failed } = this.held;
    const typed = prefixNumber.read(prefix);
    const p = compared ? (failed ?? now) : now;
    const e = typed && routeEvidence(p, p.routerIndex(router), prefixId(typed.bits, typed.length));
    if (!e) return null;
    const lines = e.steps.flatMap((s) => ('origin' in s ? linesOf(this.held, s.origin) : []));
    return { ...e, lines };
  }

  private get shown(): Prediction {
    return this.held.failed ?? this.held.now;
  }

  /** The tables of up to four routers side by side: every prefix that one of them has. */
  beside(routers: readonly string[]): BesideRow[] {
    const p = this.shown;
    return sideBySide(
      routers.map((name) => {
        const index = p.routerIndex(name);
        return index < 0 ? [] : p.rib(index).map((r) => routeRow(p, index, r));
      }),
    );
  }

  /** What OSPF computed in several routers, before policy and preference. */
  besideOspf(routers: readonly string[]): BesideRow[] {
    const p = this.shown;
    return sideBySide(
      routers.map((name) => p.speakersOf(p.routerIndex(name)).flatMap((s) => [...p.routing.table(s).values()].map((r) => ospfRow(p, s, r)))),
    );
  }

  /** What OSPF computed in a router beside what its table took, and why another source won. */
  own(router: string): OwnRow[] {
    const p = this.shown;
    const index = p.routerIndex(router);
    if (index < 0) return [];
    return ownRows(p, index);
  }

  /** Which routers have a prefix, by which way and at which cost; which have not, and why. `null`: that is no prefix. */
  async everywhere(prefix: string): Promise<HolderRow[] | null> {
    const { held } = this;
    const typed = prefixNumber.read(prefix);
    if (!typed) return null;
    const p = this.shown;
    const key = prefixId(typed.bits, typed.length);
    const why = new WhyAbsent(p, { bits: typed.bits, length: typed.length });
    const rows = await held.sliced(
      (function* looking() {
        // Of each table the one line is kept: those of a large campus are too many to hold.
        const lines: (RibRoute | undefined)[] = [];
        const absences: (Absence | undefined)[] = [];
        for (const n of p.design.routers.keys()) {
          lines.push(p.ribOnce(n).find((x) => x.key === key));
          absences.push(lines[n] ? undefined : why.at(n));
          yield undefined;
        }
        return p.design.routers.map((r, n): HolderRow => {
          const line = lines[n];
          return { router: r.name, row: line ? routeRow(p, n, line) : null, way: line ? wayOf(p, n, lines) : [], absence: absences[n] ?? null };
        });
      })(),
    );
    return rows ?? [];
  }

  /** The ways to a prefix that lost; where the router has no such route, why. */
  whyNot(router: string, prefix: string): WhyNotView {
    const p = this.shown;
    const typed = prefixNumber.read(prefix);
    const index = p.routerIndex(router);
    if (!typed || index < 0) return { lost: [], absence: null };
    const key = prefixId(typed.bits, typed.length);
    return {
      lost: p.speakersOf(index).flatMap((s) => lostWays(p, s, key)),
      absence: new WhyAbsent(p, { bits: typed.bits, length: typed.length }).at(index) ?? null,
    };
  }

  /** The tree of a router through one of its areas; without one, that of most routers. */
  tree(router: string, area: string | undefined): TreeView | null {
    return treeView(this.shown, router, area);
  }

  /** What another cost of an interface would do to the tree of a router, and to all tables; `null` where it cannot be, or a newer wish came. */
  async costTrial(router: string, area: string, place: string, cost: number): Promise<CostTrial | null> {
    const { held } = this;
    const mine = ++this.trials;
    const line = `${held.family === 6 ? 'v3 ' : ''}set cost ${cost} on ${place}`;
    const { plan } = readEntry(line, held.documents, []);
    if (!plan) return null;
    const tried = held.tryOut(plan.edits);
    const d = await held.sliced(comparing(held.now, tried.now), () => held.designs + this.trials - mine);
    if (!d || mine !== this.trials) return null;
    const [before, after] = [held.now, tried.now].map((p) => treeView(p, router, area)?.tree ?? []);
    return { ...summaryOf(d, held.quick, held.quick), line, title: plan.title, moves: treeMoves(before ?? [], after ?? []) };
  }
}

/** A route of OSPF as a line of a table. */
function ospfRow(p: Prediction, s: Speaker, r: Route): RouteRow {
  const { hops } = p.routing.hopList(s);
  const local = r.hops.flatMap((h) => (hops[h] ? [{ iface: hops[h].port.iface.name, address: hops[h].address }] : []));
  return routeRow(p, s.routerIndex, {
    key: r.key,
    bits: r.bits,
    length: r.length,
    source: 'ospf',
    preference: preferenceOf(s, r),
    hops: local,
    route: r,
  });
}

/** Tables laid side by side, in the order of prefixes; rows that are not alike in kind and cost differ. */
function sideBySide(tables: readonly (readonly RouteRow[])[]): BesideRow[] {
  const by = tables.map((t) => new Map(t.map((r) => [r.key, r])));
  const keys = [...new Set(tables.flatMap((t) => t.map((r) => r.key)))].sort((a, b) => prefixBook.compare(a, b));
  return keys.map((key, n) => {
    const cells = by.map((t) => t.get(key) ?? null);
    const [first, ...rest] = cells;
    return {
      key: n,
      prefix: cells.find((c) => c)?.prefix ?? '',
      cells: cells.map((c) => c && { type: c.type, metric: c.metric, hops: c.hops }),
      differs: rest.some((c) => (c === null) !== (first === null) || c?.type !== first?.type || c?.metric !== first?.metric),
    };
  });
}

function ownRows(p: Prediction, index: number): OwnRow[] {
  const rib = new Map(p.rib(index).map((r) => [r.key, r]));
  const ospf = new Map(p.speakersOf(index).flatMap((s) => [...p.routing.table(s).values()].map((r) => [r.key, { s, r }] as const)));
  const keys = [...new Set([...rib.keys(), ...ospf.keys()])].sort((a, b) => prefixBook.compare(a, b));
  return keys.map((key, n): OwnRow => {
    const [taken, computed] = [rib.get(key), ospf.get(key)];
    const row = computed && ospfRow(p, computed.s, computed.r);
    const preference = computed && preferenceOf(computed.s, computed.r);
    const why = !taken
      ? (computed?.s.instance.ribPolicy.length ?? 0) > 0
        ? `refused by ${computed?.s.instance.ribPolicy.join(', ') ?? ''}`
        : 'its next hop lies in the very prefix'
      : taken.source === 'ospf' || !computed
        ? ''
        : taken.preference < (preference ?? 0)
          ? `${taken.preference} before ${preference ?? 0}`
          : `first, both at ${taken.preference}`;
    return {
      key: n,
      prefix: prefixBook.text(key),
      ospf: row ? { type: row.type, metric: row.metric, hops: row.hops, area: row.area } : null,
      took: taken ? taken.source : '',
      preference: taken?.preference ?? null,
      why,
    };
  });
}

/** Routers on the way of a line, the first of equal ways; as long as the next one has the very same prefix. */
function wayOf(p: Prediction, start: number, lines: readonly (RibRoute | undefined)[]): string[] {
  const out: string[] = [];
  let at = start;
  let now = lines[start];
  while (now && out.length < 40) {
    const [hop] = routeRow(p, at, now).hops;
    if (!hop || hop.router === '' || out.includes(hop.router)) break;
    out.push(hop.router);
    at = p.routerIndex(hop.router);
    now = lines[at];
  }
  return out;
}

function treeView(p: Prediction, router: string, area: string | undefined): TreeView | null {
  const [s] = p.speakersOf(p.routerIndex(router));
  if (!s) return null;
  const trees = p.routing.areasOf(s).map((id) => ({ id, tree: treeOf(p, s, id) ?? [] }));
  const chosen = trees.find((t) => formatAddress(t.id) === area) ?? [...trees].sort((a, b) => b.tree.length - a.tree.length)[0];
  if (!chosen) return null;
  const lines = new Set<string>();
  for (const t of chosen.tree)
    for (const e of t.edges) {
      if (e.segment < 0) continue;
      if (e.lan === undefined) lines.add(String(e.segment));
      else for (const r of [e.from, t.router]) lines.add(`${e.segment} ${r}`);
    }
  return { areas: trees.map((t) => formatAddress(t.id)), area: formatAddress(chosen.id), tree: chosen.tree, lines: [...lines] };
}
