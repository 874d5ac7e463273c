import { spawn } from 'node:child_process';
import { join } from 'node:path';

/** Requests computed at a time, and those that may wait; more are asked to come again. */
const atOnce = 2;
const waiting = 32;
/** Milliseconds after which a computation is given up. */
const patience = 120_000;

let running = 0;
const queue: (() => void)[] = [];

/**
 * Waits for a turn.
 *
 * @param gone  aborted when whoever asked has gone: he leaves the queue
 * @returns     `busy` where too many wait, `gone` where nobody waits any more
 */
export async function turn(gone: AbortSignal): Promise<'now' | 'busy' | 'gone'> {
  if (gone.aborted) return 'gone';
  if (running < atOnce) {
    running++;
    return 'now';
  }
  if (queue.length >= waiting) return 'busy';
  return new Promise((resolve) => {
    const mine = (): void => {
      gone.removeEventListener('abort', leave);
      resolve('now');
    };
    const leave = (): void => {
      queue.splice(queue.indexOf(mine), 1);
      resolve('gone');
    };
    queue.push(mine);
    gone.addEventListener('abort', leave, { once: true });
  });
}

/** Gives a turn back. */
export function done(): void {
  const next = queue.shift();
  if (next) next();
  else running--;
}

/** How many wait for a turn. */
export const queued = (): number => queue.length;

export interface Answer {
  /** Exit code; 124 where it was given up. */
  readonly code: number;
  readonly out: Buffer;
  readonly err: string;
}

/** Runs the command line in a process of its own, so that no request can stall another; nothing is stored. It ends with whoever asked. */
export function run(
  args: readonly string[],
  body: Uint8Array,
  gone: AbortSignal,
  program = join(process.cwd(), '../cli/bin/gentle-compass.mjs'),
): Promise<Answer> {
  return new Promise((resolve) => {
    const child = spawn(process.execPath, ['--max-old-space-size=4096', program, ...args], { stdio: 'pipe' });
    const out: Buffer[] = [];
    let err = '';
    const end = (): void => void child.kill('SIGKILL');
    const timer = setTimeout(end, patience);
    const over = (answer: Answer): void => {
      clearTimeout(timer);
      gone.removeEventListener('abort', end);
      resolve(answer);
    };
    gone.addEventListener('abort', end, { once: true });
    if (gone.aborted) end();
    child.stdout.on('data', (d: Buffer) => out.push(d));
    child.stderr.on('data', (d: Buffer) => (err += String(d)));
    child.stdin.on('error', () => undefined); // the reader may stop before everything is written
    child.on('error', (e) => over({ code: 70, out: Buffer.alloc(0), err: e.message }));
    child.on('close', (code) => over({ code: code ?? 124, out: Buffer.concat(out), err }));
    child.stdin.end(body);
  });
}

/** A body, or why there is none: longer than a file may be, or nothing came for too long. */
export type Body = Uint8Array | 'too-large' | 'stalled';

/**
 * Reads a body up to a limit. One that stalls is given up, and what came of it let go.
 *
 * @param atMost    octets
 * @param patience  milliseconds without an octet, and five times that for all of it
 */
export async function bodyOf(request: Request, atMost: number, patience = 20_000): Promise<Body> {
  if (Number(request.headers.get('content-length') ?? 0) > atMost) return 'too-large';
  const parts: Uint8Array[] = [];
  let size = 0;
  const reader = (request.body as ReadableStream<Uint8Array> | null)?.getReader();
  if (!reader) return new Uint8Array();
  const latest = Date.now() + 5 * patience;
  for (;;) {
    let timer: ReturnType<typeof setTimeout> | undefined;
    const late = new Promise<'late'>((resolve) => {
      timer = setTimeout(() => resolve('late'), Math.max(0, Math.min(patience, latest - Date.now())));
    });
    const part = await Promise.race([reader.read(), late]);
    clearTimeout(timer);
    if (part === 'late') {
      void reader.cancel().catch(() => undefined);
      return 'stalled';
    }
    if (part.done) return Buffer.concat(parts);
    size += part.value.length;
    if (size > atMost) {
      void reader.cancel().catch(() => undefined);
      return 'too-large';
    }
    parts.push(part.value);
  }
}

/** Whether a request comes from a page of somebody else. */
export function isForeign(request: Request): boolean {
  const origin = request.headers.get('origin');
  const host = request.headers.get('host');
  if (request.headers.get('sec-fetch-site') === 'cross-site') return true;
  if (origin === null) return false;
  return !URL.canParse(origin) || new URL(origin).host !== host;
}
