import { act, fireEvent, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { formatPrefix } from '@gentle-compass/core/prefix/address';
import { useState } from 'react';
import type { LaidText, SpaceView } from '../model/summaries-view';
import { around, type Span } from './axis';
import { asStands, inOrder, judged, lay, prefixAt, replaced, spaceOf, useLayings, wishesText } from './laying';
import { LaidTable } from './laid-table';
import { levelsOf, Ruler } from './ruler';
import { addresses, effectWords, share } from './summary-words';
import { wayWords } from './trial';

const part = (prefix: string) => ({ prefix, place: '' });
const view: SpaceView = {
  parts: ['10.97.0.0/24', '10.97.1.0/24', '10.97.2.0/24', '10.97.8.0/24'].map(part),
  left: [],
  foreign: [{ ...part('10.97.5.0/24'), area: 30 }],
  others: [],
  supernets: ['10.96.0.0/11'],
  writers: [{ router: 'heron-1', laid: [] }],
  stands: [],
  agree: true,
  wrong: [],
};
const space = spaceOf(view);
const laidAs = (...prefixes: string[]): LaidText[] => prefixes.map((prefix) => ({ prefix, cost: undefined, hidden: false }));

function Bench({ start }: { readonly start: readonly LaidText[] }) {
  const [laid, setLaid] = useState(start);
  const [at, choose] = useState(0);
  const [span, look] = useState<Span>(around(prefixAt('10.97.0.0/16')));
  return (
    <>
      <Ruler
        space={space}
        lanes={[
          { key: 'own', name: '20 Dunes', tint: 1, marks: space.parts, summaries: [] },
          { key: '30', name: '30 Marsh', tint: 2, marks: space.foreign, summaries: [] },
        ]}
        span={span}
        onLook={look}
        laid={laid}
        onLay={(n, prefix) => {
          if (!prefix) setLaid(laid.filter((_, i) => i !== n));
          else {
            const next = replaced(laid, n, prefix);
            setLaid(next.list);
            choose(next.at);
          }
        }}
        at={at}
        onChoose={choose}
        onAdd={() => setLaid(inOrder([...laid, ...laidAs('10.97.8.0/24')]))}
      />
      <output>{laid.map((l) => l.prefix).join(' ')}</output>
      <p data-testid="power">{span.power}</p>
    </>
  );
}
const laidNow = (): string => screen.getByRole('status').textContent;
const bracket = (prefix: string) => screen.getByRole('button', { name: new RegExp(`^Summary ${prefix.replace('/', '\\/')}`) });

test('a bracket is moved, widened, narrowed and taken away by keys, and says what it does', async () => {
  render(<Bench start={laidAs('10.97.0.0/24')} />);
  const user = userEvent.setup();
  act(() => bracket('10.97.0.0/24').focus());
  await user.keyboard('{ArrowUp}');
  expect(laidNow()).toBe('10.97.0.0/23');
  expect(bracket('10.97.0.0/23')).toHaveAccessibleName('Summary 10.97.0.0/23: 2 prefixes, nothing foreign, 100% of 512 addresses in use');
  act(() => bracket('10.97.0.0/23').focus());
  await user.keyboard('{ArrowUp}{ArrowUp}');
  expect(laidNow()).toBe('10.97.0.0/22');
});

test('what is foreign is said and hatched; arrows step over what is laid already', async () => {
  render(<Bench start={laidAs('10.97.0.0/22', '10.97.4.0/22')} />);
  const user = userEvent.setup();
  expect(bracket('10.97.4.0/22')).toHaveAccessibleName('Summary 10.97.4.0/22: 0 prefixes, 1 foreign: 10.97.5.0/24, 0.0% of 1,024 addresses in use');
  expect(document.querySelectorAll('[data-foreign]')).toHaveLength(1);
  act(() => bracket('10.97.0.0/22').focus());
  await user.keyboard('{ArrowRight}');
  expect(laidNow()).toBe('10.97.4.0/22 10.97.8.0/22');
  act(() => bracket('10.97.4.0/22').focus());
  await user.keyboard('{Delete}');
  expect(laidNow()).toBe('10.97.8.0/22');
});

test('the ruler itself is zoomed by keys, and n lays a summary', async () => {
  render(<Bench start={[]} />);
  const user = userEvent.setup();
  const ruler = screen.getByRole('group', { name: /^Address ruler/ });
  act(() => ruler.focus());
  await user.keyboard('+++-n');
  expect(screen.getByTestId('power')).toHaveTextContent('15');
  expect(laidNow()).toBe('10.97.8.0/24');
});

test('the wheel zooms at the pointer', () => {
  render(<Bench start={[]} />);
  const surface = screen.getByRole('group', { name: /^Address ruler/ }).querySelector('.cursor-grab');
  fireEvent.wheel(surface as Element, { deltaY: -1 });
  expect(screen.getByTestId('power')).toHaveTextContent('16');
});

test('names of brackets find room on levels', () => {
  const span = around(prefixAt('10.97.0.0/16'));
  const levels = levelsOf(['10.97.0.0/24', '10.97.1.0/24', '10.97.128.0/17'].map(prefixAt), span, 700);
  expect(levels.map((l) => l.level)).toEqual([0, 1, 0]);
});

test('summaries in numbers: a fixed cost and what is kept back are set beside them', async () => {
  const changes: unknown[] = [];
  const table = (laid: readonly LaidText[]) => (
    <LaidTable
      space={space}
      laid={laid}
      at={0}
      onChoose={() => undefined}
      onChange={(n, to) => changes.push([n, to])}
      onRemove={() => undefined}
      outside={false}
    />
  );
  const { rerender } = render(table(laidAs('10.97.0.0/22')));
  expect(screen.getByRole('row', { name: /^10\.97\.0\.0\/22/ })).toHaveTextContent('10.97.0.0/22301,02475%');
  expect(screen.getByText('1 prefix outside')).toBeInTheDocument();
  await userEvent.selectOptions(screen.getByLabelText('cost of 10.97.0.0/22'), 'fixed');
  await userEvent.click(screen.getByLabelText('Tell 10.97.0.0/22'));
  expect(changes).toEqual([
    [0, { cost: 100 }],
    [0, { hidden: true }],
  ]);
  rerender(table([{ prefix: '10.97.0.0/22', cost: 44, hidden: true }]));
  expect(screen.getByLabelText('Fixed cost of 10.97.0.0/22')).toHaveValue('44');
  expect(screen.getByText('kept back')).toBeInTheDocument();
});

test('what is laid is kept apart for each scope, in the order of addresses, each prefix once', () => {
  expect(inOrder(laidAs('10.98.0.0/16', '10.97.0.0/16', '10.98.0.0/16')).map((l) => l.prefix)).toEqual(['10.97.0.0/16', '10.98.0.0/16']);
  expect(asStands(laidAs('10.97.0.0/16', '10.98.0.0/16'), laidAs('10.98.0.0/16', '10.97.0.0/16'))).toBe(true);
  expect(asStands(laidAs('10.97.0.0/16'), [{ prefix: '10.97.0.0/16', cost: 1, hidden: false }])).toBe(false);
  lay('a', laidAs('10.97.0.0/16'));
  lay('b', []);
  lay('a', undefined);
  expect(useLayings.getState().laid).toEqual({ b: [] });
  expect(judged(space, laidAs('10.97.0.0/23', '10.97.8.0/24')).outside.map(formatPrefix)).toEqual(['10.97.2.0/24']);
  expect(wishesText({ atMost: 3, allowForeign: 0, loopbacks: true, leaveOut: ' 10.97.0.0/24, 10.98.0.0/24', reserve: '' })).toEqual({
    loopbacks: true,
    leaveOut: ['10.97.0.0/24', '10.98.0.0/24'],
    reserve: [],
  });
});

test('numbers and ways in words', () => {
  expect([addresses(2048n), addresses(2n ** 64n), addresses(3n * 2n ** 64n)]).toEqual(['2,048', '2⁶⁴', '≈ 2⁶⁵']);
  expect([share(1n, 4n), share(1n, 5000n), share(1n, 16n), share(0n, 0n)]).toEqual(['25%', '< 0.1%', '6.2%', '']);
  expect(effectWords(undefined)).toBe('All is so already.');
  expect(
    effectWords({
      advertisements: [{ area: 0, type: 3, count: [13, 4], routers: 3 }],
      routes: { lost: 36, gained: 4, changed: 0, routers: 4 },
      tables: [],
    }),
  ).toBe('9 advertisements fewer; 32 routes fewer in 4 routers.');
  const way = { from: 'a', to: '10.97.9.1', through: ['a', 'gate'], route: '10.97.0.0/16' };
  expect(wayWords({ ...way, fate: 'dropped', reason: 'gate summarises it' })).toBe('a › gate: it is dropped: gate summarises it.');
  expect(wayWords({ ...way, fate: 'delivered', reason: '' })).toBe('a › gate: it arrives.');
});
