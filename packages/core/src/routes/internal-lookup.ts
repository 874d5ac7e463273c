import type { Speaker } from '../adjacency/speakers';
import { backbone } from '../design/design';
import { intraArea, noRoute, type InternalArrays, type InternalRows } from '../dense/internal-rows';
import type { HopList } from '../spf/shortest-path-tree';
import type { InternalLookup } from './external';
import type { Route } from './route';

/** Looks up a router's routes inside the system in its rows; what they stand on is left out. */
export function lookupIn(arrays: InternalArrays, rows: InternalRows, s: Speaker, hopList: HopList): InternalLookup {
  const slots = arrays.slotsOf(s);
  return (key) => {
    const id = arrays.prefixes.known(key);
    if (id === undefined || rows.kind[id] === noRoute || rows.kind[id] === undefined) return undefined;
    const { bits, length } = arrays.prefixes.prefix(id);
    const code = rows.hops[id] ?? 0;
    const inside = rows.kind[id] === intraArea;
    const route: Route = {
      key,
      bits,
      length,
      type: inside ? 'intra-area' : 'inter-area',
      metric: rows.cost[id] ?? 0,
      forwardMetric: undefined,
      tag: 0,
      hops: slots.listed(code, hopList),
      area: arrays.areas[rows.database[id] ?? 0]?.database.areaId ?? backbone,
      sources: [],
      rule: inside ? 'RFC 2328 §16.1' : 'RFC 2328 §16.2',
      attached: slots.attached(code),
    };
    return route;
  };
}
