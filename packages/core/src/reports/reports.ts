import type { Finding, Place } from '../findings/finding';
import { catalogue } from '../findings/catalogue';
import type { ExpectationResult } from '../reach/expectations';
import type { ReadProblem } from '../documents/cursor';
import { junitText, type JunitCase } from './junit';

const level = { error: 'error', warning: 'warning', note: 'note' } as const;

/** What a report is made of: findings, and what of the input could not be read. */
export interface ReportInput {
  readonly findings: readonly Finding[];
  readonly problems: readonly ReadProblem[];
  readonly expectations?: readonly ExpectationResult[];
}

const region = (p: { line?: number; column?: number }): object =>
  p.line === undefined ? {} : { region: { startLine: p.line, startColumn: p.column ?? 1 } };
const uri = (file: string): string => file.split(/[/\\]/).map(encodeURIComponent).join('/');

function sarifLocation(w: Place): object {
  return {
    ...(w.file === undefined ? {} : { physicalLocation: { artifactLocation: { uri: uri(w.file) }, ...region(w) } }),
    logicalLocations: [{ name: w.router, fullyQualifiedName: `${w.router}/${w.path}`, kind: 'member' }],
  };
}

/** Rules by id, with the one line of the catalogue that is about them. */
function ruleTexts(findings: readonly Finding[]): Map<string, string> {
  const about = new Map(catalogue.map((c) => [c.rule, c.about]));
  const general = catalogue.find((c) => c.rule === 'neighbours-apart')?.about ?? '';
  return new Map([
    ['unreadable', 'A part of the input could not be read.'],
    ...findings.map((f): [string, string] => [f.rule, about.get(f.rule) ?? general]),
  ]);
}

/** Findings as SARIF 2.1.0 (OASIS), one run, with stable fingerprints. */
export function sarif({ findings, problems }: ReportInput, version: string): object {
  const rules = [...ruleTexts(findings)].map(([id, text]) => ({ id, shortDescription: { text } }));
  const index = new Map(rules.map((r, i) => [r.id, i]));
  const results = findings.map((f) => ({
    ruleId: f.rule,
    ruleIndex: index.get(f.rule) ?? 0,
    level: level[f.severity],
    message: { text: f.message },
    locations: f.where.slice(0, 1).map(sarifLocation),
    ...(f.where.length > 1 ? { relatedLocations: f.where.slice(1).map((w, i) => ({ id: i + 1, ...sarifLocation(w) })) } : {}),
    partialFingerprints: { findingId: f.id, evidence: f.digest },
    ...(f.accepted ? { suppressions: [{ kind: 'external', status: 'accepted', justification: f.accepted.note }] } : {}),
    properties: { rfc: f.rfc, 'routes-lost': f.consequence['routes-lost'], 'routes-changed': f.consequence['routes-changed'] },
  }));
  const unreadable = problems.map((p) => ({
    ruleId: 'unreadable',
    ruleIndex: index.get('unreadable') ?? 0,
    level: p.severity === 'error' ? 'error' : 'note',
    message: { text: `${p.path === '' ? '' : `${p.path}: `}${p.message} ${p.remedy}` },
    locations: p.file === '' ? [] : [{ physicalLocation: { artifactLocation: { uri: uri(p.file) }, ...region(p) } }],
  }));
  return {
    $schema: 'https://json.schemastore.org/sarif-2.1.0.json',
    version: '2.1.0',
    runs: [{ tool: { driver: { name: 'Gentle Compass', version, rules } }, columnKind: 'utf16CodeUnits', results: [...unreadable, ...results] }],
  };
}

const place = (w: { file?: string; line?: number; path: string; router?: string }): string =>
  `${w.file ?? w.router ?? ''}${w.line === undefined ? '' : `:${w.line}`} ${w.path}`.trim();

/**
 * Findings as JUnit XML: a test case for each check of the catalogue, failed where an error of its rules was found;
 * warnings and notes stand in its output.
 */
export function junit({ findings, problems, expectations = [] }: ReportInput): string {
  const rules = [...new Set([...catalogue.map((c) => c.rule), ...findings.map((f) => f.rule)])];
  const cases: JunitCase[] = [];
  const add = (name: string, failed: readonly string[], told: readonly string[]): void =>
    void cases.push({ name, failed: failed.join('\n\n'), told: told.join('\n\n') });
  add(
    'the input can be read',
    problems.filter((p) => p.severity === 'error').map((p) => `${p.message}\n${place(p)}\n${p.remedy}`),
    [],
  );
  for (const e of expectations) {
    const by = e['broken-by'].filter((f) => f !== '').map((f) => `broken by ${f}`);
    const taken = findings.some((f) => f.accepted && f.topic === e.name && f.where[0]?.router === '');
    const told = [e.message, ...by].join('\n');
    add(`expectation: ${e.family === 6 ? 'IPv6: ' : ''}${e.name}`, e.holds || taken ? [] : [told], e.holds || taken ? [told] : []);
  }
  const text = (f: Finding): string => [f.message, ...f.where.map(place), ...f.repairs.map((r) => `mend: ${r.title}`), f.rfc].join('\n');
  for (const rule of rules) {
    const own = findings.filter((f) => f.rule === rule);
    add(
      rule,
      own.filter((f) => f.severity === 'error' && !f.accepted).map(text),
      own
        .filter((f) => f.severity !== 'error' || f.accepted)
        .map((f) => `${f.accepted ? `accepted (${f.accepted.note}), ` : ''}${f.severity}: ${text(f)}`),
    );
  }
  return junitText('check', cases);
}
