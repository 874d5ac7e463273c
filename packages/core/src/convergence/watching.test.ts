import fc from 'fast-check';
import { families } from '../design/family';
import { parseFailure } from '../failures/outage';
import { designFrom } from '../formats/read-set';
import { formatAddress } from '../prefix/address';
import { learns } from '../routes/local-routes';
import { documentsFor } from '../testing/mirror';
import { richCampusOf, richPlans } from '../testing/rich-campus';
import { Simulation } from './converge';
import type { Happening } from './simulate';
import { plainProfile } from './timing-profile';
import { follow, Loops } from './watching';

/** Loopbacks to which packets of another one go round, each followed from its router: slow and obvious. */
function goingRound(s: Simulation, moment: ReturnType<Simulation['moment']>): string[] {
  const ends = s.loopbacks;
  return ends
    .filter((to) => ends.some((from) => from !== to && follow(moment, [from.router], to.address).fate === 'looping'))
    .map((e) => formatAddress(e.address));
}

test.each(families)('IPv%i: whatever goes round at a moment is found by looking at changed routers alone', (family) => {
  let round = 0;
  fc.assert(
    fc.property(richPlans, fc.nat(1000), fc.nat(1000), fc.boolean(), (plan, pick, seed, returns) => {
      const rich = richCampusOf(plan);
      const { design } = designFrom(documentsFor(family, rich.campus.documents()));
      const spec = parseFailure(rich.failures[pick % Math.max(1, rich.failures.length)] ?? '');
      if (typeof spec === 'string') return;
      const happenings: Happening[] = [{ ms: 0, kind: 'fail', spec }, ...(returns ? [{ ms: 20_000, kind: 'restore' as const, spec }] : [])];
      const s = new Simulation(design, family, happenings);
      if (s.refusal !== undefined || s.ground.speakers.some(learns)) return;
      // What goes round before anything happens is no consequence of it.
      if (goingRound(s, s.moment(s.atRest(plainProfile))).length > 0) return;
      const run = s.run(plainProfile, seed);
      const moment = s.moment(run);
      const loops = new Loops(moment, s.moment(s.atRest(plainProfile)), s.loopbacks);
      let checked = 0;
      run.state.changed = (r) => {
        loops.look(r);
        if (++checked > 60) return;
        const slow = goingRound(s, moment);
        expect([...loops.goingRound].map(formatAddress).sort()).toEqual(slow.sort());
        round += slow.length;
      };
      run.toEnd();
    }),
    { seed: 20_261_130, numRuns: Number(process.env.RUNS ?? 60), endOnFailure: true },
  );
  expect(round).toBeGreaterThan(0);
});
