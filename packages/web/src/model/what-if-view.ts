import type { Edit } from '@gentle-compass/core/design/edit';
import type { ReadProblem } from '@gentle-compass/core/documents/cursor';
import type { Exits } from '@gentle-compass/core/planned/lan-demands';
import type { ProposedRisk } from '@gentle-compass/core/planned/proposed-risks';
import type { WorkStep } from '@gentle-compass/core/planned/planned-work';
import type { Fate } from '@gentle-compass/core/reach/trace';

/** The way that packets of a pair take in one state. */
export interface WayView {
  readonly fate: Fate;
  /** Why it ends, where it does not arrive. */
  readonly reason: string;
  /** Routers of the first of its equal ways. */
  readonly path: readonly string[];
  /** How many equal ways there are. */
  readonly equal: number;
  /** OSPF cost; `null` where there is none. */
  readonly cost: number | null;
  /** Lines of the map that any of them passes. */
  readonly lines: readonly string[];
}

/** A pair whose packets are looked at before and after something fails. */
export interface WatchedView {
  /** As it is asked for: `FROM TO`. */
  readonly word: string;
  readonly from: string;
  readonly to: string;
  readonly before: WayView;
  readonly after: WayView;
}

/** Pairs that are watched; `chosen` by the page, where nobody named any. Words that name none are told. */
export interface WatchedViews {
  readonly pairs: readonly WatchedView[];
  readonly problems: readonly string[];
}

/** What became of the advertisements of one type in one area. */
export interface DatabaseRow {
  readonly where: string;
  /** The type, by number and name. */
  readonly what: string;
  readonly fresh: number;
  readonly newer: number;
  readonly gone: number;
  readonly examples: readonly string[];
}

/** One step of planned work, with the ways of what is watched in it. */
export interface WorkStepView extends Omit<WorkStep, 'state'> {
  readonly ways: readonly WayView[];
}

/** Planned work on a router or a link, and the plain outage. */
export interface WorkView {
  readonly watched: readonly { readonly word: string; readonly from: string; readonly to: string; readonly before: WayView }[];
  readonly steps: readonly WorkStepView[];
  readonly outage: WorkStepView;
}

/** What is left of a failure when a link is added, and without it. */
export interface DamageView {
  readonly broken: readonly string[];
  readonly cutPairs: number;
  readonly longestDetour: number | null;
}

/** The one link that saves most; `best` is `null` where none saves anything. */
export interface LinkAdviceView {
  readonly now: DamageView;
  readonly best: (DamageView & { readonly line: string; readonly routers: readonly [string, string] }) | null;
  readonly tried: number;
  readonly possible: number;
}

/** What an interface would carry. */
export interface LoadRow {
  readonly router: string;
  readonly iface: string;
  /** Routers at the other end. */
  readonly to: readonly string[];
  readonly segment: number;
  /** Mbit/s while nothing fails, and with what is down; `null`: nothing is down. */
  readonly now: number;
  readonly then: number | null;
  /** Mbit/s that it can carry; `null` where the design does not say. */
  readonly capacity: number | null;
}

/** What the whole network would carry. */
export interface LoadsView {
  readonly demands: number;
  readonly rows: readonly LoadRow[];
  /** Mbit/s. */
  readonly asked: number;
  readonly lost: number;
  readonly lostThen: number | null;
  /** Demands that no family carries, and why. */
  readonly faults: readonly string[];
  /** What interfaces that carry nothing now can carry, Mbit/s, by `router/iface`; those that the design says it of. */
  readonly capacities: Readonly<Record<string, number>>;
  /** Routers through which traffic leaves, and whether they tell of a default route. */
  readonly exits: Exits;
}

/** The most that interfaces would carry in any single failure, by `router/iface`. */
export type WorstView = Readonly<Record<string, { readonly mbps: number; readonly fail: string }>>;

/** A cost that relieves an interface. */
export interface ReliefView {
  readonly line: string;
  readonly cost: number;
  readonly mbps: number;
  readonly over: number;
}

/** Demands that were read or made, ready to be taken into the design. */
export interface DemandsRead {
  readonly edits: readonly Edit[];
  readonly count: number;
  readonly problems: readonly ReadProblem[];
  /** What else is to be said of them. */
  readonly note: string;
}

/** How well the next hops of a router are covered. */
export interface CoverRow {
  readonly router: string;
  readonly all: number;
  readonly link: number;
  readonly node: number;
  readonly none: number;
  /** Its next hops without an alternate that does without their link. */
  readonly uncovered: readonly { readonly iface: string; readonly to: string; readonly prefixes: readonly string[] }[];
}

/** How well the campus is covered by loop-free alternates, in the family that is looked at. */
export interface CoverageView {
  readonly all: number;
  readonly covered: number;
  readonly link: number;
  readonly node: number;
  readonly rows: readonly CoverRow[];
}

/** What would cover most, by trying. */
export interface CoverAdviceView {
  readonly left: number;
  readonly all: number;
  readonly best: readonly { readonly kind: 'link' | 'cost'; readonly line: string; readonly left: number; readonly all: number }[];
  readonly tried: number;
  readonly possible: number;
}

export type RiskProposal = ProposedRisk;
