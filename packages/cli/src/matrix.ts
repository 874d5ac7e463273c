import { sayAll, tell } from './say';
import { readFileSync } from 'node:fs';
import type { Family } from '@gentle-compass/core/design/family';
import type { AddressGroup } from '@gentle-compass/core/design/settings';
import { groupsFrom } from '@gentle-compass/core/formats/read-set';
import { formatAddress, type Address } from '@gentle-compass/core/prefix/address';
import { predictFamilies, type Prediction } from '@gentle-compass/core/predict';
import { groupAddresses } from '@gentle-compass/core/reach/ends';
import { loopbacks, matrixOf, type Matrix } from '@gentle-compass/core/reach/matrix';
import { cellAt, type Cell } from '@gentle-compass/core/reach/matrix-cells';
import { failuresOf } from './failures';
import { readInput } from './predict';
import { problemLine } from './problem-line';
import { Unusable } from './unusable';

export interface MatrixCall {
  /** A file of groups, in the place of all loopbacks. */
  readonly groups: string | undefined;
  readonly family: string | undefined;
  readonly fail: readonly string[];
  readonly json: boolean;
}

/** Groups from a file; one that cannot be read, or holds none, makes the call unusable. */
function groupsOf(file: string): readonly AddressGroup[] {
  const { groups, problems } = groupsFrom({ name: file, content: readFileSync(file) });
  for (const p of problems) tell(`${problemLine(p)}\n`);
  if (groups.length === 0)
    throw new Unusable(`${file} holds no group; it is JSON such as { "group": [ { "name": "labs", "members": ["10.97.12.0/24", "kelp-*"] } ] }.`);
  return groups;
}

const cellJson = (c: Cell): object => ({ there: c.there, back: c.back, hops: c.hops, cost: c.cost });

/** One cell in a word: what arrives both ways is told by its cost. */
function cellText(c: Cell): string {
  if (c.there === 'delivered' && c.back === 'delivered') return `${c.cost ?? '-'}${c.lopsided ? '~' : ''}`;
  if (c.there === 'delivered') return 'one way';
  return c.there;
}

async function textOf(p: Prediction, m: Matrix): Promise<void> {
  const owner = (a: Address): string => p.design.routers.find((r) => r.interfaces.some((i) => i.addresses.some((x) => x.bits === a)))?.name ?? '';
  const names = m.rows.map((a) => `${formatAddress(a)} ${owner(a)}`.trim());
  const first = Math.max(0, ...names.map((n) => n.length));
  const words = m.rows.map((_, r) => m.columns.map((_c, c) => cellText(cellAt(m, r, c))));
  const widths = m.columns.map((_, c) => Math.max(String(c + 1).length, ...words.map((row) => row[c]?.length ?? 0)));
  const line = (head: string, cells: readonly string[]): string =>
    `${head.padEnd(first + 5)}${cells.map((w, c) => w.padStart(widths[c] ?? 0)).join(' ')}\n`;
  const places = new Map(m.columns.map((a, c) => [a, String(c + 1)]));
  await sayAll(`IPv${p.family}: the cost at which each row reaches each column both ways; ~ where the answer takes other routers.\n`);
  await sayAll(
    line(
      '',
      m.columns.map((_, c) => String(c + 1)),
    ),
  );
  for (const [r, name] of names.entries())
    await sayAll(line(`${(places.get(m.rows[r] ?? 0) ?? '').padStart(3)} ${name}`.padEnd(first + 5), words[r] ?? []));
}

/** `matrix`: what becomes of packets from each address to each other one, and of the answers. */
export async function matrixCommand(paths: readonly string[], call: MatrixCall): Promise<number> {
  if (call.family !== undefined && call.family !== '4' && call.family !== '6') throw new Unusable(`--family is 4 or 6, not "${call.family}".`);
  const specs = failuresOf(call.fail);
  const groups = call.groups === undefined ? undefined : groupsOf(call.groups);
  const family = call.family === undefined ? undefined : (Number(call.family) as Family);
  const both = predictFamilies(readInput(paths).design, specs).filter((p) => family === undefined || p.family === family);
  const [problem] = both.flatMap((p) => p.problems);
  if (problem !== undefined) throw new Unusable(problem);
  const parts = both.map((p) => {
    const addresses = groups ? [...new Set(groups.flatMap((g) => groupAddresses(p.design, g)))] : [...new Set(loopbacks(p))];
    return { p, matrix: matrixOf(p, addresses) };
  });
  const addresses = parts.flatMap((x) => x.matrix.rows.map(formatAddress));
  if (addresses.length === 0)
    throw new Unusable(
      groups
        ? `nothing that the groups of ${call.groups ?? ''} name is in this design${family === undefined ? '' : ` with IPv${family}`}.`
        : `no router has a loopback${family === undefined ? '' : ` with IPv${family}`}: name addresses with --groups.`,
    );
  if (!call.json) {
    for (const { p, matrix } of parts) if (matrix.rows.length > 0) await textOf(p, matrix);
    return 0;
  }
  await sayAll(`{"rows":${JSON.stringify(addresses)},"columns":${JSON.stringify(addresses)},"cells":[`);
  let before = 0;
  for (const { matrix } of parts) {
    const [left, right] = [before, addresses.length - before - matrix.rows.length].map((n) => new Array<null>(n).fill(null));
    for (const r of matrix.rows.keys()) {
      const own = matrix.columns.map((_, c) => cellJson(cellAt(matrix, r, c)));
      await sayAll(`${before + r === 0 ? '' : ','}\n${JSON.stringify([...(left ?? []), ...own, ...(right ?? [])])}`);
    }
    before += matrix.rows.length;
  }
  await sayAll('\n]}\n');
  return 0;
}
