import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Ajv } from 'ajv';
import addFormats from 'ajv-formats';
import Papa from 'papaparse';
import { applyEdits } from '../design/edit';
import { acceptEdits } from '../findings/acceptance';
import { checkDesign } from '../findings/catalogue';
import { formatAddress, formatPrefix } from '../prefix/address';
import { predict } from '../predict';
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
  const p = predict(clean.design);
  test('every interface, area, range, import and policy of every router stands in its sheet', () => {
    for (const [i, r] of clean.design.routers.entries()) {
      const text = worksheet(p, i);
      for (const x of r.interfaces) expect(text).toContain(`| ${x.name} |`);
      for (const o of r.instances) {
        for (const a of o.areas) expect(text).toContain(`- Area ${formatAddress(a.id)}:`);
        for (const a of o.areas) for (const range of a.ranges) expect(text).toContain(`Summarise ${formatPrefix(range.prefix)}`);
        if (o.redistribution.length > 0) expect(text).toContain('Redistribute');
        if (o.defaultRoute) expect(text).toContain('Announce a default');
      }
      if (r.staticRoutes.length > 0) expect(text).toContain('## Static routes');
      if (r.policies.definitions.size > 0) expect(text).toContain('## Policies');
    }
  });
  test('keys are not in it, markup in names does nothing, a host has a sheet too', () => {
    const c = campus()
      .router('a|b', '10.96.0.1', 0)
      .port('a|b', '<script>', '10.96.1.1/30', 0, { authentication: { 'ospfv2-key': 'secret-tide' } });
    const text = worksheet(c.predict(), 0);
    expect(text).not.toContain('secret-tide');
    expect(text).toContain('# a\\|b');
    expect(text).toContain('| \\<script\\> |');
  });
});
