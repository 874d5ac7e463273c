import type { Family } from '@gentle-compass/core/design/family';
import type { Edit } from '@gentle-compass/core/design/edit';
import type { SpfSchedule } from '@gentle-compass/core/design/design';
import type { ChainKind } from '@gentle-compass/core/convergence/run-state';
import type { Spread } from '@gentle-compass/core/convergence/converge';

/** Something that happens after the failures of the first moment. */
export interface Then {
  /** From the first moment, in ms. */
  readonly ms: number;
  readonly kind: 'fail' | 'restore' | 'line';
  /** A failure as it is typed, or a line of quick entry. */
  readonly what: string;
}

/** `1500 restore link:kelp-1/to-kelp-2`, as the address bar holds it. */
export const thenText = (t: Then): string => `${t.ms} ${t.kind} ${t.what}`;

/** Reads it; what is none is left out. */
export function readThen(text: string): Then | undefined {
  const m = /^(\d{1,7}) (fail|restore|line) (\S.*)$/.exec(text);
  return m ? { ms: Number(m[1]), kind: m[2] as Then['kind'], what: m[3] ?? '' } : undefined;
}

/** What is to be timed. */
export interface TimeCall {
  /** Failures of the first moment, as they are typed. */
  readonly fail: readonly string[];
  readonly then: readonly Then[];
  /** Pairs to follow, as they are typed: `FROM TO`; none: some that the failure touches. */
  readonly watch: readonly string[];
  /** Times of the profile that are not plain ones, by their names in a file. */
  readonly profile: Readonly<Record<string, unknown>>;
  readonly seed: number;
  readonly runs: number;
}

/** A stretch of a router's way to a new table. Times in ms. */
export interface TimeBar {
  readonly kind: ChainKind;
  readonly from: number;
  readonly to: number;
  readonly where: string;
}

export interface TimeRow {
  readonly router: string;
  /** What it noticed something by, where it did by itself, and when. */
  readonly cause: string | null;
  readonly noticed: number | null;
  /** In the typical run: when it knew, noticed or heard; when its table changed first and last. */
  readonly knew: number;
  readonly firstChange: number | null;
  readonly lastChange: number | null;
  /** Over all runs. */
  readonly spread: Spread | null;
  readonly bars: readonly TimeBar[];
  /** Moments at which its table changed. */
  readonly changes: readonly number[];
}

export interface FlowSpan {
  readonly fromMs: number;
  readonly toMs: number;
  readonly fate: 'carried' | 'dropped' | 'looping';
  readonly at: readonly string[];
  readonly why: string | null;
  readonly path: readonly string[];
}

export interface FlowView {
  /** As it was asked for. */
  readonly word: string;
  readonly from: string;
  readonly to: string;
  /** Ends in words. */
  readonly fromName: string;
  readonly toName: string;
  readonly spans: readonly FlowSpan[];
  /** Before anything happened. */
  readonly before: readonly string[];
  /** Over all runs: until it was carried for good, at the latest; `null`: not at the end of every run. */
  readonly healedLatest: number | null;
}

/** Packets that went round between some routers. */
export interface LoopView {
  readonly routers: readonly string[];
  readonly fromMs: number;
  readonly toMs: number;
  /** Ordered pairs of loopbacks whose packets went round. */
  readonly pairs: number;
  readonly example: string;
}

/** How long it takes. */
export interface TimeView {
  readonly runs: number;
  readonly of: number;
  readonly done: boolean;
  readonly seed: number;
  readonly lastChange: Spread | null;
  /** How long it takes in the family that is not looked at; `null`: there is none, or it is not known yet. */
  readonly other: { readonly family: Family; readonly lastChange: Spread | null } | null;
  readonly lastChanges: readonly number[];
  readonly slowest: string | null;
  readonly lastRouter: string | null;
  readonly shares: readonly { readonly ms: number; readonly words: string; readonly kind: ChainKind }[];
  readonly rows: readonly TimeRow[];
  /** Routers that never hear of it. */
  readonly silent: number;
  readonly flows: readonly FlowView[];
  readonly loops: readonly LoopView[];
  /** What happens, with its words. */
  readonly happenings: readonly { readonly ms: number; readonly words: string }[];
  /** The last moment of the typical run that shows. */
  readonly endMs: number;
  readonly problems: readonly string[];
}

