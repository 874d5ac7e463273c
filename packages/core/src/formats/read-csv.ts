import { RouterDraft, setMember, type Json } from '../design/draft';
import { networkTypes } from '../design/design';
import { formatAddress } from '../prefix/address';
import { parseTypedPrefix, type Ipv4, type TypedPrefix } from '../prefix/ipv4';
import type { LeafType, ReadProblem } from '../documents/cursor';
import { csvRows, type Row } from './csv-rows';
import type { SourceDocument } from '../documents/documents';
import { areaKinds } from '../design/terms';
import { areaId, integer, ipv4, nameText, oneOf, routerIdText } from '../documents/leaf-types';

/** The three tables that a campus can be built from. */
export type CsvKind = 'routers' | 'interfaces' | 'links';

const yesNo: LeafType<boolean> = {
  read: (x) =>
    ['yes', 'true', '1', 'on'].includes(String(x).toLowerCase())
      ? true
      : ['no', 'false', '0', 'off'].includes(String(x).toLowerCase())
        ? false
        : undefined,
  expected: 'yes or no',
};
const prefix: LeafType<TypedPrefix> = {
  read: (x) => (typeof x === 'string' ? parseTypedPrefix(x) : undefined),
  expected: 'a prefix such as 10.96.128.0/31, with a length, a mask or an inverted mask',
};
/** Addresses with their lengths, separated by spaces: host bits stay. */
const addresses: LeafType<readonly { ip: Ipv4; length: number }[]> = {
  read: (x) => {
    const out = String(x)
      .split(/[\s,]+/)
      .filter(Boolean)
      .map((t) => {
        const p = parseTypedPrefix(t);
        const ip = ipv4.read(t.split('/')[0]);
        return p && ip !== undefined ? { ip, length: p.length } : undefined;
      });
    return out.every((a) => a !== undefined) ? out : undefined;
  },
  expected: 'addresses with their lengths, such as 10.96.128.0/31',
};
const number = (from: number, to: number): LeafType<number> => {
  const type = integer(from, to);
  return { read: (x) => (/^\d{1,10}$/.test(String(x)) ? type.read(Number(x)) : undefined), expected: type.expected };
};
const areaKind = oneOf(areaKinds);

interface Table {
  readonly file: string;
  readonly kind: CsvKind;
  readonly rows: readonly Row[];
}

const columnsOf: Record<CsvKind, readonly string[]> = {
  routers: ['router', 'router-id', 'loopback', 'area', 'process'],
  interfaces: [
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
    'hello-interval',
    'dead-interval',
    'priority',
  ],
  links: ['router', 'interface', 'other-router', 'other-interface', 'subnet', 'area', 'network-type', 'cost', 'other-cost', 'mtu'],
};

/** What a header stands for; `undefined` when it is none of the three. */
function kindOf(header: readonly string[]): CsvKind | undefined {
  if (!header.includes('router')) return undefined;
  if (header.includes('other-router')) return 'links';
  if (header.includes('interface')) return header.includes('subnet') ? undefined : 'interfaces';
  return 'routers';
}

/** Reads one file (RFC 4180; semicolons and tabs do as well). Tells what is not used. */
function readTable(file: string, text: string, problems: ReadProblem[], notUsed: string[]): Table | undefined {
  const { header, rows } = csvRows(file, text, problems);
  const kind = kindOf(header);
  // The table of links that is exported lists who is on each wire; the interfaces say all of that.
  if (header.includes('other-routers')) {
    notUsed.push(`${file}: everything; what it tells stands in the table of interfaces`);
    return undefined;
  }
  if (!kind) {
    problems.push({
      severity: 'error',
      file,
      path: 'row 1',
      line: 1,
      message: `This header is none of a campus: ${header.join(', ')}.`,
      remedy:
        'A table of routers has the column "router"; one of interfaces "router" and "interface"; one of links "router", "interface", "other-router" and "other-interface".',
    });
    return undefined;
  }
  const known = new Set(columnsOf[kind]);
  header.forEach((h) => {
    if (h !== '' && !known.has(h)) notUsed.push(`${file}: column ${h}`);
  });
  if (rows.length === 0)
    problems.push({
      severity: 'note',
      file,
      path: 'row 2',
      line: 2,
      message: 'This table has a header and no rows.',
      remedy: 'Check that it was exported whole; nothing comes from it.',
    });
  return { file, kind, rows };
}

/** The campus while its tables are read. */
class Building {
  readonly routers = new Map<string, RouterDraft>();
  private readonly processes = new Map<string, string>();

  router(name: string): RouterDraft {
    let r = this.routers.get(name);
    if (!r) {
      r = new RouterDraft(`${name.replace(/[^\w.-]/g, '_').replace(/^\.+/, '_')}.json`, {});
      r.name = name;
      this.routers.set(name, r);
    }
    return r;
  }

  routerRow(row: Row): void {
    const name = row.need('router', nameText);
    if (name === undefined) return;
    if (this.routers.has(name)) {
      row.tell('router', `The router "${name}" stands twice.`, 'Keep one of the rows; the first is used.');
      return;
    }
    const r = this.router(name);
    const process = row.read('process', nameText);
    if (process !== undefined) this.processes.set(name, process);
    const id = row.read('router-id', routerIdText);
    const loopback = row.read('loopback', ipv4);
    const area = row.read('area', areaId);
    if (loopback !== undefined) {
      r.addInterface('lo', { ip: loopback, length: 32 }, { type: 'iana-if-type:softwareLoopback' });
      r.putInto(area ?? 0, { name: 'lo', passive: true }, process);
    }
    if (id !== undefined) r.ospf(process)['explicit-router-id'] = formatAddress(id);
  }

