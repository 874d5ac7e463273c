import { LineHistory } from './line-history';

test('arrow up goes back through the lines, arrow down comes again to what was being typed', () => {
  const h = new LineHistory();
  expect(h.earlier('')).toBeUndefined();
  for (const line of ['set cost 1 on a/x', 'set cost 1 on a/x', ' clear cost on a/x ', '']) h.add(line);
  expect([h.earlier('li'), h.earlier(''), h.earlier('')]).toEqual(['clear cost on a/x', 'set cost 1 on a/x', undefined]);
  expect(h.walking).toBe(true);
  expect([h.later(), h.later(), h.later()]).toEqual(['clear cost on a/x', 'li', undefined]);
  expect(h.walking).toBe(false);
  h.earlier('x');
  h.leave();
  expect(h.later()).toBeUndefined();
});
