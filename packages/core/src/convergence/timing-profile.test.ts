import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { timingPage } from './timing-page';
import { plainProfile, readProfile, timingLeaves, writeProfile } from './timing-profile';

test('a profile is read back as it was written, and what is left out is plain', () => {
  expect(readProfile(writeProfile(plainProfile))).toEqual({ profile: plainProfile, problems: [] });
  expect(readProfile({ 'spf-base-ms': 4, 'pacing-ms': [1, 33] }).profile).toEqual({ ...plainProfile, spfBase: 4, pacing: [1, 33] });
  expect(readProfile({}).profile).toEqual(plainProfile);
});

test('what is no time is told with its name and what to write', () => {
  const { problems, profile } = readProfile({ 'spf-base-ms': -1, 'pacing-ms': [5, 1], 'link-delay-ms': 'short', hurry: 3 });
  expect(problems).toHaveLength(4);
  expect(problems[0]).toContain('"spf-base-ms" is no time: write a number of ms');
  expect(problems[3]).toContain('"hurry" is no time of a profile; its names are carrier-detect-ms');
  expect(profile).toEqual(plainProfile);
  expect(readProfile([1]).problems[0]).toContain('is an object of times');
});

test('what is assumed says so, and how to measure it', () => {
  expect(timingLeaves.filter((l) => l.from === 'standard').map((l) => l.leaf)).toEqual(['min-ls-interval-ms', 'min-ls-arrival-ms']);
  for (const l of timingLeaves) expect(l.measure.length).toBeGreaterThan(30);
});

test('the page about times is the one that is made from them', () => {
  expect(readFileSync(join(__dirname, '../../../../docs/timing.md'), 'utf8')).toBe(timingPage());
});
