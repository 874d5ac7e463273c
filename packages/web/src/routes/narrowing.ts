import { prefixNumber } from '@gentle-compass/core/documents/leaf-types';
import { covers, type Prefix } from '@gentle-compass/core/prefix/address';

/** A row that can be narrowed: its prefix, and all that stands in it as text. */
export interface Narrowable {
  readonly prefix: string;
}

const prefixOf = (text: string): Prefix | undefined => (text.includes('/') ? prefixNumber.read(text) : undefined);

/** What is typed, taken apart: prefixes with how lines are to lie to them, and words that must stand somewhere in the line. */
interface Wish {
  readonly prefixes: readonly { readonly at: Prefix; readonly how: 'near' | 'inside' | 'holding' }[];
  readonly words: readonly string[];
}

function wishOf(text: string): Wish {
  const prefixes: { at: Prefix; how: 'near' | 'inside' | 'holding' }[] = [];
  const words: string[] = [];
  const typed = text.trim().toLowerCase().split(/\s+/).filter(Boolean);
  typed.forEach((word, n) => {
    const at = prefixOf(word);
    const before = typed[n - 1];
    if (at) prefixes.push({ at, how: before === 'inside' || before === 'holding' ? before : 'near' });
    // A relation belongs to the prefix that follows; while that is being typed it stands for nothing.
    else if (word !== 'inside' && word !== 'holding') words.push(word);
  });
  return { prefixes, words };
}

/**
 * Whether lines fit what is typed: `10.97.0.0/16` those inside it and those that hold it, `inside` or `holding` before it
 * one of the two; every other word must stand somewhere in the line.
 *
 * @param said  all that stands in a line
 */
export function narrowing<R extends Narrowable>(text: string, said: (r: R) => string): (r: R) => boolean {
  const { prefixes, words } = wishOf(text);
  return (r) => {
    if (prefixes.length > 0) {
      const own = prefixOf(r.prefix);
      const fits = (at: Prefix, how: string): boolean =>
        own !== undefined && ((how !== 'holding' && covers(at, own)) || (how !== 'inside' && covers(own, at)));
      if (!prefixes.every(({ at, how }) => fits(at, how))) return false;
    }
    if (words.length === 0) return true;
    const whole = said(r).toLowerCase();
    return words.every((w) => whole.includes(w));
  };
}
