import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { databaseOf } from './areas/held';
import { typeOf } from './areas/lsa-words';
import { parseFailure } from './failures/outage';
import { routerJson } from './reports/prediction-json';
import { readSet } from './formats/read-set';
import { predictFamilies } from './predict';
import { denseWords, readableWords } from './testing/table-words';
import { formatAddress } from './prefix/address';
import { compareRecorded, recordedCounts, recordedDocuments, recordedFolders, type RecordedCase, type RouterJson } from './testing/recorded';

const root = join(__dirname, '../recorded');

const cases = recordedFolders.flatMap((folder) =>
  readdirSync(join(root, folder, 'expected'))
    .sort()
    .map((n) => ({ folder, name: n.replace('.json', ''), file: join(root, folder, 'expected', n) })),
);

let right = 0;
let points = 0;
let held = 0;
let counted = 0;
afterAll(() => {
  process.stdout.write(
    `recorded networks: ${held} of ${cases.length} cases hold, ${right} of ${points} points right, ${counted} databases counted\n`,
  );
});

test.each(cases)('what routers recorded holds: $folder/$name', ({ folder, file }) => {
  const recorded = JSON.parse(readFileSync(file, 'utf8')) as RecordedCase;
  const { design, problems } = readSet(recordedDocuments(folder));
  expect(problems).toEqual([]);
  const fail = recorded.fail === undefined || recorded.fail === '' ? [] : [parseFailure(recorded.fail)];
  const predictions = predictFamilies(
    design,
    fail.flatMap((f) => (typeof f === 'string' ? [] : [f])),
  );
  for (const p of predictions) {
    expect(p.problems).toEqual([]);
    expect(denseWords(p).sort()).toEqual(readableWords(p).sort());
  }
  const predicted = Object.fromEntries(
    design.routers.flatMap((r, i) => (predictions[0]?.outage.routers.has(i) ? [] : [[r.name, routerJson(predictions, i) as unknown as RouterJson]])),
  );
  // What the databases hold, counted as they are shown: by area and type.
  for (const p of predictions)
    for (const s of p.adjacencies.speakers) {
      const wanted = recordedCounts(recorded.routers[s.router.name] ?? {}, p.family === 6 ? 3 : 2);
      if (!wanted || recorded.ignore?.some((g) => g.what === 'lsa')) continue;
      const counts: Record<string, number> = {};
      for (const h of databaseOf(p, s)) {
        const key = `${h.area === undefined ? 'as' : formatAddress(h.area)} ${typeOf(h.lsa)}`;
        counts[key] = (counts[key] ?? 0) + 1;
      }
      expect([s.router.name, counts]).toEqual([s.router.name, wanted]);
      counted++;
    }
  const outcome = compareRecorded(predicted, recorded);
  right += outcome.right;
  points += outcome.points;
  expect(outcome.differences).toEqual([]);
  expect(outcome.points).toBeGreaterThan(20);
  if (outcome.differences.length === 0) held++;
});
