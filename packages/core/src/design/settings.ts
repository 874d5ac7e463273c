import type { AreaKind, NeighborState, RouteType } from './terms';
import { isSix, type Address, type Prefix } from '../prefix/address';
import type { Defaults } from './defaults';
import type { DocumentPath } from '../documents/document-path';

/** Where something stands among the settings: file and path in its document. */
interface Placed {
  readonly file: string;
  readonly at: DocumentPath;
}

/** Defaults of devices that behave alike, and the routers that follow them: host names, `*` for any part of one. */
export interface Profile extends Placed {
  readonly name: string;
  readonly routers: readonly string[];
  readonly defaults: Defaults;
}

/** Routers meant to be alike: compared in everything but their identity. */
export interface AlikeGroup extends Placed {
  readonly name: string;
  readonly routers: readonly string[];
}

/** Which failures an expectation must outlive: none, every single one of a kind, or one that is named (`link:kelp-1/fibre`). */
export const circumstances = ['normal', 'any-link', 'any-router', 'any-group'] as const;
export const failureKinds = ['link', 'interface', 'lan', 'leader', 'router', 'group'] as const;
export type Circumstance = (typeof circumstances)[number] | `${(typeof failureKinds)[number]}:${string}`;

/** Who belongs to a group: an address, the subnets in a prefix, routers by name with `*`, the routers of an area. */
export type GroupMember =
  | { readonly kind: 'address'; readonly address: Address }
  | { readonly kind: 'prefix'; readonly prefix: Prefix }
  | { readonly kind: 'routers'; readonly pattern: string }
  | { readonly kind: 'area'; readonly area: number };

/** Addresses that go by one name in expectations and matrices. */
export interface AddressGroup extends Placed {
  readonly name: string;
  readonly members: readonly GroupMember[];
}

/** One end of what is expected: an address, or the name of a group or of a router, which stands for its loopbacks. */
export type End = Address | string;

interface Expected extends Placed {
  readonly name: string;
  readonly under: Circumstance;
  /** The family that it is about, where neither an address nor a prefix says so; without it each that its routers run. */
  readonly family?: 4 | 6;
}

/** What the designer states should be true. */
export type Expectation = Expected &
  (
    | {
        readonly kind: 'reach' | 'no-reach';
        readonly from: End;
        readonly to: End;
        readonly bothWays: boolean;
        /** Longest time without service after a failure, in ms. */
        readonly withinMs: number | undefined;
        /** Where the packets are to leave the design, by one exit on every way. */
        readonly leavesBy: { readonly router: string; readonly iface: string } | undefined;
      }
    | {
        readonly kind: 'path';
        readonly from: End;
        readonly to: End;
        /** Host names: every way leads over each of the first, and over none of the second. */
        readonly through: readonly string[];
        readonly avoids: readonly string[];
        readonly atMostHops: number | undefined;
        readonly atMostCost: number | undefined;
        /** The answer takes the same routers. */
        readonly symmetric: boolean;
      }
    | { readonly kind: 'table'; readonly router: string; readonly atMost: number }
    | { readonly kind: 'area'; readonly area: number; readonly type: AreaKind }
    | { readonly kind: 'session'; readonly from: string; readonly to: string; readonly withinMs: number | undefined }
    | { readonly kind: 'leader'; readonly router: string; readonly iface: string; readonly role: 'dr' | 'bdr' }
    | { readonly kind: 'no-external'; readonly area: number }
    | { readonly kind: 'summary'; readonly prefix: Prefix }
    | { readonly kind: 'neighbours'; readonly router: string; readonly count: number; readonly state: NeighborState }
    | { readonly kind: 'advertisements'; readonly area: number; readonly type: number; readonly atMost: number }
    | {
        readonly kind: 'route';
        readonly router: string;
        readonly prefix: Prefix;
        readonly present: boolean;
        readonly via: string | undefined;
        readonly routeType: RouteType | undefined;
      }
  );

/** The family that the addresses or the prefix of an expectation are of, or that it names; `undefined`: it speaks of names. */
export function familyNamed(e: Expectation): 4 | 6 | undefined {
  if (e.kind === 'reach' || e.kind === 'no-reach' || e.kind === 'path') {
    const address = [e.from, e.to].find((x) => typeof x === 'number');
    return address === undefined ? e.family : isSix(address) ? 6 : 4;
  }
  if (e.kind === 'summary' || e.kind === 'route') return isSix(e.prefix.bits) ? 6 : 4;
  return e.family;
}

/** Failures under one name, to be tried again on every later version of the design. */
export interface Scenario extends Placed {
  readonly name: string;
  /** As they are typed, in their order. */
  readonly fail: readonly string[];
  readonly note: string;
}

/** Traffic that the design is to carry from one end to another. */
export interface Demand extends Placed {
  readonly from: End;
  readonly to: End;
  /** Mbit/s, of all addresses of the ends together. */
  readonly mbps: number;
}

/** A finding that was looked at and taken as it is, while its evidence stays what it was. */
export interface Acceptance {
  /** The finding's id. */
  readonly finding: string;
  /** Digest of the evidence that was accepted. */
  readonly evidence: string;
  readonly note: string;
}

/** What subnets are taken for. */
export const poolPurposes = ['loopbacks', 'links', 'lans'] as const;
export type PoolPurpose = (typeof poolPurposes)[number];

/** A block that subnets of one purpose are taken from, in one area or, without one, everywhere. */
export interface Pool extends Placed {
  readonly purpose: PoolPurpose;
  /** Of either family. */
  readonly prefix: Prefix;
  readonly area: number | undefined;
}

/** Where something stands on the map by hand: units of the chart, from the middle of the backbone to the right and down. */
export interface MapPlace {
  /** A router's host name, or `area` and its id for the plate of an area that is folded. */
  readonly name: string;
  readonly x: number;
  readonly y: number;
  /** Places of a map with areas folded are others than those of the whole map. */
  readonly folded: boolean;
}

/** What a design holds beside its router documents and topology. */
export interface Settings {
  readonly profiles: readonly Profile[];
  readonly alike: readonly AlikeGroup[];
  readonly groups: readonly AddressGroup[];
  readonly expectations: readonly Expectation[];
  readonly accepted: readonly Acceptance[];
  readonly pools: readonly Pool[];
  readonly places: readonly MapPlace[];
  readonly scenarios: readonly Scenario[];
  readonly demands: readonly Demand[];
  /** Moment at which key lifetimes are judged, in ms since 1970; `undefined`: that of the reading. */
  readonly now: number | undefined;
}

export const noSettings: Settings = {
  profiles: [],
  alike: [],
  groups: [],
  expectations: [],
  accepted: [],
  pools: [],
  places: [],
  scenarios: [],
  demands: [],
  now: undefined,
};

/** True when a name, of a router or an interface, fits one with `*` in it. */
export const nameFits = (pattern: string, name: string): boolean => (pattern.includes('*') ? patternOf(pattern).test(name) : pattern === name);

const patternOf = (pattern: string): RegExp => new RegExp(`^${pattern.replace(/[.+?^${}()|[\]\\]/g, '\\$&').replaceAll('*', '.*')}$`);
