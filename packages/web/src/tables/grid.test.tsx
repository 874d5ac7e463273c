import type { SheetColumn, SheetRow } from '@gentle-compass/core/sheets/sheet';
import { fireEvent, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Grid, type Typing } from './grid';

const columns: SheetColumn[] = [
  { id: 'name', name: 'name', kind: 'text', typed: false },
  { id: 'cost', name: 'cost', kind: 'number', typed: true },
  { id: 'type', name: 'type', kind: 'text', typed: true, choices: ['broadcast', 'point-to-point'] },
];
const rows: SheetRow[] = [
  { key: 'tern-1/a', router: 'tern-1', cells: ['a', '10', 'broadcast'], given: [] },
  { key: 'tern-1/b', router: 'tern-1', cells: ['b', '20', ''], given: [] },
  { key: 'tern-2/c', router: 'tern-2', cells: ['c', '', 'point-to-point'], given: [] },
];

interface Heard {
  typing: (Typing | undefined)[];
  entered: string[];
  cleared: string[][];
  pasted: unknown[];
  sorted: unknown[];
}

/** A grid with all that it says, over columns that a test may change. */
function grid({ refuse = '', only = rows }: { refuse?: string; only?: readonly SheetRow[] } = {}): Heard {
  const heard: Heard = { typing: [], entered: [], cleared: [], pasted: [], sorted: [] };
  render(
    <Grid
      label="Interfaces"
      columns={columns}
      rows={only}
      sorting={{ column: 'cost', down: false }}
      onSort={(s) => heard.sorted.push(s)}
      onTyping={(t) => heard.typing.push(t)}
      onEnter={(key, column, value) => {
        heard.entered.push(`${key} ${column} ${value}`);
        return Promise.resolve(value !== refuse);
      }}
      onClear={(cells) => heard.cleared.push(cells.map((c) => `${c.key} ${c.column}`))}
      onPaste={(text, at) => heard.pasted.push([text, at])}
      copied={(from, to, across) => `${from}-${to} ${across.join('-')}`}
    />,
  );
  return heard;
}
const here = (): string | null | undefined => document.activeElement?.closest('[role="gridcell"]')?.getAttribute('data-cell');
const marked = (): number => screen.getAllByRole('gridcell').filter((c) => c.getAttribute('aria-selected') === 'true').length;
const begin = async (): Promise<void> => {
  await userEvent.tab();
  while (document.activeElement?.getAttribute('role') !== 'gridcell') await userEvent.tab();
};

describe('keys of a table', () => {
  test('arrows go from cell to cell and stop at the edges; Home and End in the row, with Ctrl in the table', async () => {
    grid();
    await begin();
    expect(here()).toBe('0 0');
    await userEvent.keyboard('{ArrowRight}{ArrowDown}{ArrowDown}{ArrowDown}');
    expect(here()).toBe('2 1');
    await userEvent.keyboard('{End}{ArrowRight}');
    expect(here()).toBe('2 2');
    await userEvent.keyboard('{Home}{PageUp}');
    expect(here()).toBe('0 0');
    await userEvent.keyboard('{Control>}{End}{/Control}');
    expect(here()).toBe('2 2');
    await userEvent.keyboard('{Control>}{Home}{/Control}');
    expect(here()).toBe('0 0');
  });

  test('typing writes over, Enter takes it and goes down, Shift+Enter up, Tab to the side', async () => {
    const heard = grid();
    await begin();
    await userEvent.keyboard('{ArrowRight}7');
    expect(screen.getByRole('textbox', { name: 'cost of tern-1/a' })).toHaveValue('7');
    await userEvent.keyboard('5{Enter}');
    expect([heard.entered, here()]).toEqual([['tern-1/a cost 75'], '1 1']);
    await userEvent.keyboard('{F2}0{Shift>}{Enter}{/Shift}');
    expect([heard.entered.at(-1), here()]).toEqual(['tern-1/b cost 200', '0 1']);
    await userEvent.keyboard('3{Tab}');
    expect([heard.entered.at(-1), here()]).toEqual(['tern-1/a cost 3', '0 2']);
    expect(heard.typing.filter(Boolean).map((t) => t?.value)).toEqual(['7', '75', '20', '200', '3']);
    expect(heard.typing[0]).toEqual({ key: 'tern-1/a', column: 'cost', value: '7', before: '10' });
  });

  test('Escape leaves the cell as it was; the same value again is no entry', async () => {
    const heard = grid();
    await begin();
    await userEvent.keyboard('{ArrowRight}9{Escape}');
    expect([heard.entered, heard.typing.at(-1), here()]).toEqual([[], undefined, '0 1']);
    await userEvent.keyboard('{Enter}{Enter}');
    expect([heard.entered, here()]).toEqual([[], '1 1']);
  });

  test('what cannot stand there stays to be corrected', async () => {
    const heard = grid({ refuse: 'much' });
    await begin();
    await userEvent.keyboard('{ArrowRight}much{Enter}');
    expect(screen.getByRole('textbox', { name: 'cost of tern-1/a' })).toHaveValue('much');
    await userEvent.clear(screen.getByRole('textbox', { name: 'cost of tern-1/a' }));
    await userEvent.keyboard('8{Enter}');
    expect([heard.entered, here()]).toEqual([['tern-1/a cost much', 'tern-1/a cost 8'], '1 1']);
  });

  test('a cell that cannot be typed over takes no letters; one with choices opens them', async () => {
    const heard = grid();
    await begin();
    await userEvent.keyboard('x{Enter}');
    expect([screen.queryByRole('textbox'), heard.typing]).toEqual([null, []]);
    await userEvent.keyboard('{End}x');
    expect(screen.queryByRole('combobox')).toBeNull();
    await userEvent.keyboard('{Enter}');
    await userEvent.selectOptions(screen.getByRole('combobox', { name: 'type of tern-1/a' }), 'point-to-point');
    await userEvent.keyboard('{Enter}');
    expect(heard.entered).toEqual(['tern-1/a type point-to-point']);
  });

  test('Shift marks, Ctrl+A marks all; Delete clears what may be typed, and only that', async () => {
    const heard = grid();
    await begin();
    await userEvent.keyboard('{Shift>}{ArrowDown}{ArrowRight}{/Shift}');
    expect(marked()).toBe(4);
    await userEvent.keyboard('{Delete}');
    expect(heard.cleared).toEqual([['tern-1/a cost', 'tern-1/b cost']]);
    await userEvent.keyboard('{ArrowLeft}');
    expect(marked()).toBe(1);
    await userEvent.keyboard('{Control>}a{/Control}');
    expect(marked()).toBe(9);
    await userEvent.keyboard('{Backspace}');
    expect(heard.cleared.at(-1)).toHaveLength(6);
  });
});

