import { readFileSync } from 'node:fs';
import { readDemands } from '@gentle-compass/core/formats/read-demands';
import { demandFault, type Demands } from '@gentle-compass/core/loads/loads';
import { formatAddress } from '@gentle-compass/core/prefix/address';
import type { Prediction } from '@gentle-compass/core/predict';
import { problemLine } from './problem-line';
import { tell } from './say';
import { Unusable } from './unusable';

/** Traffic of the design and, beside it, of a table; what is wrong with it, and what is not carried, is told. */
export function demandsOf(families: readonly Prediction[], file: string | undefined): Demands {
  const own = families[0]?.design.settings.demands ?? [];
  const read = file === undefined ? { demands: [], problems: [] } : readDemands(file, readFileSync(file, 'utf8'));
  for (const p of read.problems) tell(`${problemLine(p)}\n`);
  if (file !== undefined && read.demands.length === 0)
    throw new Unusable(`${file} holds no demand that could be read; it is a table with the columns from, to and mbps.`);
  const all = [...own, ...read.demands];
  const name = (end: Demands[number]['from']): string => (typeof end === 'number' ? formatAddress(end) : end);
  for (const d of all) {
    const fault = demandFault(families, d);
    if (fault !== undefined) tell(`gentle-compass: ${name(d.from)} to ${name(d.to)} is not carried: ${fault}.\n`);
  }
  return all;
}
