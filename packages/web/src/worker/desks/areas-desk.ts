import { compareDatabases, type HeldByTwo } from '@gentle-compass/core/areas/databases-differ';
import { filterEffect, filterTwoWays, type FilterEffect, type FilterWays } from '@gentle-compass/core/areas/filter-trial';
import { floodingReach } from '@gentle-compass/core/areas/flooding';
import { areasAtAGlance, type AreaGlance } from '@gentle-compass/core/areas/glance';
import { databaseOf, domainDatabase, heldKey, type Held as HeldLsa } from '@gentle-compass/core/areas/held';
import { lsaFields, originsOf, routesOn } from '@gentle-compass/core/areas/lsa-detail';
import { metricOf, prefixesOf, routerNamed, saysWhat, typeName, typeOf, typeText } from '@gentle-compass/core/areas/lsa-words';
import {
  circles,
  exitsAt,
  importing,
  nssaTranslators,
  outsidePrefixes,
  silenced,
  stubBorders,
  type ExitsAt,
} from '@gentle-compass/core/areas/from-outside';
import { policyFlows, type PolicyFlow } from '@gentle-compass/core/areas/policy-flow';
import { prefixForms, type PrefixInArea } from '@gentle-compass/core/areas/prefix-forms';
import { tryingTypes, type TypeTrial } from '@gentle-compass/core/areas/type-trial';
import type { Speaker } from '@gentle-compass/core/adjacency/speakers';
import { applyEdits, type Edit } from '@gentle-compass/core/design/edit';
import { prefixNumber } from '@gentle-compass/core/documents/leaf-types';
import { designFrom } from '@gentle-compass/core/formats/read-set';
import { lsaKey } from '@gentle-compass/core/lsdb/lsa-body';
import { comparePrefixes, formatPrefix } from '@gentle-compass/core/prefix/address';
import { prefixId } from '@gentle-compass/core/prefix/prefix-book';
import type { AdvertisementRow, AdvertisementView, OutsideView } from '../../model/view';
import type { Held } from '../held';
import { linesOf } from '../origin-lines';
import { countedUpTo } from '../views';

/** Area by area, type by type, prefixes by their bits; what brings none stays in the order of the routers. */
function inOrder(a: HeldLsa, b: HeldLsa): number {
  if (a.area !== b.area) return (a.area ?? Infinity) - (b.area ?? Infinity);
  const types = typeOf(a.lsa) - typeOf(b.lsa);
  if (types !== 0 || a.lsa.type === 1 || b.lsa.type === 1) return types;
  const [[x], [y]] = [prefixesOf(a.lsa), prefixesOf(b.lsa)];
  return x && y ? comparePrefixes(x, y) : 0;
}

/** Areas, what each router knows, and how far it goes. */
export class AreasDesk {
  constructor(private readonly held: Held) {}

  /** Every area at one look. */
  glance(): AreaGlance[] {
    return areasAtAGlance(this.held.now);
  }

  /** What every other type of an area would do; `null` when a newer state came. */
  async types(area: number): Promise<TypeTrial[] | null> {
    const { now, documents } = this.held;
    return (await this.held.sliced(tryingTypes(now, documents, area))) ?? null;
  }

  private speaker(router: string | undefined): Speaker | undefined {
    const { now } = this.held;
    return router === undefined ? undefined : now.speakersOf(now.routerIndex(router))[0];
  }

  /**
   * Advertisements of one router, of two side by side, or, without any, of the whole domain.
   *
   * @param beside  the router that the first one is held against
   */
  database(router?: string, beside?: string): AdvertisementRow[] {
    const { now } = this.held;
    const [first, second] = [this.speaker(router), this.speaker(beside)];
    if (first && second)
      return compareDatabases(now, first, second)
        .sort((a, b) => inOrder(a.held, b.held))
        .map((x) => this.row(x.held, x));
    if (router !== undefined && !first) return [];
    return (first ? databaseOf(now, first) : domainDatabase(now)).sort(inOrder).map((h) => this.row(h));
  }

