import { authenticationAccepts, authenticationWords } from '../adjacency/hello-match';
import type { Pairing } from '../adjacency/settle';
import { timeToFollow } from '../convergence/tuning';
import type { Authentication, AuthenticationKey, Lifetime } from '../design/design';
import { container, Draft, listIn, member, setMember } from '../design/draft';
import type { Edit } from '../design/edit';
import { authenticationAt } from '../design/key-lifetimes';
import type { SourceDocument } from '../documents/documents';
import { sameSecret } from '../documents/key-digest';

/** A stretch of time in which the keys of both ends stay what they are; ms since 1970, `undefined`: without end. */
export interface KeySpan {
  readonly from: number | undefined;
  readonly until: number | undefined;
  /** What each side sends with, in words, never the key. */
  readonly a: string;
  readonly b: string;
  /** Whether each takes what the other sends. */
  readonly aTakes: boolean;
  readonly bTakes: boolean;
}

/** One key of a chain on the time axis, without the key itself. */
export interface KeyLine {
  readonly side: 'a' | 'b';
  readonly id: number;
  readonly algorithm: string;
  readonly send: AuthenticationKey['send'];
  readonly accept: AuthenticationKey['accept'];
  /** Ids of keys of the other side that are the same: id, algorithm and secret. */
  readonly sameAs: readonly number[];
  /** Ids of keys of the other side with the same id and another secret or algorithm. */
  readonly unlike: readonly string[];
}

/** How a pair proves itself to each other over time. */
export interface KeyTimes {
  readonly lines: readonly KeyLine[];
  readonly spans: readonly KeySpan[];
  /** The first moment from now on at which the two part; `undefined`: they do not, or are apart already. */
  readonly partsAt: number | undefined;
  /** Whether they take each other's packets now. */
  readonly together: boolean;
}

const both = (a: Authentication, b: Authentication): { aTakes: boolean; bTakes: boolean } => ({
  aTakes: authenticationAccepts(a, b),
  bTakes: authenticationAccepts(b, a),
});

const lineOf = (side: 'a' | 'b', key: AuthenticationKey, others: readonly AuthenticationKey[]): KeyLine => ({
  side,
  id: key.id,
  algorithm: key.algorithm,
  send: key.send,
  accept: key.accept,
  sameAs: others.flatMap((o) => (o.id === key.id && o.algorithm === key.algorithm && sameSecret(o.secret, key.secret) ? [o.id] : [])),
  unlike: others.flatMap((o) =>
    o.id !== key.id
      ? []
      : [...(o.algorithm === key.algorithm ? [] : [`${o.algorithm} there`]), ...(sameSecret(o.secret, key.secret) ? [] : ['another key'])],
  ),
});

/** When the two ends of a pair take each other's packets, from the lifetimes of their keys (RFC 2328 D.3, RFC 8177 §2). @param now  ms since 1970 */
export function keyTimes(a: Authentication, b: Authentication, now: number): KeyTimes {
  const turns = [
    ...new Set([...a.keys, ...b.keys].flatMap((k) => [k.send.from, k.send.until, k.accept.from, k.accept.until].flatMap((t) => t ?? []))),
  ].sort((x, y) => x - y);
  const spans = [undefined, ...turns].map((from, n): KeySpan => {
    const until = turns[n];
    // Inside of the stretch: at its beginning, or just before the first turn.
    const moment = from ?? (until === undefined ? now : until - 1);
    const [x, y] = [authenticationAt(a, moment), authenticationAt(b, moment)];
    return { from, until, a: authenticationWords(x), b: authenticationWords(y), ...both(x, y) };
  });
  const holds = (s: KeySpan): boolean => s.aTakes && s.bTakes;
  const current = spans.find((s) => (s.from ?? -Infinity) <= now && now < (s.until ?? Infinity));
  const together = current !== undefined && holds(current);
  return {
    lines: [...a.keys.map((k) => lineOf('a', k, b.keys)), ...b.keys.map((k) => lineOf('b', k, a.keys))],
    spans: spans.filter((s, n) => n === 0 || !sameSpan(s, spans[n - 1])).map((s, n, all) => ({ ...s, until: all[n + 1]?.from })),
    partsAt: together ? spans.find((s) => (s.from ?? -Infinity) > now && !holds(s))?.from : undefined,
    together,
  };
}

const sameSpan = (x: KeySpan, y: KeySpan | undefined): boolean =>
  y !== undefined && x.a === y.a && x.b === y.b && x.aTakes === y.aTakes && x.bTakes === y.bTakes;

/** One step of a change of key: what is done, and whether the pair lives through it. */
export interface KeyStep {
  readonly words: string;
  /** Whether both take each other's packets from this step on until the next. */
  readonly holds: boolean;
  /** How long the next step may wait, in seconds, before the pair is lost; `undefined`: as long as one likes. */
  readonly withinS: number | undefined;
}

/** A change of key on a live pair, step by step. */
export interface KeyChange {
  readonly steps: readonly KeyStep[];
  /** Whether the pair lives through all of it whatever time the steps take. */
  readonly safe: boolean;
}

/** What is to become of the key. Times in ms since 1970. */
export interface NewKey {
  readonly id: number;
  readonly algorithm: string;
  readonly secret: string;
  /** From when on it is sent. */
  readonly from: number;
  /** How far the clocks of the two may be apart, in ms. */
  readonly apart: number;
}

/** A lifetime that ends at a moment, or sooner if it does by itself: what has expired stays so. */
const endedBy = (l: Lifetime, end: number): Lifetime => ({ ...l, until: Math.min(l.until ?? Infinity, end) });

