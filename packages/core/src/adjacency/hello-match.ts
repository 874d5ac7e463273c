import type { Authentication, AuthenticationKey } from '../design/design';
import { maskOf } from '../prefix/ipv4';
import { sameSecret } from '../documents/key-digest';
import { elects, type Port } from './speakers';

/** What two facing values may differ in so that a hello is refused, with the values of receiver and sender. */
export const refusalKinds = [
  'interface-down',
  'disabled',
  'passive',
  'no-static-neighbor',
  'subnet',
  'area',
  'authentication',
  'mask',
  'hello-interval',
  'dead-interval',
  'area-type',
  'router-id',
  'instance-id',
] as const;
export type RefusalKind = (typeof refusalKinds)[number];

/** One reason why a hello from `theirs` finds no ear at `ours`. Values are as configured; times in seconds. */
export interface Refusal {
  readonly kind: RefusalKind;
  readonly ours: string | number;
  readonly theirs: string | number;
  readonly rfc: string;
}

const areaName = { normal: 'normal', stub: 'stub', nssa: 'NSSA' } as const;

/** The key a router sends with: the one in use at the moment of the design, where its keys have lifetimes, else the lowest id. */
export function sendingKey(a: Authentication): AuthenticationKey | undefined {
  if (!a.required) return undefined;
  return a.inUse ? a.inUse.send : [...a.keys].sort((x, y) => x.id - y.id)[0];
}

/** How an interface authenticates, in words; never the key. */
export function authenticationWords(a: Authentication): string {
  const key = sendingKey(a);
  if (!a.required) return a.keys.length > 0 ? 'off (a key is given)' : 'none';
  if (!key) return a.keys.length > 0 ? 'required, no key has begun' : 'required, no key';
  return key.algorithm === 'none' ? 'clear text' : `key ${key.id}, ${key.algorithm}`;
}

/** RFC 2328 D.4, RFC 5709 §3: same mode, and for cryptographic packets a key of the same id, algorithm and secret. */
export function authenticationAccepts(ours: Authentication, theirs: Authentication): boolean {
  const sent = sendingKey(theirs);
  // Required without a key: nothing that can be proved, so no packet of that side is accepted and none accepts another's.
  if (theirs.required !== ours.required) return false;
  if (!ours.required) return true;
  if (!sent) return false;
  return (ours.inUse?.accept ?? ours.keys).some(
    (k) => k.algorithm === sent.algorithm && sameSecret(k.secret, sent.secret) && (sent.algorithm === 'none' || k.id === sent.id),
  );
}

const sameNet = (a: number, b: number, length: number): boolean => (a & maskOf(length)) >>> 0 === (b & maskOf(length)) >>> 0;

/** Network mask is compared unless the receiver's type is point-to-point (RFC 2328 §10.5); in version 3 never (RFC 5340 §4.2.2.1). */
const comparesMask = (p: Port): boolean => p.type !== 'point-to-point' && !p.six;

/**
 * Every reason why `ours` refuses a hello from `theirs`; empty when it is taken.
 * In the order of the RFC's own checks: §8.2 (address, area, authentication), then §10.5 (mask, intervals, options).
 */
export function refusals(ours: Port, theirs: Port): readonly Refusal[] {
  return agree(ours, theirs) ? noRefusals : reasons(ours, theirs);
}

const noRefusals: readonly Refusal[] = [];

/** The common case, at one glance: nothing to refuse. */
function agree(a: Port, b: Port): boolean {
  const [x, y] = [a.settings, b.settings];
  return (
    a.up &&
    b.up &&
    !a.severed &&
    !b.severed &&
    x.enabled &&
    y.enabled &&
    !x.passive &&
    !y.passive &&
    a.area.id === b.area.id &&
    a.area.type === b.area.type &&
    x.hello === y.hello &&
    x.dead === y.dead &&
    x.instanceId === y.instanceId &&
    a.routerId !== b.routerId &&
    !x.authentication.required &&
    !y.authentication.required &&
    (!comparesMask(a) || a.address === undefined || (a.length === b.length && b.address !== undefined && sameNet(a.address, b.address, a.length)))
  );
}

function reasons(ours: Port, theirs: Port): Refusal[] {
  const out: Refusal[] = [];
  const add = (kind: RefusalKind, a: string | number, b: string | number, rfc: string): unknown => out.push({ kind, ours: a, theirs: b, rfc });
  const state = (p: Port): string => (p.up ? (p.severed ? 'cut off' : 'up') : 'down');
  if (!ours.settings.enabled || !theirs.settings.enabled)
    add('disabled', ours.settings.enabled ? 'on' : 'off', theirs.settings.enabled ? 'on' : 'off', 'RFC 2328 §9.1');
  else if (state(ours) !== 'up' || state(theirs) !== 'up') add('interface-down', state(ours), state(theirs), 'RFC 2328 §9.1');
  if (ours.settings.passive || theirs.settings.passive)
    add('passive', ours.settings.passive ? 'passive' : 'active', theirs.settings.passive ? 'passive' : 'active', 'RFC 2328 §9.5');
  if (comparesMask(ours) && ours.address !== undefined && theirs.address !== undefined && !sameNet(ours.address, theirs.address, ours.length))
    add('subnet', `${ours.length}`, `${theirs.length}`, 'RFC 2328 §8.2');
  const three = ours.six;
  if (ours.area.id !== theirs.area.id) add('area', ours.area.id, theirs.area.id, three ? 'RFC 5340 §4.2.2' : 'RFC 2328 §8.2');
  if (ours.settings.instanceId !== theirs.settings.instanceId)
    add('instance-id', ours.settings.instanceId, theirs.settings.instanceId, 'RFC 5340 §4.2.2');
  if (!authenticationAccepts(ours.settings.authentication, theirs.settings.authentication))
    add(
      'authentication',
      authenticationWords(ours.settings.authentication),
      authenticationWords(theirs.settings.authentication),
      three ? 'RFC 7166 §4.1' : 'RFC 2328 §8.2, D.4',
    );
  if (comparesMask(ours) && ours.address !== undefined && ours.length !== theirs.length) add('mask', ours.length, theirs.length, 'RFC 2328 §10.5');
  if (ours.settings.hello !== theirs.settings.hello)
    add('hello-interval', ours.settings.hello, theirs.settings.hello, three ? 'RFC 5340 §4.2.2.1' : 'RFC 2328 §10.5');
  if (ours.settings.dead !== theirs.settings.dead)
    add('dead-interval', ours.settings.dead, theirs.settings.dead, three ? 'RFC 5340 §4.2.2.1' : 'RFC 2328 §10.5');
  if (ours.area.id === theirs.area.id && ours.area.type !== theirs.area.type)
    add(
      'area-type',
      areaName[ours.area.type],
      areaName[theirs.area.type],
      ours.area.type === 'nssa' || theirs.area.type === 'nssa' ? 'RFC 3101 §2.4' : 'RFC 2328 §10.5',
    );
  if (ours.routerId === theirs.routerId) add('router-id', ours.routerId, theirs.routerId, 'RFC 2328 §8.2, §10.5');
  return out;
}

/** The differences that do not stop hellos but what follows: MTU (§10.6) and network type (what the tree makes of it). */
export const typesAgree = (a: Port, b: Port): boolean =>
  a.type === b.type || (elects(a.type) && elects(b.type) && a.type !== 'hybrid' && b.type !== 'hybrid');
