import type { AlikeProposal } from '@gentle-compass/core/findings/checks/alike';
import type { Edit } from '@gentle-compass/core/design/edit';
import type { CostRow, ReferenceUse } from '@gentle-compass/core/neighbours/costs';
import type { Rung, Stand, Wish, WishTrial } from '@gentle-compass/core/neighbours/election-play';
import type { KeyChange, KeyTimes } from '@gentle-compass/core/neighbours/key-times';

/** A segment that elects who leads it. */
export interface ElectingView {
  readonly segment: number;
  /** Its subnet, else its interfaces. */
  readonly name: string;
  readonly area: string;
  readonly type: string;
  readonly routers: number;
  /** Host names; empty: nobody. */
  readonly dr: string;
  readonly bdr: string;
  /** Leaders that are expected there, by name of the expectation. */
  readonly wishes: readonly (Wish & { readonly name: string; readonly iface: string })[];
  /** What stands in the way, or could be simpler, in a word or two. */
  readonly notes: readonly string[];
}

/** One segment in depth: the ladder, and how it rests where all start together. */
export interface LadderView {
  readonly segment: number;
  readonly rungs: readonly Rung[];
  readonly together: Stand;
  /** Of a non-broadcast network: each pair, whether the topology gives it a circuit, and who lists whom as a static neighbour. */
  readonly circuits: readonly {
    readonly a: string;
    readonly b: string;
    readonly there: boolean;
    readonly aLists: boolean;
    readonly bLists: boolean;
    readonly aState: string;
    readonly bState: string;
  }[];
  readonly wishes: readonly {
    readonly name: string;
    readonly wish: Wish;
    readonly trial: WishTrial;
    /** Priorities with which no order of start breaks it; empty: there are none, or it is certain already. */
    readonly certain: readonly { readonly router: string; readonly iface: string; readonly priority: number }[];
    /** One change of all of them; with what is lost by it. */
    readonly edits: readonly Edit[];
    readonly price: string;
  }[];
}

/** What a change of leaders does to the rest of the network. */
export interface LedChange {
  readonly stands: readonly Stand[];
  /** Against the network as it is now; `undefined`: nobody asked, or nothing was played. */
  readonly effect:
    | {
        readonly lost: number;
        readonly gained: number;
        readonly changed: number;
        readonly routers: readonly string[];
        /** Who advertises the segment, before and after; empty: nobody. */
        readonly advertisedBy: readonly [before: string, after: string];
        readonly full: readonly [before: number, after: number];
      }
    | undefined;
}

/** A pair of which one end at least proves itself. */
export interface ProvingView {
  readonly pair: string;
  readonly a: { readonly router: string; readonly iface: string; readonly words: string; readonly chain: string };
  readonly b: { readonly router: string; readonly iface: string; readonly words: string; readonly chain: string };
  readonly together: boolean;
  /** ms since 1970. */
  readonly partsAt: number | undefined;
  /** Why they are apart, with both sides, never the key. */
  readonly why: string;
}

/** A pair's keys on the time axis. */
export interface KeysView extends KeyTimes {
  readonly pair: string;
  /** The moment that counts as now, ms since 1970. */
  readonly now: number;
  readonly freeId: number;
  /** Ids of keys whose text is known and can be shown on request. */
  readonly revealable: { readonly a: readonly number[]; readonly b: readonly number[] };
  /** Other interfaces of each end's router that use the same chain. */
  readonly shared: { readonly a: readonly string[]; readonly b: readonly string[] };
}

/** A rehearsed change of key. */
export interface RehearsalView extends KeyChange {
  /** The edits of each end, where its chain can be written; in the order of the steps. */
  readonly edits: readonly { readonly title: string; readonly edits: readonly Edit[] }[];
}

export interface AlikeGroupView {
  readonly name: string;
  readonly routers: readonly string[];
  readonly rows: readonly {
    readonly what: string;
    readonly values: readonly string[];
    readonly odd: readonly number[];
    readonly repairs: readonly { readonly title: string; readonly edits: readonly Edit[] }[];
  }[];
}
export interface AlikeView {
  readonly groups: readonly AlikeGroupView[];
  readonly proposals: readonly AlikeProposal[];
}

export interface CostsView {
  readonly rows: readonly CostRow[];
  readonly references: readonly ReferenceUse[];
}
