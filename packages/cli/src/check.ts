import { say, tell } from './say';
import { checkFamilies } from '@gentle-compass/core/findings/catalogue';
import type { Finding } from '@gentle-compass/core/findings/finding';
import { junit, sarif } from '@gentle-compass/core/reports/reports';
import { predictFamilies } from '@gentle-compass/core/predict';
import type { ExpectationResult } from '@gentle-compass/core/reach/expectations';
import { readInput } from './predict';
import { Unusable } from './unusable';
import { version } from '../package.json';

const formats = ['text', 'json', 'sarif', 'junit'] as const;

const plural = (n: number, one: string): string => `${n} ${n === 1 ? one : `${one}s`}`;

function findingText(f: Finding): string {
  const c = f.consequence;
  const lines = [`${f.accepted ? 'accepted' : f.severity.padEnd(7)} ${f.family === 6 ? 'IPv6: ' : ''}${f.message}`];
  for (const w of f.where)
    lines.push(
      `        at ${w.file === undefined ? w.router : `${w.file}${w.line === undefined ? '' : `:${w.line}`}`}${w.path === '' ? '' : ` ${w.path}`}`,
    );
  if (f.accepted) lines.push(`        accepted: ${f.accepted.note}`);
  if (f.returned) lines.push(`        was accepted (${f.returned.note}), and its evidence is another now`);
  if (f.seen !== undefined) lines.push(`        on the devices: ${f.seen}`);
  if (c['routes-lost'] + c['routes-changed'] > 0)
    lines.push(`        costs ${plural(c['routes-lost'], 'route')} lost and ${c['routes-changed']} changed in ${plural(c.routers.length, 'router')}`);
  for (const r of f.repairs) lines.push(`        mend: ${r.title}`);
  lines.push(`        ${f.rule}, ${f.rfc}`);
  return lines.join('\n');
}

function expectationText(e: ExpectationResult): string {
  const by = e['broken-by'].filter((f) => f !== '');
  const more = by.length > 5 ? ` and ${by.length - 5} more` : '';
  const name = `${e.family === 6 ? 'IPv6: ' : ''}${e.name}`;
  if (e.holds) return `holds   ${name}${e.tried > 0 ? ` (in each of ${e.tried} failures too)` : ''}`;
  return `broken  ${name}: ${e.message}${by.length > 1 ? `; also broken by ${by.slice(1, 5).join(', ')}${more}` : ''}`;
}

/**
 * `check`: exit 1 when a finding that is not accepted is an error, an expectation is broken, or a part of the input could
 * not be read.
 *
 * @param expect  a further file whose expectations are checked too
 * @param now     moment at which key lifetimes are judged
 */
export function checkCommand(paths: readonly string[], format: string, expect?: string, now?: string): number {
  if (!formats.some((f) => f === format)) throw new Unusable(`"${format}" is no format of check; write ${formats.join(', ')}.`);
  const read = readInput(expect === undefined ? paths : [...paths, expect], now);
  if (expect !== undefined && !read.design.settings.expectations.some((e) => e.file === expect))
    throw new Unusable(`${expect} holds no expectation that could be read; it is a settings document with an "expectation" list.`);
  const { findings, expectations } = checkFamilies(predictFamilies(read.design), read.documents);
  const report = { findings, problems: read.problems, expectations };
  if (format === 'json') say(`${JSON.stringify({ findings, expectations }, null, 2)}\n`);
  else if (format === 'sarif') say(`${JSON.stringify(sarif(report, version), null, 2)}\n`);
  else if (format === 'junit') say(junit(report));
  else {
    for (const f of findings) say(`${findingText(f)}\n\n`);
    for (const e of expectations) say(`${expectationText(e)}\n`);
    const open = findings.filter((f) => !f.accepted);
    const count = (s: string): number => open.filter((f) => f.severity === s).length;
    const parts = [plural(count('error'), 'error'), plural(count('warning'), 'warning'), plural(count('note'), 'note')];
    if (open.length < findings.length) parts.push(`${findings.length - open.length} accepted`);
    // One that is judged in both families holds when it does in both.
    const names = [...new Set(expectations.map((e) => e.name))];
    const holding = names.filter((n) => expectations.every((e) => e.name !== n || e.holds));
    if (names.length > 0) parts.push(`${holding.length} of ${plural(names.length, 'expectation')} hold`);
    say(`${plural(read.design.routers.length, 'router')}: ${parts.join(', ')}.\n`);
  }
  // Every broken expectation is an error among the findings, where it can be accepted like any other.
  const errors = findings.filter((f) => f.severity === 'error' && !f.accepted).length;
  const unread = read.problems.filter((p) => p.severity === 'error').length;
  const why = [
    errors > 0 ? `${plural(errors, 'error')} not accepted` : '',
    unread > 0 ? `${plural(unread, 'place')} of the input not read` : '',
  ].filter(Boolean);
  if (why.length > 0) tell(`check ends with 1: ${why.join(', ')}.\n`);
  return why.length > 0 ? 1 : 0;
}
