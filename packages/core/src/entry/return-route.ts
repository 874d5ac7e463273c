import { applyEdits, type Edit } from '../design/edit';
import type { SourceDocument } from '../documents/documents';
import { designFrom } from '../formats/read-set';
import { formatAddress, formatPrefix, hostLength, prefixOf, type Address, type Prefix } from '../prefix/address';
import type { Prediction } from '../predict';
import { Forwarding } from '../reach/forwarding';
import { trace, type Branch } from '../reach/trace';
import { readLines } from './lines';
import { areaWord } from './words';

/** A change after which answers come back: the lines of quick entry that make it, and their words. */
export interface Mend {
  readonly title: string;
  readonly lines: readonly string[];
  readonly edits: readonly Edit[];
}

interface Owner {
  readonly router: number;
  readonly iface: number;
  readonly subnet: Prefix;
}

/** Routers that stand on the subnet of an address: the one that has it first, then the others there. */
function ownersOf(f: Forwarding, a: Address): Owner[] {
  const { routers } = f.prediction.design;
  const own = f.owners(a);
  const others = f.attached(a).filter((x) => !own.some((o) => o.router === x.router));
  return [...own, ...others].flatMap(({ router, iface }) => {
    const held = routers[router]?.interfaces[iface]?.addresses.find(
      (x) => formatPrefix(prefixOf(x.bits, x.length)) === formatPrefix(prefixOf(a, x.length)),
    );
    return held ? [{ router, iface, subnet: prefixOf(held.bits, held.length) }] : [];
  });
}

/** How a router names the next one on a wire that both are on: `via ADDRESS`, with the interface where the address needs it. */
function viaWords(p: Prediction, from: number, to: number): string | undefined {
  const [a, b] = [p.design.routers[from], p.design.routers[to]];
  for (const [n, i] of (a?.interfaces ?? []).entries()) {
    const segment = p.segments.list[p.segments.of[from]?.[n] ?? -1];
    const other = segment?.members.find((m) => m.router === to);
    const there = other && b?.interfaces[other.iface];
    if (!there) continue;
    const address = there.addresses.find((x) =>
      i.addresses.some((y) => formatPrefix(prefixOf(x.bits, y.length)) === formatPrefix(prefixOf(y.bits, y.length))),
    );
    if (address) return `via ${formatAddress(address.bits)}`;
    if (there.linkLocal) return `via ${formatAddress(there.linkLocal.address)} out ${i.name}`;
  }
  return undefined;
}

/** What could bring answers to a source back, as lines: the source's subnet told by OSPF, or led back by static routes. */
function candidates(f: Forwarding, from: Address, forward: readonly Branch[], lost: readonly Branch[]): string[][] {
  const p = f.prediction;
  const three = p.family === 6 ? 'v3 ' : '';
  const name = (n: number): string => p.design.routers[n]?.name ?? '';
  const out: string[][] = [];
  for (const { router, iface, subnet } of ownersOf(f, from)) {
    const ospf = p.speakersOf(router).filter((s) => p.routing.areasOf(s).length > 0);
    const place = `${name(router)}/${p.design.routers[router]?.interfaces[iface]?.name ?? ''}`;
    if (ospf.length > 0 && !p.portOf(router, iface)) {
      for (const area of [...new Set(ospf.flatMap((s) => [...p.routing.areasOf(s)].reverse()))].slice(0, 3))
        out.push([`${three}join ${place} area ${areaWord(formatAddress(area))} passive`]);
      if (subnet.length < hostLength(subnet.bits)) out.push([`${three}bring direct on ${name(router)}`]);
    }
    const text = formatPrefix(subnet);
    for (const b of forward) {
      const way = b.hops.map((h) => p.routerIndex(h.router));
      // The router whose table lacks it sends it back to where the packet came from.
      for (const l of lost) {
        const last = p.routerIndex(l.hops.at(-1)?.router ?? '');
        const at = way.indexOf(last);
        const via = at > 0 ? viaWords(p, last, way[at - 1] ?? -1) : undefined;
        if (via !== undefined) out.push([`${three}static ${text} on ${name(last)} ${via}`]);
      }
      // A router without OSPF is led to by its neighbour, which tells the others.
      const next = way[1];
      if (ospf.length === 0 && next !== undefined && p.speakersOf(next).length > 0) {
        const via = viaWords(p, next, way[0] ?? -1);
        const brings = p.speakersOf(next).some((s) => s.instance.redistribution.some((x) => x.source === 'static'));
        if (via !== undefined)
          out.push([`${three}static ${text} on ${name(next)} ${via}`, ...(brings ? [] : [`${three}bring static on ${name(next)}`])]);
      }
    }
  }
  const seen = new Set<string>();
  return out.filter((lines) => !seen.has(lines.join()) && seen.add(lines.join()));
}

/**
 * Changes after which a packet arrives and its answer comes back, each tried; none where the packet does not arrive, or
 * nothing is missing. At most eight are tried, one after the other.
 *
 * @param p  of the documents as they stand, with nothing down
 */
export function* mendingReturn(p: Prediction, documents: readonly SourceDocument[], from: Address, to: Address): Generator<undefined, Mend[]> {
  const f = new Forwarding(p);
  const t = trace(f, from, to);
  if (t.forward.fate !== 'delivered' || t.return.fate === 'delivered') return [];
  const lost = t.return.branches.filter((b) => b.fate !== 'delivered');
  const out: Mend[] = [];
  for (const lines of candidates(f, from, t.forward.branches, lost).slice(0, 8)) {
    yield undefined;
    const read = readLines(lines, documents);
    if (read.faults.length > 0 || read.edits.length === 0) continue;
    const after = p.edited(designFrom(applyEdits(documents, read.edits), { clock: p.design.now ?? 0 }).design);
    const again = trace(new Forwarding(after), from, to);
    if (again.forward.fate === 'delivered' && again.return.fate === 'delivered')
      out.push({ title: read.titles.join('; '), lines, edits: read.edits });
  }
  return out;
}