  interfaceRow(row: Row, known: boolean): void {
    const name = row.need('router', nameText);
    const iface = row.need('interface', nameText);
    if (name === undefined || iface === undefined) return;
    if (known && !this.routers.has(name)) {
      row.tell('router', `There is no router "${name}" in the table of routers.`, 'Add it there, or correct the name; the row is left out.');
      return;
    }
    const r = this.router(name);
    if (r.iface(iface)) {
      row.tell('interface', `${name} has the interface "${iface}" already.`, 'Keep one of the rows; the first is used.');
      return;
    }
    const own = row.read('addresses', addresses) ?? [];
    const kind = row.read('kind', oneOf(['loopback', 'ethernet', 'other'])) ?? (/^lo(opback)?[\d.]*$/i.test(iface) ? 'loopback' : 'ethernet');
    const mtu = row.read('mtu', number(68, 65_535));
    const bandwidth = row.read('bandwidth', number(1, 4_294_967_295));
    r.interfaces.push({
      name: iface,
      type: `iana-if-type:${kind === 'loopback' ? 'softwareLoopback' : kind === 'ethernet' ? 'ethernetCsmacd' : 'other'}`,
      ...(row.read('enabled', yesNo) === false ? { enabled: false } : {}),
      ...(bandwidth === undefined ? {} : { 'gentle-compass:bandwidth-mbps': bandwidth }),
      'ietf-ip:ipv4': {
        ...(mtu === undefined ? {} : { mtu }),
        ...(own.length > 0 ? { address: own.map((a) => ({ ip: formatAddress(a.ip), 'prefix-length': a.length })) } : {}),
      },
    });
    const area = row.read('area', areaId);
    const leaves = ospfLeaves(row);
    const type = row.read('area-type', areaKind);
    if (area === undefined) return;
    r.putInto(area, { name: iface, ...leaves }, this.processes.get(name));
    if (type !== undefined && type !== 'normal') {
      const entry = r.area(area);
      if (entry) setMember(entry, 'area-type', `ietf-ospf:${type.endsWith('nssa') ? 'nssa' : 'stub'}-area`);
      if (entry && type.startsWith('totally-')) setMember(entry, 'summary', false);
    }
  }

  linkRow(row: Row): void {
    const a = { router: row.need('router', nameText), iface: row.need('interface', nameText) };
    const z = { router: row.need('other-router', nameText), iface: row.need('other-interface', nameText) };
    if (a.router === undefined || a.iface === undefined || z.router === undefined || z.iface === undefined) return;
    const net = row.read('subnet', prefix);
    const area = row.read('area', areaId);
    const type = row.read('network-type', oneOf(networkTypes)) ?? 'point-to-point';
    const mtu = row.read('mtu', number(68, 65_535));
    const cost = row.read('cost', number(1, 65_535));
    const back = row.read('other-cost', number(1, 65_535)) ?? cost;
    const ends = [
      { router: a.router, iface: a.iface, column: 'interface', who: 'router', cost },
      { router: z.router, iface: z.iface, column: 'other-interface', who: 'other-router', cost: back },
    ];
    for (const [n, e] of ends.entries()) {
      if (!this.routers.has(e.router)) {
        row.tell(
          e.who,
          `There is no router "${e.router}" in the tables.`,
          'Add it to the table of routers, or correct the name; this end is left out.',
        );
        continue;
      }
      const r = this.router(e.router);
      const there = r.iface(e.iface) !== undefined;
      if (!there && !net) {
        row.tell(
          'subnet',
          `${e.router} has no interface "${e.iface}", and this link has no subnet to make it with.`,
          'Give a subnet, or list the interface.',
        );
        continue;
      }
      if (!there && net) r.addInterface(e.iface, { ip: net.length >= 31 ? net.bits + n : net.bits + 1 + n, length: net.length }, {}, mtu);
      if (area === undefined || r.ospfInterface(e.iface)) continue;
      r.putInto(area, { name: e.iface, 'interface-type': type, ...(e.cost === undefined ? {} : { cost: e.cost }) }, this.processes.get(e.router));
    }
  }
}

function ospfLeaves(row: Row): Json {
  const leaves: [string, unknown][] = [
    ['interface-type', row.read('network-type', oneOf(networkTypes))],
    ['passive', row.read('passive', yesNo) === true ? true : undefined],
    ['cost', row.read('cost', number(0, 65_535)) || undefined],
    ['hello-interval', row.read('hello-interval', number(1, 65_535))],
    ['dead-interval', row.read('dead-interval', number(1, 65_535))],
    ['priority', row.read('priority', number(0, 255))],
  ];
  return Object.fromEntries(leaves.filter(([, v]) => v !== undefined));
}

/**
 * Builds router documents from tables of routers, interfaces and links, in any order; the header says which is which. Wrong
 * cells are told one by one with row and column, and everything else is read.
 */
export function documentsFromCsv(files: readonly { readonly name: string; readonly text: string }[]): {
  documents: SourceDocument[];
  problems: ReadProblem[];
  notUsed: string[];
} {
  const problems: ReadProblem[] = [];
  const notUsed: string[] = [];
  const tables = files.flatMap((f) => readTable(f.name, f.text, problems, notUsed) ?? []);
  const of = (kind: CsvKind): Row[] => tables.filter((t) => t.kind === kind).flatMap((t) => [...t.rows]);
  const building = new Building();
  for (const row of of('routers')) building.routerRow(row);
  const known = tables.some((t) => t.kind === 'routers');
  for (const row of of('interfaces')) building.interfaceRow(row, known);
  for (const row of of('links')) building.linkRow(row);
  return { documents: [...building.routers.values()].map((r) => ({ file: r.file, tree: r.tree })), problems, notUsed };
}
