import type { Design } from './design';

/** What the routers of a design call each area: names, with the routers that give them; areas as they are found. */
export function areaNamesGiven(design: Pick<Design, 'routers'>): Map<number, Map<string, string[]>> {
  const out = new Map<number, Map<string, string[]>>();
  for (const r of design.routers)
    for (const a of r.instances.flatMap((o) => o.areas)) {
      if (a.name === '') continue;
      const names = out.get(a.id) ?? new Map<string, string[]>();
      out.set(a.id, names);
      const list = names.get(a.name) ?? [];
      names.set(a.name, list);
      if (!list.includes(r.name)) list.push(r.name);
    }
  return out;
}

/** The name that most use; of equals the first. */
export function usualName(names: ReadonlyMap<string, readonly string[]>): string {
  let best = '';
  for (const [name, routers] of names) if (best === '' || routers.length > (names.get(best)?.length ?? 0)) best = name;
  return best;
}

/** The name of each area that has one: what most of its routers call it. */
export const areaNames = (design: Pick<Design, 'routers'>): ReadonlyMap<number, string> =>
  new Map([...areaNamesGiven(design)].map(([id, names]) => [id, usualName(names)]));
