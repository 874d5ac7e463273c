import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { bodyOf, done, isForeign, queued, run, turn } from './computing';

const folder = mkdtempSync(join(tmpdir(), 'gentle-compass-'));
afterAll(() => rmSync(folder, { recursive: true }));
const program = (name: string, text: string): string => {
  writeFileSync(join(folder, name), text);
  return join(folder, name);
};
const alive = (pid: number): boolean => {
  try {
    process.kill(pid, 0);
    return true;
  } catch {
    return false;
  }
};
const pause = (ms: number): Promise<void> => new Promise((go) => setTimeout(go, ms));
const nobodyLeaves = new AbortController().signal;

describe('a request that is given up', () => {
  test('ends its process', async () => {
    const pidFile = join(folder, 'pid');
    const path = program(
      'endless.mjs',
      `import { writeFileSync } from 'node:fs'; writeFileSync(${JSON.stringify(pidFile)}, String(process.pid)); setInterval(() => {}, 1000);`,
    );
    const gone = new AbortController();
    const answer = run([], new Uint8Array(), gone.signal, path);
    let pid = 0;
    for (let n = 0; n < 200 && pid === 0; n++) {
      await pause(50);
      pid = Number(await import('node:fs').then((fs) => (fs.existsSync(pidFile) ? fs.readFileSync(pidFile, 'utf8') : '0')));
    }
    expect(alive(pid)).toBe(true);
    gone.abort();
    expect((await answer).code).toBe(124);
    expect(alive(pid)).toBe(false);
  });

  test('that was gone before it began starts nothing that stays', async () => {
    const gone = new AbortController();
    gone.abort();
    expect((await run([], new Uint8Array(), gone.signal, program('wait.mjs', 'setInterval(() => {}, 1000);'))).code).toBe(124);
  });

  test('leaves the queue; those behind it come sooner, and nobody’s turn is lost', async () => {
    expect(await Promise.all([turn(nobodyLeaves), turn(nobodyLeaves)])).toEqual(['now', 'now']);
    const leaver = new AbortController();
    const order: string[] = [];
    const waiting = [turn(leaver.signal), turn(nobodyLeaves)].map((t, n) => t.then((x) => order.push(`${n} ${x}`)));
    await pause(5);
    expect(queued()).toBe(2);
    leaver.abort();
    await pause(5);
    expect([queued(), order]).toEqual([1, ['0 gone']]);
    done();
    await Promise.all(waiting);
    expect(order).toEqual(['0 gone', '1 now']);
    expect(await turn(leaver.signal)).toBe('gone');
    done();
    done();
    expect(await turn(nobodyLeaves)).toBe('now');
    done();
  });

  test('past the queue one is told to come again', async () => {
    const busy = await Promise.all([turn(nobodyLeaves), turn(nobodyLeaves)]);
    const all = new AbortController();
    const waiting = Array.from({ length: 32 }, () => turn(all.signal));
    await pause(5);
    expect([busy, queued(), await turn(nobodyLeaves)]).toEqual([['now', 'now'], 32, 'busy']);
    all.abort();
    expect(new Set(await Promise.all(waiting))).toEqual(new Set(['gone']));
    done();
    done();
  });
});

describe('a body', () => {
  const request = (body: ReadableStream | string, headers: Record<string, string> = {}): Request =>
    new Request('http://localhost/api/check', { method: 'POST', body, headers, ...{ duplex: 'half' } });
  /** A stream of parts, each after a pause; `cancelled` says whether it was let go. */
  function slow(parts: readonly string[], ms: number): { stream: ReadableStream; cancelled: () => boolean } {
    let let_go = false;
    const left = [...parts];
    const stream = new ReadableStream({
      async pull(c) {
        await pause(ms);
        const part = left.shift();
        if (part === undefined) c.close();
        else c.enqueue(new TextEncoder().encode(part));
      },
      cancel() {
        let_go = true;
      },
    });
    return { stream, cancelled: () => let_go };
  }

  test('is read as it comes', async () => {
    expect(new TextDecoder().decode((await bodyOf(request('{"a":1}'), 100)) as Uint8Array)).toBe('{"a":1}');
    expect(new TextDecoder().decode((await bodyOf(request(slow(['ab', 'cd'], 5).stream), 100)) as Uint8Array)).toBe('abcd');
    expect(await bodyOf(new Request('http://localhost/', { method: 'POST' }), 100)).toHaveLength(0);
  });

  test('over the limit is given up, by what it says or by what comes', async () => {
    expect(await bodyOf(request('x', { 'content-length': '101' }), 100)).toBe('too-large');
    const much = slow(['x'.repeat(60), 'x'.repeat(60), 'x'], 1);
    expect(await bodyOf(request(much.stream), 100)).toBe('too-large');
    expect(much.cancelled()).toBe(true);
  });

  test('that stalls, or trickles for ever, is let go', async () => {
    const stalled = slow(['a', 'b'], 5_000);
    expect(await bodyOf(request(stalled.stream), 100, 40)).toBe('stalled');
    const trickling = slow(
      Array.from({ length: 1000 }, () => 'x'),
      15,
    );
    expect(await bodyOf(request(trickling.stream), 1000, 40)).toBe('stalled');
    expect([stalled.cancelled(), trickling.cancelled()]).toEqual([true, true]);
  });
});

test.each([
  [{}, false],
  [{ origin: 'http://localhost:4310', host: 'localhost:4310' }, false],
  [{ origin: 'http://evil.example', host: 'localhost:4310' }, true],
  [{ origin: 'http://localhost:9999', host: 'localhost:4310' }, true],
  [{ origin: 'null', host: 'localhost:4310' }, true],
  [{ 'sec-fetch-site': 'cross-site', host: 'localhost:4310' }, true],
  [{ 'sec-fetch-site': 'same-origin', origin: 'http://localhost:4310', host: 'localhost:4310' }, false],
] as [Record<string, string>, boolean][])('a request with %p is of another site: %p', (headers, foreign) => {
  expect(isForeign({ headers: new Headers(headers) } as Request)).toBe(foreign);
});
