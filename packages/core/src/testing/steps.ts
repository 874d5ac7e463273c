import { parseFailure, type FailureSpec } from '../failures/outage';

/** A failure as it is typed. */
export function spec(word: string): FailureSpec {
  const f = parseFailure(word);
  if (typeof f === 'string') throw new Error(f);
  return f;
}

/** Works through something long at once. */
export function finished<S, T>(steps: Generator<S, T>): T {
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
  }
}
