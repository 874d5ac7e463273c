import type { Absence } from '@gentle-compass/core/areas/absence';
import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { WalkView } from '../model/reach-view';
import { useStore } from '../model/state';
import { stateOf, underWords, whenWords } from './expected-words';
import { verdict } from './fate-words';
import { hostWord, reasonWords } from './reason-words';
import { WhyAbsent } from './said';

const walk = (fate: WalkView['fate'], reason = ''): WalkView => ({ fate, cut: false, lines: [], branches: [{ fate, reason, hops: [] }] });

test.each<[WalkView, WalkView, string, string]>([
  [walk('delivered'), walk('delivered'), 'There and back', 'It arrives, and the answer comes back.'],
  [walk('delivered'), walk('dropped', 'dune has no route'), 'One way only', 'It arrives; the answer is dropped: dune has no route.'],
  [walk('dropped', 'gate has no route'), walk('dropped'), 'It does not arrive', 'gate has no route.'],
  [walk('looping', 'the packet comes back to gate'), walk('dropped'), 'It goes in a circle', 'the packet comes back to gate.'],
  [
    walk('leaves', 'its next hop is outside'),
    walk('dropped'),
    'It leaves the design',
    'its next hop is outside. Whether an answer comes is up to the other side.',
  ],
  [walk('partly', 'x'), walk('delivered'), 'On some ways only', 'Not every equal way arrives: x.'],
])('a trace in a title and a sentence: %#', (there, back, title, words) => {
  expect(verdict({ there, back, missing: null })).toEqual({ title, words });
});

test('when an expectation must hold, and how it stands', () => {
  expect([underWords('normal'), underWords('any-link'), underWords('link:kelp-1/fibre')]).toEqual(['', 'any one link', 'link:kelp-1/fibre']);
  expect(whenWords('any-router')).toBe('In the network as it is, and with any one router down');
  const result = {
    name: 'e',
    kind: 'reach',
    under: 'any-link',
    holds: false,
    message: '',
    'broken-by': ['link:a/b'],
    tried: 3,
    breach: null,
  } as const;
  expect(stateOf(result, undefined).words).toBe('broken in a failure');
  expect(stateOf({ ...result, 'broken-by': [''] }, undefined).words).toBe('broken');
  expect(stateOf({ ...result, holds: true }, undefined)).toEqual({ kind: 'full', words: 'holds' });
  expect(stateOf({ ...result, holds: true }, 'why').words).toBe('broken with what is down');
});

test('an address in a prefix that a host could have', () => {
  expect(['10.97.1.0/24', '10.97.1.4/31', '10.96.0.1/32', '2001:db8:40::/64', 'nonsense'].map(hostWord)).toEqual([
    '10.97.1.1',
    '10.97.1.4',
    '10.96.0.1',
    '2001:db8:40::1',
    'nonsense',
  ]);
});

test('why a route is missing: each value is a link that leads there', async () => {
  const absence: Absence = {
    router: 'core',
    prefix: '10.97.1.0/24',
    reasons: [
      { kind: 'folded', said: [{ router: 'gate' }, ' folds it into ', { prefix: '10.97.0.0/16', at: 'gate' }, '.'], rfc: 'RFC 2328 §12.4.3' },
    ],
    instead: { prefix: '10.97.0.0/16', source: 'ospf' },
  };
  expect(reasonWords(absence)).toBe('gate folds it into 10.97.0.0/16.');
  render(<WhyAbsent absence={absence} />);
  expect(screen.getByRole('listitem')).toHaveTextContent('gate folds it into 10.97.0.0/16. RFC 2328 §12.4.3');
  const [there, instead] = screen.getAllByRole('button', { name: '10.97.0.0/16' });
  if (there) await userEvent.click(there);
  expect(useStore.getState()).toMatchObject({ stage: 'routes', look: 'tables', router: 'gate', prefix: '10.97.0.0/16' });
  if (instead) await userEvent.click(instead);
  expect(useStore.getState()).toMatchObject({ router: 'core', prefix: '10.97.0.0/16' });
});
