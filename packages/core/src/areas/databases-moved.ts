import { lsaBody, lsaKey } from '../lsdb/lsa-body';
import type { Prediction } from '../predict';
import { domainDatabase, type Held } from './held';
import { saysWhat, typeOf } from './lsa-words';

/** What became of the advertisements of one type in one area, or of those that flood everywhere. */
export interface DatabaseMove {
  /** `undefined`: the whole system. */
  readonly area: number | undefined;
  readonly type: number;
  /** Advertisements that are there now and were not, that say something else, and that are held no more. */
  readonly fresh: number;
  readonly newer: number;
  readonly gone: number;
  /** What some of them say now; of those that are gone what they said. */
  readonly examples: readonly string[];
}

const mostExamples = 4;

/** An advertisement by its name and area: of an area in pieces by whichever piece holds it. */
function byName(p: Prediction): Map<string, Held[]> {
  const out = new Map<string, Held[]>();
  for (const h of domainDatabase(p)) {
    const { type, id, adv } = lsaKey(h.lsa);
    const key = `${h.area ?? '*'} ${type} ${id} ${adv}`;
    const list = out.get(key);
    if (list) list.push(h);
    else out.set(key, [h]);
  }
  return out;
}

/** Whether two lists of one name say the same: what is the very same object is not looked into. */
function sameContent(a: readonly Held[], b: readonly Held[]): boolean {
  if (a.length === b.length && a.every((x, n) => x.lsa === b[n]?.lsa)) return true;
  const text = (list: readonly Held[]): string =>
    list
      .map((h) => JSON.stringify(lsaBody(h.lsa)))
      .sort()
      .join();
  return text(a) === text(b);
}

/**
 * Lays the databases of two states of a design side by side, area by area and type by type (RFC 2328 §12, RFC 5340 §4.4):
 * what a failure has every router flood anew. Types of which nothing is another one are left out.
 */
export function databasesMoved(before: Prediction, after: Prediction): DatabaseMove[] {
  const [old, now] = [byName(before), byName(after)];
  const moves = new Map<string, { area: number | undefined; type: number; fresh: number; newer: number; gone: number; examples: string[] }>();
  const note = (p: Prediction, h: Held, how: 'fresh' | 'newer' | 'gone'): void => {
    const type = typeOf(h.lsa);
    const key = `${h.area ?? '*'} ${type}`;
    const m = moves.get(key) ?? { area: h.area, type, fresh: 0, newer: 0, gone: 0, examples: [] };
    moves.set(key, m);
    m[how]++;
    if (m.examples.length < mostExamples) m.examples.push(`${how === 'gone' ? 'gone: ' : ''}${saysWhat(p, h.lsa)}`);
  };
  for (const [key, list] of now) {
    const [h] = list;
    const was = old.get(key);
    if (h && (!was || !sameContent(was, list))) note(after, h, was ? 'newer' : 'fresh');
  }
  for (const [key, [h]] of old) if (h && !now.has(key)) note(before, h, 'gone');
  return [...moves.values()].sort((a, b) => (a.area ?? Infinity) - (b.area ?? Infinity) || a.type - b.type);
}
