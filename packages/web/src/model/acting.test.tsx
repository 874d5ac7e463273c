import { shelf } from '../storage/shelf';
import { asked, failNext, holdNext, renewDesks } from '../../testing/local-desks';
import { kept, openWith, settled, smallCampus, state } from '../../testing/page';
import { refer } from './comparing';
import { setFailures } from './failing';
import { enterCells, enterLine, goToStep, makeChange, redo, returnTo, undo } from './history';
import { keepAgain, saveVersion } from './keeping';
import { openEmpty, openKept, openVariant, renameDesign } from './session';
import { useStore } from './state';

jest.mock('../worker/client', () => jest.requireActual<object>('../../testing/local-desks'));

beforeEach(async () => {
  renewDesks();
  await openWith(smallCampus);
  useStore.setState({ trouble: undefined, fail: [], reference: undefined });
});

const cost = (router: string, iface: string): number | null | undefined =>
  state()
    .view?.routers.find((r) => r.name === router)
    ?.interfaces.find((i) => i.name === iface)?.cost;

describe('an edit is kept when the worker has taken it', () => {
  test('what is shown, what is held and what is kept are the same', async () => {
    await enterLine('set cost 9 on tern-1/to-tern-2', []);
    await settled();
    expect(cost('tern-1', 'to-tern-2')).toBe(9);
    expect(await kept()).toMatchObject({ sound: true, position: 7, files: ['tern-1.json', 'tern-2.json', 'tern-3.json'] });
    expect((await shelf().design(state().design?.id ?? ''))?.documents).toEqual(state().design?.documents);
    expect(state().lastChange?.change).toMatchObject({ neighborsLost: 0 });
  });

  test('a worker that fails over it: nothing is kept, the way on is told, and the next edit stands on what was before', async () => {
    const before = state();
    failNext('editing.editText', new Error('the table ran over'));
    await enterLine('set cost 9 on tern-1/to-tern-2', []);
    await settled();
    expect(state().trouble).toMatch(/the table ran over\. Nothing of it was kept.*undo and export work, and a reload opens it anew/);
    expect(state().view).toBe(before.view);
    expect(state().design?.documents).toBe(before.design?.documents);
    expect(await kept()).toMatchObject({ sound: true, position: 6 });
    await enterLine('set cost 11 on tern-2/to-tern-1', []);
    await settled();
    expect([cost('tern-1', 'to-tern-2'), cost('tern-2', 'to-tern-1')]).toEqual([5, 11]);
    await undo();
    await settled();
    expect(cost('tern-2', 'to-tern-1')).toBe(5);
    expect((await shelf().design(state().design?.id ?? ''))?.documents).toEqual(state().design?.documents);
  });

  test('checks that fail are told; the edit stays, and the next one is checked again', async () => {
    failNext('checking.foundText', new Error('a check ran over'));
    await enterLine('set dead 12 on tern-1/to-tern-2', []);
    await settled();
    expect(state().trouble).toBe('Checking the design did not work: a check ran over');
    expect((await kept()).position).toBe(7);
    await enterLine('set cost 6 on tern-1/to-tern-2', []);
    await settled();
    expect(state().view?.findings.map((f) => f.rule)).toContain('dead-interval');
  });

  test('lines typed without waiting land one after the other, each on the one before', async () => {
    const all = ['router tern-4 area 10', 'link tern-3 tern-4 area 10', 'set cost 3 on tern-4/to-tern-3', 'delete router tern-1'];
    await Promise.all(all.map((line) => enterLine(line, [])));
    await settled();
    expect(state().design?.history).toHaveLength(10);
    expect(await kept()).toMatchObject({ sound: true, position: 10, files: ['tern-2.json', 'tern-3.json', 'tern-4.json'] });
    expect(state().view?.routers.map((r) => r.name)).toEqual(['tern-2', 'tern-3', 'tern-4']);
  });

  test('another design opened meanwhile: the answer to the edit does not show there', async () => {
    const first = state().design?.id ?? '';
    const release = holdNext('editing.editText');
    const pending = enterLine('set cost 9 on tern-1/to-tern-2', []);
    await new Promise((go) => setTimeout(go, 5));
    await openEmpty('Elsewhere');
    release();
    await pending;
    await settled();
    expect(state().design?.name).toBe('Elsewhere');
    expect(state().view?.routers).toEqual([]);
    await openKept(first);
    await settled();
    expect((await kept()).sound).toBe(true);
  });

  test('a browser that keeps nothing is told of, and keeps all once it can', async () => {
    const refuse = jest.spyOn(shelf(), 'change').mockRejectedValueOnce(Object.assign(new Error(''), { name: 'QuotaExceededError' }));
    await enterLine('set cost 9 on tern-1/to-tern-2', []);
    await settled();
    expect(state().unkept).toBe('its storage is full');
    expect(cost('tern-1', 'to-tern-2')).toBe(9);
    expect((await kept()).position).toBe(6);
    refuse.mockRestore();
    await keepAgain();
    expect([state().unkept, (await kept()).position]).toEqual([undefined, 7]);
  });
});

