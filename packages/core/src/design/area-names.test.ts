import { readEntry } from '../entry/entry';
import { designFrom } from '../formats/read-set';
import { three } from '../testing/three-areas';
import { areaNames, areaNamesGiven } from './area-names';
import { applyEdits } from './edit';

const typed = (line: string) => applyEdits(three().documents(), readEntry(line, three().documents()).plan?.edits ?? []);

test('a name typed for an area stands in all its routers, and is taken out of all', () => {
  const named = typed('set area-name "Tidal labs" on area 1');
  const { design } = designFrom(named);
  expect([...areaNames(design)]).toEqual([[1, 'Tidal labs']]);
  expect(areaNamesGiven(design).get(1)?.get('Tidal labs')).toEqual(['gate', 'one']);
  const bare = applyEdits(named, readEntry('clear area-name on area 1', named).plan?.edits ?? []);
  expect([...areaNames(designFrom(bare).design)]).toEqual([]);
});

test('where they differ, the name that most use counts; of equals the first', () => {
  const net = three().area('gate', 1, { 'gentle-compass:name': 'Mudflats' }).area('one', 1, { 'gentle-compass:name': 'Mud flats' });
  expect(areaNames(net.read().design).get(1)).toBe('Mudflats');
  const more = net.router('four', '10.97.0.9', 1).cable('one', 'four', '10.97.128.8', 1).area('four', 1, { 'gentle-compass:name': 'Mud flats' });
  expect(areaNames(more.read().design).get(1)).toBe('Mud flats');
});
