import { compareNeighbors } from '../compare/compare';
import { predict, type Prediction } from '../predict';
import { readEntry } from '../entry/entry';
import { applyEdits } from '../design/edit';
import { formatPrefix } from '../prefix/address';
import { sample } from '../testing/sample';
import { tableOf, writeCsv } from '../reports/csv';
import type { SourceDocument } from '../documents/documents';
import { readSet } from './read-set';

const table = (p: Prediction, of: 'routers' | 'interfaces' | 'links'): string => writeCsv(tableOf(of, p, []));
const set = (files: Readonly<Record<string, string>>) => readSet(Object.entries(files).map(([name, content]) => ({ name, content })));

const three = {
  'routers.csv': 'router,router-id,loopback,area\nskerry-1,10.96.0.1,10.96.0.1,0\nskerry-2,,10.96.0.2,0\ngull-1,,10.97.0.1,10\n',
  'interfaces.csv': 'router,interface,addresses,area,passive,cost\nskerry-2,nests,10.96.8.1/24,0,yes,7\n',
  'links.csv':
    'router,interface,other-router,other-interface,subnet,area,cost,other-cost\n' +
    'skerry-1,to-skerry-2,skerry-2,to-skerry-1,10.96.128.0/31,0,5,6\n' +
    'skerry-2,to-gull-1,gull-1,to-skerry-2,10.97.128.0/255.255.255.252,0.0.0.10,20,\n',
};

test('a campus is built from tables of routers, interfaces and links', () => {
  const read = set(three);
  expect(read.problems).toEqual([]);
  const p = predict(read.design);
  expect(p.adjacencies.pairs.map((x) => [x.a.state, x.a.port.cost, x.b.port.cost])).toEqual([
    ['full', 20, 20],
    ['full', 5, 6],
  ]);
  expect(p.rib(p.routerIndex('gull-1')).map((r) => `${formatPrefix(r)} ${r.route?.metric ?? ''}`)).toEqual(
    expect.arrayContaining(['10.96.8.0/24 27', '10.96.0.1/32 26', '10.96.128.0/31 26']),
  );
});

test('the sample campus, exported as tables and built from them again, has the same neighbours', () => {
  const first = predict(sample('saltmarsh-point').design);
  const read = set({ 'routers.csv': table(first, 'routers'), 'interfaces.csv': table(first, 'interfaces'), 'links.csv': table(first, 'links') });
  expect(read.problems.filter((p) => p.severity === 'error')).toEqual([]);
  const again = predict(read.design);
  expect(again.design.routers.map((r) => r.name)).toEqual(first.design.routers.map((r) => r.name));
  expect(again.adjacencies.pairs).toHaveLength(first.adjacencies.pairs.length);
  expect(compareNeighbors(first, again)).toEqual([]);
});

test('a plain campus comes back with every route', () => {
  const lines = [
    'router a',
    'router b',
    'router c area 10',
    'link a b cost 5',
    'link b c area 10 cost 9',
    'lan d on c',
    'lan e on a b cost 30',
    'set hello 3 on all',
    'set dead 12 on all',
  ];
  const documents = lines.reduce<SourceDocument[]>((d, l) => applyEdits(d, readEntry(l, d).plan?.edits ?? []), []);
  const first = predict(readSet(documents.map((d) => ({ name: d.file, content: JSON.stringify(d.tree) }))).design);
  const again = predict(set({ 'r.csv': table(first, 'routers'), 'i.csv': table(first, 'interfaces') }).design);
  const words = (p: Prediction): string[] =>
    p.design.routers.flatMap((r, i) =>
      p.rib(i).map((x) => `${r.name} ${formatPrefix(x)} ${x.route?.type ?? x.source} ${x.route?.metric ?? ''} ${x.hops.length}`),
    );
  expect(words(again)).toEqual(words(first));
});

test('wrong cells are told one by one with row and column, and everything else is read', () => {
  const read = set({
    'routers.csv': 'router;router-id;loopback\nskerry-1;10.96.0;10.96.0.1\n;10.96.0.9;\nskerry-1;;\n',
    'interfaces.csv': '\ufeffrouter,interface,addresses,cost,passive\nskerry-1,hall,10.96.8.1/33,seven,maybe\nskerry-9,hall,,,\nskerry-1,hall,,,\n',
    'links.csv': 'router,interface,other-router,other-interface,subnet\nskerry-1,x,skerry-7,y,10.96.128.0/31\nskerry-1,z,skerry-1,z,\n',
    'fish.csv': 'species,weight\ncod,3\n',
  });
  const told = read.problems.map((p) => `${p.file} ${p.line ?? ''}:${p.column ?? ''} ${p.message}`);
  expect(told).toEqual([
    'fish.csv 1: This header is none of a campus: species, weight.',
    'routers.csv 2:2 "10.96.0" is not a router id other than 0.0.0.0, such as 10.96.0.1.',
    'routers.csv 3:1 The cell "router" is empty.',
    'routers.csv 4:1 The router "skerry-1" stands twice.',
    'interfaces.csv 2:3 "10.96.8.1/33" is not addresses with their lengths, such as 10.96.128.0/31.',
    'interfaces.csv 2:5 "maybe" is not yes or no.',
    'interfaces.csv 2:4 "seven" is not a whole number from 0 to 65,535.',
    'interfaces.csv 3:1 There is no router "skerry-9" in the table of routers.',
    'interfaces.csv 4:2 skerry-1 has the interface "hall" already.',
    'links.csv 2:3 There is no router "skerry-7" in the tables.',
    'links.csv 3:5 skerry-1 has no interface "z", and this link has no subnet to make it with.',
    'links.csv 3:5 skerry-1 has no interface "z", and this link has no subnet to make it with.',
  ]);
  expect(read.design.routers.map((r) => [r.name, r.interfaces.map((i) => i.name)])).toEqual([['skerry-1', ['lo', 'hall', 'x']]]);
});

test('quotes, line ends and neutralised cells of a spreadsheet', () => {
  const read = set({ 'routers.csv': 'Router , Router ID\r\n"skerry-1",10.96.0.1\r\n\r\n"say ""hello""",10.96.0.2\r\n\'-dulse,10.96.0.3\r\n' });
  expect(read.problems).toEqual([]);
  expect(read.design.routers.map((r) => r.name)).toEqual(['-dulse', 'say "hello"', 'skerry-1']);
});
