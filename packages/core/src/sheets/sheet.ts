import { pairWord } from '../evidence/neighbor-words';
import { runsIn } from '../adjacency/speakers';
import { interfaceState } from '../adjacency/interface-state';
import type { Pairing } from '../adjacency/settle';
import { networkTypes, type Interface } from '../design/design';
import { comparePrefixes, covers, formatAddress, formatPrefix, hostLength, isSix, networkOf, prefixOf, type Prefix } from '../prefix/address';
import type { Prediction } from '../predict';
import type { SheetName } from './sheet-names';

export { sheetNames, type SheetName } from './sheet-names';

export interface SheetColumn {
  readonly id: string;
  readonly name: string;
  /** Addresses are set in one width, numbers stand right. */
  readonly kind: 'text' | 'address' | 'number';
  /** Whether a cell of it can be typed over; `false`: it is worked out. */
  readonly typed: boolean;
  readonly choices?: readonly string[];
  /** Where trouble of a row is told; the last column where none says so. */
  readonly loud?: true;
}
export interface SheetRow {
  /** What the row is about; stays the same while that is there. */
  readonly key: string;
  readonly router: string;
  readonly cells: readonly string[];
  /** Cells whose value nobody wrote: a default holds, or it was worked out. */
  readonly given: readonly number[];
  /** Something about it is in trouble. */
  readonly loud?: true;
  /** A block that holds what stands below it. */
  readonly leads?: true;
}
export interface Sheet {
  readonly columns: readonly SheetColumn[];
  readonly rows: readonly SheetRow[];
}

const text = (id: string, name = id): SheetColumn => ({ id, name, kind: 'text', typed: false });
const address = (id: string, name = id): SheetColumn => ({ ...text(id, name), kind: 'address' });
const number = (id: string, name = id): SheetColumn => ({ ...text(id, name), kind: 'number' });
const typed = (c: SheetColumn, choices?: readonly string[]): SheetColumn => ({ ...c, typed: true, ...(choices ? { choices } : {}) });

const areaWord = (id: number): string => (id < 256 ? String(id) : formatAddress(id));
const host = (a: { bits: number; length: number }): string => `${formatAddress(a.bits)}/${a.length}`;
const yes = (v: boolean): string => (v ? 'yes' : 'no');

/** Columns of each sheet, in their order. */
export const sheetColumns: Readonly<Record<SheetName, readonly SheetColumn[]>> = {
  routers: [
    typed(text('router')),
    typed(address('router-id', 'router id')),
    text('router-id-from', 'comes from'),
    typed(address('loopback')),
    text('areas'),
    text('role'),
    typed(number('reference-bandwidth', 'reference, Mbit/s')),
    number('neighbours', 'full neighbours'),
    text('profile'),
  ],
  interfaces: [
    text('router'),
    text('interface'),
    typed(address('address')),
    typed(text('area')),
    typed(text('type'), networkTypes),
    typed(number('cost')),
    typed(number('hello', 'hello, s')),
    typed(number('dead', 'dead, s')),
    typed(number('priority')),
    typed(text('passive'), ['yes', 'no']),
    typed(number('mtu', 'MTU')),
    typed(number('bandwidth', 'Mbit/s')),
    text('state'),
  ],
  links: [
    text('router'),
    text('interface'),
    text('other-router', 'other end'),
    typed(address('subnet')),
    typed(text('area')),
    typed(number('cost')),
    typed(number('cost-back', 'cost back')),
    typed(text('type', 'network type'), networkTypes),
    text('state'),
  ],
  plan: [
    text('kind'),
    typed(address('prefix')),
    text('area'),
    number('addresses'),
    number('used'),
    number('free'),
    number('full', 'full, %'),
    text('holders', 'held by'),
  ],
  statics: [
    text('router'),
    typed(address('prefix')),
    typed(address('next-hop', 'next hop')),
    typed(number('preference')),
    text('announced', 'brought into OSPF'),
  ],
  families: [
    text('router'),
    text('interface'),
    { ...text('differs', 'what differs'), loud: true },
    text('area'),
    text('cost'),
    text('hello', 'hello, s'),
    { ...text('neighbours'), loud: true },
    address('four', 'IPv4'),
    address('six', 'IPv6'),
  ],
};

