import { desksOf, type Desks } from './client';

class FakeWorker extends EventTarget {}
const remote = (answer: () => Promise<unknown>): Desks => ({ routes: { table: answer } }) as unknown as Desks;

test('a question is answered by the worker', async () => {
  const desks = desksOf(
    new FakeWorker() as Worker,
    remote(() => Promise.resolve([1])),
  );
  expect(await desks.routes.table('a', false)).toEqual([1]);
});

test('a worker that breaks down ends what is asked and what will be asked, with the reason and the way on', async () => {
  const worker = new FakeWorker();
  const desks = desksOf(
    worker as Worker,
    remote(() => new Promise(() => undefined)),
  );
  const asked = desks.routes.table('a', false);
  worker.dispatchEvent(Object.assign(new Event('error'), { message: 'out of memory' }));
  await expect(asked).rejects.toThrow(/broke down or could not be loaded: out of memory\. Reload the page; what is kept stays kept/);
  await expect(desks.routes.table('b', false)).rejects.toThrow(/broke down/);
});

test('what a desk cannot do is told as it says it, and the next question is answered', async () => {
  let fails = true;
  const desks = desksOf(
    new FakeWorker() as Worker,
    remote(() => (fails ? Promise.reject(new Error('no such router')) : Promise.resolve([2]))),
  );
  await expect(desks.routes.table('a', false)).rejects.toThrow('no such router');
  fails = false;
  expect(await desks.routes.table('a', false)).toEqual([2]);
});
