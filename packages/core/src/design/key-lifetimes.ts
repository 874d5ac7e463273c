import type { Area, Authentication, AuthenticationKey, Lifetime, OspfInstance, Router } from './design';

const began = (l: Lifetime, now: number): boolean => l.from === undefined || l.from <= now;
const ended = (l: Lifetime, now: number): boolean => l.until !== undefined && l.until <= now;

/**
 * The keys of an interface at one moment (RFC 2328 D.3, RFC 8177 §2): packets go out with the key whose send lifetime began
 * last, and are taken with any key whose accept lifetime holds. Where the last key has expired it is held on to, "as if its
 * lifetime were infinite": authentication is never dropped by the clock. A key that has not begun is no key yet.
 *
 * @param now  ms since 1970
 */
export function keysInUse(keys: readonly AuthenticationKey[], now: number): NonNullable<Authentication['inUse']> {
  const current = (of: (k: AuthenticationKey) => Lifetime): AuthenticationKey[] => {
    const known = keys.filter((k) => began(of(k), now));
    const held = known.filter((k) => !ended(of(k), now));
    if (held.length > 0) return held;
    const last = Math.max(...known.map((k) => of(k).until ?? Infinity));
    return known.filter((k) => (of(k).until ?? Infinity) === last);
  };
  // Of two that began together D.3 names none: the lower id.
  const [send] = current((k) => k.send).sort((a, b) => (b.send.from ?? -Infinity) - (a.send.from ?? -Infinity) || a.id - b.id);
  return { send, accept: current((k) => k.accept) };
}

/** Whether a key is bound to a time at all. */
const hasLifetime = (k: AuthenticationKey): boolean => [k.send, k.accept].some((l) => l.from !== undefined || l.until !== undefined);

const byClock = new WeakMap<Router, boolean>();

/** True when the keys that a router uses depend on the moment. */
export function changesByClock(r: Router): boolean {
  let answer = byClock.get(r);
  if (answer === undefined) {
    answer = r.instances.some((o) =>
      o.areas.some((a) => [a.interfaces, a.virtualLinks].some((l) => l.some((i) => i.authentication.keys.some(hasLifetime)))),
    );
    byClock.set(r, answer);
  }
  return answer;
}

/** An authentication at a moment, in ms since 1970, whatever moment it was read for. */
export function authenticationAt(a: Authentication, now: number): Authentication {
  if (a.keys.some(hasLifetime)) return { ...a, inUse: keysInUse(a.keys, now) };
  const { required, keys, chain } = a;
  return a.inUse ? { required, keys, ...(chain === undefined ? {} : { chain }) } : a;
}

const areaAt = (a: Area, now: number): Area => ({
  ...a,
  interfaces: a.interfaces.map((i) => ({ ...i, authentication: authenticationAt(i.authentication, now) })),
  virtualLinks: a.virtualLinks.map((l) => ({ ...l, authentication: authenticationAt(l.authentication, now) })),
});

/** The same router at another moment uses the same keys mostly: then it is the same object. */
const known = new WeakMap<Router, { readonly words: string; readonly router: Router }>();

/** A router with the keys that it uses at a moment, in ms since 1970. */
export function routerAt(router: Router, now: number): Router {
  const instances = router.instances.map((o): OspfInstance => ({ ...o, areas: o.areas.map((a) => areaAt(a, now)) }));
  const used = (a: Authentication): unknown => a.inUse && [a.inUse.send?.id, a.inUse.accept.map((k) => k.id)];
  const words = JSON.stringify(instances.map((o) => o.areas.map((a) => [...a.interfaces, ...a.virtualLinks].map((i) => used(i.authentication)))));
  const before = known.get(router);
  if (before?.words === words) return before.router;
  const made = { ...router, instances };
  known.set(router, { words, router: made });
  return made;
}
