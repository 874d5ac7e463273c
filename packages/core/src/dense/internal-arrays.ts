import type { Speaker } from '../adjacency/speakers';
import type { Domain } from '../lsdb/domain';
import { ownState } from '../routes/routing';
import { insideRoutes } from '../routes/routing-table';
import { Choosers } from './choosers';
import { DenseAreas, type Ground } from './dense-areas';
import { ImportScratch, importsOf, type Making } from './imports';
import { insideOf, wholeOf, type Packed } from './inside';
import type { RootRows } from './offers';
import type { Imports, SummaryRow } from './told';

/** A router's list with what it stands on. */
interface Standing {
  readonly speaker: Speaker;
  readonly roots: readonly RootRows[];
  /** Rows of the areas that it reads, for what is told. */
  readonly said: readonly (readonly SummaryRow[])[];
  readonly list: Packed;
}

const nothingSaid: readonly (readonly SummaryRow[])[] = [];
const same = (a: readonly unknown[], b: readonly unknown[]): boolean => a === b || (a.length === b.length && a.every((x, i) => x === b[i]));

/**
 * Routes inside the system as arrays (RFC 2328 §16.1 to §16.3). Every answer that is kept knows what it stands on; a state
 * that is computed from another one begins with the answers of that one, and makes anew what no longer stands.
 */
export class InternalArrays extends DenseAreas {
  /** Types 3 by border router, by index of the database. */
  readonly rows: (readonly SummaryRow[])[];
  /** What routers choose of all that they are told. */
  readonly choosers: Choosers;
  private readonly importsBy: ({ readonly said: readonly SummaryRow[]; readonly imports: Imports } | undefined)[];
  private readonly insides: (Standing | undefined)[];
  private readonly wholes: (Standing | undefined)[];
  private scratch: ImportScratch | undefined;
  private readonly moved = new Map<Imports, { readonly old: Imports; readonly ids: readonly number[] }>();

  /** @param before  a state in which the same processes stand in the same areas */
  constructor(ground: Ground, before?: InternalArrays) {
    super(ground, before);
    this.rows = this.areas.map((_, i) => before?.rows[i] ?? []);
    this.importsBy = before?.importsBy.slice() ?? [];
    this.insides = before?.insides.slice() ?? [];
    this.wholes = before?.wholes.slice() ?? [];
    this.scratch = before?.scratch;
    this.choosers = new Choosers(this, before?.choosers);
    this.prefixes.id(0, 0);
    for (const s of ground.domain.speakers)
      for (const a of s === before?.domain.speakers[s.index] ? [] : s.instance.areas)
        for (const r of a.ranges) this.prefixes.id(r.prefix.bits, r.prefix.length);
  }

  get domain(): Domain {
    return this.ground.domain;
  }

  /** What border routers tell an area now, by index of its database. */
  imports(index: number): Imports {
    const said = this.rows[index]!;
    const known = this.importsBy[index];
    const area = this.areas[index]!;
    if (known?.said === said && known.imports.networks === area.networks) return known.imports;
    const imports = importsOf(area, said, this.making(), known?.imports);
    this.importsBy[index] = { said, imports };
    return imports;
  }

  private making(): Making {
    if (!this.scratch || this.scratch.prefixCount < this.prefixes.size) this.scratch = new ImportScratch(this.prefixes.size);
    return { scratch: this.scratch, pool: this.pool, movedSince: (now, old) => this.movedSince(now, old) };
  }

  private movedSince(now: Imports, old: Imports): readonly number[] {
    const known = this.moved.get(now);
    if (known?.old === old) return known.ids;
    const ids = now.movedSince(old);
    this.moved.set(now, { old, ids });
    return ids;
  }

  /** Whether classes that nothing is of any more outnumber the others by far: then everything is better made anew. */
  get overgrown(): boolean {
    return this.importsBy.some((x) => {
      const counts = x?.imports.counts;
      return counts !== undefined && counts.length > 512 + 8 * counts.reduce((n, c) => n + (c > 0 ? 1 : 0), 0);
    });
  }

  /** What a router reaches inside its areas. */
  inside(s: Speaker): Packed {
    return this.standing(this.insides, s, nothingSaid, () => insideOf(this, s));
  }

  /** All that a router knows, where it is not a matter of classes. */
  whole(s: Speaker): Packed {
    const said = this.domain.areasOf(s).map((a) => this.rows[this.domain.database(s, a)?.index ?? -1] ?? []);
    return this.standing(this.wholes, s, said, () => wholeOf(this, s, insideRoutes(ownState(this.domain, s, []))));
  }

  /** A list that was made before, where what it stands on is the same. */
  private standing(lists: (Standing | undefined)[], s: Speaker, said: Standing['said'], make: () => Packed): Packed {
    const known = lists[s.index];
    const roots = this.rootsOf(s);
    if (known?.speaker === s && same(known.roots, roots) && same(known.said, said)) return known.list;
    const list = make();
    lists[s.index] = { speaker: s, roots, said, list };
    return list;
  }
}
