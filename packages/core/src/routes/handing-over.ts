import type { Speaker } from '../adjacency/speakers';
import { applyPolicies, type PolicySubject } from '../design/policy';
import type { LocalRoute } from './local-routes';
import type { Route } from './route';

/** What of a network decides which routes one router hands to another by another protocol. */
export interface HandingGround {
  readonly speakers: readonly Speaker[];
  localRoutes(s: Speaker): readonly LocalRoute[];
  /** A router's route by OSPF to a prefix, by its key. */
  ospfRoute(s: Speaker, key: number): Route | undefined;
}

/** Preference of an OSPF route in the router's own table. */
export function preferenceOf(s: Speaker, r: Pick<Route, 'type'>): number {
  const p = s.instance.preference;
  return r.type === 'intra-area' ? p.intra : r.type === 'inter-area' ? p.inter : p.external;
}

const outside = (r: Route): PolicySubject => ({
  prefix: r,
  metric: r.metric,
  metricType: r.type.endsWith('1') ? 'type-1' : 'type-2',
  tag: r.tag,
});

/**
 * The line that a router hands over for a prefix: what its own table takes, where that is from another source. A router that
 * has it from the same protocol hands nothing on.
 *
 * @param asked  routers that wait for this answer: what goes round in a circle holds nothing up
 */
function lineOf(ground: HandingGround, router: string, route: LocalRoute, asked: ReadonlySet<string>): PolicySubject | undefined {
  let best: { readonly preference: number; readonly line: PolicySubject | undefined } | undefined;
  // Of equal preferences the first counts, as in the router's own table: its own routes, OSPF, the other protocol.
  const offer = (preference: number, line: PolicySubject | undefined): void => {
    if (!best || preference < best.preference) best = { preference, line };
  };
  for (const s of ground.speakers) {
    if (s.router.name !== router) continue;
    const locals = ground.localRoutes(s).filter((l) => l.key === route.key);
    for (const l of locals) if (l.source !== 'other') offer(l.preference, { prefix: l, metric: 0, metricType: 'type-2', tag: 0 });
    const ospf = ground.ospfRoute(s, route.key);
    const { ribPolicy } = s.instance;
    if (ospf && (ribPolicy.length === 0 || applyPolicies(s.router.policies, ribPolicy, outside(ospf)).accepted))
      offer(preferenceOf(s, ospf), outside(ospf));
    for (const l of locals) if (l.source === 'other' && handing(ground, s, l, asked).is === 'stands') offer(l.preference, undefined);
  }
  return best?.line;
}

/** What became of a route that another router should hand over. */
export interface Handing {
  readonly is: 'stands' | 'unknown-router' | 'not-there' | 'refused';
  /** The tag that it comes with: that of the line handed over, or what the policy set. */
  readonly tag: number;
  /** The line of the other router's table, before the policy; `undefined`: there is none to hand over. */
  readonly line?: PolicySubject;
}

/** Whether a route that another router hands over stands: that router has it from another source, and the policy lets it pass. */
export function handing(ground: HandingGround, s: Speaker, route: LocalRoute, asked: ReadonlySet<string> = new Set()): Handing {
  const { handedBy } = route;
  if (!handedBy) return { is: 'stands', tag: 0 };
  if (!ground.speakers.some((x) => x.router.name === handedBy.router)) return { is: 'unknown-router', tag: 0 };
  const line = asked.has(handedBy.router) ? undefined : lineOf(ground, handedBy.router, route, new Set([...asked, handedBy.router]));
  if (!line) return { is: 'not-there', tag: 0 };
  const { accepted, subject } = applyPolicies(s.router.policies, handedBy.policies, line);
  return { is: accepted ? 'stands' : 'refused', tag: subject.tag, line };
}
