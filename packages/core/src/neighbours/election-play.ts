import type { Leaders } from '../adjacency/dr-election';
import { resettle, type Adjacencies, type NeighborView } from '../adjacency/settle';
import { elects, type Port } from '../adjacency/speakers';
import { designOf } from '../design/family';
import type { FailureSpec } from '../failures/outage';
import { predict, type Prediction } from '../predict';
import type { Alone } from './alone';
import { orders } from './orders';

/** One step of a play: routers whose interface on the segment comes up, or goes down, at one moment; all else rests before and after. */
export interface PlayStep {
  readonly kind: 'start' | 'lose';
  /** Host names. */
  readonly routers: readonly string[];
}

/** A router in the order in which it would be chosen (RFC 2328 §9.4). */
export interface Rung {
  readonly router: string;
  readonly iface: string;
  readonly routerId: number;
  readonly priority: number;
  /** Why it cannot be elected; `undefined`: it can. */
  readonly barred: string | undefined;
}

/** How a segment rests after a step. */
export interface Stand {
  /** Routers whose interface is up there. */
  readonly present: readonly string[];
  /** By host name, as most of those present see it; `undefined`: nobody. */
  readonly dr: string | undefined;
  readonly bdr: string | undefined;
  /** Routers that see other leaders than these, with what they see. */
  readonly apart: readonly { readonly router: string; readonly dr: string | undefined; readonly bdr: string | undefined }[];
  /** Who would be designated router if this one were lost, and who the backup then. */
  readonly next: { readonly dr: string | undefined; readonly bdr: string | undefined };
  readonly pairs: readonly {
    readonly a: string;
    readonly b: string;
    readonly aState: NeighborView['state'];
    readonly bState: NeighborView['state'];
  }[];
}

/** Whoever takes part in the election of a segment, best first: priority, then router id; those that are barred come last. */
export function ladderOf({ prediction: p, segment }: Alone): Rung[] {
  const why = (x: Port): string | undefined => {
    if (!x.settings.enabled) return 'OSPF is off here';
    if (x.settings.passive) return 'passive: it sends no hello';
    if (!x.up) return 'the interface is down';
    if (!elects(x.type)) return `${x.type} elects nobody`;
    return x.settings.priority === 0 ? 'priority 0: never elected' : undefined;
  };
  return p
    .portsOn(segment)
    .map((x): Rung => ({
      router: p.design.routers[x.routerIndex]?.name ?? '',
      iface: x.iface.name,
      routerId: x.routerId,
      priority: x.settings.priority,
      barred: why(x),
    }))
    .sort((a, b) => Number(a.barred !== undefined) - Number(b.barred !== undefined) || b.priority - a.priority || b.routerId - a.routerId);
}

/** A segment on which routers come and go: nobody is there at first. */
export class ElectionPlay {
  private readonly ports: readonly Port[];
  private readonly able: ReadonlyMap<number, Port>;
  private readonly nobody: Adjacencies;

  constructor(private readonly alone: Alone) {
    const { prediction: p, segment } = alone;
    this.ports = p.portsOn(segment);
    this.able = new Map(this.ports.map((x) => [x.index, x]));
    this.nobody = this.moved(p.adjacencies, this.ports, false);
  }

  /** Host names of all who could be there. */
  get routers(): readonly string[] {
    return this.ports.map((x) => this.nameOf(x));
  }

  /** Host names of those who can be elected. */
  get candidates(): readonly string[] {
    return this.ports.filter((x) => x.up && elects(x.type) && !x.settings.passive && x.settings.priority > 0).map((x) => this.nameOf(x));
  }

  /** Plays steps from an empty segment. @returns  how it rests after each */
  play(steps: readonly PlayStep[]): Stand[] {
    let now = this.nobody;
    return steps.map((step) => {
      now = this.step(now, step);
      return this.stand(now);
    });
  }

  /** How it rests after all of them; cheaper where only that is asked. */
  leadersAfter(steps: readonly PlayStep[]): Stand {
    return this.stand(steps.reduce((now, step) => this.step(now, step), this.nobody));
  }

  private nameOf(x: Port): string {
    return this.alone.prediction.design.routers[x.routerIndex]?.name ?? '';
  }

  private moved(from: Adjacencies, ports: readonly Port[], up: boolean): Adjacencies {
    const { design, segments } = this.alone.prediction;
    const changed = new Map(ports.map((x) => [x.index, x.standing(up && (this.able.get(x.index)?.up ?? false), false)]));
    return changed.size === 0 ? from : resettle(from, design, segments, changed).adjacencies;
  }

  private step(now: Adjacencies, { kind, routers }: PlayStep): Adjacencies {
    return this.moved(
      now,
      this.ports.filter((x) => routers.includes(this.nameOf(x))),
      kind === 'start',
    );
  }

  /** Leaders in the eyes of most. */
  private ledBy(now: Adjacencies): { most: Leaders; seen: { router: string; leaders: Leaders }[] } {
    const seen = this.ports.flatMap((x) => {
      const port = now.ports[x.index];
      const leaders = now.leaders[x.index];
      return port?.up && elects(port.type) && !port.settings.passive && leaders ? [{ router: this.nameOf(x), leaders }] : [];
    });
    const votes = new Map<string, { n: number; leaders: Leaders }>();
    for (const { leaders } of seen) {
      const key = `${leaders.dr} ${leaders.bdr}`;
      votes.set(key, { n: (votes.get(key)?.n ?? 0) + 1, leaders });
    }
    const most = [...votes.values()].reduce<{ n: number; leaders: Leaders }>((a, b) => (b.n > a.n ? b : a), { n: 0, leaders: { dr: 0, bdr: 0 } });
    return { most: most.leaders, seen };
  }

