import { wider } from '../segments/number-lists';
import type { HopCode } from './hop-slots';

/**
 * Ways out of roots into their areas, towards a router or an attached network, as columns: entry `i` is a way to
 * `vertex[i]` at `cost[i]`, by the next hop `code[i]`.
 */
export class FirstHops {
  count = 0;
  vertex = new Int32Array(64);
  /** Edge that it begins with; for a router behind a network also the edge from there, else -1. */
  edge = new Int32Array(64);
  behind = new Int32Array(64);
  cost = new Int32Array(64);
  /** 1 for a way onto an attached network. */
  network = new Int32Array(64);
  code = new Int32Array(64);

  add(vertex: number, edge: number, behind: number, cost: number, network: 0 | 1, code: HopCode): void {
    const n = this.count++;
    if (n === this.vertex.length) this.grow();
    this.vertex[n] = vertex;
    this.edge[n] = edge;
    this.behind[n] = behind;
    this.cost[n] = cost;
    this.network[n] = network;
    this.code[n] = code;
  }

  private grow(): void {
    this.vertex = wider(this.vertex);
    this.edge = wider(this.edge);
    this.behind = wider(this.behind);
    this.cost = wider(this.cost);
    this.network = wider(this.network);
    this.code = wider(this.code);
  }
}
