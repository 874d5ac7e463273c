import * as fc from 'fast-check';
import { parseIpv4 } from '../prefix/ipv4';
import { formatAddress, type Address } from '../prefix/address';
import { predict, predictFamilies, type Prediction } from '../predict';
import { designFrom } from '../formats/read-set';
import { campus, type Campus } from '../testing/campus';
import { mirrored } from '../testing/mirror';
import { campusOf, plans } from '../testing/random-campus';
import { Forwarding } from './forwarding';
import { loopbacks, makingMatrix, matrixOf } from './matrix';
import { cellAt, type Cell } from './matrix-cells';
import { trace, type Walk } from './trace';

const ip = (text: string): number => parseIpv4(text) ?? 0;

/** The routers of each way, in order. */
const ways = (w: Walk): string[] => w.branches.map((b) => b.hops.map((h) => h.router).join(' '));

/** A cell from the traces of its pair, branch by branch. */
function byTrace(p: Prediction, from: Address, to: Address): Cell & { cut: boolean } {
  const f = new Forwarding(p);
  const t = trace(f, from, to);
  const back = new Set(
    t.return.branches.map((b) =>
      b.hops
        .map((h) => h.router)
        .reverse()
        .join(' '),
    ),
  );
  const there = new Set(ways(t.forward));
  const both = t.forward.fate === 'delivered' && t.return.fate === 'delivered';
  const metrics = f.endsOf(from).flatMap((s) => f.lookup(s, to)?.route?.metric ?? []);
  const hops = Math.max(...t.forward.branches.map((b) => b.hops.length - 1));
  return {
    there: t.forward.fate,
    back: t.return.fate,
    hops: hops < 0 ? null : hops,
    cost: metrics.length === 0 ? null : Math.min(...metrics),
    lopsided: both && (there.size !== back.size || [...there].some((w) => !back.has(w))),
    cut: t.forward.cut || t.return.cut,
  };
}

function agrees(p: Prediction, addresses: readonly Address[]): void {
  const m = matrixOf(p, addresses);
  addresses.forEach((from, r) =>
    addresses.forEach((to, c) => {
      const { cut, ...traced } = byTrace(p, from, to);
      const name = `${formatAddress(from)} ${formatAddress(to)}`;
      if (!cut) expect({ name, ...cellAt(m, r, c) }).toEqual({ name, ...traced });
    }),
  );
}

test('a matrix is what the traces of its pairs are, on random campuses with hosts on LANs and addresses that nobody has', () => {
  fc.assert(
    fc.property(plans, fc.integer({ min: 0, max: 40 }), (plan, skip) => {
      const p = campusOf(plan).predict();
      const own = p.design.routers.flatMap((r) => r.interfaces.flatMap((i) => i.addresses.map((a) => a.bits)));
      const hosts = p.design.routers.flatMap((r) => r.interfaces.flatMap((i) => i.addresses.filter((a) => a.length < 30).map((a) => a.bits + 77)));
      agrees(p, [...own.slice(skip % Math.max(own.length, 1)).slice(0, 9), ...hosts.slice(0, 3), ip('198.51.100.200')]);
    }),
    { numRuns: 25, seed: 1207 },
  );
});

test('in both families, whole and with something down', () => {
  fc.assert(
    fc.property(plans, fc.nat(), (plan, n) => {
      const { design } = designFrom(mirrored(campusOf(plan).documents()));
      for (const p of predictFamilies(design)) {
        agrees(p, loopbacks(p).slice(0, 8));
        const name = design.routers[n % design.routers.length]?.name ?? '';
        const failed = predict(design, [{ kind: 'router', router: name }], { family: p.family });
        agrees(failed, loopbacks(failed).slice(0, 8));
      }
    }),
    { numRuns: 8, seed: 31 },
  );
});

/** a and d with two ways between them, of which the answer takes another one; a static loop and a dead end. */
const ring = (): Campus =>
  campus()
    .router('a', '10.96.0.1', 0)
    .router('b', '10.96.0.2', 0)
    .router('c', '10.96.0.3', 0)
    .cable('a', 'b', '10.96.1.0', 0, [10, 30])
    .cable('b', 'c', '10.96.1.2', 0, [10, 30])
    .cable('a', 'c', '10.96.1.4', 0, [25, 10]);

test('a way back over other routers is marked; equal costs both ways are not', () => {
  const p = ring().predict();
  const [a, b, c] = loopbacks(p);
  const m = matrixOf(p, [a ?? 0, b ?? 0, c ?? 0]);
  // There over b at 20, back straight at 10.
  expect(cellAt(m, 0, 2)).toEqual({ there: 'delivered', back: 'delivered', hops: 2, cost: 20, lopsided: true });
  expect(cellAt(m, 0, 1)).toEqual({ there: 'delivered', back: 'delivered', hops: 1, cost: 10, lopsided: true });
  expect(cellAt(m, 0, 0)).toEqual({ there: 'delivered', back: 'delivered', hops: 0, cost: null, lopsided: false });
});

test('what loops, what nobody takes and what comes back by no way are told apart', () => {
  const c = campus()
    .router('a', '10.96.0.1', 0)
    .router('b', '10.96.0.2', 0)
    .cable('a', 'b', '10.96.1.0', 0)
    .port('b', 'lab', '10.97.9.1/24', null)
    .static('a', '192.0.2.0/24', '10.96.1.1')
    .static('b', '192.0.2.0/24', '10.96.1.0')
    .static('a', '10.97.9.0/24', '10.96.1.1');
  const p = c.predict();
  const all = [ip('10.96.0.1'), ip('10.97.9.50'), ip('192.0.2.7'), ip('203.0.113.9')];
  const m = matrixOf(p, all);
  expect(cellAt(m, 0, 1)).toMatchObject({ there: 'delivered', back: 'delivered', hops: 1, cost: null });
  expect(cellAt(m, 0, 2)).toMatchObject({ there: 'looping', back: 'dropped', hops: 2 });
  expect(cellAt(m, 3, 0)).toMatchObject({ there: 'dropped', back: 'dropped', hops: null });
  agrees(p, all);
});

test('it tells how far it is, and every cell of another size', () => {
  const p = ring().predict();
  const rows = loopbacks(p);
  const told: (readonly [number, number])[] = [];
  const steps = makingMatrix(p, rows.slice(0, 2), rows);
  let m;
  for (let step = steps.next(); ; step = steps.next()) {
    if (step.done) {
      m = step.value;
      break;
    }
    told.push(step.value);
  }
  expect([told.at(-1), m.there.length]).toEqual([[8, 8], 6]);
});
