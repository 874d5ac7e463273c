import { networkLsas, routerLsa } from '../lsdb/originate';
import { LinkColumns } from '../lsdb/router-links';
import type { Content, Held, LsaName } from './contents';
import type { Flooding } from './flooding';
import type { Actor, RunState } from './run-state';
import { Standing } from './standing';

/** Where an advertisement comes from: neighbours and interfaces, the own table, or outside. */
export type Source = keyof Actor['own'];

/** Who originates what, and when it may (RFC 2328 §12.4, MinLSInterval). */
export class Originating {
  private onOwn: (actor: Actor) => void = () => undefined;

  constructor(
    private readonly run: RunState,
    private readonly flooding: Flooding,
  ) {}

  /** Says who is told when a router's own databases changed by what it says itself. */
  listen(changed: (actor: Actor) => void): void {
    this.onOwn = changed;
  }

  /** The domain as a router sees it now. */
  standing(actor: Actor): Standing {
    return new Standing(this.run.adjacencies, actor.virtuals, actor.translating, actor.speaker, (a) => {
      const store = actor.areas.get(a);
      return store ? this.run.ground.contents.database(store) : undefined;
    });
  }

  /** Interfaces, neighbours or bits of a router changed: its types 1 and 2 are written anew, once for all that changed at a moment. */
  linksChanged(actor: Actor): void {
    if (actor.linksDue) return;
    actor.linksDue = true;
    this.run.later(actor, 0, () => {
      actor.linksDue = false;
      this.say(actor, 'links', this.links(actor));
    });
  }

  private links(actor: Actor): Content[] {
    const { run } = this;
    const { speaker: s } = actor;
    const { contents } = run.ground;
    const domain = this.standing(actor);
    return domain.areasOf(s).flatMap((a) => {
      const virtuals = actor.virtuals;
      const own = routerLsa(s, a, run.adjacencies, virtuals, domain.bits(s, a), new LinkColumns(8, domain.six));
      return [own, ...networkLsas(s, a, run.adjacencies)].map((lsa) => contents.of(a, s.index, lsa));
    });
  }

  /** Brings what a router says from one source to what it is to say. */
  say(actor: Actor, source: Source, wanted: readonly Content[]): void {
    const before = actor.said[source];
    if (before === wanted) return;
    actor.said[source] = wanted;
    const names = actor.own[source];
    if (before) {
      const { added, gone } = sayingAnew(before, wanted);
      for (const c of added) {
        names.add(c.name.id);
        this.want(actor, c.name, c);
      }
      for (const name of gone) {
        names.delete(name.id);
        this.want(actor, name, undefined);
      }
      return;
    }
    const now = new Set<number>();
    for (const c of wanted) {
      now.add(c.name.id);
      names.add(c.name.id);
      this.want(actor, c.name, c);
    }
    for (const id of names) {
      if (now.has(id)) continue;
      names.delete(id);
      const name = [...actor.areas.values(), actor.wide].map((s) => s.get(id)?.name).find((n) => n !== undefined);
      if (name) this.want(actor, name, undefined);
    }
  }

  private want(actor: Actor, name: LsaName, content: Content | undefined): void {
    const { run } = this;
    const held = actor.get(name.scope, name.id);
    if (held?.content === content && !actor.wanted.has(name.id)) return;
    const waits = actor.wanted.has(name.id);
    if (!content) {
      // Withdrawing waits for nothing (RFC 2328 §14.1).
      actor.wanted.delete(name.id);
      if (held?.content) this.issue(actor, name, undefined);
      return;
    }
    actor.wanted.set(name.id, content);
    if (waits) return;
    const free = (actor.originated.get(name.id) ?? -Infinity) + run.draw(run.profile.minLsInterval);
    if (run.now >= free) this.sayWanted(actor, name);
    else run.later(actor, free - run.now, () => this.sayWanted(actor, name), 'ls-interval');
  }

  private sayWanted(actor: Actor, name: LsaName): void {
    const content = actor.wanted.get(name.id);
    actor.wanted.delete(name.id);
    if (content && actor.get(name.scope, name.id)?.content !== content) this.issue(actor, name, content);
  }

  private issue(actor: Actor, name: LsaName, content: Content | undefined, atLeast = 0): void {
    const { run } = this;
    const store = actor.scope(name.scope);
    const held: Held = { name, content, sequence: Math.max(store.get(name.id)?.sequence ?? 0, atLeast) + 1, at: run.now };
    const news = store.put(held);
    if (content) actor.originated.set(name.id, run.now);
    run.tell(actor.node.routerIndex, content ? 'originates' : 'withdraws', name.words);
    this.flooding.flood(actor, held);
    if (news) this.onOwn(actor);
  }

  /** An own advertisement of an earlier life came back: it is said anew with a higher number, or withdrawn (RFC 2328 §13.4). */
  reclaim(actor: Actor, received: Held): void {
    const { name, sequence } = received;
    const held = actor.get(name.scope, name.id)?.content;
    // What waits for MinLSInterval goes on waiting; where nothing else is said, it is said now.
    const said = held ?? actor.wanted.get(name.id);
    if (!held) actor.wanted.delete(name.id);
    this.issue(actor, name, said, sequence);
  }
}

/** What is said that was not, or otherwise, and what is said no more. */
interface Saying {
  readonly added: readonly Content[];
  readonly gone: readonly LsaName[];
}

/** Runs say the same things after one another: each step from one to the next is found once. */
const sayings = new WeakMap<readonly Content[], WeakMap<readonly Content[], Saying>>();

function sayingAnew(before: readonly Content[], now: readonly Content[]): Saying {
  let from = sayings.get(before);
  if (!from) sayings.set(before, (from = new WeakMap<readonly Content[], Saying>()));
  let saying = from.get(now);
  if (!saying) {
    const [old, names] = [new Set(before), new Set(now.map((c) => c.name.id))];
    const gone = new Map(before.flatMap((c) => (names.has(c.name.id) ? [] : [[c.name.id, c.name] as const])));
    from.set(now, (saying = { added: now.filter((c) => !old.has(c)), gone: [...gone.values()] }));
  }
  return saying;
}
