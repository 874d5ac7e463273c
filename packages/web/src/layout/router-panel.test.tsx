import { act, fireEvent, render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { enterLine } from '../model/history';
import { useStore } from '../model/state';
import { renewDesks } from '../../testing/local-desks';
import { openWith, settled, smallCampus, state } from '../../testing/page';
import { RouterPanel } from './router-panel';

jest.mock('../worker/client', () => jest.requireActual<object>('../../testing/local-desks'));

function Shown({ name }: { readonly name: string }) {
  const view = useStore((s) => s.view);
  return view ? <RouterPanel view={view} name={name} /> : null;
}
const show = async (name: string): Promise<void> => {
  render(<Shown name={name} />);
  await settled();
};
const unfold = async (iface: string): Promise<void> => {
  await userEvent.click(screen.getByRole('button', { name: new RegExp(`^${iface}`) }));
  await settled();
};

beforeEach(async () => {
  renewDesks();
  await openWith(smallCampus);
  act(() => useStore.setState({ trouble: undefined, entry: undefined }));
});

test('a value typed over becomes a line of the document; emptied, the default holds again', async () => {
  await show('tern-1');
  await unfold('to-tern-2');
  const cost = screen.getByLabelText('cost');
  expect(cost).toHaveValue('5');
  await userEvent.clear(cost);
  await userEvent.type(cost, '44{Enter}');
  await settled();
  expect(state().design?.history.at(-1)?.title).toBe('cost 44 on tern-1/to-tern-2');
  expect(screen.getByLabelText('cost')).toHaveValue('44');
  await userEvent.clear(screen.getByLabelText('cost'));
  await userEvent.keyboard('{Enter}');
  await settled();
  expect(JSON.stringify(state().design?.documents[0]?.tree)).not.toContain('"cost":44');
});

test('what cannot be says why beside the field and stays to be corrected; Escape gives it up', async () => {
  await show('tern-1');
  await unfold('to-tern-2');
  await userEvent.clear(screen.getByLabelText('cost'));
  await userEvent.type(screen.getByLabelText('cost'), 'much{Enter}');
  await settled();
  expect(screen.getByRole('alert')).toHaveTextContent('"much" is no cost: it is a whole number from 1 to 65,535.');
  expect(screen.getByLabelText(/^cost/)).toBeInvalid();
  expect(state().design?.history).toHaveLength(6);
  await userEvent.click(screen.getByLabelText(/^cost/));
  await userEvent.keyboard('{Escape}');
  expect(screen.queryByRole('alert')).toBeNull();
  expect(screen.getByLabelText('cost')).toHaveValue('5');
});

test('leaving a field takes what was typed; leaving it as it was makes no step', async () => {
  await show('tern-1');
  await unfold('to-tern-2');
  fireEvent.blur(screen.getByLabelText('hello, s'));
  await userEvent.clear(screen.getByLabelText('hello, s'));
  await userEvent.type(screen.getByLabelText('hello, s'), '5');
  await userEvent.tab();
  await settled();
  expect(state().design?.history.at(-1)?.title).toBe('hello 5 on tern-1/to-tern-2');
  expect(state().design?.history).toHaveLength(7);
});

test('a choice is taken at once: the type of an area on all its routers', async () => {
  await show('tern-2');
  await userEvent.selectOptions(screen.getByLabelText('type, on all its routers'), 'stub');
  await settled();
  expect(state().view?.areas.find((a) => a.id === '0.0.0.10')?.type).toBe('stub');
  expect(state().design?.history).toHaveLength(7);
});

test('an interface that is taken out of OSPF says so, and joins again by its field', async () => {
  await act(async () => {
    await enterLine('leave tern-3/hatchery', []);
  });
  await settled();
  await show('tern-3');
  expect(within(screen.getByRole('button', { name: /^hatchery/ })).getByText('not in OSPF')).toBeInTheDocument();
  await unfold('hatchery');
  expect(screen.getByLabelText('area')).toHaveValue('none');
  await userEvent.clear(screen.getByLabelText('area'));
  await userEvent.type(screen.getByLabelText('area'), '10{Enter}');
  await settled();
  expect(within(screen.getByRole('button', { name: /^hatchery/ })).getByText('Area 10')).toBeInTheDocument();
});

test('prefix sets, policies and filters are told in words, and each leads to the line that changes it', async () => {
  await act(async () => {
    for (const line of [
      'prefixes gates 10.96.0.1/32 on tern-2',
      'policy few reject on tern-2 of gates',
      'policy few accept on tern-2 metric 8',
      'filter in area 10 on tern-2 by few',
    ])
      expect((await enterLine(line, [])).error).toBeUndefined();
  });
  await show('tern-2');
  expect(screen.getByText('refuses what gates holds')).toBeInTheDocument();
  expect(screen.getByText('takes everything, gives metric 8')).toBeInTheDocument();
  expect(screen.getByText('decides over summaries into area 10')).toBeInTheDocument();
  const filter = screen.getByText(/few over summaries into/);
  await userEvent.click(within(filter).getByRole('button', { name: 'take away' }));
  expect(state().entry).toBe('filter in area 10 on tern-2 by off');
});

test('neighbours lead to their pair, and a router that nobody shares a wire with says how to link it', async () => {
  await act(async () => {
    await enterLine('router tern-9', []);
  });
  await show('tern-9');
  await userEvent.click(screen.getByRole('button', { name: 'Link it' }));
  expect(state().entry).toBe('link tern-9 ');
});
