import { applyEdits, type Edit } from '../design/edit';
import type { SourceDocument } from '../documents/documents';
import { readEntry } from '../entry/entry';
import { designFrom } from '../formats/read-set';
import { isOver, loadsOf, type Demands, type LinkLoad, type Loads } from '../loads/loads';
import type { Prediction } from '../predict';

/** A cost that relieves an interface, found by trying. */
export interface Relief {
  /** The line of quick entry that sets it. */
  readonly line: string;
  readonly edits: readonly Edit[];
  readonly cost: number;
  /** What the interface would carry then, and the fullest of all. */
  readonly mbps: number;
  readonly fullest: LinkLoad | undefined;
  /** Interfaces over capacity then. */
  readonly over: number;
}

/** Share of what an interface can carry; 0 where that is not known. */
const shareOf = (l: LinkLoad): number => (l.capacity === undefined || l.capacity === 0 ? 0 : l.mbps / l.capacity);

export const fullestOf = ({ links }: Loads): LinkLoad | undefined => [...links].sort((a, b) => shareOf(b) - shareOf(a))[0];

const most = 65_535;

/**
 * The least cost of an interface at which fewer interfaces are over capacity than now and no more
 * traffic is lost, by trying: costs are doubled until it
 * helps, then the least that does so is looked for in between. `undefined`: none helps.
 *
 * @param families   the state of each family, nothing edited
 * @param documents  what it was read from
 */
export function relieve(families: readonly Prediction[], documents: readonly SourceDocument[], demands: Demands, load: LinkLoad): Relief | undefined {
  const rest = loadsOf(families, demands);
  const now = rest.links.filter(isOver).length;
  const index = families[0]?.routerIndex(load.router) ?? -1;
  const iface = families[0]?.design.routers[index]?.interfaces.findIndex((i) => i.name === load.iface) ?? -1;
  const cost = families.flatMap((p) => p.portOf(index, iface)?.cost ?? [])[0];
  if (cost === undefined || now === 0) return undefined;
  const tried = new Map<number, Relief | undefined>();
  const at = (to: number): Relief | undefined => {
    if (tried.has(to)) return tried.get(to);
    const line = `set cost ${to} on ${load.router}/${load.iface}`;
    const { plan } = readEntry(line, documents);
    let found: Relief | undefined;
    if (plan) {
      const { design } = designFrom(applyEdits(documents, plan.edits));
      const loads = loadsOf(
        families.map((p) => p.edited(design)),
        demands,
      );
      const over = loads.links.filter(isOver).length;
      const own = loads.links.find((l) => l.router === load.router && l.iface === load.iface);
      if (over < now && loads.lost <= rest.lost) found = { line, edits: plan.edits, cost: to, mbps: own?.mbps ?? 0, fullest: fullestOf(loads), over };
    }
    tried.set(to, found);
    return found;
  };
  let high = cost;
  for (let step = 1; high < most && !at(high); step *= 2) high = Math.min(most, cost + step);
  if (!at(high)) return undefined;
  let low = cost;
  while (high - low > 1) {
    const middle = Math.floor((low + high) / 2);
    if (at(middle)) high = middle;
    else low = middle;
  }
  return at(high);
}
