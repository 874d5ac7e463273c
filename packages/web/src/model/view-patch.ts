import type { DesignView } from './view';

/** Lists of many that an edit leaves mostly as they are. */
type ListName = 'routers' | 'segments' | 'pairs';

/** What of a view is another one than before: small parts whole, of the lists only entries that changed. */
export interface ViewPatch {
  readonly parts: Partial<Omit<DesignView, ListName>>;
  readonly lists: { readonly [L in ListName]?: { readonly length: number; readonly changed: readonly (readonly [number, DesignView[L][number]])[] } };
}

/** What leads from one view to the next. Entries that are the same object are the same; small parts are compared by what they say. */
export function patchBetween(before: DesignView, after: DesignView): ViewPatch {
  const changedOf = <T>(a: readonly T[], b: readonly T[]): { length: number; changed: (readonly [number, T])[] } => ({
    length: b.length,
    changed: b.flatMap((x, i): (readonly [number, T])[] => (x === a[i] ? [] : [[i, x]])),
  });
  const { routers, segments, pairs, ...rest } = after;
  const parts = Object.fromEntries(
    Object.entries(rest).filter(([name, value]) => {
      const old = before[name as keyof DesignView];
      return value !== old && JSON.stringify(value) !== JSON.stringify(old);
    }),
  );
  return {
    parts,
    lists: {
      routers: changedOf(before.routers, routers),
      segments: changedOf(before.segments, segments),
      pairs: changedOf(before.pairs, pairs),
    },
  };
}

/** The view after a change. What did not change stays the same object. */
export function patched(before: DesignView, patch: ViewPatch): DesignView {
  const list = <T>(
    old: readonly T[],
    change: { readonly length: number; readonly changed: readonly (readonly [number, T])[] } | undefined,
  ): readonly T[] => {
    if (!change || (change.changed.length === 0 && change.length === old.length)) return old;
    const out = old.slice(0, change.length);
    for (const [i, x] of change.changed) out[i] = x;
    return out;
  };
  return {
    ...before,
    ...patch.parts,
    routers: list(before.routers, patch.lists.routers),
    segments: list(before.segments, patch.lists.segments),
    pairs: list(before.pairs, patch.lists.pairs),
  };
}
