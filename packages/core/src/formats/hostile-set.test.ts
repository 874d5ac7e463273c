import { checkDesign } from '../findings/catalogue';
import { predict } from '../predict';
import { goodPair, hostileSet } from '../testing/hostile-set';
import { readSet } from './read-set';

test('the set is large enough to say something', () => {
  expect(hostileSet.length).toBeGreaterThanOrEqual(150);
});

test.each(hostileSet)('%s: it is named, and the good ones beside it are right', (_, name, content, must) => {
  const read = readSet([...goodPair(), { name, content }]);
  for (const p of read.problems) {
    expect([p.message, p.remedy].every((w) => w !== '')).toBe(true);
    expect(p.file.startsWith('good')).toBe(false);
  }
  if (must === 'told') expect(read.problems.some((p) => p.file.startsWith(name) || p.file === 'a.json')).toBe(true);
  const p = predict(read.design);
  const pair = p.adjacencies.pairs.find((x) => [x.a, x.b].every((v) => p.design.routers[v.port.routerIndex]?.name.startsWith('good')));
  expect([pair?.a.state, pair?.b.state]).toEqual(['full', 'full']);
  p.design.routers.forEach((r, i) => {
    const rib = p.rib(i);
    if (r.name === 'good-1') expect(rib.map((x) => x.source)).toEqual(expect.arrayContaining(['direct', 'ospf']));
  });
  checkDesign(p, read.documents, { withConsequences: false });
});
