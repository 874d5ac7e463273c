import type { Adjacencies } from '../adjacency/settle';
import type { Port, Speaker } from '../adjacency/speakers';
import { backbone, type Area } from '../design/design';
import { plainArea } from '../design/plain';
import { attachedAreas, type AreaDatabase } from './area-database';
import { imports } from './external-lsa';
import { portsInArea, type VirtualAdjacency } from './originate';
import { routerBits, type RouterBits } from './router-links';

/** Whether a router has a full neighbour in an area. */
export const hasFullNeighbor = (adj: Adjacencies, s: Speaker, areaId: number): boolean =>
  portsInArea(s, areaId).some((p) => adj.views[p.index]?.some((v) => v.state === 'full') ?? false);

/** Indexes of the databases that each speaker has a part in; speakers of one area alone share a list. */
function databasesOf(databases: readonly AreaDatabase[], speakers: number): (readonly number[])[] {
  const out = new Array<readonly number[]>(speakers).fill([]);
  for (const db of databases) {
    const alone = [db.index];
    for (const s of db.speakers) {
      const before = out[s];
      out[s] = before && before.length > 0 ? [...before, db.index] : alone;
    }
  }
  return out;
}

/**
 * The routing domain as neighbours, virtual links and translators leave it: who stands in which areas, who is border or
 * boundary router there, and the databases of the areas (RFC 2328 §3, §12; RFC 3509). Both roads settle one of these.
 */
export class Domain {
  /** Ends of virtual links that are up. */
  readonly virtuals: readonly VirtualAdjacency[];
  private held: readonly AreaDatabase[] = [];
  private dbOf: readonly (readonly number[])[] = [];
  private readonly attached: (readonly number[] | undefined)[];
  private readonly backboneOf: (boolean | undefined)[];
  private borders: readonly Speaker[] | undefined;

  /**
   * @param translating  processes that translate for an NSSA; whoever settles them changes this set
   * @param alike        a domain in which the same processes stand in the same areas, with or without neighbours in the backbone as here
   */
  constructor(
    readonly adjacencies: Adjacencies,
    virtuals: readonly VirtualAdjacency[] = [],
    readonly translating: Set<number> = new Set(),
    alike?: Domain,
  ) {
    this.virtuals = virtuals;
    this.attached = alike?.attached ?? [];
    this.backboneOf = alike?.backboneOf ?? [];
    this.dbOf = alike?.dbOf ?? [];
  }

  /** Of version 3: all processes of a domain are of one. */
  get six(): boolean {
    return this.speakers[0]?.instance.version === 3;
  }

  get speakers(): readonly Speaker[] {
    return this.adjacencies.speakers;
  }

  get ports(): readonly Port[] {
    return this.adjacencies.ports;
  }

  /** The databases of all areas: one for each part of an area that is cut in pieces. */
  get databases(): readonly AreaDatabase[] {
    return this.held;
  }

  /** Puts the databases in. @param asBefore  the same processes stand in the same ones as in the domain that this one is like */
  hold(databases: readonly AreaDatabase[], asBefore = false): void {
    this.held = databases;
    if (!asBefore) this.dbOf = databasesOf(databases, this.speakers.length);
  }

  /** The database of a router's part of an area. */
  database(s: Speaker, areaId: number): AreaDatabase | undefined {
    const own = this.dbOf[s.index];
    for (let i = 0; own && i < own.length; i++) {
      const db = this.held[own[i] ?? -1];
      if (db?.areaId === areaId) return db;
    }
    return undefined;
  }

  /** Settings of an area in one router; a plain area where it names none. */
  areaOf(s: Speaker, areaId: number): Area {
    const { areas } = s.instance;
    for (let i = 0; i < areas.length; i++) {
      const a = areas[i];
      if (a?.id === areaId) return a;
    }
    return plainArea(areaId, s.router.defaults);
  }

  /** Areas with an interface of the router, without those that it reaches by virtual link only. */
  attachedOf(s: Speaker): readonly number[] {
    return (this.attached[s.index] ??= attachedAreas(s));
  }

  /** Areas that a router takes part in by ascending id, the backbone by virtual link among them. */
  areasOf(s: Speaker): readonly number[] {
    const attached = this.attachedOf(s);
    return this.virtuals.length === 0 || attached.includes(backbone) || !this.endsVirtualLink(s) ? attached : [backbone, ...attached];
  }

  /** Whether a virtual link that is up ends here. @param through  only one through this transit area */
  endsVirtualLink(s: Speaker, through?: number): boolean {
    return this.virtuals.some((v) => v.speaker === s.index && (through === undefined || v.transitArea === through));
  }

  /** Whether virtual links lead through an area where a router stands: its TransitCapability (RFC 2328 §6, §16.1). */
  isTransit(s: Speaker, areaId: number): boolean {
    if (this.virtuals.length === 0 || areaId === backbone) return false;
    const db = this.database(s, areaId);
    return this.virtuals.some((v) => v.transitArea === areaId && db?.speakers.includes(v.speaker));
  }

  /** An area border router by its border model (RFC 3509 §2, RFC 2328 §3.3). */
  isBorderRouter(s: Speaker): boolean {
    const areas = this.areasOf(s);
    if (areas.length < 2) return false;
    return s.instance.borderModel === 'rfc2328' || areas.includes(backbone);
  }

  /** Area border routers in the order of their speakers. */
  get borderRouters(): readonly Speaker[] {
    return (this.borders ??= this.speakers.filter((s) => this.isBorderRouter(s)));
  }

  /** An AS boundary router: it imports, or translates, and an attached area can carry it. */
  isBoundaryRouter(s: Speaker): boolean {
    return this.translating.has(s.index) || (imports(s) && this.areasOf(s).some((a) => this.areaOf(s, a).type !== 'stub'));
  }

  private hasActiveBackbone(s: Speaker): boolean {
    if (this.virtuals.length > 0 && this.endsVirtualLink(s)) return true;
    return (this.backboneOf[s.index] ??= hasFullNeighbor(this.adjacencies, s, backbone));
  }

  /** Areas whose summaries a router reads (RFC 2328 §16.2, RFC 3509 §2.2). */
  summaryAreas(s: Speaker): readonly number[] {
    const areas = this.areasOf(s);
    if (!this.isBorderRouter(s)) return areas;
    if (this.hasActiveBackbone(s)) return [backbone];
    return s.instance.borderModel === 'rfc3509' ? areas : areas.filter((a) => a === backbone);
  }

  /** Bits of a router's type 1 in an area (RFC 2328 A.4.2, RFC 3101 B). */
  bits(s: Speaker, areaId: number): RouterBits {
    const area = this.areaOf(s, areaId);
    const b = this.isBorderRouter(s);
    return routerBits(
      b,
      area.type !== 'stub' && this.isBoundaryRouter(s),
      this.virtuals.length > 0 && this.endsVirtualLink(s, areaId),
      b && area.type === 'nssa' && area.translatorAlways,
    );
  }
}
