import { nameFits } from '../../design/settings';
import { container, member, memberOf, setMember, type Json } from '../../design/draft';
import { writeOnCables } from '../cabling';
import { areaKinds, parameterOf, parameters, type AreaKind, type Parameter } from '../parameters';
import { areaText, Refusal, type End, type Site } from '../site';
import { listed, nearTo, type Reader, type Suggestion } from '../words';
import type { CommandKind } from './command';

/** What a change is made on, before it is known what that is in the design. */
type Target =
  | { readonly kind: 'all' }
  | { readonly kind: 'selected' }
  | { readonly kind: 'area'; readonly area: number }
  | { readonly kind: 'routers'; readonly pattern: string }
  | { readonly kind: 'interfaces'; readonly router: string; readonly iface: string };

function targetSuggestions(r: Reader): Suggestion[] {
  const typed = (r.peek() ?? '').split('/')[0] ?? '';
  return [
    ...(r.known.routers.includes(typed) ? r.known.interfacesOf(typed).map((i) => ({ text: `${typed}/${i}`, help: 'interface' })) : []),
    { text: 'area', help: 'everything in an area' },
    { text: 'all', help: 'every router' },
    ...((r.known.selected?.length ?? 0) > 0 ? [{ text: 'selected', help: listed(r.known.selected ?? []) }] : []),
    ...r.known.routers.map((text) => ({ text, help: 'router, or router/interface; * stands for any part of a name' })),
  ];
}

/** `on` and then routers, interfaces, areas; `*` stands for any part of a name. */
export function readTargets(r: Reader): Target[] {
  r.word('on', 'what is changed follows');
  const out: Target[] = [];
  do {
    const expected = targetSuggestions(r);
    const word = r.peek();
    if (word === undefined) throw r.fault('Expected a router, ROUTER/INTERFACE, "area", "all" or "selected".', expected);
    if (r.maybe('all')) out.push({ kind: 'all' });
    else if (r.maybe('selected')) out.push({ kind: 'selected' });
    else if (r.maybe('area')) out.push({ kind: 'area', area: r.area() });
    else {
      const slash = word.indexOf('/');
      const router = slash < 0 ? word : word.slice(0, slash);
      if (!r.known.routers.some((n) => nameFits(router, n))) {
        const near = nearTo(router, r.known.routers);
        throw r.fault(`No router fits "${router}"${near[0] === undefined ? '' : `; is "${near[0]}" meant?`}`, expected);
      }
      if (slash < 0) out.push({ kind: 'routers', pattern: router });
      else {
        const iface = word.slice(slash + 1);
        const has = r.known.routers.some((n) => nameFits(router, n) && r.known.interfacesOf(n).some((i) => nameFits(iface, i)));
        if (!has)
          throw r.fault(
            `${router} has no interface "${iface}"; it has ${listed(r.known.interfacesOf(r.known.routers.find((n) => nameFits(router, n)) ?? ''))}.`,
            expected,
          );
        out.push({ kind: 'interfaces', router, iface });
      }
      r.text('target');
    }
  } while (!r.done);
  r.rest = targetSuggestions(r);
  return out;
}

function routersIn(site: Site, targets: readonly Target[]): string[] {
  const names = site.design.routers.filter((r) =>
    targets.some(
      (t) =>
        t.kind === 'all' ||
        (t.kind === 'selected' && site.selected.includes(r.name)) ||
        (t.kind === 'area' && site.areasOf(r).some((a) => a.id === t.area)) ||
        (t.kind === 'routers' && nameFits(t.pattern, r.name)) ||
        (t.kind === 'interfaces' && nameFits(t.router, r.name)),
    ),
  );
  if (names.length === 0) throw new Refusal('That names no router of this design.');
  return names.map((r) => r.name);
}

/** Interfaces in OSPF that targets name; a router stands for those where it speaks, or could. */
export function endsIn(site: Site, targets: readonly Target[], inOspf: boolean): End[] {
  const out: End[] = [];
  for (const r of site.design.routers) {
    const mine = targets.filter((t) => mayName(site, t, r.name));
    if (mine.length === 0) continue;
    for (const i of r.interfaces) {
      const at = site.speaks(r, i.name);
      const named = mine.some((t) => t.kind === 'interfaces' && nameFits(t.iface, i.name));
      const within =
        i.kind !== 'loopback' &&
        at?.port.passive === false &&
        mine.some((t) => t.kind === 'all' || t.kind === 'selected' || t.kind === 'routers' || (t.kind === 'area' && at.area.id === t.area));
      if ((named && (!inOspf || at)) || within) out.push({ router: r.name, iface: i.name });
    }
  }
  if (out.length === 0) throw new Refusal(inOspf ? 'That names no interface that is in OSPF.' : 'That names no interface of this design.');
  return out;
}

