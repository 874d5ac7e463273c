import type { Design } from '../design/design';
import type { FailureSpec, PlainFailure } from '../failures/outage';
import type { Segments } from '../segments/segments';
import type { Adjacencies } from './settle';

/** A network at rest, as far as it takes to say who leads a segment. */
interface Settled {
  readonly design: Design;
  readonly segments: Segments;
  readonly adjacencies: Adjacencies;
}

/** Why a leader cannot fail, in words. */
export const nobodyLeads = ({ router, iface }: { readonly router: string; readonly iface: string }): string =>
  `Nobody leads the segment of ${router}/${iface}: it has no designated router.`;

/**
 * The failure that a failure of a leader stands for: that of the router which is designated router of the segment now
 * (RFC 2328 §9.4). Every other failure stands for itself. Where nobody leads, a text says so.
 */
export function leaderNamed({ design, segments, adjacencies }: Settled, spec: FailureSpec): PlainFailure | string {
  if (spec.kind !== 'leader') return spec;
  const router = design.routers.findIndex((r) => r.name === spec.router);
  if (router < 0) return `There is no router "${spec.router}".`;
  const iface = design.routers[router]?.interfaces.findIndex((i) => i.name === spec.iface) ?? -1;
  if (iface < 0) return `Router ${spec.router} has no interface "${spec.iface}".`;
  const segment = segments.of[router]?.[iface] ?? -1;
  const there = adjacencies.ports.filter((p) => p.segment === segment && segment >= 0);
  // The router that is named says best whom it takes for the leader; one that is down says nothing.
  const asked = [...there.filter((p) => p.routerIndex === router), ...there];
  for (const port of asked) {
    const { dr } = adjacencies.leaders[port.index] ?? { dr: 0 };
    const leader = port.up && dr !== 0 ? there.find((p) => p.routerId === dr && p.up) : undefined;
    if (leader) return { kind: 'router', router: design.routers[leader.routerIndex]?.name ?? '' };
  }
  return nobodyLeads(spec);
}
