import type { Prediction } from '../predict';
import { Forwarding } from '../reach/forwarding';
import { untouchedRouters } from './untouched';

const made = new WeakMap<Prediction, Forwarding>();

/**
 * Forwarding through a state, made once. What is known of the state that it was computed from is taken over for all routers
 * whose tables are the same: after an edit or a failure that is most of them.
 */
export function forwardingOf(p: Prediction): Forwarding {
  let f = made.get(p);
  if (!f) {
    const { from } = p;
    const before = from && made.get(from);
    f = before ? Forwarding.after(before, p, untouchedRouters(before.prediction, p)) : new Forwarding(p);
    made.set(p, f);
  }
  return f;
}
