import { applyEdits } from '../design/edit';
import { documentChanges } from '../compare/document-changes';
import { readEntry } from '../entry/entry';
import { sample } from '../testing/sample';
import { changeSheet, pathInWords } from './change-sheet';

const first = sample('saltmarsh-point').documents;
const sheet = (line: string): string => {
  const { plan } = readEntry(line, first);
  return changeSheet(plan?.title ?? '', documentChanges(first, applyEdits(first, plan?.edits ?? [])));
};

test('a change tells per router only what is to be altered, before and now', () => {
  const text = sheet('set cost 77 on kelp-1/to-kelp-3');
  expect(text).toContain('To be altered on 1 router;');
  expect(text).toContain('| ☐ | protocol campus, area 10, interface to-kelp-3: cost | 20 | 77 |');
  expect(text.match(/☐/g)).toHaveLength(1);
});

test('a link is told at both ends, what goes is to be taken out, and keys are not shown', () => {
  const text = sheet('delete link beacon-1 beacon-2');
  expect(text).toMatch(/## beacon-1\n[^]*interface to-beacon-2 \|[^]*\| take it out \|[^]*## beacon-2\n/);
  expect(sheet('key 1 md5 "low tide" on kelp-1')).not.toContain('tide');
  expect(changeSheet('nothing', [])).toContain('Nothing is to be altered.');
});

test('nodes in words; a name cannot break the table', () => {
  expect(pathInWords('interfaces/interface[to-kelp-3]/ipv4/address/ip')).toBe('interface to-kelp-3: ipv4 address ip');
  expect(pathInWords('routing/control-plane-protocols/control-plane-protocol[campus]/ospf/areas/area[0.0.0.0]/ranges/range[10.97.0.0/18]')).toBe(
    'protocol campus, backbone, range 10.97.0.0/18',
  );
  expect(changeSheet('a | b', [{ router: 'x|y', file: 'f', path: 'interfaces/interface[a|b]/mtu', from: '1', to: '2\n3' }])).toContain(
    '| ☐ | interface a\\|b: mtu | 1 | 2 3 |',
  );
});
