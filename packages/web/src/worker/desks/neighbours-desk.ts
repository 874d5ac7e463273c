import type { Pairing } from '@gentle-compass/core/adjacency/settle';
import { listed } from '@gentle-compass/core/adjacency/non-broadcast';
import { elects, type Port } from '@gentle-compass/core/adjacency/speakers';
import { countChanges } from '@gentle-compass/core/compare/count-changes';
import { readProfile } from '@gentle-compass/core/convergence/timing-profile';
import type { Authentication } from '@gentle-compass/core/design/design';
import type { Edit } from '@gentle-compass/core/design/edit';
import { applyEdits } from '@gentle-compass/core/design/edit';
import { isDigest } from '@gentle-compass/core/documents/key-digest';
import { readLines } from '@gentle-compass/core/entry/lines';
import { facingValues, type FacingValue } from '@gentle-compass/core/evidence/neighbor-words';
import { alikeGroupEdits, alikeProposals, alikeRows } from '@gentle-compass/core/findings/checks/alike';
import { CheckContext } from '@gentle-compass/core/findings/context';
import { authenticationWords } from '@gentle-compass/core/adjacency/hello-match';
import { aloneOn, type Alone } from '@gentle-compass/core/neighbours/alone';
import { comingUp, type Beginning, type ComingUp } from '@gentle-compass/core/neighbours/coming-up';
import { costsOf } from '@gentle-compass/core/neighbours/costs';
import { ElectionPlay, ladderOf, ledAs, tryWish, type PlayStep, type Stand, type Wish } from '@gentle-compass/core/neighbours/election-play';
import { freeKeyId, keyTimes, newKeyEdits, rehearseKey, type NewKey } from '@gentle-compass/core/neighbours/key-times';
import { sideEffects, type SideEffects } from '@gentle-compass/core/neighbours/side-effects';
import { tryRule, turnedOn, type RuleTrial, type TurnedOn, type TypedRule } from '@gentle-compass/core/neighbours/turning-on';
import { formatAddress, formatPrefix } from '@gentle-compass/core/prefix/address';
import type { Prediction } from '@gentle-compass/core/predict';
import type { AlikeView, CostsView, ElectingView, KeysView, LadderView, LedChange, ProvingView, RehearsalView } from '../../model/neighbours-view';
import type { Held } from '../held';
import { pairIdOf } from '../views';

/** Two ends that face each other: how they come up, who leads their segment, how they prove themselves, and who is to be like whom. */
export class NeighboursDesk {
  private readonly alones = new WeakMap<Prediction, Map<number, Alone | undefined>>();

  constructor(private readonly held: Held) {}

  /** Parameters of two facing ends side by side, by the id of their pair. */
  facing(id: string): readonly FacingValue[] {
    const pair = this.pair(id);
    return pair ? facingValues(pair) : [];
  }

  /** How a pair comes up, or where it sticks; `null`: it is not there, or does not face itself without failures. @param profile  times of one's own */
  comingUp(id: string, beginning: Beginning, profile: Readonly<Record<string, unknown>>): ComingUp | null {
    const pair = this.pair(id);
    const alone = pair && this.alone(pair.segment);
    if (!pair || !alone) return null;
    const end = (x: Port): { router: string; iface: string } => ({ router: this.nameOf(x), iface: x.iface.name });
    return comingUp(alone, end(pair.a.port), end(pair.a.peer), beginning, { profile: readProfile(profile).profile }) ?? null;
  }

  /** What edits would break on the way, from the first end to the last. */
  sideEffects(edits: readonly Edit[], family?: 6): SideEffects {
    const { held } = this;
    const of = held.bothOf(held.now).find((p) => p.family === (family ?? 4)) ?? held.now;
    return sideEffects(of, held.documents, edits);
  }

