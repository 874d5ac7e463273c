import fc from 'fast-check';
import { generateCampus } from '../generate/generate-campus';
import { designFrom } from '../formats/read-set';
import { predict, type Prediction } from '../predict';
import { campus } from '../testing/campus';
import { campusOf, plans } from '../testing/random-campus';
import { denseWords, readableWords } from '../testing/table-words';

const agree = (p: Prediction): void => {
  expect(denseWords(p).sort()).toEqual(readableWords(p).sort());
};

test('on random campuses the arrays say what the readable tables say, whole and with a link cut', () => {
  fc.assert(
    fc.property(plans, fc.nat(), (plan, n) => {
      const whole = campusOf(plan).predict();
      agree(whole);
      const port = whole.adjacencies.ports[n % whole.adjacencies.ports.length];
      const router = port && whole.design.routers[port.routerIndex];
      if (router) agree(predict(whole.design, [{ kind: 'link', router: router.name, iface: port.iface.name }]));
    }),
    { numRuns: 60, seed: 20_261_124, endOnFailure: true },
  );
});

test('they agree on made-up campuses with NSSAs, ranges and exits of all kinds', () => {
  for (const seed of [1, 2, 3]) agree(predict(designFrom(generateCampus({ routers: 60, areas: 5, seed })).design));
});

test('a router with more ways than bits in a number has the same table', () => {
  const c = campus().router('hub', '10.96.0.1', 0);
  for (let n = 1; n <= 40; n++)
    c.router(`spoke-${n}`, `10.96.0.${n + 1}`, 0)
      .cable('hub', `spoke-${n}`, `10.97.0.${n * 2}`, 0)
      .port(`spoke-${n}`, 'users', `10.98.${n % 3}.${n}/24`, 0, { passive: true });
  agree(c.predict());
});

test('of two routers with one id the first stands for both with its own ways out, in arrays and readable tables alike', () => {
  const p = campus()
    .router('a', '10.96.0.1', 0)
    .router('b', '10.96.0.1', 0)
    .router('c', '10.96.0.3', 0)
    .router('d', '10.96.0.4', 0)
    .cable('a', 'c', '10.97.0.0', 0)
    .cable('b', 'd', '10.97.0.2', 0)
    .cable('c', 'd', '10.97.0.4', 0)
    .predict();
  expect(denseWords(p).sort()).toEqual(readableWords(p).sort());
  expect(
    denseWords(p)
      .filter((w) => w.startsWith('b 10.96.0.3/32'))
      .map((w) => w.split(' ').at(-1)),
  ).toEqual(['to-c>10.97.0.1']);
});
