import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { readSet, type ReadResult } from '../formats/read-set';

/** Reads a folder of the sample campus, through the importer that a user's files go through. */
export function sample(folder: 'saltmarsh-point' | 'saltmarsh-point-before-review'): ReadResult {
  const root = join(__dirname, '../../../../demo', folder);
  return readSet(readdirSync(root).map((name) => ({ name, content: readFileSync(join(root, name), 'utf8') })));
}
