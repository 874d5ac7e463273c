import { execFileSync } from 'node:child_process';
import { chmodSync, mkdirSync, mkdtempSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { collect } from './collect';
import { goodPair, hostileSet } from '@gentle-compass/core/testing/hostile-set';
import { printable } from './say';
import { call } from './testing/call';

let folder = '';
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'gentle-compass-'));
});
afterEach(() => rmSync(folder, { recursive: true }));
const named = (hostname: string): string => JSON.stringify({ 'ietf-system:system': { hostname } });
const put = (name: string, content = named(name.replace(/\W/g, '-'))): string => {
  writeFileSync(join(folder, name), content);
  return join(folder, name);
};
const routers = (out: string): string[] => Object.keys((JSON.parse(out) as { routers: object }).routers).sort();

describe('a folder with something that cannot be read: it is named, everything beside it is read', () => {
  test.each<[string, () => void, RegExp]>([
    ['a link to nothing', () => symlinkSync('nowhere.json', join(folder, 'broken.json')), /broken\.json.*There is no such file/],
    [
      'links in a circle',
      () => {
        symlinkSync('b.json', join(folder, 'a.json'));
        symlinkSync('a.json', join(folder, 'b.json'));
      },
      /a\.json.*links here lead in a circle/i,
    ],
    ['a link to itself', () => symlinkSync('self', join(folder, 'self')), /self.*links here lead in a circle/i],
    ['a pipe', () => execFileSync('mkfifo', [join(folder, 'pipe.json')]), /pipe\.json.*no file but a pipe/],
    ['a folder that is named like a document', () => mkdirSync(join(folder, 'folder.json')), /^$/],
    ['a link that leads out', () => symlinkSync('/etc/hostname', join(folder, 'out.json')), /out\.json.*leads out of the folder/],
  ])('%s', async (_, make, message) => {
    put('good.json');
    make();
    const { code, out, err } = await call('predict', folder, '--json');
    expect([code, routers(out)]).toEqual([0, ['good-json']]);
    expect(err.trim()).toMatch(message);
  });

  test('a file and a folder that may not be read', () => {
    put('good.json');
    chmodSync(put('closed.json'), 0);
    mkdirSync(join(folder, 'shut'));
    chmodSync(join(folder, 'shut'), 0);
    try {
      const { files, problems } = collect([folder]);
      // Whoever may read everything reads that as well.
      if (process.getuid?.() === 0) expect(files).toHaveLength(2);
      else
        expect([files.length, problems.map((p) => p.message)]).toEqual([1, ['This may not be read or written.', 'This may not be read or written.']]);
    } finally {
      chmodSync(join(folder, 'shut'), 0o700);
    }
  });

  test('a path that is not there, beside one that is', async () => {
    const { code, out, err } = await call('predict', put('good.json'), join(folder, 'nobody.json'), '--json');
    expect([code, routers(out)]).toEqual([0, ['good-json']]);
    expect(err).toMatch(/nobody\.json: There is no such file or folder/);
  });
});

