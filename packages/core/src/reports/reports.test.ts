import { findingsOf } from '../findings/catalogue';
import { predict } from '../predict';
import { sample } from '../testing/sample';
import { SaxesParser } from 'saxes';
import { junit, sarif } from './reports';
import { xmlText } from '../documents/xml-text';

const read = sample('saltmarsh-point-before-review');
const findings = findingsOf(predict(read.design), read.documents, false);

interface SarifResult {
  ruleId: string;
  ruleIndex: number;
  level: string;
  message: { text: string };
  locations: { physicalLocation?: { artifactLocation: { uri: string }; region?: { startLine: number; startColumn: number } } }[];
  partialFingerprints?: { findingId: string };
}
const runOf = (log: object) =>
  (log as { version: string; runs: { tool: { driver: { rules: { id: string }[] } }; results: SarifResult[] }[] }).runs[0];

test('SARIF 2.1.0: one result a finding, each with its rule, level, place and a stable fingerprint', () => {
  const run = runOf(sarif({ findings, problems: [] }, '1'));
  expect(run?.results).toHaveLength(findings.length);
  for (const r of run?.results ?? []) {
    expect(run?.tool.driver.rules[r.ruleIndex]?.id).toBe(r.ruleId);
    expect(['error', 'warning', 'note']).toContain(r.level);
    expect(r.message.text).not.toBe('');
  }
  expect(new Set(run?.results.map((r) => r.partialFingerprints?.findingId)).size).toBe(findings.length);
  const dead = run?.results.find((r) => r.ruleId === 'dead-interval')?.locations[0]?.physicalLocation;
  expect(dead?.artifactLocation.uri).toBe('kelp-1.json');
  const text = read.documents.find((d) => d.file === 'kelp-1.json')?.text?.split('\n') ?? [];
  expect(text.slice((dead?.region?.startLine ?? 1) - 1).join('\n')).toMatch(/^\s*\{\s+"name": "to-kelp-4"/);
});
test('what could not be read stands in both reports, with its line', () => {
  const problem = {
    severity: 'error' as const,
    file: 'a b/x.json',
    path: '',
    line: 7,
    column: 3,
    message: 'This file is not JSON.',
    remedy: 'Mend it.',
  };
  const run = runOf(sarif({ findings: [], problems: [problem] }, '1'));
  expect(run?.results[0]?.locations[0]?.physicalLocation).toEqual({
    artifactLocation: { uri: 'a%20b/x.json' },
    region: { startLine: 7, startColumn: 3 },
  });
  expect(junit({ findings: [], problems: [problem] })).toContain('failures="1"');
});
test('JUnit: well-formed whatever stands in names, and failed exactly where errors are', () => {
  const nasty = 'kelp<&"\'>]]>\u0001';
  const evil = findings.map((f) => ({ ...f, message: `${f.message} ${nasty}` }));
  const text = junit({ findings: evil, problems: [] });
  const faults: string[] = [];
  const parser = new SaxesParser();
  parser.on('error', (e) => faults.push(e.message));
  let failed = 0;
  parser.on('opentag', (t) => {
    if (t.name === 'failure') failed++;
  });
  parser.write(text).close();
  expect(faults).toEqual([]);
  expect(failed).toBe(new Set(findings.filter((f) => f.severity === 'error').map((f) => f.rule)).size);
});
test('characters that XML cannot hold are replaced, all others kept', () => {
  expect(xmlText('a\u0000b\ud800c<&>"\u{1f41f}')).toBe('a\ufffdb\ufffdc&lt;&amp;&gt;&quot;\u{1f41f}');
});
