import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Ajv } from 'ajv';
import addFormats from 'ajv-formats';
import Papa from 'papaparse';
import { applyEdits } from '../design/edit';
import { acceptEdits } from '../findings/acceptance';
import { checkDesign } from '../findings/catalogue';
import { formatAddress, formatPrefix } from '../prefix/address';
import { formatIpv6 } from '../prefix/ipv6';
import { predict, predictFamilies } from '../predict';
import { readLines } from '../entry/lines';
import { campus } from '../testing/campus';
import { sample } from '../testing/sample';
import { tableOf, writeCsv } from '../reports/csv';
import { csvTables } from '../reports/csv-tables';
import { designFrom, readSet } from './read-set';
import { junit, sarif } from '../reports/reports';
import { worksheet } from '../reports/worksheet';

const faulty = sample('saltmarsh-point-before-review');

describe('SARIF', () => {
  const schema = JSON.parse(readFileSync(join(__dirname, '../../standards/sarif-2.1.0.json'), 'utf8')) as object;
  const ajv = new Ajv({ strict: false, allErrors: true, unicodeRegExp: false });
  addFormats(ajv);
  const valid = ajv.compile(schema);
  const faults = (log: object): string[] => {
    valid(JSON.parse(JSON.stringify(log)));
    return (valid.errors ?? []).map((e) => `${e.instancePath} ${e.message ?? ''}`);
  };
  test('what check writes is valid by the published schema: findings, accepted ones, unreadable input, odd file names', () => {
    const first = checkDesign(predict(faulty.design), faulty.documents, { withConsequences: false }).findings;
    const error = first.find((f) => f.rule === 'mtu');
    const documents = error ? applyEdits(faulty.documents, acceptEdits(faulty.documents, error, 'until Friday')) : [];
    const { findings } = checkDesign(predict(designFrom(documents).design), documents, { withConsequences: false });
    const { problems } = readSet([
      { name: 'a folder/ä <b>.json', content: '{' },
      { name: '', content: 'x' },
    ]);
    const log = sarif({ findings, problems }, '1.2.3');
    expect(faults(log)).toEqual([]);
    const results = (log as { runs: { results: { suppressions?: object[] }[] }[] }).runs[0]?.results ?? [];
    expect(results).toHaveLength(findings.length + 2);
    expect(results.filter((r) => r.suppressions)).toEqual([
      expect.objectContaining({ ruleId: 'mtu', suppressions: [{ kind: 'external', status: 'accepted', justification: 'until Friday' }] }),
    ]);
  });
  test('the schema does refuse', () => {
    expect(faults({ version: '2.1.0', runs: [{ tool: {} }] })).not.toEqual([]);
  });
});

test('JUnit holds a case for each expectation; an accepted error does not fail', () => {
  const c = campus()
    .router('a', '10.96.0.1', 0)
    .settings({
      expectation: [
        { name: 'itself', kind: 'reach', from: '10.96.0.1', to: '10.96.0.1' },
        { name: 'nowhere <&>', kind: 'reach', from: '10.96.0.1', to: '10.99.0.1' },
      ],
    });
  const read = c.read();
  const result = checkDesign(predict(read.design), read.documents);
  const text = junit({ ...result, problems: [] });
  expect(text).toContain('name="expectation: itself" time="0">\n      <system-out>');
  expect(text).toContain('name="expectation: nowhere &lt;&amp;&gt;" time="0">\n      <failure');
  const error = result.findings[0];
  const accepted = error ? applyEdits(read.documents, acceptEdits(read.documents, error, 'meant')) : [];
  const again = checkDesign(predict(designFrom(accepted).design), accepted);
  expect(junit({ findings: again.findings, problems: [] })).not.toContain('<failure');
});

