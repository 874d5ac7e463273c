import type { Speaker } from '../adjacency/speakers';
import { formatAddress, formatPrefix, holds, type Address, type Prefix } from '../prefix/address';
import type { Prediction } from '../predict';
import { hostOf } from '../reach/ends';
import { Forwarding } from '../reach/forwarding';
import { walk } from '../reach/trace';
import type { ForeignPrefix } from './planner';

/** The way of one packet, in words. */
export interface ExampleWay {
  readonly from: string;
  readonly to: string;
  /** Routers on the way. */
  readonly through: readonly string[];
  /** The route that the first of them takes. */
  readonly route: string;
  readonly fate: string;
  readonly reason: string;
}

/** The way of a packet from a router to an address; of equal ways the first that is not delivered, else the first. */
export function exampleWay(p: Prediction, from: string, to: Address): ExampleWay | undefined {
  const start = p.routerIndex(from);
  if (start < 0) return undefined;
  const { branches } = walk(new Forwarding(p), [start], to);
  const branch = branches.find((b) => b.fate !== 'delivered') ?? branches[0];
  if (!branch) return undefined;
  return {
    from,
    to: formatAddress(to),
    through: branch.hops.map((h) => h.router),
    route: branch.hops[0]?.route ?? '',
    fate: branch.fate,
    reason: branch.reason,
  };
}

/** A router from which a way to a prefix is worth showing: one that stands in none of some areas, of the backbone before others, at no border; never one that has it. */
export function onlooker(p: Prediction, to: Prefix, notIn: readonly number[]): string | undefined {
  const speakers = p.adjacencies.speakers.filter((s) => !s.router.interfaces.some((i) => i.addresses.some((a) => holds(to, a.bits))));
  const outside = speakers.filter((s) => !p.routing.areasOf(s).some((a) => notIn.includes(a)));
  const inside = (s: Speaker): boolean => !p.routing.isBorderRouter(s);
  const found = outside.find(inside) ?? outside[0] ?? speakers.find(inside) ?? speakers[0];
  return found?.router.name;
}

/** What a summary does to foreign space that it claims. */
export interface Claim {
  readonly prefix: string;
  readonly area: number | null;
  readonly before: ExampleWay | undefined;
  readonly after: ExampleWay | undefined;
}

/** The first foreign prefix that summaries claim, and a packet to it without and with them. */
export function claimExample(p: Prediction, after: Prediction, own: number | undefined, foreign: readonly ForeignPrefix[]): Claim | undefined {
  const [first] = foreign;
  if (!first) return undefined;
  const areas = [own, first.area].flatMap((a) => a ?? []);
  const from = onlooker(p, first.prefix, areas);
  const to = hostOf(first.prefix);
  const way = (x: Prediction): ExampleWay | undefined => (from === undefined ? undefined : exampleWay(x, from, to));
  return { prefix: formatPrefix(first.prefix), area: first.area, before: way(p), after: way(after) };
}
