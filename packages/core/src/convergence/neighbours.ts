import { electLeaders, type Candidate } from '../adjacency/dr-election';
import { sendsTo } from '../adjacency/non-broadcast';
import { refusesMtu, wantsAdjacency } from '../adjacency/settle';
import { elects, type Port } from '../adjacency/speakers';
import type { Flooding } from './flooding';
import type { Facing } from './ground';
import type { Originating } from './originating';
import { down, exchange, full, init, pairStates, twoWay, type Actor, type RunState } from './run-state';

/** Descriptions of advertisements that fit into one packet: 20 octets each (RFC 2328 A.3.3). */
export const headersInPacket = 70;

/**
 * Hellos, neighbours, elections and the exchange of databases (RFC 2328 §9, §10). Hellos are only sent where something is
 * moving: at rest their moments are known without sending them.
 */
export class Neighbours {
  /** Until when hellos are sent on a segment. */
  private readonly moving = new Map<number, number>();
  private readonly sending = new Set<number>();
  /** By facing: the watch over its silence that counts. */
  private readonly watched = new Map<number, symbol>();
  /** By port: its router knows it to wait for who leads (RFC 2328 §9.1, Waiting). */
  private readonly waiting = new Set<number>();
  private readonly electing = new Set<number>();
  private readonly polled = new Map<number, number>();

  constructor(
    private readonly run: RunState,
    private readonly flooding: Flooding,
    private readonly originating: Originating,
  ) {}

  private facings(port: number): readonly Facing[] {
    return this.run.ground.facingsOf[port] ?? [];
  }

  /** Something happens on a segment: hellos are followed there until it has rested for longer than any timer. */
  stir(segment: number): void {
    if (segment < 0) return;
    const { run } = this;
    const there = run.ground.portsOn[segment] ?? [];
    const quiet = (this.moving.get(segment) ?? -Infinity) < run.now;
    let longest = 0;
    for (const n of there) {
      const { settings } = run.port(n);
      const poll = settings.type === 'non-broadcast' ? Math.max(0, ...settings.staticNeighbors.map((x) => x.poll)) : 0;
      longest = Math.max(longest, settings.dead + 2 * settings.hello + poll);
    }
    this.moving.set(segment, Math.max(this.moving.get(segment) ?? 0, run.now + longest * 1000 + 1));
    for (const n of there) {
      if (quiet) for (const f of this.facings(n)) this.heardLast(f);
      this.startSending(n);
    }
  }

  /** The last hello that came before this moment, on a segment that was at rest. */
  private heardLast(f: Facing): void {
    const { run } = this;
    if ((run.state[f.index] ?? down) === down) return;
    const { settings, segment } = run.port(f.peer);
    const period = settings.hello * 1000;
    const sent = (run.phase[f.peer] ?? 0) + Math.floor((run.now - (run.phase[f.peer] ?? 0)) / period) * period;
    run.heardAt[f.index] = Math.max(run.heardAt[f.index] ?? -Infinity, sent + run.delay(segment));
    this.watchSilence(f);
  }

  private startSending(n: number): void {
    const { run } = this;
    const p = run.port(n);
    const actor = run.actorOf(n);
    if (this.sending.has(n) || !p.up || p.settings.passive || p.loopback || !actor.node.alive || this.facings(n).length === 0) return;
    const period = p.settings.hello * 1000;
    const phase = run.phase[n] ?? 0;
    const next = phase + Math.ceil((run.now - phase) / period) * period;
    this.sending.add(n);
    run.put(next, () => {
      this.sending.delete(n);
      const q = run.port(n);
      if ((this.moving.get(q.segment) ?? -Infinity) < run.now || !q.up || !run.actorOf(n).node.alive) return;
      this.sendHello(n);
      run.put(run.now + 1e-6, () => this.startSending(n));
    });
  }

  private sendHello(n: number): void {
    const { run } = this;
    const p = run.port(n);
    const { dr, bdr } = elects(p.type) ? run.leaders(n) : { dr: 0, bdr: 0 };
    const to = this.facings(n).flatMap((f): { back: Facing; lists: boolean }[] => {
      const back = run.ground.facings[f.back];
      if (!back || !sendsTo(p, run.port(f.peer), run.adjacencies.leaders) || !run.passes(f) || !this.pollsNow(p, f)) return [];
      return [{ back, lists: (run.state[f.index] ?? down) >= init }];
    });
    if (to.length === 0) return;
    for (const { back, lists } of to) run.packets?.push({ kind: 'hello', ms: run.now, from: n, to: back.port, lists, dr, bdr });
    const arrive = (): void => {
      for (const { back, lists } of to) if (run.passes(back)) this.hear(back, lists, dr, bdr);
    };
    run.put(run.now + run.delay(p.segment), arrive, 'hellos', run.place(n));
  }

