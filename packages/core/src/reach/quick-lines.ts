import type { Speaker } from '../adjacency/speakers';
import { isUnnumbered } from '../adjacency/speakers';
import { routeTypes, type RouteType } from '../design/terms';
import type { Candidate } from '../dense/exit';
import type { HopSlots } from '../dense/hop-slots';
import type { InternalFinder } from '../dense/inside-finder';
import type { TableBuffer } from '../dense/table-buffer';
import type { TableRows } from '../dense/table-rows';
import { holds, type Address } from '../prefix/address';
import { prefixBook } from '../prefix/prefix-book';
import type { Prediction } from '../predict';
import { preferenceOf } from '../routes/handing-over';
import type { LocalHop, LocalRoute } from '../routes/local-routes';
import type { RibRoute } from '../routes/rib';

/** A line of a router's table as packets need it: of OSPF's own only kind and cost. */
export type Line = Omit<RibRoute, 'route'> & { readonly route?: { readonly type: RouteType; readonly metric: number } };

/** A route as the arrays have it. */
interface Entry {
  readonly kind: number;
  readonly metric: number;
  readonly hops: number;
}

/** What one router's lines are made of, and those that were written out. */
interface Quick {
  readonly speaker: Speaker;
  readonly slots: HopSlots;
  readonly find: InternalFinder;
  /** Prefixes that it could have from outside the system. */
  readonly announced: ReadonlySet<number>;
  /** Those that it has, once somebody asked. */
  outside: ReadonlyMap<number, Entry> | undefined;
  /** Ranges of its own in force that it tells: what has nothing more exact in them is dropped (RFC 2328 §12.4.3). */
  readonly discards: ReadonlySet<number>;
  readonly locals: ReadonlyMap<number, LocalRoute>;
  readonly lines: Map<number, Line | undefined>;
  /** Sets of next hops that were written out. */
  readonly sets: Map<number, readonly LocalHop[]>;
}

const nothing: ReadonlySet<number> = new Set();

/**
 * The lines that routers have for single addresses, from the arrays of the fast road: the same as in their own tables, which
 * are not made for it. Of routers whose table is more than OSPF, ranges of their own and routes of their own (policies, ranges
 * for what comes from outside, routes that lean on OSPF) nothing is told.
 */
export class QuickLines {
  private readonly routers = new Map<number, Quick | undefined>();
  private readonly holding = new Map<Address, readonly number[]>();
  private buffer: TableBuffer | undefined;
  private readonly announcedBy = new Map<readonly (readonly Candidate[])[], ReadonlySet<number>>();

  private constructor(
    private readonly p: Prediction,
    private readonly rows: TableRows,
  ) {}

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
    const { ribPolicy, externalRanges } = s.instance;
    if (ribPolicy.length > 0 || externalRanges.length > 0) return undefined;
    const locals = this.p.localRoutes(router);
    if (locals.some((l) => l.recursive)) return undefined;
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
      find: this.rows.finderOf(s),
      announced: this.announcedTo(s),
      outside: undefined,
      discards: this.discardsOf(s),
      locals: best,
      lines: new Map(),
      sets: new Map(),
    };
  }

  private discardsOf(s: Speaker): ReadonlySet<number> {
    const told = s.instance.areas.flatMap((a) => a.ranges).filter((r) => r.advertise);
    if (told.length === 0) return nothing;
    const { arrays } = this.rows;
    const own = new Set((arrays.choosers.of(s) ? arrays.inside(s) : arrays.whole(s)).own);
    return new Set(told.map((r) => prefixBook.id(r.prefix.bits, r.prefix.length)).filter((key) => own.has(key)));
  }

  private announcedTo(s: Speaker): ReadonlySet<number> {
    const groups = this.rows.external.candidates(s);
    let known = this.announcedBy.get(groups);
    if (!known) this.announcedBy.set(groups, (known = new Set(groups.flatMap((g) => g[0]?.id ?? []))));
    return known;
  }

  /** A router's external routes, written out once. */
  private outsideOf(q: Quick): ReadonlyMap<number, Entry> {
    if (!q.outside) {
      const buffer = (this.buffer ??= this.rows.emptyBuffer());
      this.rows.fillOutside(buffer, q.speaker);
      const { prefix, kind, metric, hops } = buffer;
      const out = new Map<number, Entry>();
      for (let i = 0; i < buffer.count; i++) out.set(prefix[i] ?? 0, { kind: kind[i] ?? 0, metric: metric[i] ?? 0, hops: hops[i] ?? 0 });
      q.outside = out;
    }
    return q.outside;
  }

  /** What OSPF brings of a prefix: a route inside the system, else one from outside (RFC 2328 §16.4 (1)). */
  private entryOf(q: Quick, key: number): Entry | undefined {
    const inside = q.find(key);
    if (inside) return { kind: inside.kind - 1, metric: inside.cost, hops: q.slots.limited(inside.hops, q.speaker.instance.paths) };
    return q.announced.has(key) ? this.outsideOf(q).get(key) : undefined;
  }

  /** How many prefixes were named when `holding` was filled. */
  private named = 0;

  /** Prefixes that anybody named and that hold an address, the longest first. */
  private holdersOf(a: Address): readonly number[] {
    if (this.named !== prefixBook.size) {
      this.named = prefixBook.size;
      this.holding.clear();
    }
    let known = this.holding.get(a);
    if (!known) this.holding.set(a, (known = prefixBook.holders(a)));
    return known;
  }

  private longest(q: Quick, to: Address): Line | undefined {
    for (const key of this.holdersOf(to)) {
      const line = this.lineOf(q, key);
      if (line) return line;
    }
    return undefined;
  }

  private has(q: Quick, key: number): boolean {
    return q.locals.has(key) || this.entryOf(q, key) !== undefined || q.discards.has(key);
  }

  /** The line of a prefix, without hops that lie inside it and that nothing longer leads to; `undefined` where none is left. */
  private lineOf(q: Quick, key: number): Line | undefined {
    if (q.lines.has(key)) return q.lines.get(key);
    const written = this.written(q, key);
    const made = written && this.resolvable(q, written);
    q.lines.set(key, made);
    return made;
  }

  /** What wins for a prefix: a route of the router's own, or that of OSPF; `undefined`: it has none. */
  private written(q: Quick, key: number): Line | undefined {
    const local = q.locals.get(key);
    const entry = this.entryOf(q, key);
    const discards = !entry && q.discards.has(key);
    if (!local && !entry && !discards) return undefined;
    const { bits, length } = prefixBook.prefix(key);
    const type = entry && (routeTypes[entry.kind] ?? 'intra-area');
    const preference = discards ? q.speaker.instance.preference.inter : type === undefined ? Infinity : preferenceOf(q.speaker, { type });
    if (local && (local.preference < preference || (local.preference === preference && local.source !== 'other')))
      return { key, bits, length, source: local.source, preference: local.preference, hops: local.hops };
    if (discards) return { key, bits, length, source: 'ospf-discard', preference, hops: [] };
    return {
      key,
      bits,
      length,
      source: 'ospf',
      preference,
      hops: this.hopsOf(q, entry?.hops ?? 0),
      route: { type: type ?? 'intra-area', metric: entry?.metric ?? 0 },
    };
  }

  /** A set of next hops in words: one list for all lines that it takes. */
  private hopsOf({ slots, sets }: Quick, code: number): readonly LocalHop[] {
    let known = sets.get(code);
    if (!known) sets.set(code, (known = this.writtenHops(slots, code)));
    return known;
  }

  private writtenHops(slots: HopSlots, code: number): readonly LocalHop[] {
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
