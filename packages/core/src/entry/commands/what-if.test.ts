import { applyEdits, invertEdit } from '../../design/edit';
import type { SourceDocument } from '../../documents/documents';
import { designFrom } from '../../formats/read-set';
import { formatAddress } from '../../prefix/address';
import { predict } from '../../predict';
import { sample } from '../../testing/sample';
import { readEntry } from '../entry';
import { readLines } from '../lines';

const campus = sample('saltmarsh-point').documents;

function done(documents: readonly SourceDocument[], line: string): SourceDocument[] {
  const { plan, error } = readEntry(line, documents);
  if (!plan) throw new Error(`${line}: ${error?.message ?? ''}`);
  const after = applyEdits(documents, plan.edits);
  // Undone it is what it was.
  expect(JSON.stringify(applyEdits(after, [...plan.edits].reverse().map(invertEdit)))).toBe(JSON.stringify(documents));
  return after;
}
const errorOf = (line: string, documents: readonly SourceDocument[] = campus): string => readEntry(line, documents).error?.message ?? 'no error';

test('failures are kept under a name, stated anew and given up', () => {
  const line = 'scenario "the west duct" fails link:beacon-1/to-kelp-1 router:kelp-4 note "works in May"';
  const kept = done(campus, line);
  const read = designFrom(kept);
  expect(read.problems).toEqual(designFrom(campus).problems);
  expect(read.design.settings.scenarios).toMatchObject([
    { name: 'the west duct', fail: ['link:beacon-1/to-kelp-1', 'router:kelp-4'], note: 'works in May' },
  ]);
  const anew = done(kept, 'scenario "the west duct" fails leader:drydock-1/slipway');
  expect(designFrom(anew).design.settings.scenarios.map((s) => s.fail)).toEqual([['leader:drydock-1/slipway']]);
  expect(designFrom(done(anew, 'scenario "the west duct" off')).design.settings.scenarios).toEqual([]);
  // A new name of a router goes along.
  const { plan } = readEntry('rename kelp-4 as kelp-9', kept);
  expect(designFrom(applyEdits(kept, plan?.edits ?? [])).design.settings.scenarios[0]?.fail[1]).toBe('router:kelp-9');
});

test('traffic is stated from end to end, decimals and all', () => {
  const one = done(campus, 'demand kelp-3 to 10.97.66.50 mbps 40.5');
  const two = done(done(one, 'demand kelp-3 to beacon-1 mbps 400'), 'demand kelp-3 to 10.97.66.50 mbps 7');
  const words = designFrom(two).design.settings.demands.map((d) => [d.from, typeof d.to === 'number' ? formatAddress(d.to) : d.to, d.mbps]);
  expect(words).toEqual([
    ['kelp-3', '10.97.66.50', 7],
    ['kelp-3', 'beacon-1', 400],
  ]);
  expect(designFrom(done(two, 'demand kelp-3 to beacon-1 off')).design.settings.demands).toHaveLength(1);
});

test('what shares a risk fails together', () => {
  const risky = done(campus, 'shared-risk "west duct" of link:beacon-1/to-kelp-1 link:beacon-2/to-kelp-2');
  const { design } = designFrom(risky);
  expect(design.topology.riskGroups).toContainEqual({ name: 'west duct', members: ['link:beacon-1/to-kelp-1', 'link:beacon-2/to-kelp-2'] });
  const apart = predict(design, [
    { kind: 'link', router: 'beacon-1', iface: 'to-kelp-1' },
    { kind: 'link', router: 'beacon-2', iface: 'to-kelp-2' },
  ]);
  const together = predict(design, [{ kind: 'group', name: 'west duct' }]);
  expect(together.outage).toEqual(apart.outage);
  const more = done(risky, 'shared-risk "west duct" of router:kelp-4');
  expect(designFrom(more).design.topology.riskGroups.filter((g) => g.name === 'west duct')).toEqual([
    { name: 'west duct', members: ['router:kelp-4'] },
  ]);
  expect(designFrom(done(more, 'shared-risk "west duct" off')).design.topology.riskGroups.some((g) => g.name === 'west duct')).toBe(false);
});

test('what cannot be is refused with a reason', () => {
  expect(errorOf('scenario "x" fails cable:kelp-1')).toMatch(/"cable:kelp-1" is no failure: write link:kelp-1\/fibre/);
  expect(errorOf('scenario "x" fails router:nobody')).toBe('There is no router "nobody".');
  expect(errorOf('scenario "x" fails link:kelp-1/nothing')).toBe('Router kelp-1 has no interface "nothing".');
  expect(errorOf('scenario "x" off')).toBe('There is no scenario of the name "x".');
  expect(errorOf('demand kelp-3 to nobody mbps 4')).toMatch(/not "nobody"/);
  expect(errorOf('demand 10.96.0.1 to 2001:db8:40::1 mbps 4')).toMatch(/IPv6/);
  expect(errorOf('demand kelp-3 to kelp-4 mbps -1')).toMatch(/Mbit\/s/);
  expect(errorOf('shared-risk "x" of leader:drydock-1/slipway')).toMatch(/cannot be part of a shared risk/);
  const used = done(done(campus, 'shared-risk "duct" of router:kelp-4'), 'scenario "y" fails group:duct');
  expect(errorOf('shared-risk "duct" off', used)).toBe('the scenario “y” speaks of the shared risk "duct": change that first.');
});

test('what fails is taken down and nothing of the design changes; what is not there is told', () => {
  const documents = campus;
  expect(readEntry('fail link:beacon-1/to-kelp-1 router:kelp-4', documents).plan).toEqual({
    title: 'Down: link:beacon-1/to-kelp-1, then router:kelp-4',
    notes: [],
    edits: [],
    down: ['link:beacon-1/to-kelp-1', 'router:kelp-4'],
  });
  expect(readEntry('fail nothing', documents).plan).toMatchObject({ title: 'All comes back', down: [] });
  expect(readEntry('fail router:kelp-9', documents).error?.message).toBe('There is no router "kelp-9".');
  expect(readEntry('fail', documents).error).toMatchObject({ unfinished: true });
  expect(readEntry('fail ', documents).suggestions.map((s) => s.text)).toContain('router:');
  // Among several lines that are one step it has no place.
  expect(readLines(['fail router:kelp-4'], documents)).toMatchObject({ edits: [], faults: [{ n: 0, line: 'fail router:kelp-4' }] });
});
