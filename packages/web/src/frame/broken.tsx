'use client';

import { useState } from 'react';
import { keptDesigns, rowsOfDesign } from '../model/kept-designs';
import { fileName, save } from '../parts/save';

/** In the place of a page that broke down: what happened, what is kept, and the ways on. */
export function Broken({ error }: { readonly error: Error }) {
  const [said, setSaid] = useState<string | undefined>(undefined);
  const exportAll = async (): Promise<void> => {
    const designs = await keptDesigns();
    for (const d of designs) save(`${fileName(d.name)}-as-kept.json`, await rowsOfDesign(d.id), 'application/json');
    setSaid(designs.length === 0 ? 'This browser keeps nothing, or its storage cannot be read.' : `${designs.length} written.`);
  };
  return (
    <main className="mx-auto max-w-[560px] p-8">
      <h1 className="text-2xl">Something in this page broke down</h1>
      <p className="mt-2" role="alert">
        A fault of ours: {error.message.replace(/\.$/, '') || 'it says nothing of itself'}.
      </p>
      <p className="mt-2 text-ink2">
        Your designs are kept in this browser as they were after the last change. A reload opens the page anew; what is kept can be exported first.
      </p>
      <p className="mt-4 flex gap-2">
        <button type="button" className="control" data-main onClick={() => window.location.reload()}>
          Reload
        </button>
        <button type="button" className="control" onClick={() => void exportAll()}>
          Export what is kept
        </button>
      </p>
      {said !== undefined && (
        <p className="mt-2 text-ink2" role="status">
          {said}
        </p>
      )}
    </main>
  );
}
