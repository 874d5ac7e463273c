import { sendingKey } from '../adjacency/hello-match';
import { formatPrefix } from '../prefix/address';
import { Cursor, showValue, type ReadContext } from '../documents/cursor';
import { areaId, flag, integer, ipv4, nameText, oneOf, routerIdText, typedPrefix } from '../documents/leaf-types';
import { readAuthentication, readKeyChains } from './read-authentication';
import { readPolicies } from './read-policy';
import { readRouter } from './read-router';
import { readSet } from './read-set';
import { readTopology } from './read-topology';

const cursor = (node: Record<string, unknown>): { root: Cursor; context: ReadContext } => {
  const context: ReadContext = { file: 'f.json', problems: [], notUsed: [] };
  return { root: Cursor.root(context, node), context };
};

describe('a walk through a tree', () => {
  test('leaves are read by name with or without module; what is not asked for is listed', () => {
    const { root, context } = cursor({ 'm:a': 5, b: { 'm:c': 'x', d: 1 }, list: [{ name: 'one', e: 2 }] });
    expect(root.leaf('a', integer(0, 9))).toBe(5);
    expect(root.child('b')?.leaf('c', nameText)).toBe('x');
    expect(root.list('list', 'name').map((l) => l.leaf('name', nameText))).toEqual(['one']);
    root.finish();
    expect(context.notUsed).toEqual(['b/d', 'list[name=one]/e']);
  });
  test('an address with host bits where a prefix is meant says how it was read', () => {
    const { root, context } = cursor({ a: '10.97.1.5/24', b: '10.97.1.0/24', c: '10.97.1.5', d: '10.97.1.5/255.255.255.0' });
    expect(['a', 'b', 'c', 'd'].map((x) => formatPrefix(root.leaf(x, typedPrefix) ?? { bits: 0, length: 0 }))).toEqual([
      '10.97.1.0/24',
      '10.97.1.0/24',
      '10.97.1.5/32',
      '10.97.1.0/24',
    ]);
    expect(context.problems.map((p) => [p.severity, p.path, p.message])).toEqual([
      ['note', 'a', '"10.97.1.5/24" is an address with its length, and was read as the prefix 10.97.1.0/24.'],
      ['note', 'd', '"10.97.1.5/255.255.255.0" is an address with its length, and was read as the prefix 10.97.1.0/24.'],
    ]);
  });
  test('0.0.0.0 is no router id, and a multicast address is one', () => {
    const { root, context } = cursor({ a: '0.0.0.0', b: '224.0.0.5', c: '255.255.255.255' });
    expect(['a', 'b', 'c'].map((x) => root.leaf(x, routerIdText))).toEqual([undefined, 0xe000_0005, 0xffff_ffff]);
    expect(context.problems.map((p) => `${p.path}: ${p.message} ${p.remedy}`)).toEqual([expect.stringContaining('other than 0.0.0.0')]);
  });
  test('what stands in the wrong shape is told with its path, and nothing is thrown', () => {
    const { root, context } = cursor({ box: 'text', list: { a: 1 }, entries: [1, { name: 'x' }], flags: 'yes' });
    expect([root.child('box'), root.list('list', 'name'), root.list('entries', 'name').length, root.leafList('flags', flag)]).toEqual([
      undefined,
      [],
      1,
      undefined,
    ]);
    expect(context.problems.map((p) => p.path)).toEqual(['box', 'list', 'entries[1]', 'flags']);
  });
  test('the empty leaf of RFC 7951 is there and holds nothing', () => {
    expect(
      cursor({ always: [null] })
        .root.child('always')
        ?.written().size,
    ).toBe(0);
  });
  test('values in messages are short and harmless', () => {
    expect(showValue('a\u202eb\u0007')).toBe('"a·b\\u0007"');
    expect(showValue('x'.repeat(500)).length).toBeLessThanOrEqual(60);
  });
});

