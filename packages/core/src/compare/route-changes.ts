import type { Speaker } from '../adjacency/speakers';
import { Changes, type ChangeCount } from '../dense/changes';
import type { TableBuffer } from '../dense/table-buffer';
import type { TableRows } from '../dense/table-rows';
import type { Prediction } from '../predict';

/** True when the second state was computed from the first: prefixes and hops have the same numbers in both. */
export const sharesNumbers = (before: Prediction, after: Prediction): boolean =>
  before.routing.rows.arrays.prefixes === after.routing.rows.arrays.prefixes;

/** The process of a state that stands for the same one in another: by host name and process name. */
function partner(p: Prediction, s: Speaker): Speaker | undefined {
  const index = p.routerIndex(s.router.name);
  return index < 0 ? undefined : p.speakersOf(index).find((x) => x.instance.name === s.instance.name);
}

/** One router's table in words by prefix, for states that share no numbers. */
function words(rows: TableRows, s: Speaker, table: TableBuffer): Map<number, string> {
  const out = new Map<number, string>();
  rows.fill(table, s);
  const slots = rows.arrays.slotsOf(s);
  const known = new Map<number, string>();
  const ways = (code: number): string => {
    let w = known.get(code);
    if (w === undefined) {
      w = slots
        .places(code)
        .map((n) => `${slots.ports[n]?.iface.name ?? ''} ${slots.addresses[n] ?? ''}`)
        .sort()
        .join();
      known.set(code, w);
    }
    return w;
  };
  for (let i = 0; i < table.count; i++) {
    const kind = table.kind[i] ?? 0;
    const forward = kind === 3 || kind === 5 ? (table.forward[i] ?? 0) : 0;
    out.set(rows.arrays.prefixes.key(table.prefix[i] ?? 0), `${kind} ${table.metric[i] ?? 0} ${forward} ${ways(table.hops[i] ?? 0)}`);
  }
  return out;
}

/**
 * How many OSPF routes of each process are other ones in a second state: kind, metric or next hops. Processes that one of
 * the states does not have are left out.
 */
export function* routeChanges(before: Prediction, after: Prediction): Generator<{ readonly speaker: Speaker; readonly count: ChangeCount }> {
  if (sharesNumbers(before, after)) {
    const changes = new Changes(before.routing.rows, after.routing.rows);
    for (const speaker of before.adjacencies.speakers) {
      const now = after.adjacencies.speakers[speaker.index];
      if (now) yield { speaker, count: changes.of(speaker, now) };
    }
    return;
  }
  const [x, y] = [before.routing.rows, after.routing.rows];
  const [a, b] = [x.emptyBuffer(), y.emptyBuffer()];
  for (const speaker of before.adjacencies.speakers) {
    const other = partner(after, speaker);
    if (!other) continue;
    const [old, now] = [words(x, speaker, a), words(y, other, b)];
    const count = { lost: 0, gained: 0, changed: 0 };
    for (const [k, w] of old)
      if (!now.has(k)) count.lost++;
      else if (now.get(k) !== w) count.changed++;
    for (const k of now.keys()) if (!old.has(k)) count.gained++;
    yield { speaker, count };
  }
}