describe('back and forth', () => {
  test('undo and redo go through all states, a new step gives up what was undone', async () => {
    await enterLine('set cost 9 on tern-1/to-tern-2', []);
    await enterLine('set cost 12 on tern-1/to-tern-2', []);
    await undo();
    expect([cost('tern-1', 'to-tern-2'), state().lastChange?.title]).toEqual([9, 'Undone: cost 12 on tern-1/to-tern-2']);
    await undo();
    await redo();
    expect(cost('tern-1', 'to-tern-2')).toBe(9);
    await goToStep(6);
    expect(cost('tern-1', 'to-tern-2')).toBe(5);
    await enterLine('set cost 20 on tern-1/to-tern-2', []);
    await redo();
    await settled();
    expect(cost('tern-1', 'to-tern-2')).toBe(20);
    expect(state().design?.history).toHaveLength(7);
    expect(await kept()).toMatchObject({ sound: true, position: 7 });
    await goToStep(99);
    await goToStep(-1);
    expect(state().design?.position).toBe(7);
  });

  test('a version is what was; going back to it is a step like any other', async () => {
    await saveVersion('as built', 'before the work');
    await enterLine('set cost 9 on tern-1/to-tern-2', []);
    const [version] = await shelf()
      .versions.where('design')
      .equals(state().design?.id ?? '')
      .toArray();
    if (!version) throw new Error('not kept');
    await refer({ kind: 'version', id: version.id, name: version.name });
    await settled();
    expect(state().comparison?.lines.map((l) => [l.from, l.to])).toEqual([['5', '9']]);
    await returnTo(version);
    await settled();
    expect(cost('tern-1', 'to-tern-2')).toBe(5);
    expect(state().comparison?.lines).toEqual([]);
    await undo();
    expect(cost('tern-1', 'to-tern-2')).toBe(9);
  });

  test('against the last change, against the design as it was opened', async () => {
    await refer({ kind: 'last-change', id: '', name: 'the last change' });
    await enterLine('delete link tern-2 tern-3', []);
    await settled();
    expect(state().comparison?.neighbors).toHaveLength(2);
    expect(state().comparison?.lost).toBeGreaterThan(0);
    await enterLine('set cost 6 on tern-1/to-tern-2', []);
    await settled();
    expect(state().comparison?.neighbors).toEqual([]);
    await refer({ kind: 'opened', id: '', name: 'as it was opened' });
    await settled();
    expect(state().comparison?.routers.length).toBeGreaterThan(0);
    await refer(undefined);
    expect(state().comparison).toBeUndefined();
  });
});