/** With lifetimes: the new key is taken at once and sent from a moment on; the old ones are sent until then, and taken for as long as clocks differ after it. */
function withNewKey(a: Authentication, next: NewKey): Authentication {
  const old = a.keys.map((k): AuthenticationKey => ({
    ...k,
    send: endedBy(k.send, next.from),
    accept: endedBy(k.accept, next.from + next.apart),
  }));
  const made: AuthenticationKey = { id: next.id, algorithm: next.algorithm, secret: next.secret, send: { from: next.from }, accept: {} };
  return { ...a, required: true, keys: [...old, made] };
}

/** The new key alone, without lifetimes. */
const onlyNew = (a: Authentication, { id, algorithm, secret }: NewKey): Authentication => ({
  ...a,
  required: true,
  keys: [{ id, algorithm, secret, send: {}, accept: {} }],
});

/**
 * Rehearses a change of key on a live pair: first on one end, then on the other, the clock passing the moment, then the old key
 * goes. Every state between is tried, with clocks that differ, by the rules by which packets are taken.
 *
 * @param plain  without lifetimes: the key of one end is replaced, then that of the other
 */
export function rehearseKey(pair: Pairing, names: readonly [string, string], next: NewKey, now: number, plain = false): KeyChange {
  const [p, q] = [pair.a.port, pair.a.peer];
  const [a, b] = [p.settings.authentication, q.settings.authentication];
  const { hello, dead } = p.settings;
  const within = timeToFollow({ hello, dead }, { hello, dead });
  const lives = (x: Authentication, y: Authentication, moments: readonly number[]): boolean =>
    moments.every((m) =>
      [-next.apart, 0, next.apart].every((skew) => {
        const s = both(authenticationAt(x, m), authenticationAt(y, m + skew));
        return s.aTakes && s.bTakes;
      }),
    );
  const step = (words: string, holds: boolean): KeyStep => ({ words, holds, withinS: holds ? undefined : within });
  const { id } = next;
  if (plain) {
    const [x, y] = [onlyNew(a, next), onlyNew(b, next)];
    const steps = [step(`${names[0]} gets the new key`, lives(x, b, [now])), step(`${names[1]} gets it too`, lives(x, y, [now]))];
    return { steps, safe: steps.every((s) => s.holds) };
  }
  const [na, nb] = [withNewKey(a, next), withNewKey(b, next)];
  const before = [now, ...[(now + next.from) / 2, next.from - 2 * next.apart - 1].filter((m) => m > now)];
  const after = [next.from + next.apart, next.from + 2 * next.apart + 1, next.from + 86_400_000];
  const gone = [next.from + 86_400_000];
  const steps = [
    step(`${names[0]} gets key ${id}: taken at once, sent from the moment on`, lives(na, b, before)),
    step(`${names[1]} gets the same`, lives(na, nb, before)),
    step('The moment passes on both clocks, in either order', lives(na, nb, [next.from - next.apart, next.from, ...after])),
    step(`The old key goes from ${names[0]}`, lives(onlyNew(na, next), nb, gone)),
    step(`The old key goes from ${names[1]}`, lives(onlyNew(na, next), onlyNew(nb, next), gone)),
  ];
  return { steps, safe: steps.every((s) => s.holds) };
}

/**
 * An id for a new key that neither end has: the next above all, or where there is none the lowest.
 *
 * @param most  the greatest that fits: 255 in version 2, 65,535 in version 3 (RFC 2328 D.3, RFC 7166 §4.1)
 */
export function freeKeyId(a: Authentication, b: Authentication, most: number): number {
  const taken = new Set([...a.keys, ...b.keys].map((k) => k.id));
  const next = 1 + Math.max(0, ...taken);
  if (next <= most) return next;
  for (let id = 1; id <= most; id++) if (!taken.has(id)) return id;
  return most;
}

/**
 * The edit by which one end of a pair gets a new key beside its old ones, in the chain that it uses (RFC 8177); empty where it
 * uses none, or writes its chain in another way.
 *
 * @param router  host name
 * @param known  how that end proves itself now
 * @param dateOf  writes a moment as the documents do (RFC 6991 date-and-time)
 */
export function newKeyEdits(
  documents: readonly SourceDocument[],
  router: string,
  known: Authentication,
  next: NewKey,
  dateOf: (ms: number) => string,
): Edit[] {
  const draft = new Draft(documents);
  const { tree } = draft.router(router);
  const chains = listIn(container(tree, 'ietf-key-chain:key-chains'), 'key-chain');
  const entry = chains.find((c) => member(c, 'name') === known.chain);
  if (!entry) return [];
  const keys = listIn(entry, 'key');
  const read = new Map(known.keys.map((k) => [k.id, k]));
  for (const k of keys) {
    // Ids of version 2 have eight bits, those of version 3 sixteen.
    const id = Number(member(k, 'key-id'));
    const old = read.get(id) ?? read.get(id % 0x1_0000) ?? read.get(id & 255);
    if (!old) continue;
    const life = container(k, 'lifetime');
    const write = (name: string, l: Lifetime): void =>
      setMember(life, name, { 'start-date-time': dateOf(l.from ?? 0), 'end-date-time': dateOf(l.until ?? 0) });
    write('send-lifetime', endedBy(old.send, next.from));
    write('accept-lifetime', endedBy(old.accept, next.from + next.apart));
    setMember(life, 'send-accept-lifetime', undefined);
  }
  keys.push({
    'key-id': next.id,
    'crypto-algorithm': next.algorithm,
    'key-string': { keystring: next.secret },
    lifetime: { 'send-lifetime': { 'start-date-time': dateOf(next.from), 'no-end-time': [null] }, 'accept-lifetime': { always: [null] } },
  });
  return draft.edits();
}
