import { lanLabel } from './lan-label';

const at = { x: 200, y: 200 };
const above = { x: 180, y: 80 };
const below = { x: 200, y: 320 };

test('the words of a LAN stand where none of its lines crosses them', () => {
  expect(lanLabel(at, [above], 90)).toEqual({ x: 200, y: 217, anchor: 'middle' });
  expect(lanLabel(at, [below], 90)).toEqual({ x: 200, y: 190, anchor: 'middle' });
  expect(lanLabel(at, [above, below], 90)).toEqual({ x: 256, y: 204, anchor: 'start' });
  expect(lanLabel(at, [above, below, { x: 420, y: 205 }], 90)).toEqual({ x: 144, y: 204, anchor: 'end' });
});
