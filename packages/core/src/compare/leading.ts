import { elects, type Port } from '../adjacency/speakers';
import { formatAddress, formatPrefix } from '../prefix/address';
import type { Ipv4 } from '../prefix/ipv4';
import type { Prediction } from '../predict';

/** Who leads a segment: host names of those who take themselves for designated router and for its backup. Two of a kind do not hear each other. */
export interface Leading {
  readonly leaders: readonly string[];
  readonly backups: readonly string[];
}

/** A segment on which others lead than before. */
export interface ElectionChange {
  /** Index of the segment in the state after it; -1 where it is not there any more. */
  readonly segment: number;
  /** Its subnet, else its interfaces. */
  readonly name: string;
  readonly before: Leading;
  readonly after: Leading;
}

/** A router whose id is another one, and the routers that notice: neighbours that start again, and those that name the old id. */
export interface RouterIdChange {
  readonly router: string;
  readonly process: string;
  readonly before: string;
  readonly after: string;
  readonly noticed: readonly string[];
}

const nobody: Leading = { leaders: [], backups: [] };

function leadingOn(p: Prediction, ports: readonly Port[]): Leading {
  const by = (role: 'dr' | 'bdr'): string[] =>
    ports
      .flatMap((x) =>
        x.routerId !== 0 && p.adjacencies.leaders[x.index]?.[role] === x.routerId ? [p.design.routers[x.routerIndex]?.name ?? ''] : [],
      )
      .sort();
  return { leaders: by('dr'), backups: by('bdr') };
}

/** Segments that elect, by a name that stays while routers come and go. */
function elections(p: Prediction): Map<string, { readonly segment: number; readonly leading: Leading }> {
  const out = new Map<string, { segment: number; leading: Leading }>();
  for (const s of p.segments.list) {
    const ports = p.portsOn(s.index).filter((x) => elects(x.type) && !x.settings.passive);
    if (ports.length === 0 || s.size < 2) continue;
    const [subnet] = p.subnetsOn(s.index);
    const members = s.members.map((m) => `${p.design.routers[m.router]?.name ?? ''}/${p.design.routers[m.router]?.interfaces[m.iface]?.name ?? ''}`);
    const up = ports.filter((x) => x.up);
    out.set(subnet ? formatPrefix(subnet) : members.sort().join(', '), { segment: s.index, leading: leadingOn(p, up) });
  }
  return out;
}

const same = (a: readonly string[], b: readonly string[]): boolean => a.length === b.length && a.every((x, i) => x === b[i]);

/**
 * Segments whose leader or backup is another one (RFC 2328 §9.4): priorities changed, a leader lost, a router that came late.
 * One that fell silent altogether is led by nobody.
 */
export function compareElections(before: Prediction, after: Prediction): ElectionChange[] {
  if (before === after) return [];
  const [was, is] = [elections(before), elections(after)];
  return [...new Set([...was.keys(), ...is.keys()])].flatMap((name): ElectionChange[] => {
    const [x, y] = [was.get(name), is.get(name)];
    const [a, b] = [x?.leading ?? nobody, y?.leading ?? nobody];
    return same(a.leaders, b.leaders) && same(a.backups, b.backups) ? [] : [{ segment: y?.segment ?? -1, name, before: a, after: b }];
  });
}

/** Processes that run under another router id than before, with who notices. */
export function compareRouterIds(before: Prediction, after: Prediction): RouterIdChange[] {
  const out: RouterIdChange[] = [];
  for (const s of after.adjacencies.speakers) {
    const index = before.routerIndex(s.router.name);
    const old = index < 0 ? undefined : before.speakersOf(index).find((x) => x.instance.name === s.instance.name);
    if (!old || old.routerId === s.routerId) continue;
    out.push({
      router: s.router.name,
      process: s.instance.name,
      before: formatAddress(old.routerId),
      after: formatAddress(s.routerId),
      noticed: noticing(before, old.ports, old.routerId, s.router.name),
    });
  }
  return out;
}

/** Neighbours of a router, and routers whose virtual links name its id. */
function noticing(p: Prediction, ports: readonly Port[], id: Ipv4, self: string): string[] {
  const name = (router: number): string => p.design.routers[router]?.name ?? '';
  const neighbors = ports.flatMap((x) => (p.adjacencies.views[x.index] ?? []).flatMap((v) => (v.state === 'down' ? [] : [name(v.peer.routerIndex)])));
  const naming = p.design.routers
    .filter((r) => r.instances.some((o) => o.areas.some((a) => a.virtualLinks.some((v) => v.routerId === id))))
    .map((r) => r.name);
  return [...new Set([...neighbors, ...naming])].filter((n) => n !== self).sort();
}

/** Who leads, in words: `beacon-1, backup kelp-1`; two leaders do not hear each other. */
export function leadingWords({ leaders, backups }: Leading): string {
  const lead = leaders.length === 0 ? 'nobody' : leaders.length === 1 ? (leaders[0] ?? '') : `${leaders.join(' and ')} both`;
  return backups.length === 0 ? lead : `${lead}, backup ${backups.join(' and ')}`;
}
