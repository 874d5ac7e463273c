import { say } from './say';
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { checkFamilies } from '@gentle-compass/core/findings/catalogue';
import { tableOf, writeCsv } from '@gentle-compass/core/reports/csv';
import { csvTables } from '@gentle-compass/core/reports/csv-tables';
import { worksheet } from '@gentle-compass/core/reports/worksheet';
import { predictFamilies, type Prediction } from '@gentle-compass/core/predict';
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

/** `table`: one table of the prediction as CSV (RFC 4180). */
export function tableCommand(paths: readonly string[], of: string, routers: readonly string[]): number {
  const table = csvTables.find((t) => t === of);
  if (!table) throw new Unusable(`"${of}" is no table; write ${csvTables.join(', ')}.`);
  const read = readInput(paths);
  const predictions = predictFamilies(read.design);
  const [p] = predictions;
  if (!p) return 0;
  const only = new Set(chosen(p, routers).map((i) => p.design.routers[i]?.name ?? ''));
  const { findings } = table === 'findings' ? checkFamilies(predictions, read.documents) : { findings: [] };
  // What each family has lines of its own for stands in one table.
  const each = table === 'routes' || table === 'neighbours' ? predictions : [p];
  const [first, ...more] = each.map((x) => tableOf(table, x, findings, routers.length > 0 ? only : undefined));
  if (first) say(writeCsv({ ...first, rows: [...first.rows, ...more.flatMap((t) => t.rows)] }));
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
