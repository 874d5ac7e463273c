import { alternatesOf, coverageOf } from '@gentle-compass/core/alternates/alternates';
import { databasesMoved } from '@gentle-compass/core/areas/databases-moved';
import { typeName, typeText } from '@gentle-compass/core/areas/lsa-words';
import { parseFailure } from '@gentle-compass/core/failures/outage';
import { readDemands } from '@gentle-compass/core/formats/read-demands';
import { demandFault, loadsOf } from '@gentle-compass/core/loads/loads';
import { addingLinks, type Damage } from '@gentle-compass/core/planned/added-link';
import { covering, uncoveredOf } from '@gentle-compass/core/planned/covering';
import { demandEdits, withoutDemands } from '@gentle-compass/core/planned/demand-edits';
import { exitsOf, lanDemands } from '@gentle-compass/core/planned/lan-demands';
import { plannedWork, type WorkRefused, type WorkStep, type WorkTarget } from '@gentle-compass/core/planned/planned-work';
import { proposedRisks } from '@gentle-compass/core/planned/proposed-risks';
import { relieve } from '@gentle-compass/core/planned/relieving';
import { worstLoads } from '@gentle-compass/core/planned/worst-loads';
import { formatAddress } from '@gentle-compass/core/prefix/address';
import type { Prediction } from '@gentle-compass/core/predict';
import { Forwarding } from '@gentle-compass/core/reach/forwarding';
import { sweepCases, usualKinds } from '@gentle-compass/core/sweep/cases';
import { takenDown } from '@gentle-compass/core/sweep/sweep';
import type {
  CoverAdviceView,
  CoverageView,
  CoverRow,
  DatabaseRow,
  DamageView,
  DemandsRead,
  LinkAdviceView,
  LoadRow,
  LoadsView,
  ReliefView,
  RiskProposal,
  WatchedViews,
  WorkStepView,
  WorkView,
  WorstView,
} from '../../model/what-if-view';
import { failuresNamed } from '../failing';
import type { Held } from '../held';
import { endNames, pairsWatched, watchedWays, wayOf } from '../watched-ways';

const damageView = ({ broken, cutPairs, longestDetour }: Damage): DamageView => ({ broken, cutPairs, longestDetour: longestDetour ?? null });

/** What follows from a failure, and what would make it harmless: ways, planned work, loads, alternates, a link more. */
export class WhatIfDesk {
  private turn = 0;

  constructor(private readonly held: Held) {}

  /** Stops what is being tried. */
  stop(): void {
    this.turn++;
  }

  /** The ways of what is watched, before and with what is down; of nobody's choice where no pair is named. */
  watched(watch: readonly string[]): WatchedViews {
    const { now, failed } = this.held;
    return watchedWays(now, failed ?? now, watch);
  }

  /** What the databases hold with what is down, against what they held. */
  databases(): DatabaseRow[] {
    const { now, failed } = this.held;
    return databasesMoved(now, failed ?? now).map(({ area, type, ...m }) => ({
      where: area === undefined ? 'everywhere' : `area ${area}`,
      what: `${typeText(type)} ${typeName(type)}`,
      ...m,
    }));
  }

  /** Planned work on a router or a link, step by step, and the plain outage beside it; in both families. */
  planned(word: string, watch: readonly string[]): WorkView | WorkRefused {
    const { held } = this;
    const target = parseFailure(word);
    if (typeof target === 'string') return { refusal: target };
    if (target.kind !== 'router' && target.kind !== 'link') return { refusal: 'Planned work is for a router or a link.' };
    const work: WorkTarget = target.kind === 'router' ? target : { kind: 'link', router: target.router, iface: target.iface };
    const families = held.bothOf(held.now);
    const mine = families.indexOf(held.now);
    const planned = plannedWork(families, held.documents, work);
    if ('refusal' in planned) return planned;
    const { watched } = pairsWatched(held.now, planned.outage.state[mine] ?? held.now, watch);
    const view = ({ state, ...step }: WorkStep): WorkStepView => {
      const f = Forwarding.quickly(state[mine] ?? held.now);
      return { ...step, ways: watched.map((w) => wayOf(f, w)) };
    };
    const rest = Forwarding.quickly(held.now);
    return {
      watched: watched.map((w) => ({ word: w.word, ...endNames(w), before: wayOf(rest, w) })),
      steps: planned.steps.map(view),
      outage: view(planned.outage),
    };
  }

  /** The one link that saves most when something fails, by trying, in slices; `null` when a newer question came. */
  async bestLink(words: readonly string[], report: (tried: number) => void): Promise<LinkAdviceView | null> {
    const { held } = this;
    this.turn++;
    const { good } = failuresNamed(words);
    const found = await held.sliced(addingLinks(held.bothOf(held.now), held.documents, good), () => held.designs + this.turn, report);
    if (!found) return null;
    const { now, best, tried, possible } = found;
    return { now: damageView(now), best: best ? { ...damageView(best), line: best.line, routers: best.routers } : null, tried, possible };
  }

