'use client';

import { useSyncExternalStore } from 'react';

/** Whether the window is at least so wide, in pixels; a server, and a page without a browser, are narrow. */
export function useWide(pixels: number): boolean {
  const query = `(min-width: ${pixels}px)`;
  return useSyncExternalStore(
    (heard) => {
      const list = 'matchMedia' in window ? window.matchMedia(query) : undefined;
      list?.addEventListener('change', heard);
      return () => list?.removeEventListener('change', heard);
    },
    () => 'matchMedia' in window && window.matchMedia(query).matches,
    () => false,
  );
}
