import type { Port, Speaker } from '../adjacency/speakers';
import type { Prediction } from '../predict';

/** A port on which a route to a neighbour's own address may resolve through itself: such lines are left out of the own table. */
const resolvesItself = (p: Prediction, x: Port): boolean =>
  x.up && (x.type === 'point-to-multipoint' || x.type === 'hybrid' || (x.segment >= 0 && (p.segments.list[x.segment]?.subnets.length ?? 1) > 1));

/**
 * Whether a router's own table is what OSPF computed, with routes of its own in front that always win and hang on nothing
 * else: then it changes only where one of the two does.
 */
export function isOspfAndOwn(p: Prediction, s: Speaker): boolean {
  const { instance } = s;
  if (instance.ribPolicy.length + instance.externalRanges.length > 0 || s.ports.some((x) => resolvesItself(p, x))) return false;
  const ospf = Math.min(instance.preference.intra, instance.preference.inter, instance.preference.external);
  return !p.localRoutes(s.routerIndex).some((r) => r.recursive || r.handedBy || r.preference >= ospf);
}
