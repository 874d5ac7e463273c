import { designOf } from '../design/family';
import { predict, type Prediction } from '../predict';

/** A segment by itself: the routers that stand on it with all that they have, and nobody else. */
export interface Alone {
  readonly prediction: Prediction;
  /** Index of the segment in there. */
  readonly segment: number;
}

/**
 * The network of the routers on one segment alone, nothing failed: small, so that what happens there can be played through
 * many times. Neighbours on the segment are as in the whole network but for its failures.
 *
 * @returns  `undefined` where no two routers in OSPF share the segment
 */
export function aloneOn(p: Prediction, segment: number): Alone | undefined {
  const members = p.segments.list[segment]?.members ?? [];
  const there = new Set(members.map((m) => m.router));
  const first = members[0];
  const whole = designOf(p.design);
  const name = first && whole.routers[first.router]?.name;
  const iface = first && whole.routers[first.router]?.interfaces[first.iface]?.name;
  if (there.size < 2 || name === undefined || iface === undefined) return undefined;
  const routers = whole.routers.filter((_, i) => there.has(i));
  const names = new Set(routers.map((r) => r.name));
  const outside = new Set(whole.routers.flatMap((r) => (names.has(r.name) ? [] : [r.name])));
  const topology = {
    ...whole.topology,
    links: whole.topology.links.filter((l) => !outside.has(l.from.node) && !outside.has(l.to.node)),
    riskGroups: [],
  };
  const prediction = predict({ ...whole, routers, topology }, [], p.family === 6 ? { family: 6 } : {});
  const router = prediction.routerIndex(name);
  const at = routers[router]?.interfaces.findIndex((i) => i.name === iface) ?? -1;
  const found = prediction.segments.at(router, at);
  return found < 0 ? undefined : { prediction, segment: found };
}
