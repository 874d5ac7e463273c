import { prefixNumber } from '@gentle-compass/core/documents/leaf-types';
import { comparePrefixes, formatPrefix, isSix, type Prefix } from '@gentle-compass/core/prefix/address';
import { judge, type Choice, type ForeignPrefix } from '@gentle-compass/core/summaries/planner';
import type { Scope } from '@gentle-compass/core/summaries/laying';
import { create } from 'zustand';
import type { LaidText, Placed, SpaceView, WishesText } from '../model/summaries-view';
import type { Span } from './axis';

/** What was laid or wished on a ruler and is not written yet, by what it is a ruler of. It outlives a walk to another stage. */
interface Layings {
  readonly laid: Readonly<Record<string, readonly LaidText[]>>;
  readonly wishes: Readonly<Record<string, PlanWishes>>;
  readonly spans: Readonly<Record<string, Span>>;
}

/** What the planner is asked for, as it was typed. */
export interface PlanWishes {
  readonly atMost: number;
  readonly allowForeign: number;
  readonly loopbacks: boolean;
  readonly leaveOut: string;
  readonly reserve: string;
}

export const firstWishes: PlanWishes = { atMost: 4, allowForeign: 0, loopbacks: true, leaveOut: '', reserve: '' };

export const useLayings = create<Layings>(() => ({ laid: {}, wishes: {}, spans: {} }));

/** Lays summaries on a ruler; `undefined`: as they stand. */
export const lay = (key: string, list: readonly LaidText[] | undefined): void =>
  useLayings.setState((s) => {
    const others = Object.fromEntries(Object.entries(s.laid).filter(([k]) => k !== key));
    return { laid: list ? { ...others, [key]: list } : others };
  });

export const wish = (key: string, wishes: PlanWishes): void => useLayings.setState((s) => ({ wishes: { ...s.wishes, [key]: wishes } }));
export const look = (key: string, span: Span): void => useLayings.setState((s) => ({ spans: { ...s.spans, [key]: span } }));

/** What a ruler is of, in a design as a family looks at it. */
export const scopeKey = (design: string, family: number, scope: Scope): string =>
  `${design} ${family} ${scope.kind === 'area' ? `area ${scope.area}` : `outside ${scope.router}`}`;

const words = (text: string): string[] => text.split(/[\s,;]+/).filter(Boolean);

/** Wishes as the workbench reads them. */
export const wishesText = (w: PlanWishes): WishesText => ({ loopbacks: w.loopbacks, leaveOut: words(w.leaveOut), reserve: words(w.reserve) });

/** A prefix that the workbench wrote. */
export function prefixAt(text: string): Prefix {
  const p = prefixNumber.read(text);
  if (!p) throw new RangeError(`${text} is no prefix`);
  return { bits: p.bits, length: p.length };
}

/** A prefix that somebody typed, of a family. */
export function prefixTyped(text: string, six: boolean): Prefix | undefined {
  const p = text.includes('/') ? prefixNumber.read(text.trim()) : undefined;
  return p && isSix(p.bits) === six ? { bits: p.bits, length: p.length } : undefined;
}

/** A prefix with what the workbench says of it. */
export interface Mark {
  readonly prefix: Prefix;
  readonly text: string;
  readonly place: string;
}

/** The address space of a scope with its prefixes as such. */
export interface Space {
  readonly view: SpaceView;
  readonly parts: readonly Mark[];
  readonly left: readonly Mark[];
  readonly foreign: readonly (Mark & ForeignPrefix)[];
}

/** Reads what the workbench tells of a space. */
export function spaceOf(view: SpaceView): Space {
  const mark = ({ prefix, place }: Placed): Mark => ({
    prefix: prefixAt(prefix),
    text: prefix,
    place,
  });
  return {
    view,
    parts: view.parts.map(mark),
    left: view.left.map(mark),
    foreign: view.foreign.map((f) => ({ ...mark(f), area: f.area })),
  };
}

const taskOf = (space: Space): { readonly parts: readonly Prefix[]; readonly foreign: readonly ForeignPrefix[] } => ({
  parts: space.parts.map((m) => m.prefix),
  foreign: space.foreign,
});

/** What summaries do to a space; of hidden ones nothing is claimed. */
export const judged = (space: Space, laid: readonly LaidText[]): Choice =>
  judge(
    taskOf(space),
    laid.map((l) => prefixAt(l.prefix)),
  );

const alone = new WeakMap<Space, Map<string, Choice>>();

/** What one summary does by itself; looked at once for a space. */
export function judgedAlone(space: Space, laid: readonly LaidText[], n: number): Choice {
  const text = laid[n]?.prefix ?? '';
  let known = alone.get(space);
  if (!known) alone.set(space, (known = new Map<string, Choice>()));
  let choice = known.get(text);
  if (!choice) known.set(text, (choice = judge(taskOf(space), text === '' ? [] : [prefixAt(text)])));
  return choice;
}

/** Summaries in the order of their addresses, each prefix once. */
export function inOrder(list: readonly LaidText[]): LaidText[] {
  const by = new Map(list.map((l) => [l.prefix, l]));
  return [...by.values()].sort((a, b) => comparePrefixes(prefixAt(a.prefix), prefixAt(b.prefix)));
}

/** The list with a summary in the place of another one, and where it stands then. */
export function replaced(list: readonly LaidText[], at: number, prefix: Prefix): { readonly list: readonly LaidText[]; readonly at: number } {
  const text = formatPrefix(prefix);
  const own = list[at];
  if (!own) return { list, at };
  // What is laid there already stays in its place.
  const next = inOrder([...list.filter((l, n) => n !== at && l.prefix !== text), { ...own, prefix: text }]);
  return { list: next, at: next.findIndex((l) => l.prefix === text) };
}

const same = (a: LaidText, b: LaidText): boolean => a.prefix === b.prefix && a.cost === b.cost && a.hidden === b.hidden;

/** Whether what is laid is what stands. */
export const asStands = (a: readonly LaidText[], b: readonly LaidText[]): boolean =>
  a.length === b.length && inOrder(a).every((l, n) => same(l, inOrder(b)[n] ?? l));
