import type { Expectation } from '@gentle-compass/core/design/settings';
import { designFrom } from '@gentle-compass/core/formats/read-set';
import { readEntry } from '@gentle-compass/core/entry/entry';
import { applyEdits } from '@gentle-compass/core/design/edit';
import { act, render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { openForm } from '../model/panes';
import type { OpenForm } from '../model/state';
import { renewDesks } from '../../testing/local-desks';
import { openWith, settled, smallCampus, state } from '../../testing/page';
import { workbench } from '../worker/client';
import { expectationValues, formKinds, type FormValues } from './form-kinds';
import { LineForm } from './line-form';

jest.mock('../worker/client', () => jest.requireActual<object>('../../testing/local-desks'));

beforeEach(async () => {
  renewDesks();
  await openWith(smallCampus);
});

const show = async (form: OpenForm): Promise<void> => {
  render(<LineForm />);
  act(() => openForm(form));
  await settled();
};
const worked = async (): Promise<void> => {
  await act(() => new Promise((go) => setTimeout(go, 120)));
  await settled();
};
const fill = async (label: string | RegExp, value: string): Promise<void> => {
  const field = screen.getByLabelText(label);
  if (field.tagName === 'SELECT') await userEvent.selectOptions(field, value);
  else {
    await userEvent.clear(field);
    await userEvent.type(field, value);
  }
};
const preview = (): HTMLElement => screen.getByTestId('form-preview');
const make = (): HTMLElement => screen.getByRole('button', { name: 'Make the change' });

/** Something in every field of each kind of expectation. */
const whole: Record<Expectation['kind'], FormValues> = {
  reach: { from: '10.96.0.1', to: '10.96.0.2', oneWay: 'yes', leavesBy: 'tern-1/lo', within: '400' },
  'no-reach': { from: '10.96.0.1', to: '192.0.2.7' },
  path: { from: '10.96.0.1', to: '10.96.0.2', through: 'tern-2', avoids: 'tern-3', hops: '2', cost: '30', symmetric: 'yes' },
  session: { from: 'tern-1', to: 'tern-3' },
  route: { router: 'tern-1', prefix: '10.97.0.0/16', via: 'tern-2', absent: 'yes' },
  table: { router: 'tern-1', atMost: '30' },
  leader: { place: 'tern-3/hatchery', backup: 'yes' },
  neighbours: { router: 'tern-2', count: '2' },
  summary: { prefix: '10.97.0.0/16' },
  'no-external': { area: '0.0.0.10' },
  area: { area: '0.0.0.10', type: 'stub' },
  advertisements: { area: '0.0.0.10', type: '3', atMost: '9' },
};

test.each(Object.entries(whole))(
  'an expectation of the kind %s: what the form says is what the design then holds, and what the form shows again',
  (kind, values) => {
    const typed = { name: 'what for', kind, under: 'any-router', ...values };
    const documents = state().design?.documents ?? [];
    const line = formKinds.expectation.line(typed);
    const { plan, error } = readEntry(line, documents);
    expect([line, error?.message]).toEqual([line, undefined]);
    const [made] = designFrom(applyEdits(documents, plan?.edits ?? [])).design.settings.expectations;
    if (!made) throw new Error('nothing is expected');
    expect(expectationValues(made)).toEqual({ ...Object.fromEntries(Object.keys(expectationValues(made)).map((k) => [k, ''])), ...typed });
    // Of what must be said nothing can be left out.
    for (const f of formKinds.expectation.fields(typed))
      if (!f.optional && f.kind !== 'flag' && f.kind !== 'choice')
        expect([f.id, formKinds.expectation.line({ ...typed, [f.id]: ' ' })]).toEqual([f.id, '']);
  },
);

test('a group with spaces in its name is one word of the line', () => {
  const typed = { name: 'far', kind: 'reach', from: 'far labs', to: 'kelp-1' };
  expect(formKinds.expectation.line(typed)).toBe('expect "far" reach "far labs" kelp-1');
});

test('an expectation is stated in a form, tried, and changed in the same form', async () => {
  await show({ name: 'expectation', values: {} });
  expect(within(preview()).getByText(/stands here as soon as enough is said/)).toBeInTheDocument();
  expect(make()).toBeDisabled();
  await fill('in words', 'both "ends" meet');
  await fill('what must hold', 'session');
  await fill('router', 'tern-1');
  await fill('and router', 'tern-3');
  await worked();
  expect(preview()).toHaveTextContent('expect "both ends meet" session tern-1 tern-3');
  expect(preview()).toHaveTextContent('It holds in the network as it is.');
  await userEvent.click(make());
  await worked();
  expect(screen.queryByRole('dialog')).toBeNull();
  expect(state().view?.expectations).toMatchObject([{ name: 'both ends meet', holds: true }]);
  const known = await workbench().layout.expectation('both ends meet');
  act(() => openForm({ name: 'expectation', values: known ? expectationValues(known) : {} }));
  await worked();
  expect(screen.getByLabelText('and router')).toHaveValue('tern-3');
  await fill('when', 'any-router');
  await worked();
  await userEvent.click(make());
  await worked();
  expect(state().view?.expectations).toMatchObject([{ name: 'both ends meet', under: 'any-router' }]);
});

test('an expectation that does not hold is said not to, before it is made', async () => {
  await show({ name: 'expectation', values: { name: 'many', kind: 'neighbours', router: 'tern-2', count: '7' } });
  await worked();
  expect(preview()).toHaveTextContent('It does not hold in the network as it is.');
  expect(make()).toBeEnabled();
  act(() => openForm(undefined));
});

test('what the form says and the design cannot do is told below, and nothing is made', async () => {
  await show({ name: 'filter', values: { router: 'tern-2' } });
  await fill('area', '10');
  await fill('policy that decides', 'few');
  await worked();
  expect(preview()).toHaveTextContent('filter in area 10 on tern-2 by few');
  expect(preview()).toHaveTextContent('tern-2 has no policy "few"; it has none. Make it with "policy few accept on tern-2".');
  expect(make()).toBeDisabled();
  await fill('what passes', 'table');
  expect(screen.queryByLabelText('area')).toBeNull();
  await userEvent.click(screen.getByRole('button', { name: 'Leave it' }));
  expect(state().design?.history).toHaveLength(6);
  expect(screen.queryByRole('dialog')).toBeNull();
});

test('prefix set, policy and filter, one form after the other, decide over what passes', async () => {
  await show({ name: 'prefixSet', values: { router: 'tern-2' } });
  await fill('prefix set', 'gates');
  await fill('prefix', '10.96.0.0 0.0.255.255');
  await fill(/^longest length/, '32');
  await worked();
  expect(preview()).toHaveTextContent('was read as 10.96.0.0/16, by its inverted mask');
  await userEvent.click(make());
  await worked();
  act(() => openForm({ name: 'policy', values: { router: 'tern-2' } }));
  await settled();
  await fill('policy', 'few');
  await fill('the statement', 'reject');
  await fill('what fits', 'of');
  expect(preview()).toHaveTextContent('as soon as enough is said');
  await fill('prefix set', 'gates');
  await worked();
  await userEvent.click(make());
  await worked();
  act(() => openForm({ name: 'filter', values: { router: 'tern-2', area: '10', policy: 'few' } }));
  await worked();
  expect(preview()).toHaveTextContent(/routes? lost/);
  await userEvent.click(make());
  await worked();
  expect(
    state()
      .design?.history.map((s) => s.title)
      .slice(6),
  ).toEqual([
    '10.96.0.0/16, lengths 16 to 32, in the prefix set gates on tern-2',
    'few on tern-2 refuses what gates holds',
    'few decides over summaries into area 10 on tern-2',
  ]);
});

test('every option of a policy statement stands in its line', () => {
  const all = {
    router: 'tern-2',
    policy: 'few',
    result: 'accept',
    match: 'but',
    set: 'gates',
    tagged: '4',
    metric: '9',
    type: 'type-1',
    tag: '5',
    as: 's1',
    first: 'yes',
  };
  expect(formKinds.policy.line(all)).toBe('policy few accept on tern-2 but gates tagged 4 metric 9 type type-1 tag 5 as s1 first');
  expect(formKinds.policy.line({ ...all, set: '' })).toBe('');
  expect(formKinds.filter.line({ router: 'tern-2', way: 'table', policy: 'few' })).toBe('filter table on tern-2 by few');
});
