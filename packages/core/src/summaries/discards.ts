import type { Speaker } from '../adjacency/speakers';
import type { AreaRange } from '../design/design';
import { freeSubnet } from '../design/pools';
import { rangeFor } from '../lsdb/summary-lsa';
import { covers, hostLength, type Prefix } from '../prefix/address';
import { prefixBook } from '../prefix/prefix-book';
import type { Prediction } from '../predict';
import { hostOf } from '../reach/ends';
import { exampleWay, onlooker, type ExampleWay } from './example-way';
import { insideCosts } from './inside-costs';
import { insideByArea, summarisers } from './space';

/** A packet to an address of a summary that nobody has. */
export interface Discard {
  readonly area: number;
  readonly summary: Prefix;
  readonly way: ExampleWay;
}

/** The first stretch of a prefix that none of some others shares. */
function freeIn(whole: Prefix, used: readonly Prefix[]): Prefix | undefined {
  const inside = used.filter((u) => covers(whole, u));
  for (let length = whole.length; length <= hostLength(whole.bits); length++) {
    const free = freeSubnet(whole, length, inside);
    if (free) return free;
  }
  return undefined;
}

/** Whether a router reaches something that a range takes: a narrower range goes before it. */
function hasPart(p: Prediction, s: Speaker, area: number, range: AreaRange): boolean {
  const settings = p.routing.areaOf(s, area);
  return [...insideCosts(p, s, area).keys()].some((id) => rangeFor(settings, prefixBook.prefix(id)) === range);
}

/**
 * For each summary in force, which one of its parts is reached for, a packet to an address that nobody has and no narrower
 * summary takes: it ends at the discard route of who makes the summary (RFC 2328 §11.1), as it should.
 */
export function discards(p: Prediction): Discard[] {
  const inside = insideByArea(p);
  const all = [...inside.values()].flatMap((ids) => [...ids].map((id) => prefixBook.prefix(id)));
  const ranges = p.adjacencies.speakers.flatMap((s) => s.instance.areas.flatMap((a) => a.ranges.map((r) => r.prefix)));
  const seen = new Map<string, Discard>();
  for (const [area] of inside)
    for (const s of summarisers(p, area))
      for (const range of p.routing.areaOf(s, area).ranges) {
        const { prefix } = range;
        const key = `${area} ${prefix.bits}/${prefix.length}`;
        if (!range.advertise || seen.has(key) || !hasPart(p, s, area, range)) continue;
        const free = freeIn(prefix, [...all, ...ranges.filter((o) => o.length > prefix.length)]);
        const from = free && onlooker(p, free, [area]);
        const way = free && from !== undefined ? exampleWay(p, from, hostOf(free)) : undefined;
        if (way) seen.set(key, { area, summary: prefix, way });
      }
  return [...seen.values()];
}
