'use client';

import { go } from '../model/moving';

/** A router’s name as the way to it on the map. */
export function RouterLink({ name }: { readonly name: string }) {
  return (
    <button type="button" className="link" onClick={() => go({ stage: 'layout', router: name, segment: undefined })}>
      {name}
    </button>
  );
}
