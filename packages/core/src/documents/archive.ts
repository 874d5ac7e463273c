import { strToU8, unzipSync, zipSync } from 'fflate';
import type { ReadProblem } from './cursor';
import { megabytes, readLimits, refuse } from './limits';
import { documentText, type InputFile, type SourceDocument } from './documents';

/** What an archive says it holds, without unpacking anything. */
function zipEntries(content: Uint8Array): { name: string; size: number }[] {
  const out: { name: string; size: number }[] = [];
  unzipSync(content, {
    filter: (e) => {
      if (!e.name.endsWith('/') && /\.(json|xml|csv)$/i.test(e.name)) out.push({ name: e.name, size: e.originalSize });
      return false;
    },
  });
  return out;
}

const climbsOut = (name: string): boolean => name.split(/[/\\]/).includes('..') || /^([/\\]|[A-Za-z]:)/.test(name);

/** Files of a zip; names that climb out and files over the limit are left out, an archive over the limits is refused whole. */
export function unzip(file: InputFile, problems: ReadProblem[]): InputFile[] {
  const content = file.content;
  if (typeof content === 'string') return [];
  try {
    const wanted = new Set<string>();
    let total = 0;
    for (const e of zipEntries(content)) {
      const name = `${file.name} › ${e.name}`;
      if (climbsOut(e.name))
        problems.push(
          refuse(name, 'This name climbs out of the archive.', 'Pack the archive again with plain relative names; this entry is left out.'),
        );
      else if (e.size > readLimits.fileBytes)
        problems.push(
          refuse(
            name,
            `Unpacked this file would have ${megabytes(e.size)}; the limit is ${megabytes(readLimits.fileBytes)}.`,
            'A router document is seldom over 1 MB; check what made this archive.',
          ),
        );
      else {
        wanted.add(e.name);
        total += e.size;
      }
    }
    if (total > readLimits.unpackedBytes || wanted.size > readLimits.files) {
      problems.push(
        refuse(
          file.name,
          `Unpacked this archive would be over ${megabytes(readLimits.unpackedBytes)} or ${readLimits.files.toLocaleString('en-GB')} files.`,
          'Split the archive, or check what made it; nothing of it was read.',
        ),
      );
      return [];
    }
    // Sizes are the archive's own words: fflate unpacks into just that much room and fails where there is more.
    return Object.entries(unzipSync(content, { filter: (e) => wanted.has(e.name) })).map(([name, c]) => ({ name, content: c }));
  } catch {
    problems.push(refuse(file.name, 'This archive cannot be unpacked; it may be cut short.', 'Fetch or pack it again.'));
    return [];
  }
}

/** True when the octets begin like an archive. */
export const isZip = (f: InputFile): boolean =>
  typeof f.content !== 'string' && f.content[0] === 0x50 && f.content[1] === 0x4b && (f.content[2] === 3 || f.content[2] === 5);

/** Packs texts into a .zip under their names; of two with one name, the second gets a number. */
export function zipTexts(texts: readonly { readonly name: string; readonly text: string }[]): Uint8Array {
  const files: Record<string, Uint8Array> = {};
  for (const { name: plain, text } of texts) {
    let name = plain;
    for (let n = 2; Object.hasOwn(files, name); n++) name = plain.replace(/(\.\w+)?$/, `-${n}$1`);
    files[name] = strToU8(text);
  }
  return zipSync(files, { level: 6, mtime: '2020-01-01T00:00:00' });
}

/** Packs documents into a .zip, each under its own file name (without the archive it may have come from). */
export const zipDocuments = (documents: readonly SourceDocument[]): Uint8Array =>
  zipTexts(documents.map((d) => ({ name: d.file.replace(/^.* › /, '').replace(/^.*[/\\]/, '') || 'document.json', text: documentText(d) })));
