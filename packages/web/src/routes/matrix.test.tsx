import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import type { MatrixEnd, MatrixView } from '../model/reach-view';
import { blocksOf, cellOf, cellText, orderOf, sizesOf } from './matrix-cells';
import { MatrixGrid } from './matrix-grid';

const end = (router: string, area: string, address: string): MatrixEnd => ({ router, area, address, site: router.replace(/-\d+$/, '') });
const ends = [
  end('kelp-2', '0.0.0.10', '10.97.0.2'),
  end('beacon-1', '0.0.0.0', '10.96.0.1'),
  end('kelp-10', '0.0.0.10', '10.97.0.10'),
  end('', '', '192.0.2.1'),
];
const [delivered, dropped, leaves, looping, partly] = [1, 2, 4, 8, 3];

/** Row by row: there, back, hops, cost, lopsided. */
const matrix: MatrixView = (() => {
  const cells = [
    [delivered, delivered, 0, -1, 0],
    [delivered, delivered, 2, 30, 0],
    [delivered, delivered, 1, 20, 1],
    [leaves, dropped, 1, 40, 0],
    [delivered, dropped, 2, 30, 0],
    [delivered, delivered, 0, -1, 0],
    [looping, dropped, 3, 10, 0],
    [leaves, dropped, 0, -1, 0],
    [partly, delivered, 1, 20, 0],
    [delivered, delivered, 1, -1, 0],
    [delivered, delivered, 0, -1, 0],
    [dropped, dropped, -1, -1, 0],
    [dropped, leaves, -1, -1, 0],
    [dropped, leaves, -1, -1, 0],
    [dropped, dropped, -1, -1, 0],
    [delivered, delivered, 0, -1, 0],
  ] as const;
  const column = (n: 0 | 1 | 2 | 3 | 4): number[] => cells.map((c) => c[n]);
  return {
    rows: ends,
    columns: ends,
    there: Uint8Array.from(column(0)),
    back: Uint8Array.from(column(1)),
    hops: Int16Array.from(column(2)),
    cost: Int32Array.from(column(3)),
    lopsided: Uint8Array.from(column(4)),
  };
})();

test('a cell has one sign for what becomes of it; the cost only where it arrives both ways', () => {
  const signs = ends.map((_, r) => ends.map((_e, c) => cellText(matrix, r, c)));
  expect(signs).toEqual([
    ['·', '30', '20~', '↗'],
    ['→', '·', '↻', '↗'],
    ['÷', '✓', '·', '×'],
    ['×', '×', '×', '·'],
  ]);
  expect(cellOf(matrix, 0, 1)).toEqual({ kind: 'both', there: 'delivered', back: 'delivered', hops: 2, cost: 30, lopsided: false });
  expect(cellOf(matrix, 3, 0)).toMatchObject({ kind: 'dropped', hops: null, cost: null });
});

test('rows and columns stand by group, then by name as people count; a block keeps its own; pairs are counted', () => {
  const names = (o: { rows: readonly number[] }): string[] => o.rows.map((n) => ends[n]?.router ?? '');
  expect(names(orderOf(matrix, 'area'))).toEqual(['', 'beacon-1', 'kelp-2', 'kelp-10']);
  expect(names(orderOf(matrix, 'site'))).toEqual(['', 'beacon-1', 'kelp-2', 'kelp-10']);
  expect(orderOf(matrix, 'area', ['0.0.0.10', '0.0.0.0'])).toMatchObject({ rows: [0, 2], columns: [1] });
  expect(sizesOf(matrix, orderOf(matrix, 'none'))).toEqual({ both: 2, lopsided: 1, oneway: 1, partly: 1, leaves: 2, dropped: 4, looping: 1 });
});

test('pairs of groups: those in which not all reach each other come first', () => {
  const { names, rows } = blocksOf(matrix, 'area');
  expect(names).toEqual(['0.0.0.10', '0.0.0.0', '']);
  expect(rows.map((b) => `${b.from || 'none'} to ${b.to || 'none'}: ${b.both} of ${b.all}`)).toEqual([
    'none to 0.0.0.0: 0 of 1',
    'none to 0.0.0.10: 0 of 2',
    '0.0.0.0 to none: 0 of 1',
    '0.0.0.0 to 0.0.0.10: 0 of 2',
    '0.0.0.10 to none: 0 of 2',
    '0.0.0.10 to 0.0.0.10: 1 of 2',
    '0.0.0.10 to 0.0.0.0: 2 of 2',
  ]);
});

/** jsdom draws nothing: the box says how large it would be. */
beforeAll(() => {
  for (const [name, size] of [
    ['offsetWidth', 800],
    ['offsetHeight', 600],
    ['clientWidth', 800],
    ['clientHeight', 600],
  ] as const)
    Object.defineProperty(HTMLElement.prototype, name, { configurable: true, get: () => size });
});

function Marked({ onOpen }: { readonly onOpen: (r: number, c: number) => void }) {
  const [at, setAt] = useState<readonly [number, number] | undefined>(undefined);
  return <MatrixGrid matrix={matrix} order={orderOf(matrix, 'area')} at={at} shown={undefined} onAt={setAt} onOpen={onOpen} />;
}

test('the mark goes by keys, is told to whoever listens, and Enter opens the cell', async () => {
  const onOpen = jest.fn();
  render(<Marked onOpen={onOpen} />);
  const grid = screen.getByRole('grid', { name: 'Who reaches whom' });
  grid.focus();
  await userEvent.keyboard('{ArrowDown}');
  const marked = (): string => document.getElementById(grid.getAttribute('aria-activedescendant') ?? '')?.getAttribute('aria-label') ?? '';
  expect(marked()).toBe('itself');
  await userEvent.keyboard('{ArrowDown}{ArrowDown}{ArrowRight}');
  expect(marked()).toBe('kelp-2 to beacon-1: Both ways, 30');
  await userEvent.keyboard('{End}');
  expect(marked()).toBe('kelp-2 to kelp-10: Back over others, 20~');
  await userEvent.keyboard('{Enter}');
  expect(onOpen).toHaveBeenCalledWith(0, 2);
  await userEvent.keyboard('{Home}{ArrowUp}');
  expect(marked()).toBe('beacon-1 to 192.0.2.1: Leaves the design, ↗');
});
