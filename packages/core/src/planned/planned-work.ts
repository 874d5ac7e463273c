import { countChanges } from '../compare/count-changes';
import { applyEdits } from '../design/edit';
import type { SourceDocument } from '../documents/documents';
import { readEntry } from '../entry/entry';
import { placeKey } from '../failures/outage';
import { designFrom } from '../formats/read-set';
import { maxLinkMetric } from '../lsdb/originate';
import { downWith, type Prediction } from '../predict';
import { breaking } from '../reach/breaking';
import { Forwarding, type Way } from '../reach/forwarding';
import { loopbacks } from '../reach/matrix';
import { LoopbackWays } from '../sweep/loopback-ways';

/** What can be taken out of service on purpose: a router, a cable, an attachment to a LAN. */
export type WorkTarget =
  { readonly kind: 'router'; readonly router: string } | { readonly kind: 'link'; readonly router: string; readonly iface: string };

/** One step of planned work, over all families: what it changes against the step before. */
export interface WorkStep {
  readonly kind: 'drain' | 'down' | 'back' | 'undrain';
  /** Lines of quick entry that do it; none where it is done by hand. */
  readonly lines: readonly string[];
  /** Routes of routers that stand. */
  readonly lost: number;
  readonly gained: number;
  readonly changed: number;
  /** Ordered pairs of loopbacks whose packets went over what goes down in this very step: they are interrupted until others know. */
  readonly interrupted: number;
  /** Of all that arrived before the work began: pairs that do not arrive in this step. */
  readonly cut: number;
  /** Expectations that held before the work began and do not in this step. */
  readonly broken: readonly string[];
  /** The network then, in each family. */
  readonly state: readonly Prediction[];
}

/** A way of taking something out of service and bringing it back, beside what the plain outage does. */
export interface PlannedWork {
  readonly steps: readonly WorkStep[];
  readonly outage: WorkStep;
}

/** Why the work cannot be planned, in words. */
export interface WorkRefused {
  readonly refusal: string;
}

/** Interfaces that a target's traffic goes over: of a link those of the cable, or the one attachment. */
function placesOf(p: Prediction, target: WorkTarget): string[] {
  if (target.kind === 'router') return [];
  const { outage } = downWith(p, target);
  const places = [...outage.ports, ...outage.severed].filter((k) => !p.outage.ports.has(k) && !p.outage.severed.has(k));
  return places.flatMap((key) => {
    const [router, iface] = key.split('/').map(Number);
    const r = p.design.routers[router ?? -1];
    const i = r?.interfaces[iface ?? -1];
    return r && i && p.portOf(router ?? -1, iface ?? -1) ? [`${r.name}/${i.name}`] : [];
  });
}

/** Lines that take a target's traffic away, and those that give it back. */
interface Draining {
  readonly drain: readonly string[];
  readonly undrain: readonly string[];
}

/**
 * The lines that drain a target in one family: a router tells its links at 65535 (RFC 6987 §2; of OSPFv3 as well), the ends of
 * a link cost as much. What is drained already is left as it is.
 */
function drainIn(p: Prediction, target: WorkTarget): Draining {
  const version = p.family === 6 ? 'v3 ' : '';
  if (target.kind === 'router') {
    const speaks = p.speakersOf(p.routerIndex(target.router)).some((s) => !s.instance.stubRouter);
    return speaks
      ? { drain: [`${version}set stub-router yes on ${target.router}`], undrain: [`${version}clear stub-router on ${target.router}`] }
      : { drain: [], undrain: [] };
  }
  const places = placesOf(p, target).sort();
  if (places.length === 0) return { drain: [], undrain: [] };
  const undrain = places.map((place) => {
    const [router = '', iface = ''] = place.split('/');
    const index = p.routerIndex(router);
    const port = p.portOf(index, p.design.routers[index]?.interfaces.findIndex((i) => i.name === iface) ?? -1);
    return port?.costFrom === 'written' ? `${version}set cost ${port.cost} on ${place}` : `${version}clear cost on ${place}`;
  });
  return { drain: [`${version}set cost ${maxLinkMetric} on ${places.join(' ')}`], undrain };
}

/**
 * Ordered pairs of loopbacks, neither of routers that go, whose packets take any of some ways: by any of the equal ones.
 *
 * @param over  whether a way out of a router is one of them
 */
