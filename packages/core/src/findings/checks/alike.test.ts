import { predict } from '../../predict';
import { campus, type Campus } from '../../testing/campus';
import { applyEdits } from '../../design/edit';
import { designFrom } from '../../formats/read-set';
import { CheckContext } from '../context';
import { alikeGroupEdits, alikeProposals, alikeRows } from './alike';

/** Two border routers b and c of area 10 with a router inside on a cable to each; b and c differ in what is given. */
const border = (b: Record<string, unknown>, c: Record<string, unknown>, policies: Record<string, unknown> = {}): Campus =>
  campus()
    .router('core', '10.96.0.1', 0)
    .router('b', '10.96.0.2', 0, b)
    .router('c', '10.96.0.3', 0, c)
    .router('inner', '10.96.0.4', 10)
    .cable('core', 'b', '10.97.0.0', 0)
    .cable('core', 'c', '10.97.0.2', 0)
    .cable('b', 'inner', '10.97.0.4', 10)
    .cable('c', 'inner', '10.97.0.6', 10)
    .document('b', policies)
    .document('c', policies);
const contextOf = (x: Campus): CheckContext => {
  const read = x.read();
  return new CheckContext(predict(read.design), read.documents, false);
};

test('routers of one role and place are proposed with the reason; named ones are not proposed again, a whole layer is none', () => {
  const c = border({}, {});
  const [one, ...more] = alikeProposals(contextOf(c));
  expect(more).toEqual([]);
  expect(one).toEqual({
    routers: ['b', 'c'],
    why: 'both border routers of area 0.0.0.0 and 0.0.0.10, the cable to core and the cable to inner in common',
  });
  const { documents } = c.read();
  const named = applyEdits(documents, alikeGroupEdits(documents, 'the border', ['b', 'c']));
  const { design } = designFrom(named);
  expect(design.settings.alike.map((g) => [g.name, g.routers])).toEqual([['the border', ['b', 'c']]]);
  expect(alikeProposals(new CheckContext(predict(design), named, false))).toEqual([]);
  // Five spokes around one hub are a layer.
  const star = campus().router('hub', '10.96.0.1', 0);
  for (let i = 0; i < 5; i++) star.router(`s${i}`, `10.96.0.${i + 2}`, 0).cable('hub', `s${i}`, `10.97.0.${2 * i}`, 0);
  expect(alikeProposals(contextOf(star))).toEqual([]);
});

test('side by side: what differs is odd, identity is left out, and the repair makes the row the same', () => {
  const c = border({ 'spf-control': { paths: 8 } }, { 'spf-control': { paths: 4 } });
  const context = contextOf(c);
  const { routers, rows } = alikeRows(context, ['b', 'c', 'nobody']);
  expect(routers).toEqual(['b', 'c']);
  const odd = rows.filter((r) => r.odd.length > 0);
  expect(odd.map((r) => [r.what, r.values])).toEqual([['equal-cost paths', ['8', '4']]]);
  // The cost of each to the core stands in one row, though the interfaces have other names and addresses.
  expect(rows.map((r) => r.what)).toContain('the cable to core: cost');
  const [repair] = odd[0]?.repairs ?? [];
  const mended = applyEdits(c.documents(), repair?.edits ?? []);
  expect(alikeRows(new CheckContext(predict(designFrom(mended).design), mended, false), ['b', 'c']).rows.filter((r) => r.odd.length > 0)).toEqual([]);
});

test('two with neighbours of their own are matched by what these are: each of the pair has one border router of the area', () => {
  const x = campus().router('one', '10.96.0.1', 0).router('two', '10.96.0.2', 0).router('b', '10.96.0.3', 0).router('c', '10.96.0.4', 0);
  x.router('inner', '10.96.0.5', 10)
    .cable('one', 'two', '10.97.0.0', 0)
    .cable('one', 'b', '10.97.0.2', 0, 10)
    .cable('two', 'c', '10.97.0.4', 0, 30)
    .cable('b', 'inner', '10.97.0.6', 10)
    .cable('c', 'inner', '10.97.0.8', 10);
  const { rows } = alikeRows(contextOf(x), ['one', 'two']);
  expect(rows.filter((r) => r.odd.length > 0).map((r) => [r.what, r.values])).toEqual([
    ['the cable to its border router of area 0.0.0.0 and 0.0.0.10: cost', ['10', '30']],
  ]);
});

test('policies are compared by what they say: another name is the same, another prefix is not', () => {
  const book = (name: string, prefix: string) => ({
    'ietf-routing-policy:routing-policy': {
      'defined-sets': {
        'prefix-sets': {
          'prefix-set': [
            {
              name: `${name}-set`,
              mode: 'ipv4',
              prefixes: { 'prefix-list': [{ 'ip-prefix': prefix, 'mask-length-lower': 24, 'mask-length-upper': 24 }] },
            },
          ],
        },
      },
      'policy-definitions': {
        'policy-definition': [
          {
            name,
            statements: {
              statement: [
                { name: 'one', conditions: { 'match-prefix-set': { 'prefix-set': `${name}-set` } }, actions: { 'policy-result': 'accept-route' } },
              ],
            },
          },
        ],
      },
    },
  });
  const of = (b: string, c: string, pb: string, pc: string): string[] => {
    const area = (name: string) => ({ 'summary-in-policy': [name] });
    const x = border({}, {}).document('b', book(b, pb)).document('c', book(c, pc)).area('b', 10, area(b)).area('c', 10, area(c));
    return alikeRows(contextOf(x), ['b', 'c']).rows.flatMap((r) => (r.what.includes('let in') && r.odd.length > 0 ? r.values : []));
  };
  expect(of('north', 'south', '10.97.8.0/24', '10.97.8.0/24')).toEqual([]);
  const differs = of('north', 'south', '10.97.8.0/24', '10.97.9.0/24');
  expect(differs.join(' | ')).toContain('10.97.9.0/24');
});