  /** Every segment that elects, those with trouble or a wish first. */
  electing(): ElectingView[] {
    const p = this.held.now;
    const out = p.segments.list.flatMap((s): ElectingView[] => {
      const ports = p.portsOn(s.index).filter((x) => elects(x.type) && !x.settings.passive);
      const [first] = ports;
      if (!first || ports.length < 2) return [];
      const leader = (role: 'dr' | 'bdr'): string => {
        const port = ports.find((x) => x.routerId !== 0 && p.adjacencies.leaders[x.index]?.[role] === x.routerId);
        return port ? this.nameOf(port) : '';
      };
      const names = ports.map((x) => this.nameOf(x));
      const wishes = p.design.settings.expectations.flatMap((e) =>
        e.kind === 'leader' && ports.some((x) => this.nameOf(x) === e.router && x.iface.name === e.iface)
          ? [{ name: e.name, router: e.router, role: e.role, iface: e.iface }]
          : [],
      );
      const [subnet] = p.subnetsOn(s.index);
      return [
        {
          segment: s.index,
          name: subnet ? formatPrefix(subnet) : ports.map((x) => `${this.nameOf(x)}/${x.iface.name}`).join(', '),
          area: formatAddress(first.area.id),
          type: first.type,
          routers: names.length,
          dr: leader('dr'),
          bdr: leader('bdr'),
          wishes,
          notes: segmentNotes(p, ports, s.kind === 'cable' && s.size === 2),
        },
      ];
    });
    return out.sort((a, b) => b.notes.length + b.wishes.length - (a.notes.length + a.wishes.length));
  }

  /** The ladder of a segment, and whether its wishes hold in every order of start. */
  ladder(segment: number): LadderView | null {
    const alone = this.alone(segment);
    if (!alone) return null;
    const play = new ElectionPlay(alone);
    const rungs = ladderOf(alone);
    const [together] = play.play([{ kind: 'start', routers: play.routers }]);
    const wishes = this.electing().find((e) => e.segment === segment)?.wishes ?? [];
    if (!together) return null;
    return {
      segment,
      rungs,
      together,
      circuits: circuitsOf(alone),
      wishes: wishes.map((w) => ({ name: w.name, wish: { router: w.router, role: w.role }, trial: tryWish(play, w), ...this.certainBy(rungs, w) })),
    };
  }

  /** Priorities that make a wish certain, tried before they are proposed. */
  private certainBy(rungs: LadderView['rungs'], wish: Wish): Pick<LadderView['wishes'][number], 'certain' | 'edits' | 'price'> {
    const none = { certain: [], edits: [], price: '' };
    const own = rungs.find((r) => r.router === wish.router);
    if (!own || wish.role === 'bdr')
      return { ...none, price: wish.role === 'bdr' ? 'Nothing makes a backup certain: of two that may lead, the first that is there leads.' : '' };
    const change = rungs.flatMap((r) =>
      r.router === wish.router ? (r.priority === 0 ? [{ ...r, priority: 1 }] : []) : r.priority > 0 ? [{ ...r, priority: 0 }] : [],
    );
    const lines = change.map((r) => `set priority ${r.priority} on ${r.router}/${r.iface}`);
    const { edits, faults } = readLines(lines, this.held.documents);
    if (change.length === 0 || faults.length > 0) return none;
    const after = this.held.madeBy(edits).now;
    const segment = after.segments.at(after.routerIndex(own.router), indexOf(after, own.router, own.iface));
    const alone = aloneOn(after, segment);
    if (!alone || tryWish(new ElectionPlay(alone), wish).breaks) return none;
    return {
      certain: change.map(({ router, iface, priority }) => ({ router, iface, priority })),
      edits,
      price: `There is no backup then: while ${wish.router} is away nobody leads, and nothing is carried over the segment.`,
    };
  }

  /** How a segment rests after each step of a play, and what the last of them changes in the whole network. */
  play(segment: number, steps: readonly PlayStep[]): LedChange | null {
    const alone = this.alone(segment);
    if (!alone) return null;
    const stands = new ElectionPlay(alone).play(steps);
    const last = stands.at(-1);
    return { stands, effect: last && this.effectOf(segment, last) };
  }

  /** The whole network led as a play ended, against the network as it is. */
  private effectOf(segment: number, stand: Stand): LedChange['effect'] {
    const p = this.held.now;
    const after = ledAs(p, segment, stand);
    const { lost, gained, changed, routers } = countChanges(p, after);
    const says = (x: Prediction): string => {
      const port = x.portsOn(segment).find((y) => y.up && y.routerId !== 0 && x.adjacencies.leaders[y.index]?.dr === y.routerId);
      const full = port && x.adjacencies.views[port.index]?.some((v) => v.state === 'full');
      return port && full ? this.nameOf(port) : '';
    };
    const full = (x: Prediction): number =>
      x.adjacencies.pairs.filter((y) => y.segment === segment && y.a.state === 'full' && y.b.state === 'full').length;
    return { lost, gained, changed, routers, advertisedBy: [says(p), says(after)], full: [full(p), full(after)] };
  }

