import Papa from 'papaparse';
import { interfaceState } from '../adjacency/interface-state';
import { pairWord, viewWords } from '../evidence/neighbor-words';
import type { Area } from '../design/design';
import type { Finding } from '../findings/finding';
import type { CsvTable } from './csv-tables';
import { formatAddress, formatPrefix, prefixOf } from '../prefix/address';
import type { Prediction } from '../predict';

type Cell = string | number | boolean | null;
export interface TableRows {
  readonly header: readonly string[];
  readonly rows: readonly (readonly Cell[])[];
}

/** Writes rows as CSV (RFC 4180: CRLF, quotes doubled). A cell that a spreadsheet would run as a formula gets an apostrophe before it. */
export const writeCsv = (t: TableRows): string =>
  `${Papa.unparse({ fields: [...t.header], data: t.rows.map((r) => [...r]) }, { newline: '\r\n', escapeFormulae: /^[=+\-@\t\r]|^\s+[=+\-@]/ })}\r\n`;

/** Type of an area as one router has it, in the words that are read back. */
const areaTypeWords = (a: Area): string =>
  a.type === 'normal' ? 'normal' : a.type === 'stub' ? (a.summary ? 'stub' : 'totally-stubby') : a.summary ? 'nssa' : 'totally-nssa';

const names = (p: Prediction) => (router: number) => p.design.routers[router]?.name ?? '';

function routersTable(p: Prediction): TableRows {
  return {
    header: ['router', 'router-id', 'router-id-from', 'profile', 'areas', 'border-router', 'boundary-router', 'interfaces', 'routes', 'file'],
    rows: p.design.routers.map((r, i) => {
      const s = p.speakersOf(i)[0];
      const from = s?.routerIdSource;
      return [
        r.name,
        s ? formatAddress(s.routerId) : null,
        from ? ('name' in from ? from.name : from.from) : null,
        r.defaults.profile ?? null,
        s ? p.routing.areasOf(s).map(formatAddress).join(' ') : null,
        s ? p.routing.isBorderRouter(s) : false,
        s ? p.routing.isBoundaryRouter(s) : false,
        r.interfaces.length,
        p.ribOnce(i).length,
        r.file,
      ];
    }),
  };
}

function interfacesTable(p: Prediction): TableRows {
  return {
    header: [
      'router',
      'interface',
      'kind',
      'addresses',
      'enabled',
      'mtu',
      'bandwidth',
      'area',
      'area-type',
      'network-type',
      'passive',
      'cost',
      'cost-from',
      'hello-interval',
      'dead-interval',
      'priority',
      'state',
    ],
    rows: p.design.routers.flatMap((r, ri) =>
      r.interfaces.map((i, n): Cell[] => {
        const port = p.portOf(ri, n);
        const addresses = i.addresses.map((a) => `${formatAddress(a.bits)}/${a.length}`).join(' ');
        const base = [r.name, i.name, i.kind, addresses, i.enabled, i.mtu, i.bandwidthMbps ?? null];
        if (!port) return [...base, null, null, null, null, null, null, null, null, null, 'not in OSPF'];
        const s = port.settings;
        const state = interfaceState(port, p.adjacencies.leaders[port.index] ?? { dr: 0, bdr: 0 });
        return [
          ...base,
          formatAddress(port.area.id),
          areaTypeWords(port.area),
          port.type,
          s.passive,
          port.cost,
          port.costFrom,
          s.hello,
          s.dead,
          s.priority,
          state,
        ];
      }),
    ),
  };
}

function linksTable(p: Prediction): TableRows {
  const name = names(p);
  return {
    header: ['kind', 'subnet', 'area', 'router', 'interface', 'address', 'other-routers'],
    rows: p.segments.list.flatMap((s) =>
      s.size < 2
        ? []
        : s.members.map((m): Cell[] => {
            const i = p.design.routers[m.router]?.interfaces[m.iface];
            const port = p.portOf(m.router, m.iface);
            const others = s.members.filter((o) => o !== m).map((o) => name(o.router));
            return [
              s.kind,
              p.subnetsOn(s.index).map(formatPrefix).join(' '),
              port ? formatAddress(port.area.id) : null,
              name(m.router),
              i?.name ?? '',
              i?.addresses[0] ? formatAddress(i.addresses[0].bits) : i?.linkLocal ? formatAddress(i.linkLocal.address) : null,
              others.join(' '),
            ];
          }),
    ),
  };
}

