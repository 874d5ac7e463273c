import { comparePredictions, routeCounts } from '../compare/compare';
import { applyEdits, type Edit } from '../design/edit';
import type { SourceDocument } from '../documents/documents';
import { readEntry } from '../entry/entry';
import { designFrom } from '../formats/read-set';
import { formatPrefix, type Prefix } from '../prefix/address';
import { prefixBook, prefixId } from '../prefix/prefix-book';
import type { Prediction } from '../predict';
import { areaText } from './glance';
import { domainDatabase, holdersOf } from './held';
import { prefixesOf } from './lsa-words';

/** What keeping one prefix out in one way does. */
export interface FilterOutcome {
  /** Lines of quick entry that make it, in their order. */
  readonly lines: readonly string[];
  readonly title: string;
  readonly edits: readonly Edit[];
  /** Routers that hold an advertisement of it, and that have it in their own table: before and after. */
  readonly holders: readonly [number, number];
  readonly tables: readonly [number, number];
  /** Routers whose tables change, with how much. */
  readonly changed: readonly { readonly router: string; readonly lost: number; readonly gained: number; readonly changed: number }[];
  /** Who cannot reach it, or anything else, any more. */
  readonly outOfReach: readonly { readonly router: string; readonly prefixes: readonly string[] }[];
  /** Why it cannot be done; the other fields then say nothing. */
  readonly refused?: string;
}

/** One prefix kept out at the border of an area, and at one receiver alone. */
export interface FilterWays {
  readonly border: FilterOutcome;
  readonly receiver: FilterOutcome;
}

/** Routers that hold an advertisement of a prefix. */
function holding(p: Prediction, prefix: Prefix): number {
  const own = domainDatabase(p).filter((h) => prefixesOf(h.lsa).some((x) => x.bits === prefix.bits && x.length === prefix.length));
  return new Set(own.flatMap((h) => holdersOf(p, h).map((s) => s.routerIndex))).size;
}

/** Routers that have a prefix in their own table, from OSPF or not. */
const having = (p: Prediction, key: number): number => p.design.routers.filter((_, i) => p.ribOnce(i).some((r) => r.key === key)).length;

/** The edits of several lines, one after the other. */
function together(lines: readonly string[], documents: readonly SourceDocument[]): { edits: Edit[]; refused?: string } {
  let now = documents;
  const edits: Edit[] = [];
  for (const line of lines) {
    const { plan, error } = readEntry(line, now);
    if (!plan) return { edits: [], refused: error?.message ?? `“${line}” cannot be read.` };
    edits.push(...plan.edits);
    now = applyEdits(now, plan.edits);
  }
  return { edits };
}

function outcome(p: Prediction, documents: readonly SourceDocument[], prefix: Prefix, lines: readonly string[], title: string): FilterOutcome {
  const key = prefixId(prefix.bits, prefix.length);
  const { edits, refused } = together(lines, documents);
  const [held, had] = [holding(p, prefix), having(p, key)];
  if (refused !== undefined) return { lines, title, edits: [], holders: [held, held], tables: [had, had], changed: [], outOfReach: [], refused };
  const after = p.edited(designFrom(applyEdits(documents, edits)).design);
  const d = comparePredictions(p, after);
  return {
    lines,
    title,
    edits,
    holders: [held, holding(after, prefix)],
    tables: [had, having(after, key)],
    changed: d.routers.filter((r) => r.routes.length > 0).map((r) => ({ router: r.router, ...routeCounts(r) })),
    outOfReach: d.routers
      .filter((r) => r.outOfReach.length > 0)
      .map((r) => ({ router: r.router, prefixes: r.outOfReach.map((k) => prefixBook.text(k)) })),
  };
}

/**
 * The same prefix kept out at the border routers of an area and at one receiver alone: the one is never in the area's databases,
 * the other is gone from one table and floods on.
 */
export function filterTwoWays(p: Prediction, documents: readonly SourceDocument[], prefix: Prefix, area: number, receiver: string): FilterWays {
  const text = formatPrefix(prefix);
  const name = `without-${text.replace(/[^\w.-]/g, '-')}`;
  const v3 = p.family === 6 ? 'v3 ' : '';
  const borders = p.adjacencies.speakers.filter((s) => p.routing.isBorderRouter(s) && p.routing.areasOf(s).includes(area)).map((s) => s.router.name);
  const made = (on: string): string[] => [
    `prefixes ${name} ${text} on ${on}`,
    `policy ${name} reject on ${on} of ${name}`,
    `policy ${name} accept on ${on}`,
  ];
  const at = borders.join(' ');
  const border =
    borders.length === 0
      ? { ...outcome(p, documents, prefix, [], ''), refused: `No border router leads into area ${areaText(area)}.` }
      : outcome(
          p,
          documents,
          prefix,
          [...made(at), `${v3}filter in area ${areaText(area)} on ${at} by ${name}`],
          `${text} kept out of area ${areaText(area)} at its border`,
        );
  return {
    border,
    receiver: outcome(
      p,
      documents,
      prefix,
      [...made(receiver), `${v3}filter table on ${receiver} by ${name}`],
      `${text} kept out of the own table of ${receiver}`,
    ),
  };
}
