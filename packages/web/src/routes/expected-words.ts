import type { ExpectationResult } from '@gentle-compass/core/reach/expectations';

/** What beside the network as it is an expectation must outlive, in short. */
export const underWords = (under: string): string =>
  ({ normal: '', 'any-link': 'any one link', 'any-router': 'any one router', 'any-group': 'any shared risk' })[under] ?? under;

/** The same as a sentence. */
export const whenWords = (under: string): string =>
  under === 'normal' ? 'In the network as it is' : `In the network as it is, and with ${underWords(under)} down`;

/** The state of an expectation in a word. */
export function stateOf(
  result: ExpectationResult | undefined,
  down: string | undefined,
): { readonly kind: 'full' | 'rests' | 'trouble'; readonly words: string } {
  if (down !== undefined) return { kind: 'trouble', words: 'broken with what is down' };
  if (!result) return { kind: 'rests', words: 'not looked at' };
  return result.holds
    ? { kind: 'full', words: 'holds' }
    : { kind: 'trouble', words: result['broken-by'].includes('') ? 'broken' : 'broken in a failure' };
}
