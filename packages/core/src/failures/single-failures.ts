import type { FailureSpec } from './outage';
import type { Design } from '../design/design';
import type { Segments } from '../segments/segments';

/** What failures are counted from: who stands on which wire, and where OSPF speaks. */
interface Wires {
  readonly design: Design;
  readonly segments: Segments;
  readonly adjacencies: {
    readonly ports: readonly { readonly routerIndex: number; readonly ifaceIndex: number; readonly settings: { readonly passive: boolean } }[];
  };
}

/** Every single link failure of a network: each cable once, and on a LAN each router's attachment, where OSPF speaks. */
export function linkFailures(p: Wires): FailureSpec[] {
  const { design, segments, adjacencies } = p;
  const speaks = new Set(adjacencies.ports.filter((x) => !x.settings.passive).map((x) => `${x.routerIndex}/${x.ifaceIndex}`));
  return segments.list.flatMap((s) => {
    if (s.size < 2) return [];
    const members = s.kind === 'cable' ? s.members.slice(0, 1) : s.members;
    return members
      .filter((m) => speaks.has(`${m.router}/${m.iface}`))
      .map((m): FailureSpec => {
        const router = design.routers[m.router];
        return { kind: 'link', router: router?.name ?? '', iface: router?.interfaces[m.iface]?.name ?? '' };
      });
  });
}

/** Every shared-risk group, each as one failure. */
export const groupFailures = (p: Pick<Wires, 'design'>): FailureSpec[] => p.design.topology.riskGroups.map(({ name }) => ({ kind: 'group', name }));

/** Every single router failure. */
export const routerFailures = (p: Pick<Wires, 'design'>): FailureSpec[] => p.design.routers.map((r) => ({ kind: 'router', router: r.name }));
