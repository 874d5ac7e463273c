import { fireEvent, render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { Combobox, type Choice } from './combobox';
import { NumberTable } from './number-table';
import { RovingList } from './roving-list';

const fruits: Choice[] = ['mussel', 'musselbed', 'whelk'].map((words) => ({ key: words, words, about: 'shellfish' }));

function Field({
  choices,
  begin,
  taken,
  own,
}: {
  readonly choices: readonly Choice[];
  readonly begin: 'first' | 'none';
  readonly taken: (n: number) => void;
  readonly own?: (key: string, marked: number) => boolean;
}) {
  const [text, setText] = useState('');
  return (
    <Combobox
      label="A catch"
      listLabel="What fits"
      text={text}
      choices={choices.filter((c) => c.words.startsWith(text))}
      begin={begin}
      onText={setText}
      onTake={taken}
      {...(own ? { onKey: (e, marked) => own(e.key, marked) } : {})}
      look={{ field: '', list: '', words: '', placeholder: 'catch', nothing: 'Nothing is called that.' }}
    />
  );
}
const marked = (): string | undefined =>
  screen
    .queryAllByRole('option')
    .find((o) => o.getAttribute('aria-selected') === 'true')
    ?.textContent.replace('shellfish', '');

describe('a combobox', () => {
  test('marks the first, goes on by arrow keys and round the end, and takes by Enter', async () => {
    const taken = jest.fn();
    render(<Field choices={fruits} begin="first" taken={taken} />);
    const field = screen.getByRole('combobox', { name: 'A catch' });
    await userEvent.click(field);
    expect(marked()).toBe('mussel');
    await userEvent.keyboard('{ArrowDown}{ArrowDown}');
    expect(marked()).toBe('whelk');
    expect(field.getAttribute('aria-activedescendant')).toBe(screen.getAllByRole('option')[2]?.id);
    await userEvent.keyboard('{ArrowDown}');
    expect(marked()).toBe('mussel');
    await userEvent.keyboard('{ArrowUp}{Enter}');
    expect(taken.mock.calls).toEqual([[2]]);
  });

  test('marks nothing where it is told so; typing narrows, and what was marked is forgotten', async () => {
    const taken = jest.fn();
    render(<Field choices={fruits} begin="none" taken={taken} />);
    const field = screen.getByRole('combobox', { name: 'A catch' });
    await userEvent.click(field);
    expect(marked()).toBeUndefined();
    await userEvent.keyboard('{ArrowDown}{ArrowDown}');
    expect(marked()).toBe('musselbed');
    await userEvent.keyboard('w');
    expect([marked(), screen.getAllByRole('option').length]).toEqual([undefined, 1]);
    await userEvent.keyboard('{Enter}');
    expect(taken).not.toHaveBeenCalled();
    await userEvent.keyboard('x');
    expect(screen.getByText('Nothing is called that.')).toBeInTheDocument();
  });

  test('a click takes and leaves the focus in the field; leaving the field takes nothing; a description is never taken', async () => {
    const taken = jest.fn();
    render(
      <>
        <Field choices={[{ key: 'hint', words: '<name>', about: 'letters and digits', hint: true }, ...fruits]} begin="none" taken={taken} />
        <button type="button">next</button>
      </>,
    );
    const field = screen.getByRole('combobox', { name: 'A catch' });
    await userEvent.click(field);
    await userEvent.keyboard('{ArrowDown}');
    expect(marked()).toBe('mussel');
    await userEvent.tab();
    expect(taken).not.toHaveBeenCalled();
    await userEvent.click(field);
    await userEvent.click(screen.getByText('<name>'));
    expect(taken).not.toHaveBeenCalled();
    await userEvent.click(screen.getByText('whelk'));
    expect(taken.mock.calls).toEqual([[3]]);
    expect(field).toHaveFocus();
  });

  test('keys of the field’s own come first', async () => {
    const own = jest.fn((key: string) => key === 'ArrowDown');
    render(<Field choices={fruits} begin="first" taken={jest.fn()} own={own} />);
    await userEvent.click(screen.getByRole('combobox', { name: 'A catch' }));
    await userEvent.keyboard('{ArrowDown}{ArrowUp}');
    expect(own.mock.calls).toEqual([
      ['ArrowDown', 0],
      ['ArrowUp', 0],
    ]);
    expect(marked()).toBe('whelk');
  });
});

describe('a list with a roving focus', () => {
  function List({ count, moved }: { readonly count: number; readonly moved: (n: number) => void }) {
    const [at, setAt] = useState(-1);
    return (
      <RovingList
        count={count}
        rowHeight={26}
        at={at}
        onMove={(n) => {
          setAt(n);
          moved(n);
        }}
        inner={{ 'aria-label': 'Catches' }}
        row={(n, _, focus) => (
          <li key={n}>
            <button type="button" {...focus}>
              catch {n}
            </button>
          </li>
        )}
      />
    );
  }

  test('draws what is in sight, is reached by Tab once, and goes from row to row', async () => {
    const moved = jest.fn();
    render(<List count={5000} moved={moved} />);
    const rows = within(screen.getByRole('list', { name: 'Catches' })).getAllByRole('button');
    expect(rows.length).toBeGreaterThan(20);
    expect(rows.length).toBeLessThan(80);
    expect(rows.filter((r) => r.tabIndex === 0).map((r) => r.textContent)).toEqual(['catch 0']);
    await userEvent.tab();
    await userEvent.keyboard('{ArrowDown}{ArrowDown}{ArrowUp}');
    expect(document.activeElement).toHaveTextContent('catch 1');
    await userEvent.keyboard('{PageDown}');
    expect(document.activeElement).toHaveTextContent('catch 21');
    expect(screen.getAllByRole('button').filter((r) => r.tabIndex === 0)).toHaveLength(1);
    await userEvent.keyboard('{Home}{ArrowUp}');
    expect(document.activeElement).toHaveTextContent('catch 0');
    expect(moved.mock.calls.flat()).toEqual([1, 2, 1, 21, 0]);
  });

  test('the end of the list is its end; keys with Ctrl, and an empty list, do nothing', async () => {
    const moved = jest.fn();
    const { unmount } = render(<List count={3} moved={moved} />);
    await userEvent.tab();
    await userEvent.keyboard('{End}{ArrowDown}{Control>}{ArrowUp}{/Control}');
    expect(moved.mock.calls.flat()).toEqual([2]);
    unmount();
    const { container } = render(<List count={0} moved={moved} />);
    fireEvent.keyDown(container.firstElementChild ?? document.body, { key: 'ArrowDown' });
    expect(moved.mock.calls.flat()).toEqual([2]);
  });
});

test('a table of numbers writes thousands, leaves what is nothing empty, and is loud only where it should be', () => {
  render(
    <NumberTable
      label="Catches by quay"
      columns={[
        { name: 'quay', kind: 'name' },
        { name: 'lost', kind: 'number', width: 90 },
        { name: 'landed', kind: 'number' },
      ]}
      rows={[
        { key: 'a', cells: ['north', 2, 12_345], loud: [1] },
        { key: 'b', cells: ['south', 0, null], loud: [1] },
        { key: 'c', cells: [<em key="x">gone</em>] },
      ]}
    />,
  );
  const table = screen.getByRole('table', { name: 'Catches by quay' });
  const cells = within(table).getAllByRole('cell');
  expect(cells.map((c) => c.textContent)).toEqual(['north', '2', '12,345', 'south', '0', '', 'gone', '', '']);
  expect(cells.filter((c) => c.className.includes('text-accent')).map((c) => c.textContent)).toEqual(['2']);
  expect(within(table).getAllByRole('columnheader')[1]).toHaveStyle({ width: '90px' });
});
