import { documentText } from '../src/formats/documents';
import { designFrom, readSet } from '../src/formats/read-set';
import { predict, type Prediction } from '../src/predict';
import { Campus } from '../src/testing/campus';

/** A believable campus: two core routers, areas of ten with two border routers each and a LAN per access router. */
function believable(size: number): Campus {
  const c = new Campus();
  const ip = (n: number): string => `10.${96 + (n >> 16)}.${(n >> 8) & 255}.${n & 255}`;
  let link = 0;
  const cable = (a: string, b: string, area: number, cost: number): void =>
    void c.cable(a, b, `10.112.${(link >> 7) & 255}.${(link++ & 127) * 2}`, area, cost);
  c.router('core-1', ip(1), 0).router('core-2', ip(2), 0);
  cable('core-1', 'core-2', 0, 1);
  let n = 3;
  for (let area = 1; n < size; area++) {
    const borders = [`a${area}-border-1`, `a${area}-border-2`];
    for (const [i, b] of borders.entries()) {
      c.router(b, ip(n++), 0);
      cable(`core-${i + 1}`, b, 0, 10);
    }
    for (let k = 1; k <= 8 && n < size; k++) {
      const name = `a${area}-access-${k}`;
      c.router(name, ip(n++), area);
      for (const b of borders) cable(b, name, area, 20 + (k % 3));
      c.port(name, 'users', `10.${100 + (area >> 5)}.${(area & 31) * 8 + k - 1}.1/24`, area, { passive: true });
    }
  }
  return c;
}

const name = process.argv[2] ?? '';
const size = Number(process.argv[3] ?? 100);
const documents = believable(size).documents();
const texts = documents.map((d) => ({ name: d.file, content: documentText(d) }));

function answerable(p: Prediction): { count: number; checksum: number; of: string } {
  let count = 0;
  let checksum = 0;
  p.design.routers.forEach((_, i) => {
    for (const r of p.rib(i)) {
      count++;
      checksum = (checksum * 31 + r.key + (r.route?.metric ?? 0)) % 1_000_000_007;
    }
  });
  return { count, checksum, of: 'routes' };
}

/** Runs the work a few times to warm up, then takes the best of the rest. */
function time(work: () => unknown): number {
  let best = Infinity;
  for (let i = 0; i < 6; i++) {
    const start = performance.now();
    work();
    if (i >= 2) best = Math.min(best, performance.now() - start);
  }
  return best;
}

const design = designFrom(documents).design;
const whatIf = [{ kind: 'link' as const, router: 'core-1', iface: 'to-core-2' }];
const contenders: Record<string, () => { ms: number; count: number; checksum: number; of: string }> = {
  parse: () => ({ ms: time(() => texts.map((t) => JSON.parse(t.content) as unknown)), count: texts.length, checksum: 0, of: 'documents' }),
  read: () => ({ ms: time(() => readSet(texts)), count: readSet(texts).design.routers.length, checksum: 0, of: 'documents' }),
  predict: () => ({ ms: time(() => predict(design)), ...answerable(predict(design)) }),
  'predict-all': () => ({ ms: time(() => answerable(predict(design))), ...answerable(predict(design)) }),
  'what-if': () => ({ ms: time(() => predict(design, whatIf)), ...answerable(predict(design, whatIf)) }),
};
const contender = contenders[name];
if (!contender) throw new Error(`no contender ${name}; known are ${Object.keys(contenders).join(', ')}`);
process.stdout.write(`${JSON.stringify(contender())}\n`);
