import { addFailure, formatFailure, noOutage, placeKey, type Outage } from '../failures/outage';
import { segmentFailure } from '../failures/single-failures';
import type { Prediction } from '../predict';
import type { Attachment } from '../segments/segments';

/** Cables that share both ends, and most likely a duct or a line card: what may fail together and is not said to. */
export interface ProposedRisk {
  readonly name: string;
  /** Failures of the single cables, as they are typed. */
  readonly members: readonly string[];
  /** The line of quick entry that says so. */
  readonly line: string;
}

/** What each shared risk of the design takes down. */
const risked = ({ design, segments }: Prediction): Outage[] =>
  design.topology.riskGroups.map(({ name }) => addFailure(design, segments, noOutage, { kind: 'group', name }).outage);

const isDown = (o: Outage, a: Attachment): boolean => {
  const place = placeKey(a.router, a.iface);
  return o.routers.has(a.router) || o.ports.has(place) || o.severed.has(place);
};

/** Parallel cables of two routers that no shared risk holds all of. */
export function proposedRisks(p: Prediction): ProposedRisk[] {
  const { design, segments } = p;
  const between = new Map<string, { readonly routers: readonly string[]; readonly members: string[]; readonly ends: Attachment[] }>();
  for (const s of segments.list) {
    const [a, b] = s.members;
    if (s.kind !== 'cable' || !a || !b || s.size !== 2 || a.router === b.router) continue;
    const routers = [a, b].map((m) => design.routers[m.router]?.name ?? '').sort();
    const key = routers.join(' ');
    const known = between.get(key) ?? { routers, members: [], ends: [] };
    between.set(key, known);
    known.members.push(formatFailure(segmentFailure(design, s)));
    known.ends.push(a);
  }
  const held = risked(p);
  const names = new Set(design.topology.riskGroups.map((g) => g.name));
  return [...between.values()].flatMap(({ routers, members, ends }): ProposedRisk[] => {
    if (members.length < 2 || held.some((h) => ends.every((x) => isDown(h, x)))) return [];
    const plain = routers.join(' and ');
    const name = names.has(plain) ? `${plain}, all cables` : plain;
    return [{ name, members, line: `shared-risk "${name}" of ${members.join(' ')}` }];
  });
}
