import fc from 'fast-check';
import { address6, comparePrefixes, covers, formatPrefix, hull, networkOf, overlap, parseAddress, plus, type Prefix } from '../prefix/address';
import { plainPlans } from '../testing/plain-planner';
import { addressesOf, compareChoices, judge, mergedSupernets, planSummaries, rowText, type Choice, type Limits, type Task } from './planner';

const prefix = (text: string): Prefix => {
  const [address = '', length = ''] = text.split('/');
  return { bits: parseAddress(address) ?? 0, length: Number(length) };
};
const prefixes = (...texts: string[]): Prefix[] => texts.map(prefix);
const everything4 = [{ bits: 0, length: 0 }];
const plan = (task: Partial<Task>, atMost: number, allowForeign = 0): string[] =>
  planSummaries({ parts: [], foreign: [], supernets: everything4, ...task }, { atMost, allowForeign }).map(
    (c) => `${rowText(c.summaries)} | ${rowText(c.outside)} | ${c.foreign.length} | ${c.claimed}/${c.needed}`,
  );

describe('known answers', () => {
  const eleven = prefixes(...[0, 1, 2, 3, 4, 5, 6, 7].map((n) => `10.97.${n}.0/24`), '10.97.16.0/24', '10.97.17.0/24', '10.97.40.0/24');

  test('eleven subnets, three summaries: the best, then the best of each other number', () => {
    expect(plan({ parts: eleven }, 3)).toEqual([
      '10.97.0.0/21, 10.97.16.0/23, 10.97.40.0/24 |  | 0 | 2816/2816',
      '10.97.0.0/18 |  | 0 | 16384/2816',
      '10.97.0.0/19, 10.97.40.0/24 |  | 0 | 8448/2816',
    ]);
  });

  test('foreign space is kept out, or allowed for each summary by itself', () => {
    const foreign = [{ prefix: prefix('10.97.20.0/24'), area: 2 }];
    expect(plan({ parts: eleven, foreign }, 1)).toEqual(['10.97.0.0/21 | 10.97.16.0/24, 10.97.17.0/24, 10.97.40.0/24 | 0 | 2048/2048']);
    expect(plan({ parts: eleven, foreign }, 1, 1)).toEqual(['10.97.0.0/18 |  | 1 | 16384/2816']);
  });

  test('nothing reaches outside the supernets; a part outside of them has no summary', () => {
    const supernets = prefixes('10.97.0.0/20');
    expect(plan({ parts: eleven, supernets }, 4)[0]).toBe('10.97.0.0/21 | 10.97.16.0/24, 10.97.17.0/24, 10.97.40.0/24 | 0 | 2048/2048');
    expect(plan({ parts: prefixes('10.98.0.0/24'), supernets }, 4)).toEqual([' | 10.98.0.0/24 | 0 | 0/0']);
  });

  test('of plans that are equal in all else the one with the lowest address; a part inside another counts its addresses once', () => {
    expect(plan({ parts: prefixes('10.97.0.0/24', '10.97.8.0/24') }, 1, 0)[0]).toContain('10.97.0.0/20 |');
    const foreign = [{ prefix: prefix('10.97.4.0/24'), area: null }];
    expect(plan({ parts: prefixes('10.97.8.0/24', '10.97.0.0/24'), foreign }, 1)).toEqual(['10.97.0.0/24 | 10.97.8.0/24 | 0 | 256/256']);
    // Two would be one inside the other.
    expect(plan({ parts: prefixes('10.97.0.0/23', '10.97.1.0/24', '10.97.1.9/32') }, 3)).toEqual(['10.97.0.0/23 |  | 0 | 512/512']);
  });

  test('nothing to summarise', () => {
    expect(plan({}, 3)).toEqual([' |  | 0 | 0/0']);
  });

  test('supernets side by side are one; addresses are counted once', () => {
    expect(rowText(mergedSupernets(prefixes('10.96.64.0/18', '10.96.0.0/18', '10.96.128.0/17', '10.96.3.0/24', '10.98.0.0/16')))).toBe(
      '10.96.0.0/16, 10.98.0.0/16',
    );
    expect(rowText(mergedSupernets(prefixes('10.96.64.0/18', '10.96.128.0/18')))).toBe('10.96.64.0/18, 10.96.128.0/18');
    expect(addressesOf(prefixes('10.96.0.0/24', '10.96.0.0/16', '10.97.0.0/32'))).toBe(65_537n);
  });

  test('sizes of IPv6 are exact', () => {
    const parts = prefixes('2001:db8:40::/64', '2001:db8:40:1::/64', '2001:db8:40:2::1/128');
    const [best] = planSummaries({ parts, foreign: [], supernets: prefixes('2001:db8::/32') }, { atMost: 2, allowForeign: 0 });
    expect(best && [rowText(best.summaries), best.claimed, best.needed]).toEqual([
      '2001:db8:40::/63, 2001:db8:40:2::1/128',
      2n ** 65n + 1n,
      2n ** 65n + 1n,
    ]);
  });
});

/** A small corner of a family's space: prefixes of the last bits below a base. */
const corner = { 4: { base: prefix('10.97.8.0/27').bits, host: 32 }, 6: { base: address6(0x2001_0db8_0040n << 80n), host: 128 } } as const;
const bits = 5;

