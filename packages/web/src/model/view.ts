import type { FacingValue } from '@gentle-compass/core/evidence/neighbor-words';
import type { EvidenceStep } from '@gentle-compass/core/evidence/route-evidence';
import type { Edit } from '@gentle-compass/core/design/edit';
import type { Family } from '@gentle-compass/core/design/family';
import type { MapPlace } from '@gentle-compass/core/design/settings';
import type { Finding } from '@gentle-compass/core/findings/finding';
import type { ExpectationResult } from '@gentle-compass/core/reach/expectations';
import type { FloodingReach } from '@gentle-compass/core/areas/flooding';
import type { Circle, NssaTranslators, OutsidePrefix, StubBorder } from '@gentle-compass/core/areas/from-outside';
import type { LsaField } from '@gentle-compass/core/areas/lsa-detail';
import type { AreaPlan } from '@gentle-compass/core/blueprint/plan';
import type { BlueprintFault } from '@gentle-compass/core/blueprint/blueprint';
import type { Kept } from '@gentle-compass/core/blueprint/merge';
import type { LineChange } from '@gentle-compass/core/compare/document-changes';
import type { EntryReading, OtherLine } from '@gentle-compass/core/entry/entry';
import type { RouterIdChange } from '@gentle-compass/core/compare/leading';
import type { ReadProblem } from '@gentle-compass/core/documents/cursor';
import type { MapLayout } from '../map/layout-input';

/** What the page shows of a design: plain values that pass between worker and page. */
export interface DesignView {
  readonly name: string;
  /** The family that is looked at, and those that the design speaks. */
  readonly family: Family;
  readonly families: readonly Family[];
  readonly routers: readonly RouterView[];
  readonly segments: readonly SegmentView[];
  readonly pairs: readonly PairView[];
  readonly areas: readonly AreaView[];
  readonly findings: readonly Finding[];
  readonly expectations: readonly ExpectationView[];
  /** The map of the whole campus; `null` of a large one, whose areas are folded at first: it is made when it is asked for. */
  readonly layout: MapLayout | null;
  /** What fails together, one duct, one power feed, one line card: its members as they are written, and as failures. */
  readonly risks: readonly { readonly name: string; readonly members: readonly string[]; readonly words: readonly string[] }[];
  /** Failures that are kept under a name. */
  readonly scenarios: readonly { readonly name: string; readonly fail: readonly string[]; readonly note: string }[];
  /** What was placed on the map by hand. */
  readonly places: readonly MapPlace[];
  /** In all tables together; `null` in a large design, where tables are made when they are looked at. */
  readonly routeCount: number | null;
  /** Milliseconds that reading and predicting took, for the bench page and the curious. */
  readonly milliseconds: number;
}

/** What became of an expectation. */
export interface ExpectationView extends Pick<ExpectationResult, 'name' | 'under' | 'holds' | 'message'> {
  /** The failures that it must outlive are still to be tried. */
  readonly untried: boolean;
}

export interface InterfaceView {
  readonly name: string;
  readonly kind: 'loopback' | 'ethernet' | 'other';
  readonly addresses: readonly string[];
  readonly area: string | null;
  /** State of RFC 2328 §9.1, or `not in OSPF`. */
  readonly state: string;
  readonly cost: number | null;
  readonly costFrom: string;
  readonly segment: number;
}
export interface RouterView {
  readonly name: string;
  readonly file: string;
  readonly routerId: string | null;
  readonly routerIdFrom: string;
  /** Name of the profile of defaults that it follows. */
  readonly profile: string | null;
  readonly areas: readonly string[];
  readonly border: boolean;
  readonly boundary: boolean;
  readonly interfaces: readonly InterfaceView[];
  /** In its own table; `null` while that has not been made. */
  readonly routes: number | null;
}
export interface SegmentView {
  readonly index: number;
  readonly kind: 'cable' | 'lan';
  readonly subnets: readonly string[];
  readonly area: string | null;
  readonly members: readonly {
    readonly router: string;
    readonly iface: string;
    readonly address: string;
    readonly cost: number | null;
    readonly leads: 'DR' | 'BDR' | '';
  }[];
  /** Failure word that takes the cable or LAN down. */
  readonly fail: string;
}
export interface PairSide {
  readonly router: string;
  readonly iface: string;
  readonly address: string;
  readonly state: string;
  readonly words: string;
  readonly cost: number;
}
export interface PairView {
  readonly id: string;
  readonly segment: number;
  readonly area: string;
  readonly type: string;
  readonly a: PairSide;
  readonly b: PairSide;
  readonly word: string;
  readonly kind: 'full' | 'rests' | 'trouble' | 'down';
  /** Parameters side by side; `null` in a large design, where they are asked for when somebody looks at them. */
  readonly values: readonly FacingValue[] | null;
  readonly finding: string | null;
}
export interface AreaView {
  readonly id: string;
  /** What its routers call it; empty: nothing. */
  readonly name: string;
  readonly type: string;
  readonly prefix: string;
  readonly routers: readonly string[];
}