  /** A neighbour of a non-broadcast network that is down is spoken to each PollInterval only (RFC 2328 §9.5.1). */
  private pollsNow(p: Port, f: Facing): boolean {
    const { run } = this;
    if (p.type !== 'non-broadcast' || run.state[f.index] !== down) return true;
    const poll = (p.settings.staticNeighbors.find((x) => x.address === run.port(f.peer).helloFrom)?.poll ?? 120) * 1000;
    const next = this.polled.get(f.index) ?? run.now + run.random() * poll;
    this.polled.set(f.index, run.now >= next ? run.now + poll : next);
    return run.now >= next;
  }

  /** A hello comes in (RFC 2328 §10.5). */
  private hear(f: Facing, listsUs: boolean, dr: number, bdr: number): void {
    const { run } = this;
    const p = run.port(f.port);
    if (!p.up || run.hears[f.index] === 0) return;
    run.heardAt[f.index] = run.now;
    const before = run.state[f.index] ?? down;
    const peer = run.port(f.peer);
    const claims = (l: number): boolean => l === peer.routerId;
    const claimed = [claims(run.saidDr[f.index] ?? 0), claims(run.saidBdr[f.index] ?? 0)] as const;
    run.saidDr[f.index] = dr;
    run.saidBdr[f.index] = bdr;
    if (before === down) this.move(f, init);
    this.watchSilence(f);
    if (listsUs) {
      if (before < twoWay) this.move(f, twoWay);
    } else if (before >= twoWay) this.move(f, init);
    if (elects(p.type)) {
      const moved = claimed[0] !== claims(dr) || claimed[1] !== claims(bdr);
      if (this.waiting.has(f.port)) {
        // BackupSeen: there is a backup, or a designated router without one.
        if (listsUs && (claims(bdr) || (claims(dr) && bdr === 0))) this.endWait(f.port);
      } else if (before < twoWay === listsUs || (moved && listsUs)) this.elect(f.port);
    }
    this.tryExchange(f);
  }

  /** A pair comes to another state from one side. */
  private move(f: Facing, state: number): void {
    const { run } = this;
    const before = run.state[f.index] ?? down;
    if (before === state) return;
    run.setState(f, state);
    const [p, q] = [run.port(f.port), run.port(f.peer)];
    const name = run.ground.design.routers[q.routerIndex]?.name ?? '';
    run.tell(p.routerIndex, 'neighbour', `${name} at ${p.iface.name}: ${pairStates[state] ?? ''}`);
    if ((before === full) !== (state === full)) {
      this.originating.linksChanged(run.actorOf(f.port));
      // A hybrid network describes neighbours that are 2-Way too; and who leads a network lists its members.
    } else if (p.type === 'hybrid' || p.type === 'point-to-multipoint') this.originating.linksChanged(run.actorOf(f.port));
    this.stir(p.segment);
  }

  /** A neighbour is gone: its dead interval ended, BFD says so, or the own port went down. */
  lose(f: Facing): void {
    const { run } = this;
    if ((run.state[f.index] ?? down) === down) return;
    const p = run.port(f.port);
    run.saidDr[f.index] = 0;
    run.saidBdr[f.index] = 0;
    this.polled.delete(f.index);
    this.move(f, down);
    if (elects(p.type) && p.up && !this.waiting.has(f.port)) this.elect(f.port);
  }

  /** Looks whether a neighbour was silent for its dead interval, when that would be so. @param anew  the interval is another one now */
  private watchSilence(f: Facing, anew = false): void {
    const { run } = this;
    if (this.watched.has(f.index) && !anew) return;
    const mine = Symbol();
    this.watched.set(f.index, mine);
    const { settings } = run.port(f.port);
    const ends = (run.heardAt[f.index] ?? 0) + settings.dead * 1000;
    const actor = run.actorOf(f.port);
    const { life } = actor;
    run.put(ends, () => {
      if (this.watched.get(f.index) !== mine) return;
      this.watched.delete(f.index);
      if (actor.life !== life || !actor.node.alive || (run.state[f.index] ?? down) === down) return;
      // A segment that has come to rest says its hellos unseen.
      if ((this.moving.get(run.port(f.port).segment) ?? 0) < run.now) return;
      if ((run.heardAt[f.index] ?? 0) + run.port(f.port).settings.dead * 1000 <= run.now) {
        run.note(actor.node.routerIndex, 'detected');
        run.begins('dead-interval', run.place(f.port));
        run.cause(actor.node.routerIndex, `the dead interval on ${run.port(f.port).iface.name} of ${actor.speaker.router.name}`);
        this.lose(f);
      } else this.watchSilence(f);
    });
  }