type Cells = Readonly<Record<string, string | number | null | undefined>>;

/** Puts named cells into the order of a sheet's columns. */
function row(sheet: SheetName, key: string, router: string, cells: Cells, given: readonly string[] = []): SheetRow {
  const columns = sheetColumns[sheet];
  return {
    key,
    router,
    cells: columns.map((c) => String(cells[c.id] ?? '')),
    given: columns.flatMap((c, n) => (given.includes(c.id) ? [n] : [])),
  };
}

const loudIf = (loud: boolean, r: SheetRow): SheetRow => (loud ? { ...r, loud: true } : r);

function routerRows(p: Prediction): SheetRow[] {
  const full = new Map<number, number>();
  for (const x of p.adjacencies.pairs)
    if (x.a.state === 'full' && x.b.state === 'full')
      for (const v of [x.a, x.b]) full.set(v.port.routerIndex, (full.get(v.port.routerIndex) ?? 0) + 1);
  return p.design.routers.map((r, i) => {
    const s = p.speakersOf(i)[0];
    const o = r.instances.find((x) => runsIn(p.design, x));
    const from = s?.routerIdSource;
    const loopback = r.interfaces.find((x) => x.kind === 'loopback' && x.addresses.length > 0);
    const roles = s ? [p.routing.isBorderRouter(s) ? 'border' : '', p.routing.isBoundaryRouter(s) ? 'boundary' : ''].filter(Boolean) : [];
    return row(
      'routers',
      r.name,
      r.name,
      {
        router: r.name,
        'router-id': s ? formatAddress(s.routerId) : '',
        'router-id-from': from ? ('name' in from ? from.name : from.from === 'explicit' ? 'written' : from.from) : 'no OSPF',
        loopback: loopback?.addresses[0] && host(loopback.addresses[0]),
        areas: s && p.routing.areasOf(s).map(areaWord).join(' '),
        role: roles.join(', '),
        'reference-bandwidth': o?.autoCost ? o.referenceBandwidth : '',
        neighbours: full.get(i) ?? 0,
        profile: r.defaults.profile,
      },
      o?.explicitRouterId === undefined ? ['router-id'] : [],
    );
  });
}

/** What stands in the place of an address where there is none: of IPv6 the link-local one that was written. */
function bareAddress(p: Prediction, i: Interface): string {
  if (p.family === 6)
    return !i.six || i.kind === 'loopback' ? '' : i.linkLocal && !i.linkLocal.derived ? formatAddress(i.linkLocal.address) : 'link-local';
  return i.unnumbered ? 'unnumbered' : '';
}

function interfaceRows(p: Prediction): SheetRow[] {
  return p.design.routers.flatMap((r, ri) =>
    r.interfaces.map((i, n) => {
      const port = p.portOf(ri, n);
      const entry = r.instances
        .find((o) => runsIn(p.design, o))
        ?.areas.flatMap((a) => a.interfaces)
        .find((x) => x.name === i.name);
      const written = (leaf: string): boolean => entry?.written.has(leaf) ?? false;
      // On a loopback nobody is spoken to.
      const spoken = port?.loopback === false ? port : undefined;
      const given = [
        ...(port && port.costFrom !== 'written' ? ['cost'] : []),
        ...(['hello-interval', 'dead-interval', 'priority', 'passive'] as const).flatMap((l) => (written(l) ? [] : [l.replace('-interval', '')])),
        ...(written('interface-type') ? [] : ['type']),
        ...(i.written.has('mtu') ? [] : ['mtu']),
        ...(p.family === 6 && i.addresses.length === 0 && i.linkLocal?.derived !== false ? ['address'] : []),
      ];
      const cells: Cells = {
        router: r.name,
        interface: i.name,
        address: i.addresses[0] ? host(i.addresses[0]) + (i.addresses.length > 1 ? ` +${i.addresses.length - 1}` : '') : bareAddress(p, i),
        area: port && areaWord(port.area.id),
        type: spoken?.type,
        cost: port?.cost,
        hello: spoken?.settings.hello,
        dead: spoken?.settings.dead,
        priority: spoken?.settings.priority,
        passive: spoken && yes(spoken.settings.passive),
        mtu: i.kind === 'loopback' ? '' : i.mtu,
        bandwidth: i.bandwidthMbps,
        state: !i.enabled ? 'switched off' : port ? interfaceState(port, p.adjacencies.leaders[port.index] ?? { dr: 0, bdr: 0 }) : 'not in OSPF',
      };
      return row('interfaces', `${r.name}/${i.name}`, r.name, cells, given);
    }),
  );
}

