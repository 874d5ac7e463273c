import { formatPrefix } from '../prefix/address';
import { parseIpv4 } from '../prefix/ipv4';
import { parseFailure } from '../failures/outage';
import { campus, type Campus } from '../testing/campus';
import { converge, simulationsOf } from './converge';
import { Replay } from './replay';
import type { Happening } from './simulate';
import { plainProfile, type TimingProfile } from './timing-profile';

const cutOf = (word: string): Happening => {
  const spec = parseFailure(word);
  if (typeof spec === 'string') throw new Error(spec);
  return { ms: 0, kind: 'fail', spec };
};
const ip = (text: string): number => parseIpv4(text) ?? 0;

const exact: TimingProfile = {
  ...plainProfile,
  carrierDetect: 10,
  linkDelay: 1,
  pacing: 0,
  lsaProcessing: 0,
  spfBase: 2,
  spfPerRouter: 0,
  installBase: 3,
  installPerPrefix: 0,
};

/** Five routers in a ring; cove-1 calculates after 100 ms, cove-5 after 300. */
function ring(): Campus {
  const c = campus();
  [100, 100, 300, 100, 300].forEach((delay, n) => c.router(`cove-${n + 1}`, `10.96.0.${n + 1}`, 0, { 'spf-schedule': { 'fixed-delay': delay } }));
  for (let n = 0; n < 5; n++) c.cable(`cove-${n + 1}`, `cove-${((n + 1) % 5) + 1}`, `10.96.1.${2 * n}`, 0, 10);
  return c;
}

const simulations = simulationsOf(ring().read().design, [cutOf('link:cove-1/to-cove-2')], [4]);
const [from, to] = [ip('10.96.0.1'), ip('10.96.0.2')];

/*
 * By hand: carrier at 10, cove-1 calculates from 110 to 112 and has its table at 115; cove-5 hears at 11, calculates from 311 to
 * 313, and has its table at 316.
 */
test('what stands at a moment: neighbours, tables, databases, and what becomes of packets, also going back in time', () => {
  const r = new Replay(simulations, exact, 7);
  const fates = [5, 50, 115, 200, 315, 316, 400, 200, 5].map((ms) => r.stand(ms).flow(from, to)?.fate);
  expect(fates).toEqual(['dropped', 'dropped', 'looping', 'looping', 'looping', 'carried', 'carried', 'looping', 'dropped']);

  expect(r.stand(9).pairs(4)).toEqual([]);
  expect(r.apart(4)).toEqual([]);
  expect(r.stand(10).pairs(4)).toEqual([
    { router: 'cove-1', iface: 'to-cove-2', peer: 'cove-2', peerIface: 'to-cove-1', before: 'full', state: 'down' },
    { router: 'cove-2', iface: 'to-cove-1', peer: 'cove-1', peerIface: 'to-cove-2', before: 'full', state: 'down' },
  ]);
  expect(r.apart(4)).toHaveLength(1);

  const line = (ms: number, router: string) => {
    r.stand(ms);
    const l = r.table(4, router).find((x) => formatPrefix(x.now ?? x.before ?? { bits: 0, length: 0 }) === '10.96.0.2/32');
    return [l && Replay.moved(l), l?.now?.hops.map((h) => h.iface).join(), l?.before?.hops.map((h) => h.iface).join()];
  };
  expect(line(200, 'cove-1')).toEqual([true, 'to-cove-5', 'to-cove-2']);
  expect(line(200, 'cove-5')).toEqual([false, 'to-cove-1', 'to-cove-1']);
  expect(line(316, 'cove-5')).toEqual([true, 'to-cove-4', 'to-cove-1']);

  // The links of the two ends are new: at 10 at home, at 11 next door, at 12 with cove-4.
  const news = (ms: number, router: string) =>
    r
      .stand(ms)
      .database(4, router)
      .filter((h) => h.news > 0)
      .map((h) => `${h.words} ${h.since ?? ''}`);
  expect(news(11, 'cove-1')).toEqual(['links of cove-1, area 0.0.0.0 10']);
  expect(news(11, 'cove-5')).toEqual(['links of cove-1, area 0.0.0.0 11']);
  expect(news(11, 'cove-4')).toEqual([]);
  expect(news(13, 'cove-4')).toEqual(['links of cove-1, area 0.0.0.0 12', 'links of cove-2, area 0.0.0.0 12']);
  expect(r.off()).toEqual([]);
});

test('a router that is switched off has no table, and nobody hears it', () => {
  const r = new Replay(simulationsOf(ring().read().design, [cutOf('router:cove-3')], [4]), exact, 7).stand(20);
  expect(r.off()).toEqual(['cove-3']);
  expect(r.table(4, 'cove-3').filter((l) => l.now)).toEqual([]);
  expect(r.database(4, 'cove-3')).toEqual([]);
  expect(
    r
      .pairs(4)
      .map((p) => `${p.router}>${p.peer}`)
      .sort(),
  ).toEqual(['cove-2>cove-3', 'cove-3>cove-2', 'cove-3>cove-4', 'cove-4>cove-3']);
});

test('at every moment of the typical run packets fare as its flows say', () => {
  const c = converge(simulations, { profile: plainProfile, seed: 3, runs: 9, watch: [{ from, to }] });
  const r = new Replay(simulations, plainProfile, c.typicalSeed);
  const spans = c.flows[0]?.spans ?? [];
  expect(new Set(spans.map((s) => s.fate)).size).toBe(3);
  for (const s of spans)
    for (const ms of [s.fromMs, (s.fromMs + s.toMs) / 2]) {
      const { fate, at, path } = r.stand(ms).flow(from, to) ?? {};
      expect({ fate, at, path }).toEqual({ fate: s.fate, at: s.at, path: s.path });
    }
});
