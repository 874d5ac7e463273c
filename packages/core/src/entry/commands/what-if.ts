import { setMember, type Json } from '../../design/draft';
import { addFailure, noOutage, parseFailure } from '../../failures/outage';
import { formatAddress, isSix } from '../../prefix/address';
import { riskGroupsOf } from '../cabling';
import { Refusal, type Site } from '../site';
import type { Reader } from '../words';
import type { CommandKind } from './command';

const offWord = { text: 'off', help: 'it is given up' } as const;

/** Failures up to the end of the line, or up to a word that ends them. */
function failuresUpTo(r: Reader, end?: string): string[] {
  const out: string[] = [];
  do out.push(r.failure());
  while (!r.done && r.peek() !== end);
  return out;
}

/** What is wrong with a failure in this design, in words. */
function faultOf(site: Site, word: string): string | undefined {
  const spec = parseFailure(word);
  if (typeof spec === 'string') return spec;
  // Who leads is found out when it fails: here it is enough that the interface is there.
  const plain = spec.kind === 'leader' ? ({ ...spec, kind: 'interface' } as const) : spec;
  return addFailure(site.whole, site.segments, noOutage, plain).problems[0];
}

/** Puts an entry of a list of the settings in the place of the one with its name, or behind all. */
function keep(settings: Json, list: string, isIt: (entry: Json) => boolean, entry: Json | undefined): boolean {
  const all = Array.isArray(settings[list]) ? (settings[list] as Json[]) : [];
  const at = all.findIndex(isIt);
  if (entry && at >= 0) all[at] = entry;
  else if (entry) all.push(entry);
  else if (at >= 0) all.splice(at, 1);
  setMember(settings, list, all.length > 0 ? all : undefined);
  return at >= 0;
}

/** `fail link:beacon-1/to-kelp-1 router:kelp-4`: things are taken down, the design stays what it is. */
export const fail: CommandKind = {
  verb: 'fail',
  help: 'take things down, to see what is lost; the design stays as it is',
  form: 'fail FAILURE ... | fail nothing',
  example: 'fail link:beacon-1/to-kelp-1 router:kelp-4',
  read(r) {
    const none = r.peek() === 'nothing';
    if (none) r.word('nothing', 'all comes back');
    const down = none ? [] : failuresUpTo(r);
    r.end();
    return (site) => {
      const fault = down.flatMap((f) => faultOf(site, f) ?? [])[0];
      if (fault !== undefined) throw new Refusal(fault);
      site.down = down;
      return none ? 'All comes back' : `Down: ${down.join(', then ')}`;
    };
  },
};

/** `scenario "the west duct" fails group:duct router:kelp-1 note "works in May"`: failures under one name. */
export const scenario: CommandKind = {
  verb: 'scenario',
  help: 'keep failures under a name, to try them again on every later version',
  form: 'scenario "NAME" fails FAILURE ... [note "TEXT"] | scenario "NAME" off',
  example: 'scenario "the west duct" fails link:beacon-1/to-kelp-1 router:kelp-4',
  read(r) {
    const name = r.text('name of the scenario');
    const word = r.oneOf([{ text: 'fails', help: 'what goes down, in this order' }, offWord] as const, '"fails" or "off"');
    const fail = word === 'fails' ? failuresUpTo(r, 'note') : [];
    let note: string | undefined;
    r.options(word === 'fails' ? { note: { help: 'why it is kept', read: () => (note = r.text('note')) } } : {});
    return (site) => {
      const fault = fail.flatMap((f) => faultOf(site, f) ?? [])[0];
      if (fault !== undefined) throw new Refusal(fault);
      const entry = word === 'off' ? undefined : { name, fail, ...(note === undefined ? {} : { note }) };
      const was = keep(site.draft.settings(), 'scenario', (s) => s.name === name, entry);
      if (!entry && !was) throw new Refusal(`There is no scenario of the name "${name}".`);
      return entry ? `Scenario “${name}”: ${fail.join(', ')}` : `Scenario “${name}” is given up`;
    };
  },
};

