import { say } from './say';
import { existsSync, mkdirSync, readdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { documentText } from '@gentle-compass/core/documents/documents';
import { generateCampus } from '@gentle-compass/core/generate/generate-campus';
import { Unusable } from './unusable';

/** `generate`: writes the documents of a believable campus into a folder that is empty or not there yet. */
export function generateCommand(o: { routers: string; areas: string; seed: string; out: string }): number {
  const number = (name: string, text: string): number => {
    if (!/^\d{1,10}$/.test(text)) throw new Unusable(`--${name} "${text}" is no whole number.`);
    return Number(text);
  };
  const size = { routers: number('routers', o.routers), areas: number('areas', o.areas), seed: number('seed', o.seed) };
  if (existsSync(o.out) && readdirSync(o.out).length > 0) throw new Unusable(`${o.out} is not empty; name a folder that is, or a new one.`);
  let documents: ReturnType<typeof generateCampus>;
  try {
    documents = generateCampus(size);
  } catch (e) {
    if (e instanceof RangeError) throw new Unusable(e.message);
    throw e;
  }
  mkdirSync(o.out, { recursive: true });
  for (const d of documents) writeFileSync(join(o.out, d.file), documentText(d));
  say(`${documents.length} router documents in ${o.out}.\n`);
  return 0;
}
