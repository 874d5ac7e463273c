import type { ImportOutcome } from './view';
import { renewDesks } from '../../testing/local-desks';
import { openWith, settled, smallCampus, state } from '../../testing/page';
import { FilesDesk } from '../worker/desks/files-desk';
import { Held } from '../worker/held';
import { importFiles } from './session';

jest.mock('../worker/client', () => jest.requireActual<object>('../../testing/local-desks'));

/** A reading that a test lets come to an end, or that never does. */
let hold = false;
jest.mock('../worker/reading', () => {
  class StoppedHere extends Error {}
  return {
    Stopped: StoppedHere,
    readApart: (files: never[], name: string) => {
      let stop = (): void => undefined;
      const stopped = new Promise<never>((_, reject) => (stop = () => reject(new StoppedHere())));
      const read = hold ? new Promise<ImportOutcome>(() => undefined) : Promise.resolve(new FilesDesk(new Held(12)).readFiles(files, name));
      return { outcome: Promise.race([read, stopped]), stop };
    },
  };
});

const file = (name: string, text: string, broken = false): File =>
  ({
    name,
    webkitRelativePath: '',
    size: text.length,
    arrayBuffer: () => (broken ? Promise.reject(new Error('gone')) : Promise.resolve(new TextEncoder().encode(text).buffer)),
  }) as unknown as File;
const router = (name: string): string => JSON.stringify({ 'ietf-system:system': { hostname: name } });

beforeEach(async () => {
  hold = false;
  renewDesks();
  await openWith(smallCampus);
});

test('files become a design; one that the browser cannot read is named, the rest is read', async () => {
  await importFiles([file('a.json', router('gull-1')), file('b.json', '', true), file('c.json', router('gull-2'))]);
  await settled();
  expect(state().view?.routers.map((r) => r.name)).toEqual(['gull-1', 'gull-2']);
  expect(state().outcome?.problems).toMatchObject([{ file: 'b.json', message: 'The browser cannot read this file (gone).' }]);
});

test('a reading is stopped at once, whatever it reads; the open design is as it was', async () => {
  hold = true;
  const before = state().view;
  const reading = importFiles([file('endless.xml', '<a>')]);
  await settled();
  expect(state().reading?.words).toBe('Reading endless.xml');
  state().reading?.stop();
  await reading;
  expect([state().view, state().reading, state().working]).toEqual([before, undefined, undefined]);
  expect(state().notice).toBe('Reading endless.xml: stopped. The open design is as it was.');
});

test('who brings other files stops the first reading', async () => {
  hold = true;
  const first = importFiles([file('endless.xml', '<a>')]);
  await settled();
  hold = false;
  await importFiles([file('a.json', router('gull-1'))]);
  await first;
  await settled();
  expect(state().view?.routers.map((r) => r.name)).toEqual(['gull-1']);
});