describe('the newest wish wins', () => {
  test('of several failures asked for in a row the last one is shown, also when the first answers last', async () => {
    const release = holdNext('failures.fail');
    const first = setFailures(['router:tern-1']);
    await setFailures(['router:tern-3']);
    release();
    await first;
    expect(state().failure?.goneRouters).toEqual(['tern-3']);
    await setFailures([]);
    expect([state().failure, state().fail]).toEqual([undefined, []]);
  });

  test('a failure outlives an edit, computed anew on what the edit led to', async () => {
    await setFailures(['router:tern-2']);
    const before = state().failure?.lost;
    await enterLine('lan roost on tern-1 passive', []);
    await settled();
    expect(state().fail).toEqual(['router:tern-2']);
    expect(state().failure?.goneRouters).toEqual(['tern-2']);
    // The new LAN is lost too, in the table of the router that stands.
    expect(state().failure?.lost).toBe((before ?? 0) + 1);
  });

  test('a failing worker is told of and leaves what was shown', async () => {
    await setFailures(['router:tern-3']);
    failNext('failures.fail', new Error('out of breath'));
    await setFailures(['router:tern-1']);
    expect(state().trouble).toBe('Computing the failure did not work: out of breath');
  });
});

test('a table takes several cells as one step; what cannot be is told and the rest is done', async () => {
  const done = await enterCells('interfaces', [
    { key: 'tern-1/to-tern-2', column: 'cost', value: '40' },
    { key: 'tern-2/to-tern-1', column: 'cost', value: 'much' },
  ]);
  await settled();
  expect(done.faults).toHaveLength(1);
  expect(cost('tern-1', 'to-tern-2')).toBe(40);
  expect(state().design?.history).toHaveLength(7);
  failNext('editing.cells', new Error('no table'));
  expect(await enterCells('interfaces', [{ key: 'tern-1/to-tern-2', column: 'cost', value: '41' }])).toMatchObject({ edits: [] });
  expect(state().trouble).toBe('Changing the table did not work: no table');
});

test('a variant stands by itself; a new name is kept; no edits make no step', async () => {
  const first = state().design?.id;
  await renameDesign('  Tern islet, north  ');
  await renameDesign(' ');
  await openVariant('South');
  await settled();
  expect([state().design?.name, state().design?.variantOf]).toEqual(['South', first]);
  await enterLine('delete router tern-3', []);
  await settled();
  expect((await shelf().design(first ?? ''))?.documents).toHaveLength(3);
  expect((await shelf().design(first ?? ''))?.name).toBe('Tern islet, north');
  const steps = state().design?.history.length;
  await makeChange('nothing', []);
  expect(state().design?.history.length).toBe(steps);
});

test('what a line cannot do changes nothing, and a worker that fails over reading it is told of', async () => {
  const before = asked.filter((a) => a === 'editing.editText').length;
  expect((await enterLine('link tern-1 nobody', [])).error?.message).toMatch(/no router "nobody"/);
  expect(asked.filter((a) => a === 'editing.editText')).toHaveLength(before);
  failNext('editing.entry', new Error('no words'));
  await enterLine('set cost 2 on tern-1', []);
  expect(state().trouble).toBe('“set cost 2 on tern-1” did not work: no words');
});

test('of a damaged design what is whole is opened as a copy, the rest is told and stays as it is', async () => {
  const id = state().design?.id ?? '';
  await openEmpty('Elsewhere');
  await shelf().documents.delete([id, 'tern-3.json']);
  await openKept(id);
  await settled();
  expect(state().damaged).toEqual({ id, name: 'Tern islet', words: ['The document tern-3.json is missing.'] });
  expect(state().design?.name).toBe('Tern islet, what is whole');
  expect(state().view?.routers.map((r) => r.name)).toEqual(['tern-1', 'tern-2']);
  await enterLine('set cost 9 on tern-1/to-tern-2', []);
  await settled();
  expect(await kept()).toMatchObject({ sound: true, position: 1 });
  expect((await shelf().raw(id))?.documents).toHaveLength(2);
  expect((await shelf().list()).map((d) => d.name)).toEqual(expect.arrayContaining(['Tern islet', 'Tern islet, what is whole']));
});
