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
