import { placeKey, type FailureSpec } from './outage';
import type { Design } from '../design/design';
import type { Attachment, Segment, Segments } from '../segments/segments';

/** What failures are counted from: who stands on which wire, and where OSPF speaks. */
interface Wires {
  readonly design: Design;
  readonly segments: Segments;
  readonly adjacencies: {
    readonly ports: readonly { readonly routerIndex: number; readonly ifaceIndex: number; readonly settings: { readonly passive: boolean } }[];
  };
}

/** Interfaces on which OSPF speaks. */
const speakingOn = ({ adjacencies }: Wires): ReadonlySet<string> =>
  new Set(adjacencies.ports.filter((x) => !x.settings.passive).map((x) => placeKey(x.routerIndex, x.ifaceIndex)));

const at = (design: Design, m: Attachment): { router: string; iface: string } => {
  const router = design.routers[m.router];
  return { router: router?.name ?? '', iface: router?.interfaces[m.iface]?.name ?? '' };
};

/** Members in the order of their host and interface names. */
const byName = (design: Design, s: Segment): { readonly key: string; readonly router: string; readonly iface: string }[] =>
  s.members
    .map((m) => ({ key: placeKey(m.router, m.iface), ...at(design, m) }))
    .sort((a, b) => (a.router === b.router ? (a.iface < b.iface ? -1 : 1) : a.router < b.router ? -1 : 1));

/** The failure of a whole segment, by its first member in order of the names: a cable, or every attachment of a LAN. */
export function segmentFailure(design: Design, s: Segment): FailureSpec {
  const [first] = byName(design, s);
  return { kind: s.kind === 'cable' ? 'link' : 'lan', router: first?.router ?? '', iface: first?.iface ?? '' };
}

/** Every single link failure of a network where OSPF speaks: each cable once, by its first end in order of the names, and on a LAN each router's attachment. */
export function linkFailures(p: Wires): FailureSpec[] {
  const speaks = speakingOn(p);
  return p.segments.list.flatMap((s) => {
    if (s.size < 2) return [];
    const speaking = byName(p.design, s).filter((m) => speaks.has(m.key));
    if (s.kind === 'cable') return speaking.length > 0 ? [segmentFailure(p.design, s)] : [];
    return speaking.map(({ router, iface }): FailureSpec => ({ kind: 'link', router, iface }));
  });
}

/** Every LAN on which OSPF speaks, each as one failure, by its first member in order of the names. */
export function lanFailures(p: Wires): FailureSpec[] {
  const speaks = speakingOn(p);
  return p.segments.list
    .filter((s) => s.kind === 'lan' && s.size > 1 && s.members.some((m) => speaks.has(placeKey(m.router, m.iface))))
    .map((s) => segmentFailure(p.design, s));
}

/** Every shared-risk group, each as one failure. */
export const groupFailures = (p: Pick<Wires, 'design'>): FailureSpec[] => p.design.topology.riskGroups.map(({ name }) => ({ kind: 'group', name }));

/** Every single router failure. */
export const routerFailures = (p: Pick<Wires, 'design'>): FailureSpec[] => p.design.routers.map((r) => ({ kind: 'router', router: r.name }));
