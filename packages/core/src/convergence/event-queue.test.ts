import fc from 'fast-check';
import { EventQueue } from './event-queue';

test('deeds are done in the order of their moments, at one moment as they came in, also those put in meanwhile', () => {
  fc.assert(
    fc.property(fc.array(fc.record({ at: fc.integer({ min: 0, max: 20 }), more: fc.integer({ min: -3, max: 9 }) }), { maxLength: 60 }), (list) => {
      const q = new EventQueue();
      const done: { at: number; turn: number }[] = [];
      let turn = 0;
      const put = (at: number, deed?: () => void): void => {
        const mine = turn++;
        q.put(at, () => {
          done.push({ at: q.now, turn: mine });
          deed?.();
        });
      };
      for (const { at, more } of list) put(at, () => put(q.now + more));
      while (q.step());
      expect(done).toHaveLength(2 * list.length);
      done.slice(1).forEach((d, i) => {
        const before = done[i] ?? d;
        expect(d.at).toBeGreaterThanOrEqual(before.at);
      });
      // Of those that were there from the start, at one moment, the first is first.
      const first = done.filter((d) => d.turn < list.length);
      expect(first).toEqual([...first].sort((a, b) => a.at - b.at || a.turn - b.turn));
    }),
  );
});
