import { oftenWords, untouched, wishOf } from './tune-panel';
import { readSpan } from './times-panel';

test('a wish is what differs from what is; a field that cannot be is told', () => {
  expect(wishOf(untouched, undefined)).toBeUndefined();
  expect(wishOf({ ...untouched, hello: '1', dead: '4' }, undefined)).toMatchObject({ where: 'around', hello: 1, dead: 4, loss: 0.001 });
  expect(wishOf({ ...untouched, bfd: 'on' }, undefined)).toMatchObject({ bfd: { interval: 50, multiplier: 3 } });
  expect(wishOf({ ...untouched, spf: 'doubling', delays: ['10', '100', '50'] }, undefined)).toMatchObject({
    spf: { kind: 'doubling', first: 10, hold: 100, maximum: 100 },
  });
  expect(wishOf({ ...untouched, where: 'router', hello: '1' }, 'kelp-1')).toMatchObject({ where: { router: 'kelp-1' } });
  for (const f of [
    { hello: '0' },
    { hello: '4', dead: '4' },
    { dead: 'soon' },
    { bfd: 'on' as const, multiplier: '0' },
    { spf: 'fixed' as const, delays: [''] },
    { loss: '100', hello: '1' },
  ])
    expect(typeof wishOf({ ...untouched, ...f }, undefined)).toBe('string');
  expect(wishOf({ ...untouched, where: 'router', hello: '1' }, undefined)).toContain('Choose a router');
});

test('how often, in words', () => {
  expect([0, 1 / 1000, 1 / 4, 2.25, 1234].map(oftenWords)).toEqual(['none in 1,000 y', '1 in 3 years', '1 in 4 days', '2.3 a day', '1,234 a day']);
});

test('a time is one number or two', () => {
  expect(['8', ' 8 to 16 ', '0.5-1', '3,7', '4 to 4'].map(readSpan)).toEqual([8, [8, 16], [0.5, 1], [3, 7], 4]);
  for (const t of ['', 'soon', '5 to', '9 to 8', '1 to 4000000', '-3']) expect(typeof readSpan(t)).toBe('string');
});