export interface RouteRow {
  /** Place in the order of prefixes. */
  readonly key: number;
  readonly prefix: string;
  readonly type: string;
  readonly metric: number | null;
  readonly hops: readonly { readonly iface: string; readonly address: string; readonly router: string }[];
  readonly area: string;
  /** What became of it against the state before; empty when nothing is compared. */
  readonly change: '' | 'lost' | 'gained' | 'changed';
  readonly before: string;
  /** Many lines became one, or one many: what this line has to do with it. */
  readonly folded: string;
}

/** What an edit changed in the prediction, in numbers. */
export interface ChangeSummary {
  readonly neighborsGained: number;
  readonly neighborsLost: number;
  readonly gained: number;
  readonly lost: number;
  readonly changed: number;
  readonly routers: number;
  /** Findings that went, and that came. */
  readonly findingsGone: number;
  readonly findingsNew: number;
  /** Segments on which others lead, and routers with another id; left out by changes that were noted before this was looked at. */
  readonly elections?: readonly ElectionView[];
  readonly routerIds?: readonly RouterIdChange[];
  /** What was found before and followed from something that is mended now. */
  readonly wentWith?: readonly string[];
  /** The same while something is down that was taken down before. */
  readonly whileDown?: WhileDown;
}

/** What a change does to the network in which something is down. */
export interface WhileDown {
  readonly fail: readonly string[];
  readonly gained: number;
  readonly lost: number;
  readonly changed: number;
  /** Ordered pairs of loopbacks that do not arrive, before the change and after it. */
  readonly cut: readonly [number, number];
  /** Expectations that do not hold. */
  readonly broken: readonly [number, number];
}

/** Who leads a segment, before and after, in words. */
export interface ElectionView {
  /** Index of the segment; -1 where it is gone. */
  readonly segment: number;
  readonly name: string;
  readonly before: string;
  readonly after: string;
}

export interface FailureView {
  readonly fail: readonly string[];
  readonly problems: readonly string[];
  readonly neighborsLost: readonly {
    readonly router: string;
    readonly iface: string;
    readonly peer: string;
    readonly before: string;
    readonly after: string;
  }[];
  readonly routers: readonly {
    readonly router: string;
    readonly gone: boolean;
    readonly lost: number;
    readonly gained: number;
    readonly changed: number;
    readonly unreachable: number;
  }[];
  readonly lost: number;
  readonly gained: number;
  readonly changed: number;
  readonly unreachable: number;
  /** Prefixes that some router cannot reach any more, with those routers; most lonely first. */
  readonly unreachablePrefixes: readonly { readonly prefix: string; readonly routers: readonly string[] }[];
  /** Prefixes that nobody reaches any more: they went down with what failed. */
  readonly vanished: readonly string[];
  /** Pairs that are down now and were not before. */
  readonly downPairs: readonly string[];
  readonly goneRouters: readonly string[];
  readonly elections: readonly ElectionView[];
  /** Expectations that do not hold while this is down, and why. */
  readonly broken: readonly Pick<ExpectationResult, 'name' | 'message'>[];
  readonly milliseconds: number;
  /** A first answer: what cannot be reached any more is still being counted. */
  readonly unfinished?: boolean;
}

/** What a failure would change, while it is only pointed at. */
export interface Glimpse {
  /** What would fail. */
  readonly words: readonly string[];
  /** Routers with another table. */
  readonly routers: number;
  readonly lost: number;
  readonly changed: number;
  readonly milliseconds: number;
}
/** What every single link failure does: failure `words[i]` stands at place `i` of each list. */
export interface EveryCut {
  readonly words: readonly string[];
  /** Routers with at least one other route; routes lost, and other ones, in all tables. */
  readonly routers: Int32Array;
  readonly lost: Int32Array;
  readonly changed: Int32Array;
}

export interface EvidenceView {
  readonly router: string;
  readonly prefix: string;
  readonly steps: readonly EvidenceStep[];
  /** The lines of the router document that an advertisement stands on, by step. */
  readonly lines: readonly { readonly router: string; readonly file: string; readonly text: string; readonly line: number }[];
}

export interface ImportOutcome {
  readonly problems: readonly ReadProblem[];
  readonly notUsed: readonly string[];
  readonly routers: number;
  /** Absent when nothing could be read: the open design stays. */
  readonly design?: StoredDocuments;
}
export interface StoredDocuments {
  readonly name: string;
  readonly documents: readonly { readonly file: string; readonly tree: Record<string, unknown> }[];
}

/** One step of the history: edits that were made together, and their words. */
export interface HistoryStep {
  readonly title: string;
  readonly edits: readonly Edit[];
  /** What it changed in the prediction, once that is known. */
  readonly effect?: ChangeSummary;
  /** When it was made, in milliseconds since 1970; steps of older designs do not say. */
  readonly made?: number;
}

