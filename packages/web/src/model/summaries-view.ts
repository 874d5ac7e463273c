import type { Edit } from '@gentle-compass/core/design/edit';
import type { SummaryEffect } from '@gentle-compass/core/summaries/effect';
import type { Claim, ExampleWay } from '@gentle-compass/core/summaries/example-way';
import type { Heard, HeardOf, Told } from '@gentle-compass/core/summaries/flaps';

/** A summary as it is laid, as text. */
export interface LaidText {
  readonly prefix: string;
  /** Fixed; `undefined`: it follows its parts. */
  readonly cost: number | undefined;
  readonly hidden: boolean;
}

/** What the planner is told beforehand. */
export interface WishesText {
  /** Single addresses are parts too; else they need no summary. */
  readonly loopbacks: boolean;
  readonly leaveOut: readonly string[];
  readonly reserve: readonly string[];
}

/** What can be summarised. */
export interface SummaryScopes {
  readonly areas: readonly { readonly area: number; readonly parts: number; readonly writers: readonly string[] }[];
  /** Boundary routers and translators. */
  readonly routers: readonly { readonly router: string; readonly announced: number }[];
}

/** A prefix and who has it. */
export interface Placed {
  readonly prefix: string;
  readonly place: string;
}

/** The address space of a scope. */
export interface SpaceView {
  readonly parts: readonly Placed[];
  /** Left out by choice. */
  readonly left: readonly Placed[];
  readonly foreign: readonly (Placed & { readonly area: number | null })[];
  /** Summaries of other areas. */
  readonly others: readonly { readonly prefix: string; readonly area: number }[];
  readonly supernets: readonly string[];
  readonly writers: readonly { readonly router: string; readonly laid: readonly LaidText[] }[];
  readonly stands: readonly LaidText[];
  readonly agree: boolean;
  /** What was typed and is no prefix of the family. */
  readonly wrong: readonly string[];
}

/** What the planner proposes, the best first. */
export interface PlanView {
  readonly parts: number;
  /** Of these, outside the design's pools: no summary may reach there. */
  readonly beyond: number;
  readonly milliseconds: number;
  readonly choices: readonly {
    readonly summaries: readonly string[];
    readonly outside: readonly string[];
    readonly foreign: readonly { readonly prefix: string; readonly area: number | null }[];
    readonly claimed: bigint;
    readonly needed: bigint;
  }[];
}

/** What proposals would do, in their order: what they save, and of how many failures inside the others hear. */
export interface WeighedView {
  /** `undefined` where nobody could write them. */
  readonly effects: readonly (SummaryEffect | undefined)[];
  readonly heard: HeardOf;
}

/** What summaries that are laid would do. */
export interface SummaryTrialView {
  readonly lines: readonly string[];
  readonly edits: readonly Edit[];
  readonly faults: readonly string[];
  readonly effect: SummaryEffect | undefined;
  readonly claim: Claim | undefined;
}

/** What a summary hides of failures. */
export interface FlapsView {
  readonly tried: number;
  readonly list: readonly {
    readonly failure: string;
    /** The same in everyday words. */
    readonly words: string;
    readonly lost: readonly string[];
    readonly moved: readonly string[];
    readonly alone: Heard;
    readonly following: Heard;
    readonly fixed: Heard;
    readonly told: readonly Told[];
  }[];
}

/** A packet that a discard route takes. */
export interface DiscardView {
  readonly area: number;
  readonly summary: string;
  readonly way: ExampleWay;
}

/** A way that a summary makes longer. */
export interface DetourView {
  readonly area: number;
  readonly summary: string;
  readonly from: string;
  readonly to: string;
  /** An address in it. */
  readonly host: string;
  readonly cost: number;
  readonly through: string;
  readonly shortest: number;
  readonly better: string;
  readonly always: boolean;
}
