import { refusals } from '../adjacency/hello-match';
import { speakersOf } from '../adjacency/speakers';
import type { Design } from '../design/design';
import { designDifference } from '../design/difference';
import { familyView } from '../design/family';
import { attachedAreas } from '../lsdb/area-database';
import { noOutage, placeKey, type FailureSpec, formatFailure } from '../failures/outage';
import type { VirtualAdjacency } from '../lsdb/originate';
import { Calculating, Known } from './calculating';
import { everywhere, Store, type Content } from './contents';
import { Flooding } from './flooding';
import { outageOf, type Ground } from './ground';
import { Neighbours } from './neighbours';
import { Originating } from './originating';
import { RunState, type Actor, type Computed, type Moments, type RunEvent } from './run-state';
import { spfDelay } from './spf-delay';
import type { TimingProfile } from './timing-profile';

/** One thing that happens to the network, in ms from the first. */
export type Happening =
  | { readonly ms: number; readonly kind: 'fail' | 'restore'; readonly spec: FailureSpec }
  /** Documents change: a cost, a timer, a drain. */
  | { readonly ms: number; readonly kind: 'edit'; readonly design: Design; readonly words: string };

/** A happening in words. */
export const happeningWords = (h: Happening): string => (h.kind === 'edit' ? h.words : formatFailure(h.spec));

/** A simulation whose runs go on for longer than anything should is given up. */
const mostEvents = 3_000_000;

/** One run: a network at rest, what happens to it, and all that follows, deed by deed. */
export class Run {
  readonly state: RunState;
  readonly calculating: Calculating;
  private readonly flooding: Flooding;
  private readonly originating: Originating;
  private readonly neighbours: Neighbours;
  /** Failures that are in force, in their order. */
  private failed: readonly FailureSpec[];

  constructor(
    readonly ground: Ground,
    profile: TimingProfile,
    seed: number,
    readonly happenings: readonly Happening[],
    down: readonly FailureSpec[] = [],
    known = new Known(),
  ) {
    this.failed = down;
    const state = new RunState(ground, profile, seed);
    this.state = state;
    this.flooding = new Flooding(state);
    this.originating = new Originating(state, this.flooding);
    this.calculating = new Calculating(state, this.originating, known);
    this.neighbours = new Neighbours(state, this.flooding, this.originating);
    this.flooding.listen({
      changed: (actor) => this.calculating.due(actor),
      own: (actor, received) => this.originating.reclaim(actor, received),
    });
    this.originating.listen((actor) => this.calculating.due(actor));
    this.calculating.listen((actor) => this.virtualLinks(actor));
    for (const actor of state.actors) if (actor.node.alive) this.atRest(actor, known);
    for (const h of happenings) state.queue.put(h.ms, () => this.happen(h));
  }

  private atRest(actor: Actor, known: Known): void {
    const rest = known.atRest(actor.index, () => this.calculating.compute(actor));
    actor.calculated = rest;
    actor.installed = rest;
    actor.goal = rest;
    for (const [source, said] of [
      ['told', rest.summaries],
      ['outside', rest.outside],
    ] as const)
      if (known.isSaid(said, () => this.holdsJust(actor, actor.own[source], said))) actor.said[source] = said;
  }

  /** Whether what a router says of its own is just that. */
  private holdsJust(actor: Actor, own: ReadonlySet<number>, said: readonly Content[]): boolean {
    return own.size === said.length && said.every((c) => actor.get(c.name.scope, c.name.id)?.content === c && own.has(c.name.id));
  }

  /** Does the next thing. @returns  false: all is at rest, or it never comes to rest */
  step(): boolean {
    return this.state.queue.done < mostEvents && this.state.queue.step();
  }

  /** Runs until everything up to a moment is done, that moment included. */
  toMoment(ms: number): this {
    while (this.state.queue.nextAt <= ms && this.step());
    return this;
  }

  /** Runs to the end. */
  toEnd(): this {
    while (this.step());
    return this;
  }

  get comesToRest(): boolean {
    return this.state.queue.size === 0;
  }

  get moments(): readonly Moments[] {
    return this.state.moments;
  }

  get events(): readonly RunEvent[] {
    return this.state.events ?? [];
  }

