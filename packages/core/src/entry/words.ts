import { areaId, prefix6 } from '../documents/leaf-types';
import type { Family } from '../design/family';
import { failureKinds, nameFits } from '../design/settings';
import type { Ipv6Prefix } from '../prefix/prefix-book';
import { address6, formatAddress, formatPrefix, isSix, parseAddress, type Address } from '../prefix/address';
import { parseTypedPrefix, type TypedPrefix } from '../prefix/ipv4';

/** A word of a line, with its place: from `at` to before `end`. */
export interface Word {
  readonly text: string;
  readonly at: number;
  readonly end: number;
}

/** Words of a line; a text in double quotes is one word. */
export function wordsOf(line: string): Word[] {
  const out: Word[] = [];
  for (const m of line.matchAll(/"([^"]*)"?|\S+/g)) out.push({ text: m[1] ?? m[0], at: m.index, end: m.index + m[0].length });
  return out;
}

/** Something that can stand at a place: a word to complete it with, or a hint of what is to be typed. */
export interface Suggestion {
  readonly text: string;
  /** What it means. */
  readonly help: string;
  /** Only a description: there is nothing to take over. */
  readonly hint?: true;
}

/** Why a line cannot be understood: what stands at a place, what was expected, and what could stand there. */
export class EntryFault extends Error {
  constructor(
    message: string,
    readonly at: number,
    readonly end: number,
    readonly expected: readonly Suggestion[],
    /** The line is right as far as it goes and only not complete. */
    readonly unfinished: boolean,
  ) {
    super(message);
  }
}

/** Names that words are completed from. */
export interface Vocabulary {
  readonly routers: readonly string[];
  readonly interfacesOf: (router: string) => readonly string[];
  /** Dotted ids. */
  readonly areas: readonly string[];
  /** Names of groups of addresses. */
  readonly groups?: readonly string[];
  /** Routers chosen on the page, for the word `selected`. */
  readonly selected?: readonly string[];
}

const failureHelp: Readonly<Record<(typeof failureKinds)[number], string>> = {
  link: 'a cable, or a router’s attachment to a LAN',
  interface: 'one end alone',
  lan: 'every attachment of a LAN',
  leader: 'whoever leads a LAN then',
  router: 'a whole router',
  group: 'what shares a risk',
};

/** Names that are near to one that is not there: the same beginning, or one slip away. */
export function nearTo(name: string, names: readonly string[]): string[] {
  const distance = (a: string, b: string): number => {
    let row = Array.from({ length: b.length + 1 }, (_, i) => i);
    for (let i = 1; i <= a.length; i++) {
      const next = [i];
      for (let j = 1; j <= b.length; j++)
        next.push(Math.min((row[j] ?? 0) + 1, (next[j - 1] ?? 0) + 1, (row[j - 1] ?? 0) + (a[i - 1] === b[j - 1] ? 0 : 1)));
      row = next;
    }
    return row[b.length] ?? 0;
  };
  return names
    .map((n) => ({ n, d: n.startsWith(name) ? 0 : distance(name.toLowerCase(), n.toLowerCase()) }))
    .filter((x) => x.d <= 2)
    .sort((a, b) => a.d - b.d || (a.n < b.n ? -1 : 1))
    .slice(0, 3)
    .map((x) => x.n);
}

/** An area as it is typed: the last part of its id where the others are 0. */
export const areaWord = (dotted: string): string => (dotted.startsWith('0.0.0.') ? dotted.slice(6) : dotted);

/** Reads a line word by word. Every reading either takes what stands there or throws an `EntryFault` that says what was expected. */
export class Reader {
  private n = 0;
  /** How prefixes with a mask were understood, to be shown. */
  readonly understood: string[] = [];

  constructor(
    readonly words: readonly Word[],
    readonly known: Vocabulary,
    private readonly length: number,
  ) {}

  /** The family of the addresses and prefixes that were typed so far. */
  family: Family | undefined;

  /** Holds on to the family of what was typed: a line is about one. */
  private ofOneFamily(a: Address): void {
    const family = isSix(a) ? 6 : 4;
    if (this.family !== undefined && this.family !== family)
      throw this.before(`This is of IPv${family}, and the line is about IPv${this.family}: write a line for each.`);
    this.family = family;
  }

  get done(): boolean {
    return this.n >= this.words.length;
  }

  peek(): string | undefined {
    return this.words[this.n]?.text;
  }

  fault(message: string, expected: readonly Suggestion[]): EntryFault {
    const w = this.words[this.n];
    return w ? new EntryFault(message, w.at, w.end, expected, false) : new EntryFault(message, this.length, this.length, expected, true);
  }

  /** The fault of a word that was taken already. */
  before(message: string, expected: readonly Suggestion[] = []): EntryFault {
    const w = this.words[this.n - 1];
    return new EntryFault(message, w?.at ?? 0, w?.end ?? 0, expected, false);
  }

