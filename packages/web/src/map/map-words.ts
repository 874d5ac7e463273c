import type { DesignView, SegmentView } from '../model/view';
import { count } from '../parts/words';
import type { Drawn } from './drawn';

/** What the map writes on its lines and plates. */
export const shows = ['costs', 'types', 'addresses', 'trouble'] as const;
export type Shows = (typeof shows)[number];

/** Cost of a link; both, where its directions differ. */
export function costWords(s: SegmentView): string {
  const costs = s.members.map((m) => m.cost);
  const [a, b] = costs;
  if (a === null || a === undefined) return '';
  return a === b || b === null || b === undefined ? String(a) : `${a} | ${b}`;
}

/** Network types as short as they are spoken of. */
const typeWords: Readonly<Record<string, string>> = {
  'point-to-point': 'p2p',
  'point-to-multipoint': 'p2mp',
  broadcast: 'broadcast',
  'non-broadcast': 'nbma',
  hybrid: 'hybrid',
};

/** What stands on a line of the chart: cost (both when they differ), network type, subnet, or nothing. */
export function lineWords(d: Drawn, showing: Shows): string {
  if (showing === 'trouble') return '';
  // Towards a LAN each of its routers has a line of its own, with what it costs that one.
  if (d.member !== undefined) {
    const cost = d.segment.members.find((m) => m.router === d.member)?.cost;
    return showing === 'costs' && cost !== null && cost !== undefined ? String(cost) : '';
  }
  if (showing === 'costs') return costWords(d.segment);
  if (showing === 'types') return typeWords[d.pair?.type ?? ''] ?? d.pair?.type ?? '';
  return d.segment.subnets[0] ?? '';
}

/** What stands below the plates: router ids among addresses, open findings among trouble. */
export function underPlate(view: DesignView, showing: Shows): Map<string, string> {
  if (showing === 'addresses') return new Map(view.routers.map((r) => [r.name, r.routerId ?? '']));
  if (showing !== 'trouble') return new Map();
  const worst = new Map<string, { errors: number; warnings: number; notes: number }>();
  for (const f of view.findings) {
    if (f.accepted) continue;
    for (const name of new Set(f.where.map((w) => w.router))) {
      const n = worst.get(name) ?? { errors: 0, warnings: 0, notes: 0 };
      n[`${f.severity}s`]++;
      worst.set(name, n);
    }
  }
  return new Map(
    [...worst].map(([name, n]) => [
      name,
      n.errors > 0 ? count(n.errors, 'error') : n.warnings > 0 ? count(n.warnings, 'warning') : count(n.notes, 'note'),
    ]),
  );
}