const partOf = (family: 4 | 6): fc.Arbitrary<Prefix> =>
  fc.tuple(fc.nat(2 ** bits - 1), fc.nat(3)).map(([place, wide]) => {
    const { base, host } = corner[family];
    const length = host - wide;
    return { bits: networkOf(plus(base, place), length), length };
  });

const distinct = (list: readonly Prefix[]): Prefix[] => [...new Map(list.map((p) => [formatPrefix(p), p])).values()];

const tasks = fc.constantFrom<4 | 6>(4, 6).chain((family) =>
  fc
    .record({
      own: fc.array(partOf(family), { maxLength: 7 }),
      others: fc.array(partOf(family), { maxLength: 5 }),
      narrow: fc.boolean(),
      atMost: fc.integer({ min: 1, max: 3 }),
      allowForeign: fc.nat(2),
    })
    .map(({ own, others, narrow, atMost, allowForeign }): Task & Limits & { readonly family: 4 | 6 } => {
      const { base, host } = corner[family];
      const parts = distinct(own);
      const foreign = distinct(others).filter((o) => !parts.some((p) => formatPrefix(p) === formatPrefix(o)));
      const whole = { bits: base, length: host - bits };
      const supernets = narrow ? [{ bits: base, length: host - bits + 1 }] : [whole];
      return { family, parts, foreign: foreign.map((p) => ({ prefix: p, area: 7 })), supernets, atMost, allowForeign };
    }),
);

/** Every prefix that could be a summary: of any length, not shorter than what holds all parts. */
function candidates({ family, parts, foreign, supernets, allowForeign }: Task & Limits & { readonly family: 4 | 6 }): Prefix[] {
  const { base, host } = corner[family];
  const all: Prefix[] = [];
  for (let length = host - bits; length <= host; length++)
    for (let place = 0; place < 2 ** bits; place += 2 ** (host - length)) all.push({ bits: plus(base, place), length });
  const least = hull(parts)?.length ?? 0;
  return all.filter(
    (c) =>
      c.length >= least &&
      parts.some((p) => covers(c, p)) &&
      supernets.some((s) => covers(s, c)) &&
      foreign.filter((f) => covers(c, f.prefix)).length <= allowForeign,
  );
}

/** All sets of so many candidates of which none shares an address with another. */
function* setsOf(list: readonly Prefix[], n: number, from = 0): Generator<readonly Prefix[]> {
  if (n === 0) yield [];
  else
    for (let i = from; i < list.length; i++) {
      const one = list[i] as Prefix;
      for (const rest of setsOf(list, n - 1, i + 1)) if (!rest.some((r) => overlap(r, one))) yield [one, ...rest];
    }
}

const text = (c: Choice): string => `${rowText(c.summaries)} leaves ${rowText(c.outside)}, claims ${c.claimed} and ${c.foreign.length}`;

test('the planner finds what trying every set of prefixes finds, in the stated order, in both families', () => {
  fc.assert(
    fc.property(tasks, (task) => {
      const list = candidates(task).sort(comparePrefixes);
      const best: Choice[] = [];
      for (let n = 0; n <= task.atMost; n++) {
        let first: Choice | undefined;
        for (const set of setsOf(list, n)) {
          const c = judge(task, set);
          if (!first || compareChoices(c, first) < 0) first = c;
        }
        if (first) best.push(first);
      }
      const [whole] = [...best].sort(compareChoices);
      const found = planSummaries(task, task);
      expect(found[0] && text(found[0])).toBe(whole && text(whole));
      // Of each other number too.
      for (const c of found.slice(1)) {
        const same = best.find((b) => b.summaries.length === c.summaries.length);
        expect(same && text(same)).toBe(text(c));
      }
      expect(new Set(found.map((c) => c.summaries.length)).size).toBe(found.length);
    }),
    { numRuns: 150 },
  );
});

test('the planner finds what a plain dynamic programme finds', () => {
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.nat(255), fc.constantFrom(22, 24, 24, 26, 32)), { maxLength: 40 }),
      fc.array(fc.nat(255), { maxLength: 6 }),
      fc.integer({ min: 1, max: 6 }),
      fc.nat(2),
      (own, others, atMost, allowForeign) => {
        const parts = distinct(own.map(([n, length]) => ({ bits: networkOf(0x0a61_0000 + n * 256, length), length })));
        const foreign = distinct(others.map((n) => ({ bits: 0x0a61_0000 + n * 256 + 128, length: 25 }))).map((p) => ({ prefix: p, area: 2 }));
        const task: Task = { parts, foreign, supernets: prefixes('10.96.0.0/11') };
        const plain = plainPlans(task, { atMost, allowForeign }).flatMap((p) => (p ? [p] : []));
        const found = planSummaries(task, { atMost, allowForeign });
        const words = (n: number, x: { summaries: readonly Prefix[]; claimed: bigint }): string => `${n} ${rowText(x.summaries)} ${x.claimed}`;
        for (const c of found) {
          const same = plain.find((x) => x.summaries.length === c.summaries.length);
          expect(same && words(same.outside, same)).toBe(words(c.outside.length, c));
        }
        expect(plain.filter((x) => x.summaries.length > 0)).toHaveLength(found.filter((c) => c.summaries.length > 0).length);
      },
    ),
    { numRuns: 150 },
  );
});
