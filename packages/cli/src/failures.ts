import { parseFailure, type FailureSpec } from '@gentle-compass/core/failures/outage';
import { Unusable } from './unusable';

/** What a call takes down; words that are no failure make it unusable. */
export const failuresOf = (words: readonly string[]): FailureSpec[] =>
  words.map((word) => {
    const spec = parseFailure(word);
    if (typeof spec === 'string') throw new Unusable(spec);
    return spec;
  });
