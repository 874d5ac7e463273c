import type { Shelf } from '../storage/shelf';

jest.mock('../worker/client', () => jest.requireActual<object>('../../testing/local-desks'));

/** Rounds in a series, and series that are tried, each on a new design; more of both on request. */
const rounds = Number(process.env['ROUNDS'] ?? 20);
const series = Array.from({ length: Number(process.env['SERIES'] ?? 1) }, (_, i) => i);

interface Tab {
  readonly history: typeof import('./history');
  readonly session: typeof import('./session');
  readonly state: typeof import('./state');
  readonly shelf: Shelf;
}

/** A tab of its own: model, worker and storage anew, the browser's store and channel shared. */
async function tab(): Promise<Tab> {
  let made: Tab | undefined;
  await jest.isolateModulesAsync(async () => {
    const [history, session, state, { shelf }] = [
      await import('./history'),
      await import('./session'),
      await import('./state'),
      await import('../storage/shelf'),
    ];
    made = { history, session, state, shelf: shelf() };
    await session.start();
  });
  if (!made) throw new Error('no tab');
  return made;
}

const pause = (ms: number): Promise<void> => new Promise((go) => setTimeout(go, ms));

/** A stream of chances that is the same each time. */
function chances(seed: number): (below: number) => number {
  let x = seed;
  return (below) => {
    x = (Math.imul(x, 1_103_515_245) + 12_345) & 0x7fff_ffff;
    return (x >>> 8) % below;
  };
}

const lines = (chance: (below: number) => number, n: number): string =>
  [
    `set cost ${1 + chance(60)} on tern-1/to-tern-2`,
    `set cost ${1 + chance(60)} on tern-2/to-tern-1`,
    `router tern-${10 + n} area 0`,
    `lan quay-${n} on tern-1 passive`,
    `delete router tern-${10 + Math.max(0, n - 1 - chance(6))}`,
    `set hello ${1 + chance(9)} on tern-2/to-tern-1`,
  ][chance(6)] ?? '';

test.each(series.flatMap((n) => [[2, 11 + 2 * n] as const, [3, 12 + 2 * n] as const]))(
  '%i tabs (chances %i) that edit at the same time: what is kept fits together after every round, and all come to show it',
  async (count, seed) => {
    const chance = chances(seed);
    const first = await tab();
    await first.session.openEmpty('Tern islet');
    for (const line of ['router tern-1 area 0', 'router tern-2 area 0', 'link tern-1 tern-2']) await first.history.enterLine(line, []);
    await pause(60);
    const tabs = [first];
    while (tabs.length < count) tabs.push(await tab());
    const id = first.state.useStore.getState().design?.id ?? '';
    for (let n = 0; n < rounds; n++) {
      const work = tabs.flatMap((t) =>
        Array.from({ length: 1 + chance(2) }, async () => {
          await pause(chance(4));
          if (chance(8) === 0) await t.history.undo();
          else await t.history.enterLine(lines(chance, n), []);
        }),
      );
      await Promise.all(work);
      if (chance(3) > 0) await pause(chance(30));
      const [row, documents, steps] = await Promise.all([
        first.shelf.designs.get(id),
        first.shelf.documents.where('design').equals(id).toArray(),
        first.shelf.steps.where('design').equals(id).toArray(),
      ]);
      expect([n, [...(row?.files ?? [])].sort()]).toEqual([n, documents.map((d) => d.file).sort()]);
      expect([n, steps.map((s) => s.n).sort((a, b) => a - b)]).toEqual([n, Array.from({ length: steps.length }, (_, i) => i)]);
      expect(row?.position).toBeLessThanOrEqual(steps.length);
    }
    // What was overtaken is made again, and every tab follows: that comes to an end.
    const behind = async (): Promise<number> => {
      const kept = await first.shelf.design(id);
      return tabs.filter((t) => {
        const { design } = t.state.useStore.getState();
        return design?.revision !== kept?.revision || JSON.stringify(design?.documents) !== JSON.stringify(kept?.documents);
      }).length;
    };
    for (let n = 0, still = 0; n < 600 && still < 5; n++) {
      await pause(100);
      still = (await behind()) === 0 ? still + 1 : 0;
    }
    const kept = await first.shelf.design(id);
    for (const t of tabs) {
      const { design, view } = t.state.useStore.getState();
      expect(design?.documents).toEqual(kept?.documents);
      expect(design?.history.map((s) => s.title)).toEqual(kept?.history.map((s) => s.title));
      expect(view?.routers.map((r) => r.file).sort()).toEqual(kept?.documents.map((d) => d.file).sort());
    }
    // What the history says leads to what is kept: undone to the beginning nothing is left of it.
    await first.history.goToStep(0);
    await pause(100);
    expect(first.state.useStore.getState().design?.documents).toEqual([]);
  },
);
