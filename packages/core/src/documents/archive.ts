import crc32 from 'crc-32';
import { inflateSync, strToU8, zipSync } from 'fflate';
import type { ReadProblem } from './cursor';
import { megabytes, readLimits, refuse } from './limits';
import { documentText, type InputFile, type SourceDocument } from './documents';
import { packedOctets, zipDirectory, type ZipEntry } from './zip-directory';

const climbsOut = (name: string): boolean => name.split(/[/\\]/).includes('..') || /^([/\\]|[A-Za-z]:)/.test(name);
const isDocument = (name: string): boolean => !name.endsWith('/') && /\.(json|xml|csv)$/i.test(name);

/** Why an entry is left out by what the directory says of it; `undefined`: it is read. */
function refuseEntry(name: string, e: ZipEntry, seen: ReadonlySet<string>): ReadProblem | undefined {
  if (climbsOut(e.name))
    return refuse(name, 'This name climbs out of the archive.', 'Pack the archive again with plain relative names; this entry is left out.');
  if (seen.has(e.name))
    return refuse(name, 'This name stands in the archive twice.', 'Pack the archive again with one of the two; the second is left out.');
  if (e.encrypted) return refuse(name, 'This entry is encrypted.', 'Pack the archive again without a password; this entry is left out.');
  if (e.method !== 0 && e.method !== 8)
    return refuse(name, `This entry is packed by method ${e.method}.`, 'Pack the archive again with deflate, as is usual; this entry is left out.');
  if (e.size > readLimits.fileBytes)
    return refuse(
      name,
      `Unpacked this file would have ${megabytes(e.size)}; the limit is ${megabytes(readLimits.fileBytes)}.`,
      'A router document is seldom over 1 MB; check what made this archive.',
    );
  return undefined;
}

/** An entry unpacked; `undefined` where it is damaged: cut short, longer than announced, or with another checksum. */
function unpacked(content: Uint8Array, e: ZipEntry): Uint8Array | undefined {
  const packed = e.named ? packedOctets(content, e) : undefined;
  if (!packed) return undefined;
  try {
    // Into just that much room: an entry that is longer than announced does not fit, and its checksum tells.
    const out = e.method === 0 ? packed : inflateSync(packed, { out: new Uint8Array(e.size) });
    return out.length === e.size && crc32.buf(out) >>> 0 === e.checksum ? out : undefined;
  } catch {
    return undefined;
  }
}

/**
 * Files of a zip. An archive over the limits is refused whole before anything is unpacked; an entry that climbs out, is
 * damaged, encrypted, doubled or too large is left out and named, the rest is read.
 */
export function unzip(file: InputFile, problems: ReadProblem[]): InputFile[] {
  const content = file.content;
  if (typeof content === 'string') return [];
  const directory = zipDirectory(content);
  if (!directory) {
    problems.push(refuse(file.name, 'This archive cannot be unpacked; it may be cut short.', 'Fetch or pack it again.'));
    return [];
  }
  const announced = directory.reduce((sum, e) => sum + e.size, 0);
  const tight = announced > readLimits.tightArchive.bytes && announced > readLimits.tightArchive.times * content.length;
  if (announced > readLimits.unpackedBytes || directory.length > readLimits.files || tight) {
    const many = directory.length > readLimits.files;
    problems.push(
      refuse(
        file.name,
        many
          ? `This archive has ${directory.length.toLocaleString('en-GB')} entries; the limit is ${readLimits.files.toLocaleString('en-GB')}.`
          : `Unpacked this archive would have ${megabytes(announced)}${tight ? `, over ${readLimits.tightArchive.times} times its own size` : `; the limit is ${megabytes(readLimits.unpackedBytes)}`}.`,
        'Split the archive, or check what made it; nothing of it was read.',
      ),
    );
    return [];
  }
  const seen = new Set<string>();
  return directory.flatMap((e): InputFile[] => {
    const name = `${file.name} › ${e.name}`;
    // What has another name where it lies may be a document of which the directory does not tell.
    if (!isDocument(e.name) && e.named) return [];
    const problem = refuseEntry(name, e, seen);
    seen.add(e.name);
    const octets = problem ? undefined : unpacked(content, e);
    if (octets) return [{ name: e.name, content: octets }];
    problems.push(
      problem ?? refuse(name, 'This entry is damaged: it is not what was packed.', 'Fetch or pack the archive again; this entry is left out.'),
    );
    return [];
  });
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
