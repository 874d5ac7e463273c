import { bitsOf, commonPrefix, comparePrefixes, covers, formatPrefix, lastOf, sizeOf, type Prefix } from '../prefix/address';

/** A prefix that is not the area's own. */
export interface ForeignPrefix {
  readonly prefix: Prefix;
  /** The area that it lies in; `null`: a static route's, or another protocol's. */
  readonly area: number | null;
}

/** What summaries are planned for. All prefixes are of one family. */
export interface Task {
  /** What should be told by summaries, each prefix once. */
  readonly parts: readonly Prefix[];
  readonly foreign: readonly ForeignPrefix[];
  /** No summary reaches outside these. */
  readonly supernets: readonly Prefix[];
}

/** How much a plan may do. */
export interface Limits {
  /** Summaries at most. */
  readonly atMost: number;
  /** Foreign prefixes that each of them may hold. */
  readonly allowForeign: number;
}

/** Some summaries, and what they do to the parts. */
export interface Choice {
  /** Ascending, none inside another. */
  readonly summaries: readonly Prefix[];
  /** Parts in none of them. */
  readonly outside: readonly Prefix[];
  readonly foreign: readonly ForeignPrefix[];
  /** Addresses in the summaries. */
  readonly claimed: bigint;
  /** Addresses of the parts in them. */
  readonly needed: bigint;
}

/** A place where parts come together: one of them, or the smallest prefix that holds some. */
interface Node {
  readonly prefix: Prefix;
  readonly isPart: boolean;
  readonly below: Node[];
}

/** Summaries of a part of the tree, as a tree themselves: they are put in a row only where two plans are equal in all else. */
type Row = readonly [Prefix] | readonly [Row, Row];

/** The best that so many summaries can do below a node. */
interface Best {
  readonly covered: number;
  readonly foreign: number;
  readonly claimed: bigint;
  readonly row: Row | undefined;
}

const nothing: Best = { covered: 0, foreign: 0, claimed: 0n, row: undefined };

const inRow = (row: Row | undefined): readonly Prefix[] =>
  row === undefined ? [] : row.length === 1 ? [row[0]] : [...inRow(row[0]), ...inRow(row[1])];

/** The lower one of two rows of summaries: that with the lower address where they first differ. */
export function compareRows(a: readonly Prefix[], b: readonly Prefix[]): number {
  for (let i = 0; i < Math.min(a.length, b.length); i++) {
    const [x, y] = [a[i], b[i]];
    const order = x && y ? comparePrefixes(x, y) : 0;
    if (order !== 0) return order;
  }
  return a.length - b.length;
}

/** The stated order of plans with equally many summaries: fewest outside, least foreign, fewest addresses, lowest address. */
function isBetter(a: Best, b: Best | undefined): boolean {
  if (!b || a.covered !== b.covered) return a.covered > (b?.covered ?? -1);
  if (a.foreign !== b.foreign) return a.foreign < b.foreign;
  if (a.claimed !== b.claimed) return a.claimed < b.claimed;
  return compareRows(inRow(a.row), inRow(b.row)) < 0;
}

const joined = (a: Best, b: Best): Best => ({
  covered: a.covered + b.covered,
  foreign: a.foreign + b.foreign,
  claimed: a.claimed + b.claimed,
  row: a.row && b.row ? [a.row, b.row] : (a.row ?? b.row),
});

/** Parts, and the smallest prefixes in which they come together, as trees of what covers what. */
function treesOf(parts: readonly Prefix[]): Node[] {
  const roots: Node[] = [];
  const open: Node[] = [];
  for (const prefix of [...parts].sort(comparePrefixes)) {
    let last: Node | undefined;
    while (open.length > 0 && !covers((open.at(-1) as Node).prefix, prefix)) last = open.pop();
    const beside = open.at(-1)?.below ?? roots;
    const node: Node = { prefix, isPart: true, below: [] };
    const common = last && commonPrefix(last.prefix, prefix);
    // A node that stands where another one does would be its double: the last one hangs below what is open already.
    if (last && common && common.length > (open.at(-1)?.prefix.length ?? -1)) {
      beside.pop();
      const joint: Node = { prefix: common, isPart: false, below: [last, node] };
      beside.push(joint);
      open.push(joint);
    } else beside.push(node);
    open.push(node);
  }
  return roots;
}

/** Counts prefixes inside another one, of a list that never changes. */
class Inside {
  private readonly first: readonly bigint[];
  private readonly length: readonly number[];

  constructor(list: readonly Prefix[]) {
    const sorted = [...list].sort(comparePrefixes);
    this.first = sorted.map((p) => bitsOf(p.bits));
    this.length = sorted.map((p) => p.length);
  }

  /** How many come before a place in the order of prefixes. */
  private before(bits: bigint, length: number): number {
    let [low, high] = [0, this.first.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      const b = this.first[middle] ?? 0n;
      if (b < bits || (b === bits && (this.length[middle] ?? 0) < length)) low = middle + 1;
      else high = middle;
    }
    return low;
  }