  /** BFD on a path that broke (RFC 5880 §6.8.4): the multiplier of the other side times the slower of what it sends and what is taken. */
  watchBfd(f: Facing): void {
    const { run } = this;
    const [p, q] = [run.port(f.port), run.port(f.peer)];
    if (!p.settings.bfd || !q.settings.bfd || (run.state[f.index] ?? down) < twoWay) return;
    const { multiplier, send } = q.settings.bfdTimers;
    const interval = Math.max(send, p.settings.bfdTimers.receive) / 1000;
    const actor = run.actorOf(f.port);
    run.later(actor, (multiplier - run.random()) * interval, () => {
      if (run.passes(f) || !run.port(f.port).up || (run.state[f.index] ?? down) === down) return;
      run.note(actor.node.routerIndex, 'detected');
      run.begins('bfd', run.place(f.port));
      run.cause(actor.node.routerIndex, `BFD on ${p.iface.name} of ${actor.speaker.router.name}`);
      this.lose(f);
    });
  }

  /** The port of a router went down in its own eyes. */
  portDown(n: number): void {
    const { run } = this;
    this.waiting.delete(n);
    run.adjacencies.leaders[n] = { dr: 0, bdr: 0 };
    for (const f of this.facings(n)) this.lose(f);
    this.originating.linksChanged(run.actorOf(n));
  }

  /** The port of a router came up in its own eyes: it speaks at once, and waits for who leads (RFC 2328 §9.1). */
  portUp(n: number): void {
    const { run } = this;
    const p = run.port(n);
    run.phase[n] = run.now;
    run.adjacencies.leaders[n] = { dr: 0, bdr: 0 };
    const actor = run.actorOf(n);
    if (elects(p.type) && !p.settings.passive && !p.loopback && p.settings.priority > 0) {
      this.waiting.add(n);
      const end = (): void => {
        if (this.waiting.has(n)) this.endWait(n);
      };
      run.later(actor, p.settings.dead * 1000, end, 'wait-timer', run.place(n));
    }
    this.originating.linksChanged(actor);
    this.stir(p.segment);
  }

  /** Settings of a port changed: who may be heard, and who leads, is looked at anew. */
  portEdited(n: number): void {
    const { run } = this;
    const p = run.port(n);
    this.stir(p.segment);
    for (const f of this.facings(n)) if ((run.state[f.index] ?? down) !== down) this.watchSilence(f, true);
    if (!elects(p.type) || !p.up) return;
    if (!this.waiting.has(n)) this.elect(n);
    // The others see another priority in the next hello.
    for (const f of this.facings(n))
      run.later(run.actorOf(f.peer), run.random() * p.settings.hello * 1000, () => {
        if (!this.waiting.has(f.peer)) this.elect(f.peer);
      });
  }

  private endWait(n: number): void {
    this.waiting.delete(n);
    this.elect(n);
  }

  /** The election of RFC 2328 §9.4 in one router, once for all that came at a moment. */
  private elect(n: number): void {
    if (this.electing.has(n)) return;
    this.electing.add(n);
    const { run } = this;
    run.later(run.actorOf(n), 0, () => {
      this.electing.delete(n);
      this.electNow(n);
    });
  }

  private electNow(n: number): void {
    const { run } = this;
    const p = run.port(n);
    if (!p.up || this.waiting.has(n)) return;
    const mine = run.leaders(n);
    const self: Candidate = { routerId: p.routerId, priority: p.settings.priority, ...mine };
    const others = this.facings(n)
      .filter((f) => this.flooding.hears(f))
      .map((f): Candidate => {
        const q = run.port(f.peer);
        return { routerId: q.routerId, priority: q.settings.priority, dr: run.saidDr[f.index] ?? 0, bdr: run.saidBdr[f.index] ?? 0 };
      });
    const next = electLeaders(self, others);
    if (next.dr === mine.dr && next.bdr === mine.bdr) return;
    run.adjacencies.leaders[n] = next;
    run.tell(p.routerIndex, 'leader', `at ${p.iface.name}: ${this.nameOf(n, next.dr)} leads, ${this.nameOf(n, next.bdr)} is backup`);
    this.stir(p.segment);
    // AdjOK? (§10.3): pairs that need no exchange any more end it, others begin it.
    for (const f of this.facings(n)) {
      const state = run.state[f.index] ?? down;
      if (state >= exchange && !wantsAdjacency(p, run.port(f.peer), next)) this.move(f, twoWay);
      this.tryExchange(f);
    }
    this.originating.linksChanged(run.actorOf(n));
  }

