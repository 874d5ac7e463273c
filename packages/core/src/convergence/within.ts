import type { Design } from '../design/design';
import type { Family } from '../design/family';
import type { Healing } from '../reach/expectations';
import { Known } from './calculating';
import { converging, Simulation } from './converge';
import { Ground } from './ground';
import { plainProfile, type TimingProfile } from './timing-profile';

/** Runs by which a time is judged. */
export const judgedRuns = 30;

/** What simulations of one design share, a family each: the network before anything happens. */
const grounds = new WeakMap<Design, { readonly ground: Ground; readonly known: Known }>();

/** The ground of a design as one family looks at it; made once. */
function groundOf(design: Design, family: Family): { readonly ground: Ground; readonly known: Known } {
  let known = grounds.get(design);
  if (!known) grounds.set(design, (known = { ground: new Ground(design, family), known: new Known() }));
  return known;
}

/** Times the return of packets after a failure by simulated runs: always the same ones. */
export function healingBy(profile: TimingProfile = plainProfile, runs = judgedRuns): Healing {
  return function* (p, failure, pairs) {
    const { ground, known } = groundOf(p.design, p.family);
    const simulation = new Simulation(p.design, p.family, [{ ms: 0, kind: 'fail', spec: failure }], ground, known.atRestAlone());
    if (simulation.refusal !== undefined) return pairs.map((pair) => ({ pair, atLatest: undefined, slowest: simulation.refusal }));
    const steps = converging([simulation], { profile, seed: 1, runs, watch: pairs.map(([from, to]) => ({ from, to })), whole: false });
    for (;;) {
      const step = steps.next();
      if (step.done) {
        const { healed, slowest } = step.value;
        return pairs.map((pair, n) => {
          const times = healed[n] ?? [];
          return { pair, atLatest: times.includes(undefined) ? undefined : Math.max(0, ...times.flatMap((t) => t ?? [])), slowest };
        });
      }
      yield undefined;
    }
  };
}
