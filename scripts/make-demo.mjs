// Writes the sample campus: demo/saltmarsh-point/ and the same campus before its review, with faults put in.
// Run with: node scripts/make-demo.mjs
import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = join(dirname(fileURLToPath(import.meta.url)), '../demo');

/** area -> [dotted id, type leaf values]; each area fits one /18 */
const areas = {
  0: { id: '0.0.0.0' },
  10: { id: '0.0.0.10', name: 'Kelp labs', range: '10.97.0.0/18' },
  20: { id: '0.0.0.20', name: 'Drydock', type: 'ietf-ospf:stub-area', range: '10.97.64.0/18', cost: { 'default-cost': 10 } },
  30: { id: '0.0.0.30', name: 'Tidepools', type: 'ietf-ospf:stub-area', summary: false, range: '10.97.128.0/18', cost: { 'default-cost': 10 } },
  40: { id: '0.0.0.40', name: 'Petrel wing', type: 'ietf-ospf:nssa-area', range: '10.97.192.0/18' },
};

// router: [loopback, area of the loopback]
const routers = {
  'beacon-1': ['10.96.0.1', 0],
  'beacon-2': ['10.96.0.2', 0],
  'harbour-exit': ['10.96.0.3', 0],
  'kelp-1': ['10.96.0.11', 0],
  'kelp-2': ['10.96.0.12', 0],
  'drydock-1': ['10.96.0.21', 0],
  'drydock-2': ['10.96.0.22', 0],
  'tidepool-1': ['10.96.0.31', 0],
  'tidepool-2': ['10.96.0.32', 0],
  'petrel-1': ['10.96.0.41', 0],
  'petrel-2': ['10.96.0.42', 0],
  'kelp-3': ['10.97.0.3', 10],
  'kelp-4': ['10.97.0.4', 10],
  'kelp-5': ['10.97.0.5', 10],
  'drydock-3': ['10.97.64.3', 20],
  'drydock-4': ['10.97.64.4', 20],
  'tidepool-3': ['10.97.128.3', 30],
  'tidepool-4': ['10.97.128.4', 30],
  'petrel-3': ['10.97.192.3', 40],
  'petrel-4': ['10.97.192.4', 40],
};

// cables: a, b, area, /31 network, cost, Mbit/s
const cables = [
  ['beacon-1', 'beacon-2', 0, '10.96.128.0', 4, 100000],
  ['beacon-1', 'harbour-exit', 0, '10.96.128.2', 10, 25000],
  ['beacon-2', 'harbour-exit', 0, '10.96.128.4', 10, 25000],
  ['beacon-1', 'kelp-1', 0, '10.96.128.6', 10, 25000],
  ['beacon-2', 'kelp-2', 0, '10.96.128.8', 10, 25000],
  ['beacon-1', 'drydock-1', 0, '10.96.128.10', 10, 25000],
  ['beacon-2', 'drydock-2', 0, '10.96.128.12', 10, 25000],
  ['beacon-1', 'tidepool-1', 0, '10.96.128.14', 10, 25000],
  ['beacon-2', 'tidepool-2', 0, '10.96.128.16', 10, 25000],
  ['beacon-1', 'petrel-1', 0, '10.96.128.18', 10, 25000],
  ['beacon-2', 'petrel-2', 0, '10.96.128.20', 10, 25000],
  ['kelp-1', 'kelp-3', 10, '10.97.1.0', 20, 10000],
  ['kelp-1', 'kelp-4', 10, '10.97.1.2', 20, 10000],
  ['kelp-2', 'kelp-4', 10, '10.97.1.4', 20, 10000],
  ['kelp-2', 'kelp-5', 10, '10.97.1.6', 20, 10000],
  ['kelp-3', 'kelp-4', 10, '10.97.1.8', 40, 10000],
  ['kelp-4', 'kelp-5', 10, '10.97.1.10', 40, 10000],
  ['drydock-1', 'drydock-3', 20, '10.97.65.0', 20, 10000],
  ['drydock-2', 'drydock-4', 20, '10.97.65.2', 20, 10000],
  ['tidepool-1', 'tidepool-3', 30, '10.97.129.0', 20, 10000],
  ['tidepool-2', 'tidepool-4', 30, '10.97.129.2', 20, 10000],
  ['tidepool-3', 'tidepool-4', 30, '10.97.129.4', 20, 10000],
  ['petrel-1', 'petrel-3', 40, '10.97.193.0', 20, 10000],
  ['petrel-2', 'petrel-4', 40, '10.97.193.2', 20, 10000],
  ['petrel-3', 'petrel-4', 40, '10.97.193.4', 20, 10000],
];

