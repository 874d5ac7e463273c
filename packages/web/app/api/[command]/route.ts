import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { readLimits } from '@gentle-compass/core/documents/limits';

/** Requests computed at a time, and those that may wait; more are asked to come again. */
const atOnce = 2;
const waiting = 32;
/** Milliseconds after which a computation is given up. */
const patience = 120_000;

const queue: (() => void)[] = [];
let running = 0;

async function turn(): Promise<boolean> {
  if (running < atOnce) {
    running++;
    return true;
  }
  if (queue.length >= waiting) return false;
  await new Promise<void>((resolve) => queue.push(resolve));
  return true;
}

function done(): void {
  const next = queue.shift();
  if (next) next();
  else running--;
}

const refuse = (status: number, error: string, remedy: string): Response => Response.json({ error, remedy }, { status });

const types: Record<string, string> = {
  sarif: 'application/sarif+json',
  junit: 'application/xml',
  text: 'text/plain; charset=utf-8',
  json: 'application/json',
};

/** Arguments of the command line for a request; a text that says what is wrong with it. */
function argumentsOf(command: string, query: URLSearchParams): string[] | string {
  if (command === 'check') {
    const format = query.get('format') ?? 'json';
    return format in types ? ['check', '-', '--format', format] : `"${format}" is no format of check.`;
  }
  if (command === 'predict')
    return [
      'predict',
      '-',
      '--json',
      ...query.getAll('fail').flatMap((f) => ['--fail', f]),
      ...query.getAll('router').flatMap((r) => ['--router', r]),
    ];
  return `There is no "${command}" here.`;
}

/** Runs the command line in a process of its own, so that no request can stall another; nothing is stored. */
function run(args: readonly string[], body: Uint8Array): Promise<{ code: number; out: Buffer; err: string }> {
  return new Promise((resolve) => {
    const child = spawn(process.execPath, ['--max-old-space-size=4096', join(process.cwd(), '../cli/bin/gentle-compass.mjs'), ...args], {
      stdio: 'pipe',
    });
    const out: Buffer[] = [];
    let err = '';
    const timer = setTimeout(() => child.kill('SIGKILL'), patience);
    child.stdout.on('data', (d: Buffer) => out.push(d));
    child.stderr.on('data', (d: Buffer) => (err += String(d)));
    child.stdin.on('error', () => undefined); // the reader may stop before everything is written
    child.on('error', (e) => {
      clearTimeout(timer);
      resolve({ code: 70, out: Buffer.alloc(0), err: e.message });
    });
    child.on('close', (code) => {
      clearTimeout(timer);
      resolve({ code: code ?? 124, out: Buffer.concat(out), err });
    });
    child.stdin.end(body);
  });
}

/** Reads a body up to the limit of one file; `undefined` when it is longer. */
async function bodyOf(request: Request): Promise<Uint8Array | undefined> {
  if (Number(request.headers.get('content-length') ?? 0) > readLimits.fileBytes) return undefined;
  const parts: Uint8Array[] = [];
  let size = 0;
  const reader = request.body?.getReader();
  for (let part = await reader?.read(); part && !part.done; part = await reader?.read()) {
    const value = part.value as Uint8Array;
    size += value.length;
    if (size > readLimits.fileBytes) {
      await reader?.cancel();
      return undefined;
    }
    parts.push(value);
  }
  return Buffer.concat(parts);
}

/**
 * `POST /api/check?format=json|sarif|junit|text` and `POST /api/predict?fail=…&router=…`: a .zip or one document as the
 * body, the answer of the command line as the response. 422 when nothing usable was sent; what `check` found does not
 * change the status: header `x-exit-code` holds the exit code.
 */
export async function POST(request: Request, { params }: { params: Promise<{ command: string }> }): Promise<Response> {
  const { command } = await params;
  const query = new URL(request.url).searchParams;
  const args = argumentsOf(command, query);
  if (typeof args === 'string') return refuse(404, args, 'Use /api/check (format json, sarif, junit or text) or /api/predict.');
  const body = await bodyOf(request);
  if (!body) return refuse(413, `The body is over ${readLimits.fileBytes / 1024 / 1024} MB.`, 'Send fewer documents, or pack them into a .zip.');
  if (body.length === 0) return refuse(422, 'The body is empty.', 'Send a .zip of router documents, or one document.');
  if (!(await turn())) return refuse(503, 'Too many requests are being computed.', 'Come again in a minute.');
  try {
    const { code, out, err } = await run(args, body);
    const messages = err.split('\n').filter(Boolean);
    if (code === 2) return Response.json({ error: 'Nothing usable was sent.', messages }, { status: 422 });
    if (code > 2)
      return Response.json(
        { error: code === 124 ? 'The computation took too long and was given up.' : 'A fault of ours.' },
        { status: code === 124 ? 504 : 500 },
      );
    const type = command === 'check' ? (types[query.get('format') ?? 'json'] ?? 'application/json') : 'application/json';
    return new Response(new Uint8Array(out), {
      headers: { 'content-type': type, 'x-exit-code': String(code), 'x-messages': String(messages.length), 'cache-control': 'no-store' },
    });
  } finally {
    done();
  }
}
