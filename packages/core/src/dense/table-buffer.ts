import type { HopCode } from './hop-slots';
import type { Answers } from './offers';

/**
 * One router's table as arrays: entry `i` is the prefix numbered `prefix[i]`. `kind` is a place in `routeTypes`; `metric` the
 * OSPF distance, for type 2 the external metric; `forward` is the distance to the exit and holds for externals only.
 */
export class TableBuffer {
  count = 0;
  readonly prefix: Int32Array;
  readonly kind: Uint8Array;
  readonly metric: Int32Array;
  readonly forward: Int32Array;
  readonly hops: Int32Array;
  /** Costs and next hops, for those who choose. */
  readonly answers: Answers;

  /** @param size  routes that a table can have at most */
  constructor(size: number) {
    this.prefix = new Int32Array(size);
    this.kind = new Uint8Array(size);
    this.metric = new Int32Array(size);
    this.forward = new Int32Array(size);
    this.hops = new Int32Array(size);
    this.answers = { cost: this.metric, hops: this.hops };
  }

  add(prefix: number, kind: number, metric: number, forward: number, hops: HopCode): void {
    const n = this.count++;
    this.prefix[n] = prefix;
    this.kind[n] = kind;
    this.metric[n] = metric;
    this.forward[n] = forward;
    this.hops[n] = hops;
  }
}
