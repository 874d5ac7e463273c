import type { Prediction } from '../predict';
import { asked, brokenIn, concerns, leftWithout, tooSlow } from './expectations';
import { Forwarding } from './forwarding';

/** Expectations of a design in the state of one family, ready to be looked at in states in which something failed. */
export interface Breaking {
  /** Names of those that do not hold while nothing fails. */
  readonly already: readonly string[];
  /**
   * Names of those that hold while nothing fails and not in another state; of what a router that is down is the subject of,
   * nothing is asked.
   *
   * @param failed  routers that are down
   */
  brokenIn(after: Prediction, failed: ReadonlySet<number>): string[];
}

/** Looks at the expectations of a design once, so that failure after failure can be judged. */
export function breaking(now: Forwarding): Breaking {
  const p = now.prediction;
  let whole: Forwarding | undefined;
  const seen = { quick: now, whole: () => (whole ??= new Forwarding(p)) };
  const all = p.design.settings.expectations.filter((e) => concerns(e, p)).map((e) => asked(seen, e, false));
  const holding = all.filter((a) => !a.breach);
  return {
    already: all.filter((a) => a.breach).map((a) => a.e.name),
    brokenIn: (after, failed) => {
      if (holding.length === 0) return [];
      let tables: Forwarding | undefined;
      const then = { quick: Forwarding.quickly(after), whole: () => (tables ??= new Forwarding(after)) };
      return holding.flatMap((a) => {
        const pairs = leftWithout(now, a, failed);
        return pairs && (brokenIn(then, a.e, pairs) ?? tooSlow(now, after, a.e, pairs)) ? [a.e.name] : [];
      });
    },
  };
}
