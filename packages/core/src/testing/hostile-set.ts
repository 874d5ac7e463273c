import { strToU8, zipSync } from 'fflate';
import type { InputFile } from '../documents/documents';
import { campus } from './campus';

/** A good pair of documents, which everything bad stands beside. */
export const goodPair = (): InputFile[] =>
  campus()
    .router('good-1', '10.96.0.1', 0)
    .router('good-2', '10.96.0.2', 0)
    .cable('good-1', 'good-2', '10.96.128.0', 0)
    .documents()
    .map((d) => ({ name: d.file, content: JSON.stringify(d.tree) }));

const named = (hostname: unknown, more: object = {}): string => JSON.stringify({ 'ietf-system:system': { hostname }, ...more });
const xml = (inner: string, head = ''): string => `${head}<config xmlns="urn:ietf:params:xml:ns:netconf:base:1.0">${inner}</config>`;
const system = (name: string): string => `<system xmlns="urn:ietf:params:xml:ns:yang:ietf-system"><hostname>${name}</hostname></system>`;
const octets = (...list: (string | number[])[]): Uint8Array =>
  Uint8Array.from(list.flatMap((x) => (typeof x === 'string' ? [...new TextEncoder().encode(x)] : x)));
const utf16 = (text: string, big: boolean): Uint8Array => {
  const units = Array.from({ length: text.length }, (_, i) => text.charCodeAt(i));
  return Uint8Array.from([...(big ? [0xfe, 0xff] : [0xff, 0xfe]), ...units.flatMap((c) => (big ? [c >> 8, c & 255] : [c & 255, c >> 8]))]);
};

/** A router whose one interface, process, area or route has an odd value. */
const iface = (leaf: string, value: unknown): string => named('odd', { 'ietf-interfaces:interfaces': { interface: [{ name: 'e', [leaf]: value }] } });
const ip = (address: unknown): string => iface('ietf-ip:ipv4', { address });
const ospf = (tree: unknown): string =>
  named('odd', {
    'ietf-interfaces:interfaces': { interface: [{ name: 'e', 'ietf-ip:ipv4': { address: [{ ip: '10.96.9.1', 'prefix-length': 24 }] } }] },
    'ietf-routing:routing': {
      'control-plane-protocols': { 'control-plane-protocol': [{ type: 'ietf-ospf:ospfv2', name: 'campus', 'ietf-ospf:ospf': tree }] },
    },
  });
const port = (leaf: string, value: unknown): string =>
  ospf({ 'explicit-router-id': '10.96.9.1', areas: { area: [{ 'area-id': '0.0.0.0', interfaces: { interface: [{ name: 'e', [leaf]: value }] } }] } });
const area = (leaf: string, value: unknown): string =>
  ospf({ 'explicit-router-id': '10.96.9.1', areas: { area: [{ 'area-id': '0.0.0.9', [leaf]: value, interfaces: { interface: [{ name: 'e' }] } }] } });
const statics = (route: unknown): string =>
  named('odd', {
    'ietf-routing:routing': {
      'control-plane-protocols': {
        'control-plane-protocol': [{ type: 'static', name: 's', 'static-routes': { 'ietf-ipv4-unicast-routing:ipv4': { route } } }],
      },
    },
  });
const topology = (network: unknown): string => JSON.stringify({ 'ietf-network:networks': { network } });
const settings = (tree: unknown): string => JSON.stringify({ 'gentle-compass:settings': tree });

/** What is wrong with it, its name, its content; whether anything must be said of it. */
export type Hostile = readonly [string, string, string | Uint8Array, 'told' | 'quiet'];
const told = (what: string, name: string, content: string | Uint8Array): Hostile => [what, name, content, 'told'];
const quiet = (what: string, name: string, content: string | Uint8Array): Hostile => [what, name, content, 'quiet'];

