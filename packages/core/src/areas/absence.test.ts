import * as fc from 'fast-check';
import { prefixNumber } from '../documents/leaf-types';
import type { Prefix } from '../prefix/address';
import { prefixId } from '../prefix/prefix-book';
import type { Prediction } from '../predict';
import { campus, type Campus } from '../testing/campus';
import { campusOf, plans } from '../testing/random-campus';
import { reasonText, WhyAbsent } from './absence';

const prefix = (text: string): Prefix => prefixNumber.read(text) ?? { bits: 0, length: 0 };

/** a in the backbone, b at the border of area 20, c inside it with a lab; d static-only behind a. */
const base = (): Campus =>
  campus()
    .router('a', '10.96.0.1', 0)
    .router('b', '10.96.0.2', 0)
    .router('c', '10.96.0.3', 20)
    .router('d', '10.96.0.4', null)
    .cable('a', 'b', '10.96.1.0', 0)
    .cable('b', 'c', '10.96.1.2', 20)
    .port('c', 'lab', '10.97.1.1/24', 20, { passive: true })
    .port('a', 'pier', '10.98.1.1/24', null)
    .port('d', 'pier', '10.98.1.2/24', null);

const why = (p: Prediction, router: string, to: string): string[] =>
  (new WhyAbsent(p, prefix(to)).at(p.routerIndex(router))?.reasons ?? []).map((r) => `${r.kind}: ${reasonText(r)}`);

test.each<[string, Campus, string[], string, string, string]>([
  [
    'folded at the border',
    base().area('b', 20, { ranges: { range: [{ prefix: '10.97.0.0/16' }] } }),
    [],
    'a',
    '10.97.1.0/24',
    'folded: b folds it into 10.97.0.0/16.',
  ],
  [
    'kept back at the border',
    base().area('b', 20, { ranges: { range: [{ prefix: '10.97.0.0/16', advertise: false }] } }),
    [],
    'a',
    '10.97.1.0/24',
    'filtered: b keeps 10.97.0.0/16 back.',
  ],
  [
    'no summaries into a totally stubby area',
    base().area('b', 20, { 'area-type': 'stub-area', summary: false }).area('c', 20, { 'area-type': 'stub-area', summary: false }),
    [],
    'c',
    '10.96.0.1/32',
    'stub-area: b lets no summaries into area 20: a default stands for it.',
  ],
  ['not in OSPF', base(), [], 'c', '10.98.1.0/24', 'not-in-ospf: a/pier has it, and OSPF does not speak there; nor is it brought in from outside.'],
  ['down', base(), ['interface:c/lab'], 'a', '10.97.1.0/24', 'not-up: c/lab has it, and is down.'],
  [
    'out of reach inside',
    base(),
    ['link:b/to-c'],
    'a',
    '10.97.1.0/24',
    'out-of-reach: c has it in area 20; no border router of that area reaches it.',
  ],
  ['of a router that is down', base(), ['router:c'], 'a', '10.97.1.0/24', 'down: c, which has it, is down.'],
  ['a router without OSPF', base(), [], 'd', '10.97.1.0/24', 'not-in-ospf: d does not run OSPF, and no static route of it leads there.'],
  [
    'nobody has it, and it lies in a LAN',
    base(),
    [],
    'a',
    '10.97.1.64/26',
    'nobody: No router has this very prefix; it lies in 10.97.1.0/24 of c/lab.',
  ],
  ['nobody at all', base(), [], 'a', '192.0.2.0/24', 'nobody: No router of the design has it, and none brings it from outside.'],
  [
    'a static route that is not brought in',
    base().static('a', '198.51.100.0/24', '10.98.1.2'),
    [],
    'b',
    '198.51.100.0/24',
    'not-imported: a has it from a static route, and does not bring that into OSPF.',
  ],
  [
    'a static route without a next hop',
    base().static('a', '198.51.100.0/24', '203.0.113.9'),
    [],
    'b',
    '198.51.100.0/24',
    'unresolved: a has a static route to it, whose next hop is not reached.',
  ],
])('%s', (_, c, fail, router, to, words) => {
  expect(why(c.predict(fail), router, to)).toContain(words);
});