// LANs with routers as members: name, area, network/length, cost, [router, priority]...
const lans = [
  [
    'slipway',
    20,
    '10.97.66.0',
    24,
    10,
    [
      ['drydock-1', 200],
      ['drydock-2', 100],
      ['drydock-3', 1],
      ['drydock-4', 1],
    ],
  ],
];

// user LANs: router, name, area, network/length
const users = [
  ['kelp-3', 'library', 10, '10.97.8.0', 24],
  ['kelp-3', 'halls', 10, '10.97.10.0', 23],
  ['kelp-4', 'archive', 10, '10.97.12.0', 24],
  ['kelp-5', 'wet-lab', 10, '10.97.14.0', 24],
  ['drydock-3', 'workshop', 20, '10.97.72.0', 24],
  ['drydock-4', 'stores', 20, '10.97.74.0', 24],
  ['tidepool-3', 'aquarium', 30, '10.97.136.0', 24],
  ['tidepool-4', 'visitors', 30, '10.97.140.0', 22],
  ['petrel-3', 'field-station', 40, '10.97.200.0', 24],
  ['petrel-4', 'buoy-net', 40, '10.97.202.0', 24],
];

const add = (ip, n) => {
  const p = ip.split('.').map(Number);
  let v = ((p[0] * 256 + p[1]) * 256 + p[2]) * 256 + p[3] + n;
  return [v >>> 24, (v >>> 16) & 255, (v >>> 8) & 255, v & 255].join('.');
};
/** The IPv6 site prefix is cut at its hexadecimal digits: one for the area, of the rest a /64 by the number of the LAN. */
const site = '2001:db8:40';
const block = (a) => (a === 0 ? `${site}:` : `${site}:${a / 10}000:`);
const host6 = (a, ip) => `${block(a)}:${ip.split('.')[3]}`;
const lan6 = (a, net) => {
  const n = String(Number(net.split('.')[2]) % 64).padStart(3, '0');
  return `${site}:${a / 10}${n}:`;
};
const address = (ip, length) => ({ 'ietf-ip:ipv4': { address: [{ ip, 'prefix-length': length }] } });
const address6 = (ip, length) => ({ 'ietf-ip:ipv6': { address: [{ ip, 'prefix-length': length }] } });

