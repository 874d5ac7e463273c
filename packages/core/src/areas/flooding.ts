import type { Speaker } from '../adjacency/speakers';
import { backbone } from '../design/design';
import { formatAddress } from '../prefix/address';
import type { Prediction } from '../predict';
import { holdersOf, type Held } from './held';

/** Where an advertisement goes no further. */
export interface FloodingStop {
  readonly router: string;
  /** The area that it does not enter; `undefined`: other pieces of its own area. */
  readonly area: number | undefined;
  readonly why: string;
  readonly rfc: string;
}

/** How far an advertisement is flooded. */
export interface FloodingReach {
  /** Routers that hold it. */
  readonly holders: readonly string[];
  readonly stops: readonly FloodingStop[];
}

export const areaWords = (id: number): string => (id === backbone ? 'the backbone' : `area ${id < 256 ? id : formatAddress(id)}`);

/** Why an advertisement of one area does not enter another one at a router that stands in both. */
function whyNot(p: Prediction, s: Speaker, { lsa, area: own = 0 }: Held, other: number): { why: string; rfc: string } {
  const border = p.routing.isBorderRouter(s);
  const name = s.router.name;
  switch (lsa.type) {
    case 1:
    case 2:
    case 9:
      return border
        ? {
            why: `An area keeps its links and networks to itself; ${name} tells their prefixes to ${areaWords(other)} as summaries.`,
            rfc: 'RFC 2328 §3.2',
          }
        : { why: `${name} has no part in the backbone: it is no border router, and tells ${areaWords(other)} nothing.`, rfc: 'RFC 2328 §3.3' };
    case 3:
    case 4:
      if (!border) return { why: `${name} has no part in the backbone, and passes no summaries on.`, rfc: 'RFC 2328 §12.4.3' };
      return own === backbone
        ? { why: `A summary is of one area; ${name} writes its own into ${areaWords(other)}, at its own cost.`, rfc: 'RFC 2328 §12.4.3' }
        : {
            why: `Into the backbone goes only what lies inside an area: what ${areaWords(own)} was told comes from there already.`,
            rfc: 'RFC 2328 §12.4.3',
          };
    case 7:
      return p.routing.domain.translating.has(s.index)
        ? { why: `Type 7 stays in its NSSA; ${name} translates: what may leave goes on as type 5.`, rfc: 'RFC 3101 §3.2' }
        : { why: `Type 7 stays in its NSSA; another border router translates.`, rfc: 'RFC 3101 §3.1' };
    case 5:
      return { why: 'No type 5 enters.', rfc: 'RFC 2328 §3.6' };
  }
}

/**
 * How far an advertisement is flooded, and at which routers it stops, each with the reason (RFC 2328 §13.3, RFC 5340 §4.5.2).
 * Types 5 go everywhere but into stub areas and NSSAs, all others stay in the area that they are of.
 */
export function floodingReach(p: Prediction, held: Held): FloodingReach {
  const holders = holdersOf(p, held);
  const stops: FloodingStop[] = [];
  for (const s of holders)
    for (const area of p.routing.areasOf(s)) {
      if (held.area === undefined) {
        const { type } = p.routing.areaOf(s, area);
        if (type === 'normal') continue;
        const kind = type === 'stub' ? 'a stub area' : 'an NSSA';
        stops.push({
          router: s.router.name,
          area,
          why: `${areaWords(area)[0]?.toUpperCase() ?? ''}${areaWords(area).slice(1)} is ${kind}: no type 5 enters${type === 'nssa' ? ', what it brings itself is type 7' : ', a default stands in for it'}.`,
          rfc: type === 'stub' ? 'RFC 2328 §3.6' : 'RFC 3101 §2.2',
        });
      } else if (area !== held.area) stops.push({ router: s.router.name, area, ...whyNot(p, s, held, area) });
    }
  if (held.area !== undefined) {
    const pieces = p.routing.databases.filter((d) => d.areaId === held.area && d.index !== held.database);
    for (const piece of pieces)
      for (const n of piece.speakers.slice(0, 1))
        stops.push({
          router: p.adjacencies.speakers[n]?.router.name ?? '',
          area: undefined,
          why: `${areaWords(held.area)[0]?.toUpperCase() ?? ''}${areaWords(held.area).slice(1)} is in pieces: no full neighbours lead to this one.`,
          rfc: 'RFC 2328 §3.7',
        });
  }
  return { holders: holders.map((s) => s.router.name), stops };
}