test('a summary does not come into a totally stubby area, nor to a router that is cut off', () => {
  const stub = { 'area-type': 'stub-area', summary: false };
  const c = base()
    .router('e', '10.96.0.5', 30)
    .cable('a', 'e', '10.96.1.4', 30)
    .area('b', 20, { ranges: { range: [{ prefix: '10.97.0.0/16' }] } })
    .area('a', 30, stub)
    .area('e', 30, stub);
  expect(why(c.predict(), 'e', '10.97.0.0/16')).toEqual(['stub-area: a lets no summaries into area 30: a default stands for it.']);
  expect(why(c.predict(['link:a/to-b']), 'a', '10.97.0.0/16')).toEqual([
    'out-of-reach: b sums it up, and no path of full neighbours carries that to a.',
  ]);
});

test('an external one: not into a stub area, and out of reach where its router is', () => {
  const outside = (area: Record<string, unknown> = {}): Campus =>
    campus()
      .router('a', '10.96.0.1', 0, { 'gentle-compass:redistribution': [{ source: 'static' }] })
      .router('b', '10.96.0.2', 0)
      .router('c', '10.96.0.3', 20)
      .cable('a', 'b', '10.96.1.0', 0)
      .cable('b', 'c', '10.96.1.2', 20)
      .area('b', 20, area)
      .area('c', 20, area)
      .static('a', '198.51.100.0/24', 'blackhole');
  expect(why(outside().predict(), 'c', '198.51.100.0/24')).toEqual([]);
  expect(why(outside({ 'area-type': 'stub-area' }).predict(), 'c', '198.51.100.0/24')).toEqual([
    'stub-area: a announces it from outside, and area 20 is a stub area: no type 5 enters.',
  ]);
  expect(why(outside().predict(['link:a/to-b']), 'c', '198.51.100.0/24').join()).toContain('out-of-reach: a announces it from outside');
});

test('what takes packets in its place is told', () => {
  const p = base()
    .area('b', 20, { ranges: { range: [{ prefix: '10.97.0.0/16' }] } })
    .predict();
  expect(new WhyAbsent(p, prefix('10.97.1.0/24')).at(0)?.instead).toEqual({ prefix: '10.97.0.0/16', source: 'ospf' });
});

test('a reason is given exactly where a route is missing, on random campuses', () => {
  fc.assert(
    fc.property(plans, fc.nat(), (plan, n) => {
      const c = campusOf(plan);
      const whole = c.predict();
      const name = whole.design.routers[n % whole.design.routers.length]?.name ?? '';
      for (const p of [whole, c.predict([`router:${name}`])]) {
        const all = new Map(p.design.routers.flatMap((_, i) => p.rib(i).map((r) => [r.key, r] as const)));
        for (const r of [...all.values()].slice(0, 30)) {
          const asked = new WhyAbsent(p, r);
          p.design.routers.forEach((router, i) => {
            const has = p.rib(i).some((x) => x.key === prefixId(r.bits, r.length));
            const absence = asked.at(i);
            expect([router.name, absence === undefined]).toEqual([router.name, has]);
            if (absence) {
              expect(absence.reasons.length).toBeGreaterThan(0);
              // Somebody has it: that nobody does is never the reason, but where only a discard route of its own stands for it.
              if (
                p.design.routers.some((x) =>
                  x.interfaces.some((f) => f.addresses.some((a) => prefixId(r.bits, r.length) === prefixId(a.bits, a.length))),
                )
              )
                expect(absence.reasons.map((x) => x.kind)).not.toContain('nobody');
            }
          });
        }
      }
    }),
    { numRuns: 20, seed: 77 },
  );
});
