import { keepsTables } from '../compare/keeps-tables';
import { applyEdits, type Edit } from '../design/edit';
import type { SourceDocument } from '../documents/documents';
import { readEntry } from '../entry/entry';
import { designFrom } from '../formats/read-set';
import { formatPrefix, type Prefix } from '../prefix/address';
import { prefixId } from '../prefix/prefix-book';
import type { Prediction } from '../predict';
import { areaText } from './glance';
import { domainDatabase, heldKey, holdersOf } from './held';
import { prefixesOf } from './lsa-words';
import { trialDifference, type TrialDifference } from './trial-difference';

/** What keeping one prefix out in one way does. */
export interface FilterOutcome extends TrialDifference {
  /** Lines of quick entry that make it, in their order. */
  readonly lines: readonly string[];
  readonly title: string;
  readonly edits: readonly Edit[];
  /** Routers that hold an advertisement of it: before and after. */
  readonly holders: readonly [number, number];
  /** Those that have it in their own table; `undefined` in a large design, where tables are made when they are looked at. */
  readonly having: readonly [number, number] | undefined;
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
const having = (p: Prediction, key: number): number | undefined =>
  keepsTables(p) ? p.design.routers.filter((_, i) => p.ribOnce(i).some((r) => r.key === key)).length : undefined;

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

function outcome(
  p: Prediction,
  documents: readonly SourceDocument[],
  { prefix, area }: { readonly prefix: Prefix; readonly area: number },
  lines: readonly string[],
  title: string,
): FilterOutcome {
  const key = prefixId(prefix.bits, prefix.length);
  const { edits, refused } = together(lines, documents);
  const [held, had] = [holding(p, prefix), having(p, key)];
  const both = (x: number | undefined, y: number | undefined): FilterOutcome['having'] => (x === undefined || y === undefined ? undefined : [x, y]);
  if (refused !== undefined)
    return {
      lines,
      title,
      edits: [],
      holders: [held, held],
      having: both(had, had),
      routes: { lost: 0, gained: 0, changed: 0, routers: 0 },
      tables: [],
      outOfReach: [],
      asked: undefined,
      refused,
    };
  const after = p.edited(designFrom(applyEdits(documents, edits)).design);
  const d = trialDifference(p, after, area);
  return {
    lines,
    title,
    edits,
    holders: [held, holding(after, prefix)],
    having: both(had, having(after, key)),
    ...d,
  };
}

/**
 * The same prefix kept out at the border routers of an area and at one receiver alone: the one is never in the area's databases,
 * the other is gone from one table and floods on.
 */
export function filterTwoWays(p: Prediction, documents: readonly SourceDocument[], prefix: Prefix, area: number, receiver: string): FilterWays {
  const text = formatPrefix(prefix);
  const what = { prefix, area };
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
      ? { ...outcome(p, documents, what, [], ''), refused: `No border router leads into area ${areaText(area)}.` }
      : outcome(
          p,
          documents,
          what,
          [...made(at), `${v3}filter in area ${areaText(area)} on ${at} by ${name}`],
          `${text} kept out of area ${areaText(area)} at its border`,
        );
  return {
    border,
    receiver: outcome(
      p,
      documents,
      what,
      [...made(receiver), `${v3}filter table on ${receiver} by ${name}`],
      `${text} kept out of the own table of ${receiver}`,
    ),
  };
}

/** What a filter that is there does: everything against the same network without it. */
export interface FilterEffect extends TrialDifference {
  /** Advertisements that somebody would hold without it; 0: the databases are untouched, and it is about one table alone. */
  readonly kept: number;
}

/**
 * What a filter does as it stands, by taking it off for a look.
 *
 * @param off   the line of quick entry that takes it off
 * @param area  of whose routers some are asked in a large design
 */
export function filterEffect(p: Prediction, documents: readonly SourceDocument[], off: string, area: number): FilterEffect | undefined {
  const { plan } = readEntry(off, documents);
  if (!plan) return undefined;
  const without = p.edited(designFrom(applyEdits(documents, plan.edits)).design);
  const held = (x: Prediction): Set<string> => new Set(domainDatabase(x).map(heldKey));
  const now = held(p);
  return { ...trialDifference(without, p, area), kept: [...held(without)].filter((k) => !now.has(k)).length };
}
