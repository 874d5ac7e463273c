import type { Absence } from '@gentle-compass/core/areas/absence';
import { WhyAbsent } from '@gentle-compass/core/areas/absence';
import { forwardingOf } from '@gentle-compass/core/compare/forwarding-kept';
import { addressesOf, groupNamed } from '@gentle-compass/core/reach/ends';
import { Forwarding } from '@gentle-compass/core/reach/forwarding';
import { costFrom } from '@gentle-compass/core/reach/matrix';
import { ownSource, sourcesOf } from '@gentle-compass/core/reach/sources';
import { trace, walk, type Branch, type Walk } from '@gentle-compass/core/reach/trace';
import { formatAddress, holds, hostLength, isSix, parseAddress, prefixOf, type Address } from '@gentle-compass/core/prefix/address';
import type { Prediction } from '@gentle-compass/core/predict';
import type { BranchView, HopView, MatrixEnd, NoTrace, TraceView, WalkView } from '../model/reach-view';

/** Lines of the map that ways pass: a cable by its segment, the way to a LAN by its router too. */
export function linesPassed(p: Prediction, branches: readonly Branch[]): string[] {
  const out = new Set<string>();
  for (const b of branches)
    b.hops.forEach((h, n) => {
      const router = p.routerIndex(h.router);
      const iface = p.design.routers[router]?.interfaces.findIndex((i) => i.name === h.outInterface) ?? -1;
      const segment = p.segments.list[p.segments.of[router]?.[iface] ?? -1];
      if (!segment || h.outInterface === null) return;
      if (segment.kind === 'cable') out.add(String(segment.index));
      else {
        out.add(`${segment.index} ${h.router}`);
        const next = b.hops[n + 1]?.router;
        if (next !== undefined) out.add(`${segment.index} ${next}`);
      }
    });
  return [...out];
}

function branchView(f: Forwarding, b: Branch, to: Address): BranchView {
  const p = f.prediction;
  return {
    fate: b.fate,
    reason: b.reason,
    hops: b.hops.map((h): HopView => {
      const route = h.route === null ? undefined : f.lookup(p.routerIndex(h.router), to);
      return {
        router: h.router,
        route: h.route ?? '',
        by: !route ? '' : route.route ? `${route.route.type} ${route.route.metric}` : route.source === 'ospf-discard' ? 'discard' : route.source,
        iface: h.outInterface ?? '',
        nextHop: h.nextHop === null ? '' : formatAddress(h.nextHop),
      };
    }),
  };
}

const walkView = (f: Forwarding, w: Walk, to: Address): WalkView => ({
  fate: w.fate,
  cut: w.cut,
  branches: w.branches.map((b) => branchView(f, b, to)),
  lines: linesPassed(f.prediction, w.branches),
});

const fault = (words: string): NoTrace => ({ fault: words });

/** What a word stands for, of the family that is looked at: an address as it is, a router by its first loopback (or any address), a group by its first. */
export function addressNamed(p: Prediction, word: string): Address | string {
  const address = parseAddress(word);
  if (address !== undefined)
    return isSix(address) === (p.family === 6)
      ? address
      : `${word} is of IPv${isSix(address) ? 6 : 4}, and IPv${p.family} is looked at: press v to turn.`;
  if (/^[\d.]+$|[:/]/.test(word)) return `“${word}” is no address such as 10.96.0.1 or 2001:db8::1.`;
  const [first] = addressesOf(p.design, word);
  if (first !== undefined) return first;
  const router = p.design.routers[p.routerIndex(word)];
  const any = router?.interfaces.flatMap((i) => i.addresses)[0];
  if (any) return any.bits;
  return router || groupNamed(p.design, word)
    ? `${word} has no address of IPv${p.family}.`
    : `There is no router and no group “${word}”, nor is it an address.`;
}

/**
 * A packet and its answer, as the page shows them. A source that is a router's name is the address that the router takes by
 * itself; one that is typed is taken as it is.
 */
export function traceView(p: Prediction, from: string, to: string): TraceView | NoTrace {
  const goal = addressNamed(p, to);
  if (typeof goal === 'string') return fault(goal);
  const f = forwardingOf(p);
  const named = p.routerIndex(from);
  const chosen = named >= 0 && !groupNamed(p.design, from);
  const source = chosen ? (ownSource(f, named, goal) ?? `${from} has no address of IPv${p.family} that is up.`) : addressNamed(p, from);
  if (typeof source === 'string') return fault(source);
  const name = (n: number): string => p.design.routers[n]?.name ?? '';
  const owners = f.owners(source);
  const owner = chosen ? named : (owners[0]?.router ?? -1);
  const t = chosen ? { forward: walk(f, [named], goal), return: walk(f, f.endsOf(goal), source) } : trace(f, source, goal);
  const arrives = t.forward.fate === 'delivered';
  const answered = t.return.fate === 'delivered';
  const starts = chosen ? [named] : f.endsOf(source);
  return {
    from: formatAddress(source),
    to: formatAddress(goal),
    starts: starts.map(name),
    goals: f.endsOf(goal).map(name),
    source: owner < 0 ? '' : name(owner),
    chosen,
    there: walkView(f, t.forward, goal),
    back: walkView(f, t.return, source),
    sources:
      owner < 0 ? [] : sourcesOf(f, owner, goal).map((s) => ({ address: formatAddress(s.address), iface: s.iface, chosen: s.chosen, back: s.back })),
    missing: !arrives ? missingRoute(f, t.forward, goal) : answered ? null : missingRoute(f, t.return, source),
    cost: costFrom(f, starts, goal) ?? null,
    hops: arrives ? Math.max(...t.forward.branches.map((b) => b.hops.length - 1)) : null,
  };
}

/** Why the router at which a packet is dropped has no route to its subnet; of an address that nobody has, to that alone. */
function missingRoute(f: Forwarding, walk: Walk, to: Address): Absence | null {
  const p = f.prediction;
  const last = walk.branches.find((b) => b.fate === 'dropped')?.hops.at(-1)?.router;
  if (last === undefined) return null;
  // The subnet it is of, whether that is up or not.
  const lengths = p.design.routers.flatMap((r) =>
    r.interfaces.flatMap((i) => i.addresses.flatMap((a) => (holds(prefixOf(a.bits, a.length), to) ? [a.length] : []))),
  );
  const length = lengths.length > 0 ? Math.max(...lengths) : hostLength(to);
  return new WhyAbsent(p, prefixOf(to, length)).at(p.routerIndex(last)) ?? null;
}

/** What stands in a row or a column of a matrix. */
export function matrixEnds(f: Forwarding, addresses: readonly Address[]): MatrixEnd[] {
  const p = f.prediction;
  return addresses.map((a) => {
    const n = f.owners(a)[0]?.router ?? f.attached(a)[0]?.router ?? -1;
    const router = p.design.routers[n]?.name ?? '';
    const areas = p.speakersOf(n).flatMap((s) => p.routing.areasOf(s));
    const area = areas.find((x) => x !== 0) ?? areas[0];
    return {
      address: formatAddress(a),
      router,
      area: area === undefined ? '' : formatAddress(area),
      site: router.replace(/[-_.]?\d+$/, '') || router,
    };
  });
}
