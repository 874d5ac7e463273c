import { findingsOf } from '@gentle-compass/core/findings/catalogue';
import type { Finding } from '@gentle-compass/core/findings/finding';
import { junit, sarif } from '@gentle-compass/core/formats/reports';
import { predict } from '@gentle-compass/core/predict';
import { readInput } from './predict';
import { Unusable } from './unusable';

const formats = ['text', 'json', 'sarif', 'junit'] as const;

const plural = (n: number, one: string): string => `${n} ${n === 1 ? one : `${one}s`}`;

function findingText(f: Finding): string {
  const c = f.consequence;
  const lines = [`${f.severity.padEnd(7)} ${f.message}`];
  for (const w of f.where)
    lines.push(
      `        at ${w.file === undefined ? w.router : `${w.file}${w.line === undefined ? '' : `:${w.line}`}`}${w.path === '' ? '' : ` ${w.path}`}`,
    );
  if (f.seen !== undefined) lines.push(`        on the devices: ${f.seen}`);
  if (c['routes-lost'] + c['routes-changed'] > 0)
    lines.push(`        costs ${plural(c['routes-lost'], 'route')} lost and ${c['routes-changed']} changed in ${plural(c.routers.length, 'router')}`);
  for (const r of f.repairs) lines.push(`        mend: ${r.title}`);
  lines.push(`        ${f.rule}, ${f.rfc}`);
  return lines.join('\n');
}

/** `check`: exit 1 when a finding is an error or a part of the input could not be read. */
export function checkCommand(paths: readonly string[], format: string): number {
  if (!formats.some((f) => f === format)) throw new Unusable(`"${format}" is no format of check; write ${formats.join(', ')}.`);
  const read = readInput(paths);
  const findings = findingsOf(predict(read.design), read.documents);
  const errors = findings.filter((f) => f.severity === 'error').length;
  if (format === 'json') process.stdout.write(`${JSON.stringify({ findings, expectations: [] }, null, 2)}\n`);
  else if (format === 'sarif') process.stdout.write(`${JSON.stringify(sarif({ findings, problems: read.problems }, '0.1.0'), null, 2)}\n`);
  else if (format === 'junit') process.stdout.write(junit({ findings, problems: read.problems }));
  else {
    for (const f of findings) process.stdout.write(`${findingText(f)}\n\n`);
    const count = (s: string): number => findings.filter((f) => f.severity === s).length;
    process.stdout.write(
      `${plural(read.design.routers.length, 'router')}: ${plural(count('error'), 'error')}, ${plural(count('warning'), 'warning')}, ${plural(count('note'), 'note')}.\n`,
    );
  }
  return errors > 0 || read.problems.some((p) => p.severity === 'error') ? 1 : 0;
}