function linkRows(p: Prediction): SheetRow[] {
  const pairsOn = new Map<number, Pairing[]>();
  for (const x of p.adjacencies.pairs) {
    const list = pairsOn.get(x.segment);
    if (list) list.push(x);
    else pairsOn.set(x.segment, [x]);
  }
  return p.segments.list.flatMap((s): SheetRow[] => {
    const [first, second] = s.members;
    if (!first || !second) return [];
    const of = (m: typeof first) => ({
      router: p.design.routers[m.router]?.name ?? '',
      iface: p.design.routers[m.router]?.interfaces[m.iface]?.name ?? '',
      port: p.portOf(m.router, m.iface),
    });
    const [a, b] = [of(first), of(second)];
    const lan = s.members.length > 2 || s.kind === 'lan';
    const pairs = (pairsOn.get(s.index) ?? []).map(pairWord);
    const worst = pairs.find((x) => x.kind === 'trouble') ?? pairs.find((x) => x.kind === 'full') ?? pairs[0];
    return [
      loudIf(
        worst?.kind === 'trouble',
        row('links', `${a.router}/${a.iface}`, a.router, {
          router: a.router,
          interface: a.iface,
          'other-router': lan ? `LAN of ${s.members.length}` : b.router,
          subnet: p.subnetsOn(s.index).map(formatPrefix).join(' '),
          area: a.port && areaWord(a.port.area.id),
          cost: a.port?.cost,
          'cost-back': lan ? '' : b.port?.cost,
          type: a.port?.type,
          state: worst?.word ?? 'nobody speaks',
        }),
      ),
    ];
  });
}

interface Held extends Prefix {
  readonly holders: readonly string[];
  readonly key: string;
  readonly router: string;
  readonly area: number | undefined;
  readonly loopback: boolean;
}

/** Every subnet of the design once, with who has an address in it. */
function heldSubnets(p: Prediction): Held[] {
  const by = new Map<string, Held & { holders: string[] }>();
  p.design.routers.forEach((r, ri) =>
    r.interfaces.forEach((i, n) => {
      for (const a of i.addresses) {
        const prefix = prefixOf(a.bits, a.length);
        const known = by.get(formatPrefix(prefix));
        if (known) known.holders.push(r.name);
        else
          by.set(formatPrefix(prefix), {
            ...prefix,
            holders: [r.name],
            key: `${r.name}/${i.name}`,
            router: r.name,
            area: p.portOf(ri, n)?.area.id,
            loopback: i.kind === 'loopback',
          });
      }
    }),
  );
  return [...by.values()];
}

/** Subnets that lie inside of another one: in the order of their addresses the wider one comes first. */
function nestedOf(held: readonly Held[]): Set<Held> {
  const out = new Set<Held>();
  let outer: Held | undefined;
  for (const h of [...held].sort(comparePrefixes))
    if (outer && covers(outer, h)) out.add(h);
    else outer = h;
  return out;
}