  private row(held: HeldLsa, two?: HeldByTwo): AdvertisementRow {
    const { now } = this.held;
    const { type, id } = lsaKey(held.lsa);
    return {
      key: heldKey(held),
      type: typeText(type),
      name: typeName(type),
      area: held.area ?? null,
      router: routerNamed(now, held.lsa.adv),
      id,
      says: saysWhat(now, held.lsa),
      prefixes: prefixesOf(held.lsa).map(formatPrefix).join(' '),
      metric: metricOf(held.lsa) ?? null,
      ...(two ? { by: two.by, why: two.why } : {}),
    };
  }

  /** One advertisement: its fields, the lines that made it, how far it goes, and what of a router's table stands on it. */
  advertisement(key: string, router?: string): AdvertisementView | null {
    const { now } = this.held;
    const held = domainDatabase(now).find((h) => heldKey(h) === key);
    if (!held) return null;
    const speaker = this.speaker(router);
    const type = typeOf(held.lsa);
    return {
      key,
      type: typeText(type),
      name: typeName(type),
      area: held.area ?? null,
      router: routerNamed(now, held.lsa.adv),
      says: saysWhat(now, held.lsa),
      fields: lsaFields(now, held.lsa),
      lines: originsOf(now, held).flatMap((o) => linesOf(this.held, o)),
      reach: floodingReach(now, held),
      routes: speaker ? routesOn(now, speaker, held) : [],
    };
  }

  /** What enters from outside, who translates, what stands at stub borders, and the circles that redistribution can make. */
  outside(): OutsideView {
    const { now } = this.held;
    return {
      prefixes: outsidePrefixes(now),
      translators: nssaTranslators(now),
      borders: stubBorders(now),
      importing: importing(now),
      silenced: silenced(now),
      circles: circles(now),
    };
  }

  /** Which exit wins for a prefix at each router; in a large design at those that stand between areas, and at the chosen one. */
  exits(prefix: string, router?: string): ExitsAt[] {
    const { now } = this.held;
    const p = prefixNumber.read(prefix);
    if (!p) return [];
    const few = now.design.routers.length <= countedUpTo;
    return now.adjacencies.speakers
      .filter((s) => few || s.router.name === router || now.routing.isBorderRouter(s) || now.routing.isBoundaryRouter(s))
      .map((s) => exitsAt(now, s, prefixId(p.bits, p.length)));
  }

  /**
   * What each statement of a router's policies does with the prefixes that are there.
   *
   * @param edits  as if these were made
   */
  flows(router: string, edits: readonly Edit[] = []): PolicyFlow[] {
    const { now, documents } = this.held;
    const p = edits.length === 0 ? now : now.edited(designFrom(applyEdits(documents, edits)).design);
    return p.speakersOf(p.routerIndex(router)).flatMap((s) => policyFlows(p, s));
  }

  /** What a filter of a router does as it stands: in which tables something is missing for it, and whether the databases are untouched. */
  effect(router: string, off: string, area: number | undefined): FilterEffect | null {
    const { now, documents } = this.held;
    const own = this.speaker(router);
    return filterEffect(now, documents, off, area ?? (own ? now.routing.areasOf(own)[0] : undefined) ?? 0) ?? null;
  }

  /** One prefix kept out of an area at its border, and at one receiver alone; `null` where the text is no prefix. */
  ways(prefix: string, area: number, receiver: string): FilterWays | null {
    const p = prefixNumber.read(prefix);
    return p && prefix.includes('/') ? filterTwoWays(this.held.now, this.held.documents, p, area, receiver) : null;
  }

  /** What every area knows of a prefix; `null` where the text is none. */
  forms(prefix: string): PrefixInArea[] | null {
    const p = prefixNumber.read(prefix);
    return p && prefix.includes('/') ? prefixForms(this.held.now, { bits: p.bits, length: p.length }) : null;
  }
}
