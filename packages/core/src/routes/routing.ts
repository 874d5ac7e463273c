import type { Speaker } from '../adjacency/speakers';
import { backbone, type Area, type Design } from '../design/design';
import { interfaceUp, type Outage } from '../failures/outage';
import type { AreaDatabase } from '../lsdb/area-database';
import type { Domain } from '../lsdb/domain';
import type { ExternalLsa } from '../lsdb/lsa';
import type { VirtualAdjacency } from '../lsdb/originate';
import type { Ipv4Prefix } from '../prefix/ipv4';
import { HopList, type Tree } from '../spf/shortest-path-tree';
import { exitsFor, type ExitSeen } from './external';
import { handing, type Handing } from './handing-over';
import { directRoutes, otherRoutes, staticRoutes, type LocalRoute } from './local-routes';
import type { Table } from './route';
import { activeRanges, externalContext, routingTable, type OwnState, type RoutingTable } from './routing-table';

/** Something that looked back and did not come to rest within its bound. */
export type Unsettled = 'virtual-links' | 'summaries' | 'externals';

/** What a router holds of the databases of a domain that has come to rest. */
export function ownState(domain: Domain, s: Speaker, external: readonly ExternalLsa[]): OwnState {
  const isBorderRouter = domain.isBorderRouter(s);
  const reads = domain.summaryAreas(s);
  return {
    speaker: s,
    isBorderRouter,
    areas: domain.areasOf(s).flatMap((id) => {
      const database = domain.database(s, id);
      if (!database) return [];
      return [
        { id, settings: domain.areaOf(s, id), database, readsSummaries: reads.includes(id), isTransit: isBorderRouter && domain.isTransit(s, id) },
      ];
    }),
    virtuals: domain.virtuals.filter((v) => v.speaker === s.index),
    external,
  };
}

/** Routes that a router has without any other one: direct and valid static. */
export function plainRoutesOf(design: Design, outage: Outage, routerIndex: number): LocalRoute[] {
  const router = design.routers[routerIndex];
  if (!router) return [];
  const direct = directRoutes(design, outage, routerIndex);
  const up = (name: string): boolean =>
    interfaceUp(
      design,
      outage,
      routerIndex,
      router.interfaces.findIndex((i) => i.name === name),
    );
  return [...direct, ...staticRoutes(router, direct, up)];
}

/** Routes of a router that are not from OSPF: direct, valid static, other. */
export function localRoutesOf(design: Design, outage: Outage, s: Speaker): LocalRoute[] {
  const known = plainRoutesOf(design, outage, s.routerIndex);
  return [...known, ...otherRoutes(s, known)];
}

/**
 * The settled databases of a whole design, and every router's readable table from its own part of them, made when asked
 * for. What settles them is the business of the roads.
 */
export abstract class Routing {
  private readonly tables: (RoutingTable | undefined)[] = [];
  private readonly locals: (readonly LocalRoute[] | undefined)[] = [];

  constructor(
    readonly design: Design,
    readonly outage: Outage,
    /** By process; states that are computed from one another share them. */
    protected readonly hopLists: (HopList | undefined)[] = [],
  ) {}

  abstract readonly domain: Domain;
  /** What did not come to rest. */
  abstract readonly unsettled: readonly Unsettled[];
  /** Types 5 that a router holds: one list for all of a flooding scope. */
  abstract externals(s: Speaker): readonly ExternalLsa[];
  /** Prefixes that a router reaches inside one of its areas. */
  abstract insideOf(s: Speaker, areaId: number): Ipv4Prefix[];

  get virtuals(): readonly VirtualAdjacency[] {
    return this.domain.virtuals;
  }

  get databases(): readonly AreaDatabase[] {
    return this.domain.databases;
  }

  areaOf(s: Speaker, areaId: number): Area {
    return this.domain.areaOf(s, areaId);
  }

  areasOf(s: Speaker): readonly number[] {
    return this.domain.areasOf(s);
  }

  database(s: Speaker, areaId: number): AreaDatabase | undefined {
    return this.domain.database(s, areaId);
  }

  isBorderRouter(s: Speaker): boolean {
    return this.domain.isBorderRouter(s);
  }

  isBoundaryRouter(s: Speaker): boolean {
    return this.domain.isBoundaryRouter(s);
  }

  /** A router's hops: `hops` of its routes and trees are places in this list. */
  hopList(s: Speaker): HopList {
    return (this.hopLists[s.index] ??= new HopList());
  }

  private calculated(s: Speaker): RoutingTable {
    return routingTable(ownState(this.domain, s, this.externals(s)), this.hopList(s));
  }

  private kept(s: Speaker): RoutingTable {
    return (this.tables[s.index] ??= this.calculated(s));
  }

  /** Ways of a router to every boundary router, area by area. */
  boundary(s: Speaker): RoutingTable['boundary'] {
    return this.kept(s).boundary;
  }

  /** Every route that OSPF computed in a router. */
  table(s: Speaker): Table {
    return this.kept(s).routes;
  }

  /** The same table, made for one look and not kept, unless it is kept already. */
  tableOnce(s: Speaker): Table {
    return (this.tables[s.index] ?? this.calculated(s)).routes;
  }

  /** Every exit that a router could take for a prefix, by its key; the one that it takes comes first. */
  exits(s: Speaker, key: number): ExitSeen[] {
    const own = ownState(this.domain, s, this.externals(s));
    const { table, boundary } = this.kept(s);
    const nssa = own.areas.filter((a) => a.settings.type === 'nssa').map((a) => ({ area: a.id, lsas: a.database.nssa }));
    return exitsFor(
      key,
      (k) => table.get(k),
      own.external,
      nssa,
      externalContext(own, this.hopList(s), (id) => boundary.get(id) ?? []),
    );
  }

  /** Whether a router has a prefix from inside the system, by its key: then it takes none from outside. */
  hasInside(s: Speaker, key: number): boolean {
    return this.kept(s).table.has(key);
  }

  /** The router's tree through one of its areas. */
  tree(s: Speaker, areaId: number): Tree | undefined {
    return this.kept(s).trees.get(areaId);
  }

  /** Prefixes of own ranges in force, by key, of areas where a part is reachable inside. */
  activeRanges(s: Speaker, table: Table): Map<number, { area: number; advertise: boolean }> {
    return activeRanges(ownState(this.domain, s, []), table);
  }

  /** Whether a route that another router hands over stands, as everything came to rest. */
  handing(s: Speaker, route: LocalRoute): Handing {
    return handing(
      {
        speakers: this.domain.speakers,
        localRoutes: (x) => this.localRoutes(x),
        ospfRoute: (x, key) => this.table(x).get(key),
      },
      s,
      route,
    );
  }

  /** Routes of a router that are not from OSPF. */
  localRoutes(s: Speaker): readonly LocalRoute[] {
    return (this.locals[s.index] ??= localRoutesOf(this.design, this.outage, s));
  }
}

/** Prefixes of a table that lie inside an area. */
export const insideArea = (table: Table, areaId: number): Ipv4Prefix[] =>
  [...table.values()].flatMap((r) => (r.type === 'intra-area' && r.area === areaId ? [{ bits: r.bits, length: r.length }] : []));

/** The backbone's id, for those who look for virtual links. */
export const linksVirtually = (s: Speaker): boolean => s.instance.areas.some((a) => a.id === backbone && a.virtualLinks.length > 0);
