import type { FailureSpec } from './outage';
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

const keyOf = (m: Attachment): string => `${m.router}/${m.iface}`;

/** Interfaces on which OSPF speaks. */
const speakingOn = ({ adjacencies }: Wires): ReadonlySet<string> =>
  new Set(adjacencies.ports.filter((x) => !x.settings.passive).map((x) => `${x.routerIndex}/${x.ifaceIndex}`));

const at = (design: Design, m: Attachment): { router: string; iface: string } => {
  const router = design.routers[m.router];
  return { router: router?.name ?? '', iface: router?.interfaces[m.iface]?.name ?? '' };
};

/** Members in the order of their host and interface names. */
const byName = (design: Design, s: Segment): { readonly key: string; readonly router: string; readonly iface: string }[] =>
  s.members
    .map((m) => ({ key: keyOf(m), ...at(design, m) }))
    .sort((a, b) => (a.router === b.router ? (a.iface < b.iface ? -1 : 1) : a.router < b.router ? -1 : 1));

/** Every single link failure of a network where OSPF speaks: each cable once, by its first end in order of the names, and on a LAN each router's attachment. */
export function linkFailures(p: Wires): FailureSpec[] {
  const speaks = speakingOn(p);
  return p.segments.list.flatMap((s) => {
    if (s.size < 2) return [];
    const members = byName(p.design, s);
    const failing = s.kind === 'lan' ? members.filter((m) => speaks.has(m.key)) : members.some((m) => speaks.has(m.key)) ? members.slice(0, 1) : [];
    return failing.map(({ router, iface }): FailureSpec => ({ kind: 'link', router, iface }));
  });
}

/** Every LAN on which OSPF speaks, each as one failure, by its first member in order of the names. */
export function lanFailures(p: Wires): FailureSpec[] {
  const speaks = speakingOn(p);
  return p.segments.list.flatMap((s): FailureSpec[] => {
    const [first, ...more] = s.kind === 'lan' ? byName(p.design, s) : [];
    if (!first || more.length === 0 || ![first, ...more].some((m) => speaks.has(m.key))) return [];
    return [{ kind: 'lan', router: first.router, iface: first.iface }];
  });
}

/** Every shared-risk group, each as one failure. */
export const groupFailures = (p: Pick<Wires, 'design'>): FailureSpec[] => p.design.topology.riskGroups.map(({ name }) => ({ kind: 'group', name }));

/** Every single router failure. */
export const routerFailures = (p: Pick<Wires, 'design'>): FailureSpec[] => p.design.routers.map((r) => ({ kind: 'router', router: r.name }));