/** Whether a target can name anything in a router; of an area that is looked at interface by interface. */
function mayName(site: Site, t: Target, router: string): boolean {
  switch (t.kind) {
    case 'all':
    case 'area':
      return true;
    case 'selected':
      return site.selected.includes(router);
    case 'routers':
      return nameFits(t.pattern, router);
    case 'interfaces':
      return nameFits(t.router, router);
    default:
      return t satisfies never;
  }
}

/** Puts a value under a node along a path, or takes it out; containers that stay empty go with it. */
function write(node: Json, path: readonly string[], value: unknown): void {
  const [head, ...rest] = path;
  if (head === undefined) return;
  if (rest.length === 0) {
    setMember(node, head, value);
    return;
  }
  if (value === undefined && memberOf(node, head) === undefined) return;
  const below = container(node, head);
  write(below, rest, value);
  if (value === undefined && Object.keys(below).length === 0) setMember(node, head, undefined);
}

/** Takes out what would hold before a parameter that is set. */
function overWritten(node: Json, p: Parameter, value: unknown): void {
  if (value !== undefined) for (const path of p.over ?? []) write(node, path, undefined);
}

/** At most four names in words. */
export const whereWords = (names: readonly string[]): string =>
  names.length > 4 ? `${names.slice(0, 3).join(', ')} and ${names.length - 3} more` : names.join(', ');

/** An entry for an interface that a rule turns on: under the area and as passive as the rule has it, which it then takes the place of. */
function underItsArea(site: Site, e: End): Json | undefined {
  const at = site.speaks(site.router(e.router), e.iface);
  if (!at?.byRule) return undefined;
  const entry: Json = { name: e.iface, ...(at.byRule.passive ? { passive: true } : {}) };
  site.open(e.router).putInto(at.area.id, entry, site.processName);
  site.notes.push(
    `A rule turned ${e.router}/${e.iface} on; it is listed under ${areaText(at.area.id)}${at.byRule.passive ? ', passive,' : ''} from now on.`,
  );
  return entry;
}

/** Sets or clears a parameter on targets; says where in words. */
function apply(site: Site, p: Parameter, value: unknown, targets: readonly Target[]): string {
  if (p.scope === 'process') {
    const names = routersIn(site, targets);
    for (const n of names) {
      const ospf = site.open(n).ospf(site.processName);
      // A container that stands for itself: it is there, or it is not.
      write(ospf, site.pathOf(p.path), p.name !== 'stub-router' ? value : value === true ? {} : undefined);
      overWritten(ospf, p, value);
      if (p.name === 'reference-bandwidth' && value !== undefined && member(container(ospf, 'auto-cost'), 'enabled') !== true)
        write(ospf, ['auto-cost', 'enabled'], true);
    }
    if (p.name === 'router-id' && names.length > 1 && value !== undefined) throw new Refusal('A router id belongs to one router.');
    return whereWords(names);
  }
  if (p.scope === 'area') {
    const area = targets.find((t) => t.kind === 'area')?.area;
    if (area === undefined) throw new Refusal(`"${p.name}" belongs to an area: say it, as in "on area 10".`);
    for (const n of routersIn(
      site,
      targets.filter((t) => t.kind === 'area'),
    )) {
      const entry = site.open(n).area(area);
      if (entry) write(entry, site.pathOf(p.path), value);
    }
    return areaText(area);
  }
  if (p.scope === 'cable') {
    const cables = endsIn(site, targets, false).filter((e) => site.isCable(e));
    if (cables.length === 0) throw new Refusal('That names no cable; on a LAN each router sees the light of its own port alone.');
    writeOnCables(site, cables, p.path, value);
    return whereWords(cables.map((e) => `${e.router}/${e.iface}`));
  }
  const ends = endsIn(site, targets, p.scope === 'ospf-interface');
  for (const e of ends) {
    const draft = site.open(e.router);
    const node =
      p.scope === 'interface'
        ? draft.iface(e.iface)
        : (draft.ospfInterface(e.iface)?.entry ?? (value === undefined ? undefined : underItsArea(site, e)));
    if (!node) continue;
    write(node, site.pathOf(p.path), value);
    overWritten(node, p, value);
  }
  return whereWords(ends.map((e) => `${e.router}/${e.iface}`));
}