function addressesTable(p: Prediction): TableRows {
  return {
    header: ['prefix', 'address', 'router', 'interface', 'area'],
    rows: p.design.routers
      .flatMap((r, ri) =>
        r.interfaces.flatMap((i, n) => {
          const port = p.portOf(ri, n);
          return i.addresses.map((a) => ({ a, r, i, area: port ? formatAddress(port.area.id) : null }));
        }),
      )
      .sort((x, y) => x.a.bits - y.a.bits || x.a.length - y.a.length)
      .map(({ a, r, i, area }) => {
        return [formatPrefix(prefixOf(a.bits, a.length)), formatAddress(a.bits), r.name, i.name, area];
      }),
  };
}

function neighboursTable(p: Prediction): TableRows {
  const name = names(p);
  return {
    header: ['router', 'interface', 'state', 'because', 'neighbour', 'neighbour-interface', 'neighbour-router-id', 'neighbour-state', 'together'],
    rows: p.adjacencies.pairs.flatMap((x) =>
      [x.a, x.b].map((v, i): Cell[] => {
        const other = i === 0 ? x.b : x.a;
        return [
          name(v.port.routerIndex),
          v.port.iface.name,
          v.state,
          viewWords(v),
          name(other.port.routerIndex),
          other.port.iface.name,
          formatAddress(other.port.routerId),
          other.state,
          pairWord(x).word,
        ];
      }),
    ),
  };
}

function routesTable(p: Prediction, only?: ReadonlySet<string>): TableRows {
  return {
    header: ['router', 'prefix', 'source', 'type', 'metric', 'forward-metric', 'tag', 'preference', 'area', 'next-hops'],
    rows: p.design.routers.flatMap((r, i) =>
      only && !only.has(r.name)
        ? []
        : p
            .ribOnce(i)
            .map((x): Cell[] => [
              r.name,
              formatPrefix(x),
              x.source,
              x.route?.type ?? null,
              x.route?.metric ?? null,
              x.route?.forwardMetric ?? null,
              x.route?.tag ?? null,
              x.preference,
              x.route ? formatAddress(x.route.area) : null,
              x.hops.map((h) => (h.address === undefined ? h.iface : `${formatAddress(h.address)} ${h.iface}`)).join('; '),
            ]),
    ),
  };
}

function findingsTable(findings: readonly Finding[]): TableRows {
  return {
    header: ['severity', 'rule', 'accepted', 'routers', 'file', 'line', 'path', 'message', 'routes-lost', 'routes-changed', 'repair', 'rfc'],
    rows: findings.map((f) => [
      f.severity,
      f.rule,
      f.accepted?.note ?? null,
      [...new Set(f.where.map((w) => w.router).filter(Boolean))].join(' '),
      f.where[0]?.file ?? null,
      f.where[0]?.line ?? null,
      f.where[0]?.path ?? null,
      f.message,
      f.consequence['routes-lost'],
      f.consequence['routes-changed'],
      f.repairs[0]?.title ?? null,
      f.rfc,
    ]),
  };
}

/**
 * One table of a prediction.
 *
 * @param routers  for routes: only of these routers
 */
export function tableOf(table: CsvTable, p: Prediction, findings: readonly Finding[], routers?: ReadonlySet<string>): TableRows {
  switch (table) {
    case 'routers':
      return routersTable(p);
    case 'interfaces':
      return interfacesTable(p);
    case 'links':
      return linksTable(p);
    case 'addresses':
      return addressesTable(p);
    case 'neighbours':
      return neighboursTable(p);
    case 'routes':
      return routesTable(p, routers);
    case 'findings':
      return findingsTable(findings);
  }
}
