const cables = [
  ['gull-1', 'gull-2'],
  ['gull-2', 'gull-4'],
  ['gull-1', 'gull-3'],
  ['gull-3', 'gull-4'],
] as const;

/** A square of four routers in area 0, all costs 10; two cables that face each other lie in one duct. */
export function square(): { name: string; content: string }[] {
  const ends = cables.flatMap(([a, b], n) => [
    { router: a, to: b, address: `10.96.1.${2 * n}` },
    { router: b, to: a, address: `10.96.1.${2 * n + 1}` },
  ]);
  const routers = [1, 2, 3, 4].map((n) => {
    const name = `gull-${n}`;
    const own = ends.filter((e) => e.router === name);
    const ipv4 = (ip: string, length: number): object => ({ 'ietf-ip:ipv4': { address: [{ ip, 'prefix-length': length }] } });
    return {
      name: `${name}.json`,
      content: JSON.stringify({
        'ietf-system:system': { hostname: name },
        'ietf-interfaces:interfaces': {
          interface: [
            { name: 'lo', type: 'iana-if-type:softwareLoopback', ...ipv4(`10.96.0.${n}`, 32) },
            ...own.map((e) => ({ name: `to-${e.to}`, type: 'iana-if-type:ethernetCsmacd', ...ipv4(e.address, 31) })),
          ],
        },
        'ietf-routing:routing': {
          'control-plane-protocols': {
            'control-plane-protocol': [
              {
                type: 'ietf-ospf:ospfv2',
                name: 'campus',
                'ietf-ospf:ospf': {
                  areas: {
                    area: [
                      {
                        'area-id': '0.0.0.0',
                        interfaces: {
                          interface: [{ name: 'lo' }, ...own.map((e) => ({ name: `to-${e.to}`, 'interface-type': 'point-to-point', cost: 10 }))],
                        },
                      },
                    ],
                  },
                },
              },
            ],
          },
        },
      }),
    };
  });
  const topology = {
    'ietf-network:networks': {
      network: [
        {
          'network-id': 'campus',
          'ietf-network-topology:link': cables.map(([a, b], n) => ({
            'link-id': `l${n}`,
            source: { 'source-node': a, 'source-tp': `to-${b}` },
            destination: { 'dest-node': b, 'dest-tp': `to-${a}` },
          })),
          'gentle-compass:risk-groups': [{ name: 'duct', members: ['l0', 'l3'] }],
        },
      ],
    },
  };
  return [...routers, { name: 'topology.json', content: JSON.stringify(topology) }];
}
