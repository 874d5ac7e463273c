import type { AreaDatabase } from '../lsdb/area-database';
import type { VirtualAdjacency } from '../lsdb/originate';
import { reachedIn, summariesOf } from '../plain/plain-routing';
import { announced, nssaDefault, nssaIds, routesAmong, translatedToo, type Announcing, type RouteLookup } from '../routes/external-saying';
import { learns } from '../routes/local-routes';
import type { Route, Table } from '../routes/route';
import { ownState } from '../routes/routing';
import { activeRanges, externalContext, routingTable, type RoutingTable } from '../routes/routing-table';
import { virtualEnd } from '../routes/virtual-links';
import { HopList, shortestPathTree, type Tree } from '../spf/shortest-path-tree';
import { everywhere, type Content } from './contents';
import type { Originating } from './originating';
import type { Actor, Computed, RunState } from './run-state';
import type { Standing } from './standing';

/** Counts results, so that each has a number of its own whoever keeps it. */
let results = 0;

/** Results that runs share: what a router makes of the same databases in the same stand is the same. */
export class Known {
  readonly computed = new Map<string, Computed>();
  private readonly differences = new Map<Computed, Map<Computed, number>>();

  constructor(private readonly rest: Computed[] = []) {}

  /** For another failure of the same network: what routers have before anything happens is the same. */
  atRestAlone(): Known {
    return new Known(this.rest);
  }

  /** What a router had before anything happened. */
  atRest(index: number, compute: () => Computed): Computed {
    return (this.rest[index] ??= compute());
  }

  private readonly saidAtRest = new WeakMap<readonly Content[], boolean>();

  /** Whether what was calculated at rest is what is said at rest; found once. */
  isSaid(said: readonly Content[], look: () => boolean): boolean {
    let is = this.saidAtRest.get(said);
    if (is === undefined) this.saidAtRest.set(said, (is = look()));
    return is;
  }

  /** Prefixes in which two tables of a router differ. */
  between(a: Computed | undefined, b: Computed): number {
    if (a === b) return 0;
    if (!a) return b.table.routes.size;
    let of = this.differences.get(a);
    if (!of) this.differences.set(a, (of = new Map<Computed, number>()));
    let n = of.get(b);
    if (n === undefined) of.set(b, (n = differing(a.table.routes, b.table.routes)));
    return n;
  }
}

const sameRoute = (a: Route, b: Route): boolean =>
  a.type === b.type &&
  a.metric === b.metric &&
  a.forwardMetric === b.forwardMetric &&
  a.tag === b.tag &&
  (a.hops === b.hops || (a.hops.length === b.hops.length && a.hops.every((h, i) => h === b.hops[i])));

function differing(a: Table, b: Table): number {
  let n = 0;
  for (const [key, r] of b) {
    const old = a.get(key);
    if (!old || !sameRoute(old, r)) n++;
  }
  for (const key of a.keys()) if (!b.has(key)) n++;
  return n;
}

/** When routers calculate, what comes out, and when it is in their tables. */
export class Calculating {
  /** A table was calculated: virtual links look at it. */
  private onTable: (actor: Actor) => void = () => undefined;

  /** Those who announce what other routers hand over: they look again whenever a table changed. */
  private readonly learners: readonly Actor[];

  constructor(
    private readonly run: RunState,
    private readonly originating: Originating,
    private readonly known: Known,
  ) {
    this.learners = run.actors.filter((a) => learns(a.speaker));
  }

  listen(table: (actor: Actor) => void): void {
    this.onTable = table;
  }

  /** A database changed: a calculation is due when the router's schedule says. */
  due(actor: Actor): void {
    const { run } = this;
    const at = actor.spf.changed(run.now);
    if (at === undefined) return;
    const begin = (): void => {
      // One at a time.
      if (run.now < actor.busyUntil) run.later(actor, actor.busyUntil - run.now, () => this.begin(actor));
      else this.begin(actor);
    };
    run.later(actor, at - run.now, begin, 'spf-delay');
  }

  private begin(actor: Actor): void {
    const { run } = this;
    actor.spf.begins(run.now);
    const made = this.compute(actor);
    const { profile } = run;
    const ms = run.draw(profile.spfBase) + made.routers * run.draw(profile.spfPerRouter);
    run.note(actor.node.routerIndex, 'spf');
    run.tell(actor.node.routerIndex, 'calculates', `${made.table.routes.size} routes, ${made.routers} routers in its areas`);
    actor.busyUntil = run.now + ms;
    run.later(actor, ms, () => this.finish(actor, made), 'calculation');
  }

  private finish(actor: Actor, made: Computed): void {
    const before = actor.calculated;
    actor.calculated = made;
    // What comes to the same is said already.
    if (before !== made) this.saySo(actor, made);
    for (const l of this.learners) if (l !== actor) this.run.later(l, this.run.draw(this.run.profile.pacing), () => this.outsideChanged(l));
    this.onTable(actor);
    this.install(actor, made);
  }

  private saySo(actor: Actor, made: Computed): void {
    if (actor.translating !== made.translating) {
      actor.translating = made.translating;
      this.originating.linksChanged(actor);
    }
    this.originating.say(actor, 'told', made.summaries);
    this.originating.say(actor, 'outside', made.outside);
  }

  /** Local routes or what others hand over changed: externals are looked at again, without a calculation. */
  outsideChanged(actor: Actor): void {
    const made = this.compute(actor);
    if (made.translating !== actor.translating) return;
    this.originating.say(actor, 'outside', made.outside);
  }

  /** What the router's present databases and stand amount to. */
  compute(actor: Actor): Computed {
    const key = this.keyOf(actor);
    let made = this.known.computed.get(key);
    if (!made) {
      made = this.computed(actor);
      this.known.computed.set(key, made);
      return made;
    }
    // What others hand over is in no key.
    return learns(actor.speaker) ? { ...made, outside: this.computed(actor).outside } : made;
  }

