/**
 * Small arrays cut out of few large ones. Thousands of arrays with memory of their own cost more to make than to fill;
 * on the other hand one of these keeps the whole piece in memory that it is cut from.
 */
export class IntPool {
  private piece = new Int32Array(0);
  private used = 0;

  /** @param room  numbers in one piece */
  constructor(private readonly room: number) {}

  /** An array of so many zeros. */
  take(length: number): Int32Array {
    if (this.used + length > this.piece.length) {
      this.piece = new Int32Array(Math.max(this.room, length));
      this.used = 0;
    }
    const out = new Int32Array(this.piece.buffer, this.used * Int32Array.BYTES_PER_ELEMENT, length);
    this.used += length;
    return out;
  }
}
