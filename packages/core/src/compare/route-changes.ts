import type { Speaker } from '../adjacency/speakers';
import { Changes, type ChangeCount } from '../dense/changes';
import type { TableBuffer } from '../dense/table-buffer';
import type { TableRows } from '../dense/table-rows';
import type { Prediction } from '../predict';
import type { Route } from '../routes/route';

/** True when the second state was computed from the first: prefixes and hops have the same numbers in both. */
export const sharesNumbers = (before: Prediction, after: Prediction): boolean =>
  before.dense !== undefined && before.dense.arrays.lineage === after.dense?.arrays.lineage;

/** The process of a state that stands for the same one in another: by host name and process name. */
function partner(p: Prediction, s: Speaker): Speaker | undefined {
  const index = p.routerIndex(s.router.name);
  return index < 0 ? undefined : p.speakersOf(index).find((x) => x.instance.name === s.instance.name);
}

/** Sets of next hops of one router in words, each set once: for states that share no numbers. */
function hopWords(rows: TableRows, s: Speaker): (code: number) => string {
  const slots = rows.arrays.slotsOf(s);
  const known = new Map<number, string>();
  return (code) => {
    let w = known.get(code);
    if (w === undefined) {
      w = slots
        .places(code)
        .map((n) => `${slots.portAt(n)?.iface.name ?? ''} ${slots.addressAt(n) ?? ''}`)
        .sort()
        .join();
      known.set(code, w);
    }
    return w;
  };
}

const none: ReadonlySet<number> = new Set();

/** Two tables of one process in states that share no numbers, laid side by side prefix by prefix. */
export class SideBySide {
  private readonly old: TableBuffer;
  private readonly now: TableBuffer;
  private readonly places = new Map<number, number>();

  constructor(
    private readonly x: TableRows,
    private readonly y: TableRows,
  ) {
    this.old = x.emptyBuffer();
    this.now = y.emptyBuffer();
  }

  /** @param except  prefixes that do not count */
  of(a: Speaker, b: Speaker, except: ReadonlySet<number> = none): ChangeCount {
    const { x, y, old, now, places } = this;
    x.fill(old, a);
    y.fill(now, b);
    const [was, is] = [hopWords(x, a), hopWords(y, b)];
    places.clear();
    for (let i = 0; i < old.count; i++) if (!except.has(old.prefix[i] ?? 0)) places.set(old.prefix[i] ?? 0, i);
    const all = places.size;
    const count = { lost: 0, gained: 0, changed: 0 };
    let met = 0;
    for (let i = 0; i < now.count; i++) {
      const id = now.prefix[i] ?? 0;
      const o = places.get(id);
      if (o === undefined) {
        if (!except.has(id)) count.gained++;
        continue;
      }
      met++;
      const kind = now.kind[i] ?? 0;
      const forwards = kind === 3 || kind === 5;
      const same =
        old.kind[o] === kind &&
        old.metric[o] === now.metric[i] &&
        (!forwards || old.forward[o] === now.forward[i]) &&
        was(old.hops[o] ?? 0) === is(now.hops[i] ?? 0);
      if (!same) count.changed++;
    }
    count.lost = all - met;
    return count;
  }
}

/** Readable tables of one process side by side: for states of which one was computed on the plain road. */
function readably(before: Prediction, a: Speaker, after: Prediction, b: Speaker): ChangeCount {
  const words = (p: Prediction, s: Speaker): Map<number, string> => {
    const { hops } = p.routing.hopList(s);
    const way = (h: number): string => `${hops[h]?.port.iface.name ?? ''} ${hops[h]?.address ?? ''}`;
    const line = (r: Route): string => `${r.type} ${r.metric} ${r.forwardMetric ?? ''} ${r.hops.map(way).sort().join()}`;
    return new Map([...p.routing.tableOnce(s)].map(([key, r]) => [key, line(r)]));
  };
  const [old, now] = [words(before, a), words(after, b)];
  const met = [...now.keys()].filter((k) => old.has(k));
  return { lost: old.size - met.length, gained: now.size - met.length, changed: met.filter((k) => old.get(k) !== now.get(k)).length };
}

/**
 * How many OSPF routes of each process are other ones in a second state: kind, metric or next hops. Processes that one of
 * the states does not have are left out.
 */
export function* routeChanges(before: Prediction, after: Prediction): Generator<{ readonly speaker: Speaker; readonly count: ChangeCount }> {
  if (sharesNumbers(before, after)) {
    const changes = new Changes(before.fast.rows, after.fast.rows);
    for (const speaker of before.adjacencies.speakers) {
      const now = after.adjacencies.speakers[speaker.index];
      if (now) yield { speaker, count: changes.of(speaker, now) };
    }
    return;
  }
  const tables = before.dense && after.dense && new SideBySide(before.dense.rows, after.dense.rows);
  for (const speaker of before.adjacencies.speakers) {
    const other = partner(after, speaker);
    if (other) yield { speaker, count: tables ? tables.of(speaker, other) : readably(before, speaker, after, other) };
  }
}
