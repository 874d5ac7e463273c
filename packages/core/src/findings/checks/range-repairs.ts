import type { Speaker } from '../../adjacency/speakers';
import { prefixNumber } from '../../documents/leaf-types';
import type { Edit } from '../../design/edit';
import { covers, formatAddress, formatPrefix, type Prefix } from '../../prefix/address';
import { mostApart } from '../../summaries/detours';
import { planSummaries, rowText } from '../../summaries/planner';
import { hostOf } from '../../reach/ends';
import { onlooker } from '../../summaries/example-way';
import { areaTask, summarisers } from '../../summaries/space';
import type { CheckContext } from '../context';
import type { Draft, Example } from '../finding';

type Json = { readonly prefix: string } & Record<string, unknown>;
type Repair = Draft['repairs'][number];

/** True for a range of a document that stands for a prefix, however it is written. */
const isOf = (r: Json, p: Prefix): boolean => {
  const own = prefixNumber.read(r.prefix);
  return own !== undefined && own.length === p.length && own.bits === p.bits;
};

/** Edits that change the list of an area's ranges in some routers; those in which an area is only there by a rule are left out. */
export function changingRanges(
  c: CheckContext,
  routers: readonly Speaker[],
  area: number,
  change: (list: readonly Json[]) => readonly Json[],
): Edit[] {
  return routers.flatMap((s) => {
    const at = s.instance.areas.find((a) => a.id === area)?.at ?? [];
    if (at.length === 0) return [];
    const { from } = c.edit(s.router, at, ['ranges', 'range'], undefined);
    const list = (from ?? []) as unknown as readonly Json[];
    const then = change(list);
    if (then.length === list.length && then.every((r, i) => r === list[i])) return [];
    return [c.edit(s.router, at, ['ranges', 'range'], then.length > 0 ? (then as never) : undefined)];
  });
}

const onRouters = (edits: readonly Edit[]): string => [...new Set(edits.map((e) => e.router))].join(' and ');

const asRepair = (title: string, edits: readonly Edit[]): Repair[] => {
  const [first] = edits;
  return first ? [{ title: `${title} on ${onRouters(edits)}`, router: first.router, edits }] : [];
};

/** The range taken out of one router. */
export const removeRange = (c: CheckContext, s: Speaker, area: number, prefix: Prefix): Repair[] => {
  const edits = changingRanges(c, [s], area, (list) => list.filter((r) => !isOf(r, prefix)));
  return edits.length === 0 ? [] : [{ title: `Take the summary ${formatPrefix(prefix)} out of ${s.router.name}`, router: s.router.name, edits }];
};

/** A range that stands under the area that it goes to, written for the area that its parts come from, on all its border routers. */
export function movedHome(c: CheckContext, s: Speaker, from: number, home: number, prefix: Prefix): Repair[] {
  if (areaTask(c.prediction, home).foreign.some((f) => covers(prefix, f.prefix))) return [];
  const gone = changingRanges(c, [s], from, (list) => list.filter((r) => !isOf(r, prefix)));
  const come = changingRanges(c, summarisers(c.prediction, home), home, (list) =>
    list.some((r) => isOf(r, prefix)) ? list : [...list, { prefix: formatPrefix(prefix) }],
  );
  return gone.length === 0 || come.length === 0
    ? []
    : asRepair(`Summarise area ${formatAddress(home)} as ${formatPrefix(prefix)} instead`, [...gone, ...come]);
}

/** How many narrower summaries may stand in for one. */
const mostInstead = 4;

/** Narrower summaries in the place of one, which hold what it holds of the area and nothing foreign, on all border routers that have it. */
export function narrower(c: CheckContext, area: number, prefix: Prefix): Repair[] {
  const { parts, foreign } = areaTask(c.prediction, area);
  const own = parts.filter((p) => covers(prefix, p));
  const [best] = planSummaries({ parts: own, foreign, supernets: [prefix] }, { atMost: mostInstead, allowForeign: 0 });
  if (!best || best.outside.length > 0 || best.summaries.length === 0) return [];
  const edits = changingRanges(c, summarisers(c.prediction, area), area, (list) => {
    const old = list.find((r) => isOf(r, prefix));
    return old ? [...list.filter((r) => r !== old), ...best.summaries.map((s) => ({ ...old, prefix: formatPrefix(s) }))] : list;
  });
  return asRepair(`Summarise as ${rowText(best.summaries)} instead`, edits);
}

/** Prefixes told by themselves beside the summary that holds them: each gets a range of its own on every border router of the area. */
export function toldApart(c: CheckContext, area: number, parts: readonly Prefix[]): Repair[] {
  if (parts.length === 0 || parts.length > mostApart) return [];
  const edits = changingRanges(c, summarisers(c.prediction, area), area, (list) => [
    ...list,
    ...parts.filter((p) => !list.some((r) => isOf(r, p))).map((p) => ({ prefix: formatPrefix(p) })),
  ]);
  return asRepair(`Tell ${rowText(parts)} by ${parts.length === 1 ? 'itself' : 'themselves'}`, edits);
}

/** A range made as wide as something that it only partly holds. */
export function widened(c: CheckContext, area: number, prefix: Prefix, to: Prefix): Repair[] {
  if (areaTask(c.prediction, area).foreign.some((f) => covers(to, f.prefix))) return [];
  const edits = changingRanges(c, summarisers(c.prediction, area), area, (list) =>
    list.some((r) => isOf(r, prefix))
      ? list.filter((r) => !isOf(r, to)).map((r) => (isOf(r, prefix) ? { ...r, prefix: formatPrefix(to) } : r))
      : list,
  );
  return asRepair(`Widen the summary to ${formatPrefix(to)}`, edits);
}

/** An area summarised by one prefix that holds some of its prefixes, where that claims nothing foreign. */
export function summarisedAtHome(c: CheckContext, area: number, parts: readonly Prefix[]): Repair[] {
  const { foreign } = areaTask(c.prediction, area);
  const supernets = [{ bits: parts[0]?.bits ?? 0, length: 0 }];
  const [best] = planSummaries({ parts, foreign, supernets }, { atMost: 1, allowForeign: 0 });
  if (!best || best.outside.length > 0) return [];
  const edits = changingRanges(c, summarisers(c.prediction, area), area, (list) => [
    ...list,
    ...best.summaries.filter((s) => !list.some((r) => isOf(r, s))).map((s) => ({ prefix: formatPrefix(s) })),
  ]);
  return asRepair(`Summarise area ${formatAddress(area)} as ${rowText(best.summaries)}`, edits);
}

/** An address in a prefix that a host could have, as text. */
export const hostIn = (p: Prefix): string => formatAddress(hostOf(p));

/** A destination, seen from a router that stands in none of some areas, where there is one. */
export function exampleTo(c: CheckContext, to: Prefix, notIn: readonly number[]): { readonly example?: Example } {
  const from = onlooker(c.prediction, to, notIn);
  return from === undefined ? {} : { example: { from, to: hostIn(to) } };
}
