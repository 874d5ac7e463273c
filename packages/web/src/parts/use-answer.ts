'use client';

import { useEffect, useState } from 'react';

/** Asks the workbench when the question changes; an answer to an older question is dropped. */
export function useAnswer<T>(ask: () => Promise<T>, question: readonly unknown[]): T | undefined {
  const [answer, setAnswer] = useState<T | undefined>(undefined);
  useEffect(() => {
    let current = true;
    void ask().then((a) => {
      if (current) setAnswer(a);
    });
    return () => {
      current = false;
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the question stands for the function
  }, question);
  return answer;
}
