import { prefixNumber } from '@gentle-compass/core/documents/leaf-types';
import { covers, parseAddress, hostLength, type Prefix } from '@gentle-compass/core/prefix/address';
import type { AdvertisementRow } from '../model/view';

/** What a list of advertisements is narrowed by. */
export interface Narrowing {
  /** Words, all of which a line has; one that is an address or a prefix takes the lines that hold it or lie in it. */
  readonly text: string;
  /** As it is written: `3`, `0x2003`. */
  readonly type: string | undefined;
  /** `undefined`: any; `null`: what floods everywhere. */
  readonly area: number | null | undefined;
  /** Beside another router: what both hold, or one of them alone. */
  readonly by: AdvertisementRow['by'];
}

export const everything: Narrowing = { text: '', type: undefined, area: undefined, by: undefined };

/** A whole address, or a prefix with its length. */
function prefixTyped(word: string): Prefix | undefined {
  const address = parseAddress(word);
  if (address !== undefined) return { bits: address, length: hostLength(address) };
  return word.includes('/') ? prefixNumber.read(word) : undefined;
}

const words = new WeakMap<AdvertisementRow, string>();
/** All that a line can be found by; made once. */
function wordsOf(r: AdvertisementRow): string {
  let all = words.get(r);
  if (all === undefined) {
    all = `${r.type} ${r.name} ${r.router} ${r.id} ${r.says} ${r.prefixes} ${r.why ?? ''}`.toLowerCase();
    words.set(r, all);
  }
  return all;
}

const prefixes = new WeakMap<AdvertisementRow, readonly Prefix[]>();
function prefixesOf(r: AdvertisementRow): readonly Prefix[] {
  let all = prefixes.get(r);
  if (all === undefined) {
    all = r.prefixes === '' ? [] : r.prefixes.split(' ').flatMap((p) => prefixNumber.read(p) ?? []);
    prefixes.set(r, all);
  }
  return all;
}

/** The lines that are left, in their order. */
export function narrowed(rows: readonly AdvertisementRow[], n: Narrowing): readonly AdvertisementRow[] {
  const typed = n.text.toLowerCase().split(/\s+/).filter(Boolean);
  const places = typed.map(prefixTyped);
  if (typed.length === 0 && n.type === undefined && n.area === undefined && n.by === undefined) return rows;
  return rows.filter(
    (r) =>
      (n.type === undefined || r.type === n.type) &&
      (n.area === undefined || r.area === n.area) &&
      (n.by === undefined || r.by === n.by) &&
      typed.every((word, i) => {
        const at = places[i];
        if (at) return prefixesOf(r).some((p) => (p.length > 0 && covers(p, at)) || covers(at, p));
        return wordsOf(r).includes(word);
      }),
  );
}

/** How many lines there are of each type, in the order of types. */
export function countByType(rows: readonly AdvertisementRow[]): { readonly type: string; readonly name: string; readonly count: number }[] {
  const out = new Map<string, { type: string; name: string; count: number }>();
  for (const r of rows) {
    const seen = out.get(r.type);
    if (seen) seen.count++;
    else out.set(r.type, { type: r.type, name: r.name, count: 1 });
  }
  return [...out.values()].sort((a, b) => Number(a.type) - Number(b.type));
}
