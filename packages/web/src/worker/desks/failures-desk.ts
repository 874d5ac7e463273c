import { comparing } from '@gentle-compass/core/compare/compare';
import { transfer } from 'comlink';
import type { EveryCut, FailureView, Glimpse } from '../../model/view';
import { Failing, failureView, failuresNamed } from '../failing';
import type { Held } from '../held';
import { countedUpTo } from '../views';

/** What fails, and what comes of it. */
export class FailuresDesk {
  private readonly failing = new Failing();
  private wishes = 0;
  private glimpses = 0;

  constructor(private readonly held: Held) {}

  /**
   * What a failure does at a glance, for designs whose tables are too many to lay side by side at once: how many routes of
   * which routers are other ones. What cannot be reached any more is counted by `fail`. `null` for small designs.
   */
  glance(words: readonly string[]): FailureView | null {
    const { now } = this.held;
    return words.length === 0 || now.design.routers.length <= countedUpTo ? null : this.failing.glance(now, words);
  }

  /** What more failures would change, in numbers, before they are made; `null` when a newer one was pointed at meanwhile. */
  async glimpse(words: readonly string[]): Promise<Glimpse | null> {
    const mine = ++this.glimpses;
    await new Promise((go) => setTimeout(go, 0));
    return mine === this.glimpses ? this.failing.glimpse(this.held.failed ?? this.held.now, words) : null;
  }

  /**
   * Tries every single link, in slices; `report` hears how far it is. `null` when the design changed or `stopCuts` was called.
   * The numbers come as arrays that are handed over, not copied.
   */
  async everyCut(report: (done: number, of: number) => void): Promise<EveryCut | null> {
    const { held } = this;
    const mine = held.designs;
    const cuts = await this.failing.everyCut(held.now, held.slice, report, () => mine === held.designs);
    return cuts && transfer(cuts, [cuts.routers.buffer, cuts.lost.buffer, cuts.changed.buffer]);
  }

  /** Ends a trial of every link. */
  stopCuts(): void {
    this.failing.stop();
  }

  /** Takes things down, in the order given, and says what is lost; `null` when a newer wish came meanwhile. An empty list restores everything. */
  async fail(words: readonly string[]): Promise<FailureView | null> {
    const { held } = this;
    const start = performance.now();
    this.wishes++;
    const { now } = held;
    const { good, problems } = failuresNamed(words);
    const after = this.failing.stateWith(now, good);
    held.failed = good.length > 0 ? after : undefined;
    const d = await held.sliced(comparing(now, after), () => held.designs + this.wishes);
    return d ? { ...failureView(now, after, d), problems: [...problems, ...after.problems], milliseconds: performance.now() - start } : null;
  }
}
