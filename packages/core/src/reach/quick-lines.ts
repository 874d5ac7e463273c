import type { Speaker } from '../adjacency/speakers';
import { isUnnumbered } from '../adjacency/speakers';
import { routeTypes, type RouteType } from '../design/terms';
import type { HopSlots } from '../dense/hop-slots';
import type { TableBuffer } from '../dense/table-buffer';
import type { TableRows } from '../dense/table-rows';
import { holds, hostLength, type Address } from '../prefix/address';
import { prefixBook } from '../prefix/prefix-book';
import type { Prediction } from '../predict';
import { preferenceOf } from '../routes/handing-over';
import type { LocalHop, LocalRoute } from '../routes/local-routes';
import type { RibRoute } from '../routes/rib';

/** A line of a router's table as packets need it: of OSPF's own only kind and cost. */
export type Line = Omit<RibRoute, 'route'> & { readonly route?: { readonly type: RouteType; readonly metric: number } };

/** One router's table in arrays, and lines of it that were written out. */
interface Quick {
  readonly speaker: Speaker;
  readonly slots: HopSlots;
  /** By number of the prefix: its entry. */
  readonly entries: ReadonlyMap<number, number>;
  readonly kind: Uint8Array;
  readonly metric: Int32Array;
  readonly hops: Int32Array;
  readonly locals: ReadonlyMap<number, LocalRoute>;
  readonly lines: Map<number, Line | undefined>;
}

/**
 * The lines that routers have for single addresses, from the arrays of the fast road: the same as in their own tables, which
 * are not made for it. Of routers whose table is more than OSPF and routes of their own (policies, summaries of their own,
 * routes that lean on OSPF) nothing is told.
 */
export class QuickLines {
  private readonly routers = new Map<number, Quick | undefined>();
  private readonly holding = new Map<Address, readonly number[]>();
  private readonly buffer: TableBuffer;

  private constructor(
    private readonly p: Prediction,
    private readonly rows: TableRows,
  ) {
    this.buffer = rows.emptyBuffer();
  }

  /** Over a state that was computed on the fast road; `undefined` for one that was not. */
  static over(p: Prediction): QuickLines | undefined {
    return p.dense && new QuickLines(p, p.dense.rows);
  }

  private of(router: number): Quick | undefined {
    let quick = this.routers.get(router);
    if (!quick && !this.routers.has(router)) this.routers.set(router, (quick = this.quick(router)));
    return quick;
  }

  /** Whether a router's lines can be told. */
  tells(router: number): boolean {
    return this.of(router) !== undefined;
  }

  /** The longest line of a router that holds an address, where its lines can be told; `undefined`: there is none. */
  find(router: number, to: Address): Line | undefined {
    const quick = this.of(router);
    return quick && this.longest(quick, to);
  }

  /** Keeps nothing of a router any more. */
  forget(router: number): void {
    this.routers.delete(router);
  }

  private quick(router: number): Quick | undefined {
    const [s, ...more] = this.p.speakersOf(router);
    if (!s || more.length > 0 || this.p.outage.routers.has(router)) return undefined;
    const { ribPolicy, areas, externalRanges } = s.instance;
    if (ribPolicy.length > 0 || externalRanges.length > 0 || areas.some((a) => a.ranges.length > 0)) return undefined;
    const locals = this.p.localRoutes(router);
    if (locals.some((l) => l.recursive)) return undefined;
    const { buffer } = this;
    this.rows.fill(buffer, s);
    const entries = new Map<number, number>();
    for (let i = 0; i < buffer.count; i++) entries.set(buffer.prefix[i] ?? 0, i);
    const best = new Map<number, LocalRoute>();
    const order = ['direct', 'static', 'other'];
    for (const l of locals) {
      const old = best.get(l.key);
      if (!old || l.preference < old.preference || (l.preference === old.preference && order.indexOf(l.source) < order.indexOf(old.source)))
        best.set(l.key, l);
    }
    return {
      speaker: s,
      slots: this.rows.arrays.slotsOf(s),
      entries,
      kind: buffer.kind.slice(0, buffer.count),
      metric: buffer.metric.slice(0, buffer.count),
      hops: buffer.hops.slice(0, buffer.count),
      locals: best,
      lines: new Map(),
    };
  }

  /** Prefixes that anybody named and that hold an address, the longest first. */
  private holdersOf(a: Address): readonly number[] {
    let known = this.holding.get(a);
    if (!known) {
      const all: number[] = [];
      for (let length = hostLength(a); length >= 0; length--) {
        const key = prefixBook.holder(a, length);
        if (key !== undefined) all.push(key);
      }
      this.holding.set(a, (known = all));
    }
    return known;
  }

  private longest(q: Quick, to: Address): Line | undefined {
    for (const key of this.holdersOf(to)) {
      const line = this.has(q, key) ? this.lineOf(q, key) : undefined;
      if (line) return line;
    }
    return undefined;
  }

  private has(q: Quick, key: number): boolean {
    return q.entries.has(key) || q.locals.has(key);
  }

  /** The line of a prefix, without hops that lie inside it and that nothing longer leads to; `undefined` where none is left. */
  private lineOf(q: Quick, key: number): Line | undefined {
    if (q.lines.has(key)) return q.lines.get(key);
    const made = this.resolvable(q, this.written(q, key));
    q.lines.set(key, made);
    return made;
  }

  /** What wins for a prefix: a route of the router's own, or that of OSPF. */
  private written(q: Quick, key: number): Line {
    const local = q.locals.get(key);
    const i = q.entries.get(key);
    const { bits, length } = prefixBook.prefix(key);
    const type = i === undefined ? undefined : (routeTypes[q.kind[i] ?? 0] ?? 'intra-area');
    const preference = type === undefined ? Infinity : preferenceOf(q.speaker, { type });
    if (local && (local.preference < preference || (local.preference === preference && local.source !== 'other')))
      return { key, bits, length, source: local.source, preference: local.preference, hops: local.hops };
    const metric = q.metric[i ?? 0] ?? 0;
    return {
      key,
      bits,
      length,
      source: 'ospf',
      preference,
      hops: this.hopsOf(q, q.hops[i ?? 0] ?? 0),
      route: { type: type ?? 'intra-area', metric },
    };
  }

  private hopsOf({ slots }: Quick, code: number): LocalHop[] {
    return slots.places(code).flatMap((n): LocalHop[] => {
      const port = slots.portAt(n);
      if (!port) return [];
      const way = { iface: port.iface.name, address: slots.addressAt(n) };
      return [isUnnumbered(port) ? { ...way, unnumbered: true } : way];
    });
  }

  private resolvable(q: Quick, line: Line): Line | undefined {
    if (line.source === 'direct') return line;
    const hops = line.hops.filter(
      ({ address, unnumbered }) =>
        address === undefined ||
        unnumbered === true ||
        !holds(line, address) ||
        this.holdersOf(address).some((key) => prefixBook.lengthOf(key) > line.length && this.has(q, key)),
    );
    if (hops.length === line.hops.length) return line;
    return hops.length === 0 ? undefined : { ...line, hops };
  }
}