const texts: Hostile[] = [
  ...[
    '',
    ' ',
    '{',
    '}',
    '[',
    '{"a"',
    '{"a":',
    '{"a":1',
    '{"a":1,',
    '{"a":1,}',
    "{'a':1}",
    '{a:1}',
    '{"a":01}',
    '{"a":+1}',
    '{"a":.5}',
    '{"a":NaN}',
    '{"a":Infinity}',
    '{"a":"\u0001"}',
    '{"a":"\\x"}',
    '{"a":"\\u12"}',
    '{"a":tru}',
    '{} {}',
    '{}x',
    '// only a comment',
    '/* open',
    'null',
    'true',
    '7',
    '"text"',
    '[]',
    '[1,2]',
    '<',
    '<html>',
    'hostname = odd',
    'PK\u0003\u0004',
  ].map((t, n): Hostile => told(`JSON that is none (${n}): ${JSON.stringify(t).slice(0, 20)}`, 'bad.json', t)),
  told('a member twice', 'bad.json', '{"ietf-system:system":{"hostname":"a","hostname":"b"}}'),
  told('nesting without end', 'bad.json', `{"a":${'['.repeat(100_000)}`),
  told('nesting of objects', 'bad.json', `${'{"a":'.repeat(5_000)}1${'}'.repeat(5_000)}`),
  told('UTF-16, little end first', 'bad.json', utf16(named('odd'), false)),
  told('UTF-16, big end first', 'bad.json', utf16(named('odd'), true)),
  told('octets that are no UTF-8', 'bad.json', octets('{"ietf-system:system":{"hostname":"', [0xc3, 0x28], '"}}')),
  told('an overlong form', 'bad.json', octets('{"a":"', [0xc0, 0xaf], '"}')),
  told('a half of a pair', 'bad.json', octets('{"a":"', [0xed, 0xa0, 0x80], '"}')),
  told('only zeros', 'bad.json', new Uint8Array(1000)),
  told(
    'noise',
    'bad.json',
    Uint8Array.from({ length: 4096 }, (_, i) => (i * 7919) & 255),
  ),
  quiet('a byte-order mark', 'bad.json', octets([0xef, 0xbb, 0xbf], named('marked'))),
  told('an object of nobody', 'bad.json', '{"a":1}'),
  told('a prototype', 'bad.json', '{"__proto__":{"hostname":"x"},"constructor":1}'),
  quiet('a number beyond all', 'bad.json', named('large').replace('}}', '},"x":1e400}')),
];

const xmls: Hostile[] = [
  ...[
    '<',
    '<a',
    '<a>',
    '<a></b>',
    '<a><b></a>',
    '<a/><b/>',
    '<a x=1/>',
    '<a x="1" x="2"/>',
    '<a>&nope;</a>',
    '<a>&#0;</a>',
    '<a>&#xFFFF;</a>',
    '<1a/>',
    '<a:b/>',
    '<a>]]></a>',
    '<!-- open',
    '<a><![CDATA[</a>',
    '<?xml version="1.0"?>',
    'text',
    '<a>\u0000</a>',
    '</a>',
    '<a><?xml version="1.0"?></a>',
    '<!DOCTYPE a><a/>',
    '<a xmlns:x=""/>',
  ].map((t, n): Hostile => told(`XML that is none (${n}): ${JSON.stringify(t).slice(0, 24)}`, 'bad.xml', t)),
  told('entities that grow', 'bad.xml', `<!DOCTYPE z [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;&a;&a;&a;&a;">]>${xml(system('&b;'))}`),
  told('an entity from a file', 'bad.xml', `<!DOCTYPE z [<!ENTITY a SYSTEM "file:///etc/hostname">]>${xml(system('&a;'))}`),
  told('nesting without end', 'bad.xml', `<config>${'<a>'.repeat(20_000)}`),
  told('nesting with its end', 'bad.xml', xml(`${'<a xmlns="urn:x">'.repeat(20_000)}${'</a>'.repeat(20_000)}`)),
  told(
    'a leaf twice',
    'bad.xml',
    xml('<system xmlns="urn:ietf:params:xml:ns:yang:ietf-system"><hostname>a</hostname><hostname>b</hostname></system>'),
  ),
  told('another encoding, as it says', 'bad.xml', octets('<?xml version="1.0" encoding="ISO-8859-1"?>', '<config><a>', [0xe4], '</a></config>')),
  told('no host name', 'bad.xml', xml('<system xmlns="urn:ietf:params:xml:ns:yang:ietf-system"/>')),
  quiet('a host name among many texts', 'bad.xml', xml(`${system('kelp')}${'<!-- x -->'.repeat(2000)}`)),
];

