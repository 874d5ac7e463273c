/** What happens at a moment. */
type Deed = () => void;

interface Entry {
  readonly at: number;
  readonly turn: number;
  readonly deed: Deed;
}

const before = (a: Entry, b: Entry): boolean => a.at < b.at || (a.at === b.at && a.turn < b.turn);

/** Deeds in the order of their moments; at one moment in the order in which they were put in. Times in ms. */
export class EventQueue {
  private readonly heap: Entry[] = [];
  private turns = 0;
  /** The moment of the deed that is being done. */
  now = 0;
  /** Deeds done so far. */
  done = 0;

  get size(): number {
    return this.heap.length;
  }

  /** The moment of the next deed; Infinity when there is none. */
  get nextAt(): number {
    return this.heap[0]?.at ?? Infinity;
  }

  /** Puts a deed in; one for a moment that is over is done now. */
  put(at: number, deed: Deed): void {
    const { heap } = this;
    const entry = { at: Math.max(at, this.now), turn: this.turns++, deed };
    let i = heap.push(entry) - 1;
    while (i > 0) {
      const up = (i - 1) >> 1;
      const other = heap[up];
      if (!other || !before(entry, other)) break;
      heap[i] = other;
      i = up;
    }
    heap[i] = entry;
  }

  /** Does the next deed; false when there is none. */
  step(): boolean {
    const { heap } = this;
    const first = heap[0];
    const last = heap.pop();
    if (!first || !last) return false;
    if (heap.length > 0) {
      let i = 0;
      for (;;) {
        const left = 2 * i + 1;
        const [a, b] = [heap[left], heap[left + 1]];
        const least = a && b && before(b, a) ? left + 1 : left;
        const other = heap[least];
        if (!other || !before(other, last)) break;
        heap[i] = other;
        i = least;
      }
      heap[i] = last;
    }
    this.now = first.at;
    this.done++;
    first.deed();
    return true;
  }
}
