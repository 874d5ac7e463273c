import { formatAddress } from '@gentle-compass/core/prefix/address';
import type { WhileDown, ChangeSummary } from '../model/view';

/** `1 route`, `2 routes`. */
export const count = (n: number, one: string, many = `${one}s`): string => `${n.toLocaleString('en-GB')} ${n === 1 ? one : many}`;

/** Joins words with commas and a last "and". */
export const listWords = (items: readonly string[]): string =>
  items.length < 2 ? (items[0] ?? '') : `${items.slice(0, -1).join(', ')} and ${items.at(-1) ?? ''}`;

/** The first of some names; the others are counted. */
export const someOf = (names: readonly string[], most: number): string =>
  names.length > most ? `${names.slice(0, most).join(', ')} and ${names.length - most} more` : listWords(names);

/** What a change did, in one sentence. */
export function changeWords(c: ChangeSummary): string {
  const parts: string[] = [];
  if (c.neighborsGained > 0) parts.push(`${count(c.neighborsGained, 'neighbour')} gained`);
  if (c.neighborsLost > 0) parts.push(`${count(c.neighborsLost, 'neighbour')} lost`);
  if (c.gained > 0) parts.push(`${count(c.gained, 'route')} gained`);
  if (c.lost > 0) parts.push(`${count(c.lost, 'route')} lost`);
  if (c.changed > 0) parts.push(`${count(c.changed, 'route')} changed`);
  const findings = [
    ...(c.findingsGone > 0 ? [`${count(c.findingsGone, 'finding')} settled`] : []),
    ...(c.findingsNew > 0 ? [count(c.findingsNew, 'new finding')] : []),
  ];
  const more = [findings.length > 0 ? ` ${listWords(findings)}.` : '', ...besides(c).map((x) => ` ${x}`)].join('');
  if (parts.length === 0) return `No neighbour and no route changed.${more}`;
  return `${listWords(parts)}${c.routers > 0 ? `, in ${count(c.routers, 'router')}` : ''}.${more}`;
}

/** What a change does while something is down, in a sentence. */
function whileDownWords({ fail, gained, lost, changed, cut, broken }: WhileDown): string {
  const moved = [
    ...(gained > 0 ? [`${count(gained, 'route')} gained`] : []),
    ...(lost > 0 ? [`${count(lost, 'route')} lost`] : []),
    ...(changed > 0 ? [`${count(changed, 'route')} changed`] : []),
  ];
  const against = (of: readonly [number, number], is: string, one: string): string[] =>
    of[0] + of[1] === 0 ? [] : [`${count(of[1], one)} ${is} ${of[0] === of[1] ? 'as before' : `(${of[0].toLocaleString('en-GB')} before)`}`];
  const parts = [
    moved.length > 0 ? listWords(moved) : 'no route changes',
    ...against(cut, 'cut', 'pair'),
    ...against(broken, 'broken', 'expectation'),
  ];
  return `While ${listWords(fail)} ${fail.length === 1 ? 'is' : 'are'} down: ${parts.join('; ')}.`;
}

/** Who leads now, and who runs under another id: sentences of their own. */
function besides({ elections = [], routerIds = [], wentWith = [], whileDown }: ChangeSummary): string[] {
  const [first, ...others] = elections;
  const [id, ...ids] = routerIds;
  return [
    ...(whileDown ? [whileDownWords(whileDown)] : []),
    ...(wentWith.length > 0
      ? [
          `With it went what followed: ${someOf(
            wentWith.map((m) => m.replace(/\.$/, '')),
            2,
          )}.`,
        ]
      : []),
    ...(first
      ? [
          `${first.name} is led by ${first.after} (before: ${first.before})${others.length > 0 ? `; ${count(others.length, 'more segment')} elected anew` : ''}.`,
        ]
      : []),
    ...(id
      ? [
          `${id.router} runs as ${id.after}, before ${id.before}: ${id.noticed.length > 0 ? `${listWords(id.noticed.slice(0, 4))} ${id.noticed.length === 1 ? 'notices' : 'notice'}` : 'nobody notices'}${ids.length > 0 ? `; ${count(ids.length, 'more router')} too` : ''}.`,
        ]
      : []),
  ];
}

/** Where a value comes from that its document does not write. */
export const originWords = { written: '', profile: 'profile', standard: 'standard', rule: 'rule' } as const;

/** `0.0.0.10` as the area's everyday name. */
export const areaName = (id: string): string => (id === '0.0.0.0' ? 'Backbone' : /^0\.0\.0\.\d+$/.test(id) ? `Area ${id.slice(6)}` : `Area ${id}`);

/** The same of an area by its number. */
export const areaNumbered = (id: number): string => areaName(formatAddress(id));

/** A sentence in which areas are followed by what they are called. */
export const withAreaNames = (text: string, areas: readonly { readonly id: string; readonly name: string }[] = []): string =>
  text.replace(/\b(area) (\d+\.\d+\.\d+\.\d+)\b/gi, (whole, _word, id: string) => {
    const name = areas.find((a) => a.id === id)?.name ?? '';
    return name === '' ? whole : `${whole} ${name}`;
  });

const collator = new Intl.Collator('en', { numeric: true });

/** Order of names: `kelp-2` before `kelp-10`. One collator for all, as making one takes longer than a hundred comparisons. */
export const byName = (a: string, b: string): number => collator.compare(a, b);