  private take<T>(what: string, expected: readonly Suggestion[], read: (text: string) => T | undefined, wrong?: (text: string) => string): T {
    const w = this.words[this.n];
    if (!w) throw this.fault(`Expected ${what}.`, expected);
    const value = read(w.text);
    if (value === undefined) throw this.fault(wrong?.(w.text) ?? `Expected ${what}, not "${w.text}".`, expected);
    this.n++;
    return value;
  }

  /** One of some words. */
  oneOf<const T extends string>(choices: readonly { readonly text: T; readonly help: string }[], what: string): T {
    return this.take(
      what,
      choices,
      (t) => choices.find((c) => c.text === t)?.text,
      (t) => {
        const near = nearTo(
          t,
          choices.map((c) => c.text),
        );
        return `Expected ${what}, not "${t}"${near[0] === undefined ? '' : `; is "${near[0]}" meant?`}`;
      },
    );
  }

  /** True, and past it, when this word stands next. */
  maybe(word: string): boolean {
    if (this.peek() !== word) return false;
    this.n++;
    return true;
  }

  /** This very word. */
  word(word: string, help: string): void {
    this.oneOf([{ text: word, help }], `"${word}"`);
  }

  private routerSuggestions(): Suggestion[] {
    return this.known.routers.map((text) => ({ text, help: 'router' }));
  }

  private noRouter(t: string): string {
    const near = nearTo(t, this.known.routers);
    return `There is no router "${t}"${near.length > 0 ? `; is ${near.map((n) => `"${n}"`).join(' or ')} meant?` : '.'}`;
  }

  router(what = 'a router'): string {
    return this.take(
      what,
      this.routerSuggestions(),
      (t) => (this.known.routers.includes(t) ? t : undefined),
      (t) => this.noRouter(t),
    );
  }

  /** A name for something new. */
  newName(what: string, taken: readonly string[]): string {
    const name = this.take(`a ${what}`, [{ text: `<${what}>`, help: 'letters, digits and hyphens', hint: true }], (t) =>
      /^[A-Za-z0-9][\w.-]{0,62}$/.test(t) ? t : undefined,
    );
    if (taken.includes(name)) throw this.before(`"${name}" is there already: give another name.`);
    return name;
  }

  /** `ROUTER/NAME` of an interface that is to be made. */
  newPlace(): { router: string; iface: string } {
    return this.take(
      'ROUTER/NAME',
      this.known.routers.map((r) => ({ text: `${r}/`, help: 'router, then the name of the new interface' })),
      (t) => {
        const slash = t.indexOf('/');
        const [router, iface] = [t.slice(0, slash), t.slice(slash + 1)];
        const fits = slash > 0 && this.known.routers.includes(router) && /^[A-Za-z0-9][\w./-]{0,62}$/.test(iface);
        return fits && !this.known.interfacesOf(router).includes(iface) ? { router, iface } : undefined;
      },
      (t) => {
        const slash = t.indexOf('/');
        const [router, iface] = slash < 0 ? [t, ''] : [t.slice(0, slash), t.slice(slash + 1)];
        if (!this.known.routers.includes(router)) return this.noRouter(router);
        if (this.known.interfacesOf(router).includes(iface)) return `${router} has an interface "${iface}" already: give another name.`;
        return `Expected a name for the new interface, as in ${router}/vlan20.`;
      },
    );
  }

  /** An interface of a router that was named before. */
  interfaceOf(router: string, what: string): string {
    const names = this.known.interfacesOf(router);
    return this.take(
      what,
      names.map((text) => ({ text, help: `interface of ${router}` })),
      (t) => (names.includes(t) ? t : undefined),
      (t) => `${router} has no interface "${t}"; it has ${listed(names)}.`,
    );
  }

  /** `ROUTER/INTERFACE`. */
  place(): { router: string; iface: string } {
    const typed = this.peek()?.split('/')[0] ?? '';
    const suggestions = this.known.routers.includes(typed)
      ? this.known.interfacesOf(typed).map((i) => ({ text: `${typed}/${i}`, help: 'interface' }))
      : this.known.routers.map((r) => ({ text: `${r}/`, help: 'router, then its interface' }));
    return this.take(
      'ROUTER/INTERFACE',
      suggestions,
      (t) => {
        const slash = t.indexOf('/');
        const [router, iface] = [t.slice(0, slash), t.slice(slash + 1)];
        return slash > 0 && this.known.routers.includes(router) && this.known.interfacesOf(router).includes(iface) ? { router, iface } : undefined;
      },
      (t) => {
        const slash = t.indexOf('/');
        const router = slash > 0 ? t.slice(0, slash) : t;
        if (!this.known.routers.includes(router)) return this.noRouter(router);
        if (slash < 0) return `Expected ROUTER/INTERFACE; ${router} has ${listed(this.known.interfacesOf(router))}.`;
        return `${router} has no interface "${t.slice(slash + 1)}"; it has ${listed(this.known.interfacesOf(router))}.`;
      },
    );
  }

