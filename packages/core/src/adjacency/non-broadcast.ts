import type { StaticNeighbor } from '../design/design';
import type { Leaders } from './dr-election';
import type { Port } from './speakers';

/** The entry under which a router lists a neighbour on a non-broadcast network; `undefined` without one. */
export const listed = (p: Port, peer: Port): StaticNeighbor | undefined => p.settings.staticNeighbors.find((n) => n.address === peer.helloFrom);

/** Whether a port is designated router or backup in its own eyes. */
const leads = (p: Port, leaders: readonly (Leaders | undefined)[]): boolean => {
  const l = leaders[p.index];
  return l !== undefined && (l.dr === p.routerId || l.bdr === p.routerId);
};

/**
 * Whether a router speaks first to a neighbour on a non-broadcast network (RFC 2328 §9.5.1): one that may be elected sends
 * hellos to listed neighbours that may be elected too, and once it leads to all that it lists. One that may not be elected
 * sends to those who lead, and nobody leads in its eyes before it has heard from them.
 */
function speaksFirst(p: Port, peer: Port, leaders: readonly (Leaders | undefined)[]): boolean {
  const entry = listed(p, peer);
  return entry !== undefined && p.settings.priority > 0 && (entry.priority > 0 || leads(p, leaders));
}

/**
 * True when hellos of `from` are sent towards `to` at all. Multicast reaches the whole segment; on a non-broadcast network
 * they go to those whom one speaks to first, and back to whoever spoke first.
 *
 * @param leaders  who leads in the eyes of each port, by its number
 */
export function sendsTo(from: Port, to: Port, leaders: readonly (Leaders | undefined)[]): boolean {
  if (from.type !== 'non-broadcast' || speaksFirst(from, to, leaders)) return true;
  return to.type === 'non-broadcast' ? speaksFirst(to, from, leaders) : true;
}

/** Whether who leads decides over who is spoken to: somebody lists a neighbour that may not be elected. */
export const hangsOnLeaders = (there: readonly Port[]): boolean =>
  there.some((p) => p.type === 'non-broadcast' && p.settings.staticNeighbors.some((n) => n.priority === 0));
