/** One entry of an archive, as its directory tells of it. */
export interface ZipEntry {
  readonly name: string;
  /** Octets before and after packing. */
  readonly size: number;
  readonly packed: number;
  /** CRC-32 of what was packed. */
  readonly checksum: number;
  /** 0: stored as it is, 8: deflated. */
  readonly method: number;
  readonly encrypted: boolean;
  /** Where its local header begins. */
  readonly at: number;
  /** Its name there is the same. */
  readonly named: boolean;
}

const endMark = 0x06054b50;
const end64Mark = 0x06064b50;
const locator64Mark = 0x07064b50;
const entryMark = 0x02014b50;
const localMark = 0x04034b50;
/** A comment of 65,535 octets may stand behind the end of the directory. */
const longestTail = 65_535 + 22;

const utf8 = new TextDecoder('utf-8');
const latin = new TextDecoder('latin1');

/** Where the directory begins and ends, and how many entries it has; `undefined` where there is none. */
function findDirectory(view: DataView): { readonly at: number; readonly end: number; readonly count: number } | undefined {
  for (let at = view.byteLength - 22; at >= Math.max(0, view.byteLength - longestTail); at--) {
    if (view.getUint32(at, true) !== endMark) continue;
    const [count, start] = [view.getUint16(at + 10, true), view.getUint32(at + 16, true)];
    if (count !== 0xffff && start !== 0xffff_ffff) return { at: start, end: at, count };
    if (at < 20 || view.getUint32(at - 20, true) !== locator64Mark) return { at: start, end: at, count };
    const far = Number(view.getBigUint64(at - 12, true));
    if (far + 56 > view.byteLength || view.getUint32(far, true) !== end64Mark) return undefined;
    return { count: Number(view.getBigUint64(far + 32, true)), at: Number(view.getBigUint64(far + 48, true)), end: far };
  }
  return undefined;
}

/** Sizes and place of an entry that are too large for its fields (ZIP64), in the order in which they are missing. */
function wide(view: DataView, from: number, to: number, values: readonly number[]): number[] {
  for (let at = from; at + 4 <= to;) {
    const [id, length] = [view.getUint16(at, true), view.getUint16(at + 2, true)];
    if (id === 1) {
      let next = at + 4;
      return values.map((v) => {
        if (v !== 0xffff_ffff || next + 8 > Math.min(to, at + 4 + length)) return v;
        next += 8;
        return Number(view.getBigUint64(next - 8, true));
      });
    }
    at += 4 + length;
  }
  return [...values];
}

/** Whether the local header at a place has a name. */
function namedAlike(content: Uint8Array, view: DataView, at: number, name: Uint8Array): boolean {
  if (at + 30 + name.length > content.byteLength || view.getUint32(at, true) !== localMark) return false;
  return view.getUint16(at + 26, true) === name.length && name.every((octet, i) => octet === content[at + 30 + i]);
}

/**
 * Reads the directory of an archive (ISO/IEC 21320-1), without unpacking anything.
 *
 * @returns  `undefined` where there is no directory, or where it does not end as it says
 */
export function zipDirectory(content: Uint8Array): ZipEntry[] | undefined {
  const view = new DataView(content.buffer, content.byteOffset, content.byteLength);
  if (content.byteLength < 22) return undefined;
  const directory = findDirectory(view);
  if (!directory) return undefined;
  const out: ZipEntry[] = [];
  let { at } = directory;
  for (let n = 0; n < directory.count; n++) {
    if (at + 46 > content.byteLength || view.getUint32(at, true) !== entryMark) return undefined;
    const flags = view.getUint16(at + 8, true);
    const [nameLength, extra, comment] = [28, 30, 32].map((o) => view.getUint16(at + o, true)) as [number, number, number];
    const end = at + 46 + nameLength + extra + comment;
    if (end > content.byteLength) return undefined;
    const name = content.subarray(at + 46, at + 46 + nameLength);
    const [size = 0, packed = 0, place = 0] = wide(
      view,
      at + 46 + nameLength,
      at + 46 + nameLength + extra,
      [24, 20, 42].map((o) => view.getUint32(at + o, true)),
    );
    out.push({
      named: namedAlike(content, view, place, name),
      name: ((flags & 0x800) === 0 ? latin : utf8).decode(name),
      size,
      packed,
      checksum: view.getUint32(at + 16, true),
      method: view.getUint16(at + 10, true),
      encrypted: (flags & 1) === 1,
      at: place,
    });
    at = end;
  }
  // Entries that the end does not count would be left out in silence.
  return at === directory.end ? out : undefined;
}

/** The octets of an entry as they are packed; `undefined` where the archive does not hold them. */
export function packedOctets(content: Uint8Array, entry: ZipEntry): Uint8Array | undefined {
  const view = new DataView(content.buffer, content.byteOffset, content.byteLength);
  if (entry.at + 30 > content.byteLength || view.getUint32(entry.at, true) !== localMark) return undefined;
  const from = entry.at + 30 + view.getUint16(entry.at + 26, true) + view.getUint16(entry.at + 28, true);
  return from + entry.packed > content.byteLength ? undefined : content.subarray(from, from + entry.packed);
}