  private who(id: number): string | undefined {
    const port = id === 0 ? undefined : this.ports.find((x) => x.routerId === id);
    return port && this.nameOf(port);
  }

  private stand(now: Adjacencies): Stand {
    const { most, seen } = this.ledBy(now);
    const words = (l: Leaders): { dr: string | undefined; bdr: string | undefined } => ({ dr: this.who(l.dr), bdr: this.who(l.bdr) });
    const leader = words(most).dr;
    const lost = this.ports.filter((x) => leader !== undefined && this.nameOf(x) === leader);
    return {
      present: this.ports.flatMap((x) => (now.ports[x.index]?.up ? [this.nameOf(x)] : [])),
      ...words(most),
      apart: seen.filter((s) => s.leaders.dr !== most.dr || s.leaders.bdr !== most.bdr).map((s) => ({ router: s.router, ...words(s.leaders) })),
      next: words(this.ledBy(this.moved(now, lost, false)).most),
      pairs: now.pairs
        .filter((x) => x.segment === this.alone.segment && x.a.port.up && x.b.port.up)
        .map((x) => ({ a: this.nameOf(x.a.port), b: this.nameOf(x.b.port), aState: x.a.state, bState: x.b.state })),
    };
  }
}

/** The whole network with one of its segments led as a play ended; routers that are away have no interface there. */
export function ledAs(p: Prediction, segment: number, stand: Stand): Prediction {
  const ports = p.portsOn(segment);
  const nameOf = (x: Port): string => p.design.routers[x.routerIndex]?.name ?? '';
  const idOf = (name: string | undefined): number => ports.find((x) => nameOf(x) === name)?.routerId ?? 0;
  const leaders = p.adjacencies.leaders.slice();
  for (const x of ports) leaders[x.index] = { dr: idOf(stand.dr), bdr: idOf(stand.bdr) };
  const away = ports
    .filter((x) => x.up && !stand.present.includes(nameOf(x)))
    .map((x): FailureSpec => ({ kind: 'interface', router: nameOf(x), iface: x.iface.name }));
  return predict(designOf(p.design), [...p.failures, ...away], {
    ...(p.family === 6 && { family: 6 }),
    incumbents: { ...p.adjacencies, leaders },
  });
}

/** What of a segment is wished: who is designated router, or backup. */
export interface Wish {
  readonly router: string;
  readonly role: 'dr' | 'bdr';
}

/** Whether any order of start breaks a wish. */
export interface WishTrial {
  /** Whether it holds where all start together. */
  readonly together: boolean;
  /** What breaks it, step by step, the shortest that was found; `undefined`: nothing that was tried. */
  readonly breaks: readonly PlayStep[] | undefined;
  /** Who has the role then. */
  readonly instead: string | undefined;
  /** Plays that were tried. */
  readonly tried: number;
  /** Whether every order of start was among them. */
  readonly all: boolean;
}

/** Segments of up to so many routers have every order of start tried. */
const allOrdersUpTo = 5;

const oneByOne = (names: readonly string[]): PlayStep[] => names.map((n) => ({ kind: 'start', routers: [n] }));

/** Of more candidates than this only so many are put first in turn. */
const mostFirst = 12;

/**
 * Plays that would most likely break a wish: one who can be elected before all others, two of the others before the rest, a loss
 * and a return. Whoever cannot be elected changes nothing by being early.
 */
function* likely(names: readonly string[], candidates: readonly string[], wished: string): Generator<readonly PlayStep[]> {
  const others = candidates.filter((n) => n !== wished).slice(0, mostFirst);
  yield [{ kind: 'start', routers: names }];
  for (const o of [...others, wished])
    yield [
      { kind: 'start', routers: [o] },
      { kind: 'start', routers: names.filter((n) => n !== o) },
    ];
  for (const o of others)
    for (const q of others)
      if (q !== o)
        yield [
          { kind: 'start', routers: [o] },
          { kind: 'start', routers: [q] },
          { kind: 'start', routers: names.filter((n) => n !== o && n !== q) },
        ];
  yield [
    { kind: 'start', routers: names },
    { kind: 'lose', routers: [wished] },
    { kind: 'start', routers: [wished] },
  ];
}

/** Looks for an order of start, or a loss and return, after which somebody else has the role that was wished for. */
export function tryWish(play: ElectionPlay, { router, role }: Wish): WishTrial {
  const names = [...new Set(play.routers)];
  const has = (steps: readonly PlayStep[]): string | undefined => play.leadersAfter(steps)[role];
  const together = has([{ kind: 'start', routers: names }]) === router;
  const all = names.length <= allOrdersUpTo;
  let tried = 0;
  const ways = function* (): Generator<readonly PlayStep[]> {
    yield* likely(names, [...new Set(play.candidates)], router);
    if (all) for (const order of orders(names)) yield oneByOne(order);
  };
  for (const steps of ways()) {
    tried++;
    const who = has(steps);
    if (who !== router) return { together, breaks: steps, instead: who, tried, all };
  }
  return { together, breaks: undefined, instead: undefined, tried, all };
}
