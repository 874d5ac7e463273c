import { backbone } from '../design/design';
import { Groups } from '../segments/groups';
import { everywhere, isNewer, type Held } from './contents';
import type { Facing } from './ground';
import { exchange, full, twoWay, type Actor, type RunState } from './run-state';

/** What a router does when its databases change: the hooks of whoever calculates and originates. */
export interface OnReceipt {
  /** A database says something else than before. */
  changed(actor: Actor, held: Held): void;
  /** An advertisement of its own came back newer than it is held (RFC 2328 §13.4). */
  own(actor: Actor, received: Held): void;
}

/** Where advertisements wait to be sent together. */
class Outbox {
  held: Held[] = [];
  due = false;
}

/** The flooding of RFC 2328 §13: hop by hop, over neighbours in Exchange or better, acknowledged or sent again. */
export class Flooding {
  private readonly boxes = new Map<number, Outbox>();
  private readonly virtualBoxes = new Map<string, Outbox>();
  private on: OnReceipt = { changed: () => undefined, own: () => undefined };

  constructor(private readonly run: RunState) {}

  /** Says who is told of what comes in. */
  listen(on: OnReceipt): void {
    this.on = on;
  }

  private carries(actor: Actor, areaId: number, scope: number): boolean {
    if (scope !== everywhere) return scope === areaId;
    const area = actor.speaker.instance.areas.find((a) => a.id === areaId);
    return (area?.type ?? 'normal') === 'normal';
  }

  /** Sends an advertisement to all neighbours of its scope, but for the port it came from as §13.3 says. */
  flood(actor: Actor, held: Held): void {
    this.floodAll(actor, [held], undefined, undefined);
  }

  /** The same for several that came together. */
  private floodAll(actor: Actor, all: readonly Held[], from: Facing | undefined, fromPeer: number | undefined): void {
    const [first] = all;
    if (!first) return;
    const { scope } = first.name;
    if (all.every((h) => h.name.scope === scope)) this.floodScope(actor, scope, all, from, fromPeer);
    else
      for (const s of new Set(all.map((h) => h.name.scope)))
        this.floodScope(
          actor,
          s,
          all.filter((h) => h.name.scope === s),
          from,
          fromPeer,
        );
  }

  private floodScope(actor: Actor, scope: number, all: readonly Held[], from: Facing | undefined, fromPeer: number | undefined): void {
    const { run } = this;
    const { facingsOf } = run.ground;
    for (const p of actor.speaker.ports) {
      if (!p.up || !this.carries(actor, p.area.id, scope)) continue;
      const facings = facingsOf[p.index] ?? [];
      if (from?.port === p.index) {
        const { dr, bdr } = run.leaders(p.index);
        const sender = run.port(from.peer).routerId;
        // (3): who leads told everybody here; (4): the designated router will. Who did not hear it, hears it after RxmtInterval.
        if (sender === dr || sender === bdr || bdr === p.routerId) {
          this.sendAgain(
            actor,
            facings.filter((f) => f.index !== from.index),
            all,
            p.settings.retransmit * 1000,
          );
          continue;
        }
      }
      for (const f of facings) if (f.index !== from?.index && (run.state[f.index] ?? 0) >= exchange) this.queue(actor, f, all);
    }
    if (scope === backbone) for (const v of actor.virtuals) if (v.peer !== fromPeer) for (const h of all) this.queueVirtual(actor, v.peer, h);
  }

  /** Puts advertisements into the next update to a neighbour. */
  queue(actor: Actor, f: Facing, held: Held | readonly Held[]): void {
    let box = this.boxes.get(f.index);
    if (!box) this.boxes.set(f.index, (box = new Outbox()));
    if ('name' in held) box.held.push(held);
    else for (const h of held) box.held.push(h);
    if (box.due) return;
    box.due = true;
    const life = actor.life;
    const out = box;
    const send = (): void => {
      out.due = false;
      const all = out.held.splice(0);
      if (actor.life === life && actor.node.alive) this.send(actor, f, all);
    };
    this.run.put(this.run.now + this.run.draw(this.run.profile.pacing), send);
  }

  private send(actor: Actor, f: Facing, all: readonly Held[]): void {
    const { run } = this;
    if ((run.state[f.index] ?? 0) < exchange) return;
    const peer = run.actorOf(f.peer);
    // What the neighbour has already would be acknowledged and change nothing; what was replaced meanwhile is not sent.
    const news = all.filter((h) => {
      const theirs = peer.get(h.name.scope, h.name.id);
      const mine = actor.get(h.name.scope, h.name.id);
      return mine?.sequence === h.sequence && mine.content === h.content && isNewer(h, theirs);
    });
    if (news.length === 0) return;
    const back = run.ground.facings[f.back];
    const left = run.passes(f);
    const way = run.delay(run.port(f.port).segment) + news.length * run.draw(run.profile.lsaProcessing);
    const arrive = (): void => {
      const arrives = left && run.passes(f) && back !== undefined && (run.state[back.index] ?? 0) >= exchange;
      const refused = arrives ? this.receive(peer, news, back) : news;
      if (refused.length > 0) this.sendAgain(actor, [f], refused, run.port(f.port).settings.retransmit * 1000 - way);
    };
    run.put(run.now + way, arrive, 'flooding', peer.speaker.router.name);
  }