function campus() {
  const docs = {};
  const area = (r, a) => {
    const list = docs[r].ospf.areas.area;
    let entry = list.find((x) => x['area-id'] === areas[a].id);
    if (!entry) {
      const s = areas[a];
      entry = {
        'area-id': s.id,
        ...(s.name ? { 'gentle-compass:name': s.name } : {}),
        ...(s.type ? { 'area-type': s.type } : {}),
        ...(s.summary === false ? { summary: false } : {}),
        interfaces: { interface: [] },
      };
      list.push(entry);
    }
    return entry;
  };
  for (const [r, [lo, a]] of Object.entries(routers)) {
    docs[r] = { name: r, interfaces: [], statics: [], statics6: [], ospf: { 'explicit-router-id': lo, areas: { area: [] } } };
    docs[r].interfaces.push({ name: 'lo', type: 'iana-if-type:softwareLoopback', ...address(lo, 32), ...address6(host6(a, lo), 128) });
    area(r, a).interfaces.interface.push({ name: 'lo', passive: true });
  }
  for (const [a, b, ar, net, cost, speed] of cables)
    for (const [me, other, n] of [
      [a, b, 0],
      [b, a, 1],
    ]) {
      const name = `to-${other}`;
      const i = {
        name,
        type: 'iana-if-type:ethernetCsmacd',
        description: `fibre to ${other}`,
        'gentle-compass:bandwidth-mbps': speed,
        ...address(add(net, n), 31),
      };
      i['ietf-ip:ipv4'] = { mtu: 9000, ...i['ietf-ip:ipv4'] };
      // Cables do with link-local addresses.
      i['ietf-ip:ipv6'] = { mtu: 9000 };
      docs[me].interfaces.push(i);
      area(me, ar).interfaces.interface.push({ name, 'interface-type': 'point-to-point', cost });
    }
  for (const [name, ar, net, length, cost, members] of lans)
    members.forEach(([r, priority], n) => {
      docs[r].interfaces.push({
        name,
        type: 'iana-if-type:ethernetCsmacd',
        'gentle-compass:bandwidth-mbps': 10000,
        ...address(add(net, n + 1), length),
        ...address6(`${lan6(ar, net)}:${n + 1}`, 64),
      });
      area(r, ar).interfaces.interface.push({ name, cost, priority });
    });
  for (const [r, name, ar, net, length] of users) {
    docs[r].interfaces.push({
      name,
      type: 'iana-if-type:ethernetCsmacd',
      description: `user LAN ${name}`,
      'gentle-compass:bandwidth-mbps': 1000,
      ...address(add(net, 1), length),
      ...address6(`${lan6(ar, net)}:1`, 64),
    });
    area(r, ar).interfaces.interface.push({ name, passive: true, cost: 10 });
  }
  for (const d of Object.values(docs)) {
    const list = d.ospf.areas.area;
    list.sort((x, y) => x['area-id'].localeCompare(y['area-id'], 'en', { numeric: true }));
    if (list.length > 1)
      for (const entry of list) {
        const spec = Object.values(areas).find((s) => s.id === entry['area-id']);
        if (spec.range) entry.ranges = { range: [{ prefix: spec.range }] };
        if (spec.cost) Object.assign(entry, spec.cost);
      }
  }
  const exit = docs['harbour-exit'];
  exit.interfaces.push({
    name: 'provider',
    type: 'iana-if-type:ethernetCsmacd',
    description: 'out of the campus',
    'gentle-compass:bandwidth-mbps': 10000,
    ...address('203.0.113.2', 30),
    ...address6('2001:db8:ffff::2', 64),
  });
  exit.statics.push({ 'destination-prefix': '0.0.0.0/0', 'next-hop': { 'next-hop-address': '203.0.113.1' } });
  exit.statics6.push({ 'destination-prefix': '::/0', 'next-hop': { 'next-hop-address': '2001:db8:ffff::1' } });
  exit.ospf['gentle-compass:default-route'] = { announce: 'if-present', metric: 5, 'metric-type': 'type-1' };
  const petrel = docs['petrel-4'];
  petrel.statics.push({ 'destination-prefix': '198.51.100.0/26', 'next-hop': { 'next-hop-address': '10.97.202.9' } });
  petrel.statics6.push({ 'destination-prefix': '2001:db8:900::/48', 'next-hop': { 'next-hop-address': `${lan6(40, '10.97.202.0')}:9` } });
  petrel.ospf['gentle-compass:redistribution'] = [{ source: 'static', metric: 30, 'metric-type': 'type-2', policy: ['partner-buoys'] }];
  petrel.policy = {
    'defined-sets': {
      'prefix-sets': {
        'prefix-set': [
          {
            name: 'partner',
            mode: 'mixed',
            prefixes: {
              'prefix-list': [
                { 'ip-prefix': '198.51.100.0/26', 'mask-length-lower': 26, 'mask-length-upper': 26 },
                { 'ip-prefix': '2001:db8:900::/48', 'mask-length-lower': 48, 'mask-length-upper': 48 },
              ],
            },
          },
        ],
      },
    },
    'policy-definitions': {
      'policy-definition': [
        {
          name: 'partner-buoys',
          statements: {
            statement: [
              { name: 'partner', conditions: { 'match-prefix-set': { 'prefix-set': 'partner' } }, actions: { 'policy-result': 'accept-route' } },
            ],
          },
        },
      ],
    },
  };
  for (const d of Object.values(docs)) d.ospf3 = likeIt(d.ospf);
  return docs;
}

