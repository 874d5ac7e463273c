import type { Speaker } from '../adjacency/speakers';
import type { AreaDatabase } from '../lsdb/area-database';
import { intraAreaPrefixLsa } from '../lsdb/attached-prefixes';
import type { Lsa } from '../lsdb/lsa';
import { lsaKey } from '../lsdb/lsa-body';
import type { Prediction } from '../predict';

/** An advertisement with where it is held: one piece of an area, or, without, all that hears types 5. */
export interface Held {
  readonly lsa: Lsa;
  readonly area: number | undefined;
  /** Place of the database among those of all areas; -1 for what floods everywhere. */
  readonly database: number;
}

/** Advertisements in one scope of a speaker: an area's, or those of the whole system (`undefined`) (RFC 2328 §13.3). */
export function advertisementsIn(p: Prediction, s: Speaker, area: number | undefined): readonly Lsa[] {
  if (area === undefined) return p.routing.externals(s);
  const db = p.routing.database(s, area);
  if (!db) return [];
  const inside = [...db.routers.values(), ...db.networks.values()];
  const prefixes = db.graph.six ? inside.flatMap((l) => intraAreaPrefixLsa(l) ?? []) : [];
  return [...inside, ...prefixes, ...[...db.summaries.values()].flat(), ...db.nssa];
}

/** Everything that one router holds: area by area, then what floods everywhere. */
export function databaseOf(p: Prediction, s: Speaker): Held[] {
  return [
    ...p.routing.areasOf(s).flatMap((area) => {
      const database = p.routing.database(s, area)?.index ?? -1;
      return advertisementsIn(p, s, area).map((lsa): Held => ({ lsa, area, database }));
    }),
    ...p.routing.externals(s).map((lsa): Held => ({ lsa, area: undefined, database: -1 })),
  ];
}

/** What the routers of one piece of an area hold for it: its own, and what floods everywhere where that comes in (RFC 2328 §3.6). */
export function heldIn(p: Prediction, db: AreaDatabase): Held[] {
  const speakers = db.speakers.flatMap((n) => p.adjacencies.speakers[n] ?? []);
  const [first] = speakers;
  const takes = speakers.find((s) => p.routing.areaOf(s, db.areaId).type === 'normal');
  return [
    ...(first ? advertisementsIn(p, first, db.areaId) : []).map((lsa): Held => ({ lsa, area: db.areaId, database: db.index })),
    ...(takes ? p.routing.externals(takes) : []).map((lsa): Held => ({ lsa, area: undefined, database: -1 })),
  ];
}

/** Everything that any router holds, each once. */
export function domainDatabase(p: Prediction): Held[] {
  const out: Held[] = [];
  const seen = new Set<string>();
  const lists = new Set<readonly Lsa[]>();
  for (const db of p.routing.databases) {
    const s = p.adjacencies.speakers[db.speakers[0] ?? -1];
    if (s) out.push(...advertisementsIn(p, s, db.areaId).map((lsa): Held => ({ lsa, area: db.areaId, database: db.index })));
  }
  for (const s of p.adjacencies.speakers) {
    const external = p.routing.externals(s);
    if (lists.has(external)) continue;
    lists.add(external);
    for (const lsa of external) {
      const held: Held = { lsa, area: undefined, database: -1 };
      const key = heldKey(held);
      if (!seen.has(key)) out.push(held);
      seen.add(key);
    }
  }
  return out;
}

/** What names an advertisement among all that any router holds: type, link state id, originator, and where (RFC 2328 §12.1). */
export function heldKey({ lsa, area, database }: Held): string {
  const { type, id, adv } = lsaKey(lsa);
  return `${type} ${id} ${adv} ${area === undefined ? 'everywhere' : `${area}.${database}`}`;
}

/** Speakers that hold it, in their order. */
export function holdersOf(p: Prediction, { lsa, area, database }: Held): readonly Speaker[] {
  const { speakers } = p.adjacencies;
  if (area !== undefined) return (p.routing.databases[database]?.speakers ?? []).flatMap((n) => speakers[n] ?? []);
  return speakers.filter((s) => p.routing.externals(s).includes(lsa as never));
}