  area(what = 'an area'): number {
    return this.take(
      what,
      this.known.areas.map((a) => ({ text: areaWord(a), help: a === '0.0.0.0' ? 'the backbone' : `area ${a}` })),
      (t) => areaId.read(t),
      (t) => `Expected an area such as 10 or 0.0.0.10, not "${t}".`,
    );
  }

  number(what: string, from: number, to: number): number {
    return this.take(
      `${what}, ${from} to ${to.toLocaleString('en-GB')}`,
      [{ text: `<${what}>`, help: `${from} to ${to.toLocaleString('en-GB')}`, hint: true }],
      (t) => (/^\d{1,10}$/.test(t) && Number(t) >= from && Number(t) <= to ? Number(t) : undefined),
    );
  }

  /** A number that may have decimals, from 0. */
  decimal(what: string, to: number): number {
    return this.take(
      `${what}, 0 to ${to.toLocaleString('en-GB')}`,
      [{ text: `<${what}>`, help: `0 to ${to.toLocaleString('en-GB')}`, hint: true }],
      (t) => (/^\d{1,10}(\.\d{1,6})?$/.test(t) && Number(t) <= to ? Number(t) : undefined),
    );
  }

  /** One failure, as it is typed everywhere: its kind, then what fails. */
  failure(): string {
    const typed = this.peek() ?? '';
    const [, kind = '', router = ''] = /^([a-z]+):([^/]*)/.exec(typed) ?? [];
    const suggestions: Suggestion[] =
      kind === 'router'
        ? this.known.routers.map((name) => ({ text: `router:${name}`, help: 'the whole router' }))
        : kind !== 'group' && this.known.routers.includes(router)
          ? this.known.interfacesOf(router).map((i) => ({ text: `${kind}:${router}/${i}`, help: 'interface' }))
          : kind !== '' && kind !== 'group'
            ? this.known.routers.map((name) => ({ text: `${kind}:${name}/`, help: 'router, then its interface' }))
            : failureKinds.map((k) => ({ text: `${k}:`, help: failureHelp[k] }));
    return this.take(
      'what fails',
      suggestions,
      (t) => (failureKinds.some((k) => t.startsWith(`${k}:`) && t.length > k.length + 1) ? t : undefined),
      (t) =>
        `"${t}" is no failure: write link:kelp-1/fibre, interface:kelp-1/fibre, lan:kelp-1/hall, leader:kelp-1/hall, router:kelp-1 or group:duct.`,
    );
  }

  /** An address of either family. */
  address(what: string): Address {
    const a = this.take(what, [{ text: `<${what}>`, help: 'such as 10.96.0.1 or 2001:db8:40::1', hint: true }], parseAddress);
    this.ofOneFamily(a);
    return a;
  }

  /** One end of a way: an address, a router by its name (its loopbacks) or a group. */
  wayEnd(what: string): Address | string {
    const { routers, groups = [] } = this.known;
    const e = this.take(
      what,
      [
        { text: `<${what}>`, help: 'such as 10.96.0.1 or 2001:db8:40::1, a router or a group', hint: true },
        ...groups.map((g) => ({ text: /\s/.test(g) ? `"${g}"` : g, help: 'group' })),
        ...this.routerSuggestions(),
      ],
      (t) => parseAddress(t) ?? (routers.includes(t) || groups.includes(t) ? t : undefined),
      (t) => {
        const near = nearTo(t, [...groups, ...routers]);
        return `Expected ${what}, an address, a router or a group, not "${t}"${near[0] === undefined ? '' : `; is "${near[0]}" meant?`}`;
      },
    );
    if (typeof e === 'number') this.ofOneFamily(e);
    return e;
  }

  /** Who belongs to a group: an address, a prefix, a router by its name or by a part of it with `*`. */
  member(): string {
    return this.take(
      'a member',
      [
        { text: '<member>', help: 'an address, a prefix, a router, or a part of its name with *', hint: true },
        { text: 'area', help: 'the routers of an area' },
        ...this.routerSuggestions(),
      ],
      (t) => {
        const p = t.includes(':') ? typedPrefix6(t) : t.includes('/') ? parseTypedPrefix(t) : undefined;
        if (p) return p.notation === 'address' ? formatAddress(p.bits) : formatPrefix(p);
        const address = parseAddress(t);
        if (address !== undefined) return formatAddress(address);
        return this.known.routers.some((r) => nameFits(t, r)) ? t : undefined;
      },
      (t) => `"${t}" is no address and no prefix, and no router has such a name.`,
    );
  }

