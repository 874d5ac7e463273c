import { say, sayAll } from './say';
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { checkFamilies } from '@gentle-compass/core/findings/catalogue';
import { tableOf, writeCsv } from '@gentle-compass/core/reports/csv';
import { csvTables } from '@gentle-compass/core/reports/csv-tables';
import { worksheet } from '@gentle-compass/core/reports/worksheet';
import { predictFamilies, type Prediction } from '@gentle-compass/core/predict';
import { whatIfTable, whatIfTables } from '@gentle-compass/core/reports/what-if-tables';
import { demandsOf } from './demands';
import { failuresOf } from './failures';
import { readInput } from './predict';
import { Unusable } from './unusable';

/** Indexes of routers by name; all of them for an empty list. */
function chosen(p: Prediction, names: readonly string[]): number[] {
  if (names.length === 0) return p.design.routers.map((_, i) => i);
  return names.map((n) => {
    const i = p.routerIndex(n);
    if (i < 0) throw new Unusable(`there is no router "${n}".`);
    return i;
  });
}

/** What a call of `table` asks for. */
export interface TableCall {
  readonly of: string;
  readonly routers: readonly string[];
  /** What is down. */
  readonly fail: readonly string[];
  /** A table of traffic, beside what the design carries. */
  readonly demands: string | undefined;
}

const tables = [...csvTables, ...whatIfTables] as const;

/** `table`: one table of the prediction as CSV (RFC 4180). */
export async function tableCommand(paths: readonly string[], { of, routers, fail, demands }: TableCall): Promise<number> {
  const table = tables.find((t) => t === of);
  if (!table) throw new Unusable(`"${of}" is no table; write ${tables.join(', ')}.`);
  if (demands !== undefined && table !== 'loads') throw new Unusable('--demands belongs to the table of loads.');
  const failures = failuresOf(fail);
  const read = readInput(paths);
  const predictions = predictFamilies(read.design, failures);
  const [p] = predictions;
  if (!p) return 0;
  const [problem] = predictions.flatMap((x) => x.problems);
  if (problem !== undefined) throw new Unusable(problem);
  const only = routers.length > 0 ? new Set(chosen(p, routers).map((i) => p.design.routers[i]?.name ?? '')) : undefined;
  const whatIf = whatIfTables.find((t) => t === table);
  if (whatIf) {
    const carried = whatIf === 'loads' ? demandsOf(predictions, demands) : [];
    if (whatIf === 'loads' && carried.length === 0)
      throw new Unusable('the design carries no demands: write "demand" into its settings, or give a table with --demands.');
    await sayAll(writeCsv(whatIfTable(whatIf, predictions, carried, only)));
    return 0;
  }
  const asked = csvTables.find((t) => t === table) ?? 'routers';
  const { findings } = asked === 'findings' ? checkFamilies(predictions, read.documents) : { findings: [] };
  // What each family has lines of its own for stands in one table.
  const each = asked === 'routes' || asked === 'neighbours' ? predictions : [p];
  const [first, ...more] = each.map((x) => tableOf(asked, x, findings, only));
  if (first) await sayAll(writeCsv({ ...first, rows: [...first.rows, ...more.flatMap((t) => t.rows)] }));
  return 0;
}

/** `worksheet`: what to set on each router, as Markdown; into a folder, one file a router, or all after one another. */
export function worksheetCommand(paths: readonly string[], routers: readonly string[], out: string | undefined): number {
  const predictions = predictFamilies(readInput(paths).design);
  const [p] = predictions;
  if (!p) return 0;
  const indexes = chosen(p, routers);
  if (out === undefined) say(indexes.map((i) => worksheet(predictions, i)).join('\n'));
  else {
    mkdirSync(out, { recursive: true });
    // A host name may hold what no file name can.
    for (const i of indexes)
      writeFileSync(join(out, `${(p.design.routers[i]?.name ?? '').replace(/[^\w.-]/g, '_').replace(/^\.+/, '_')}.md`), worksheet(predictions, i));
  }
  return 0;
}
