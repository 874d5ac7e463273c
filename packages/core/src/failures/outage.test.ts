import { campus, type Campus } from '../testing/campus';
import { findSegments } from '../segments/segments';
import { addFailure, formatFailure, noOutage, parseFailure, routersHit, type Outage } from './outage';

test.each(['link:kelp-1/to-kelp-2', 'interface:kelp-1/eth0/1', 'lan:kelp-1/reef', 'router:kelp-1', 'group:west duct'])(
  '%s is read, and written as it was',
  (text) => {
    const f = parseFailure(text);
    expect(typeof f).toBe('object');
    if (typeof f === 'object') expect(formatFailure(f)).toBe(text);
  },
);

test.each([
  ['', 'is no failure'],
  ['kelp-1', 'is no failure'],
  ['cable:kelp-1/a', 'is no failure'],
  ['router:', 'is no failure'],
  ['link:kelp-1', 'lacks the interface; write link:ROUTER/INTERFACE'],
  ['lan:/reef', 'lacks the interface'],
  ['interface:kelp-1/', 'lacks the interface'],
])('"%s" is refused with what to write', (text, words) => {
  expect(parseFailure(text)).toContain(words);
});

/** a and b on a cable, and all three on a LAN. */
const net = (): Campus =>
  campus()
    .router('a', '10.96.0.1', 0)
    .router('b', '10.96.0.2', 0)
    .router('c', '10.96.0.3', 0)
    .cable('a', 'b', '10.96.1.0', 0)
    .lan('reef', '10.97.1.0/24', 0, ['a', 'b', 'c']);
const unseen = { 'gentle-compass:carrier-loss-seen': false };

/** What failures take down, in words. */
function down(c: Campus, ...failures: string[]): { words: string[]; problems: string[]; outage: Outage } {
  const { design } = c.read();
  const segments = findSegments(design);
  let outage = noOutage;
  const problems: string[] = [];
  for (const f of failures) {
    const spec = parseFailure(f);
    if (typeof spec === 'string' || spec.kind === 'leader') throw new Error(f);
    const added = addFailure(design, segments, outage, spec);
    outage = added.outage;
    problems.push(...added.problems);
  }
  const place = (key: string): string => {
    const [r, i] = key.split('/').map(Number);
    return `${design.routers[r ?? -1]?.name}/${design.routers[r ?? -1]?.interfaces[i ?? -1]?.name}`;
  };
  const words = [
    ...[...outage.routers].map((r) => `router ${design.routers[r]?.name}`),
    ...[...outage.ports].map((k) => `down ${place(k)}`),
    ...[...outage.severed].map((k) => `cut ${place(k)}`),
  ].sort();
  return { words, problems, outage };
}

test('what each kind of failure takes down, with the loss of carrier seen and not', () => {
  expect(down(net(), 'link:a/to-b').words).toEqual(['down a/to-b', 'down b/to-a']);
  expect(down(net(), 'interface:a/to-b').words).toEqual(['down a/to-b', 'down b/to-a']);
  // A port of a LAN takes nobody else along; the LAN takes all.
  expect(down(net(), 'link:a/reef').words).toEqual(['down a/reef']);
  expect(down(net(), 'interface:a/reef').words).toEqual(['down a/reef']);
  expect(down(net(), 'lan:c/reef').words).toEqual(['down a/reef', 'down b/reef', 'down c/reef']);
  expect(down(net(), 'router:a').words).toEqual(['down b/to-a', 'router a']);
  const dark = net().links(['a/to-b b/to-a'], unseen);
  expect(down(dark, 'link:a/to-b').words).toEqual(['cut a/to-b', 'cut b/to-a']);
  // Who is switched off knows it; the other end does not.
  expect(down(dark, 'interface:a/to-b').words).toEqual(['cut b/to-a', 'down a/to-b']);
  expect(down(dark, 'router:a').words).toEqual(['cut b/to-a', 'router a']);
});

test('failures add up, and the outage before is left as it was', () => {
  const both = down(net(), 'link:a/to-b', 'router:c');
  expect(both.words).toEqual(['down a/to-b', 'down b/to-a', 'router c']);
  expect([noOutage.routers.size, noOutage.ports.size, noOutage.severed.size]).toEqual([0, 0, 0]);
  const one = down(net(), 'link:a/to-b');
  expect([...routersHit(noOutage, one.outage)].sort()).toEqual([0, 1]);
  expect([...routersHit(both.outage, one.outage)]).toEqual([2]);
  expect(routersHit(both.outage, both.outage).size).toBe(0);
});

test('a shared risk takes down its members: links by id, routers and ports by name', () => {
  const c = net().links(['a/to-b b/to-a'], {}, [{ name: 'duct', members: ['l0', 'c', 'interface:a/reef'] }]);
  expect(down(c, 'group:duct').words).toEqual(['down a/reef', 'down a/to-b', 'down b/to-a', 'router c']);
});

test('names that are not there are told, and the rest is taken down', () => {
  const c = net().links(['a/to-b b/to-a'], {}, [{ name: 'duct', members: ['router:a', 'router:gone', 'link:b/gone'] }]);
  const { words, problems } = down(c, 'group:duct', 'group:west', 'router:nobody');
  expect(words).toEqual(['down b/to-a', 'router a']);
  expect(problems).toEqual([
    'There is no router "gone".',
    'Router b has no interface "gone".',
    'There is no shared-risk group "west"; known are: duct.',
    'There is no router "nobody".',
  ]);
});