  private happen(h: Happening): void {
    const { state, ground } = this;
    state.happened = state.now;
    state.chain = undefined;
    if (h.kind === 'edit') {
      this.edit(h.design, h.words);
      return;
    }
    const { kind, spec } = h;
    const word = formatFailure(spec);
    if (kind === 'fail') this.failed = [...this.failed, spec];
    else {
      const at = this.failed.findLastIndex((f) => formatFailure(f) === word);
      this.failed = this.failed.filter((_, i) => i !== at);
    }
    const router = 'router' in spec ? spec.router : '';
    state.events?.push({ ms: state.now, router, kind: kind === 'fail' ? 'fails' : 'returns', detail: word });
    const before = state.outage;
    state.outage = outageOf(ground.design, ground.segments, this.failed).outage;
    const { outage } = state;
    for (const node of state.nodes) {
      const alive = !outage.routers.has(node.routerIndex);
      if (node.alive && !alive) this.switchOff(node.routerIndex);
      else if (!node.alive && alive) this.switchOn(node.routerIndex);
    }
    this.wires();
    this.interfaces(before.ports, outage.ports);
    state.changed?.(-1);
  }

  /** Documents change on routers that run: what they say of themselves, of their interfaces and areas, from now on. */
  private edit(design: Design, words: string): void {
    const { state, ground } = this;
    const view = familyView(design, ground.family);
    const { speakers, ports } = speakersOf(view, ground.segments, noOutage);
    for (const p of ports) state.able[p.index] = Number(p.up);
    for (const f of ground.facings) {
      const [p, q] = [ports[f.port], ports[f.peer]];
      state.hears[f.index] = p && q && refusals(p, q).length === 0 ? 1 : 0;
    }
    const edited: Actor[] = [];
    const difference = designDifference(ground.design, view);
    for (const r of difference.reach === 'whole' ? [] : difference.routers) {
      state.events?.push({ ms: state.now, router: view.routers[r]?.name ?? '', kind: 'edit', detail: words });
      for (const actor of state.nodes[r]?.actors ?? []) {
        const next = speakers[actor.index];
        if (!next) continue;
        // What was heard last, was said by the intervals of before.
        for (const p of actor.speaker.ports) this.neighbours.stir(p.segment);
        const known = actor.speaker.ports;
        const own = next.ports.map((p, n) => p.standing(known[n]?.up ?? false, false));
        actor.speaker = { ...next, ports: own };
        state.speakers[actor.index] = actor.speaker;
        for (const p of own) state.ports[p.index] = p;
        actor.editions++;
        actor.spf = spfDelay(next.instance.spfSchedule);
        edited.push(actor);
      }
    }
    this.wires();
    for (const actor of edited) {
      state.note(actor.node.routerIndex, 'detected');
      state.cause(actor.node.routerIndex, words);
      if (!actor.node.alive) continue;
      this.portsOf(actor);
      for (const p of actor.speaker.ports) this.neighbours.portEdited(p.index);
      this.originating.linksChanged(actor);
      this.calculating.due(actor);
      state.changed?.(actor.node.routerIndex);
    }
    state.changed?.(-1);
  }

  /** What passes and what does not, as of now. */
  private wires(): void {
    const { state, ground } = this;
    const stirred = new Set<number>();
    const passed = ground.facings.map((f) => state.passes(f));
    for (const p of state.ports) {
      const place = placeKey(p.routerIndex, p.ifaceIndex);
      const dead = state.outage.routers.has(p.routerIndex);
      const there = Number(state.able[p.index] === 1 && !dead && ground.carried(p, state.outage));
      const severed = Number(state.outage.severed.has(place));
      if (state.there[p.index] !== there || state.severed[p.index] !== severed) stirred.add(p.segment);
      state.there[p.index] = there;
      state.severed[p.index] = severed;
    }
    for (const r of this.justTurned.splice(0)) for (const a of state.nodes[r]?.actors ?? []) for (const p of a.speaker.ports) stirred.add(p.segment);
    for (const f of ground.facings) if (passed[f.index] && !state.passes(f)) this.neighbours.watchBfd(f);
    for (const s of stirred) this.neighbours.stir(s);
  }

  private readonly justTurned: number[] = [];

  /** Interfaces that come or go, OSPF or not: their router hears of it after the time that carriers take. */
  private interfaces(before: ReadonlySet<string>, after: ReadonlySet<string>): void {
    const { state } = this;
    const moved = new Map<number, string[]>();
    const note = (place: string): unknown => {
      const r = Number(place.slice(0, place.indexOf('/')));
      return moved.get(r)?.push(place) ?? moved.set(r, [place]);
    };
    for (const p of before) if (!after.has(p)) note(p);
    for (const p of after) if (!before.has(p)) note(p);
    for (const [r, places] of moved) {
      const node = state.nodes[r];
      if (!node?.alive) continue;
      for (const place of places) {
        const ms = state.draw(state.profile.carrierDetect);
        state.put(state.now + ms, () => this.perceive(r, place, state.outage.ports.has(place)), 'carrier', this.placeWords(place));
      }
    }
  }

