import { bodyOf, done, isForeign, run, turn } from './computing';
import { isOwnHost } from '../../../src/frame/policy';
import { readLimits } from '@gentle-compass/core/documents/limits';

const refuse = (status: number, error: string, remedy: string, headers: Record<string, string> = {}): Response =>
  Response.json({ error, remedy }, { status, headers });

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

/**
 * `POST /api/check?format=json|sarif|junit|text` and `POST /api/predict?fail=…&router=…`: a .zip or one document as the
 * body, the answer of the command line as the response. 422 when nothing usable was sent; what `check` found does not
 * change the status: header `x-exit-code` holds the exit code.
 */
export async function POST(request: Request, { params }: { params: Promise<{ command: string }> }): Promise<Response> {
  if (!isOwnHost(request.headers.get('host'), process.env['GENTLE_COMPASS_HOST']))
    return refuse(421, 'This server answers to its own name only.', 'Start it with GENTLE_COMPASS_HOST to let others ask.');
  if (isForeign(request)) return refuse(403, 'This request comes from another site.', 'Ask from the page itself, or from a program.');
  const { command } = await params;
  const query = new URL(request.url).searchParams;
  const args = argumentsOf(command, query);
  if (typeof args === 'string') return refuse(404, args, 'Use /api/check (format json, sarif, junit or text) or /api/predict.');
  const limit = readLimits.fileBytes / 1024 / 1024;
  const body = await bodyOf(request, readLimits.fileBytes);
  if (body === 'too-large') return refuse(413, `The body is over ${limit} MB.`, 'Send fewer documents, or pack them into a .zip.');
  if (body === 'stalled') return refuse(408, 'The body did not come.', 'Send it again, and faster.');
  if (body.length === 0) return refuse(422, 'The body is empty.', 'Send a .zip of router documents, or one document.');
  const place = await turn(request.signal);
  if (place === 'busy') return refuse(503, 'Too many requests are being computed.', 'Come again in half a minute.', { 'retry-after': '30' });
  if (place === 'gone') return refuse(499, 'Nobody waits for the answer any more.', 'Ask again.');
  try {
    const { code, out, err } = await run(args, body, request.signal);
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
