import { applyEdits } from '../design/edit';
import type { SourceDocument } from '../documents/documents';
import { designFrom } from '../formats/read-set';
import { readLines } from '../entry/lines';
import { readEntry } from '../entry/entry';
import { predict, type Prediction } from '../predict';
import { campus as campusOf } from '../testing/campus';
import { sample, withoutSix } from '../testing/sample';
import { cellsOf, cellWish, copyOut, pasteOver } from './cells';
import { sheetColumns, sheetNames, sheetOf, type SheetName } from './sheet';

const campus = sample('saltmarsh-point').documents;
const predicted = (documents: readonly SourceDocument[], family: 4 | 6 = 4): Prediction => predict(designFrom(documents).design, [], { family });
const now = predicted(campus);

/** Types a value into a cell and gives back the documents; the words of the refusal where it cannot be. */
function typed(
  documents: readonly SourceDocument[],
  sheet: SheetName,
  key: string,
  column: string,
  value: string,
  family: 4 | 6 = 4,
): SourceDocument[] | string {
  const p = predicted(documents, family);
  const row = sheetOf(sheet, p).rows.find((r) => r.key === key);
  if (!row) throw new Error(`no row ${key}`);
  const wish = cellWish(sheet, p, row, column, value);
  if ('refused' in wish) return wish.refused;
  const { edits, faults } = readLines(wish.lines, documents);
  return faults[0]?.message ?? applyEdits(documents, edits);
}
function cell(documents: readonly SourceDocument[] | string, sheet: SheetName, key: string, column: string, family: 4 | 6 = 4): string {
  if (typeof documents === 'string') throw new Error(documents);
  const n = sheetColumns[sheet].findIndex((c) => c.id === column);
  return sheetOf(sheet, predicted(documents, family)).rows.find((r) => r.key === key)?.cells[n] ?? 'no such row';
}

test('every sheet has as many cells as columns, and every row its own key', () => {
  for (const name of sheetNames) {
    const { columns, rows } = sheetOf(name, now);
    expect(rows.length).toBeGreaterThan(0);
    expect(rows.every((r) => r.cells.length === columns.length)).toBe(true);
    expect(new Set(rows.map((r) => r.key)).size).toBe(rows.length);
  }
});

/** The sample with IPv6 on numbered links. */
const both = ((): SourceDocument[] => {
  const four = withoutSix(campus);
  return applyEdits(four, readEntry('ipv6 2001:db8:40::/48 numbered', four).plan?.edits ?? []);
})();

test.each<[SheetName, string, string, string]>([
  ['routers', 'kelp-3', 'router-id', '10.96.0.99'],
  ['routers', 'kelp-3', 'loopback', '2001:db8:40:1000::77/128'],
  ['interfaces', 'kelp-3/to-kelp-1', 'cost', '77'],
  ['interfaces', 'kelp-3/to-kelp-1', 'hello', '5'],
  ['interfaces', 'kelp-3/to-kelp-1', 'mtu', '1400'],
  ['interfaces', 'kelp-3/to-kelp-1', 'area', '20'],
  ['interfaces', 'kelp-3/library', 'address', '2001:db8:40:1002::99/64'],
  ['links', 'kelp-1/to-kelp-3', 'cost-back', '32'],
  ['links', 'kelp-1/to-kelp-3', 'subnet', '2001:db8:40:1001::40/127'],
  ['links', 'kelp-1/to-kelp-3', 'area', '0'],
])('IPv6, %s: what is typed at %s under %s stands there afterwards, and IPv4 is as it was', (sheet, key, column, value) => {
  expect(cell(both, sheet, key, column, 6)).not.toBe(value);
  const after = typed(both, sheet, key, column, value, 6);
  expect(cell(after, sheet, key, column, 6)).toBe(value);
  expect(cell(after, sheet, key, column)).toBe(cell(both, sheet, key, column));
});

