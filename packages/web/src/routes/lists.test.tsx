import { act, render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useStore } from '../model/state';
import type { DesignView, RouteRow } from '../model/view';
import { RouteTable } from './route-table';
import { RouterList } from '../parts/router-list';

const router = (n: number): DesignView['routers'][number] => ({ name: `tern-${n}`, routes: n }) as DesignView['routers'][number];

describe('the list of routers', () => {
  function Chosen({ of, changes }: { readonly of: number; readonly changes?: Parameters<typeof RouterList>[0]['changes'] }) {
    const name = useStore((s) => s.router) ?? '';
    return <RouterList routers={Array.from({ length: of }, (_, i) => router(of - i))} chosen={name} changes={changes} />;
  }
  beforeEach(() => act(() => useStore.setState({ router: 'tern-1' })));

  test('stands in the order of numbers within names, and the keys go through it', async () => {
    render(<Chosen of={12} />);
    const names = within(screen.getByRole('list', { name: 'Routers' })).getAllByRole('button');
    expect(names.map((b) => b.firstElementChild?.textContent)).toEqual(Array.from({ length: 12 }, (_, i) => `tern-${i + 1}`));
    await userEvent.tab();
    expect(document.activeElement).toHaveTextContent('tern-1');
    await userEvent.keyboard('{ArrowDown}{ArrowDown}');
    expect(useStore.getState().router).toBe('tern-3');
    expect(document.activeElement).toHaveTextContent('tern-3');
    await userEvent.keyboard('{End}');
    expect(useStore.getState().router).toBe('tern-12');
  });

  test('a long list is narrowed by a part of the name; Enter takes the first', async () => {
    render(<Chosen of={40} />);
    await userEvent.type(screen.getByLabelText('Find a router in the list'), '-3');
    expect(
      within(screen.getByRole('list', { name: 'Routers' }))
        .getAllByRole('button')
        .map((b) => b.firstElementChild?.textContent),
    ).toEqual(['tern-3', ...Array.from({ length: 10 }, (_, i) => `tern-${30 + i}`)]);
    await userEvent.keyboard('{Enter}');
    expect(useStore.getState().router).toBe('tern-3');
    await userEvent.keyboard('x');
    expect(screen.getByText('No router has that in its name.')).toBeInTheDocument();
  });

  test('beside a name stands how many routes it has, or what became of them', () => {
    render(
      <Chosen
        of={3}
        changes={[
          { router: 'tern-2', gone: false, lost: 1, gained: 2, changed: 3 },
          { router: 'tern-3', gone: true, lost: 0, gained: 0, changed: 0 },
        ]}
      />,
    );
    expect(screen.getAllByRole('button').map((b) => b.lastElementChild?.textContent)).toEqual(['1', '±6', 'down']);
  });
});

describe('a route table', () => {
  const row = (n: number, more: Partial<RouteRow> = {}): RouteRow => ({
    key: n,
    prefix: `10.96.${n >> 8}.${n & 255}/32`,
    type: n % 2 ? 'intra-area' : 'inter-area',
    metric: 1000 - n,
    hops: [{ iface: 'to-tern-2', address: '10.96.128.1', router: 'tern-2' }],
    area: '0.0.0.0',
    change: '',
    before: '',
    folded: '',
    ...more,
  });
  const table = (rows: readonly RouteRow[], compared = false, chosen?: string): jest.Mock => {
    const onRow = jest.fn();
    render(<RouteTable rows={rows} label="Routes of tern-1" chosen={chosen} onRow={onRow} compared={compared} />);
    return onRow;
  };
  const shown = (): string[] =>
    screen
      .getAllByRole('row')
      .slice(1)
      .map((r) => r.firstElementChild?.textContent ?? '');

  test('of five thousand routes those in sight are drawn; keys go from line to line, Enter opens one', async () => {
    const onRow = table(Array.from({ length: 5000 }, (_, n) => row(n)));
    expect(shown().length).toBeLessThan(80);
    expect(screen.getByRole('status')).toHaveTextContent('5000 routes');
    const [first] = screen.getAllByRole('row').slice(1);
    act(() => first?.focus());
    await userEvent.keyboard('{ArrowDown}{ArrowDown}{Enter}');
    expect(onRow.mock.calls).toEqual([['10.96.0.2/32']]);
    expect(screen.getByRole('table')).toHaveAttribute('aria-rowcount', '5001');
  });

  test('narrowed, sorted, and by the address of a host: the line that takes it first', async () => {
    table([row(1), row(2), row(300, { prefix: '10.96.0.0/16', metric: 5 }), row(400, { prefix: '0.0.0.0/0', metric: 9 })]);
    const field = screen.getByLabelText('Narrow the routes');
    await userEvent.type(field, 'inter');
    expect([shown().length, screen.getByRole('status').textContent]).toEqual([3, '3 of 4 routes']);
    await userEvent.clear(field);
    await userEvent.click(screen.getByRole('button', { name: 'cost' }));
    expect(shown()[0]).toBe('10.96.0.0/16');
    await userEvent.type(field, '10.96.0.2');
    expect(shown()).toEqual(['10.96.0.2/32', '10.96.0.0/16', '0.0.0.0/0']);
    expect(screen.getByRole('status')).toHaveTextContent('the first line takes 10.96.0.2; 2 more hold it');
    await userEvent.clear(field);
    await userEvent.type(field, 'nothing of that');
    expect(screen.getByText(/No route fits/)).toBeInTheDocument();
  });

  test('against before: what was lost stands struck through, and only what changed can be shown', async () => {
    table([row(1), row(2, { change: 'lost', hops: [], before: '9 via tern-3' }), row(3, { change: 'changed', before: '8 via tern-4' })], true);
    await userEvent.click(screen.getByRole('button', { name: 'Only what changed' }));
    expect(shown()).toEqual(['10.96.0.2/32', '10.96.0.3/32']);
    expect(screen.getByText('10.96.0.2/32').className).toContain('line-through');
    expect(screen.getByText('lost, was 9 via tern-3')).toBeInTheDocument();
  });

  test('is copied as text, with what is shown and in its order', async () => {
    const user = userEvent.setup();
    table([row(1), row(2)]);
    await user.click(screen.getByRole('button', { name: 'cost' }));
    await user.click(screen.getByRole('button', { name: 'Copy as text' }));
    expect(await navigator.clipboard.readText()).toBe(
      'prefix\ttype\tcost\tnext hops\n10.96.0.2/32\tinter-area\t998\ttern-2 (10.96.128.1)\n10.96.0.1/32\tintra-area\t999\ttern-2 (10.96.128.1)',
    );
  });
});