  count(p: Prefix): number {
    return this.before(bitsOf(lastOf(p)), 129) - this.before(bitsOf(p.bits), p.length);
  }
}

/** The best plans below a node, by their number of summaries; a gap where there is none of that number. */
function bestBelow(
  node: Node,
  atMost: number,
  candidate: (n: Node, parts: number) => Best | undefined,
): { readonly parts: number; readonly best: Best[] } {
  let best: Best[] = [nothing];
  let parts = node.isPart ? 1 : 0;
  for (const child of node.below) {
    const below = bestBelow(child, atMost, candidate);
    parts += below.parts;
    best = together(best, below.best, atMost);
  }
  const one = candidate(node, parts);
  if (one && atMost > 0 && isBetter(one, best[1])) best[1] = one;
  return { parts, best };
}

/** Plans of two places that lie beside each other, put together. */
function together(a: readonly Best[], b: readonly Best[], atMost: number): Best[] {
  const out: Best[] = [];
  a.forEach((x, i) => {
    b.forEach((y, k) => {
      if (i + k > atMost) return;
      const sum = joined(x, y);
      if (isBetter(sum, out[i + k])) out[i + k] = sum;
    });
  });
  return out;
}

/** Addresses of prefixes, each counted once however many hold it. */
export function addressesOf(list: readonly Prefix[]): bigint {
  let sum = 0n;
  let last: Prefix | undefined;
  for (const p of [...list].sort(comparePrefixes)) {
    if (last && covers(last, p)) continue;
    sum += sizeOf(p);
    last = p;
  }
  return sum;
}

/** What some summaries do to the parts, whoever laid them. */
export function judge(task: Pick<Task, 'parts' | 'foreign'>, summaries: readonly Prefix[]): Choice {
  const inside = (p: Prefix): boolean => summaries.some((s) => covers(s, p));
  return {
    summaries: [...summaries].sort(comparePrefixes),
    outside: task.parts.filter((p) => !inside(p)).sort(comparePrefixes),
    foreign: task.foreign.filter((f) => inside(f.prefix)).sort((a, b) => comparePrefixes(a.prefix, b.prefix)),
    claimed: addressesOf(summaries),
    needed: addressesOf(task.parts.filter(inside)),
  };
}

/**
 * Whether one choice goes before another: fewest parts outside, then least foreign, then fewest addresses claimed, then
 * fewest summaries, then lowest address.
 */
export function compareChoices(a: Choice, b: Choice): number {
  return (
    a.outside.length - b.outside.length ||
    a.foreign.length - b.foreign.length ||
    Number(a.claimed > b.claimed) - Number(a.claimed < b.claimed) ||
    a.summaries.length - b.summaries.length ||
    compareRows(a.summaries, b.summaries)
  );
}

/**
 * The best summaries for some prefixes (CIDR, RFC 4632 §5; as ranges of an area, RFC 2328 §3.5): none inside another, each the
 * smallest that holds its parts, inside the supernets, and with no more foreign prefixes than allowed. The first is the best of
 * all; after it comes the best of each other number of summaries, from one up, as far as there is one.
 *
 * Exact: parts hang in a tree of what covers what, and of each place in it the best is known for every number of summaries.
 */
export function planSummaries(task: Task, { atMost, allowForeign }: Limits): Choice[] {
  const foreign = new Inside(task.foreign.map((f) => f.prefix));
  const candidate = ({ prefix }: Node, parts: number): Best | undefined => {
    const held = foreign.count(prefix);
    if (held > allowForeign || !task.supernets.some((s) => covers(s, prefix))) return undefined;
    return { covered: parts, foreign: held, claimed: sizeOf(prefix), row: [prefix] };
  };
  const limit = Math.min(atMost, task.parts.length);
  const best = treesOf(task.parts).reduce<Best[]>((all, root) => together(all, bestBelow(root, limit, candidate).best, limit), [nothing]);
  const choices = Object.values(best).map((b) => judge(task, inRow(b.row)));
  const [first] = [...choices].sort(compareChoices);
  return first ? [first, ...choices.filter((c) => c !== first && c.summaries.length > 0)] : [];
}

/** Prefixes that lie side by side, put together as far as they go: what reaches over two halves lies inside the whole. */
export function mergedSupernets(list: readonly Prefix[]): Prefix[] {
  const out: Prefix[] = [];
  for (const p of [...list].sort(comparePrefixes)) {
    if (out.some((o) => covers(o, p))) continue;
    out.push(p);
    for (;;) {
      const [a, b] = [out.at(-2), out.at(-1)];
      if (!a || !b) break;
      const whole = commonPrefix(a, b);
      if (a.length !== b.length || whole.length !== a.length - 1) break;
      out.splice(-2, 2, whole);
    }
  }
  return out;
}

/** Summaries as text, one after another. */
export const rowText = (list: readonly Prefix[]): string => list.map(formatPrefix).join(', ');
