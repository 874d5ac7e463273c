/** Things counted from 0 that are joined into groups. */
export class Groups {
  private readonly parent: Int32Array;
  constructor(size: number) {
    this.parent = new Int32Array(size);
    for (let i = 0; i < size; i++) this.parent[i] = i;
  }
  /** Takes these out of whatever they were joined to, for another use. None that is left may be joined to one of them. */
  part(members: readonly number[]): void {
    for (const i of members) this.parent[i] = i;
  }
  /** The one that stands for the group. */
  find(i: number): number {
    let root = i;
    while (this.parent[root] !== root) root = this.parent[root] ?? root;
    this.parent[i] = root;
    return root;
  }
  join(a: number, b: number): void {
    this.parent[this.find(a)] = this.find(b);
  }
}

/**
 * Things counted from 0, sorted by a number that each has: those of number `k` are entries `first[k]` to
 * `first[k + 1] - 1` of `order`, in their own order. Numbers below 0 are left out.
 */
export function byNumber(numbers: Int32Array, count: number): { readonly first: Int32Array; readonly order: Int32Array } {
  const first = new Int32Array(count + 1);
  for (let n = 0; n < numbers.length; n++) {
    const k = numbers[n] ?? -1;
    if (k >= 0) first[k + 1] = (first[k + 1] ?? 0) + 1;
  }
  for (let k = 0; k < count; k++) first[k + 1] = (first[k + 1] ?? 0) + (first[k] ?? 0);
  const order = new Int32Array(first[count] ?? 0);
  const at = first.slice();
  for (let n = 0; n < numbers.length; n++) {
    const k = numbers[n] ?? -1;
    if (k < 0) continue;
    const place = at[k] ?? 0;
    order[place] = n;
    at[k] = place + 1;
  }
  return { first, order };
}