/** `demand labs to 10.97.12.20 mbps 250`: traffic that the design is to carry. */
export const demand: CommandKind = {
  verb: 'demand',
  help: 'state how much traffic goes from one end to another',
  form: 'demand FROM to TO mbps NUMBER | demand FROM to TO off',
  example: 'demand kelp-3 to beacon-1 mbps 400',
  read(r) {
    const from = r.wayEnd('the source');
    r.word('to', 'where it goes');
    const to = r.wayEnd('the destination');
    if (typeof from === 'number' && typeof to === 'number' && isSix(from) !== isSix(to))
      throw r.before('The two addresses are of two families, which no packet joins.');
    const word = r.oneOf([{ text: 'mbps', help: 'how much, Mbit/s' }, offWord] as const, '"mbps" or "off"');
    const mbps = word === 'mbps' ? r.decimal('Mbit/s', 1_000_000_000) : undefined;
    r.end();
    const text = (e: number | string): string => (typeof e === 'number' ? formatAddress(e) : e);
    const [a, b] = [text(from), text(to)];
    return (site) => {
      const entry = mbps === undefined ? undefined : { from: a, to: b, mbps };
      const was = keep(site.draft.settings(), 'demand', (d) => d.from === a && d.to === b, entry);
      if (!entry && !was) throw new Refusal(`Nothing is said of traffic from ${a} to ${b}.`);
      return entry
        ? `${a} sends ${mbps ?? 0} Mbit/s to ${b}${was ? ', in the place of what it was' : ''}`
        : `Nothing more is said of traffic from ${a} to ${b}`;
    };
  },
};

/** `shared-risk "west duct" of link:kelp-1/fibre link:kelp-2/fibre`: what fails together. */
export const sharedRisk: CommandKind = {
  verb: 'shared-risk',
  help: 'say what fails together: one duct, one power feed, one line card',
  form: 'shared-risk "NAME" of FAILURE ... | shared-risk "NAME" off',
  example: 'shared-risk "west duct" of link:beacon-1/to-kelp-1 link:beacon-2/to-kelp-2',
  read(r) {
    const name = r.text('name of the shared risk');
    const word = r.oneOf([{ text: 'of', help: 'links, interfaces, LANs and routers' }, offWord] as const, '"of" or "off"');
    const members = word === 'of' ? failuresUpTo(r) : [];
    r.end();
    return (site) => {
      for (const m of members) {
        const spec = parseFailure(m);
        const kind = typeof spec === 'string' ? undefined : spec.kind;
        if (kind === 'group' || kind === 'leader')
          throw new Refusal(`${m} cannot be part of a shared risk: name links, interfaces, LANs and routers.`);
        const fault = faultOf(site, m);
        if (fault !== undefined) throw new Refusal(fault);
      }
      const lists = riskGroupsOf(site);
      const holder = lists.find((l) => l.some((g) => g.name === name));
      const at = holder?.findIndex((g) => g.name === name) ?? -1;
      if (word === 'off') {
        if (!holder) throw new Refusal(`There is no shared risk of the name "${name}".`);
        const used = [
          ...site.whole.settings.scenarios.filter((s) => s.fail.includes(`group:${name}`)).map((s) => `the scenario “${s.name}”`),
          ...site.whole.settings.expectations.filter((e) => e.under === `group:${name}`).map((e) => `“${e.name}”`),
        ];
        if (used[0] !== undefined) throw new Refusal(`${used[0]} speaks of the shared risk "${name}": change that first.`);
        holder.splice(at, 1);
        return `Shared risk “${name}” is given up`;
      }
      const entry: Json = { name, members };
      if (holder) holder[at] = entry;
      else lists[0]?.push(entry);
      return `Shared risk “${name}”: ${members.join(', ')}`;
    };
  },
};
