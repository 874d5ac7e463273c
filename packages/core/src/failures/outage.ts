import { isCarried } from '../design/router-id';
import type { Design, Interface, Router } from '../design/design';
import type { Attachment, Segment, Segments } from '../segments/segments';

/** A failure that says itself what goes down. */
export type PlainFailure =
  | { readonly kind: 'link' | 'interface' | 'lan'; readonly router: string; readonly iface: string }
  | { readonly kind: 'router'; readonly router: string }
  | { readonly kind: 'group'; readonly name: string };

/**
 * One failure in words: `link:ROUTER/IFACE`, `interface:ROUTER/IFACE`, `lan:ROUTER/IFACE`, `router:ROUTER`, `group:NAME`, or
 * `leader:ROUTER/IFACE`, the router that leads that segment when it fails (RFC 2328 §9.4).
 */
export type FailureSpec = PlainFailure | { readonly kind: 'leader'; readonly router: string; readonly iface: string };

/** What is out of order: routers, ports, and attachments that keep their carrier but pass nothing. */
export interface Outage {
  readonly routers: ReadonlySet<number>;
  /** `router/iface` places whose port is down. */
  readonly ports: ReadonlySet<string>;
  /** `router/iface` places that are up but cut off from their segment. */
  readonly severed: ReadonlySet<string>;
}

export const noOutage: Outage = { routers: new Set(), ports: new Set(), severed: new Set() };

const kinds = ['link', 'interface', 'lan', 'router', 'group', 'leader'] as const;

/** Writes a failure as it is typed. */
export const formatFailure = (f: FailureSpec): string =>
  f.kind === 'group' ? `group:${f.name}` : f.kind === 'router' ? `router:${f.router}` : `${f.kind}:${f.router}/${f.iface}`;

/** Reads a failure word; a text that says what was expected when it cannot. */
export function parseFailure(text: string): FailureSpec | string {
  const colon = text.indexOf(':');
  const kind = kinds.find((k) => k === text.slice(0, Math.max(colon, 0)));
  const rest = text.slice(colon + 1);
  if (kind === undefined || rest === '')
    return `"${text}" is no failure; write link:ROUTER/INTERFACE, interface:ROUTER/INTERFACE, lan:ROUTER/INTERFACE, leader:ROUTER/INTERFACE, router:ROUTER or group:NAME.`;
  if (kind === 'group') return { kind, name: rest };
  if (kind === 'router') return { kind, router: rest };
  const slash = rest.indexOf('/');
  if (slash < 1 || slash === rest.length - 1) return `"${text}" lacks the interface; write ${kind}:ROUTER/INTERFACE.`;
  return { kind, router: rest.slice(0, slash), iface: rest.slice(slash + 1) };
}

/** Place of an attachment as a key. */
export const placeKey = (router: number, iface: number): string => `${router}/${iface}`;

/** The failures of a shared-risk group, or the names that the design does not know. */
function expand(design: Design, f: PlainFailure): (PlainFailure | string)[] {
  if (f.kind !== 'group') return [f];
  const group = design.topology.riskGroups.find((g) => g.name === f.name);
  if (!group) return [`There is no shared-risk group "${f.name}"; known are: ${design.topology.riskGroups.map((g) => g.name).join(', ') || 'none'}.`];
  return group.members.map((m) => {
    const plain = m.includes(':') ? m : m.includes('/') ? `link:${m}` : `router:${m}`;
    const link = design.topology.links.find((l) => l.id === m);
    if (link) return { kind: 'link', router: link.from.node, iface: link.from.point };
    const spec = parseFailure(plain);
    return typeof spec !== 'string' && spec.kind === 'leader'
      ? `The shared-risk group "${f.name}" names ${m}; who leads changes: name the router itself.`
      : spec;
  });
}

/** The members of a shared-risk group, each as it is typed; names that the design does not know are left out. */
export const riskWords = (design: Design, name: string): string[] =>
  expand(design, { kind: 'group', name }).flatMap((m) => (typeof m === 'string' ? [] : [formatFailure(m)]));

