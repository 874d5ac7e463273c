import { xmlText } from '../documents/xml-text';

/** One test case of a report: it fails where there is anything in `failed`, told by its first line. */
export interface JunitCase {
  readonly name: string;
  readonly failed: string;
  /** What is told without a failure. */
  readonly told: string;
}

/** Test cases as one suite of JUnit. */
export function junitText(suite: string, cases: readonly JunitCase[]): string {
  const lines = cases.map(({ name, failed, told }) => {
    const body = [
      ...(failed === '' ? [] : [`      <failure message="${xmlText(failed.split('\n')[0] ?? '')}">${xmlText(failed)}</failure>`]),
      ...(told === '' ? [] : [`      <system-out>${xmlText(told)}</system-out>`]),
    ];
    const open = `    <testcase classname="gentle-compass" name="${xmlText(name)}" time="0"`;
    return body.length === 0 ? `${open}/>` : `${open}>\n${body.join('\n')}\n    </testcase>`;
  });
  const numbers = `tests="${cases.length}" failures="${cases.filter((c) => c.failed !== '').length}" errors="0"`;
  return `<?xml version="1.0" encoding="UTF-8"?>\n<testsuites name="Gentle Compass" ${numbers}>\n  <testsuite name="${suite}" ${numbers} skipped="0" time="0">\n${lines.join('\n')}\n  </testsuite>\n</testsuites>\n`;
}
