import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { InputFile } from '../documents/documents';
import { readSet } from '../formats/read-set';
import { converge, Simulation } from './converge';
import { plainProfile } from './timing-profile';

const folder = join(__dirname, '../../recorded-timing');

interface Recorded {
  readonly 'carrier-loss-seen': boolean;
  readonly settings: Readonly<Record<string, number>>;
  readonly all: { readonly 'last-router-done': { readonly min: number; readonly median: number; readonly max: number } };
}

type Json = Record<string, unknown>;

const { results } = JSON.parse(readFileSync(join(folder, 'results.json'), 'utf8')) as { results: readonly Recorded[] };

/** The documents with the timers of one recording put in. */
function documentsOf(r: Recorded): InputFile[] {
  const out: InputFile[] = [];
  const put = (path: string, tree: unknown): unknown => out.push({ name: path, content: JSON.stringify(tree) });
  for (const file of readdirSync(join(folder, 'routers'))) {
    const tree = JSON.parse(readFileSync(join(folder, 'routers', file), 'utf8')) as Json;
    const routing = tree['ietf-routing:routing'] as { 'control-plane-protocols': { 'control-plane-protocol': Json[] } };
    for (const p of routing['control-plane-protocols']['control-plane-protocol']) {
      const ospf = p['ietf-ospf:ospf'] as Json & { areas: { area: { interfaces: { interface: Json[] } }[] } };
      ospf['gentle-compass:spf-schedule'] = {
        'first-delay': r.settings['spf-delay-ms'],
        hold: r.settings['spf-initial-hold-ms'],
        'maximum-hold': r.settings['spf-maximum-hold-ms'],
      };
      for (const i of ospf.areas.area.flatMap((a) => a.interfaces.interface)) {
        if (i['hello-interval'] === undefined) continue;
        Object.assign(i, {
          'hello-interval': r.settings['hello-interval'],
          'dead-interval': r.settings['dead-interval'],
          'retransmit-interval': r.settings['retransmit-interval'],
        });
      }
    }
    put(file, tree);
  }
  const topology = readFileSync(join(folder, 'topology.json'), 'utf8');
  put(
    'topology.json',
    JSON.parse(
      topology.replace('"gentle-compass:carrier-loss-seen": false', `"gentle-compass:carrier-loss-seen": ${String(r['carrier-loss-seen'])}`),
    ),
  );
  return out;
}

const lines: string[] = [];
afterAll(() => process.stdout.write(`recorded reconvergence, ms:\n${lines.join('\n')}\n`));

test.each(results.map((r) => ({ r, seen: r['carrier-loss-seen'] })))('a ring loses a link as recorded, carrier seen: $seen', ({ r, seen }) => {
  const { design, problems } = readSet(documentsOf(r));
  expect(problems).toEqual([]);
  const spec = { kind: 'link', router: 'tide-1', iface: 'to-tide-2' } as const;
  const simulation = new Simulation(design, 4, [{ ms: 0, kind: 'fail', spec }]);
  const { lastChange, lastChanges } = converge([simulation], { profile: plainProfile, seed: 7, runs: 300, whole: false });
  const median = 1000 * r.all['last-router-done'].median;
  lines.push(
    `  carrier ${seen ? 'seen' : 'not seen'}: recorded ${median}, simulated ${Object.values(lastChange ?? {})
      .map((x) => (x as number).toFixed(0))
      .join(' / ')}`,
  );
  expect(lastChanges).toHaveLength(300);
  expect(lastChange?.earliest).toBeLessThanOrEqual(median);
  expect(lastChange?.latest).toBeGreaterThanOrEqual(median);
  expect(Math.abs((lastChange?.typical ?? 0) / median - 1)).toBeLessThan(0.25);
});
