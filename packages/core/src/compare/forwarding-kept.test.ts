import * as fc from 'fast-check';
import { applyEdits } from '../design/edit';
import type { Expectation } from '../design/settings';
import type { FailureSpec } from '../failures/outage';
import { designFrom } from '../formats/read-set';
import { formatAddress, plus } from '../prefix/address';
import { predict, type Prediction } from '../predict';
import { judge } from '../reach/expectations';
import { Forwarding } from '../reach/forwarding';
import { loopbacks } from '../reach/matrix';
import { QuickLines } from '../reach/quick-lines';
import { documentsFor, predictFor } from '../testing/mirror';
import { campusOf, plans } from '../testing/random-campus';
import { richCampusOf, richPlans } from '../testing/rich-campus';
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

test('what the arrays of the fast road tell is what the tables have, in both families, with what is down', () => {
  let [told, all] = [0, 0];
  for (const family of [4, 6] as const)
    fc.assert(
      fc.property(richPlans, fc.nat(), (plan, cut) => {
        const base = predictFor(family, documentsFor(family, richCampusOf(plan).campus.documents()));
        const router = base.design.routers[cut % base.design.routers.length];
        const iface = router?.interfaces[cut % Math.max(router.interfaces.length, 1)];
        const failed = router && iface ? [base.fail({ kind: 'interface', router: router.name, iface: iface.name })] : [];
        for (const p of [base, ...failed]) {
          const quick = QuickLines.over(p);
          const f = new Forwarding(p);
          const own = p.design.routers.flatMap((r) => r.interfaces.flatMap((i) => i.addresses.map((a) => a.bits)));
          const addresses = [...own.filter((_, n) => n % 3 === 0).slice(0, 12), ...own.slice(0, 3).map((a) => plus(a, 40))];
          p.design.routers.forEach((r, n) => {
            all++;
            if (!quick?.tells(n)) return;
            told++;
            for (const a of addresses) {
              const words = (l: ReturnType<Forwarding['lookup']>): string =>
                l
                  ? `${l.key} ${l.source} ${l.preference} ${l.route?.type ?? ''} ${l.route?.metric ?? ''} ${l.hops
                      .map((h) => `${h.iface} ${h.address ?? ''} ${String(h.unnumbered)}`)
                      .sort()
                      .join()}`
                  : 'none';
              expect(`${r.name} ${formatAddress(a)} ${words(quick.find(n, a))}`).toBe(`${r.name} ${formatAddress(a)} ${words(f.lookup(n, a))}`);
            }
          });
        }
      }),
      { numRuns: 60, seed: 404 },
    );
  expect(told).toBeGreaterThan(all / 4);
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
      const alone = expected.flatMap((e) => judge(new Forwarding(p), [e], { plainly: true }));
      expect(together).toEqual(alone);
    }),
    { numRuns: 25, seed: 11 },
  );
});
