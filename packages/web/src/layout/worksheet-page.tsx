'use client';

import { useStore } from '../model/state';
import { openWorksheet } from '../model/panes';
import { useAnswer } from '../parts/use-answer';
import { workbench } from '../worker/client';

/** What to set on a router, on one page that prints well. */
export function WorksheetPage({ name }: { readonly name: string }) {
  const design = useStore((s) => s.design?.name ?? '');
  const view = useStore((s) => s.view);
  const sheet = useAnswer(() => workbench().layout.worksheetOf(name), [name, view]);
  return (
    <div className="flex min-h-0 min-w-0 flex-1 flex-col bg-paper">
      <header className="no-print flex items-center gap-2 border-b border-rule bg-sheet px-4 py-2">
        <button type="button" className="control" onClick={() => openWorksheet(false)}>
          Back to the map
        </button>
        <span className="text-ink2">What to set on {name}, for any device. Keys are not shown.</span>
        <button type="button" className="control ml-auto" data-main onClick={() => window.print()}>
          Print this page
        </button>
      </header>
      <div className="min-h-0 flex-1 overflow-auto px-6 py-5">
        <article className="worksheet mx-auto max-w-[1060px] rounded border border-rule bg-sheet px-7 py-6" aria-label={`Worksheet of ${name}`}>
          {sheet && (
            <>
              <h1 className="text-xl">{sheet.router}</h1>
              <p className="text-ink2">
                {sheet.intro.join(' ')} Of the design “{design}”.
              </p>
              {sheet.parts.map((part) => (
                <section key={part.title} className={part.title === 'OSPF process' ? 'worksheet-columns' : ''}>
                  <h2 className="mt-4 text-lg">{part.title}</h2>
                  {part.table && (
                    <table className="mt-1 w-full text-[12.5px]">
                      <thead>
                        <tr>
                          {part.table[0]?.map((h) => (
                            <th key={h} className="border-b border-rule py-0.5 pr-2 text-left align-bottom font-normal text-ink2">
                              {h}
                            </th>
                          ))}
                        </tr>
                      </thead>
                      <tbody>
                        {part.table.slice(1).map((cells) => (
                          <tr key={cells[0]} className="border-b border-fine align-top">
                            {cells.map((c, n) => (
                              <td
                                key={n}
                                className={`py-0.5 pr-2 ${n === 2 || (n === 3 && part.table?.[0]?.[3] === 'IPv6') ? 'font-mono text-[12px]' : ''}`}
                              >
                                {c}
                              </td>
                            ))}
                          </tr>
                        ))}
                      </tbody>
                    </table>
                  )}
                  {part.items && (
                    <ul className="mt-1">
                      {part.items.map((x, n) => (
                        <li key={n} className={`border-b border-fine py-0.5 ${x.below ? 'pl-5' : ''}`}>
                          {x.text}
                        </li>
                      ))}
                    </ul>
                  )}
                </section>
              ))}
            </>
          )}
        </article>
      </div>
    </div>
  );
}
