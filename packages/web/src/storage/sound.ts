import * as v from 'valibot';
import type { DesignRow, DocumentRow, StepRow, StoredDesign } from './kept';

/** What the store holds of one design, row by row, whatever that is. */
export interface RawDesign {
  readonly row: unknown;
  readonly documents: readonly unknown[];
  readonly steps: readonly unknown[];
}

/** A design as it came out of the store, and what of it is damaged, in sentences. */
export interface Opened {
  readonly design: StoredDesign;
  readonly damage: readonly string[];
}

const tree = v.pipe(
  v.custom<Record<string, unknown>>((x) => typeof x === 'object' && x !== null && !Array.isArray(x)),
  v.check((x) => Object.keys(x).length > 0),
);
const whole = v.pipe(v.number(), v.integer(), v.minValue(0));
const rowShape = v.object({
  id: v.string(),
  name: v.string(),
  updated: v.number(),
  revision: whole,
  position: whole,
  files: v.array(v.string()),
  variantOf: v.optional(v.string()),
});
const documentShape = v.object({
  design: v.string(),
  file: v.string(),
  document: v.object({ file: v.string(), tree, encoding: v.optional(v.literal('xml')) }),
});
const editShape = v.looseObject({ file: v.string(), at: v.array(v.union([v.string(), v.number()])) });
const stepShape = v.looseObject({ n: whole, title: v.string(), edits: v.array(editShape), made: v.optional(v.number()) });

const textOf = (x: unknown, member: string): string | undefined => {
  const value = typeof x === 'object' && x !== null ? (x as Record<string, unknown>)[member] : undefined;
  return typeof value === 'string' ? value : undefined;
};

/** Whether a design's own row is as it should be. */
export const isSoundRow = (row: unknown): row is DesignRow => v.is(rowShape, row);

/** The steps of a history, one after the other from the first; `undefined` where one is missing or damaged. */
function historyOf(steps: readonly unknown[]): StoredDesign['history'] | undefined {
  const sound = steps.filter((s): s is StepRow => v.is(stepShape, s)).sort((a, b) => a.n - b.n);
  if (sound.length !== steps.length || sound.some((s, n) => s.n !== n)) return undefined;
  return sound.map(({ title, edits, effect, made }) => ({ title, edits, ...(effect ? { effect } : {}), ...(made === undefined ? {} : { made }) }));
}

/**
 * Puts a design together from its rows. What is whole is there; what is missing, of a wrong type or does not fit the rest is
 * told, one sentence for each.
 */
export function putTogether(id: string, { row, documents, steps }: RawDesign): Opened {
  const damage: string[] = [];
  const sound = v.is(rowShape, row) ? row : undefined;
  if (!sound) damage.push('What it says of itself (its name, its files, where its history stands) is damaged.');
  const good = documents.filter((d): d is DocumentRow => v.is(documentShape, d) && d.file === d.document.file);
  for (const d of documents) if (!good.includes(d as DocumentRow)) damage.push(`The document ${textOf(d, 'file') ?? 'without a name'} is damaged.`);
  const by = new Map(good.map((d) => [d.file, d.document]));
  const listed = sound?.files ?? [...by.keys()].sort();
  const named = new Set(documents.map((d) => textOf(d, 'file')));
  for (const f of listed) if (!named.has(f)) damage.push(`The document ${f} is missing.`);
  for (const f of by.keys()) if (!listed.includes(f)) damage.push(`The document ${f} stands beside it, and the design does not list it.`);
  const history = historyOf(steps);
  const position = sound?.position ?? 0;
  if (!history) damage.push('Its history is damaged: steps are missing or cannot be read.');
  else if (position > history.length) damage.push(`Its history ends after ${history.length} of ${position} steps.`);
  const usable = damage.length === 0 && history ? history : [];
  return {
    damage,
    design: {
      id,
      name: sound?.name ?? textOf(row, 'name') ?? 'A design without a name',
      documents: listed.flatMap((f) => by.get(f) ?? []),
      // Undoing on documents that are not all there would make something that never was.
      history: usable,
      position: damage.length === 0 ? position : 0,
      updated: sound?.updated ?? 0,
      revision: sound?.revision ?? 0,
      ...(sound?.variantOf === undefined ? {} : { variantOf: sound.variantOf }),
    },
  };
}