describe('CSV', () => {
  const p = predict(faulty.design);
  const { findings } = checkDesign(p, faulty.documents, { withConsequences: false });
  test.each(csvTables)('%s: every row has as many cells as the header, and reads back', (table) => {
    const t = tableOf(table, p, findings);
    const back = Papa.parse<string[]>(writeCsv(t).trimEnd(), { header: false });
    expect(back.errors).toEqual([]);
    expect(back.data[0]).toEqual(t.header);
    expect(back.data.slice(1)).toEqual(t.rows.map((r) => r.map((c) => (c === null ? '' : String(c)))));
    expect(t.rows.length).toBeGreaterThan(3);
  });
  test('a cell that a spreadsheet would run is neutralised; lines end as RFC 4180 has it', () => {
    const cells = ['=1+1', '+cmd', '-2', '@sum', '\tx', ' =1', 'plain', 'a "b", c'];
    expect(writeCsv({ header: ['h'], rows: cells.map((c) => [c]) })).toBe(
      ['h', `"'=1+1"`, `"'+cmd"`, `"'-2"`, `"'@sum"`, `"'\tx"`, `"' =1"`, 'plain', '"a ""b"", c"', ''].join('\r\n'),
    );
    const named = campus().router('=cmd()', '10.96.0.1', 0).predict();
    expect(writeCsv(tableOf('routers', named, []))).toContain(`\r\n"'=cmd()",`);
  });
  test('routes of one router only', () => {
    const t = tableOf('routes', p, [], new Set(['kelp-3']));
    expect(new Set(t.rows.map((r) => r[0]))).toEqual(new Set(['kelp-3']));
    expect(t.rows).toHaveLength(p.rib(p.routerIndex('kelp-3')).length);
  });
});

describe('worksheets', () => {
  const clean = sample('saltmarsh-point');
  const both = predictFamilies(clean.design);
  test('every interface, area, range, import and policy of every router stands in its sheet, of both families', () => {
    for (const [i, r] of clean.design.routers.entries()) {
      const text = worksheet(both, i);
      for (const x of r.interfaces) for (const a of x.addresses6) expect(text).toContain(`${formatIpv6(a.bits)}/${a.length}`);
      for (const x of r.interfaces) expect(text).toContain(`| ${x.name} |`);
      for (const o of r.instances) {
        for (const a of o.areas) expect(text).toContain(`- Area ${formatAddress(a.id)}${a.name === '' ? '' : ` (${a.name})`}:`);
        for (const a of o.areas) for (const range of a.ranges) expect(text).toContain(`ummarise ${formatPrefix(range.prefix)}`);
        if (o.redistribution.length > 0) expect(text).toContain('Redistribute');
        if (o.defaultRoute) expect(text).toContain('Announce a default');
      }
      if (r.staticRoutes.length > 0) expect(text).toContain('## Static routes');
      if (r.policies.definitions.size > 0) expect(text).toContain('## Policies');
    }
  });
  test('what both families have alike stands once, and what differs with its family', () => {
    const alike = worksheet(
      both,
      clean.design.routers.findIndex((r) => r.name === 'drydock-3'),
    );
    expect(alike).not.toMatch(/OSPFv[23]: (hello|router|default)/);
    expect(alike).toContain('| workshop | yes | 10.97.72.1/24 | 2001:db8:40:2008::1/64 | 1500 | 0.0.0.20 | broadcast | yes | 10 |');
    const change = [
      'v3 set hello 5 on drydock-3/to-drydock-1',
      'v3 set cost 7 on drydock-3/slipway',
      'v3 leave drydock-3/workshop',
      'v3 set default-cost 44 on area 20',
    ];
    const { edits } = readLines(change, clean.documents);
    const read = designFrom(applyEdits(clean.documents, edits));
    const apart = worksheet(
      predictFamilies(read.design),
      read.design.routers.findIndex((r) => r.name === 'drydock-3'),
    );
    expect(apart).toContain('| IPv4: 10 s / 40 s; IPv6: 5 s / 20 s |');
    expect(apart).toContain('| IPv4: 10; IPv6: 7 |');
    expect(apart).toContain('| IPv4: 0.0.0.20; IPv6: not in OSPF | broadcast | yes | 10 |');
    expect(apart).toContain('- OSPFv2: default cost of area 0.0.0.20: 1 (by the standard: nothing to set)');
    expect(apart).toContain('- OSPFv3: default cost of area 0.0.0.20: 44');
  });
  test('keys are not in it, markup in names does nothing, a host has a sheet too', () => {
    const c = campus()
      .router('a|b', '10.96.0.1', 0)
      .port('a|b', '<script>', '10.96.1.1/30', 0, { authentication: { 'ospfv2-key': 'secret-tide' } });
    const text = worksheet([c.predict()], 0);
    expect(text).not.toContain('secret-tide');
    expect(text).toContain('# a\\|b');
    expect(text).toContain('| \\<script\\> |');
  });
});
