import { readdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';

const samples = ['saltmarsh-point', 'saltmarsh-point-before-review'] as const;

/** The documents of a sample campus, as a user would bring them: `{ files: [{ name, content }] }`. */
export async function GET(_request: Request, { params }: { params: Promise<{ name: string }> }): Promise<Response> {
  const { name } = await params;
  const sample = samples.find((s) => s === name);
  if (!sample) return Response.json({ error: `There is no sample "${name}"; known are ${samples.join(' and ')}.` }, { status: 404 });
  const folder = join(process.cwd(), '../../demo', sample);
  const names = (await readdir(folder)).filter((n) => n.endsWith('.json')).sort();
  const files = await Promise.all(names.map(async (n) => ({ name: n, content: await readFile(join(folder, n), 'utf8') })));
  return Response.json({ files });
}
