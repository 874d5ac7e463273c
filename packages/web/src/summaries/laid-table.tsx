'use client';

import { formatPrefix } from '@gentle-compass/core/prefix/address';
import type { LaidText } from '../model/summaries-view';
import { count } from '../parts/words';
import { judged, judgedAlone, type Space } from './laying';
import { addresses, share } from './summary-words';

const head = 'px-2 py-1 text-left font-normal';
const number = 'px-2 py-1 text-right font-mono text-[12.5px] whitespace-nowrap';

/** Summaries that are laid, in numbers, with their cost; below them what stays outside. */
export function LaidTable({
  space,
  laid,
  at,
  onChoose,
  onChange,
  onRemove,
  outside,
}: {
  readonly space: Space;
  readonly laid: readonly LaidText[];
  readonly at: number;
  readonly onChoose: (n: number) => void;
  readonly onChange: (n: number, to: Partial<LaidText>) => void;
  readonly onRemove: (n: number) => void;
  /** Of what is announced outside: the cost is a metric. */
  readonly outside: boolean;
}) {
  const all = judged(space, laid);
  const left = space.left.length;
  const cost = outside ? 'metric' : 'cost';
  return (
    <>
      {laid.length > 0 && (
        <table className="mt-3 w-full border-separate border-spacing-0 rounded border border-rule bg-sheet" aria-label="Summaries that are laid">
          <thead className="text-ink2">
            <tr>
              <th scope="col" className={head}>
                summary
              </th>
              <th scope="col" className="px-2 py-1 text-right font-normal">
                prefixes
              </th>
              <th scope="col" className="px-2 py-1 text-right font-normal">
                foreign
              </th>
              <th scope="col" className="px-2 py-1 text-right font-normal">
                addresses
              </th>
              <th scope="col" className="px-2 py-1 text-right font-normal">
                in use
              </th>
              <th scope="col" className={head}>
                {cost}
              </th>
              <th scope="col" className={head}>
                told
              </th>
              <th scope="col" className={head}>
                <span className="sr-only">Take away</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {laid.map((l, n) => {
              const c = judgedAlone(space, laid, n);
              const parts = space.parts.length - c.outside.length;
              return (
                <tr key={l.prefix} className={n === at ? 'bg-paper' : ''} aria-selected={n === at} onClick={() => onChoose(n)}>
                  <th
                    scope="row"
                    className={`border-t border-fine px-2 py-1 text-left font-mono text-[12.5px] ${n === at ? 'font-semibold' : 'font-normal'}`}
                  >
                    {l.prefix}
                  </th>
                  <td className={`border-t border-fine ${number} ${parts === 0 ? 'text-accent' : ''}`}>{parts.toLocaleString('en-GB')}</td>
                  <td
                    className={`border-t border-fine ${number} ${c.foreign.length > 0 && !l.hidden ? 'text-accent' : 'text-ink3'}`}
                    title={c.foreign.map((f) => formatPrefix(f.prefix)).join(', ')}
                  >
                    {c.foreign.length.toLocaleString('en-GB')}
                  </td>
                  <td className="border-t border-fine px-2 py-1 text-right whitespace-nowrap">{addresses(c.claimed)}</td>
                  <td className={`border-t border-fine ${number}`}>{share(c.needed, c.claimed)}</td>
                  <td className="border-t border-fine px-2 py-1 whitespace-nowrap">
                    <select
                      className="field py-0"
                      aria-label={`${cost} of ${l.prefix}`}
                      value={l.cost === undefined ? 'follows' : 'fixed'}
                      onChange={(e) => onChange(n, { cost: e.target.value === 'fixed' ? 100 : undefined })}
                    >
                      <option value="follows">follows its parts</option>
                      <option value="fixed">fixed</option>
                    </select>
                    {l.cost !== undefined && (
                      <input
                        className="field ml-1 w-24 py-0 text-right font-mono text-xs"
                        inputMode="numeric"
                        aria-label={`Fixed ${cost} of ${l.prefix}`}
                        value={l.cost}
                        onChange={(e) => {
                          const value = Number(e.target.value.replace(/\D/g, ''));
                          if (value <= 16_777_214) onChange(n, { cost: value });
                        }}
                      />
                    )}
                  </td>
                  <td className="border-t border-fine px-2 py-1">
                    <label className="whitespace-nowrap">
                      <input
                        type="checkbox"
                        checked={!l.hidden}
                        onChange={(e) => onChange(n, { hidden: !e.target.checked })}
                        aria-label={`Tell ${l.prefix}`}
                      />{' '}
                      {l.hidden ? 'kept back' : 'told'}
                    </label>
                  </td>
                  <td className="border-t border-fine px-2 py-1 text-right">
                    <button type="button" className="link" aria-label={`Take ${l.prefix} away`} onClick={() => onRemove(n)}>
                      take away
                    </button>
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
      <p className="mt-2">
        {all.outside.length === 0 ? (
          <span className="text-settled">All {count(space.parts.length, 'prefix', 'prefixes')} are in a summary.</span>
        ) : (
          <>
            <strong className="font-semibold">{count(all.outside.length, 'prefix', 'prefixes')} outside</strong>
            <span className="text-ink2">
              {' '}
              of {space.parts.length.toLocaleString('en-GB')}, told by {all.outside.length === 1 ? 'itself' : 'themselves'}:{' '}
            </span>
            <span className="font-mono text-xs">
              {all.outside.slice(0, 8).map(formatPrefix).join(', ')}
              {all.outside.length > 8 && ` and ${(all.outside.length - 8).toLocaleString('en-GB')} more`}
            </span>
          </>
        )}
        {left > 0 && <span className="text-ink2"> {count(left, 'prefix', 'prefixes')} left out by choice.</span>}
      </p>
    </>
  );
}