  private keyOf(actor: Actor): string {
    const { speaker: s } = actor;
    const areas = [...actor.areas.values()].map((a) => `${a.scope}:${a.part(0)}:${a.part(1)}:${a.part(2)}`).sort();
    const domain = this.originating.standing(actor);
    const virtuals = actor.virtuals.map((v) => `${v.peer}/${v.transitArea}/${v.cost}/${v.address}/${v.peerAddress}`).join();
    const up = s.ports.map((p) => Number(p.up)).join('');
    const down = [...actor.node.known].sort().join();
    return `${s.index} ${actor.editions} ${up} ${down} ${domain.summaryAreas(s).join()} ${virtuals} ${Number(actor.translating)} ${areas.join()} ${actor.wide.part(3)}`;
  }

  private computed(actor: Actor): Computed {
    const { ground } = this.run;
    const { speaker: s } = actor;
    const domain = this.originating.standing(actor);
    const external = ground.contents.externals(actor.wide);
    const own = ownState(domain, s, external);
    const table = routingTable(own, actor.hopList);
    const summaries: Content[] = [];
    if (domain.isBorderRouter(s)) {
      const telling = summariesOf(domain, s, table);
      for (const a of own.areas) {
        const { networks, boundaries } = telling(a.id);
        for (const lsa of [...networks, ...boundaries]) summaries.push(ground.contents.of(a.id, s.index, lsa));
      }
    }
    const { said, active, sevens } = this.outside(actor, domain, table);
    const outside = [...said.map((l) => ground.contents.of(everywhere, s.index, l)), ...sevens.map(([a, l]) => ground.contents.of(a, s.index, l))];
    const routers = own.areas.reduce((n, a) => n + a.database.routers.size, 0);
    return {
      id: results++,
      table,
      summaries,
      outside,
      translating: active,
      virtuals: virtualsOf(this.run, actor, domain),
      ranges: activeRanges(own, table.routes),
      routers,
    };
  }

  private outside(actor: Actor, domain: Standing, table: RoutingTable) {
    const { run } = this;
    const { speaker: s } = actor;
    const own = ownState(domain, s, run.ground.contents.externals(actor.wide));
    const context = externalContext(own, actor.hopList, (id) => table.boundary.get(id) ?? []);
    const nssa = own.areas.filter((a) => a.settings.type === 'nssa').map((a) => ({ area: a.id, lsas: a.database.nssa }));
    const routesTo = (keys: ReadonlySet<number>): RouteLookup => routesAmong(keys, (k) => table.table.get(k), own.external, nssa, context);
    const announcing: Announcing = {
      domain,
      speaker: s,
      locals: run.localRoutes(s, actor.node.known),
      inside: () => (k) => table.table.get(k),
      routesTo,
      handed: {
        speakers: run.speakers,
        localRoutes: (x) => run.localRoutes(x, run.nodes[x.routerIndex]?.known ?? new Set()),
        ospfRoute: (x, key) => (x.index === s.index ? table : this.tableOf(x.index))?.routes.get(key),
      },
    };
    const { five, sevens } = announced(announcing);
    const { active, said } = translatedToo(domain, s, five ?? [], (db) => reachedIn(s, db), routesTo);
    const more = nssaIds(domain, s).flatMap((a) =>
      [...(sevens.get(a) ?? []), ...(nssaDefault(domain, s, a, sevens.get(a) ?? []) ?? [])].map((l) => [a, l] as const),
    );
    // A router whose areas carry no type 5 translates nothing out of them either.
    return { said: five ? said : said.filter((l) => l.reason === 'translated'), active, sevens: more };
  }

  /** The table that a router calculated last. */
  private tableOf(index: number): RoutingTable | undefined {
    const actor = this.run.actors[index];
    if (!actor?.node.alive) return undefined;
    return actor.calculated?.table;
  }

  private install(actor: Actor, made: Computed): void {
    const { run } = this;
    const router = actor.node.routerIndex;
    const changed = this.known.between(actor.goal ?? actor.installed, made);
    actor.goal = made;
    if (changed === 0 && actor.installingUntil <= run.now) {
      actor.installed = made;
      return;
    }
    const start = Math.max(run.now, actor.installingUntil);
    actor.installingUntil = start + run.draw(run.profile.installBase) + changed * run.draw(run.profile.installPerPrefix);
    const written = (): void => {
      actor.installed = made;
      if (changed === 0) return;
      run.noteChange(router);
      run.tell(router, 'installs', `${changed} ${changed === 1 ? 'prefix changes' : 'prefixes change'}`);
    };
    run.later(actor, actor.installingUntil - run.now, written, 'installation');
  }
}

/** Ends of virtual links that the router's own databases would let it have. */
function virtualsOf({ ground, speakers }: RunState, actor: Actor, domain: Standing): VirtualAdjacency[] {
  const { speaker: s } = actor;
  return ground.virtualWays.flatMap((w) => {
    if (w.speaker !== s.index) return [];
    const db = domain.database(s, w.transitArea);
    // The far end as it is now: which of its interfaces are up.
    const peer = speakers[w.peer.index] ?? w.peer;
    const end = db && virtualEnd(s, peer, w.transitArea, treeFrom(db, s.routerId), treeFrom(db, peer.routerId));
    return end ? [end] : [];
  });
}

function treeFrom(db: AreaDatabase, routerId: number): Tree | undefined {
  const root = db.graph.vertexOfRouter.get(routerId);
  return root === undefined ? undefined : shortestPathTree(db.graph, root, new HopList(), () => []);
}
