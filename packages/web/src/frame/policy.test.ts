import { contentPolicy, isOwnHost } from './policy';

test('scripts come from this origin or by nonce, nothing is evaluated, framed or fetched from elsewhere', () => {
  const policy = new Map(
    contentPolicy('abc')
      .split('; ')
      .map((p) => [p.slice(0, p.indexOf(' ')), p.slice(p.indexOf(' ') + 1)]),
  );
  expect(policy.get('default-src')).toBe("'none'");
  expect(policy.get('script-src')).toBe("'self' 'nonce-abc'");
  expect([policy.get('frame-ancestors'), policy.get('frame-src'), policy.get('object-src'), policy.get('base-uri')]).toEqual(Array(4).fill("'none'"));
  expect(contentPolicy('abc')).not.toMatch(/unsafe-eval|https?:|\*/);
});

test.each([
  ['localhost:4310', undefined, true],
  ['127.0.0.1:4310', undefined, true],
  ['[::1]:4310', undefined, true],
  ['campus.localhost', undefined, true],
  ['127.0.0.1.evil.example', undefined, false],
  ['localhost.evil.example:4310', undefined, false],
  ['evil.example', undefined, false],
  ['10.96.0.1:4310', undefined, false],
  [null, undefined, false],
  ['planner.station.example', '0.0.0.0', true],
  ['planner.station.example', '127.0.0.1', false],
  ['planner.station.example', '', false],
] as [string | null, string | undefined, boolean][])('asked as %p while listening on %p: %p', (host, opened, taken) => {
  expect(isOwnHost(host, opened)).toBe(taken);
});