const parameterChoices = parameters.map(({ name, help }) => ({ text: name, help }));

function readValue(r: Reader, p: Parameter): unknown {
  const expected: Suggestion[] = p.words
    ? p.words.map((text) => ({ text, help: p.help }))
    : [{ text: `<${p.name}>`, help: p.type.expected, hint: true }];
  const word = r.peek();
  if (word === undefined) throw r.fault(`Expected ${p.type.expected} for ${p.name}.`, expected);
  const value = p.type.read(/^\d+$/.test(word) ? Number(word) : word) ?? p.type.read(word);
  if (value === undefined) throw r.fault(`"${word}" is no ${p.name}: it is ${p.type.expected}.`, expected);
  r.text(p.name);
  return value;
}

const kindHelp: Record<AreaKind, string> = {
  normal: 'everything is told into it',
  stub: 'no externals; a default instead',
  'totally-stubby': 'neither externals nor summaries; a default instead',
  nssa: 'no externals from outside; its own are translated',
  'totally-nssa': 'an NSSA without summaries but a default',
};

function setAreaKind(site: Site, kind: AreaKind, area: number): void {
  if (area === 0 && kind !== 'normal') throw new Refusal('The backbone can be no stub area and no NSSA (RFC 2328 §3.6).');
  const names = routersIn(site, [{ kind: 'area', area }]);
  for (const n of names) {
    const draft = site.open(n);
    const entry = draft.area(area);
    if (!entry) continue;
    const total = kind.startsWith('totally-');
    const base = kind.includes('nssa') ? 'ietf-ospf:nssa-area' : kind === 'normal' ? undefined : 'ietf-ospf:stub-area';
    // The same type, however it is spelt, is left as it stands.
    const written = entry['area-type'];
    if (typeof written !== 'string' || written.split(':').at(-1) !== base?.split(':').at(-1)) setMember(entry, 'area-type', base);
    // Only a border router writes summaries, or leaves them out.
    setMember(entry, 'summary', total && draft.areas().length > 1 ? false : undefined);
  }
}

/** `set cost 20 on kelp-1/to-kelp-3`: a value on one or many. */
export const set: CommandKind = {
  verb: 'set',
  help: 'set a parameter on one or many',
  form: 'set PARAMETER VALUE on TARGET...',
  example: 'set hello 5 on area 10',
  read(r) {
    const name = r.oneOf([...parameterChoices, { text: 'area-type', help: 'type of an area' }], 'a parameter');
    if (name === 'area-type') {
      const kind = r.oneOf(
        areaKinds.map((text) => ({ text, help: kindHelp[text] })),
        'a type of area',
      );
      r.word('on', 'the area follows');
      r.word('area', 'the area follows');
      const area = r.area();
      r.end();
      return (site) => {
        setAreaKind(site, kind, area);
        return `${areaText(area)} becomes ${kind}`;
      };
    }
    const p = parameterOf(name);
    if (!p) throw r.before(`"${name}" is no parameter.`);
    const value = readValue(r, p);
    const targets = readTargets(r);
    return (site) => `${p.name} ${value === true ? 'yes' : value === false ? 'no' : String(value)} on ${apply(site, p, value, targets)}`;
  },
};

/** `clear cost on kelp-1/to-kelp-3`: back to what holds without it. */
export const clear: CommandKind = {
  verb: 'clear',
  help: 'take a parameter out, so that its default holds',
  form: 'clear PARAMETER on TARGET...',
  example: 'clear priority on kelp-*/library',
  read(r) {
    const name = r.oneOf(parameterChoices, 'a parameter');
    const p = parameterOf(name);
    if (!p) throw r.before(`"${name}" is no parameter.`);
    const targets = readTargets(r);
    return (site) => `${p.name} cleared on ${apply(site, p, undefined, targets)}`;
  },
};