/** A line of a table at a moment. */
export interface LineThenView {
  readonly prefix: string;
  readonly now: string;
  readonly before: string;
  readonly moved: boolean;
}

export interface HeldThenView {
  readonly area: string;
  readonly type: number;
  readonly words: string;
  readonly state: 'as before' | 'new' | 'newer' | 'withdrawn';
  readonly since: number | null;
}

/** What led to a moment. */
export interface Story {
  readonly lines: readonly { readonly ms: number; readonly words: string; readonly why: string | null }[];
  /** Told by nobody: what was before these lines. */
  readonly earlier: number;
}

/** The network at a moment of the typical run. */
export interface MomentView {
  readonly ms: number;
  readonly off: readonly string[];
  /** Pairs that one side or both have lost, as `router/iface~router/iface`, either side first. */
  readonly apart: readonly string[];
  readonly pairs: readonly {
    readonly router: string;
    readonly iface: string;
    readonly peer: string;
    readonly before: string;
    readonly state: string;
  }[];
  readonly flows: readonly (Omit<FlowSpan, 'fromMs' | 'toMs'> & { readonly lines: readonly string[] })[];
  readonly story: Story;
  /** Of the router that is looked at; `null`: it is off, or none is. */
  readonly table: readonly LineThenView[] | null;
  readonly database: readonly HeldThenView[] | null;
}

/** What is tried instead of the configured timers. */
export interface TuneCall {
  /** On the wires that fail, everywhere, or on one router's interfaces. */
  readonly where: 'around' | 'all' | { readonly router: string };
  readonly hello?: number | undefined;
  readonly dead?: number | undefined;
  readonly bfd?: { readonly interval: number; readonly multiplier: number } | 'off' | undefined;
  readonly carrierSeen?: boolean | undefined;
  readonly spf?: SpfSchedule | undefined;
  /** Share of packets that get lost, for the risk of a false alarm. */
  readonly loss: number;
}

export interface WatchView {
  readonly packets: number;
  readonly onBusiest: number;
  readonly busiest: string;
  readonly falseAlarms: number;
  readonly patience: number | null;
  readonly patienceAt: string;
}

/** What a tuning comes to, beside what is. */
export interface TuneView {
  readonly lines: readonly string[];
  /** The same as one change of the documents. */
  readonly edits: readonly Edit[];
  readonly faults: readonly string[];
  /** Why it cannot be taken over: neighbours that would part. */
  readonly parting: readonly { readonly a: string; readonly b: string; readonly why: string }[];
  readonly was: WatchView;
  readonly would: WatchView;
  /** Over its runs; `null`: no table changes, or it is refused. */
  readonly lastChange: Spread | null;
  readonly slowest: string | null;
  /** Typical last change by router. */
  readonly routers: Readonly<Record<string, number>>;
  readonly orders: readonly {
    readonly from: string;
    readonly places: number;
    readonly steps: readonly { readonly to: string; readonly withinS: number }[];
    readonly withinS: number;
  }[];
  readonly done: boolean;
}

/** What holds now where a tuning would change it: ranges where ends differ. */
export interface TunableView {
  readonly ends: number;
  readonly hello: readonly number[];
  readonly dead: readonly number[];
  readonly bfd: readonly string[];
  readonly carrierUnseen: number;
  readonly cables: number;
  readonly spf: readonly string[];
}

/** One failure, timed. */
export interface TimedView {
  readonly word: string;
  readonly lastChange: Spread | null;
  readonly slowest: string | null;
  readonly lastRouter: string | null;
}
