import { act, render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { go } from '../model/moving';
import { useStore } from '../model/state';
import { renewDesks } from '../../testing/local-desks';
import { openWith, settled, smallCampus, state } from '../../testing/page';
import { Neighbours } from './neighbours';

jest.mock('../worker/client', () => jest.requireActual<object>('../../testing/local-desks'));

const faults = [...smallCampus, 'link tern-1 tern-3 area 10', 'set dead 12 on tern-1/to-tern-2', 'set mtu 1400 on tern-3/to-tern-2'];

beforeEach(async () => {
  renewDesks();
  await openWith(faults);
  act(() => useStore.setState({ pair: undefined, router: undefined }));
  render(<Neighbours />);
  await settled();
});

const pairs = (): string[] =>
  within(screen.getByRole('region', { name: 'Pairs' }))
    .getAllByRole('listitem')
    .map((li) => li.getAttribute('data-pair') ?? '');

test('pairs in trouble come first, the first of them is open, with both sides facing and what is apart marked', () => {
  expect(pairs()).toHaveLength(3);
  expect(pairs().at(-1)).toMatch(/tern-1\/to-tern-3~tern-3\/to-tern-1/);
  const facing = screen.getByRole('table', { name: /side by side/ });
  const apart = within(facing)
    .getAllByRole('row')
    .filter((r) => r.textContent.includes('≠'));
  expect(apart.map((r) => r.textContent)).toEqual([expect.stringMatching(/dead interval|MTU/)]);
});

test('another pair is opened by its line; one is narrowed by name, by state', async () => {
  const [, second] = pairs();
  await userEvent.click(
    within(document.querySelector<HTMLElement>(`[data-pair="${second ?? ''}"]`) ?? document.body).getAllByRole('button')[0] ?? document.body,
  );
  await settled();
  expect(state().pair).toBe(second);
  await userEvent.click(screen.getByRole('button', { name: '1 full' }));
  expect(pairs()).toHaveLength(1);
  await userEvent.type(screen.getByLabelText('Narrow the pairs'), 'nobody');
  expect(screen.getByText('No pair fits what you typed.')).toBeInTheDocument();
});

test('a repair shows the lines that it changes and is made with one press; the pair comes up', async () => {
  act(() => go({ pair: state().view?.pairs.find((p) => p.word.startsWith('apart') && p.a.iface === 'to-tern-2')?.id }));
  await settled();
  const panel = screen.getByRole('complementary', { name: 'About the pair' });
  expect(within(panel).getByText(/neighbour is listed/)).toBeInTheDocument();
  const before = state().view?.pairs.filter((p) => p.kind === 'full').length ?? 0;
  await userEvent.click(within(panel).getAllByRole('button', { name: /^Set the dead interval of/ })[0] ?? panel);
  await settled();
  expect(state().view?.pairs.filter((p) => p.kind === 'full')).toHaveLength(before + 1);
});
