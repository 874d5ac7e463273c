import { transfer } from 'comlink';
import { outsidePrefixes } from '@gentle-compass/core/areas/from-outside';
import { applyEdits, type Edit } from '@gentle-compass/core/design/edit';
import type { Expectation } from '@gentle-compass/core/design/settings';
import { mendingReturn, type Mend } from '@gentle-compass/core/entry/return-route';
import { designFrom } from '@gentle-compass/core/formats/read-set';
import { prefixNumber } from '@gentle-compass/core/documents/leaf-types';
import { parseAddress, type Address } from '@gentle-compass/core/prefix/address';
import type { Prediction } from '@gentle-compass/core/predict';
import { addressesOf, groupAddresses, hostOf } from '@gentle-compass/core/reach/ends';
import { checkExpectation, concerns, type ExpectationResult } from '@gentle-compass/core/reach/expectations';
import { documentChanges, type LineChange } from '@gentle-compass/core/compare/document-changes';
import { healingBy } from '@gentle-compass/core/convergence/within';
import { forwardingOf } from '@gentle-compass/core/compare/forwarding-kept';
import { loopbacks, makingMatrix } from '@gentle-compass/core/reach/matrix';
import type { MatrixView, NoTrace, TraceView } from '../../model/reach-view';
import type { Held } from '../held';
import { matrixEnds, traceView } from '../reach-making';

/** What broke an expectation: the step and the lines that it changed; or that it was broken when it was stated, or before all that is remembered. */
export type BrokenSince = { readonly title: string; readonly back: number; readonly lines: readonly LineChange[] } | 'stated' | 'opened';

/** A host in a prefix from outside; in the default none. */
function outsideHost(text: string): Address[] {
  const prefix = prefixNumber.read(text);
  return prefix && prefix.length > 0 ? [hostOf(prefix)] : [];
}

/** Whether packets get there, and back. */
export class ReachDesk {
  private matrices = 0;

  constructor(private readonly held: Held) {}

  private get shown(): Prediction {
    return this.held.failed ?? this.held.now;
  }

  /** A packet and its answer between two words: addresses, routers, groups. */
  trace(from: string, to: string): TraceView | NoTrace {
    return traceView(this.shown, from, to);
  }

  /** What would bring the answer to a packet between two addresses back, each tried; none while something is down. */
  async mends(from: string, to: string): Promise<Mend[]> {
    const { held } = this;
    const [a, b] = [parseAddress(from), parseAddress(to)];
    if (held.failed || a === undefined || b === undefined) return [];
    return (await held.sliced(mendingReturn(held.now, held.documents, a, b))) ?? [];
  }

  /** Words that can stand at the ends of a matrix: all loopbacks, the LANs, and every group. */
  sides(): string[] {
    return this.held.now.design.settings.groups.map((g) => g.name);
  }

  /** What a word stands for among the ends of a matrix: `loopbacks`, `lans`, `outside`, a group, a router, an address or a prefix; each once. */
  private addresses(p: Prediction, word: string): readonly Address[] {
    if (word === 'loopbacks') return [...new Set(loopbacks(p))];
    if (word === 'outside') return [...new Set(outsidePrefixes(p).flatMap((o) => outsideHost(o.prefix)))];
    const lans = p.segments.list.filter((s) => s.kind === 'lan').flatMap((s) => p.subnetsOn(s.index));
    const prefix = word.includes('/') ? prefixNumber.read(word) : undefined;
    const members = word === 'lans' ? [...lans] : prefix ? [prefix] : [];
    if (word === 'lans' || prefix)
      return groupAddresses(p.design, { name: word, file: '', at: [], members: members.map((x) => ({ kind: 'prefix', prefix: x })) });
    return addressesOf(p.design, parseAddress(word) ?? word);
  }

  /**
   * Every one of some addresses against every other, in slices; `report` hears how far it is. `null` when a newer wish or another
   * design came. The numbers are handed over, not copied.
   */
  async matrix(rows: string, columns: string, report: (done: number, of: number) => void): Promise<MatrixView | null> {
    const { held } = this;
    const mine = ++this.matrices;
    const p = this.shown;
    const [from, to] = [this.addresses(p, rows), this.addresses(p, columns)];
    const steps = makingMatrix(p, from, to);
    let told = performance.now();
    const { matrices } = this;
    const counted = (function* counting() {
      for (;;) {
        const step = steps.next();
        if (step.done) return step.value;
        if (performance.now() - told > 100) {
          told = performance.now();
          report(...step.value);
        }
        yield undefined;
      }
    })();
    const m = await held.sliced(counted, () => held.designs + this.matrices - matrices);
    if (!m || mine !== this.matrices) return null;
    const f = forwardingOf(p);
    const { there, back, hops, cost, lopsided } = m;
    const view = { ...m, rows: matrixEnds(f, from), columns: matrixEnds(f, to) };
    return transfer(view, [there.buffer, back.buffer, hops.buffer, cost.buffer, lopsided.buffer]);
  }

  /** Ends a matrix that is being made. */
  stopMatrix(): void {
    this.matrices++;
  }

  /** Every expectation with all that was found of it, in each family that it is about. */
  expected(): ExpectationResult[] {
    this.held.check();
    return [...this.held.expectations];
  }

  /**
   * Which step of the history broke an expectation, by undoing one after the other; `null` when another design came meanwhile.
   *
   * @param steps  the last one first, each with the edits that take it back
   */
  async brokenSince(name: string, steps: readonly { readonly title: string; readonly edits: readonly Edit[] }[]): Promise<BrokenSince | null> {
    const { held } = this;
    held.check();
    const result = held.expectations.find((e) => e.name === name && !e.holds);
    const of = held.bothOf(held.now).find((p) => p.family === (result?.family ?? 4));
    if (!result || !of) return null;
    const [under] = result['broken-by'];
    const mine = held.designs;
    let { documents } = held;
    let p = of;
    for (const [back, { title, edits }] of steps.entries()) {
      await new Promise((go) => setTimeout(go, 0));
      if (mine !== held.designs) return null;
      const after = documents;
      documents = applyEdits(documents, edits);
      p = p.edited(designFrom(documents, { clock: Date.now() }).design);
      const e = p.design.settings.expectations.find((x) => x.name === name);
      if (!e || !concerns(e, p)) return 'stated';
      // What breaks it now is tried, not everything.
      const asked = { ...e, under: under === undefined || under === '' ? ('normal' as const) : (under as Expectation['under']) };
      if (checkExpectation(forwardingOf(p), asked, { healing: healingBy() }).holds)
        return { title, back: back + 1, lines: documentChanges(documents, after) };
    }
    return 'opened';
  }
}