export function pairsOver(p: Prediction, over: (router: number, way: Way) => boolean, gone: ReadonlySet<number>): number {
  const f = Forwarding.quickly(p);
  const all = [...new Set(loopbacks(p))];
  const starts = all.map((a) => f.endsOf(a));
  const standing = starts.map((list) => list.some((r) => !gone.has(r)));
  let count = 0;
  all.forEach((to, n) => {
    if (!standing[n]) return;
    const known = new Map<number, boolean>();
    const passes = (router: number): boolean => {
      const before = known.get(router);
      if (before !== undefined) return before;
      known.set(router, false);
      const step = f.step(router, to);
      const does = step.kind === 'on' && step.ways.some((w) => over(router, w) || (w.to !== undefined && passes(w.to)));
      known.set(router, does);
      return does;
    };
    starts.forEach((list, from) => {
      if (from !== n && standing[from] && list.some((r) => !gone.has(r) && passes(r))) count++;
    });
  });
  return count;
}

/** Pairs whose packets go over what a target takes down. */
function interruptedBy(p: Prediction, target: WorkTarget): number {
  const { outage } = downWith(p, target);
  const gone = new Set([...outage.routers].filter((r) => !p.outage.routers.has(r)));
  const lost = (router: number, iface: string): boolean => {
    const index = p.design.routers[router]?.interfaces.findIndex((i) => i.name === iface) ?? -1;
    const key = placeKey(router, index);
    return (outage.ports.has(key) && !p.outage.ports.has(key)) || (outage.severed.has(key) && !p.outage.severed.has(key));
  };
  // On a LAN what goes to the attachment that is lost goes over it as well.
  const towards = new Set<string>();
  for (const place of [...outage.ports, ...outage.severed]) towards.add(place);
  const lands = (w: Way, router: number): boolean => {
    if (w.to === undefined) return false;
    const iface = p.design.routers[router]?.interfaces.findIndex((i) => i.name === w.iface) ?? -1;
    const segment = p.segments.list[p.segments.of[router]?.[iface] ?? -1];
    return (
      segment?.members.some(
        (m) => m.router === w.to && towards.has(placeKey(m.router, m.iface)) && !p.outage.ports.has(placeKey(m.router, m.iface)),
      ) ?? false
    );
  };
  return pairsOver(p, (router, w) => gone.has(w.to ?? -1) || lost(router, w.iface) || lands(w, router), gone);
}

/** What is looked at in every step: where the work begins. */
interface Start {
  readonly p: Prediction;
  readonly ways: LoopbackWays;
  readonly breaks: ReturnType<typeof breaking>;
}

/**
 * Planned work on a router or a link: drained, taken down, brought back, drained no more; and the plain outage beside it.
 *
 * @param families   the design at rest, a prediction for each of its families
 * @param documents  what it was read from
 */
export function plannedWork(families: readonly Prediction[], documents: readonly SourceDocument[], target: WorkTarget): PlannedWork | WorkRefused {
  const [first] = families;
  const [problem] = first ? downWith(first, target).problems : [];
  if (!first || problem !== undefined) return { refusal: problem ?? 'There is no router.' };
  const lines = families.map((p) => drainIn(p, target));
  const drain = lines.flatMap((l) => l.drain);
  let after = documents;
  for (const line of drain) {
    const { plan, error } = readEntry(line, after);
    if (!plan) return { refusal: error?.message ?? '' };
    after = applyEdits(after, plan.edits);
  }
  const { design } = designFrom(after);
  const starts = families.map((p): Start => ({ p, ways: new LoopbackWays(p), breaks: breaking(Forwarding.quickly(p)) }));
  const drained = families.map((p) => p.edited(design));
  const gone = new Set([...downWith(first, target).outage.routers].filter((r) => !first.outage.routers.has(r)));
  const nobody: ReadonlySet<number> = new Set();
  const step = (
    kind: WorkStep['kind'],
    lines: readonly string[],
    from: readonly Prediction[],
    to: readonly Prediction[],
    down: boolean,
  ): WorkStep => {
    const out = { lost: 0, gained: 0, changed: 0, interrupted: 0, cut: 0 };
    const broken = new Set<string>();
    starts.forEach(({ ways, breaks }, i) => {
      const [a, b] = [from[i], to[i]];
      if (!a || !b) return;
      const c = countChanges(a, b);
      out.lost += c.lost;
      out.gained += c.gained;
      out.changed += c.changed;
      if (kind === 'down') out.interrupted += interruptedBy(a, target);
      out.cut += ways.compare(b, down ? gone : nobody).cut;
      for (const name of breaks.brokenIn(b, down ? gone : nobody)) broken.add(name);
    });
    return { kind, lines, ...out, broken: [...broken], state: to };
  };
  const down = drained.map((p) => p.fail(target));
  const plain = families.map((p) => p.fail(target));
  return {
    steps: [
      step('drain', drain, families, drained, false),
      step('down', [], drained, down, true),
      step('back', [], down, drained, false),
      step(
        'undrain',
        lines.flatMap((l) => l.undrain),
        drained,
        families,
        false,
      ),
    ],
    outage: step('down', [], families, plain, true),
  };
}
