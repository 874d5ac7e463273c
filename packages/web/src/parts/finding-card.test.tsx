import { act, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { Finding } from '@gentle-compass/core/findings/finding';
import { Profiler } from 'react';
import { enterLine } from '../model/history';
import { judging, useCosts } from '../model/judging';
import { useStore } from '../model/state';
import { asked, holdNext, renewDesks } from '../../testing/local-desks';
import { openWith, settled, smallCampus, state } from '../../testing/page';
import { FindingCard } from './finding-card';

jest.mock('../worker/client', () => jest.requireActual<object>('../../testing/local-desks'));

const twoFaults = [...smallCampus, 'set dead 12 on tern-1/to-tern-2', 'set hello 3 on tern-3/to-tern-2'];

beforeEach(async () => {
  renewDesks();
  await openWith(twoFaults);
});

const errors = (): readonly Finding[] => (state().view?.findings ?? []).filter((f) => f.severity === 'error' && f.repairs.length > 0);

test('what a finding costs redraws that finding, and neither the others nor what shows the view', () => {
  act(() => judging.end());
  const drawn: Record<string, number> = {};
  const count = (id: string): void => void (drawn[id] = (drawn[id] ?? 0) + 1);
  const [first, second] = errors();
  if (!first || !second) throw new Error('no two findings');
  function Whole() {
    const view = useStore((s) => s.view);
    return <p>{view?.findings.length}</p>;
  }
  render(
    <>
      {[first, second].map((f) => (
        <Profiler key={f.id} id={f.id} onRender={count}>
          <FindingCard finding={f} />
        </Profiler>
      ))}
      <Profiler id="whole" onRender={count}>
        <Whole />
      </Profiler>
    </>,
  );
  expect(drawn).toEqual({ [first.id]: 1, [second.id]: 1, whole: 1 });
  act(() => useCosts.setState({ costs: { [second.id]: { 'routes-lost': 12, 'routes-changed': 1, routers: ['tern-1', 'tern-2'] } } }));
  expect(screen.getByText('12 routes missing and 1 route go another way in 2 routers.')).toBeInTheDocument();
  expect(drawn).toEqual({ [first.id]: 1, [second.id]: 2, whole: 1 });
});

test('costs come one after the other; a new edit ends the asking for the old state', async () => {
  await settled();
  expect(Object.keys(useCosts.getState().costs).sort()).toEqual(
    errors()
      .map((f) => f.id)
      .sort(),
  );
  expect(useCosts.getState().costs[errors()[0]?.id ?? '']?.['routes-lost']).toBeGreaterThan(0);
  const release = holdNext('checking.consequence');
  await act(async () => {
    await enterLine('set cost 4 on tern-1/to-tern-2', []);
  });
  await settled();
  const before = asked.filter((a) => a === 'checking.consequence').length;
  await act(async () => {
    await enterLine('set dead 40 on tern-1/to-tern-2', []);
  });
  release();
  await settled();
  expect(Object.keys(useCosts.getState().costs).sort()).toEqual(
    errors()
      .map((f) => f.id)
      .sort(),
  );
  expect(errors()).toHaveLength(1);
  expect(asked.filter((a) => a === 'checking.consequence').length).toBeGreaterThan(before);
});

test('a finding is taken as it is with a note, and that is taken back', async () => {
  const [finding] = errors();
  if (!finding) throw new Error('no finding');
  const { rerender } = render(<FindingCard finding={finding} mend />);
  await userEvent.click(screen.getByRole('button', { name: 'Accept as it is…' }));
  expect(screen.getByRole('button', { name: 'Accept with this note' })).toBeDisabled();
  await userEvent.type(screen.getByLabelText('Why is it right as it is?'), 'being moved');
  await userEvent.click(screen.getByRole('button', { name: 'Accept with this note' }));
  await settled();
  const accepted = state().view?.findings.find((f) => f.id === finding.id);
  if (!accepted) throw new Error('gone');
  expect(accepted.accepted).toEqual({ note: 'being moved' });
  rerender(<FindingCard finding={accepted} mend />);
  await userEvent.click(screen.getByRole('button', { name: 'Take back' }));
  await settled();
  expect(state().view?.findings.find((f) => f.id === finding.id)?.accepted).toBeUndefined();
});

test('a repair is one action, and what it mended is gone', async () => {
  const [finding] = errors();
  if (!finding) throw new Error('no finding');
  render(<FindingCard finding={finding} mend />);
  const [repair] = finding.repairs;
  await userEvent.click(screen.getByRole('button', { name: new RegExp(repair?.title ?? '') }));
  await settled();
  expect(errors().map((f) => f.id)).not.toContain(finding.id);
  expect(state().design?.history.at(-1)?.title).toBe(repair?.title);
});