/** OSPFv3 as OSPFv2 has it: areas, types, costs, timers; a summary for each area's block. */
function likeIt(ospf) {
  const six = JSON.parse(JSON.stringify(ospf));
  for (const a of six.areas.area) {
    const key = Object.keys(areas).find((k) => areas[k].id === a['area-id']);
    if (a.ranges) a.ranges.range = [{ prefix: `${block(Number(key))}:/52` }];
  }
  return six;
}

function documentOf(d) {
  const protocols = [];
  const routes = {
    ...(d.statics.length > 0 ? { 'ietf-ipv4-unicast-routing:ipv4': { route: d.statics } } : {}),
    ...(d.statics6.length > 0 ? { 'ietf-ipv6-unicast-routing:ipv6': { route: d.statics6 } } : {}),
  };
  if (Object.keys(routes).length > 0) protocols.push({ type: 'ietf-routing:static', name: 'static', 'static-routes': routes });
  protocols.push({ type: 'ietf-ospf:ospfv2', name: 'campus', 'ietf-ospf:ospf': d.ospf });
  protocols.push({ type: 'ietf-ospf:ospfv3', name: 'campus', 'ietf-ospf:ospf': d.ospf3 });
  return {
    'ietf-system:system': { hostname: d.name },
    'ietf-interfaces:interfaces': { interface: d.interfaces },
    'ietf-routing:routing': { 'control-plane-protocols': { 'control-plane-protocol': protocols } },
    ...(d.policy ? { 'ietf-routing-policy:routing-policy': d.policy } : {}),
  };
}

/** The faults that the review finds; each is one of the troubles that people really have. */
function beforeReview(docs) {
  const ospfIf = (r, name, ospf = docs[r].ospf) => ospf.areas.area.flatMap((a) => a.interfaces.interface).find((i) => i.name === name);
  const iface = (r, name) => docs[r].interfaces.find((i) => i.name === name);
  const areaOf = (r, id) => docs[r].ospf.areas.area.find((a) => a['area-id'] === id);
  ospfIf('kelp-4', 'to-kelp-1')['dead-interval'] = 60; // a timer changed on one side only
  delete iface('drydock-4', 'to-drydock-2')['ietf-ip:ipv4'].mtu; // MTU different: two routers sit in ExStart
  delete areaOf('tidepool-4', '0.0.0.30')['area-type']; // one router of the area does not know that it is a stub area
  delete ospfIf('petrel-3', 'to-petrel-4')['interface-type']; // forgot the network type on one side
  ospfIf('kelp-5', 'to-kelp-2').passive = true; // passive on the link that should form the adjacency
  areaOf('drydock-1', '0.0.0.20').ranges.range = [{ prefix: '10.97.0.0/17' }]; // a summary mask that also covers another area's subnets
  docs['harbour-exit'].statics.length = 0; // default route announced but no default present
  const petrelArea = areaOf('petrel-4', '0.0.0.40');
  petrelArea.interfaces.interface = petrelArea.interfaces.interface.filter((i) => i.name !== 'lo'); // the loopback not advertised
  // And two that one family has for itself.
  ospfIf('tidepool-3', 'to-tidepool-4', docs['tidepool-3'].ospf3)['hello-interval'] = 5; // a hello changed in IPv6 only, on one side
  const kelp = docs['kelp-3'].ospf3.areas.area[0];
  kelp.interfaces.interface = kelp.interfaces.interface.filter((i) => i.name !== 'halls'); // a LAN forgotten in OSPFv3
  return docs;
}

for (const [folder, docs] of [
  ['saltmarsh-point', campus()],
  ['saltmarsh-point-before-review', beforeReview(campus())],
]) {
  const out = join(root, folder);
  rmSync(out, { recursive: true, force: true });
  mkdirSync(out, { recursive: true });
  for (const d of Object.values(docs)) writeFileSync(join(out, `${d.name}.json`), `${JSON.stringify(documentOf(d), null, 2)}\n`);
}
