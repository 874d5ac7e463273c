import type { Fate } from '@gentle-compass/core/reach/trace';
import type { TraceView } from '../model/reach-view';

/** What becomes of a packet, in a word. */
export const fateWords: Readonly<Record<Fate, string>> = {
  delivered: 'arrives',
  dropped: 'is dropped',
  looping: 'goes in a circle',
  leaves: 'leaves the design',
  partly: 'arrives on some ways',
};

/** The same as a state that is framed. */
export const fateKind = (f: Fate): 'full' | 'rests' | 'trouble' => (f === 'delivered' ? 'full' : f === 'leaves' ? 'rests' : 'trouble');

/** A trace in a title and a sentence. */
export function verdict(t: Pick<TraceView, 'there' | 'back' | 'missing'>): { readonly title: string; readonly words: string } {
  const [there, back] = [t.there.fate, t.back.fate];
  const bad = (w: TraceView['there']): string => w.branches.find((b) => b.fate !== 'delivered')?.reason ?? '';
  if (there === 'delivered' && back === 'delivered') return { title: 'There and back', words: 'It arrives, and the answer comes back.' };
  if (there === 'delivered') return { title: 'One way only', words: `It arrives; the answer ${fateWords[back]}: ${bad(t.back)}.` };
  if (there === 'leaves') return { title: 'It leaves the design', words: `${bad(t.there)}. Whether an answer comes is up to the other side.` };
  if (there === 'looping') return { title: 'It goes in a circle', words: `${bad(t.there)}.` };
  if (there === 'partly') return { title: 'On some ways only', words: `Not every equal way arrives: ${bad(t.there)}.` };
  return { title: 'It does not arrive', words: `${bad(t.there)}.` };
}