test.each<[SheetName, string, string, string]>([
  ['routers', 'kelp-3', 'router-id', '10.96.0.99'],
  ['routers', 'kelp-3', 'reference-bandwidth', '400000'],
  ['routers', 'kelp-3', 'loopback', '10.97.0.77/32'],
  ['interfaces', 'kelp-3/to-kelp-1', 'cost', '77'],
  ['interfaces', 'kelp-3/to-kelp-1', 'type', 'broadcast'],
  ['interfaces', 'kelp-3/to-kelp-1', 'hello', '5'],
  ['interfaces', 'kelp-3/to-kelp-1', 'passive', 'yes'],
  ['interfaces', 'kelp-3/to-kelp-1', 'mtu', '1400'],
  ['interfaces', 'kelp-3/to-kelp-1', 'bandwidth', '40000'],
  ['interfaces', 'kelp-3/to-kelp-1', 'area', '20'],
  ['links', 'kelp-1/to-kelp-3', 'cost', '31'],
  ['links', 'kelp-1/to-kelp-3', 'cost-back', '32'],
  ['links', 'kelp-1/to-kelp-3', 'type', 'broadcast'],
  ['links', 'kelp-1/to-kelp-3', 'subnet', '10.97.9.0/31'],
  ['links', 'kelp-1/to-kelp-3', 'area', '0'],
])('%s: what is typed at %s under %s stands there afterwards', (sheet, key, column, value) => {
  expect(cell(campus, sheet, key, column)).not.toBe(value);
  expect(cell(typed(campus, sheet, key, column, value), sheet, key, column)).toBe(value);
});

test('an emptied cell lets the default hold again, and says that nobody wrote it', () => {
  const hello = typed(campus, 'interfaces', 'kelp-3/to-kelp-1', 'hello', '5');
  const back = typed(hello as SourceDocument[], 'interfaces', 'kelp-3/to-kelp-1', 'hello', '');
  expect(cell(back, 'interfaces', 'kelp-3/to-kelp-1', 'hello')).toBe('10');
  const row = sheetOf('interfaces', predicted(back as SourceDocument[])).rows.find((r) => r.key === 'kelp-3/to-kelp-1');
  expect(row?.given).toContain(sheetColumns.interfaces.findIndex((c) => c.id === 'hello'));
  expect(cell(typed(campus, 'interfaces', 'kelp-3/to-kelp-1', 'area', ''), 'interfaces', 'kelp-3/to-kelp-1', 'state')).toBe('not in OSPF');
});

test('a static route is moved to another prefix, next hop and preference; the address plan renumbers and summarises', () => {
  const row = sheetOf('statics', now).rows[0];
  if (!row) throw new Error('the sample has no static route');
  const moved = typed(campus, 'statics', row.key, 'prefix', '198.51.100.64/27') as SourceDocument[];
  const key = `${row.router} 198.51.100.64/27`;
  expect(cell(moved, 'statics', key, 'next-hop')).toBe(row.cells[2]);
  expect(cell(typed(moved, 'statics', key, 'next-hop', '203.0.113.9'), 'statics', key, 'next-hop')).toBe('203.0.113.9');
  expect(cell(typed(moved, 'statics', key, 'preference', '9'), 'statics', key, 'preference')).toBe('9');
  const plan = sheetOf('plan', now);
  const summary = plan.rows.find((r) => r.cells[0] === 'summary' && r.cells[2] === '10');
  expect(summary?.cells[1]).toBe('10.97.0.0/18');
  const wider = typed(campus, 'plan', summary?.key ?? '', 'prefix', '10.97.0.0/19') as SourceDocument[];
  expect(
    sheetOf('plan', predicted(wider))
      .rows.filter((r) => r.cells[0] === 'summary' && r.cells[2] === '10')
      .map((r) => r.cells[1]),
  ).toEqual(['10.97.0.0/19']);
});

test('the address plan counts each address once: what is used and free makes up the block', () => {
  for (const r of sheetOf('plan', now).rows) {
    const [, , , all, used, free, full] = r.cells;
    if (all === '') continue;
    expect(Number(used) + Number(free)).toBe(Number(all));
    expect(Number(full)).toBe(Math.round((Number(used) / Number(all)) * 100));
  }
});

test('a block is filled by what lies in it once, also where subnets lie inside of others', () => {
  const c = campusOf()
    .router('a', '10.96.0.1', 0)
    .port('a', 'wide', '10.96.8.1/24', 0)
    .port('a', 'inner', '10.96.8.129/25', 0)
    .port('a', 'other', '10.96.9.1/25', 0)
    .settings({ pool: [{ prefix: '10.96.8.0/22', purpose: 'lans' }] });
  const pool = sheetOf('plan', c.predict()).rows.find((r) => r.leads);
  expect(pool?.cells.slice(0, 7)).toEqual(['pool of lans', '10.96.8.0/22', '', '1024', '384', '640', '38']);
});