  /** An IPv6 prefix. */
  prefix6(what: string): Ipv6Prefix {
    return this.take(
      what,
      [{ text: `<${what}>`, help: 'such as 2001:db8:40::/48', hint: true }],
      (t) => (t.includes('/') ? prefix6.read(t) : undefined),
      (t) => `Expected ${what} such as 2001:db8:40::/48, not "${t}".`,
    );
  }

  /** A prefix of either family; of IPv4 by length, mask or inverted mask, the latter two also as a word of their own. */
  prefix(what: string): TypedPrefix {
    const next = this.words[this.n + 1]?.text ?? '';
    const two = /^\d+\.\d+\.\d+\.\d+$/;
    const joined = two.test(this.peek() ?? '') && two.test(next) ? parseTypedPrefix(`${this.peek() ?? ''} ${next}`) : undefined;
    const typed = joined ? `${this.peek() ?? ''} ${next}` : (this.peek() ?? '');
    if (joined) this.n++;
    const p = this.take(
      what,
      [{ text: `<${what}>`, help: '10.96.64.0/18, with a mask or an inverted mask, or 2001:db8:40::/48', hint: true }],
      (t) => joined ?? (t.includes(':') ? typedPrefix6(t) : parseTypedPrefix(t)),
      (t) =>
        t.includes(':')
          ? `Expected ${what} such as 2001:db8:40::/48, not "${t}".`
          : `Expected ${what} such as 10.96.64.0/18; "${t}" fits neither a length, a mask nor an inverted mask.`,
    );
    this.ofOneFamily(p.bits);
    if (p.notation === 'mask' || p.notation === 'inverted-mask' || p.hostBits)
      this.understood.push(
        `${typed} was read as ${formatPrefix(p)}${p.notation === 'mask' ? ', by its mask' : p.notation === 'inverted-mask' ? ', by its inverted mask' : ''}${p.hostBits ? ', without its host bits' : ''}`,
      );
    return p;
  }

  /** An address with its length, or with its mask as a word of its own. */
  hostAddress(what: string): { readonly ip: Address; readonly length: number } {
    const typed = this.peek() ?? '';
    const told = this.understood.length;
    const p = this.prefix(what);
    const ip = parseAddress(typed.split('/')[0] ?? '');
    if (ip === undefined || p.notation === 'address') throw this.before(`Expected ${what} with its length, such as 10.96.64.1/24.`);
    // Here the host bits are the point: only a mask is told.
    this.understood.length = told;
    if (p.notation !== 'length') this.understood.push(`The mask of ${formatAddress(ip)} was read as /${p.length}`);
    return { ip, length: p.length };
  }

  /** Everything up to the end of the line, or one word in quotes. */
  text(what: string): string {
    return this.take(what, [{ text: `<${what}>`, help: 'in quotes when it has spaces', hint: true }], (t) => t);
  }

  /**
   * Options in any order, each at most once, up to the end.
   *
   * @param options  each with what it means and how its value is read
   */
  options(options: Readonly<Record<string, { readonly help: string; readonly read: () => void }>>): void {
    const left = new Map(Object.entries(options));
    const expected = (): Suggestion[] => [...left].map(([name, o]) => ({ text: name, help: o.help }));
    while (!this.done) {
      const w = this.peek() ?? '';
      const o = left.get(w);
      if (!o) {
        if (w in options) throw this.fault(`"${w}" stands twice.`, expected());
        throw this.fault(left.size === 0 ? `"${w}" is too much here.` : `Expected ${orWords([...left.keys()])}, not "${w}".`, expected());
      }
      this.n++;
      left.delete(w);
      o.read();
    }
    this.rest = expected();
  }

  /** What could follow the end of a line that is complete as it stands. */
  rest: readonly Suggestion[] = [];

  /** Nothing more may follow. */
  end(): void {
    this.options({});
  }
}

/** An IPv6 prefix as it is typed; an address alone is a /128. */
function typedPrefix6(text: string): TypedPrefix | undefined {
  const p = prefix6.read(text);
  const typed = parseAddress(text.split('/')[0] ?? '');
  if (!p || typed === undefined) return undefined;
  const bits = address6(p.bits);
  return { bits, length: p.length, notation: text.includes('/') ? 'length' : 'address', hostBits: bits !== typed };
}

/** `a, b or c`. */
const orWords = (list: readonly string[]): string => (list.length < 2 ? (list[0] ?? '') : `${list.slice(0, -1).join(', ')} or ${list.at(-1) ?? ''}`);

/** At most six of a list. */
export const listed = (list: readonly string[]): string =>
  list.length === 0 ? 'none' : list.length > 6 ? `${list.slice(0, 6).join(', ')} and ${list.length - 6} more` : list.join(', ');
