'use client';

import type { ReactNode } from 'react';

/** A column: names and words stand left, numbers right, in figures of one width. */
export interface NumberColumn {
  readonly name: string;
  readonly kind: 'name' | 'words' | 'code' | 'number';
  /** Width in pixels; else by what stands in it. */
  readonly width?: number;
}
export interface NumberRow {
  readonly key: string;
  /** A number is written with its thousands; `null` leaves the cell empty. */
  readonly cells: readonly (number | null | ReactNode)[];
  /** Columns whose number is a loss as soon as it is not 0. */
  readonly loud?: readonly number[];
}

const head = { name: 'text-left', words: 'text-left', code: 'text-left', number: 'pl-3 text-right' } as const;
const cell = {
  name: '',
  words: '',
  code: 'font-mono text-xs',
  number: 'pl-3 text-right align-baseline font-mono text-[12.5px]',
} as const;

/** Words that follow a number stand away from it. */
const after = (columns: readonly NumberColumn[], n: number): string =>
  columns[n]?.kind !== 'number' && columns[n - 1]?.kind === 'number' ? 'pl-3' : '';

/** A plain table of a few numbers for each thing: the one look that such tables have. */
export function NumberTable({
  label,
  columns,
  rows,
  className = '',
}: {
  readonly label: string;
  readonly columns: readonly NumberColumn[];
  readonly rows: readonly NumberRow[];
  readonly className?: string;
}) {
  return (
    <table className={`w-full ${className}`} aria-label={label}>
      <thead className="text-ink2">
        <tr>
          {columns.map((c, n) => (
            <th
              key={c.name}
              scope="col"
              className={`py-0.5 font-normal ${head[c.kind]} ${after(columns, n)}`}
              style={c.width === undefined ? undefined : { width: c.width }}
            >
              {c.name}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map((r) => (
          <tr key={r.key} className="border-t border-fine align-top">
            {columns.map((c, n) => {
              const value = r.cells[n];
              const tint = typeof value !== 'number' ? '' : value === 0 ? 'text-ink3' : r.loud?.includes(n) ? 'text-accent' : '';
              return (
                <td key={c.name} className={`py-0.5 ${cell[c.kind]} ${after(columns, n)} ${tint}`}>
                  {typeof value === 'number' ? value.toLocaleString('en-GB') : value}
                </td>
              );
            })}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
