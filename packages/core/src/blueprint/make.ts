import { editsBetween, type Edit } from '../design/edit';
import { Draft, type Json } from '../design/draft';
import { applyEdits } from '../design/edit';
import { localName } from '../documents/shape';
import { designFrom } from '../formats/read-set';
import { families, familyView } from '../design/family';
import { formatPrefix, prefixOf, type Prefix } from '../prefix/address';
import { documentKind, type SourceDocument } from '../documents/documents';
import { readBlueprint, sitePrefixOf, type Blueprint } from './blueprint';
import { givenIn, layOutCampus } from './lay-out';
import { mergeDocuments, type Kept } from './merge';
import { blocksOf, planAddresses, sixBlocksOf, type AreaPlan } from './plan';

/** What a blueprint would make of a design. */
export interface BlueprintWork {
  readonly areas: readonly AreaPlan[];
  /** Documents that come, go and change, the settings that keep the blueprint among them. */
  readonly edits: readonly Edit[];
  readonly kept: readonly Kept[];
}

/** The blueprint that a design was made from, with the blocks and addresses given out then; `undefined` without. */
export function blueprintOf(documents: readonly SourceDocument[]): Blueprint | undefined {
  for (const d of documents) {
    if (documentKind(d.tree) !== 'settings') continue;
    const settings = Object.entries(d.tree).find(([k]) => localName(k) === 'settings')?.[1] as Json | undefined;
    if (settings && 'blueprint' in settings) return readBlueprint(settings.blueprint).blueprint;
  }
  return undefined;
}

/** Documents that a blueprint makes, with the plan, when its addresses fit. */
export function makeCampus(
  b: Blueprint,
  avoid: readonly Prefix[] = [],
): { documents: SourceDocument[]; areas: readonly AreaPlan[] } | { fault: string } {
  const plan = planAddresses(b, avoid);
  if ('fault' in plan) return plan;
  return { documents: layOutCampus(b, plan.areas, avoid), areas: plan.areas };
}

/** Subnets of a design that its blueprint did not give out. */
function byHand(documents: readonly SourceDocument[], base: readonly SourceDocument[]): Prefix[] {
  const subnets = (list: readonly SourceDocument[]): Prefix[] =>
    families.flatMap((f) =>
      familyView(designFrom(list).design, f).routers.flatMap((r) => r.interfaces.flatMap((i) => i.addresses.map((a) => prefixOf(a.bits, a.length)))),
    );
  const given = new Set(subnets(base).map(formatPrefix));
  return subnets(documents).filter((p) => !given.has(formatPrefix(p)));
}

/**
 * Works a blueprint into a design: made anew, or changed since it was made the last time. What was edited by hand stays, and
 * is told where the blueprint would have changed it too.
 */
export function workIn(b: Blueprint, documents: readonly SourceDocument[]): BlueprintWork | { fault: string } {
  const before = blueprintOf(documents);
  const base = before && makeCampus(before);
  if (base && 'fault' in base) return base;
  const { blocks, given, blocks6, given6 } = before ?? {};
  const known = { ...(blocks && { blocks }), ...(given && { given }), ...(blocks6 && { blocks6 }), ...(given6 && { given6 }) };
  const made = makeCampus({ ...b, ...known }, byHand(documents, base?.documents ?? []));
  if ('fault' in made) return made;
  const { documents: merged, kept } = mergeDocuments(base?.documents ?? [], documents, made.documents);
  const first = editsBetween(documents, merged);
  const draft = new Draft(applyEdits(documents, first));
  draft.settings().blueprint = {
    ...b,
    blocks: blocksOf(made.areas),
    given: givenIn(made.documents, 4),
    ...(sitePrefixOf(b) ? { blocks6: sixBlocksOf(made.areas), given6: givenIn(made.documents, 6) } : {}),
  };
  return { areas: made.areas, edits: [...first, ...draft.edits()], kept };
}
