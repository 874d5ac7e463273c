import fc from 'fast-check';
import { formatFailure, parseFailure, type FailureSpec } from '../failures/outage';
import { formatPrefix, type Prefix } from '../prefix/address';
import { prefixBook } from '../prefix/prefix-book';
import { prefixNumber } from '../documents/leaf-types';
import { rangeCost, rangeFor } from '../lsdb/summary-lsa';
import type { Prediction } from '../predict';
import { campus } from '../testing/campus';
import { documentsFor, predictFor, prefixFor } from '../testing/mirror';
import { campusOf, plans } from '../testing/random-campus';
import { areaFailures, flapsOf, heardWith, outsideFlapsOf, type Flaps } from './flaps';
import { insideCosts } from './inside-costs';
import { summarisers } from './space';

const prefix = (text: string): Prefix => prefixNumber.read(text) ?? { bits: 0, length: 0 };

/** An area between two border routers; one of its labs is dearer than all the rest. */
const dunes = (range: Record<string, unknown> = {}) =>
  campus()
    .router('heron-1', '10.96.0.1', 0)
    .router('heron-2', '10.96.0.2', 0)
    .router('dune-1', '10.97.0.1', 20)
    .router('dune-2', '10.97.0.2', 20)
    .cable('heron-1', 'heron-2', '10.96.128.0', 0)
    .cable('heron-1', 'dune-1', '10.97.128.0', 20)
    .cable('heron-2', 'dune-2', '10.97.128.2', 20)
    .cable('dune-1', 'dune-2', '10.97.128.4', 20, 5)
    .port('dune-1', 'lab-1', '10.97.1.1/24', 20, { passive: true })
    .port('dune-2', 'lab-2', '10.97.2.1/24', 20, { passive: true })
    .port('dune-2', 'lab-3', '10.97.3.1/24', 20, { passive: true, cost: 30 })
    .area('heron-1', 20, { ranges: { range: [{ prefix: '10.97.0.0/16', ...range }] } })
    .area('heron-2', 20, { ranges: { range: [{ prefix: '10.97.0.0/16', ...range }] } });

function whole<T>(steps: Generator<unknown, T>): T {
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
  }
}

const of = (flaps: Flaps, failure: string): string | undefined => {
  const f = flaps.list.find((x) => formatFailure(x.failure) === failure);
  return f && [f.alone, f.following, f.fixed, ...f.told.map((t) => `${t.router} ${t.before ?? '-'} to ${t.after ?? '-'}`)].join(', ');
};

describe.each([4, 6] as const)('what a summary hides, IPv%i', (family) => {
  const p = predictFor(family, documentsFor(family, dunes().documents()));
  const flaps = whole(flapsOf(p, 20, prefix(prefixFor(family, '10.97.0.0/16'))));

  test('every wire of the area is tried, no loopback', () => {
    expect(areaFailures(p, 20).map(formatFailure).sort()).toEqual([
      'interface:dune-1/lab-1',
      'interface:dune-2/lab-2',
      'interface:dune-2/lab-3',
      'link:dune-1/to-dune-2',
      'link:dune-1/to-heron-1',
      'link:dune-2/to-heron-2',
    ]);
    expect(flaps.tried).toBe(6);
  });

  test('a lab that is not the dearest part goes unheard; the dearest is heard unless the cost is fixed', () => {
    expect(of(flaps, 'interface:dune-1/lab-1')).toBe('lost, nothing, nothing, heron-1 45 to 45, heron-2 40 to 40');
    expect(of(flaps, 'interface:dune-2/lab-3')).toBe('lost, cost, nothing, heron-1 45 to 25, heron-2 40 to 25');
  });

  test('a narrower summary takes its part away: the dearest lab is heard no more of the wide one', () => {
    const [wide, lab] = ['10.97.0.0/16', '10.97.3.0/24'].map((x) => prefix(prefixFor(family, x)));
    const without = whole(flapsOf(p, 20, wide ?? prefix(''), lab ? [lab] : []));
    expect(of(without, 'interface:dune-2/lab-3')).toBeUndefined();
    expect(of(without, 'interface:dune-1/lab-1')).toBe('lost, nothing, nothing, heron-1 25 to 25, heron-2 25 to 25');
  });

  test('a link whose loss makes ways longer is heard by the cost that follows', () => {
    // heron-1 reaches dune-1 and no more; the cable between the dunes is lost itself.
    expect(of(flaps, 'link:dune-1/to-dune-2')).toBe('lost, cost, nothing, heron-1 45 to 20, heron-2 40 to 40');
    // heron-1 stands in the area no more: it tells nothing, and that is heard at a fixed cost too.
    expect(of(flaps, 'link:dune-1/to-heron-1')).toBe('lost, cost, cost, heron-1 45 to -, heron-2 40 to 40');
  });

  test('of several plans each says how many failures are heard; what it leaves outside is heard as ever', () => {
    const at = (...list: string[]): Prefix[] => list.map((x) => prefix(prefixFor(family, x)));
    const heard = whole(heardWith(p, 20, [at('10.97.0.0/16'), at('10.97.0.0/22'), []]));
    // Following, lab-1 and lab-2 go unheard of the whole; fixed, lab-3 and the cable between the dunes too. Without the cables
    // in the summary all that touches a cable is heard.
    expect(heard).toEqual({
      tried: 6,
      alone: 6,
      plans: [
        { following: 4, fixed: 2 },
        { following: 4, fixed: 3 },
        { following: 6, fixed: 6 },
      ],
    });
  });

  test('what is told is what the routers would advertise', () => {
    for (const { failure, told } of flaps.list) {
      const after = p.fail(failure);
      for (const t of told) expect([t.router, t.after]).toEqual([t.router, advertised(after, t.router, prefix(prefixFor(family, '10.97.0.0/16')))]);
    }
  });
});