  /** What every interface would carry of the demands of the design, now and with something down. */
  loads(words: readonly string[]): LoadsView {
    const { held } = this;
    const { now } = held;
    const families = held.bothOf(now);
    const { demands } = now.design.settings;
    const rest = loadsOf(families, demands);
    const { good } = failuresNamed(words);
    const then = good.length > 0 ? loadsOf(takenDown(families, new Set(), good).states, demands) : undefined;
    const key = (l: { readonly router: string; readonly iface: string }): string => `${l.router}/${l.iface}`;
    const after = new Map(then?.links.map((l) => [key(l), l]));
    const all = new Map([...rest.links, ...(then?.links ?? [])].map((l) => [key(l), l]));
    const before = new Map(rest.links.map((l) => [key(l), l]));
    return {
      demands: demands.length,
      asked: rest.asked,
      lost: rest.lost,
      lostThen: then?.lost ?? null,
      faults: demands.flatMap((d) => {
        const fault = demandFault(families, d);
        const text = (e: typeof d.from): string => (typeof e === 'number' ? formatAddress(e) : e);
        return fault === undefined ? [] : [`${text(d.from)} to ${text(d.to)}: ${fault}`];
      }),
      exits: exitsOf(now),
      capacities: Object.fromEntries(
        now.design.routers.flatMap((r) =>
          r.interfaces.flatMap((i): [string, number][] =>
            i.bandwidthMbps === undefined || all.has(`${r.name}/${i.name}`) ? [] : [[`${r.name}/${i.name}`, i.bandwidthMbps]],
          ),
        ),
      ),
      rows: [...all].map(([k, l]): LoadRow => ({
        router: l.router,
        iface: l.iface,
        ...otherEnds(now, l.router, l.iface),
        now: before.get(k)?.mbps ?? 0,
        then: then ? (after.get(k)?.mbps ?? 0) : null,
        capacity: l.capacity ?? null,
      })),
    };
  }

  /** The most that each interface would carry in any single failure, in slices; `null` when a newer question came. */
  async worst(report: (done: number, of: number) => void): Promise<WorstView | null> {
    const { held } = this;
    this.turn++;
    const families = held.bothOf(held.now);
    const cases = sweepCases(families, usualKinds);
    let told = 0;
    const found = await held.sliced(
      worstLoads(families, held.now.design.settings.demands, cases),
      () => held.designs + this.turn,
      (done) => {
        if (performance.now() - told < 150) return;
        told = performance.now();
        report(done, cases.length);
      },
    );
    return found ? Object.fromEntries(found) : null;
  }

  /** The least cost of an interface at which fewer interfaces are over capacity; `null`: none is. */
  relief(router: string, iface: string): ReliefView | null {
    const { held } = this;
    const families = held.bothOf(held.now);
    const { demands } = held.now.design.settings;
    const load = loadsOf(families, demands).links.find((l) => l.router === router && l.iface === iface);
    const found = load && relieve(families, held.documents, demands, load);
    return found ? { line: found.line, cost: found.cost, mbps: found.mbps, over: found.over } : null;
  }

  /** Demands out of a table, as edits; what is wrong with it is told by row and column. */
  demandsFrom(file: string, text: string): DemandsRead {
    const { demands, problems } = readDemands(file, text);
    return { edits: demands.length > 0 ? demandEdits(this.held.documents, demands) : [], count: demands.length, problems, note: '' };
  }

  /** So much for each LAN of hosts towards its nearest exit, as edits. */
  demandsOfLans(mbps: number): DemandsRead {
    const { demands, left, exits } = lanDemands(this.held.now, mbps);
    const note =
      exits.length === 0
        ? 'Nothing leaves this design: no router tells OSPF of a default route or of a prefix outside.'
        : left > 0
          ? `${left === 1 ? 'One LAN reaches' : `${left} LANs reach`} no exit.`
          : '';
    return { edits: demands.length > 0 ? demandEdits(this.held.documents, demands) : [], count: demands.length, problems: [], note };
  }

  /** Edits after which nothing is said of traffic. */
  noDemands(): DemandsRead {
    return { edits: withoutDemands(this.held.documents), count: this.held.now.design.settings.demands.length, problems: [], note: '' };
  }

  /** How well next hops are covered by loop-free alternates. */
  coverage(): CoverageView {
    const { now } = this.held;
    const list = alternatesOf(now);
    const by = new Map<string, typeof list>();
    for (const c of list) by.set(c.router, [...(by.get(c.router) ?? []), c]);
    const rows = [...by].map(([router, own]): CoverRow => {
      const { all, covered, link, node } = coverageOf(own);
      return {
        router,
        all,
        link,
        node,
        none: all - covered,
        uncovered: uncoveredOf(own).map((u) => ({ iface: u.iface, to: otherEnds(now, router, u.iface).to.join(', '), prefixes: u.prefixes })),
      };
    });
    return { ...coverageOf(list), rows: rows.sort((a, b) => a.link / a.all - b.link / b.all || (a.router < b.router ? -1 : 1)) };
  }

  /** What link and what cost would cover most, by trying, in slices; `null` when a newer question came. */
  async covering(report: (tried: number) => void): Promise<CoverAdviceView | null> {
    const { held } = this;
    this.turn++;
    const found = await held.sliced(covering(held.now, held.documents), () => held.designs + this.turn, report);
    if (!found) return null;
    const { left, all, tried, possible } = found;
    const best = [found.link, found.cost].flatMap((c) => (c ? [{ kind: c.kind, line: c.line, left: c.left, all: c.all }] : []));
    return { left, all, tried, possible, best };
  }

  /** Parallel cables that no shared risk holds all of. */
  risks(): readonly RiskProposal[] {
    return proposedRisks(this.held.now);
  }
}

/** Who is met on the wire of an interface, and which wire that is. */
function otherEnds(p: Prediction, router: string, iface: string): { readonly to: readonly string[]; readonly segment: number } {
  const index = p.routerIndex(router);
  const at = p.design.routers[index]?.interfaces.findIndex((i) => i.name === iface) ?? -1;
  const segment = p.segments.of[index]?.[at] ?? -1;
  const others = p.segments.list[segment]?.members.filter((m) => m.router !== index) ?? [];
  return { to: others.map((m) => p.design.routers[m.router]?.name ?? ''), segment };
}
