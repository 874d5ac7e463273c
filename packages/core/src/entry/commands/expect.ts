import { circumstances, failureKinds } from '../../design/settings';
import { setMember, type Json } from '../../design/draft';
import { neighborStates, routeTypes } from '../../design/terms';
import { formatAddress, formatPrefix, type Address } from '../../prefix/address';
import { areaKinds } from '../parameters';
import { Refusal } from '../site';
import { areaWord, type Reader } from '../words';
import type { CommandKind } from './command';

type Leaves = Record<string, string | number | boolean | string[]>;
type Options = Parameters<Reader['options']>[0];

/** A kind of expectation: what it needs, and what may follow. */
interface Kind {
  readonly text: string;
  readonly help: string;
  read(r: Reader, out: Leaves): Options;
}

const ends = (r: Reader, out: Leaves): void => {
  const text = (e: Address | string): string => (typeof e === 'number' ? formatAddress(e) : e);
  out['from'] = text(r.wayEnd('the source'));
  out['to'] = text(r.wayEnd('the destination'));
};
const asWords = <T extends string>(list: readonly T[], help: string): { readonly text: T; readonly help: string }[] =>
  list.map((text) => ({ text, help }));
const attachment = (r: Reader): string => {
  const { router, iface } = r.place();
  return `${router}/${iface}`;
};

const kinds: readonly Kind[] = [
  {
    text: 'reach',
    help: 'packets arrive, and the answers come back',
    read: (r, out) => {
      ends(r, out);
      return {
        'one-way': { help: 'the answer does not matter', read: () => (out['both-ways'] = false) },
        'leaves-by': { help: 'every way leaves the design there', read: () => (out['leaves-by'] = attachment(r)) },
        within: { help: 'longest time without service, ms', read: () => (out['within-ms'] = r.number('milliseconds', 0, 3_600_000)) },
      };
    },
  },
  {
    text: 'no-reach',
    help: 'packets do not arrive',
    read: (r, out) => {
      ends(r, out);
      return {};
    },
  },
  {
    text: 'path',
    help: 'packets go a certain way',
    read: (r, out) => {
      ends(r, out);
      return {
        through: { help: 'every way leads over this router', read: () => (out['through'] = [r.router()]) },
        avoids: { help: 'no way leads over this router', read: () => (out['avoids'] = [r.router()]) },
        hops: { help: 'routers after the first, at most', read: () => (out['at-most-hops'] = r.number('hops', 0, 255)) },
        cost: { help: 'OSPF cost at the first router, at most', read: () => (out['at-most-cost'] = r.number('cost', 0, 16_777_215)) },
        symmetric: { help: 'the answer takes the same routers', read: () => (out['symmetric'] = true) },
      };
    },
  },
  {
    text: 'session',
    help: 'the loopbacks of two routers reach each other',
    read: (r, out) => {
      out['from'] = r.router('the first router');
      out['to'] = r.router('the second router');
      return { within: { help: 'longest time without service, ms', read: () => (out['within-ms'] = r.number('milliseconds', 0, 3_600_000)) } };
    },
  },
  {
    text: 'route',
    help: 'a router has a route, or has none',
    read: (r, out) => {
      out['router'] = r.router();
      out['prefix'] = formatPrefix(r.prefix('the prefix'));
      return {
        via: { help: 'the router that it goes to next', read: () => (out['via'] = r.router()) },
        type: { help: 'the kind of route', read: () => (out['route-type'] = r.oneOf(asWords(routeTypes, 'kind of route'), 'a kind of route')) },
        absent: { help: 'there must be no such route', read: () => (out['present'] = false) },
      };
    },
  },
  {
    text: 'table',
    help: 'a router’s table stays small',
    read: (r, out) => {
      out['router'] = r.router();
      out['at-most'] = r.number('routes at most', 0, 10_000_000);
      return {};
    },
  },
  {
    text: 'leader',
    help: 'a router leads a segment',
    read: (r, out) => {
      const { router, iface } = r.place();
      Object.assign(out, { router, interface: iface });
      return { backup: { help: 'as backup designated router', read: () => (out['role'] = 'bdr') } };
    },
  },
  {
    text: 'neighbours',
    help: 'a router has so many neighbours in a state',
    read: (r, out) => {
      out['router'] = r.router();
      out['count'] = r.number('neighbours', 0, 100_000);
      return {
        state: {
          help: 'the state that they rest in, full when not said',
          read: () => (out['state'] = r.oneOf(asWords(neighborStates, 'state'), 'a state')),
        },
      };
    },
  },
  {
    text: 'summary',
    help: 'a summary is seen everywhere, its parts nowhere',
    read: (r, out) => {
      out['prefix'] = formatPrefix(r.prefix('the summary'));
      return {};
    },
  },
  {
    text: 'no-external',
    help: 'no external advertisement comes into an area',
    read: (r, out) => {
      out['area'] = formatAddress(r.area());
      return {};
    },
  },
  {
    text: 'area',
    help: 'an area is of a type in all its routers',
    read: (r, out) => {
      out['area'] = formatAddress(r.area());
      out['type'] = r.oneOf(
        areaKinds.map((text) => ({ text, help: 'type of area' })),
        'a type of area',
      );
      return {};
    },
  },
  {
    text: 'advertisements',
    help: 'an area holds few advertisements of a type',
    read: (r, out) => {
      out['area'] = formatAddress(r.area());
      out['type'] = r.number('type', 1, 7);
      out['at-most'] = r.number('at most', 0, 1_000_000);
      return {};
    },
  },
];