/** Cost at which a router tells the backbone of a summary. */
function advertised(p: Prediction, router: string, of: Prefix): string | undefined {
  const db = p.routing.databases.find((d) => d.areaId === 0);
  const lists = db ? [...db.networksSaid()] : [];
  const found = lists
    .flat()
    .find((l) => l.reason === 'range' && formatPrefix(l) === formatPrefix(of) && p.adjacencies.speakers[l.speaker]?.router.name === router);
  return found && String(found.metric);
}

test('of what is announced outside: an interface that takes a static route along', () => {
  const p = campus()
    .router('core', '10.96.0.1', 0)
    .router('gate', '10.96.0.2', 0, { redistribution: [{ source: 'static', metric: 9 }] })
    .cable('core', 'gate', '10.96.128.0', 0)
    .port('gate', 'north', '203.0.113.1/30', null)
    .port('gate', 'south', '203.0.113.5/30', null)
    .static('gate', '198.51.100.0/26', '203.0.113.2')
    .static('gate', '198.51.100.64/26', '203.0.113.6')
    .predict();
  const flaps = whole(outsideFlapsOf(p, 'gate', prefix('198.51.100.0/24')));
  expect(flaps.tried).toBe(3);
  expect(flaps.list.map((f) => formatFailure(f.failure))).toEqual(['interface:gate/north', 'interface:gate/south']);
  expect(of(flaps, 'interface:gate/north')).toBe('lost, nothing, nothing, gate 9 type 2 to 9 type 2');
  const one = whole(outsideFlapsOf(p, 'gate', prefix('198.51.100.0/26')));
  expect(of(one, 'interface:gate/north')).toBe('lost, lost, lost, gate 9 type 2 to -');
});

test('a fixed cost is told as long as one part is there', () => {
  const fixed = dunes({ cost: 77 }).predict();
  const gone = ['link:dune-1/to-dune-2', 'interface:dune-2/lab-3'].map((f) => parseFailure(f) as FailureSpec);
  for (const f of gone) expect(advertised(fixed.fail(f), 'heron-1', prefix('10.97.0.0/16'))).toBe('77');
});

test('costs inside an area are those that summaries are advertised at, on random networks', () => {
  fc.assert(
    fc.property(plans, (plan) => {
      const p = campusOf(plan).predict();
      for (const db of p.routing.databases)
        for (const l of [...db.networksSaid()].flat()) {
          const s = p.adjacencies.speakers[l.speaker];
          if (l.reason !== 'range' || !s) continue;
          const settings = p.routing.areaOf(s, l.fromArea);
          const range = settings.ranges.find((r) => formatPrefix(r.prefix) === formatPrefix(l));
          const parts = [...insideCosts(p, s, l.fromArea)]
            .filter(([id]) => rangeFor(settings, prefixBook.prefix(id)) === range)
            .map(([, cost]) => cost);
          expect([s.router.name, formatPrefix(l), range && rangeCost(range, parts, s.instance.rangeCost)]).toEqual([
            s.router.name,
            formatPrefix(l),
            l.metric,
          ]);
          expect(summarisers(p, l.fromArea)).toContain(s);
        }
    }),
    { numRuns: 60 },
  );
});