/** What the failures take down on top of what is down already; names that the design does not know are told. */
export function addFailure(design: Design, segments: Segments, before: Outage, spec: PlainFailure): { outage: Outage; problems: string[] } {
  const routers = new Set(before.routers);
  const ports = new Set(before.ports);
  const severed = new Set(before.severed);
  const problems: string[] = [];
  const down = (a: Attachment): unknown => ports.add(placeKey(a.router, a.iface));
  const cut = (a: Attachment): unknown => severed.add(placeKey(a.router, a.iface));
  for (const f of expand(design, spec)) {
    if (typeof f === 'string') {
      problems.push(f);
      continue;
    }
    if (f.kind === 'group') continue;
    const router = design.routers.findIndex((r) => r.name === f.router);
    if (router < 0) {
      problems.push(`There is no router "${f.router}".`);
      continue;
    }
    if (f.kind === 'router') {
      routers.add(router);
      (segments.of[router] ?? []).forEach((s) => {
        const segment = segments.list[s];
        if (segment?.kind !== 'cable') return;
        for (const m of segment.members) if (m.router !== router) (segment.carrierLossSeen ? down : cut)(m);
      });
      continue;
    }
    const iface = design.routers[router]?.interfaces.findIndex((i) => i.name === f.iface) ?? -1;
    if (iface < 0) {
      problems.push(`Router ${f.router} has no interface "${f.iface}".`);
      continue;
    }
    const self = { router, iface };
    const segment = segments.list[segments.of[router]?.[iface] ?? -1];
    for (const [a, how] of affected(f.kind, self, segment)) (how === 'down' ? down : cut)(a);
  }
  return { outage: { routers, ports, severed }, problems };
}

/** Which attachments a failure touches, and whether their port goes down or only falls silent. */
function affected(kind: 'link' | 'interface' | 'lan', self: Attachment, segment: Segment | undefined): [Attachment, 'down' | 'cut'][] {
  const others = segment?.members.filter((m) => m.router !== self.router || m.iface !== self.iface) ?? [];
  const seen = segment?.carrierLossSeen ?? true;
  const loss = seen ? 'down' : 'cut';
  switch (kind) {
    case 'interface':
      return [[self, 'down'], ...(segment?.kind === 'cable' ? others.map((o): [Attachment, 'down' | 'cut'] => [o, loss]) : [])];
    case 'link':
      if (segment?.kind !== 'cable') return [[self, loss]];
      return [self, ...others].map((a) => [a, loss]);
    case 'lan':
      return [self, ...others].map((a) => [a, loss]);
  }
}

/** True when the interface is up: on, carried, its router and port alive. */
export function interfaceUp(design: Design, outage: Outage, router: number, iface: number, depth = 0): boolean {
  const r = design.routers[router];
  const i = r?.interfaces[iface];
  if (!r || !i || depth > 16 || outage.routers.has(router)) return false;
  if (outage.ports.size > 0 && outage.ports.has(placeKey(router, iface))) return false;
  if (!i.enabled || i.boundTo !== undefined) return false;
  return i.carriedBy === undefined || carrierUp(design, outage, router, r, i, depth);
}

/** Apart from `interfaceUp`, which is asked for every interface of a design: most have no carrier, and nothing is made for them. */
function carrierUp(design: Design, outage: Outage, router: number, r: Router, i: Interface, depth: number): boolean {
  return isCarried(r, i, (name) =>
    interfaceUp(
      design,
      outage,
      router,
      r.interfaces.findIndex((o) => o.name === name),
      depth + 1,
    ),
  );
}

/** Routers of whose own interfaces something is down in one state and not in the other. */
export function routersHit(a: Outage, b: Outage): Set<number> {
  const out = new Set<number>();
  const apart = (x: ReadonlySet<string>, y: ReadonlySet<string>): void => {
    for (const place of x) if (!y.has(place)) out.add(Number(place.slice(0, place.indexOf('/'))));
  };
  apart(a.ports, b.ports);
  apart(b.ports, a.ports);
  apart(a.severed, b.severed);
  apart(b.severed, a.severed);
  for (const r of a.routers) if (!b.routers.has(r)) out.add(r);
  for (const r of b.routers) if (!a.routers.has(r)) out.add(r);
  return out;
}