  /** RxmtInterval: what was not acknowledged goes out again, while the neighbour is one and lacks it. */
  sendAgain(actor: Actor, to: readonly Facing[], held: readonly Held[], ms: number): void {
    const { run } = this;
    if (held.length === 0 || to.length === 0) return;
    const again = (): void => {
      for (const f of to) if ((run.state[f.index] ?? 0) >= exchange) this.queue(actor, f, held);
    };
    run.later(actor, ms, again, 'retransmission');
  }

  queueVirtual(actor: Actor, peer: number, held: Held): void {
    const { run } = this;
    const key = `${actor.index} ${peer}`;
    let box = this.virtualBoxes.get(key);
    if (!box) this.virtualBoxes.set(key, (box = new Outbox()));
    box.held.push(held);
    if (box.due) return;
    box.due = true;
    const out = box;
    run.put(run.now + run.draw(run.profile.pacing), () => {
      out.due = false;
      const all = out.held.splice(0);
      const there = run.actors[peer];
      if (!there?.node.alive || !actor.node.alive) return;
      // Several hops: as many times the delay of one.
      run.put(run.now + 3 * run.draw(run.profile.linkDelay) + all.length * run.draw(run.profile.lsaProcessing), () => {
        const refused = there.virtuals.some((v) => v.peer === actor.index) ? this.receive(there, all, undefined, actor.index) : [];
        // RxmtInterval of a virtual link: five seconds where nothing is written (RFC 2328 C.4).
        run.later(actor, 5000, () => {
          for (const h of refused) if (actor.virtuals.some((v) => v.peer === peer)) this.queueVirtual(actor, peer, h);
        });
      });
    });
  }

  /**
   * Takes in an update (§13). @returns  what was refused for coming too soon: it is not acknowledged, and will come again
   */
  receive(actor: Actor, update: readonly Held[], from: Facing | undefined, fromPeer?: number): readonly Held[] {
    const { run } = this;
    const refused: Held[] = [];
    const taken: Held[] = [];
    for (const h of update) {
      const { scope, id, speaker } = h.name;
      const store = actor.scope(scope);
      const mine = store.get(id);
      if (mine && !isNewer(h, mine)) {
        // (8): an older one is answered with the newer.
        if (from && isNewer(mine, h)) this.queue(actor, from, mine);
        continue;
      }
      if (speaker === actor.index) {
        this.on.own(actor, h);
        continue;
      }
      if (mine && run.now - mine.at < run.draw(run.profile.minLsArrival)) {
        refused.push(h);
        continue;
      }
      const held: Held = { name: h.name, content: h.content, sequence: h.sequence, at: run.now };
      taken.push(held);
      if (store.put(held)) this.learnt(actor, held);
    }
    this.floodAll(actor, taken, from, fromPeer);
    return refused;
  }

  private learnt(actor: Actor, held: Held): void {
    const { run } = this;
    run.note(actor.node.routerIndex, 'learned');
    if (run.events) run.tell(actor.node.routerIndex, 'learns', `${held.content ? '' : 'withdrawn: '}${held.name.words}`);
    this.on.changed(actor, held);
  }

  /** What one router has and the other lacks, of the scopes that an area carries. */
  missing(from: Actor, to: Actor, areaId: number): Held[] {
    const scopes = [areaId, everywhere].filter((s) => this.carries(from, areaId, s) && this.carries(to, areaId, s));
    return scopes.flatMap((s) => {
      const [mine, theirs] = [from.scope(s), to.scope(s)];
      const names =
        mine.base === theirs.base ? new Set([...mine.since.keys(), ...theirs.since.keys()]) : new Set([...mine.base.keys(), ...mine.since.keys()]);
      return [...names].flatMap((n): Held[] => {
        const [a, b] = [mine.get(n), theirs.get(n)];
        return a && isNewer(a, b) ? [a] : [];
      });
    });
  }

  /** Routers that flooding joins, for each scope that they hold. */
  reach(): { scope: number; actors: Actor[] }[] {
    const { run } = this;
    const alive = run.actors.filter((a) => a.node.alive);
    const scopes = new Set(alive.flatMap((a) => [...a.areas.keys(), everywhere]));
    return [...scopes].flatMap((scope) => {
      const groups = new Groups(run.actors.length);
      const carries = (a: Actor, area: number): boolean => this.carries(a, area, scope);
      for (const f of run.ground.facings) {
        if (run.state[f.index] !== full) continue;
        const [a, b] = [run.actorOf(f.port), run.actorOf(f.peer)];
        if (carries(a, run.port(f.port).area.id)) groups.join(a.index, b.index);
      }
      if (scope === backbone) for (const a of alive) for (const v of a.virtuals) groups.join(a.index, v.peer);
      const by = new Map<number, Actor[]>();
      for (const a of alive) {
        if (scope !== everywhere && !a.areas.has(scope)) continue;
        const root = groups.find(a.index);
        by.set(root, [...(by.get(root) ?? []), a]);
      }
      return [...by.values()].map((actors) => ({ scope, actors }));
    });
  }

  /** A pair is 2-Way or better. */
  hears(f: Facing): boolean {
    return (this.run.state[f.index] ?? 0) >= twoWay;
  }
}
