import type { Pairing } from '@gentle-compass/core/adjacency/settle';
import type { Finding } from '@gentle-compass/core/findings/finding';
import type { Prediction } from '@gentle-compass/core/predict';
import type { PairView, RouterView, SegmentView } from '../model/view';
import { countedUpTo, pairView, routerView, segmentView } from './views';

/**
 * Views of routers, wires and pairs, made again only where something that they show is another object than before: after
 * an edit most of a large campus stays as it is, and the same view object says so.
 */
export class ViewMaking {
  private before: { readonly p: Prediction; readonly routers: readonly RouterView[]; readonly segments: readonly SegmentView[] } | undefined;
  private readonly pairs = new WeakMap<Pairing, PairView>();

  private shownPairs: readonly PairView[] | undefined;

  routers(p: Prediction): readonly RouterView[] {
    const { before } = this;
    // The same state shows the same, whatever was found out about it since.
    if (before?.p === p) return before.routers;
    const known = before && p.design.routers.length > countedUpTo && before.p.segments === p.segments ? before : undefined;
    const out = p.design.routers.map((_, i) =>
      known && sameRouter(known.p, p, i) ? (known.routers[i] ?? routerView(p, i)) : unlessTheSame(known?.routers[i], routerView(p, i)),
    );
    const segments = p.segments.list.filter((s) => s.size > 1);
    const wires = segments.map((s, n) =>
      known && sameWire(known.p, p, s.index)
        ? (known.segments[n] ?? segmentView(p, s.index))
        : unlessTheSame(known?.segments[n], segmentView(p, s.index)),
    );
    this.before = { p, routers: same(before?.routers, out), segments: same(before?.segments, wires) };
    return this.before.routers;
  }

  /** Wires with several members, of the state that routers were last asked for. */
  get segments(): readonly SegmentView[] {
    return this.before?.segments ?? [];
  }

  /** Pairs with the first finding that names both ends. */
  pairsOf(p: Prediction, findings: readonly Finding[]): readonly PairView[] {
    const at = findingsByPlace(findings.filter((f) => (f.family ?? 4) === p.family));
    const before = this.shownPairs;
    const out = p.adjacencies.pairs.map((pair, n) => {
      const known = this.pairs.get(pair);
      const finding = at.size === 0 ? null : at.both(placeOf(pair.a.port), placeOf(pair.b.port));
      if (known?.finding === finding) return known;
      const made = unlessTheSame(before?.[n], { ...(known ?? pairView(p, pair)), finding });
      this.pairs.set(pair, made);
      return made;
    });
    this.shownPairs = same(this.shownPairs, out);
    return this.shownPairs;
    function placeOf(port: Pairing['a']['port']): string {
      return `${p.design.routers[port.routerIndex]?.name ?? ''} ${port.iface.name}`;
    }
  }
}

/** The view as it was, where what is made again shows the same. */
const unlessTheSame = <T>(before: T | undefined, made: T): T =>
  before !== undefined && JSON.stringify(before) === JSON.stringify(made) ? before : made;

/** The list as it was, where nothing in it is another object. */
const same = <T>(before: readonly T[] | undefined, now: readonly T[]): readonly T[] =>
  before?.length === now.length && now.every((x, i) => x === before[i]) ? before : now;

/** Findings that name several places, by place. */
function findingsByPlace(findings: readonly Finding[]): { readonly size: number; both: (a: string, b: string) => string | null } {
  const by = new Map<string, number[]>();
  findings.forEach((f, n) => {
    if (f.where.length > 1)
      for (const w of f.where) {
        const key = `${w.router} ${w.interface ?? ''}`;
        by.set(key, [...(by.get(key) ?? []), n]);
      }
  });
  return {
    size: by.size,
    both: (a, b) => {
      const other = by.get(b);
      const n = by.get(a)?.find((x) => other?.includes(x));
      return n === undefined ? null : (findings[n]?.id ?? null);
    },
  };
}

/** Whether a router shows the same in two states whose wires are the same. */
function sameRouter(a: Prediction, b: Prediction, index: number): boolean {
  if (a.design.routers[index] !== b.design.routers[index]) return false;
  const [old, now] = [a.speakersOf(index), b.speakersOf(index)];
  if (old.length !== now.length) return false;
  return now.every((s, n) => {
    const was = old[n];
    return (
      was === s &&
      s.ports.every((p) => a.adjacencies.leaders[p.index] === b.adjacencies.leaders[p.index]) &&
      a.routing.isBorderRouter(s) === b.routing.isBorderRouter(s) &&
      a.routing.isBoundaryRouter(s) === b.routing.isBoundaryRouter(s) &&
      a.routing.areasOf(s).join() === b.routing.areasOf(s).join()
    );
  });
}

/** Whether a wire shows the same in two states whose wires are the same. */
function sameWire(a: Prediction, b: Prediction, index: number): boolean {
  const [old, now] = [a.portsOn(index), b.portsOn(index)];
  return (
    old.length === now.length &&
    now.every((p, n) => old[n] === p && a.adjacencies.leaders[p.index] === b.adjacencies.leaders[p.index]) &&
    (a.segments.list[index]?.members ?? []).every((m) => a.design.routers[m.router] === b.design.routers[m.router])
  );
}
