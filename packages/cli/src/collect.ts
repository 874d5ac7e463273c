import { closeSync, lstatSync, openSync, readdirSync, readSync, realpathSync, statSync } from 'node:fs';
import { whyNot } from './caller-error';
import { join, relative, resolve, sep } from 'node:path';
import type { InputFile } from '@gentle-compass/core/documents/documents';
import { readLimits } from '@gentle-compass/core/documents/limits';
import type { ReadProblem } from '@gentle-compass/core/documents/cursor';

/** The input of a call: files that exist, and what could not be taken. */
export interface Collected {
  readonly files: readonly InputFile[];
  readonly problems: readonly ReadProblem[];
}

const problem = (file: string, message: string, remedy: string): ReadProblem => ({ severity: 'error', file, path: '', message, remedy });

const leftOut = (path: string, e: unknown): ReadProblem => problem(path, whyNot(e), 'Mend or remove it; it is left out, and the rest is read.');

/** Documents of a folder, sorted; links that lead out of it are not followed, and what cannot be looked at is named. */
function walk(folder: string, root: string, files: string[], problems: ReadProblem[]): void {
  let names: string[];
  try {
    names = readdirSync(folder).sort();
  } catch (e) {
    problems.push(leftOut(folder, e));
    return;
  }
  for (const name of names) {
    const path = join(folder, name);
    try {
      let kind = lstatSync(path);
      if (kind.isSymbolicLink()) {
        const target = realpathSync(path);
        if (target !== root && !target.startsWith(root + sep)) {
          problems.push(
            problem(path, 'This link leads out of the folder.', 'Copy the file into the folder, or name it on the command line; it is left out.'),
          );
          continue;
        }
        kind = statSync(path);
        if (kind.isDirectory()) continue; // its files are met where they stand
      }
      if (kind.isDirectory()) walk(path, root, files, problems);
      else if (!/\.(json|xml|zip|csv)$/i.test(name)) continue;
      else if (kind.isFile()) files.push(path);
      else problems.push(problem(path, 'This is no file but a pipe, a socket or a device.', 'Remove it from the folder; it is left out.'));
    } catch (e) {
      problems.push(leftOut(path, e));
    }
  }
}

const tooLarge = (name: string, size: string): ReadProblem =>
  problem(
    name,
    `This file has ${size}; the limit is ${readLimits.fileBytes / 1024 / 1024} MB.`,
    'A router document is seldom over 1 MB; check what made this file.',
  );

/** What comes out of an open file or a pipe, up to the limit of one file; `undefined` when there is more. */
function upToLimit(fd: number): Uint8Array | undefined {
  const parts: Uint8Array[] = [];
  const room = Buffer.alloc(1 << 20);
  for (let size = 0; ;) {
    const n = readSync(fd, room, 0, room.length, null);
    if (n === 0) return Buffer.concat(parts);
    size += n;
    if (size > readLimits.fileBytes) return undefined;
    parts.push(Buffer.from(room.subarray(0, n)));
  }
}

function readOne(path: string, name: string): InputFile | ReadProblem {
  const { size } = statSync(path);
  if (size > readLimits.fileBytes) return tooLarge(name, `${Math.round(size / 1024 / 1024)} MB`);
  const fd = openSync(path, 'r');
  try {
    const content = upToLimit(fd);
    return content ? { name, content } : tooLarge(name, 'more than that');
  } finally {
    closeSync(fd);
  }
}

/** Documents behind one PATH: a file, or all of a folder. */
function filesBehind(path: string, problems: ReadProblem[]): { readonly path: string; readonly name: string }[] {
  const full = resolve(path);
  if (!statSync(full).isDirectory()) return [{ path: full, name: path }];
  const found: string[] = [];
  const before = problems.length;
  walk(full, realpathSync(full), found, problems);
  if (found.length === 0 && problems.length === before)
    problems.push(problem(path, 'There is no .json, .xml, .csv or .zip file in this folder.', 'Name the folder that holds the router documents.'));
  return found.map((f) => ({ path: f, name: join(path, relative(full, f)) }));
}

/** Reads the files behind PATH arguments: a file, a folder, a .zip, or `-` for standard input. What cannot be read is named, the rest is read. */
export function collect(paths: readonly string[]): Collected {
  const files: InputFile[] = [];
  const problems: ReadProblem[] = [];
  const add = (one: InputFile | ReadProblem): void => {
    if ('content' in one) files.push(one);
    else problems.push(one);
  };
  for (const p of paths) {
    if (p === '-') {
      const content = upToLimit(0);
      add(content ? { name: 'standard input', content } : tooLarge('standard input', 'more than that'));
      continue;
    }
    let found: { readonly path: string; readonly name: string }[] = [];
    try {
      found = filesBehind(p, problems);
    } catch (e) {
      problems.push(problem(p, whyNot(e), 'Check the path and its permissions.'));
    }
    for (const f of found)
      try {
        add(readOne(f.path, f.name));
      } catch (e) {
        problems.push(leftOut(f.name, e));
      }
  }
  return { files, problems };
}
