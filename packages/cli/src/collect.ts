import { lstatSync, readdirSync, readFileSync, realpathSync, statSync } from 'node:fs';
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

/** JSON files of a folder, sorted; links that lead out of it are not followed. */
function walk(folder: string, root: string, files: string[], problems: ReadProblem[]): void {
  for (const name of readdirSync(folder).sort()) {
    const path = join(folder, name);
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
    else if (/\.(json|xml|zip|csv)$/i.test(name)) files.push(path);
  }
}

function readOne(path: string, name: string): InputFile | ReadProblem {
  const size = statSync(path).size;
  if (size > readLimits.fileBytes)
    return problem(
      name,
      `This file has ${Math.round(size / 1024 / 1024)} MB; the limit is ${readLimits.fileBytes / 1024 / 1024} MB.`,
      'A router document is seldom over 1 MB; check what made this file.',
    );
  return { name, content: readFileSync(path) };
}

/** Reads the files behind PATH arguments: a file, a folder, a .zip, or `-` for standard input. */
export function collect(paths: readonly string[]): Collected {
  const files: InputFile[] = [];
  const problems: ReadProblem[] = [];
  for (const p of paths) {
    if (p === '-') {
      files.push({ name: 'standard input', content: readFileSync(0) });
      continue;
    }
    const full = resolve(p);
    let found: string[] = [full];
    try {
      if (statSync(full).isDirectory()) {
        found = [];
        walk(full, realpathSync(full), found, problems);
        if (found.length === 0)
          problems.push(problem(p, 'There is no .json, .xml, .csv or .zip file in this folder.', 'Name the folder that holds the router documents.'));
      }
      for (const f of found) {
        const one = readOne(f, f === full ? p : join(p, relative(full, f)));
        if ('content' in one) files.push(one);
        else problems.push(one);
      }
    } catch (e) {
      const code = (e as NodeJS.ErrnoException).code;
      const reason =
        code === 'ENOENT' ? 'There is no such file or folder.' : code === 'EACCES' ? 'This file may not be read.' : 'This file cannot be read.';
      problems.push(problem(p, reason, 'Check the path and its permissions.'));
    }
  }
  return { files, problems };
}