/** Blocks that subnets are taken from or summarised by: pools of the design and ranges of areas, each once. */
function blocks(p: Prediction): { prefix: Prefix; kind: string; area: number | undefined }[] {
  const ranges = p.design.routers.flatMap((r) =>
    r.instances.flatMap((o) =>
      runsIn(p.design, o) ? o.areas.flatMap((a) => a.ranges.map((x) => ({ prefix: x.prefix, kind: 'summary', area: a.id }))) : [],
    ),
  );
  const pools = p.design.settings.pools
    .filter((x) => isSix(x.prefix.bits) === (p.family === 6))
    .map((x) => ({ prefix: x.prefix, kind: `pool of ${x.purpose}`, area: x.area }));
  const seen = new Set<string>();
  return [...ranges, ...pools].filter((b) => {
    const key = `${b.kind} ${formatPrefix(b.prefix)} ${b.area ?? ''}`;
    return seen.has(key) ? false : seen.add(key);
  });
}

/** How many /64s some subnets take, those within one counted once. */
function sixtyFours(held: readonly Held[]): number {
  const narrow = new Set(held.filter((h) => h.length > 64).map((h) => networkOf(h.bits, 64)));
  return narrow.size + held.filter((h) => h.length <= 64).reduce((n, h) => n + 2 ** (64 - h.length), 0);
}

function planRows(p: Prediction): SheetRow[] {
  const held = heldSubnets(p);
  const nested = nestedOf(held);
  // Of IPv6 nobody counts addresses: a block is as large as it has /64s (RFC 4291 §2.5.4).
  const host = p.family === 6 ? 64 : 32;
  const size = (x: Prefix): number => 2 ** (host - Math.min(host, x.length));
  const hosts = (x: Prefix): number => size(x) - 2;
  const wide = blocks(p).map((b) => {
    // Subnets inside subnets count once.
    const inside = held.filter((h) => !nested.has(h) && covers(b.prefix, h));
    const used = p.family === 6 ? sixtyFours(inside) : inside.reduce((n, h) => n + size(h), 0);
    const cells = {
      kind: b.kind,
      prefix: formatPrefix(b.prefix),
      area: b.area === undefined ? '' : areaWord(b.area),
      ...(size(b.prefix) > 1
        ? { addresses: size(b.prefix), used, free: Math.max(0, size(b.prefix) - used), full: Math.round((used / size(b.prefix)) * 100) }
        : {}),
      holders: `${inside.length} subnets`,
    };
    const leading: SheetRow = { ...row('plan', `${b.kind} ${formatPrefix(b.prefix)} ${b.area ?? ''}`, '', cells), leads: true };
    return { at: b.prefix, order: 0, row: loudIf((cells.full ?? 0) >= 100, leading) };
  });
  const narrow = held.map((h) => {
    const used = h.holders.length;
    const names = [...new Set(h.holders)];
    // Of links and loopbacks only who holds them says something.
    const counted =
      !isSix(h.bits) && h.length < 30
        ? { addresses: hosts(h), used, free: Math.max(0, hosts(h) - used), full: Math.round((used / hosts(h)) * 100) }
        : {};
    const cells = {
      kind: h.loopback ? 'loopback' : h.length >= hostLength(h.bits) - 2 ? 'link' : 'LAN',
      prefix: formatPrefix(h),
      area: h.area === undefined ? '' : areaWord(h.area),
      ...counted,
      holders: names.length > 4 ? `${names.slice(0, 3).join(', ')} and ${names.length - 3} more` : names.join(', '),
    };
    return { at: h, order: 1, row: row('plan', h.key, h.router, cells) };
  });
  return [...wide, ...narrow].sort((a, b) => comparePrefixes(a.at, b.at) || a.order - b.order).map((x) => x.row);
}

function staticRows(p: Prediction): SheetRow[] {
  return p.design.routers.flatMap((r) => {
    const brought = r.instances.some((o) => runsIn(p.design, o) && o.redistribution.some((x) => x.source === 'static'));
    return r.staticRoutes.map((s) =>
      row('statics', `${r.name} ${formatPrefix(s.prefix)}`, r.name, {
        router: r.name,
        prefix: formatPrefix(s.prefix),
        'next-hop': s.discard
          ? 'discard'
          : s.nextHops.map((h) => [h.address === undefined ? '' : formatAddress(h.address), h.iface ?? ''].filter(Boolean).join(' ')).join(', '),
        preference: s.preference,
        announced: brought ? 'yes' : 'no',
      }),
    );
  });
}

