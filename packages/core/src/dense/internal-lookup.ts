import type { Speaker } from '../adjacency/speakers';
import { backbone } from '../design/design';
import { InsideFinder } from './inside-finder';
import { intraArea, type InternalArrays } from './internal-rows';
import type { HopList } from '../spf/shortest-path-tree';
import type { InternalLookup } from '../routes/external';
import type { Route } from '../routes/route';

/** Looks up a router's routes inside the system as things stand; what they stand on is left out. */
export function lookupIn(arrays: InternalArrays, s: Speaker, hopList: HopList): InternalLookup {
  const slots = arrays.slotsOf(s);
  const finder = new InsideFinder(arrays);
  const chooser = arrays.choosers.of(s);
  if (chooser) finder.lookAt(chooser);
  else {
    const rows = arrays.filling.emptyRows();
    arrays.filling.fill(rows, s, false);
    finder.lookAtRows(rows);
  }
  return (key) => {
    if (!finder.find(key)) return undefined;
    const { bits, length } = arrays.prefixes.prefix(key);
    const inside = finder.kind === intraArea;
    const route: Route = {
      key,
      bits,
      length,
      type: inside ? 'intra-area' : 'inter-area',
      metric: finder.cost,
      forwardMetric: undefined,
      tag: 0,
      hops: slots.listed(finder.hops, hopList),
      area: arrays.areas[finder.database]?.database.areaId ?? backbone,
      sources: [],
      rule: inside ? 'RFC 2328 §16.1' : 'RFC 2328 §16.2',
      attached: slots.attached(finder.hops),
    };
    return route;
  };
}