  /** By which line or rule the interfaces of a router take part, process by process. */
  turnedOn(router: string): TurnedOn[] {
    return turnedOn(this.held.now, this.held.now.routerIndex(router));
  }

  /** What a rule would catch, before it is saved. */
  tryRule(router: string, typed: TypedRule): RuleTrial {
    return tryRule(this.held.now, this.held.documents, router, typed);
  }

  /** Pairs of which one end at least proves itself; those that are apart, then those that will be, first. */
  proving(): ProvingView[] {
    const now = this.moment();
    const out = this.held.now.adjacencies.pairs.flatMap((pair): ProvingView[] => {
      const [x, y] = [pair.a.port, pair.a.peer];
      const [a, b] = [x.settings.authentication, y.settings.authentication];
      if (!proves(a) && !proves(b)) return [];
      const { together, partsAt } = keyTimes(a, b, now);
      const end = (p: Port, auth: Authentication): ProvingView['a'] => ({
        router: this.nameOf(p),
        iface: p.iface.name,
        words: authenticationWords(auth),
        chain: auth.chain ?? '',
      });
      return [{ pair: pairIdOf(this.held.now, pair), a: end(x, a), b: end(y, b), together, partsAt, why: together ? '' : whyApart(a, b) }];
    });
    const rank = (v: ProvingView): number => (!v.together ? 0 : (v.partsAt ?? Infinity));
    return out.sort((v, w) => rank(v) - rank(w));
  }

  /** A pair's keys over time; never the keys. */
  keys(id: string): KeysView | null {
    const pair = this.pair(id);
    if (!pair) return null;
    const now = this.moment();
    const [x, y] = [pair.a.port, pair.a.peer];
    const [a, b] = [x.settings.authentication, y.settings.authentication];
    const shown = (auth: Authentication): number[] => auth.keys.flatMap((k) => (k.secret === '' || isDigest(k.secret) ? [] : [k.id]));
    const shared = (p: Port): string[] =>
      this.held.now.adjacencies.speakers
        .flatMap((s) => (s.routerIndex === p.routerIndex ? s.ports : []))
        .filter((q) => q !== p && q.ifaceIndex !== p.ifaceIndex && q.settings.authentication.chain !== undefined)
        .filter((q) => q.settings.authentication.chain === p.settings.authentication.chain)
        .map((q) => q.iface.name);
    return {
      pair: id,
      now,
      ...keyTimes(a, b, now),
      freeId: freeKeyId(a, b, x.six ? 65_535 : 255),
      revealable: { a: shown(a), b: shown(b) },
      shared: { a: shared(x), b: shared(y) },
    };
  }

  /** One key, shown because somebody asked for this very one. */
  reveal(id: string, side: 'a' | 'b', key: number): string | null {
    const pair = this.pair(id);
    const port = side === 'a' ? pair?.a.port : pair?.a.peer;
    return port?.settings.authentication.keys.find((k) => k.id === key)?.secret ?? null;
  }

  /** A change of key on a live pair, tried step by step. @param plain  without lifetimes */
  rehearse(id: string, next: NewKey, plain: boolean): RehearsalView | null {
    const pair = this.pair(id);
    if (!pair) return null;
    const [x, y] = [pair.a.port, pair.a.peer];
    const names = [this.nameOf(x), this.nameOf(y)] as const;
    const change = rehearseKey(pair, names, next, this.moment(), plain);
    let documents = this.held.documents;
    const edits = plain
      ? []
      : [x, y].flatMap((p): RehearsalView['edits'][number][] => {
          const { chain } = p.settings.authentication;
          const name = this.nameOf(p);
          const made = chain === undefined ? [] : newKeyEdits(documents, name, p.settings.authentication, next, (ms) => new Date(ms).toISOString());
          documents = applyEdits(documents, made);
          return made.length > 0 ? [{ title: `Key ${next.id} into “${chain ?? ''}” of ${name}`, edits: made }] : [];
        });
    return { ...change, edits };
  }