test.each<[SheetName, string, string, string, RegExp]>([
  ['interfaces', 'kelp-3/to-kelp-1', 'state', 'up', /is worked out and cannot be typed over/],
  ['interfaces', 'kelp-3/to-kelp-1', 'cost', 'dear', /"dear" is no cost: it is a whole number/],
  ['interfaces', 'kelp-3/to-kelp-1', 'address', '10.96.0.11/32', /stands on kelp-1\/.* already/],
  ['interfaces', 'kelp-3/to-kelp-1', 'address', '10.97.66.9/29', /overlaps 10\.97\.66\.0\/24/],
  ['links', 'kelp-1/to-kelp-3', 'subnet', '', /to take it away, type "delete link"/],
  ['routers', 'kelp-3', 'router', 'kelp-1', /is there already/],
])('%s: at %s under %s, "%s" is refused in words', (sheet, key, column, value, words) => {
  expect(typed(campus, sheet, key, column, value)).toMatch(words);
});

test('what is copied out can be pasted back: nothing changes; with one cell changed, that one does', () => {
  for (const name of sheetNames) {
    const { rows } = sheetOf(name, now);
    const out = copyOut(name, rows);
    expect(cellsOf(out)).toHaveLength(rows.length + 1);
    expect(pasteOver(name, rows, out, { row: 0, column: 0 })).toEqual({ changes: [], faults: [] });
  }
  const { rows } = sheetOf('interfaces', now);
  const shuffled = copyOut('interfaces', [...rows].reverse()).replace(
    'to-kelp-3\t10.97.1.0/31\t10\tpoint-to-point\t20',
    'to-kelp-3\t10.97.1.0/31\t10\tpoint-to-point\t25',
  );
  expect(pasteOver('interfaces', rows, shuffled, { row: 0, column: 0 }).changes.map((c) => [c.row.key, c.column, c.value])).toEqual([
    ['kelp-1/to-kelp-3', 'cost', '25'],
  ]);
});

test('pasted cells are laid from a cell on; what has no row or column is told', () => {
  const { rows } = sheetOf('interfaces', now);
  const cost = sheetColumns.interfaces.findIndex((c) => c.id === 'cost');
  const { changes, faults } = pasteOver('interfaces', rows.slice(0, 3), '71\t4\r\n72\t4\r\n"73"\t4\r\n74\t4\r\n', { row: 1, column: cost });
  expect(changes.map((c) => [c.row.key, c.column, c.value])).toEqual([
    [rows[1]?.key, 'cost', '71'],
    [rows[1]?.key, 'hello', '4'],
    [rows[2]?.key, 'cost', '72'],
    [rows[2]?.key, 'hello', '4'],
  ]);
  expect(faults).toEqual([expect.stringMatching(/2 lines have no row left below/)]);
  expect(pasteOver('interfaces', rows, 'a\tb', { row: 0, column: sheetColumns.interfaces.length - 1 }).faults).toEqual([
    expect.stringMatching(/1 column has no place/),
  ]);
  // A row that is not shown is there all the same.
  const hidden = rows.at(-1);
  const named = `router\tinterface\tcost\r\n${hidden?.cells[0] ?? ''}\t${hidden?.cells[1] ?? ''}\t99\r\n`;
  expect(pasteOver('interfaces', rows.slice(0, 3), named, { row: 0, column: 0 }, rows).changes.map((c) => c.row.key)).toEqual([hidden?.key]);
  expect(pasteOver('interfaces', rows, 'router\tinterface\tcost\r\nkelp-77\tx\t5\r\n', { row: 0, column: 0 }).faults).toEqual([
    'Line 2: the table has no row for kelp-77, x.',
  ]);
});

