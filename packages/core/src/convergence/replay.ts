import type { Family } from '../design/family';
import { isSix, type Address } from '../prefix/address';
import type { RibRoute } from '../routes/rib';
import { everywhere } from './contents';
import type { Simulation } from './converge';
import { down, full, pairStates } from './run-state';
import type { Run } from './simulate';
import type { TimingProfile } from './timing-profile';
import { follow, type Span } from './watching';

/** Two neighbours that do not stand as they did before anything happened, from one side. */
export interface PairThen {
  readonly router: string;
  readonly iface: string;
  readonly peer: string;
  readonly peerIface: string;
  readonly before: string;
  readonly state: string;
}

/** An advertisement as a router holds it at a moment. */
export interface HeldThen {
  /** An area's id, or `undefined` for what goes everywhere. */
  readonly area: number | undefined;
  readonly type: number;
  readonly words: string;
  /** Instances of it that came since the beginning: 0 where it is the one of the beginning. */
  readonly news: number;
  /** It was withdrawn. */
  readonly withdrawn: boolean;
  /** It was not there at the beginning. */
  readonly isNew: boolean;
  /** When this instance came in, in ms; `undefined`: before the beginning. */
  readonly since: number | undefined;
}

/** A line of a router's own table at a moment, beside what it was before anything happened. */
export interface LineThen {
  readonly now: RibRoute | undefined;
  readonly before: RibRoute | undefined;
}

const sameLine = (a: RibRoute | undefined, b: RibRoute | undefined): boolean =>
  a === b ||
  (a !== undefined &&
    b !== undefined &&
    a.source === b.source &&
    JSON.stringify(a.hops) === JSON.stringify(b.hops) &&
    a.route?.metric === b.route?.metric);

/** One run, stood still at any moment: what every router holds and does then. Moments in ms from the first event. */
export class Replay {
  private readonly runs: Run[];
  /** The moment at which it stands. */
  at = -Infinity;

  constructor(
    readonly simulations: readonly Simulation[],
    readonly profile: TimingProfile,
    private readonly seed: number,
  ) {
    this.runs = simulations.map((s) => s.run(profile, seed));
  }

  /** Stands at a moment, all that happens in it included; one that is over is come to from the beginning. */
  stand(ms: number): this {
    if (ms < this.at) this.simulations.forEach((s, n) => (this.runs[n] = s.run(this.profile, this.seed)));
    for (const run of this.runs) run.toMoment(ms);
    this.at = ms;
    return this;
  }

  private of(family: Family): { readonly simulation: Simulation; readonly run: Run } | undefined {
    const n = this.simulations.findIndex((s) => s.family === family);
    const [simulation, run] = [this.simulations[n], this.runs[n]];
    return simulation && run && { simulation, run };
  }

  /** Neighbours that stand otherwise than at the beginning. */
  pairs(family: Family): PairThen[] {
    const both = this.of(family);
    if (!both) return [];
    const { run, simulation } = both;
    const { ground } = simulation;
    const rest = simulation.atRest(this.profile).state;
    return ground.facings.flatMap((f): PairThen[] => {
      const [before, now] = [rest.state[f.index] ?? down, run.state.state[f.index] ?? down];
      if (before === now) return [];
      const [p, q] = [run.state.port(f.port), run.state.port(f.peer)];
      const name = (r: number): string => ground.design.routers[r]?.name ?? '';
      return [
        {
          router: name(p.routerIndex),
          iface: p.iface.name,
          peer: name(q.routerIndex),
          peerIface: q.iface.name,
          before: pairStates[before] ?? '',
          state: pairStates[now] ?? '',
        },
      ];
    });
  }

  /** Segments over whose wires no pair of neighbours of the beginning is full any more, from either side. */
  apart(family: Family): number[] {
    const both = this.of(family);
    if (!both) return [];
    const { run, simulation } = both;
    const rest = simulation.atRest(this.profile).state;
    const { facings } = simulation.ground;
    const were = new Set<number>();
    const are = new Set<number>();
    for (const f of facings) {
      const { segment } = run.state.port(f.port);
      if (rest.state[f.index] === full) were.add(segment);
      if (run.state.state[f.index] === full) are.add(segment);
    }
    return [...were].filter((s) => !are.has(s));
  }

  /** Routers that are switched off. */
  off(): string[] {
    const [both] = this.simulations.map((s) => this.of(s.family));
    return both ? both.run.state.nodes.filter((n) => !n.alive).map((n) => both.simulation.ground.design.routers[n.routerIndex]?.name ?? '') : [];
  }

  /** A router's own table, each line beside what it was; those that differ first. */
  table(family: Family, router: string): LineThen[] {
    const both = this.of(family);
    if (!both) return [];
    const { run, simulation } = both;
    const rib = (r: Run): readonly RibRoute[] => {
      const node = r.state.nodes.find((n) => simulation.ground.design.routers[n.routerIndex]?.name === router);
      return node?.alive ? simulation.shared.rib(r.state, node) : [];
    };
    const before = new Map(rib(simulation.atRest(this.profile)).map((l) => [l.key, l]));
    const now = new Map(rib(run).map((l) => [l.key, l]));
    const lines = [...new Set([...now.keys(), ...before.keys()])].map((k): LineThen => ({ now: now.get(k), before: before.get(k) }));
    const moved = (l: LineThen): number => (sameLine(l.now, l.before) ? 1 : 0);
    return lines
      .map((l, n) => ({ l, n }))
      .sort((a, b) => moved(a.l) - moved(b.l) || a.n - b.n)
      .map(({ l }) => l);
  }

  /** Whether a line is what it was. */
  static moved(l: LineThen): boolean {
    return !sameLine(l.now, l.before);
  }

  /** All that a router holds; what came since the beginning first, the newest before all. */
  database(family: Family, router: string): HeldThen[] {
    const both = this.of(family);
    if (!both) return [];
    const out: HeldThen[] = [];
    for (const actor of both.run.state.actors) {
      if (actor.speaker.router.name !== router || !actor.node.alive) continue;
      for (const store of [...actor.areas.values(), actor.wide])
        for (const h of store.all()) {
          const first = store.base.get(h.name.id);
          out.push({
            area: store.scope === everywhere ? undefined : store.scope,
            type: h.name.type,
            words: h.name.words,
            news: h.sequence - (first?.sequence ?? 0),
            withdrawn: h.content === undefined,
            isNew: first?.content === undefined,
            since: h.at === -Infinity ? undefined : h.at,
          });
        }
    }
    return out
      .map((h, n) => ({ h, n }))
      .sort((a, b) => (b.h.since ?? -1) - (a.h.since ?? -1) || a.n - b.n)
      .map(({ h }) => h);
  }

  /** What becomes of packets between two addresses. */
  flow(from: Address, to: Address): Omit<Span, 'fromMs' | 'toMs'> | undefined {
    const both = this.of(isSix(to) ? 6 : 4);
    if (!both) return undefined;
    const { run, simulation } = both;
    const moment = simulation.moment(run);
    const name = (r: number): string => simulation.ground.design.routers[r]?.name ?? '';
    const { fate, at, why, path } = follow(moment, simulation.shared.wires.endsOf(run.state.outage, from), to);
    return { fate, at: at.map(name), why, path: path.map(name) };
  }
}
