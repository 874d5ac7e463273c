/** What happens at a moment. */
type Deed = () => void;

/** Deeds in the order of their moments; at one moment in the order in which they were put in. Times in ms. */
export class EventQueue {
  private readonly at: number[] = [];
  private readonly turn: number[] = [];
  private readonly deeds: Deed[] = [];
  private turns = 0;
  /** The moment of the deed that is being done. */
  now = 0;
  /** Deeds done so far. */
  done = 0;

  get size(): number {
    return this.at.length;
  }

  private before(i: number, j: number): boolean {
    const [a, b] = [this.at[i] ?? 0, this.at[j] ?? 0];
    return a < b || (a === b && (this.turn[i] ?? 0) < (this.turn[j] ?? 0));
  }

  private swap(i: number, j: number): void {
    for (const list of [this.at, this.turn, this.deeds] as unknown[][]) [list[i], list[j]] = [list[j], list[i]];
  }

  /** Puts a deed in; one for a moment that is over is done now. */
  put(at: number, deed: Deed): void {
    let i = this.at.length;
    this.at.push(Math.max(at, this.now));
    this.turn.push(this.turns++);
    this.deeds.push(deed);
    while (i > 0 && this.before(i, (i - 1) >> 1)) {
      this.swap(i, (i - 1) >> 1);
      i = (i - 1) >> 1;
    }
  }

  /** Does the next deed; false when there is none. */
  step(): boolean {
    const deed = this.deeds[0];
    if (!deed) return false;
    this.now = this.at[0] ?? 0;
    const last = this.at.length - 1;
    this.swap(0, last);
    this.at.pop();
    this.turn.pop();
    this.deeds.pop();
    for (let i = 0; ;) {
      const left = 2 * i + 1;
      if (left >= last) break;
      const least = left + 1 < last && this.before(left + 1, left) ? left + 1 : left;
      if (!this.before(least, i)) break;
      this.swap(i, least);
      i = least;
    }
    this.done++;
    deed();
    return true;
  }
}