test('several lines are one step; those that cannot be carried out are told by their place, the others are', () => {
  const { edits, titles, faults } = readLines(
    ['set cost 5 on kelp-1/to-kelp-3', 'set cost dear on kelp-1/to-kelp-3', 'set cost 6 on kelp-3/to-kelp-1', 'set cost 6 on kelp-3/to-kelp-1'],
    campus,
  );
  expect(titles).toHaveLength(2);
  expect(faults.map((f) => f.n)).toEqual([1]);
  const after = applyEdits(campus, edits);
  expect([cell(after, 'links', 'kelp-1/to-kelp-3', 'cost'), cell(after, 'links', 'kelp-1/to-kelp-3', 'cost-back')]).toEqual(['5', '6']);
});

describe('addresses typed by hand', () => {
  const read = (line: string) => readEntry(line, campus);
  test('one that is taken offers the next free one, which can be carried out', () => {
    const { error, instead } = read('address kelp-3/library as 10.96.0.11/32');
    expect(error?.message).toMatch(/10\.96\.0\.11 stands on kelp-1/);
    for (const o of instead ?? []) expect(readEntry(o.line, campus).error?.message ?? 'fine').toBe('fine');
  });
  test('the number and the broadcast address of a subnet are no addresses; the next free one is offered', () => {
    const { error, instead } = read('address kelp-3/to-kelp-1 as 10.100.0.0/24');
    expect(error?.message).toMatch(/is the number of 10\.100\.0\.0\/24/);
    expect(instead?.map((o) => o.line)).toEqual(['address kelp-3/to-kelp-1 as 10.100.0.1/24']);
    expect(read('address kelp-3/to-kelp-1 as 10.100.0.255/24').error?.message).toMatch(/broadcast address/);
  });
  test('the other end is told when it would be left behind, and the whole wire can be taken along', () => {
    const { plan, instead } = read('address kelp-3/to-kelp-1 as 10.97.9.1/31');
    expect(plan?.notes.join(' ')).toMatch(/kelp-1\/to-kelp-3 stays on another subnet/);
    expect(instead?.map((o) => o.line)).toEqual(['renumber kelp-3/to-kelp-1 as 10.97.9.0/31']);
    expect(readEntry(instead?.[0]?.line ?? '', campus).error).toBeUndefined();
  });
  test('a mask is read, and an overlapping subnet of a new link is answered by a free one', () => {
    const { plan } = read('address kelp-3/library as 10.97.40.9 255.255.255.0');
    expect(plan?.title).toMatch(/has 10\.97\.40\.9\/24/);
    const { instead } = read('link kelp-1 kelp-2 subnet 10.96.128.0/31');
    expect(instead).toHaveLength(1);
    expect(readEntry(instead?.[0]?.line ?? '', campus).error).toBeUndefined();
    expect(read('address kelp-3/library as 10.97.40.9').error?.message).toMatch(/with its length/);
  });
});

test('of IPv6 a block is counted in /64s; one of a single /64 is not counted', () => {
  const { edits } = readLines(['pool loopbacks 2001:db8:40:17ff::/64 area 10'], both);
  const { columns, rows } = sheetOf('plan', predicted(applyEdits(both, edits), 6));
  const cells = (prefix: string): string[] => {
    const r = rows.find((x) => x.leads && x.cells[1] === prefix);
    return ['addresses', 'used', 'free'].map((id) => r?.cells[columns.findIndex((c) => c.id === id)] ?? 'none');
  };
  expect(columns.find((c) => c.id === 'addresses')?.name).toBe('/64s');
  // Loopbacks and numbered links each within one /64, and four LANs.
  expect(cells('2001:db8:40:1000::/52')).toEqual(['4096', '6', '4090']);
  expect(cells('2001:db8:40:17ff::/64')).toEqual(['', '', '']);
});

test('where an interface of IPv6 has no address of its own, the link-local one stands in its place', () => {
  const at = (documents: readonly SourceDocument[]): string => cell(documents, 'interfaces', 'kelp-3/to-kelp-1', 'address', 6);
  expect(at(campus)).toBe('link-local');
  expect(at(typed(campus, 'interfaces', 'kelp-3/to-kelp-1', 'address', 'fe80::7/64', 6) as SourceDocument[])).toBe('fe80::7');
  expect(cell(typed(campus, 'interfaces', 'kelp-3/to-kelp-1', 'address', '', 6), 'interfaces', 'kelp-3/to-kelp-1', 'address', 6)).toBe('link-local');
});