test.each([
  [integer(1, 10), [1, '10', 0, 11, 1.5, '1e1', true], [1, 10, undefined, undefined, undefined, undefined, undefined]],
  [areaId, [10, '10', '0.0.0.10', '0.0.0.256', -1, '4294967296'], [10, 10, 10, undefined, undefined, undefined]],
  [ipv4, ['10.0.0.1', '010.0.0.1', 7, ''], [0x0a00_0001, undefined, undefined, undefined]],
  [oneOf(['type-1', 'type-2']), ['type-1', 'm:type-2', 'type-3', 1], ['type-1', 'type-2', undefined, undefined]],
  [nameText, ['kelp-1', '', ' x', 'a\u200bb', 'y'.repeat(256)], ['kelp-1', undefined, undefined, undefined, undefined]],
] as const)('leaf types take what they should and nothing else', (type, values, wanted) => {
  const got = values.map((value) => cursor({ x: value }).root.leaf('x', type as never));
  expect(got).toEqual(wanted);
});

test('key chains: hexadecimal keys equal their text, ids fit sixteen bits, in version 2 eight, the key sent is the one that began last', () => {
  const chains = readKeyChains(
    cursor({
      'key-chains': {
        'key-chain': [
          {
            name: 'tide',
            key: [
              {
                'key-id': 257,
                'crypto-algorithm': 'ietf-key-chain:hmac-sha-256',
                'key-string': { 'hexadecimal-string': '61:62' },
                lifetime: { 'send-lifetime': { 'start-date-time': '2026-01-01T00:00:00Z' } },
              },
              { 'key-id': '2', 'key-string': { keystring: 'ab' }, lifetime: { 'send-lifetime': { 'start-date-time': '2026-06-01T00:00:00Z' } } },
            ],
          },
        ],
      },
    }).root,
  );
  const keys = chains.get('tide') ?? [];
  expect(keys.map((k) => [k.id, k.algorithm, k.secret])).toEqual([
    [257, 'hmac-sha-256', 'ab'],
    [2, 'md5', 'ab'],
  ]);
  expect(keys.map((k) => k.send)).toEqual([{ from: Date.UTC(2026, 0, 1) }, { from: Date.UTC(2026, 5, 1) }]);
  const of = (version: 2 | 3): number[] =>
    readAuthentication(cursor({ authentication: { [`ospfv${version}-key-chain`]: 'tide' } }).root, chains, undefined, version).keys.map((k) => k.id);
  expect([of(2), of(3)]).toEqual([
    [1, 2],
    [257, 2],
  ]);
  expect(sendingKey({ required: true, keys })?.id).toBe(2);
  expect(sendingKey({ required: false, keys })).toBeUndefined();
});

test('policies: sets with bounds, tag sets, called policies, results', () => {
  const book = readPolicies(
    cursor({
      'routing-policy': {
        'defined-sets': {
          'prefix-sets': {
            'prefix-set': [
              {
                name: 'labs',
                prefixes: {
                  'prefix-list': [{ 'ip-prefix': '10.97.0.0/16', 'mask-length-lower': 24, 'mask-length-upper': 26 }, { 'ip-prefix': '10.98.0.0/16' }],
                },
              },
            ],
          },
          'tag-sets': { 'tag-set': [{ name: 'tags', 'tag-value': [7, '0.0.0.9'] }] },
        },
        'policy-definitions': {
          'policy-definition': [
            {
              name: 'in',
              statements: {
                statement: [
                  {
                    name: 's',
                    conditions: {
                      'call-policy': 'other',
                      'match-prefix-set': { 'prefix-set': 'labs', 'match-set-options': 'invert' },
                      'match-tag-set': { 'tag-set': 'tags' },
                    },
                    actions: { 'policy-result': 'reject-route' },
                  },
                ],
              },
            },
          ],
        },
      },
    }).root,
  );
  expect(book.sets.get('labs')?.lines.map((l) => `${formatPrefix(l.prefix)} ${l.from}-${l.to}`)).toEqual([
    '10.97.0.0/16 24-26',
    '10.98.0.0/16 16-16',
  ]);
  expect(book.definitions.get('in')?.statements[0]).toMatchObject({
    callPolicy: 'other',
    matchSet: { name: 'labs', invert: true },
    matchTags: [7, 9],
    actions: { result: 'reject' },
  });
});