  private placeWords(place: string): string {
    const [r, i] = place.split('/').map(Number);
    const router = this.ground.design.routers[r ?? -1];
    return `${router?.name ?? ''}, ${router?.interfaces[i ?? -1]?.name ?? ''}`;
  }

  /** A router hears that an interface of its own went down or came up. */
  private perceive(r: number, place: string, isDown: boolean): void {
    const { state, ground } = this;
    const node = state.nodes[r];
    if (!node?.alive || node.known.has(place) === isDown) return;
    if (isDown) node.known.add(place);
    else node.known.delete(place);
    state.note(r, 'detected');
    const name = ground.design.routers[r]?.interfaces[Number(place.slice(place.indexOf('/') + 1))]?.name ?? '';
    state.cause(r, `the carrier of ${name} of ${ground.design.routers[r]?.name ?? ''}`);
    state.tell(r, isDown ? 'port-down' : 'port-up', name);
    state.changed?.(r);
    for (const actor of node.actors) this.portsOf(actor);
    const ms = state.draw(state.profile.installBase);
    const [life] = node.actors.map((a) => a.life);
    const takenOut = (): void => {
      if (!node.alive || node.actors[0]?.life !== life) return;
      node.installedDown = new Set(node.known);
      state.noteChange(r);
      state.tell(r, 'installs', `the direct routes of ${name} ${isDown ? 'go' : 'come'}`);
    };
    state.put(state.now + ms, takenOut, 'installation', ground.design.routers[r]?.name);
  }

  /** Ports of a process as its router knows them now. */
  private portsOf(actor: Actor): void {
    const { state, ground } = this;
    const known = { routers: new Set<number>(), ports: actor.node.known, severed: new Set<string>() };
    const turned: [number, boolean][] = [];
    const ports = actor.speaker.ports.map((p) => {
      const up = state.able[p.index] === 1 && ground.carried(p, known);
      if (up === p.up) return p;
      turned.push([p.index, up]);
      return p.standing(up, false);
    });
    if (turned.length > 0) {
      const speaker = { ...actor.speaker, ports };
      actor.speaker = speaker;
      state.speakers[actor.index] = speaker;
      for (const p of ports) state.ports[p.index] = p;
      for (const [n, up] of turned)
        if (up) this.neighbours.portUp(n);
        else this.neighbours.portDown(n);
      for (const a of attachedAreas(speaker)) actor.store(a);
      this.calculating.due(actor);
    }
    this.calculating.outsideChanged(actor);
  }

  private switchOff(r: number): void {
    const { state } = this;
    const node = state.nodes[r];
    if (!node) return;
    node.alive = false;
    this.justTurned.push(r);
    for (const actor of node.actors) {
      actor.life++;
      for (const p of actor.speaker.ports) {
        state.adjacencies.leaders[p.index] = { dr: 0, bdr: 0 };
        for (const f of this.ground.facingsOf[p.index] ?? []) state.setState(f, 0);
      }
      actor.installed = undefined;
      actor.goal = undefined;
      actor.calculated = undefined;
    }
  }

  /** A router starts with nothing but its document: it hears of its interfaces one after the other. */
  private switchOn(r: number): void {
    const { state, ground } = this;
    const node = state.nodes[r];
    if (!node) return;
    node.alive = true;
    this.justTurned.push(r);
    ground.design.routers[r]?.interfaces.forEach((_, i) => node.known.add(placeKey(r, i)));
    node.installedDown = new Set(node.known);
    for (const actor of node.actors) {
      actor.life++;
      actor.areas.clear();
      actor.wide = new Store(everywhere, new Map());
      actor.virtuals = [];
      actor.translating = false;
      actor.wanted.clear();
      actor.originated.clear();
      for (const set of Object.values(actor.own)) set.clear();
      for (const source of ['links', 'told', 'outside'] as const) Reflect.deleteProperty(actor.said, source);
      actor.spf = spfDelay(actor.speaker.instance.spfSchedule);
      actor.linksDue = false;
      actor.busyUntil = 0;
      actor.installingUntil = 0;
      const ports = actor.speaker.ports.map((p) => p.standing(false, false));
      actor.speaker = { ...actor.speaker, ports };
      state.speakers[actor.index] = actor.speaker;
      for (const p of ports) state.ports[p.index] = p;
    }
    ground.design.routers[r]?.interfaces.forEach((_, i) => {
      const place = placeKey(r, i);
      if (state.outage.ports.has(place)) return;
      const heard = (): void => this.perceive(r, place, state.outage.ports.has(place));
      state.put(state.now + state.draw(state.profile.carrierDetect), heard, 'carrier', this.placeWords(place));
    });
  }