/** How an interface stands in one version: its area and values, and what became of its neighbours. */
function standing(
  p: Prediction | undefined,
  router: number,
  iface: number,
): { area: string; cost: string; hello: string; state: string; good: boolean } {
  const port = p?.portOf(router, iface);
  if (!p || !port) return { area: '', cost: '', hello: '', state: p && p.speakersOf(router).length > 0 ? 'not in it' : 'not spoken', good: true };
  const views = p.adjacencies.views[port.index] ?? [];
  const full = views.filter((v) => v.state === 'full').length;
  const rests = views.filter((v) => v.state === '2-way').length;
  const own = port.up ? (port.loopback ? 'loopback' : port.settings.passive ? 'passive' : undefined) : 'down';
  const state = own ?? (views.length === 0 ? 'nobody there' : full + rests === views.length ? `${full} full` : `${full} of ${views.length} full`);
  return {
    area: areaWord(port.area.id),
    cost: String(port.cost),
    hello: port.loopback || port.settings.passive ? '' : String(port.settings.hello),
    state,
    good: own !== undefined || full + rests === views.length,
  };
}

/** A value of both versions: once where they agree. */
const beside = (two: string, three: string): string => (two === three ? two : `${two || 'none'} | ${three || 'none'}`);

/** Both families side by side, interface by interface: where one has what the other lacks, or has otherwise. */
function familyRows(p: Prediction, other: Prediction | undefined): SheetRow[] {
  const [four, six] = p.family === 6 ? [other, p] : [p, other];
  const any = six ?? p;
  return any.design.routers.flatMap((r, n) =>
    r.interfaces.map((i, k): SheetRow => {
      const [a, b] = [standing(four, n, k), standing(six, n, k)];
      const was = four?.design.routers[n]?.interfaces[k];
      const now = six?.design.routers[n]?.interfaces[k];
      const spoken = [four, six].every((x) => (x?.speakersOf(n).length ?? 0) > 0);
      const differs = [
        (a.area === '') !== (b.area === '') ? `only in ${a.area === '' ? 'OSPFv3' : 'OSPFv2'}` : a.area === b.area ? '' : 'area',
        a.area !== '' && b.area !== '' && a.cost !== b.cost ? 'cost' : '',
        a.hello !== '' && b.hello !== '' && a.hello !== b.hello ? 'hello' : '',
        a.state !== b.state && a.area !== '' && b.area !== '' ? 'neighbours' : '',
      ].filter(Boolean);
      const cells = {
        router: r.name,
        interface: i.name,
        four: was?.addresses.map(host).join(' ') || (was?.unnumbered ? 'unnumbered' : ''),
        six: now?.addresses.map(host).join(' ') || (now?.linkLocal ? formatAddress(now.linkLocal.address) : ''),
        area: beside(a.area, b.area),
        cost: beside(a.cost, b.cost),
        hello: beside(a.hello, b.hello),
        neighbours: beside(a.state, b.state),
        differs: spoken ? differs.join(', ') : '',
      };
      return loudIf((spoken && differs.length > 0) || !a.good || !b.good, row('families', `${r.name}/${i.name}`, r.name, cells));
    }),
  );
}

/**
 * A table of the design: what is written, with what follows from it beside.
 *
 * @param other  what the other family makes of the design, for the table of both
 */
export function sheetOf(name: SheetName, p: Prediction, other?: Prediction): Sheet {
  const rows =
    name === 'families'
      ? familyRows(p, other)
      : { routers: routerRows, interfaces: interfaceRows, links: linkRows, plan: planRows, statics: staticRows }[name](p);
  const columns = sheetColumns[name];
  return { columns: p.family === 6 && name === 'plan' ? columns.map((c) => (c.id === 'addresses' ? { ...c, name: '/64s' } : c)) : columns, rows };
}
