import type { Port } from '../adjacency/speakers';
import type { Address } from '../prefix/address';
import type { Ipv4 } from '../prefix/ipv4';
import { wider } from '../segments/number-lists';

/** One link of a router-LSA (RFC 2328 A.4.2). */
export interface RouterLink {
  readonly kind: 'point-to-point' | 'transit' | 'stub' | 'virtual';
  /** Neighbour's router id, address of the designated router, or the stub network. Version 3: `networkKey` of the designated router, the number of the prefix. */
  readonly id: number;
  /** Own address (or interface index when unnumbered), or the stub network's mask. Version 3: numbers of the own and the neighbour's interface. */
  readonly data: number;
  readonly metric: number;
  /** The interface it describes; absent for a virtual link. */
  readonly port?: Port;
  /** Address to send to, at a neighbour on a point-to-point or virtual link. */
  readonly nextHop?: Address;
}

export interface RouterBits {
  readonly b: boolean;
  readonly e: boolean;
  readonly v: boolean;
  readonly nt: boolean;
}

const allBits = Array.from({ length: 16 }, (_, n): RouterBits => ({ b: (n & 1) > 0, e: (n & 2) > 0, v: (n & 4) > 0, nt: (n & 8) > 0 }));
const noBits: RouterBits = { b: false, e: false, v: false, nt: false };

/** Bits of a router-LSA: area border router, boundary router, end of a virtual link through the area, translator by decree. */
export const routerBits = (b: boolean, e: boolean, v: boolean, nt: boolean): RouterBits =>
  allBits[(b ? 1 : 0) + (e ? 2 : 0) + (v ? 4 : 0) + (nt ? 8 : 0)] ?? noBits;

/** Kinds of links as numbers: places in `linkKinds`. */
export const linkKinds = ['point-to-point', 'transit', 'stub', 'virtual'] as const;
export const pointToPointLink = 0;
export const transitLink = 1;
export const stubLink = 2;
export const virtualLink = 3;

/**
 * Links of many router-LSAs, one behind the other, a column for each field: a campus has tens of thousands, and most are
 * only ever looked at by the computation. Link `n` is entry `n` of every column.
 */
export class LinkColumns {
  count = 0;
  kind: Uint8Array;
  id: Float64Array;
  data: Uint32Array;
  metric: Int32Array;
  nextHop: Float64Array;
  readonly port: (Port | undefined)[];

  /**
   * @param room  how many are expected; more are taken all the same
   * @param six   links of version 3: prefixes stand among them as stub links, though an intra-area-prefix-LSA brings them
   */
  constructor(
    room: number,
    readonly six = false,
  ) {
    this.kind = new Uint8Array(room);
    this.id = new Float64Array(room);
    this.data = new Uint32Array(room);
    this.metric = new Int32Array(room);
    this.nextHop = new Float64Array(room);
    this.port = new Array<Port | undefined>(room);
  }

  /** Adds a link. `nextHop`: the neighbour's address on a point-to-point or virtual link, the own one on a transit link. */
  add(kind: number, id: number, data: number, metric: number, port: Port | undefined, nextHop: Address = 0): void {
    const n = this.count++;
    if (n === this.kind.length) this.grow();
    this.kind[n] = kind;
    this.id[n] = id;
    this.data[n] = data;
    this.metric[n] = metric;
    this.nextHop[n] = nextHop;
    this.port[n] = port;
  }

  private grow(): void {
    const room = this.count + 8;
    this.kind = wider(this.kind, room);
    this.id = wider(this.id, room);
    this.data = wider(this.data, room);
    this.metric = wider(this.metric, room);
    this.nextHop = wider(this.nextHop, room);
  }

  /** A link as an object. */
  readable(n: number): RouterLink {
    const kind = linkKinds[this.kind[n] ?? stubLink] ?? 'stub';
    const port = this.port[n];
    return {
      kind,
      id: this.id[n] ?? 0,
      data: this.data[n] ?? 0,
      metric: this.metric[n] ?? 0,
      ...(port && { port }),
      ...((kind === 'point-to-point' || kind === 'virtual') && { nextHop: this.nextHop[n] ?? 0 }),
    };
  }
}

/** What names a network in version 3: its designated router with the number of that router's interface (RFC 5340 §4.4.3.3), as one number. */
export const networkKey = (routerId: Ipv4, iface: number): number => routerId * 0x10_0000 + iface;

/** Type 1 (RFC 2328 §12.4.1, RFC 5340 §4.4.3.2). Its links stand in columns `first` to `end - 1`, and are made readable when asked for. */
export class RouterLsa {
  readonly type = 1;
  private made: readonly RouterLink[] | undefined;

  constructor(
    readonly adv: Ipv4,
    readonly speaker: number,
    public bits: RouterBits,
    readonly columns: LinkColumns,
    readonly first: number,
    readonly end: number,
  ) {}

  /** Link state id: the router's id; in version 3 one of several, and the first is enough. */
  get id(): Ipv4 {
    return this.columns.six ? 0 : this.adv;
  }

  get links(): readonly RouterLink[] {
    return (this.made ??= Array.from({ length: this.end - this.first }, (_, n) => this.columns.readable(this.first + n)));
  }

  /** The interface that a link describes, by the place of the link in the advertisement. */
  portOf(link: number): Port | undefined {
    return this.columns.port[this.first + link];
  }

  /** True when a point-to-point or virtual link leads to a router. */
  pointsTo(id: Ipv4): boolean {
    const { kind, id: ids } = this.columns;
    for (let n = this.first; n < this.end; n++) if (ids[n] === id && (kind[n] === pointToPointLink || kind[n] === virtualLink)) return true;
    return false;
  }
}
