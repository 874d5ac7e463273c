import { act, render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { refer } from '../model/comparing';
import { enterLine, undo } from '../model/history';
import { useStore } from '../model/state';
import { ChangeStrip } from '../frame/change-strip';
import { CompareControl } from '../frame/compare-control';
import { KeepingStrip } from '../frame/keeping-strip';
import { ShelfDialog } from '../frame/shelf-dialog';
import { shelf } from '../storage/shelf';
import { failNext, renewDesks } from '../../testing/local-desks';
import { openWith, settled, smallCampus, state } from '../../testing/page';
import { Changes } from './changes';

jest.mock('../worker/client', () => jest.requireActual<object>('../../testing/local-desks'));

const enter = async (line: string): Promise<void> => {
  await act(async () => {
    const { error } = await enterLine(line, []);
    if (error) throw new Error(error.message);
  });
  await settled();
};

beforeEach(async () => {
  renewDesks();
  await openWith(smallCampus);
  act(() =>
    useStore.setState({ trouble: undefined, fault: false, notice: undefined, unkept: undefined, reference: undefined, comparison: undefined }),
  );
});

describe('steps', () => {
  const steps = (): HTMLElement => screen.getByRole('list', { name: 'Steps' });

  test('each with what it did, the newest first; one goes back to any of them and forth again', async () => {
    await enter('set cost 9 on tern-1/to-tern-2');
    await enter('delete link tern-2 tern-3');
    render(<Changes />);
    await settled();
    const items = within(steps()).getAllByRole('listitem');
    expect(items[0]).toHaveTextContent(/^Link between tern-2 and tern-3 deletednow2 neighbours lost/);
    expect(items.at(-1)).toHaveTextContent('The beginningback to here');
    await userEvent.click(screen.getByRole('button', { name: 'back to here: cost 9 on tern-1/to-tern-2' }));
    await settled();
    expect(state().design?.position).toBe(7);
    await userEvent.click(screen.getByRole('button', { name: 'redo to here: Link between tern-2 and tern-3 deleted' }));
    await settled();
    expect(state().design?.position).toBe(8);
    await userEvent.click(within(steps()).getAllByRole('button', { name: 'back to here' }).at(-1) ?? document.body);
    await settled();
    expect(state().view?.routers).toEqual([]);
  });
});

describe('versions', () => {
  test('the state is kept under a name, compared with, gone back to, and deleted', async () => {
    render(<Changes />);
    expect(screen.getByRole('button', { name: 'Keep this state' })).toBeDisabled();
    await userEvent.type(screen.getByLabelText('Name of this version'), 'as built');
    await userEvent.type(screen.getByLabelText('Note'), 'before the storm');
    await userEvent.click(screen.getByRole('button', { name: 'Keep this state' }));
    await settled();
    const list = screen.getByRole('list', { name: 'Versions' });
    expect(within(list).getByText('as built')).toBeInTheDocument();
    expect(within(list).getByText('before the storm')).toBeInTheDocument();
    await enter('delete link tern-2 tern-3');
    await userEvent.click(within(list).getByRole('button', { name: 'compare' }));
    await settled();
    expect(screen.getByRole('heading', { name: 'Now, compared with as built' })).toBeInTheDocument();
    expect(within(screen.getByRole('table', { name: 'Neighbour states that differ' })).getAllByRole('row')).toHaveLength(3);
    const routes = within(screen.getByRole('table', { name: 'Routes that differ' })).getAllByRole('row');
    expect(routes[1]).toHaveTextContent(/^tern-\d\d+\d+0$/);
    await userEvent.click(within(list).getByRole('button', { name: 'go back to it' }));
    await settled();
    expect(screen.getByText('Every table is the same.')).toBeInTheDocument();
    await userEvent.click(within(list).getByRole('button', { name: 'delete' }));
    await settled();
    expect(within(list).queryByText('as built')).toBeNull();
  });

  test('one control chooses what now is compared with, a version or another design', async () => {
    await act(() => shelf().putVersion({ id: 'v1', design: state().design?.id ?? '', name: 'first plan', note: '', made: 1, documents: [] }));
    await enter('set cost 9 on tern-1/to-tern-2');
    const user = userEvent.setup({ pointerEventsCheck: 0 });
    render(<CompareControl />);
    await user.click(screen.getByRole('button', { name: 'Compared with' }));
    await settled();
    await user.click(screen.getByRole('menuitem', { name: /first plan/ }));
    await settled();
    expect(state().reference).toMatchObject({ kind: 'version', name: 'first plan' });
    expect(state().comparison?.routers.map((r) => r.router)).toEqual(['tern-1', 'tern-2', 'tern-3']);
    await act(() => refer(undefined));
  });
});

describe('strips below the stage', () => {
  test('the last change in words, with the way back', async () => {
    render(<ChangeStrip />);
    await enter('delete link tern-2 tern-3');
    expect(screen.getByTestId('change-strip')).toHaveTextContent(/Link between tern-2 and tern-3 deleted\. 2 neighbours lost/);
    await userEvent.click(screen.getByRole('button', { name: 'Undo' }));
    await settled();
    expect(screen.getByTestId('change-strip')).toHaveTextContent(/Undone: Link between/);
    await userEvent.click(screen.getByRole('button', { name: 'Close' }));
    expect(screen.queryByTestId('change-strip')).toBeNull();
  });

  test('an edit that the worker failed over is told with what goes on: undo, export, reload', async () => {
    render(<ChangeStrip />);
    failNext('editing.editText', new Error('ran over'));
    await act(() => enterLine('set cost 9 on tern-1/to-tern-2', []));
    await settled();
    expect(screen.getByRole('alert')).toHaveTextContent('Nothing of it was kept');
    expect(screen.getByRole('button', { name: 'Export it' })).toBeInTheDocument();
    expect(screen.getByRole('button', { name: 'Reload' })).toBeInTheDocument();
    await userEvent.click(screen.getByRole('button', { name: 'Close' }));
    expect(screen.queryByRole('alert')).toBeNull();
    await act(() => undo());
    await settled();
    expect(state().design?.position).toBe(5);
  });

  test('a design that is not kept says why and how it is kept again', async () => {
    render(<KeepingStrip />);
    const refuse = jest.spyOn(shelf(), 'change').mockRejectedValueOnce(new Error('no room'));
    await enter('set cost 9 on tern-1/to-tern-2');
    refuse.mockRestore();
    expect(screen.getByRole('alert')).toHaveTextContent('not kept in the browser: no room');
    await userEvent.click(screen.getByRole('button', { name: 'Keep it again' }));
    await settled();
    expect(screen.queryByRole('alert')).toBeNull();
  });
});

test('the shelf: each design with its last prediction; renamed, copied, deleted only when it is meant', async () => {
  const first = state().design?.id ?? '';
  await openWith(['router gull-1 area 0']);
  render(<ShelfDialog open onDone={jest.fn()} />);
  await settled();
  const row = within(screen.getByRole('dialog'))
    .getAllByRole('listitem')
    .find((li) => li.textContent.includes('3 routers'));
  if (!row) throw new Error('not on the shelf');
  expect(row).toHaveTextContent(/3 routers, 2 areas, \d+ routes, no errors/);
  const [remove] = within(row).getAllByRole('button', { name: /^Delete/ });
  await userEvent.click(remove ?? row);
  expect(await shelf().design(first)).toBeDefined();
  await userEvent.click(within(row).getByRole('button', { name: /^Really delete/ }));
  await settled();
  expect(await shelf().design(first)).toBeUndefined();
});
