import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { campus } from '@gentle-compass/core/testing/campus';
import { dual } from '@gentle-compass/core/testing/dual';
import { six } from '@gentle-compass/core/testing/mirror';
import { call } from './testing/call';

let folder = '';
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'gentle-compass-'));
  const lab = (n: number): [string, string] => [`lab-${n}`, `10.97.${n}.1/24`];
  const network = campus()
    .router('gull-1', '10.96.0.1', 0)
    .router('gull-2', '10.97.0.1', 20)
    .cable('gull-1', 'gull-2', '10.97.128.0', 20)
    .port('gull-2', ...lab(4), 20, { passive: true })
    .port('gull-2', ...lab(5), 20, { passive: true })
    .port('gull-2', ...lab(7), 20, { passive: true })
    .port('gull-1', ...lab(6), 0, { passive: true });
  for (const d of dual(network).documents()) writeFileSync(join(folder, d.file), JSON.stringify(d.tree, null, 1));
});
afterEach(() => rmSync(folder, { recursive: true }));

interface Summarized {
  readonly area: string;
  readonly parts: readonly string[];
  readonly choices: readonly {
    readonly summaries: readonly string[];
    readonly outside: readonly string[];
    readonly foreign: readonly { readonly prefix: string; readonly area: string | null }[];
    readonly 'claimed-addresses': number | string;
    readonly 'needed-addresses': number | string;
  }[];
}

test('summarize --json: parts, the best choice, then the best of each other number', async () => {
  const { code, out } = await call('summarize', folder, '--area', '20', '--at-most', '2', '--leave-out', '10.97.128.0/24', '--json');
  expect(code).toBe(0);
  expect(JSON.parse(out)).toEqual({
    area: '0.0.0.20',
    parts: ['10.97.0.1/32', '10.97.4.0/24', '10.97.5.0/24', '10.97.7.0/24'],
    choices: [
      {
        summaries: ['10.97.0.1/32', '10.97.4.0/23'],
        outside: ['10.97.7.0/24'],
        foreign: [],
        'claimed-addresses': 513,
        'needed-addresses': 513,
      },
      { summaries: ['10.97.4.0/23'], outside: ['10.97.0.1/32', '10.97.7.0/24'], foreign: [], 'claimed-addresses': 512, 'needed-addresses': 512 },
    ],
  });
});

test('foreign prefixes that are allowed are named with their area; what is reserved is a part', async () => {
  const { out } = await call(
    ...['summarize', folder, '--area', '0.0.0.20', '--at-most', '1', '--allow-foreign', '1', '--leave-out', '10.97.128.0/24'],
    ...['--leave-out', '10.97.0.0/24', '--reserve', '10.97.12.0/22', '--json'],
  );
  const { parts, choices } = JSON.parse(out) as Summarized;
  expect(parts).toEqual(['10.97.4.0/24', '10.97.5.0/24', '10.97.7.0/24', '10.97.12.0/22']);
  expect(choices[0]).toMatchObject({ summaries: ['10.97.0.0/20'], foreign: [{ prefix: '10.97.6.0/24', area: '0.0.0.0' }], outside: [] });
});

test('IPv6 where it is asked for, with counts of addresses as decimal strings', async () => {
  const { out } = await call(
    'summarize',
    folder,
    '--area',
    '20',
    '--at-most',
    '1',
    '--family',
    '6',
    '--leave-out',
    `${six('10.97.128.0')}/120`,
    '--json',
  );
  const [best] = (JSON.parse(out) as Summarized).choices;
  expect(best?.summaries).toEqual([`${six('10.97.4.0')}/119`]);
  expect([best?.['claimed-addresses'], best?.['needed-addresses']]).toEqual(['512', '512']);
});

test('in words', async () => {
  const { code, out } = await call('summarize', folder, '--area', '20', '--at-most', '2', '--leave-out', '10.97.128.0/24');
  expect(code).toBe(0);
  expect(out).toBe(
    [
      'Area 0.0.0.20 has 4 prefixes to summarise.',
      'Best: 10.97.0.1/32, 10.97.4.0/23',
      '  1 prefix outside, 100% of it in use',
      '  outside: 10.97.7.0/24',
      '1 summary: 10.97.4.0/23',
      '  2 prefixes outside, 100% of it in use',
      '  outside: 10.97.0.1/32, 10.97.7.0/24',
      '',
    ].join('\n'),
  );
});

test.each([
  [['--area', '30'], 'there is no area 0.0.0.30; there are 0.0.0.0, 0.0.0.20.'],
  [['--area', 'north'], '"north" is not an area id such as 0.0.0.10 or 10.'],
  [['--area', '20', '--at-most', '0'], '--at-most takes a number from 1 up, not "0".'],
  [['--area', '20', '--allow-foreign', 'two'], '--allow-foreign takes a number from 0 up, not "two".'],
  [['--area', '20', '--reserve', '10.97.0.1'], '"10.97.0.1" is no prefix such as 10.96.0.0/16 or 2001:db8:40::/48.'],
  [['--area', '20', '--reserve', '2001:db8::/64'], '2001:db8::/64 cannot be reserved among prefixes of IPv4; write --family 6 for it.'],
  [['--area', '20', '--family', '5'], '--family is 4 or 6, not "5".'],
])('a call that cannot be: %j', async (args, message) => {
  const { code, err } = await call('summarize', folder, '--at-most', '2', ...args);
  expect([code, err]).toEqual([2, `gentle-compass: ${message}\n`]);
});
