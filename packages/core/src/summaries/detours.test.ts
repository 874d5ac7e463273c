import fc from 'fast-check';
import { backbone } from '../design/design';
import { designOf } from '../design/family';
import { covers, formatPrefix, plus, type Prefix } from '../prefix/address';
import { prefixNumber } from '../documents/leaf-types';
import { predict, type Prediction } from '../predict';
import { Forwarding } from '../reach/forwarding';
import { walk } from '../reach/trace';
import { campus } from '../testing/campus';
import { documentsFor, predictFor, prefixFor } from '../testing/mirror';
import { campusOf, plans, type Plan } from '../testing/random-campus';
import { detours } from './detours';

const prefix = (text: string): Prefix => prefixNumber.read(text) ?? { bits: 0, length: 0 };

/** gull hangs on heron-1; the labs on either side of an area that both herons summarise. */
const across = (range: Record<string, unknown> = {}) =>
  campus()
    .router('gull', '10.96.0.9', 0)
    .router('heron-1', '10.96.0.1', 0)
    .router('heron-2', '10.96.0.2', 0)
    .router('dune-1', '10.97.0.1', 20)
    .router('dune-2', '10.97.0.2', 20)
    .cable('gull', 'heron-1', '10.96.128.0', 0, 10)
    .cable('gull', 'heron-2', '10.96.128.2', 0, 12)
    .cable('heron-1', 'dune-1', '10.97.128.0', 20, 10)
    .cable('heron-2', 'dune-2', '10.97.128.2', 20, 10)
    .cable('dune-1', 'dune-2', '10.97.128.4', 20, 100)
    .port('dune-1', 'lab-1', '10.97.1.1/24', 20, { passive: true, cost: 1 })
    .port('dune-2', 'lab-2', '10.97.2.1/24', 20, { passive: true, cost: 1 })
    .area('heron-1', 20, { ranges: { range: [{ prefix: '10.97.0.0/16', ...range }] } })
    .area('heron-2', 20, { ranges: { range: [{ prefix: '10.97.0.0/16', ...range }] } });

test.each([4, 6] as const)('a lab on the far side is reached through the wrong border router: which, from where, by how much, IPv%i', (family) => {
  const found = detours(predictFor(family, documentsFor(family, across().documents())));
  expect(found.map((d) => [d.area, formatPrefix(d.prefix)])).toEqual([[20, prefixFor(family, '10.97.0.0/16')]]);
  const lab = found[0]?.list.find((d) => formatPrefix(d.to) === prefixFor(family, '10.97.2.0/24'));
  // Told at 120 by both: gull goes through heron-1, 10, dune-1, 10, across, 100, and the lab, 1; through heron-2 it were 12 + 10 + 1.
  expect(lab).toMatchObject({ from: 'gull', cost: 121, through: 'heron-1', shortest: 23, better: 'heron-2' });
  expect(found[0]?.list.some((d) => formatPrefix(d.to) === prefixFor(family, '10.97.1.0/24'))).toBe(false);
});

test('a part that has a range of its own is told by itself: nothing is made longer for it', () => {
  const c = across();
  for (const heron of ['heron-1', 'heron-2'])
    c.area(heron, 20, {
      ranges: { range: [{ prefix: '10.97.0.0/16' }, { prefix: '10.97.2.0/24' }, { prefix: '10.97.0.2/32' }, { prefix: '10.97.128.2/31' }] },
    });
  expect(detours(c.predict()).flatMap((d) => d.list.map((x) => formatPrefix(x.to)))).toEqual([]);
});

test('a summary that one border router tells makes nothing longer', () => {
  const c = across();
  c.area('heron-2', 20, { ranges: {} });
  expect(detours(c.predict())).toEqual([]);
});

/** What the way of packets costs: interfaces on the way out, and what the last router has the prefix at. */
function costOfWay(p: Prediction, from: string, to: Prefix, last: number): number | undefined {
  const costs = walk(new Forwarding(p), [p.routerIndex(from)], plus(to.bits, 1)).branches.map((b) =>
    b.hops.slice(0, -1).reduce((sum, h) => {
      const router = p.routerIndex(h.router);
      const iface = p.design.routers[router]?.interfaces.findIndex((i) => i.name === h.outInterface) ?? -1;
      return sum + (p.portOf(router, iface)?.settings.cost ?? NaN);
    }, last),
  );
  return Math.max(...costs);
}

const withoutRanges = (p: Prediction): Prediction => {
  const design = designOf(p.design);
  const routers = design.routers.map((r) => ({
    ...r,
    instances: r.instances.map((o) => ({ ...o, areas: o.areas.map((a) => ({ ...a, ranges: [] })) })),
  }));
  return predict({ ...design, routers });
};

/** The same network with users numbered by area, and every border router with one range for each of its areas. */
function summarised(plan: Plan, fixed: boolean): Plan {
  const users = plan.users.map((u, n) => ({ ...u, net: `10.${100 + u.area}.${n}.0/24` }));
  const borders = plan.routers.flatMap((_, router) =>
    plan.areas
      .filter(({ id }) => id !== backbone && plan.cables.some((c) => c.area === id && (c.a === router || c.b === router)))
      .filter(() => plan.routers[router]?.home === backbone)
      .map(({ id }) => ({ router, area: id, prefix: `10.${100 + id}.0.0/16`, advertise: true, cost: fixed ? 30 : undefined })),
  );
  return { ...plan, users, ranges: borders };
}

/** Subnets of users that a summary of their area takes, as told by two border routers of one backbone. */
const folded = (p: Prediction, plan: Plan): Plan['users'] =>
  plan.users.filter((u) => {
    const to = prefix(u.net);
    return p.routing.databases.some(
      (db) => db.areaId === backbone && [...db.networksSaid()].flat().some((l) => l.reason === 'range' && l.fromArea === u.area && covers(l, to)),
    );
  });

test('on random networks exactly the ways of packets that are longer than without summaries are told, at their costs', () => {
  let longer = 0;
  fc.assert(
    fc.property(plans, fc.boolean(), (random, fixed) => {
      const plan = summarised(random, fixed);
      const p = campusOf(plan).predict();
      if (p.routing.databases.filter((d) => d.areaId === backbone).length !== 1) return;
      const found = detours(p).flatMap((d) => d.list.map((x) => ({ ...x, area: d.area })));
      const plain = withoutRanges(p);
      const seen = folded(p, plan).flatMap((u) => {
        const to = prefix(u.net);
        return p.adjacencies.speakers.flatMap((s) => {
          const areas = p.routing.areasOf(s);
          if (!areas.includes(backbone) || areas.includes(u.area)) return [];
          const name = s.router.name;
          const shortest = [...plain.routing.table(s).values()].find((r) => formatPrefix(r) === formatPrefix(to))?.metric;
          const cost = costOfWay(p, name, to, u.cost);
          return shortest !== undefined && cost !== undefined && cost > shortest ? [`${name} ${formatPrefix(to)} ${cost} ${shortest}`] : [];
        });
      });
      longer += seen.length;
      const nets = plan.users.map((u) => formatPrefix(prefix(u.net)));
      const told = found.filter((d) => nets.includes(formatPrefix(d.to))).map((d) => `${d.from} ${formatPrefix(d.to)} ${d.cost} ${d.shortest}`);
      expect(told.sort()).toEqual(seen.sort());
    }),
    { numRuns: 150 },
  );
  expect(longer).toBeGreaterThan(5);
});
