import type { AreaGlance } from '@gentle-compass/core/areas/glance';
import type { Circle } from '@gentle-compass/core/areas/from-outside';
import { act, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useStore } from '../model/state';
import { loadBySource, sourceOf } from './area-words';
import { AreasHead } from './areas-head';
import { CircleDrawn } from './circle-drawn';
import { troublesOf } from './glance';

const area = (more: Partial<AreaGlance> = {}): AreaGlance => ({
  id: 10,
  kinds: [{ kind: 'stub', routers: ['a', 'b'] }],
  routers: ['a', 'b'],
  borders: [],
  boundaries: [],
  pieces: [['a', 'b']],
  attached: 'directly',
  virtualLinks: [],
  load: [
    { type: '1', name: 'router', count: 2 },
    { type: '3', name: 'summary, network', count: 40 },
    { type: '5', name: 'AS-external', count: 3 },
  ],
  limits: [],
  tables: [],
  ...more,
});

test('what is not as it should be with an area is told in a few words; an area as it should be says nothing', () => {
  expect(troublesOf(area())).toEqual([]);
  expect(troublesOf(area({ limits: [{ type: '3', atMost: 40, name: 'few' }] }))).toEqual([]);
  expect(
    troublesOf(
      area({
        kinds: [
          { kind: 'stub', routers: ['a'] },
          { kind: 'normal', routers: ['b'] },
        ],
        attached: 'not at all',
        pieces: [['a'], ['b']],
        borders: [{ router: 'a', why: '', leftOver: true }],
        limits: [{ type: '3', atMost: 39, name: 'few' }],
      }),
    ),
  ).toEqual([
    'its routers do not agree on its type',
    'not attached to the backbone',
    'in 2 pieces',
    'a stands at its border by mistake',
    '40 of type 3, at most 39 are expected',
  ]);
});

test('a load is told by where it comes from, in both versions', () => {
  expect(loadBySource(area().load)).toEqual({ inside: 2, areas: 40, outside: 3 });
  expect(['0x2001', '0x2002', '0x2009', '0x2003', '0x2004', '0x4005', '0x2007'].map(sourceOf)).toEqual([
    ...Array<string>(3).fill('inside'),
    ...Array<string>(2).fill('areas'),
    ...Array<string>(2).fill('outside'),
  ]);
});

test('the views of the stage are one key away from each other, and the address holds which', async () => {
  act(() => useStore.setState({ stage: 'areas', show: 'glance' }));
  render(<AreasHead />);
  await userEvent.click(screen.getByRole('button', { name: 'From outside' }));
  expect(useStore.getState().show).toBe('outside');
  expect(screen.getByRole('button', { name: 'From outside' })).toHaveAttribute('aria-pressed', 'true');
  expect(window.location.search).toContain('show=outside');
  expect(screen.getByRole('heading', { level: 1 })).toHaveTextContent('Areas');
});

test.each([
  ['closed', 'it goes round', true],
  ['open', 'it could go round', true],
  ['ended', 'it is ended', false],
] as const)('a circle that is %s says so, who tells whom, and what would end it', (state, words, advice) => {
  const circle: Circle = {
    prefix: '198.51.100.0/24',
    steps: [
      { from: 'west', to: 'east', by: 'the other protocol' },
      { from: 'east', to: 'west', by: 'OSPF' },
    ],
    state,
    why: 'Because.',
  };
  render(<CircleDrawn circle={circle} />);
  expect(screen.getByText(words)).toBeInTheDocument();
  expect(screen.getByRole('img')).toHaveAccessibleName('west tells east by the other protocol, east tells west by OSPF');
  expect(screen.queryByText(/What ends it/) !== null).toBe(advice);
});