  private nameOf(n: number, routerId: number): string {
    if (routerId === 0) return 'nobody';
    const port = [n, ...this.facings(n).map((f) => f.peer)].find((x) => this.run.port(x).routerId === routerId);
    return this.run.ground.design.routers[this.run.port(port ?? n).routerIndex]?.name ?? '';
  }

  private ready(f: Facing): boolean {
    const { run } = this;
    const p = run.port(f.port);
    if (this.waiting.has(f.port) && elects(p.type)) return false;
    return p.up && run.state[f.index] === twoWay && wantsAdjacency(p, run.port(f.peer), run.leaders(f.port));
  }

  /** ExStart and Exchange, where both sides want them and take each other's descriptions (RFC 2328 §10.6 to §10.9). */
  private tryExchange(f: Facing): void {
    const { run } = this;
    const back = run.ground.facings[f.back];
    if (!back || !this.ready(f) || !run.passes(f)) return;
    const [p, q] = [run.port(f.port), run.port(f.peer)];
    const [a, b] = [run.actorOf(f.port), run.actorOf(f.peer)];
    const way = run.delay(p.segment) + run.draw(run.profile.lsaProcessing);
    if (run.state[back.index] === init) {
      // The first description tells the other that it is heard (§10.6).
      run.later(b, way, () => {
        if (run.state[back.index] !== init || !run.passes(f) || !this.ready(f)) return;
        this.move(back, twoWay);
        if (elects(q.type) && !this.waiting.has(back.port)) this.elect(back.port);
        this.tryExchange(back);
      });
      return;
    }
    if (refusesMtu(p, q) || refusesMtu(q, p)) return;
    if ((run.state[back.index] ?? down) >= exchange) {
      // To the other it is the next of an exchange that is over: SeqNumberMismatch, and both begin anew.
      run.later(b, way, () => {
        if ((run.state[back.index] ?? down) < exchange || !run.passes(f) || !this.ready(f)) return;
        this.move(back, twoWay);
        this.tryExchange(back);
      });
      return;
    }
    if (!this.ready(back)) return;
    this.move(f, exchange);
    this.move(back, exchange);
    const headers = [headersOf(a, p.area.id), headersOf(b, q.area.id)] as const;
    const descriptions = 1 + Math.floor(Math.max(...headers) / headersInPacket);
    // Who is master, each description and its answer, and the requests.
    const until = run.now + way * 2 * (2 + descriptions);
    run.packets?.push({ kind: 'exchange', ms: run.now, until, from: f.port, to: f.peer, headers });
    run.put(until, () => this.load(f, back, a, b), 'exchange', run.place(f.port));
  }

  private load(f: Facing, back: Facing, a: Actor, b: Actor): void {
    const { run } = this;
    const still = (x: Facing): boolean => run.state[x.index] === exchange;
    if (!still(f) || !still(back) || !run.passes(f)) {
      // What broke meanwhile is noticed by silence; a side that began anew is waited for.
      for (const x of [f, back]) if (still(x) && run.passes(f)) this.move(x, twoWay);
      return;
    }
    const areaId = run.port(f.port).area.id;
    for (const [to, from, way, other] of [
      [a, b, f, back],
      [b, a, back, f],
    ] as const) {
      const news = this.flooding.missing(from, to, areaId);
      if (news.length > 0) run.packets?.push({ kind: 'loading', ms: run.now, from: way.port, to: other.port, asked: news.length });
      run.later(to, run.delay(run.port(way.port).segment) + news.length * run.draw(run.profile.lsaProcessing), () => {
        if (run.state[way.index] !== exchange) return;
        // What came too soon after another instance is asked for again.
        this.flooding.sendAgain(from, [other], this.flooding.receive(to, news, way), run.port(other.port).settings.retransmit * 1000);
        this.move(way, full);
      });
    }
  }
}

function headersOf(actor: Actor, areaId: number): number {
  let n = 0;
  for (const s of [actor.areas.get(areaId), actor.wide]) n += Math.max(s?.base.size ?? 0, s?.since.size ?? 0);
  return n;
}