/** Kinds that may name routers and areas, not addresses: they are about both families. */
const byName = new Set(['reach', 'no-reach', 'path', 'session', 'table', 'leader', 'neighbours', 'no-external', 'area', 'advertisements']);
const familyChoices = [
  { text: '4', help: 'IPv4 and OSPFv2' },
  { text: '6', help: 'IPv6 and OSPFv3' },
] as const;

/** When an expectation is to hold: a circumstance, or one failure as it is typed elsewhere. */
function readUnder(r: Reader): string {
  const word = r.text('what it must outlive');
  if (circumstances.some((c) => c === word) || failureKinds.some((k) => word.startsWith(`${k}:`) && word.length > k.length + 1)) return word;
  throw r.before(
    `"${word}" is no circumstance: write ${circumstances.join(', ')}, or one failure such as link:kelp-1/fibre.`,
    circumstances.map((text) => ({ text, help: text === 'normal' ? 'the network as it is' : 'every single one' })),
  );
}

/** `expect "the slipway reaches the archive" reach 10.97.66.50 10.97.12.20 under any-link`: what the network is for. */
export const expect: CommandKind = {
  verb: 'expect',
  help: 'state what must hold, or cease to',
  form: 'expect "NAME" KIND ... [family 4|6] [under normal|any-link|any-router|any-group|FAILURE] | expect "NAME" off',
  example: 'expect "two exits" session kelp-1 harbour-exit under any-link',
  read(r) {
    const name = r.text('name of the expectation');
    const text = r.oneOf([...kinds, { text: 'off', help: 'it is expected no longer' }], 'a kind of expectation');
    const leaves: Leaves = { name, kind: text };
    const options = kinds.find((k) => k.text === text)?.read(r, leaves);
    const family = byName.has(text)
      ? {
          family: {
            help: 'only in this one; in each that its routers run when not said',
            read: () => (leaves['family'] = Number(r.oneOf(familyChoices, '4 or 6'))),
          },
        }
      : {};
    r.options(
      options ? { ...options, ...family, under: { help: 'failures that it must outlive', read: () => (leaves['under'] = readUnder(r)) } } : {},
    );
    return (site) => {
      const settings = site.draft.settings();
      const list = Array.isArray(settings.expectation) ? (settings.expectation as Json[]) : [];
      const at = list.findIndex((e) => e.name === name);
      if (!options) {
        if (at < 0) throw new Refusal(`Nothing of the name "${name}" is expected.`);
        list.splice(at, 1);
        setMember(settings, 'expectation', list.length > 0 ? list : undefined);
        return `“${name}” is expected no longer`;
      }
      if (at >= 0) list[at] = leaves;
      else list.push(leaves);
      settings.expectation = list;
      return `“${name}” is expected${at >= 0 ? ' in the place of what it was' : ''}`;
    };
  },
};

/** `group "services" of 10.97.12.20 10.97.12.0/24 kelp-* area 20`: addresses under one name. */
export const group: CommandKind = {
  verb: 'group',
  help: 'give addresses, subnets, routers or areas one name for expectations and the matrix',
  form: 'group "NAME" of ADDRESS|PREFIX|ROUTER|NAME*|area AREA ... | group "NAME" off',
  example: 'group "services" of 10.97.12.20 10.97.13.0/24',
  read(r) {
    const name = r.text('name of the group');
    const word = r.oneOf(
      [
        { text: 'of', help: 'who belongs to it' },
        { text: 'off', help: 'the group is given up' },
      ] as const,
      '"of" or "off"',
    );
    const members: string[] = [];
    if (word === 'of') {
      do members.push(r.maybe('area') ? `area ${areaWord(formatAddress(r.area()))}` : r.member());
      while (!r.done);
    }
    r.end();
    return (site) => {
      const settings = site.draft.settings();
      const list = Array.isArray(settings.group) ? (settings.group as Json[]) : [];
      const at = list.findIndex((g) => g.name === name);
      if (word === 'off') {
        if (at < 0) throw new Refusal(`There is no group of the name "${name}".`);
        const used = site.design.settings.expectations.filter((e) => 'to' in e && (e.from === name || e.to === name));
        if (used[0]) throw new Refusal(`“${used[0].name}” speaks of the group "${name}": change or end that expectation first.`);
        list.splice(at, 1);
        setMember(settings, 'group', list.length > 0 ? list : undefined);
        return `Group “${name}” is given up`;
      }
      if (site.design.routers.some((x) => x.name === name)) throw new Refusal(`"${name}" is a router: give the group another name.`);
      const entry = { name, members };
      if (at >= 0) list[at] = entry;
      else list.push(entry);
      settings.group = list;
      return `Group “${name}” of ${members.join(', ')}`;
    };
  },
};
