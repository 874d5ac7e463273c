import * as fc from 'fast-check';
import { applyEdits } from '../design/edit';
import type { Expectation } from '../design/settings';
import type { FailureSpec } from '../failures/outage';
import { designFrom } from '../formats/read-set';
import { formatAddress } from '../prefix/address';
import { predict, type Prediction } from '../predict';
import { judge } from '../reach/expectations';
import { Forwarding } from '../reach/forwarding';
import { loopbacks } from '../reach/matrix';
import { campusOf, plans } from '../testing/random-campus';
import { forwardingOf } from './forwarding-kept';

/** Everything that one router does with packets for some addresses, in words. */
const steps = (f: Forwarding, addresses: readonly number[]): string[] =>
  f.prediction.design.routers.flatMap((r, n) =>
    addresses.map((a) => {
      const step = f.step(n, a);
      return `${r.name} ${formatAddress(a)} ${step.kind === 'end' ? `${step.fate} ${step.reason}` : step.ways.map((w) => `${w.iface} ${w.to ?? 'out'} ${w.route.key} ${w.route.route?.metric ?? ''}`).join()}`;
    }),
  );

test('what is taken over after edits and failures is what would be made anew', () => {
  let [taken, all] = [0, 0];
  fc.assert(
    fc.property(
      plans,
      fc.array(fc.tuple(fc.nat(), fc.nat(), fc.integer({ min: 1, max: 90 })), { minLength: 1, maxLength: 3 }),
      fc.nat(),
      (plan, edits, cut) => {
        const { documents, design } = designFrom(campusOf(plan).documents());
        let now = documents;
        let p: Prediction = predict(design);
        const addresses = loopbacks(p).slice(0, 6);
        steps(forwardingOf(p), addresses);
        const holds = (x: Prediction): void => {
          all++;
          if (x.from) taken++;
          expect(steps(forwardingOf(x), addresses)).toEqual(steps(new Forwarding(x), addresses));
        };
        for (const [which, where, cost] of edits) {
          const router = p.design.routers[which % p.design.routers.length];
          const ports = router?.instances.flatMap((o) => o.areas.flatMap((a) => a.interfaces)) ?? [];
          const port = ports[where % Math.max(ports.length, 1)];
          if (!router || !port) continue;
          now = applyEdits(now, [{ router: router.name, file: router.file, at: [...port.at, 'cost'], from: undefined, to: cost }]);
          p = p.edited(designFrom(now).design);
          holds(p);
        }
        const router = p.design.routers[cut % p.design.routers.length];
        const iface = router?.interfaces[cut % Math.max(router.interfaces.length, 1)];
        const fail: FailureSpec | undefined = router && iface && { kind: 'interface', router: router.name, iface: iface.name };
        if (fail) holds(p.fail(fail));
      },
    ),
    { numRuns: 60, seed: 90_210 },
  );
  expect(taken).toBeGreaterThan(all / 2);
});

test('many expectations judged together are what each is by itself', () => {
  fc.assert(
    fc.property(plans, (plan) => {
      const p = campusOf(plan).predict();
      const all = loopbacks(p);
      const under = ['normal', 'any-link', 'any-router', `router:${p.design.routers[0]?.name ?? ''}`] as const;
      const expected = under.map((u, n): Expectation => ({
        name: u,
        file: '',
        at: [],
        under: u,
        kind: 'reach',
        from: all[n % all.length] ?? 0,
        to: all[(n + 1) % all.length] ?? 0,
        bothWays: true,
        withinMs: 100,
        leavesBy: undefined,
      }));
      const together = judge(forwardingOf(p), expected, { forward: forwardingOf });
      const alone = expected.flatMap((e) => judge(new Forwarding(p), [e]));
      expect(together).toEqual(alone);
    }),
    { numRuns: 25, seed: 11 },
  );
});
