import { readBlueprint } from '@gentle-compass/core/blueprint/blueprint';
import { workIn } from '@gentle-compass/core/blueprint/make';
import { applyEdits } from '@gentle-compass/core/design/edit';
import { documentKind, hostNameOf, type SourceDocument } from '@gentle-compass/core/documents/documents';
import { formatPrefix } from '@gentle-compass/core/prefix/address';
import type { BlueprintView } from '../model/view';

const nothing = { areas: [], title: '', come: [], go: [], change: [], kept: [], edits: [] };

const routersIn = (documents: readonly SourceDocument[]): Map<string, SourceDocument> =>
  new Map(documents.flatMap((d) => (documentKind(d.tree) === 'router' ? [[hostNameOf(d.tree) ?? d.file, d] as const] : [])));

/** What a typed blueprint would lay out in a design, and what of the design it would change. */
export function blueprintView(typed: unknown, documents: readonly SourceDocument[]): BlueprintView {
  const { blueprint, faults } = readBlueprint(typed);
  if (!blueprint) return { ...nothing, faults };
  const work = workIn(blueprint, documents);
  if ('fault' in work) return { ...nothing, faults: [{ field: 'supernet', message: work.fault }] };
  const [before, after] = [routersIn(documents), routersIn(applyEdits(documents, work.edits))];
  const come = [...after.keys()].filter((n) => !before.has(n));
  const go = [...before.keys()].filter((n) => !after.has(n));
  const change = [...after].filter(([n, d]) => before.has(n) && before.get(n)?.tree !== d.tree).map(([n]) => n);
  return {
    faults: [],
    areas: work.areas.map(({ six, ...a }) => ({
      ...a,
      prefix: formatPrefix(a.prefix),
      ...(six ? { six: formatPrefix(six) } : {}),
      full: Math.round((100 * a.parts.reduce((n, p) => n + p.used * 2 ** (32 - p.length), 0)) / 2 ** (32 - a.prefix.length)),
      parts: a.parts.map((p) => ({ purpose: p.purpose, prefix: formatPrefix(p.prefix), used: p.used, left: p.left })),
    })),
    title: `Blueprint: ${blueprint.core} core routers, ${blueprint.areas.length} ${blueprint.areas.length === 1 ? 'area' : 'areas'}, ${work.areas.reduce((n, a) => n + a.routers, 0)} routers`,
    come,
    go,
    change,
    kept: work.kept,
    edits: work.edits,
  };
}
