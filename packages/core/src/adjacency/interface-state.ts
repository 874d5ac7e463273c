import type { Leaders } from './dr-election';
import type { InterfaceState } from './neighbor-state';
import { elects, type Port } from './speakers';

/** The state an interface rests in (RFC 2328 §9.1). */
export function interfaceState(p: Port, leaders: Leaders): InterfaceState {
  if (!p.up) return 'down';
  if (p.loopback) return 'loopback';
  if (p.settings.passive) return 'passive';
  if (!elects(p.type)) return 'point-to-point';
  if (leaders.dr === p.routerId) return 'dr';
  if (leaders.bdr === p.routerId) return 'bdr';
  return 'dr-other';
}