describe('copy and paste', () => {
  const transfer = (text: string): { clipboardData: { getData: () => string; setData: jest.Mock } } => ({
    clipboardData: { getData: () => text, setData: jest.fn() },
  });

  test('what is marked is copied by its corners; what is pasted goes to the first marked cell', async () => {
    const heard = grid();
    await begin();
    await userEvent.keyboard('{ArrowRight}{Shift>}{ArrowDown}{ArrowRight}{/Shift}');
    const box = screen.getByRole('grid', { name: 'Interfaces' });
    const out = transfer('');
    fireEvent.copy(box, out);
    expect(out.clipboardData.setData.mock.calls).toEqual([['text/plain', '0-1 1-2']]);
    fireEvent.paste(box, transfer('1\t2\r\n3\t4'));
    expect(heard.pasted).toEqual([['1\t2\r\n3\t4', { row: 0, column: 1 }]]);
  });

  test('while a cell is typed over, copying and pasting belong to its text', async () => {
    const heard = grid();
    await begin();
    await userEvent.keyboard('{ArrowRight}5');
    const out = transfer('9');
    fireEvent.copy(screen.getByRole('textbox'), out);
    fireEvent.paste(screen.getByRole('textbox'), out);
    expect([out.clipboardData.setData.mock.calls, heard.pasted]).toEqual([[], []]);
  });
});

test('a click chooses, with Shift marks; another cell clicked while one is typed over takes what was typed', async () => {
  const heard = grid();
  const cell = (at: string): Element => document.querySelector(`[data-cell="${at}"]`) ?? document.body;
  await userEvent.click(cell('1 1'));
  expect(here()).toBe('1 1');
  fireEvent.mouseDown(cell('2 2'), { shiftKey: true });
  expect(marked()).toBe(4);
  await userEvent.dblClick(cell('0 1'));
  await userEvent.keyboard('1');
  await userEvent.click(cell('2 1'));
  expect([heard.entered, here()]).toEqual([['tern-1/a cost 101'], '2 1']);
});

test('a column is sorted up, down, and not at all', async () => {
  const heard = grid();
  await userEvent.click(screen.getByRole('button', { name: /^cost/ }));
  await userEvent.click(screen.getByRole('button', { name: /^name/ }));
  expect(heard.sorted).toEqual([
    { column: 'cost', down: true },
    { column: 'name', down: false },
  ]);
  expect(screen.getAllByRole('columnheader').map((h) => h.getAttribute('aria-sort'))).toEqual(['none', 'ascending', 'none']);
});

test('a table without a row says what to do', async () => {
  grid({ only: [] });
  expect(screen.getByText(/No row fits/)).toBeInTheDocument();
  await userEvent.keyboard('{ArrowDown}x');
});
