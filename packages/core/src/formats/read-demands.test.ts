import { formatAddress } from '../prefix/address';
import { campus } from '../testing/campus';
import { readDemands } from './read-demands';

const words = (text: string): string[] =>
  readDemands('traffic.csv', text).demands.map((d) =>
    [d.from, d.to]
      .map((x) => (typeof x === 'number' ? formatAddress(x) : x))
      .concat(String(d.mbps))
      .join(' '),
  );
const told = (text: string): string[] =>
  readDemands('traffic.csv', text).problems.map((p) => `${p.severity} ${p.line ?? 0}:${p.column ?? 0} ${p.message}`);

test('addresses of both families, names, decimals; semicolons and a mark at the beginning do as well', () => {
  expect(words('from,to,mbps\n10.96.0.1,labs,12.5\n2001:db8:1::1,2001:db8:2::1,3\n')).toEqual([
    '10.96.0.1 labs 12.5',
    '2001:db8:1::1 2001:db8:2::1 3',
  ]);
  expect(words('\ufeffFrom;To;Mbps;Note\r\nkelp-1;kelp-2;40;backups\r\n\r\n')).toEqual(['kelp-1 kelp-2 40']);
});

test('what is wrong is told with row and column, and the other rows are taken', () => {
  const text = 'from,to,mbps,cost\n10.96.0.1,10.96.0.2,-4\n10.96.0.300,kelp,1\n,kelp,1\n10.96.0.1,2001:db8::1,1\nkelp,reef,7\n';
  expect(words(text)).toEqual(['kelp reef 7']);
  expect(told(text).map((x) => x.slice(0, 60))).toEqual([
    'note 1:0 The column "cost" is not used.',
    'error 2:3 "-4" is not Mbit/s, from 0 to 1,000,000,000.',
    'error 3:1 "10.96.0.300" is not an address such as 10.96.0.1 ',
    'error 4:1 The cell "from" is empty.',
    'error 5:2 The two addresses are of two families.',
  ]);
  expect(told('a,b\n1,2\n')).toEqual(['error 1:0 This table has no column "from" and no "to" and no "mbps".']);
});

describe('in the settings of a design', () => {
  const of = (settings: Record<string, unknown>) => campus().router('a', '10.96.0.1', 0).settings(settings).read();

  test('demands and scenarios are read, in their order', () => {
    const { design, problems } = of({
      demand: [{ from: 'a', to: '10.97.1.1', mbps: 40.5 }],
      scenario: [{ name: 'both ducts', fail: ['link:a/x', 'group:duct', 'leader:a/hall'], note: 'the bridge' }],
    });
    expect(problems).toEqual([]);
    expect(design.settings.demands).toMatchObject([{ from: 'a', mbps: 40.5 }]);
    expect(design.settings.scenarios).toMatchObject([{ name: 'both ducts', fail: ['link:a/x', 'group:duct', 'leader:a/hall'], note: 'the bridge' }]);
  });

  test('what is wrong is told, and the rest holds', () => {
    const { design, problems } = of({
      demand: [
        { from: 'a', mbps: 1 },
        { from: 'a', to: 'b', mbps: 'much' },
        { from: '10.96.0.1', to: '2001:db8::1', mbps: 1 },
      ],
      scenario: [{ fail: ['link:a/x'] }, { name: 'x', fail: ['cable:a'] }, { name: 'x', fail: [] }],
    });
    expect(design.settings.demands).toEqual([]);
    expect(design.settings.scenarios.map((s) => [s.name, s.fail])).toEqual([['x', []]]);
    expect(problems.map((p) => p.message.slice(0, 44))).toEqual([
      'This scenario has no name.',
      '"cable:a" is not a failure such as link:kelp',
      'The scenario "x" is written twice.',
      'This demand does not say "to".',
      '"much" is not Mbit/s, from 0 to 1,000,000,00',
      '10.96.0.1 and 2001:db8::1 are of two familie',
    ]);
  });
});
