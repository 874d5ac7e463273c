import { sayAll, tell } from './say';
import { findingsOf } from '@gentle-compass/core/findings/catalogue';
import type { Finding } from '@gentle-compass/core/findings/finding';
import { routerJson, whyOf } from '@gentle-compass/core/reports/prediction-json';
import { moment } from '@gentle-compass/core/documents/leaf-types';
import { predictFamilies, type Prediction } from '@gentle-compass/core/predict';
import { readSet } from '@gentle-compass/core/formats/read-set';
import { collect } from './collect';
import { failuresOf } from './failures';
import { Unusable } from './unusable';
import { predictionText } from './predict-text';
import { problemLine } from './problem-line';

export interface PredictCall {
  readonly fail: readonly string[];
  readonly routers: readonly string[];
  readonly startOrder: readonly string[] | undefined;
  readonly json: boolean;
  readonly now: string | undefined;
}

/** Reads the input of a call; nothing readable in it makes the call unusable. @param now  moment at which key lifetimes are judged */
export function readInput(paths: readonly string[], now?: string): ReturnType<typeof readSet> {
  const at = now === undefined ? undefined : moment.read(now);
  if (now !== undefined && at === undefined) throw new Unusable(`--now "${now}" is not ${moment.expected}.`);
  const collected = collect(paths);
  const read = readSet(collected.files, { named: at, clock: Date.now() });
  if (read.design.now !== undefined) tell(`Key lifetimes are judged at ${new Date(read.design.now).toISOString()}.\n`);
  const problems = [...collected.problems, ...read.problems];
  for (const p of problems) tell(`${problemLine(p)}\n`);
  if (read.design.routers.length === 0) throw new Unusable('no router document could be read.');
  return { ...read, problems };
}

async function writeJson(predictions: readonly Prediction[], names: readonly string[], findings: readonly Finding[]): Promise<void> {
  const [p] = predictions;
  if (!p) return;
  const why = predictions.map((x) => whyOf(x, findings));
  await sayAll('{"routers":{');
  let first = true;
  for (const [i, r] of p.design.routers.entries()) {
    if (p.outage.routers.has(i) || (names.length > 0 && !names.includes(r.name))) continue;
    await sayAll(`${first ? '' : ','}\n${JSON.stringify(r.name)}:${JSON.stringify(routerJson(predictions, i, why))}`);
    first = false;
  }
  await sayAll(`\n},"findings":${JSON.stringify(findings)}}\n`);
}

/** `predict`: exit 0, also when parts of the input were left out (told on stderr). */
export async function predictCommand(paths: readonly string[], call: PredictCall): Promise<number> {
  const failures = failuresOf(call.fail);
  const read = readInput(paths, call.now);
  for (const name of call.routers)
    if (!read.design.routers.some((r) => r.name === name))
      throw new Unusable(
        `there is no router "${name}"; known are ${read.design.routers
          .slice(0, 12)
          .map((r) => r.name)
          .join(', ')}.`,
      );
  const predictions = predictFamilies(read.design, failures, call.startOrder ? { startOrder: call.startOrder } : {});
  const [p] = predictions;
  if (!p) return 0;
  if (p.problems.length > 0) throw new Unusable(p.problems.join(' '));
  if (call.json) await writeJson(predictions, call.routers, findingsOf(predictions, read.documents));
  else await sayAll(predictionText(predictions, call.routers));
  return 0;
}
