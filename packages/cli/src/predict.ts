import { say, tell } from './say';
import { once } from 'node:events';
import { findingsOf } from '@gentle-compass/core/findings/catalogue';
import type { Finding } from '@gentle-compass/core/findings/finding';
import { parseFailure, type FailureSpec } from '@gentle-compass/core/failures/outage';
import { routerJson, whyOf } from '@gentle-compass/core/reports/prediction-json';
import { moment } from '@gentle-compass/core/documents/leaf-types';
import { predictFamilies, type Prediction } from '@gentle-compass/core/predict';
import { readSet } from '@gentle-compass/core/formats/read-set';
import { collect } from './collect';
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

/** Writes and waits where the reader is slower than we are. */
async function write(text: string): Promise<void> {
  if (!say(text)) await once(process.stdout, 'drain');
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
  await write('{"routers":{');
  let first = true;
  for (const [i, r] of p.design.routers.entries()) {
    if (p.outage.routers.has(i) || (names.length > 0 && !names.includes(r.name))) continue;
    await write(`${first ? '' : ','}\n${JSON.stringify(r.name)}:${JSON.stringify(routerJson(predictions, i, why))}`);
    first = false;
  }
  await write(`\n},"findings":${JSON.stringify(findings)}}\n`);
}

/** `predict`: exit 0, also when parts of the input were left out (told on stderr). */
export async function predictCommand(paths: readonly string[], call: PredictCall): Promise<number> {
  const failures: FailureSpec[] = call.fail.map((text) => {
    const f = parseFailure(text);
    if (typeof f === 'string') throw new Unusable(f);
    return f;
  });
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
  else await write(predictionText(predictions, call.routers));
  return 0;
}
