'use client';

import { useEffect } from 'react';

/** Stands in a dialog: when that closes, the focus goes to where it came from, or to the menu where that is gone. */
export function ReturnFocus() {
  useEffect(() => {
    const before = document.activeElement;
    return () => {
      // After whatever else the closing does with the focus.
      setTimeout(() => {
        const there = before instanceof HTMLElement && before.isConnected && before !== document.body ? before : undefined;
        const to = there ?? document.getElementById('file-menu');
        if (document.activeElement === null || document.activeElement === document.body) to?.focus();
      }, 30);
    };
  }, []);
  return null;
}