test('topologies: links with and without carrier loss, risk groups, a link without an end', () => {
  const { root, context } = cursor({});
  expect(root.written().size).toBe(0);
  const topology = readTopology(
    {
      'ietf-network:networks': {
        network: [
          {
            'network-id': 'n',
            'ietf-network-topology:link': [
              {
                'link-id': 'one',
                source: { 'source-node': 'a', 'source-tp': 'x' },
                destination: { 'dest-node': 'reef' },
                'gentle-compass:carrier-loss-seen': false,
              },
              { 'link-id': 'half', source: { 'source-node': 'a' } },
            ],
            'gentle-compass:risk-groups': [{ name: 'duct', members: ['one'] }],
          },
        ],
      },
    },
    context,
  );
  expect(topology.links).toEqual([{ id: 'one', from: { node: 'a', point: 'x' }, to: { node: 'reef', point: '' }, carrierLossSeen: false }]);
  expect(topology.riskGroups).toEqual([{ name: 'duct', members: ['one'] }]);
  expect(context.problems).toHaveLength(1);
});

test('a prefix typed with host bits is read as its network', () => {
  expect(cursor({ p: '10.97.8.77/24' }).root.leaf('p', typedPrefix)).toMatchObject({ bits: 0x0a61_0800, length: 24, hostBits: true });
});

test('a second topology is told and left out', () => {
  const one = JSON.stringify({ 'ietf-network:networks': { network: [] } });
  expect(
    readSet([
      { name: 'a.json', content: one },
      { name: 'b.json', content: one },
    ]).problems[0],
  ).toMatchObject({ file: 'b.json', message: 'This is a second topology document.' });
});

test('a container that is asked for twice remembers what was used the first time', () => {
  const context = { file: 'x', problems: [], notUsed: [] as string[] };
  const root = Cursor.root(context, { a: { one: '1', two: '2', three: '3' } });
  root.child('a')?.leaf('one', nameText);
  root.child('a')?.leaf('two', nameText);
  root.finish();
  expect(context.notUsed).toEqual(['a/three']);
});

test('IPv6 static routes and prefix sets are read as those of IPv4 are', () => {
  const tree = {
    'ietf-system:system': { hostname: 'a' },
    'ietf-routing:routing': {
      'control-plane-protocols': {
        'control-plane-protocol': [
          {
            type: 'static',
            name: 's',
            'static-routes': {
              'ietf-ipv6-unicast-routing:ipv6': {
                route: [
                  { 'destination-prefix': '2001:db8:7::1/48', 'next-hop': { 'next-hop-address': '2001:db8::1', 'outgoing-interface': 'x' } },
                  { 'destination-prefix': '::/0', 'next-hop': { 'special-next-hop': 'blackhole' }, 'route-preference': 7 },
                  { 'destination-prefix': '10.0.0.0/8', 'next-hop': { 'special-next-hop': 'blackhole' } },
                ],
              },
            },
          },
        ],
      },
    },
    'ietf-routing-policy:routing-policy': {
      'defined-sets': {
        'prefix-sets': {
          'prefix-set': [
            {
              name: 'six',
              mode: 'ipv6',
              prefixes: { 'prefix-list': [{ 'ip-prefix': '2001:db8::/32', 'mask-length-lower': 48, 'mask-length-upper': 64 }] },
            },
            { name: 'both', mode: 'mixed', prefixes: { 'prefix-list': [{ 'ip-prefix': '2001:db8::/32' }, { 'ip-prefix': '10.96.0.0/11' }] } },
          ],
        },
      },
    },
  };
  const context: ReadContext = { file: 'a.json', problems: [], notUsed: [] };
  const router = readRouter(tree, context);
  const wide = 0x2001_0db8n << 96n;
  expect(router?.staticRoutes6).toEqual([
    { prefix: { bits: wide | (7n << 80n), length: 48 }, nextHops: [{ address: wide | 1n, iface: 'x' }], discard: false, preference: 1 },
    { prefix: { bits: 0n, length: 0 }, nextHops: [], discard: true, preference: 7 },
  ]);
  expect(router?.policies.sets.get('six')).toEqual({ name: 'six', lines: [], lines6: [{ prefix: { bits: wide, length: 32 }, from: 48, to: 64 }] });
  expect(router?.policies.sets.get('both')?.lines).toHaveLength(1);
  expect(router?.policies.sets.get('both')?.lines6).toEqual([{ prefix: { bits: wide, length: 32 }, from: 32, to: 32 }]);
  expect(context.problems.map((p) => p.message)).toEqual(['"10.0.0.0/8" is not an IPv6 prefix, as in 2001:db8:10::/48.']);
  expect(context.notUsed).toEqual([]);
});