describe('nothing that a terminal would obey', () => {
  const evil = '\u001b]0;owned\u0007\u009b31m\u007f';

  test('controls are written out, line ends and tabs stay', () => {
    expect(printable('a\tb\r\nc\n')).toBe('a\tb\r\nc\n');
    expect(printable(evil)).toBe('\\u001b]0;owned\\u0007\\u009b31m\\u007f');
    expect(printable('over\rwritten')).toBe('over\\u000dwritten');
    expect(JSON.parse(printable(JSON.stringify(`x\u009by\u007f`)))).toBe('x\u009by\u007f');
  });

  test.each([
    ['predict', []],
    ['predict', ['--json']],
    ['check', []],
    ['check', ['--format', 'json']],
    ['check', ['--format', 'sarif']],
    ['check', ['--format', 'junit']],
    ['table', ['--of', 'routers']],
    ['worksheet', []],
  ] as const)('%s %p: a file name, a member and a value with controls in them', async (command, options) => {
    put(`bad${evil}.json`, '{ "x": ');
    put(
      'odd.json',
      JSON.stringify({
        'ietf-system:system': { hostname: 'good' },
        [`note${evil}`]: evil,
        'ietf-interfaces:interfaces': { interface: [{ name: 7, [evil]: 1 }] },
      }),
    );
    const { out, err } = await call(command, folder, ...options);
    // eslint-disable-next-line no-control-regex -- that is the question
    expect(`${out}${err}`).not.toMatch(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f-\u009f]/);
    expect(err).toContain('\\u001b');
  });

  test('an option, a command and a path that the caller mistyped', async () => {
    for (const args of [
      [`pre${evil}`],
      ['predict', folder, `--${evil}`],
      ['predict', join(folder, evil)],
      ['predict', put('a.json'), '--fail', evil],
    ]) {
      const { code, out, err } = await call(...args);
      // eslint-disable-next-line no-control-regex -- that is the question
      expect(`${out}${err}`).not.toMatch(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f-\u009f]/);
      expect([0, 2]).toContain(code);
    }
  });
});

describe('mistakes of the caller end with 2 and a sentence, never with a stack', () => {
  test.each<[string, () => string[], RegExp]>([
    ['a folder as the order of start', () => ['predict', put('a.json'), '--start-order', folder], /is a folder, and a file is wanted/],
    ['an order of start that is not there', () => ['predict', put('a.json'), '--start-order', join(folder, 'none')], /no such file or folder/],
    ['a file as the folder for worksheets', () => ['worksheet', put('a.json'), '--out', put('taken.md', 'x')], /exists already, and is no folder/],
    [
      'a file as the folder for documents',
      () => ['generate', '--routers', '8', '--areas', '1', '--out', put('taken', 'x')],
      /a part of this path is a file|exists already/,
    ],
    ['a folder below a file', () => ['worksheet', put('a.json'), '--out', join(put('taken.md', 'x'), 'in')], /a part of this path is a file/],
    ['a file that is none', () => ['predict', join(put('a.json'), 'in')], /a part of this path is a file/i],
    ['a name that is too long', () => ['predict', put('a.json'), '--start-order', join(folder, 'x'.repeat(400))], /too long/],
    ['expectations that are not there', () => ['check', put('a.json'), '--expect', join(folder, 'none.json')], /no such file or folder/i],
  ])('%s', async (_, args, message) => {
    const { code, err } = await call(...args());
    expect(err).toMatch(message);
    expect(err).not.toMatch(/\bat .*\.ts|fault of ours/);
    expect(code).toBe(2);
  });
});

describe('the hostile set, as files in a folder beside a good pair', () => {
  interface Answer {
    readonly routers: Record<string, { readonly rib: readonly { readonly prefix: string; readonly source: string }[] }>;
    readonly adjacencies: readonly { readonly a: { readonly router: string; readonly state: string }; readonly b: { readonly state: string } }[];
  }
  test.each(hostileSet)('%s: named, and the good ones are right', async (_, name, content, must) => {
    for (const f of goodPair()) writeFileSync(join(folder, f.name), f.content);
    writeFileSync(join(folder, name), content);
    const { code, out, err } = await call('predict', folder, '--json');
    expect(err).not.toMatch(/\bat .*\.ts|fault of ours/);
    expect(code).toBe(0);
    if (must === 'told') expect(err).toMatch(/bad\.|a\.json/);
    const { routers } = JSON.parse(out) as Answer;
    expect(routers['good-1']?.rib.map((r) => `${r.prefix} ${r.source}`)).toContain('10.96.0.2/32 ospf');
    expect(routers['good-2']?.rib.map((r) => `${r.prefix} ${r.source}`)).toContain('10.96.0.1/32 ospf');
  });
});