/** "Now" against what it is compared with. */
export interface ComparisonView {
  readonly lines: readonly LineChange[];
  readonly neighbors: readonly {
    readonly router: string;
    readonly iface: string;
    readonly peer: string;
    readonly before: string;
    readonly after: string;
  }[];
  readonly elections: readonly ElectionView[];
  readonly routerIds: readonly RouterIdChange[];
  readonly areas: readonly { readonly id: string; readonly before: string; readonly after: string }[];
  readonly routers: readonly {
    readonly router: string;
    readonly gone: boolean;
    readonly lost: number;
    readonly gained: number;
    readonly changed: number;
    /** Of what is lost: what a summary stands for since. */
    readonly folded: number;
  }[];
  readonly lost: number;
  readonly gained: number;
  readonly changed: number;
  readonly findingsGone: readonly string[];
  readonly findingsNew: readonly string[];
}

/** What edits would change, with the findings that they would bring. */
export interface Trial extends ChangeSummary {
  readonly found: readonly Finding[];
}

/** A value typed or pasted into a cell of a table. */
export interface TypedCell {
  readonly key: string;
  readonly column: string;
  readonly value: string;
  /** Line and column of what was pasted, from 1. */
  readonly at?: { readonly row: number; readonly column: number };
}

/** What typed cells would do together. */
export interface CellsView {
  readonly title: string;
  readonly notes: readonly string[];
  readonly edits: readonly Edit[];
  readonly faults: readonly {
    /** The row and column that it is about. */
    readonly what: string;
    readonly at: TypedCell['at'];
    readonly message: string;
    readonly instead: readonly OtherLine[];
  }[];
}

/** A line of quick entry as the page shows it: what it would do, or why not, and how it goes on. */
export type EntryView = Omit<EntryReading, 'plan'> & {
  readonly plan?: {
    readonly title: string;
    readonly notes: readonly string[];
    readonly edits: readonly Edit[];
    readonly lines: readonly LineChange[];
    /** What is to go down, where the line is about that alone. */
    readonly down?: readonly string[];
  };
};

/** An advertisement as a line of a database. */
export interface AdvertisementRow {
  readonly key: string;
  /** `3`, `0x2003`, and its name. */
  readonly type: string;
  readonly name: string;
  /** `null`: it floods everywhere. */
  readonly area: number | null;
  readonly router: string;
  readonly id: string;
  readonly says: string;
  /** Prefixes that it brings or describes, for narrowing. */
  readonly prefixes: string;
  readonly metric: number | null;
  /** Beside another router: who holds it, and why the other does not. */
  readonly by?: 'both' | 'first' | 'second';
  readonly why?: string;
}

/** An advertisement unfolded. */
export interface AdvertisementView {
  readonly key: string;
  readonly type: string;
  readonly name: string;
  readonly area: number | null;
  readonly router: string;
  readonly says: string;
  readonly fields: readonly LsaField[];
  readonly lines: EvidenceView['lines'];
  readonly reach: FloodingReach;
  /** Prefixes of the chosen router's routes that stand on it. */
  readonly routes: readonly string[];
}

/** What enters from outside. */
export interface OutsideView {
  readonly prefixes: readonly OutsidePrefix[];
  readonly translators: readonly NssaTranslators[];
  readonly borders: readonly StubBorder[];
  /** Routers that are asked to bring something in. */
  readonly importing: readonly string[];
  /** Routers that bring in what goes nowhere. */
  readonly silenced: readonly string[];
  readonly circles: readonly Circle[];
}

/** A document as text, with the lines that findings point at. */
export interface DocumentView {
  readonly file: string;
  readonly text: string;
  readonly marks: readonly { readonly line: number; readonly severity: string; readonly message: string; readonly finding: string }[];
}

/** A document's text as it was typed: what stands in its way, or what it would change. */
export interface TypedDocument {
  readonly problems: readonly ReadProblem[];
  readonly edits: readonly Edit[];
}

/** A blueprint as it was typed: what it would lay out and change, or what does not fit. */
export interface BlueprintView {
  readonly faults: readonly BlueprintFault[];
  readonly areas: readonly (Omit<AreaPlan, 'prefix' | 'parts' | 'six'> & {
    readonly prefix: string;
    /** Its block of the site’s IPv6 prefix, where there is one. */
    readonly six?: string;
    /** Share of the block that is used, in percent. */
    readonly full: number;
    readonly parts: readonly { readonly purpose: string; readonly prefix: string; readonly used: number; readonly left: number }[];
  })[];
  readonly title: string;
  /** Routers that come, go, and change. */
  readonly come: readonly string[];
  readonly go: readonly string[];
  readonly change: readonly string[];
  readonly kept: readonly Kept[];
  readonly edits: readonly Edit[];
}
