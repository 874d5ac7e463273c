import { applyEdits } from '../design/edit';
import { designFrom } from '../formats/read-set';
import { predict, type Prediction } from '../predict';
import { campus } from '../testing/campus';
import { freeKeyId, keyTimes, newKeyEdits, rehearseKey } from './key-times';

const day = (n: number): string => `2026-03-${String(n).padStart(2, '0')}T00:00:00Z`;
const iso = (at: number): string => new Date(at).toISOString();
const ms = (n: number): number => Date.parse(day(n));
const key = (id: number, secret: string, lifetime: Record<string, unknown> = {}) => ({
  'key-id': id,
  'crypto-algorithm': 'hmac-sha-256',
  'key-string': { keystring: secret },
  ...(Object.keys(lifetime).length > 0 && { lifetime }),
});
const life = (from: number, until: number): Record<string, unknown> => ({
  'send-accept-lifetime': { 'start-date-time': day(from), 'end-date-time': day(until) },
});

const pairOf = (a: readonly object[], b: readonly object[]) => {
  const port = { 'interface-type': 'point-to-point', authentication: { 'ospfv2-key-chain': 'tide' } };
  const c = campus()
    .router('auk', '10.96.0.1', 0)
    .router('crake', '10.96.0.2', 0)
    .port('auk', 'east', '10.97.0.0/31', 0, port)
    .port('crake', 'west', '10.97.0.1/31', 0, port);
  for (const [router, keys] of [
    ['auk', a],
    ['crake', b],
  ] as const)
    c.document(router, { 'ietf-key-chain:key-chains': { 'key-chain': [{ name: 'tide', key: keys }] } });
  return c;
};
const auths = (p: Prediction) => {
  const [pair] = p.adjacencies.pairs;
  if (!pair) throw new RangeError('no pair');
  return { pair, a: pair.a.port.settings.authentication, b: pair.a.peer.settings.authentication };
};
const next = { id: 7, algorithm: 'hmac-sha-256', secret: 'ebb-and-flow', from: ms(10), apart: 60_000 };

test('the hour at which two chains part is named: one end has no key for what the other begins to send', () => {
  const { a, b } = auths(
    pairOf([key(1, 'k', life(1, 9)), key(2, 'm', life(9, 20))], [key(1, 'k', life(1, 9)), key(2, 'other', life(9, 20))]).predict(),
  );
  const t = keyTimes(a, b, ms(3));
  expect(t).toMatchObject({ together: true, partsAt: ms(9) });
  expect(t.spans.map((s) => [s.a, s.b, s.aTakes && s.bTakes])).toContainEqual(['key 2, hmac-sha-256', 'key 2, hmac-sha-256', false]);
  expect(t.lines.filter((l) => l.id === 2).map((l) => l.unlike)).toEqual([['another key'], ['another key']]);
  expect(t.lines.filter((l) => l.id === 1).map((l) => l.sameAs)).toEqual([[1], [1]]);
  // No key and no part of one is in what is told.
  expect(JSON.stringify(t)).not.toMatch(/"k"|"m"|other"/);
  // Read again at any moment, the network does what was said of it.
  for (const s of t.spans) {
    const moment = s.from ?? (s.until ?? 0) - 1;
    const read = designFrom(
      pairOf([key(1, 'k', life(1, 9)), key(2, 'm', life(9, 20))], [key(1, 'k', life(1, 9)), key(2, 'other', life(9, 20))]).documents(),
      { named: moment },
    );
    expect(predict(read.design).adjacencies.pairs[0]?.a.state === 'full').toBe(s.aTakes && s.bTakes);
  }
});

test('a change of key with lifetimes loses nothing, with clocks apart too; a key that is just replaced does, and it is said for how long', () => {
  const { pair } = auths(pairOf([key(1, 'k')], [key(1, 'k')]).predict());
  const safe = rehearseKey(pair, ['auk', 'crake'], next, ms(3));
  expect(safe.steps.map((s) => s.holds)).toEqual([true, true, true, true, true]);
  expect(safe.safe).toBe(true);
  const plain = rehearseKey(pair, ['auk', 'crake'], next, ms(3), true);
  // 40 s of silence are borne, less a hello that was just missed before and one that is due after.
  expect(plain.steps).toEqual([
    { words: 'auk gets the new key', holds: false, withinS: 20 },
    { words: 'crake gets it too', holds: true, withinS: undefined },
  ]);
  // Chains that were read for a moment of their own are judged by the moments of the change all the same.
  const lived = auths(
    pairOf([key(1, 'k'), key(2, 'm', life(12, 20))], [key(1, 'k')])
      .settings({ now: day(3) })
      .predict(),
  );
  expect(rehearseKey(lived.pair, ['auk', 'crake'], next, ms(3)).safe).toBe(true);
  // One that is sent at once is not there yet on the other end.
  expect(rehearseKey(pair, ['auk', 'crake'], { ...next, from: ms(2) }, ms(3)).safe).toBe(false);
});

test('the edits of a rehearsed change, made one after the other, keep the pair full before, at and after the moment', () => {
  const c = pairOf([key(1, 'k')], [key(1, 'k', life(1, 30))]);
  const documents = c.documents();
  const { a, b } = auths(c.predict());
  const state = (docs: typeof documents, moment: number): string | undefined =>
    predict(designFrom(docs, { named: moment }).design).adjacencies.pairs[0]?.a.state;
  const one = applyEdits(documents, newKeyEdits(documents, 'auk', a, next, iso));
  const two = applyEdits(one, newKeyEdits(one, 'crake', b, next, iso));
  expect(designFrom(two).problems).toEqual([]);
  expect([state(documents, ms(3)), state(one, ms(3)), state(two, ms(3))]).toEqual(['full', 'full', 'full']);
  expect([state(two, ms(10) - 1), state(two, ms(10)), state(two, ms(10) + 120_000), state(two, ms(25))]).toEqual(['full', 'full', 'full', 'full']);
  // Half done at the moment, the two part.
  expect(state(one, ms(10) + 120_000)).not.toBe('full');
  expect(newKeyEdits(documents, 'auk', { ...a, chain: 'another' }, next, iso)).toEqual([]);
});

test('a key that has expired is not brought back by a change; ids stay within what fits', () => {
  const c = pairOf([key(1, 'leaked', life(1, 2)), key(2, 'k', life(1, 28))], [key(1, 'leaked', life(1, 2)), key(2, 'k', life(1, 28))]).settings({
    now: day(5),
  });
  const { a, b } = auths(c.predict());
  const after = applyEdits(c.documents(), newKeyEdits(c.documents(), 'auk', a, next, iso));
  const keys = auths(predict(designFrom(after).design)).a.keys;
  expect(keys.map((k) => [k.id, k.send.until, k.accept.until])).toEqual([
    [1, ms(2), ms(2)],
    [2, ms(10), ms(10) + 60_000],
    [7, undefined, undefined],
  ]);
  expect(freeKeyId(a, b, 255)).toBe(3);
  const full = { required: true, keys: [1, 255].map((id) => ({ id, algorithm: 'md5', secret: 'x', send: {}, accept: {} })) };
  expect([freeKeyId(full, b, 255), freeKeyId(full, b, 65_535)]).toEqual([3, 256]);
});