const archive = (files: Record<string, Uint8Array>, level: 0 | 1 | 9 = 9): Uint8Array => zipSync(files, { level });
const inside = strToU8(named('inside'));
const archives: Hostile[] = [
  told('an archive that climbs out', 'bad.zip', archive({ '../../a.json': inside })),
  told('an absolute name', 'bad.zip', archive({ '/etc/a.json': inside })),
  told('a drive', 'bad.zip', archive({ 'C:\\a.json': inside })),
  told('a name that climbs by the other slash', 'bad.zip', archive({ '..\\a.json': inside })),
  told('a bomb', 'bad.zip', archive({ 'a.json': new Uint8Array(40 * 1024 * 1024) })),
  told('many bombs', 'bad.zip', archive(Object.fromEntries(Array.from({ length: 12 }, (_, i) => [`${i}.json`, new Uint8Array(8 * 1024 * 1024)])))),
  told('an archive within', 'bad.zip', archive({ 'a.json': archive({ 'b.json': inside }) })),
  told('nothing readable within', 'bad.zip', archive({ 'a.json': strToU8('no') })),
  told('only the beginning', 'bad.zip', archive({ 'a.json': inside }).slice(0, 40)),
  told('only the end', 'bad.zip', archive({ 'a.json': inside }).slice(-30)),
  told(
    'the middle gone',
    'bad.zip',
    (() => {
      const z = archive({ 'a.json': inside }, 0);
      return Uint8Array.from([...z.slice(0, 50), ...z.slice(70)]);
    })(),
  ),
  quiet('an empty archive', 'bad.zip', archive({})),
  quiet('pictures only', 'bad.zip', archive({ 'a.png': new Uint8Array(100) })),
  quiet('a long name', 'bad.zip', archive({ [`${'x'.repeat(3000)}.json`]: inside })),
];

const tables: Hostile[] = [
  'router,area\n',
  'colour,size\nred,4\n',
  'hostname\n',
  'hostname\n""\n',
  'hostname,loopback\nodd,10.96.9.300\n',
  'hostname,loopback\n"odd,10.96.9.1\n',
  'hostname;loopback\nodd;10.96.9.1\n',
  'hostname,loopback\nodd\n',
  'hostname,loopback\nodd,10.96.9.1,more\n',
  'router,name,address\nnobody,e,10.96.9.1/24\n',
  '\u0000\u0001\u0002',
  '=cmd()\n',
].map((t, n): Hostile => told(`a table (${n}): ${JSON.stringify(t).slice(0, 24)}`, 'bad.csv', t));

