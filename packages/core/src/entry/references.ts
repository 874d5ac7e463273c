import { prefixNumber } from '../documents/leaf-types';
import { localName } from '../documents/shape';
import { formatPrefix, type Prefix } from '../prefix/address';
import { member, type Json } from '../design/draft';
import type { Site } from './site';

const isObject = (x: unknown): x is Json => typeof x === 'object' && x !== null && !Array.isArray(x);

/** Whether a prefix that a document writes, in whichever form, is this one. */
export function isPrefix(written: unknown, prefix: Prefix): boolean {
  const p = prefixNumber.read(written);
  return p !== undefined && formatPrefix(p) === formatPrefix(prefix);
}

/** Walks every text below a node; what the function gives back takes its place. */
function eachText(node: unknown, change: (text: string, under: string) => string): void {
  const entries: [string | number, unknown][] = Array.isArray(node)
    ? node.map((x, i): [number, unknown] => [i, x])
    : isObject(node)
      ? Object.entries(node)
      : [];
  for (const [k, v] of entries) {
    if (typeof v !== 'string') {
      eachText(v, (t, under) => change(t, under === '' && typeof k === 'string' ? k : under));
      continue;
    }
    const now = change(v, typeof k === 'string' ? k : '');
    if (now !== v) (node as Record<string | number, unknown>)[k] = now;
  }
}

/** A failure word, or the name itself, with another router name in it. */
function renamed(text: string, from: string, to: string): string {
  if (text === from) return to;
  if (text.startsWith(`${from}/`)) return `${to}${text.slice(from.length)}`;
  const m = /^([a-z]+:)([^/]+)(\/.*)?$/.exec(text);
  return m?.[2] === from ? `${m[1] ?? ''}${to}${m[3] ?? ''}` : text;
}

const namesRouters = new Set(
  'router via source-node dest-node node-id node-ref member members from to through avoids under leaves-by fail'.split(' '),
);

const holdsSettings = (site: Site): boolean => site.documents.some((d) => Object.keys(d.tree).some((k) => localName(k) === 'settings'));

/** Names a router otherwise in the settings and the topology of the design. */
export function renameElsewhere(site: Site, from: string, to: string): void {
  const change = (text: string, under: string): string => (namesRouters.has(localName(under)) ? renamed(text, from, to) : text);
  if (holdsSettings(site)) eachText(site.draft.settings(), change);
  const topology = site.draft.topology();
  if (topology) eachText(topology, change);
}

/** The lists of router names in profiles and groups of alike routers, opened for change. */
function nameLists(site: Site): { readonly kind: 'profile' | 'group'; readonly title: string; readonly names: unknown[] }[] {
  if (!holdsSettings(site)) return [];
  const settings = site.draft.settings();
  return (['profile', 'alike'] as const).flatMap((kind) => {
    const list = member(settings, kind);
    return (Array.isArray(list) ? (list as Json[]) : []).flatMap((g) => {
      const names = member(g, 'router');
      return Array.isArray(names)
        ? [{ kind: kind === 'alike' ? ('group' as const) : ('profile' as const), title: String(member(g, 'name')), names: names as unknown[] }]
        : [];
    });
  });
}

/** Puts a router beside another one wherever profiles and groups of alike routers name that. */
export function nameBeside(site: Site, known: string, added: string): void {
  for (const { kind, title, names } of nameLists(site)) {
    if (!names.includes(known) || names.includes(added)) continue;
    names.splice(names.indexOf(known) + 1, 0, added);
    site.notes.push(`${added} joins the ${kind} "${title}" of ${known}.`);
  }
}

/** Takes a router out of profiles, groups and the topology. */
export function forget(site: Site, name: string): void {
  for (const { names } of nameLists(site)) if (names.includes(name)) names.splice(names.indexOf(name), 1);
  const topology = site.draft.topology();
  if (!topology) return;
  const about = (x: Json): boolean => JSON.stringify(x).includes(`"${name}"`);
  const prune = (node: unknown): void => {
    if (Array.isArray(node)) node.forEach(prune);
    else if (isObject(node))
      for (const [k, v] of Object.entries(node)) {
        if (Array.isArray(v) && ['link', 'node'].includes(localName(k))) node[k] = (v as Json[]).filter((x) => !about(x));
        else prune(v);
      }
  };
  prune(topology);
}
