import { applyEdits } from '@gentle-compass/core/design/edit';
import { shelf } from '../storage/shelf';
import { renewDesks } from '../../testing/local-desks';
import { kept, openWith, settled, smallCampus, state } from '../../testing/page';
import { enterLine, makeChange, undo } from './history';
import { start } from './session';
import { useStore } from './state';

jest.mock('../worker/client', () => jest.requireActual<object>('../../testing/local-desks'));

/** What another tab speaks and hears through. */
const other = new BroadcastChannel('gentle-compass-shelf');
const heard: string[] = [];
other.onmessage = (e: MessageEvent<{ id: string }>): void => void heard.push(e.data.id);
afterAll(() => other.close());

/** Another tab carries out one change on the design as it is kept, and says so. */
async function elsewhere(title: string, change: (tree: Record<string, unknown>) => void): Promise<void> {
  const id = state().design?.id ?? '';
  const d = await shelf().design(id);
  const [first] = d?.documents ?? [];
  if (!d || !first) throw new Error('nothing is kept');
  const tree = structuredClone(first.tree);
  change(tree);
  const edits = [{ router: 'tern-1', file: first.file, at: [], from: first.tree, to: tree }] as unknown as Parameters<typeof applyEdits>[1];
  const documents = d.documents.map((x) => (x === first ? { ...first, tree } : x));
  const history = [...d.history.slice(0, d.position), { title, edits, made: 1 }];
  await shelf().change(d, { documents, changed: [{ ...first, tree }], history, position: history.length, steps: [history.length - 1] });
  other.postMessage({ id, tab: 'another' });
}
const rename = (tree: Record<string, unknown>): void => {
  (tree['ietf-system:system'] as Record<string, unknown>)['hostname'] = 'tern-elsewhere';
};
const names = (): string[] => state().view?.routers.map((r) => r.name) ?? [];

beforeAll(async () => {
  globalThis.fetch = () => Promise.reject(new Error('no network'));
  await start();
});
beforeEach(async () => {
  renewDesks();
  await openWith(smallCampus);
  heard.length = 0;
  useStore.setState({ trouble: undefined, notice: undefined });
});

test('what another tab changed is shown here, with a word about it', async () => {
  await elsewhere('renamed elsewhere', rename);
  await settled();
  expect(names()).toEqual(['tern-2', 'tern-3', 'tern-elsewhere']);
  expect(state().notice).toBe('Changed in another tab.');
  expect(state().design?.history.map((s) => s.title)).toContain('renamed elsewhere');
});

test('every change made here is told to other tabs', async () => {
  await enterLine('set cost 8 on tern-1/to-tern-2', []);
  await settled();
  expect(new Set(heard)).toEqual(new Set([state().design?.id]));
});

/** Lets another tab write between what this one read and what it writes. */
function overtakeNext(title: string, change: (tree: Record<string, unknown>) => void): void {
  const write = shelf().change.bind(shelf());
  const spy = jest.spyOn(shelf(), 'change').mockImplementationOnce(async (d, c) => {
    spy.mockRestore();
    await elsewhere(title, change);
    return write(d, c);
  });
}
const titles = (): string[] => state().design?.history.map((s) => s.title) ?? [];

test('the other tab was first: its change stays, and the one made here is made again on it', async () => {
  const id = state().design?.id ?? '';
  overtakeNext('first', rename);
  await enterLine('set cost 8 on tern-2/to-tern-1', []);
  await settled();
  expect(state().notice).toBe('Another tab changed this design first: “cost 8 on tern-2/to-tern-1” was made again on what it is now.');
  expect(names()).toContain('tern-elsewhere');
  expect(titles().slice(-2)).toEqual(['first', 'cost 8 on tern-2/to-tern-1']);
  expect(await kept()).toMatchObject({ sound: true, position: 8 });
  expect((await shelf().design(id))?.documents).toEqual(state().design?.documents);
  // And on it goes.
  await enterLine('set cost 9 on tern-2/to-tern-3', []);
  await settled();
  expect(await kept()).toMatchObject({ sound: true, position: 9 });
});

test('a second edit, computed while the overtaken one is on its way, is not written over the other tab’s change either', async () => {
  overtakeNext('first', rename);
  await Promise.all([enterLine('set cost 8 on tern-2/to-tern-1', []), enterLine('lan roost on tern-2 passive', [])]);
  await settled();
  expect(names()).toContain('tern-elsewhere');
  expect(titles().slice(-3)).toEqual(['first', 'cost 8 on tern-2/to-tern-1', expect.stringMatching(/^LAN roost/)]);
  expect(await kept()).toMatchObject({ sound: true, position: 9 });
  expect((await shelf().design(state().design?.id ?? ''))?.documents).toEqual(state().design?.documents);
});

test('what does not fit what the other tab made of it is told and not made: a line that names what is gone, an edit of a changed value', async () => {
  overtakeNext('first', rename);
  await enterLine('set cost 8 on tern-1/to-tern-2', []);
  await settled();
  expect(state().notice).toBe('Another tab changed this design first: “cost 8 on tern-1/to-tern-2” does not fit any more and was not made.');
  expect(titles().at(-1)).toBe('first');
  expect(await kept()).toMatchObject({ sound: true, position: 7 });
  const [document] = state().design?.documents ?? [];
  const at = ['ietf-system:system', 'hostname'];
  overtakeNext('second', (tree) => {
    (tree['ietf-system:system'] as Record<string, unknown>)['hostname'] = 'tern-twice';
  });
  await makeChange('another name', [{ router: 'tern-elsewhere', file: document?.file ?? '', at, from: 'tern-elsewhere', to: 'tern-third' }]);
  await settled();
  expect(names()).toContain('tern-twice');
  expect(state().notice).toMatch(/“another name” does not fit any more/);
  await undo();
  await settled();
  expect(await kept()).toMatchObject({ sound: true });
});

test('a design that was deleted elsewhere goes on here once it is kept again', async () => {
  const id = state().design?.id ?? '';
  await shelf().remove(id);
  await enterLine('set cost 8 on tern-1/to-tern-2', []);
  await settled();
  expect(state().unkept).toBe('it was deleted in another tab');
  expect(state().design?.id).not.toBe(id);
  expect(names()).toEqual(['tern-1', 'tern-2', 'tern-3']);
});
