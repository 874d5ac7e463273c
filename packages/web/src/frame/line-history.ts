/** Lines that were carried out, for arrow up and down: kept while the page is open. */
export class LineHistory {
  private readonly lines: string[] = [];
  /** Steps back from the line that is being typed; 0: none. */
  private back = 0;
  private typed = '';

  /** A line was carried out; the same one again is not kept twice. */
  add(line: string): void {
    const text = line.trim();
    if (text !== '' && this.lines.at(-1) !== text) this.lines.push(text);
    this.leave();
  }

  /** What is typed by hand is no line of the history any more. */
  leave(): void {
    this.back = 0;
  }

  get walking(): boolean {
    return this.back > 0;
  }

  /** The line before; `undefined` at the first. What is typed so far is kept for the way back. */
  earlier(now: string): string | undefined {
    if (this.back === this.lines.length) return undefined;
    if (this.back === 0) this.typed = now;
    return this.lines.at(-++this.back);
  }

  /** The line after; at the end what was typed. */
  later(): string | undefined {
    if (this.back === 0) return undefined;
    return --this.back === 0 ? this.typed : this.lines.at(-this.back);
  }
}
