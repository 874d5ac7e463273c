import { designOf, familyView, type Family } from '../design/family';
import type { Demand } from '../design/settings';
import { formatAddress, type Address } from '../prefix/address';
import type { Prediction } from '../predict';
import { addressesOf } from '../reach/ends';
import { Forwarding } from '../reach/forwarding';

/** Traffic that a design is to carry. */
export type Demands = readonly Demand[];

/** What an interface would carry outwards. */
export interface LinkLoad {
  readonly router: string;
  readonly iface: string;
  /** Mbit/s. */
  readonly mbps: number;
  /** Mbit/s that it can carry; `undefined` where the design does not say. */
  readonly capacity: number | undefined;
}

/** Traffic between two addresses, in Mbit/s. */
export interface Flow {
  readonly from: Address;
  readonly to: Address;
  readonly mbps: number;
}

/** What a network would carry in one state. */
export interface Loads {
  /** By host and interface name; what carries nothing is left out. */
  readonly links: readonly LinkLoad[];
  /** Mbit/s that were to be carried, and those of them that do not arrive. */
  readonly asked: number;
  readonly lost: number;
}

/**
 * The single flows of a demand in the family that a state looks at: shared equally among all pairs of the addresses that its
 * ends stand for. Of names that have both families IPv4 carries it.
 */
export function flowsOf(p: Prediction, d: Demand): Flow[] {
  const whole = designOf(p.design);
  const pairs = (family: Family): [Address, Address][] => {
    const view = familyView(whole, family);
    const to = addressesOf(view, d.to);
    return addressesOf(view, d.from).flatMap((a) => to.flatMap((b): [Address, Address][] => (a === b ? [] : [[a, b]])));
  };
  if (p.family === 6 && pairs(4).length > 0) return [];
  const mine = pairs(p.family);
  return mine.map(([from, to]) => ({ from, to, mbps: d.mbps / mine.length }));
}

/** Why a demand is carried in no family, in words; `undefined`: it is. */
export function demandFault(families: readonly Prediction[], d: Demand): string | undefined {
  if (families.some((p) => flowsOf(p, d).length > 0)) return undefined;
  const faults = families.flatMap((p) => [d.from, d.to].flatMap((x) => endFaultIn(p, x) ?? []));
  return faults[0] ?? 'both ends are the same address';
}

const endFaultIn = (p: Prediction, end: Demand['from']): string | undefined =>
  addressesOf(p.design, end).length > 0
    ? undefined
    : `${typeof end === 'string' ? `“${end}”` : formatAddress(end)} stands for no address of IPv${p.family}`;

/** Flows by where they go: of each destination what enters at which router. */
function byDestination(f: Forwarding, flows: readonly Flow[]): ReadonlyMap<Address, { readonly entering: Map<number, number>; lost: number }> {
  const out = new Map<Address, { readonly entering: Map<number, number>; lost: number }>();
  for (const { from, to, mbps } of flows) {
    const there = out.get(to) ?? { entering: new Map<number, number>(), lost: 0 };
    out.set(to, there);
    const starts = f.endsOf(from);
    // A host's packets start at each gateway of its LAN alike.
    if (starts.length === 0) there.lost += mbps;
    for (const s of starts) there.entering.set(s, (there.entering.get(s) ?? 0) + mbps / starts.length);
  }
  return out;
}

/** Counts traffic on interfaces, by router and interface name. */
type Carried = Map<number, Map<string, number>>;

function add(carried: Carried, router: number, iface: string, mbps: number): void {
  const of = carried.get(router) ?? new Map<string, number>();
  carried.set(router, of);
  of.set(iface, (of.get(iface) ?? 0) + mbps);
}

/**
 * Sends traffic for one address through the network: at every router equal next hops share alike (RFC 2328 §16.1). What
 * comes into a circle of routers is lost there, without being counted on its links over and over.
 *
 * @returns Mbit/s that do not arrive
 */
function send(f: Forwarding, to: Address, entering: ReadonlyMap<number, number>, carried: Carried): number {
  // Every router that is passed, and how many ways lead into it that are not looked at yet.
  const steps = new Map<number, ReturnType<Forwarding['step']>>();
  const ways = new Map<number, number>();
  const found = [...entering.keys()];
  for (let r = found.pop(); r !== undefined; r = found.pop()) {
    if (steps.has(r)) continue;
    const step = f.step(r, to);
    steps.set(r, step);
    for (const w of step.kind === 'on' ? step.ways : [])
      if (w.to !== undefined) {
        ways.set(w.to, (ways.get(w.to) ?? 0) + 1);
        found.push(w.to);
      }
  }
  const amount = new Map(entering);
  const ready = [...steps.keys()].filter((r) => !ways.has(r));
  let arrived = 0;
  for (let r = ready.pop(); r !== undefined; r = ready.pop()) {
    const mbps = amount.get(r) ?? 0;
    const step = steps.get(r);
    if (step?.kind === 'end') {
      if (step.fate !== 'delivered') continue;
      arrived += mbps;
      if (step.iface !== undefined) add(carried, r, step.iface, mbps);
      continue;
    }
    for (const w of step?.ways ?? []) {
      const part = mbps / (step?.ways.length ?? 1);
      add(carried, r, w.iface, part);
      if (w.to === undefined) {
        arrived += part;
        continue;
      }
      amount.set(w.to, (amount.get(w.to) ?? 0) + part);
      const left = (ways.get(w.to) ?? 0) - 1;
      ways.set(w.to, left);
      if (left === 0) ready.push(w.to);
    }
  }
  return [...entering.values()].reduce((n, x) => n + x, 0) - arrived;
}

/** Rounded so that sums of shares read as what they are: to a bit per second. */
const rounded = (mbps: number): number => Math.round(mbps * 1e6) / 1e6;

/**
 * What every interface would carry of the demands of a design, in a state of each of its families: where traffic leaves the
 * design, and on the last LAN of a host, it counts on the interface it goes out of.
 *
 * @param families  the state of each family; what both carry adds up
 */
export function loadsOf(families: readonly Prediction[], demands: Demands): Loads {
  const carried: Carried = new Map();
  let asked = 0;
  let lost = 0;
  for (const p of families) {
    const f = Forwarding.quickly(p);
    for (const [to, there] of byDestination(
      f,
      demands.flatMap((d) => flowsOf(p, d)),
    )) {
      asked += there.lost + [...there.entering.values()].reduce((n, x) => n + x, 0);
      lost += there.lost + send(f, to, there.entering, carried);
    }
  }
  const routers = families[0]?.design.routers ?? [];
  const links = [...carried].flatMap(([router, ifaces]) =>
    [...ifaces].map(([iface, mbps]): LinkLoad => {
      const r = routers[router];
      return { router: r?.name ?? '', iface, mbps: rounded(mbps), capacity: r?.interfaces.find((i) => i.name === iface)?.bandwidthMbps };
    }),
  );
  const byName = (a: LinkLoad, b: LinkLoad): number => (a.router === b.router ? (a.iface < b.iface ? -1 : 1) : a.router < b.router ? -1 : 1);
  return { links: links.filter((l) => l.mbps > 0).sort(byName), asked: rounded(asked), lost: rounded(lost) };
}

/** Whether an interface would carry more than it can. */
export const isOver = (l: LinkLoad): boolean => l.capacity !== undefined && l.mbps > l.capacity;

/** Interfaces that would carry more than they can, the fullest first. */
export const overCapacity = ({ links }: Loads): LinkLoad[] =>
  links.filter(isOver).sort((a, b) => b.mbps / (b.capacity ?? 1) - a.mbps / (a.capacity ?? 1));
