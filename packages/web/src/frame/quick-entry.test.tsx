import { act, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { openEntry } from '../model/panes';
import { failNext, renewDesks } from '../../testing/local-desks';
import { openWith, settled, smallCampus, state } from '../../testing/page';
import { QuickEntry } from './quick-entry';

jest.mock('../worker/client', () => jest.requireActual<object>('../../testing/local-desks'));

const field = (): HTMLInputElement => screen.getByRole('combobox', { name: 'A line that changes the design' });
const offered = (): string[] => screen.queryAllByRole('option').map((o) => o.firstElementChild?.textContent ?? '');
const type = async (text: string): Promise<void> => {
  await userEvent.type(field(), text);
  await settled();
};
/** Waits for what comes a moment after the line was read. */
const worked = async (): Promise<void> => {
  await act(() => new Promise((go) => setTimeout(go, 120)));
  await settled();
};

beforeEach(async () => {
  renewDesks();
  await openWith(smallCampus);
  render(<QuickEntry />);
  act(() => openEntry(''));
  await settled();
});

test('words are offered as they fit, taken by Tab, and the line says beforehand what it would do', async () => {
  expect(field()).toHaveFocus();
  await type('link tern-1 te');
  expect(offered()).toEqual(['tern-1', 'tern-2', 'tern-3']);
  await userEvent.keyboard('{ArrowDown}{ArrowDown}{ArrowDown}{Tab}');
  await settled();
  expect(field()).toHaveValue('link tern-1 tern-3 ');
  await type('cost 2');
  await worked();
  const preview = screen.getByTestId('entry-preview');
  expect(preview).toHaveTextContent(/Link tern-1 and tern-3/);
  expect(preview).toHaveTextContent(/neighbours gained/);
  expect(screen.getByText(/^link ROUTER ROUTER/)).toBeInTheDocument();
  await userEvent.keyboard('{Enter}');
  await worked();
  expect(state().design?.history.at(-1)?.title).toMatch(/^Link tern-1 and tern-3/);
  expect(field()).toHaveValue('');
  expect(screen.getByText(/Done: Link tern-1 and tern-3/)).toBeInTheDocument();
});

test('a marked word is taken by Enter, and the line is not carried out yet', async () => {
  await type('set co');
  await userEvent.keyboard('{ArrowDown}{Enter}');
  await settled();
  expect(field()).toHaveValue('set cost ');
  expect(state().design?.history).toHaveLength(6);
});

test('nobody is accused while a word is being typed; a finished wrong word, and Enter on it, are', async () => {
  await type('link tern-1 nob');
  expect(screen.getByTestId('entry-error').className).not.toContain('accent');
  await type('ody ');
  expect(screen.getByTestId('entry-error')).toHaveTextContent('nobodyThere is no router "nobody".');
  expect(screen.getByTestId('entry-error').className).toContain('accent');
  await userEvent.clear(field());
  await type('delete link tern-1 tern-3');
  await userEvent.keyboard('{Enter}');
  await worked();
  expect(field()).toHaveValue('delete link tern-1 tern-3');
  expect(screen.getByTestId('entry-error')).toHaveTextContent('No cable joins tern-1 and tern-3.');
  expect(screen.getByTestId('entry-error').className).toContain('accent');
});

test('another line is offered where the value cannot be, and takes the place of the whole line', async () => {
  const taken = state()
    .view?.routers.find((r) => r.name === 'tern-1')
    ?.interfaces.find((i) => i.name === 'lo')?.addresses[0];
  await type(`address tern-2/lo as ${taken ?? ''} `);
  expect(screen.getByTestId('entry-error')).toHaveTextContent('stands on tern-1/lo already');
  const [other] = offered();
  expect(other).toMatch(/^address tern-2\/lo as \d/);
  await userEvent.keyboard('{Tab}');
  await settled();
  expect(field()).toHaveValue(other);
  expect(screen.getByTestId('entry-preview')).toBeInTheDocument();
});

test('arrow up brings earlier lines, arrow down later ones and what was typed', async () => {
  for (const line of ['set cost 21 on tern-1/to-tern-2', 'set cost 22 on tern-1/to-tern-2']) {
    await type(line);
    await userEvent.keyboard('{Enter}');
    await worked();
  }
  await userEvent.keyboard('{ArrowUp}');
  expect(field()).toHaveValue('set cost 22 on tern-1/to-tern-2');
  await userEvent.keyboard('{ArrowUp}');
  expect(field()).toHaveValue('set cost 21 on tern-1/to-tern-2');
  await userEvent.keyboard('{ArrowDown}{ArrowDown}');
  expect(field()).toHaveValue('');
  await settled();
  // At the beginning of an empty line the arrow down goes into the list.
  await userEvent.keyboard('{ArrowDown}');
  expect(screen.getAllByRole('option')[0]).toHaveAttribute('aria-selected', 'true');
});

test('Escape closes it; ? lists the keys; a failing worker is told of and the line is not lost in silence', async () => {
  await userEvent.keyboard('?');
  expect(state().keys).toBe(true);
  failNext('editing.editText', new Error('ran over'));
  await type('set cost 9 on tern-1/to-tern-2');
  await userEvent.keyboard('{Enter}');
  await worked();
  expect(state().trouble).toMatch(/ran over\. Nothing of it was kept/);
  await userEvent.keyboard('{Escape}');
  expect(state().entry).toBeUndefined();
  expect(screen.queryByRole('combobox')).toBeNull();
});