const documents: Hostile[] = [
  ...['', ' ', 7, null, {}, [], 'a\u0007b', 'x\ny', true].map((name): Hostile =>
    told(`the host name ${JSON.stringify(name)}`, 'bad.json', named(name)),
  ),
  told('the host name of another, in a file that comes after', 'twin-bad.json', named('good-1')),
  ...[7, 'all', [7], [{}], [{ name: 7 }], [{ name: '' }], [{ name: 'e' }, { name: 'e' }]].map((list): Hostile =>
    told(`interfaces ${JSON.stringify(list)}`, 'bad.json', named('odd', { 'ietf-interfaces:interfaces': { interface: list } })),
  ),
  ...['10.96.9', '10.96.9.256', '10.96.9.1.1', '', 7, null, '2001:db8::1'].map((a): Hostile =>
    told(`the address ${JSON.stringify(a)}`, 'bad.json', ip([{ ip: a, 'prefix-length': 24 }])),
  ),
  ...[33, -1, 'x', 24.5, null].map((l): Hostile =>
    told(`the length ${JSON.stringify(l)}`, 'bad.json', ip([{ ip: '10.96.9.1', 'prefix-length': l }])),
  ),
  told('a mask with holes', 'bad.json', ip([{ ip: '10.96.9.1', netmask: '255.0.255.0' }])),
  told('addresses that are none', 'bad.json', ip('10.96.9.1/24')),
  told('an MTU of words', 'bad.json', iface('ietf-ip:ipv4', { mtu: 'large' })),
  told('enabled by a word', 'bad.json', iface('enabled', 'on')),
  ...(
    [
      ['cost', 0],
      ['cost', 65_536],
      ['cost', '1e9'],
      ['hello-interval', 0],
      ['hello-interval', 65_536],
      ['dead-interval', -1],
      ['dead-interval', 'soon'],
      ['priority', 256],
      ['interface-type', 'loop'],
      ['passive', 'maybe'],
      ['static-neighbors', { neighbor: [{ identifier: 'nobody' }] }],
      ['authentication', { 'ospfv2-key-id': 300, 'ospfv2-key': 'x' }],
      ['bfd', 'yes'],
    ] as [string, unknown][]
  ).map(([leaf, value]): Hostile => told(`${leaf} ${JSON.stringify(value)}`, 'bad.json', port(leaf, value))),
  ...(
    [
      ['area-type', 'shrub'],
      ['default-cost', -1],
      ['default-cost', 16_777_216],
      ['summary', 'some'],
      ['ranges', { range: [{ prefix: '10.97.0.0/40' }] }],
      ['ranges', { range: 'all' }],
      ['virtual-links', { 'virtual-link': [{ 'transit-area-id': 'x', 'router-id': '1' }] }],
    ] as [string, unknown][]
  ).map(([leaf, value]): Hostile => told(`an area's ${leaf} ${JSON.stringify(value)}`, 'bad.json', area(leaf, value))),
  ...['0.0.0.0', '10.96', 7.5, 'x'].map((id): Hostile => told(`the router id ${JSON.stringify(id)}`, 'bad.json', ospf({ 'explicit-router-id': id }))),
  ...['0.0.0.x', -1, 4_294_967_296, null, ''].map((id): Hostile =>
    told(`the area ${JSON.stringify(id)}`, 'bad.json', ospf({ areas: { area: [{ 'area-id': id }] } })),
  ),
  told('two areas of one id', 'bad.json', ospf({ areas: { area: [{ 'area-id': '0.0.0.1' }, { 'area-id': 1 }] } })),
  ...[
    'x',
    { a: 1 },
    [{ 'destination-prefix': 'x' }],
    [{ 'destination-prefix': '10.96.0.0/99' }],
    [{ 'destination-prefix': '10.96.0.0/16', 'next-hop': { 'next-hop-address': 'x' } }],
  ].map((r): Hostile => told(`static routes ${JSON.stringify(r)}`, 'bad.json', statics(r))),
];

const others: Hostile[] = [
  ...[7, [7], [{ link: 7 }], [{ link: [{ 'link-id': 'l' }] }], [{ link: [{ 'link-id': 'l', source: { 'source-node': 7 }, destination: {} }] }]].map(
    (n): Hostile => told(`a topology ${JSON.stringify(n)}`, 'bad.json', topology(n)),
  ),
  quiet(
    'a topology that names nobody',
    'bad.json',
    topology([
      {
        'network-id': 'n',
        link: [{ 'link-id': 'l', source: { 'source-node': 'x', 'source-tp': 'y' }, destination: { 'dest-node': 'z', 'dest-tp': 'w' } }],
      },
    ]),
  ),
  ...[
    { expectation: [{ name: 'x', kind: 'miracle' }] },
    { expectation: [{ kind: 'reach' }] },
    { expectation: [{ name: 'x', kind: 'reach', from: 'a', to: 'b', under: 'any-weather' }] },
    { expectation: 'all' },
    { pool: [{ prefix: '10.96.0.0/99', purpose: 'links' }] },
    { pool: [{ prefix: '10.96.0.0/16', purpose: 'fun' }] },
    { profile: [{ name: 7 }] },
    { now: 'soon' },
  ].map((t): Hostile => told(`settings ${JSON.stringify(t).slice(0, 60)}`, 'bad.json', settings(t))),
  ...[
    '{"format":"gentle-compass","version":99}',
    '{"format":"gentle-compass"}',
    '{"format":"other","version":1}',
    '{"format":"gentle-compass","version":1,"documents":7}',
  ].map((t): Hostile => told(`a design file ${t}`, 'bad.compass.json', t)),
];

/** Bad input of every format and from every end: each is read beside the good pair. */
export const hostileSet: readonly Hostile[] = [...texts, ...xmls, ...archives, ...tables, ...documents, ...others];
