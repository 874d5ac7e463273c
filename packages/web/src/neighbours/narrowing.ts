import type { Consequence } from '@gentle-compass/core/findings/finding';
import type { PairView } from '../model/view';
import { areaName, byName } from '../parts/words';

/** Orders of the list: what is in trouble first, segment by segment, or what most hangs on first. */
export const pairOrders = ['trouble', 'segment', 'cost'] as const;
export type PairOrder = (typeof pairOrders)[number];

const rank = { trouble: 0, down: 1, rests: 2, full: 3 } as const;

/** What each pair can be found by: both routers with interfaces and addresses, the area by number and name, the type, states. */
export function pairTexts(pairs: readonly PairView[], nameOf: (area: string) => string): ReadonlyMap<string, string> {
  return new Map(
    pairs.map((p) => [
      p.id,
      [
        ...[p.a, p.b].map((s) => `${s.router} ${s.router}/${s.iface} ${s.iface} ${s.address} ${s.state}`),
        `${p.area} ${areaName(p.area)} ${nameOf(p.area)} ${p.type} ${p.word}`,
      ]
        .join(' ')
        .toLowerCase(),
    ]),
  );
}

/** Whether a text holds every word that was typed. */
export const fits = (text: string, typed: string): boolean =>
  typed
    .toLowerCase()
    .split(/\s+/)
    .every((w) => text.includes(w));

/** Routes that are missing or go another way for a pair in trouble; of one whose cost is not known yet none. */
const hangsOn = (p: PairView, costs: Readonly<Record<string, Consequence>>): number => {
  const c = p.finding === null ? undefined : costs[p.finding];
  return c ? c['routes-lost'] * 1000 + c['routes-changed'] : 0;
};

/** Pairs in an order; equal ones by their letters, then by name. */
export function ordered(
  pairs: readonly PairView[],
  order: PairOrder,
  letters: ReadonlyMap<string, string>,
  costs: Readonly<Record<string, Consequence>>,
): PairView[] {
  const byTrouble = (a: PairView, b: PairView): number =>
    rank[a.kind] - rank[b.kind] || byName(letters.get(a.id) ?? '', letters.get(b.id) ?? '') || byName(a.id, b.id);
  if (order === 'trouble') return [...pairs].sort(byTrouble);
  if (order === 'cost') return [...pairs].sort((a, b) => hangsOn(b, costs) - hangsOn(a, costs) || byTrouble(a, b));
  // Segments with trouble first; within one as elsewhere.
  const worst = new Map<number, number>();
  for (const p of pairs) worst.set(p.segment, Math.min(worst.get(p.segment) ?? 9, rank[p.kind]));
  return [...pairs].sort((a, b) => (worst.get(a.segment) ?? 0) - (worst.get(b.segment) ?? 0) || a.segment - b.segment || byTrouble(a, b));
}
