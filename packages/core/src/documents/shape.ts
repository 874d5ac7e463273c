const localNames = new Map<string, string>();

/** Member name without its module. Documents use few names often: the last some thousand are remembered. */
export function localName(member: string): string {
  let name = localNames.get(member);
  if (name === undefined) {
    name = member.slice(member.indexOf(':') + 1);
    if (localNames.size > 4000) localNames.clear();
    localNames.set(member, name);
  }
  return name;
}

/** Colons in a text. */
export function colonsIn(text: string): number {
  let n = 0;
  for (let i = text.indexOf(':'); i >= 0; i = text.indexOf(':', i + 1)) n++;
  return n;
}

/** What is known of a name that was asked for. */
class Asked {
  /** What was asked for after it the last time. */
  next: Asked = this;
  constructor(
    readonly name: string,
    /** Place among the keys; -1 when no member has the name. */
    readonly place: number,
    /** The member as it is written. */
    readonly key: string | undefined,
  ) {}
}

/**
 * The members that a node writes, in their order. Documents have few such shapes, so each is worked out once: where a name
 * stands, by its full or its local name, and the set of local names. Nodes of one shape are asked for the same names in the
 * same order: each answer leads to the next one, and a table is looked into only where the order is another one.
 */
export class Shape {
  /** Colons that a text needs to write these members, values left out: one each, and those in names. */
  readonly colons: number;
  private usual: Shape | undefined;
  private longer: Map<string, Shape> | undefined;
  private members: readonly string[] | undefined;
  private places: Map<string, Asked> | undefined;
  private last: Asked | undefined;
  private sets: Map<string, ReadonlySet<string>> | undefined;

  constructor(
    private readonly key: string,
    private readonly shorter: Shape | undefined,
  ) {
    this.colons = shorter ? shorter.colons + 1 + colonsIn(key) : 0;
  }

  /** The members as they are written; listed once somebody asks, as most shapes are only on the way to longer ones. */
  get keys(): readonly string[] {
    if (!this.members) {
      const keys = this.shorter ? [this.key] : [];
      for (let s = this.shorter; s?.shorter; s = s.shorter) keys.push(s.key);
      this.members = keys.reverse();
    }
    return this.members;
  }

  /** The shape with one more member. */
  and(key: string): Shape {
    const { usual } = this;
    return usual?.key === key ? usual : this.andSearched(key);
  }

  private andSearched(key: string): Shape {
    let shape = this.longer?.get(key);
    if (!shape) {
      shape = new Shape(key, this);
      (this.longer ??= new Map()).set(key, shape);
      shapes++;
    }
    this.usual = shape;
    return shape;
  }

  /** A member by its name, full or local; of two modules with one local name, the first. */
  find(name: string): Asked {
    const next = this.last?.next;
    if (next?.name !== name) return this.search(name);
    this.last = next;
    return next;
  }

  private search(name: string): Asked {
    const places = (this.places ??= new Map<string, Asked>());
    let found = places.get(name);
    if (!found) {
      let i = this.keys.indexOf(name);
      if (i < 0) i = this.keys.findIndex((k) => k.includes(':') && localName(k) === name);
      found = new Asked(name, i, this.keys[i]);
      places.set(name, found);
    }
    if (this.last) this.last.next = found;
    this.last = found;
    return found;
  }

  /** Local names of the members, and one more that belongs to them. */
  names(more: string): ReadonlySet<string> {
    const sets = (this.sets ??= new Map<string, ReadonlySet<string>>());
    let set = sets.get(more);
    if (!set) {
      set = new Set([...this.keys.map(localName), ...(more === '' ? [] : [more])]);
      sets.set(more, set);
    }
    return set;
  }
}

let shapes = 0;
let noMembers = new Shape('', undefined);

/** The shape of a node without members, from which each other one is found member by member. */
export function emptyShape(): Shape {
  // Nonsense may bring any number of shapes: what is remembered has a bound.
  if (shapes > 4000) [noMembers, shapes] = [new Shape('', undefined), 0];
  return noMembers;
}

/** The shape of a node. */
export function shapeOf(node: Record<string, unknown>): Shape {
  let shape = emptyShape();
  // Trees come from texts: all members are their own.
  for (const key in node) shape = shape.and(key);
  return shape;
}

const joined = new WeakMap<ReadonlySet<string>, WeakMap<ReadonlySet<string>, ReadonlySet<string>>>();

/** Names of both; asked again for the same two sets, the same set. */
export function joinedNames(a: ReadonlySet<string>, b: ReadonlySet<string>): ReadonlySet<string> {
  let byOther = joined.get(a);
  if (!byOther) joined.set(a, (byOther = new WeakMap()));
  let both = byOther.get(b);
  if (!both) byOther.set(b, (both = new Set([...a, ...b])));
  return both;
}