  /** Virtual links after a calculation: an end that lost its way is down at once, one that found it waits for hellos from the other (RFC 2328 §15). */
  private virtualLinks(actor: Actor): void {
    const { state } = this;
    const ways = actor.calculated?.virtuals ?? [];
    const kept = actor.virtuals.flatMap((v) => ways.filter((w) => w.peer === v.peer && w.transitArea === v.transitArea));
    this.setVirtuals(actor, kept);
    for (const w of ways) {
      const peer = state.actors[w.peer];
      if (!peer || kept.includes(w)) continue;
      const hello = (this.ground.virtualWays.find((x) => x.speaker === actor.index && x.peer.index === w.peer)?.hello ?? 10) * 1000;
      state.later(actor, state.random() * hello, () => this.joinVirtual(actor, peer, w.transitArea), 'virtual-link');
    }
    // The other end hears in the next hello that it is not heard any more.
    for (const other of state.actors)
      for (const v of other.virtuals)
        if (v.peer === actor.index && !ways.some((w) => w.peer === other.index && w.transitArea === v.transitArea)) {
          const hello = (this.ground.virtualWays.find((x) => x.speaker === other.index && x.peer.index === actor.index)?.hello ?? 10) * 1000;
          state.later(other, state.random() * hello, () => {
            if (!actor.virtuals.some((w) => w.peer === other.index))
              this.setVirtuals(
                other,
                other.virtuals.filter((x) => x.peer !== actor.index || x.transitArea !== v.transitArea),
              );
          });
        }
  }

  private setVirtuals(actor: Actor, next: readonly VirtualAdjacency[]): void {
    if (JSON.stringify(next) === JSON.stringify(actor.virtuals)) return;
    actor.virtuals = next;
    this.state.tell(
      actor.node.routerIndex,
      'virtual-link',
      next.length === 0 ? 'none is up' : next.map((v) => this.ground.speakers[v.peer]?.router.name).join(', '),
    );
    if (next.length > 0) actor.store(0);
    this.originating.linksChanged(actor);
    this.calculating.due(actor);
  }

  /** Both ends found a way: they exchange their databases of the backbone and are full. */
  private joinVirtual(a: Actor, b: Actor, transitArea: number): void {
    const { state } = this;
    const way = (x: Actor, y: Actor): VirtualAdjacency | undefined =>
      x.calculated?.virtuals.find((w) => w.peer === y.index && w.transitArea === transitArea);
    const [there, back] = [way(a, b), way(b, a)];
    if (!there || !back || !b.node.alive || a.virtuals.some((v) => v.peer === b.index && v.transitArea === transitArea)) return;
    a.store(0);
    b.store(0);
    const ms = 12 * state.draw(state.profile.linkDelay);
    state.later(a, ms, () => {
      if (!way(a, b) || !way(b, a) || !b.node.alive) return;
      for (const [to, from, w] of [
        [a, b, way(a, b)],
        [b, a, way(b, a)],
      ] as const) {
        if (!w || to.virtuals.some((v) => v.peer === from.index && v.transitArea === transitArea)) continue;
        const refused = this.flooding.receive(to, this.flooding.missing(from, to, 0), undefined, from.index);
        state.later(from, 5000, () => {
          for (const h of refused) this.flooding.queueVirtual(from, to.index, h);
        });
        this.setVirtuals(to, [...to.virtuals, w]);
      }
    });
  }

  /**
   * What an hour brings: advertisements whose originators flooding no longer reaches are not refreshed, and go (RFC 2328 §14).
   * The run goes on from there.
   */
  ageOut(): void {
    const { state } = this;
    for (const { scope, actors } of this.flooding.reach()) {
      const there = new Set(actors.map((a) => a.index));
      for (const actor of actors) {
        const store = actor.scope(scope);
        for (const h of [...store.all()])
          if (h.content && !there.has(h.name.speaker)) {
            store.put({ ...h, content: undefined });
            this.calculating.due(actor);
          }
      }
    }
    state.changed?.(-1);
  }

  /** What a process forwards by now. */
  installed(actor: Actor): Computed | undefined {
    return actor.node.alive ? actor.installed : undefined;
  }
}