  /** Routers meant to be alike, setting by setting, and those that look as if they were. */
  alike(): AlikeView {
    const { now, documents } = this.held;
    const c = new CheckContext(now, documents, false);
    return {
      groups: now.design.settings.alike.map((g) => {
        const { routers, rows } = alikeRows(c, g.routers);
        return {
          name: g.name,
          routers,
          rows: rows.map(({ what, values, odd, repairs }) => ({ what, values, odd, repairs: repairs.map(({ title, edits }) => ({ title, edits })) })),
        };
      }),
      proposals: alikeProposals(c),
    };
  }

  /** What makes a group of routers meant to be alike. */
  alikeEdits(name: string, routers: readonly string[]): readonly Edit[] {
    return alikeGroupEdits(this.held.documents, name, routers);
  }

  /** Costs of both directions of every full pair. */
  costs(): CostsView {
    return costsOf(this.held.now);
  }

  private pair(id: string): Pairing | undefined {
    const { now } = this.held;
    return now.adjacencies.pairs.find((x) => pairIdOf(now, x) === id);
  }

  private nameOf(x: Port): string {
    return this.held.now.design.routers[x.routerIndex]?.name ?? '';
  }

  /** The moment at which keys are judged. */
  private moment(): number {
    return this.held.now.design.now ?? Date.now();
  }

  private alone(segment: number): Alone | undefined {
    const { now } = this.held;
    let known = this.alones.get(now);
    if (!known) this.alones.set(now, (known = new Map<number, Alone | undefined>()));
    if (!known.has(segment)) known.set(segment, aloneOn(now, segment));
    return known.get(segment);
  }
}

/** Every pair of routers on a non-broadcast network; none of another one. */
function circuitsOf({ prediction: p, segment }: Alone): LadderView['circuits'] {
  const ports = p.portsOn(segment).filter((x) => x.type === 'non-broadcast');
  const nameOf = (x: Port): string => p.design.routers[x.routerIndex]?.name ?? '';
  return ports.flatMap((a, n) =>
    ports.slice(n + 1).map((b) => {
      const pair = p.adjacencies.pairs.find((x) => (x.a.port === a && x.b.port === b) || (x.a.port === b && x.b.port === a));
      const view = (x: Port): string => (pair?.a.port === x ? pair.a.state : (pair?.b.state ?? 'down'));
      return {
        a: nameOf(a),
        b: nameOf(b),
        there: pair !== undefined,
        aLists: listed(a, b) !== undefined,
        bLists: listed(b, a) !== undefined,
        aState: view(a),
        bState: view(b),
      };
    }),
  );
}

const proves = (a: Authentication): boolean => a.required || a.keys.length > 0;

const indexOf = (p: Prediction, router: string, iface: string): number =>
  p.design.routers[p.routerIndex(router)]?.interfaces.findIndex((i) => i.name === iface) ?? -1;

/** Why two do not take each other's packets: the first thing that differs, with both sides; never the keys. */
function whyApart(a: Authentication, b: Authentication): string {
  if (a.required !== b.required) return 'one proves itself, the other does not';
  if (a.keys.length === 0 || b.keys.length === 0) return 'authentication is required, and there is no key';
  const [x, y] = [authenticationWords(a), authenticationWords(b)];
  return x === y ? `${x} on both, and the keys themselves differ` : `${x} against ${y}`;
}

/** What of an electing segment is worth a look. */
function segmentNotes(p: Prediction, ports: readonly Port[], cable: boolean): string[] {
  const able = ports.filter((x) => x.settings.priority > 0);
  const out: string[] = [];
  if (able.length === 0) out.push('nobody can lead');
  if (cable && ports.every((x) => x.type === 'broadcast')) out.push('two alone: could be point-to-point');
  if (ports.some((x) => x.type === 'non-broadcast')) {
    const hubs = ports.filter((x) => x.settings.staticNeighbors.length > 1);
    if (hubs.length === 1 && able.length > 1) out.push('a spoke could win');
    else if (hubs.length === 1) out.push('hub and spoke: no backup is wanted');
    const silent = p.adjacencies.pairs.some(
      (x) =>
        ports.includes(x.a.port) &&
        [...x.a.refused, ...x.b.refused].some((r) => r.kind === 'no-static-neighbor') &&
        (x.a.port.settings.priority > 0 || x.b.port.settings.priority > 0),
    );
    if (silent) out.push('static neighbours missing');
  }
  return out;
}
