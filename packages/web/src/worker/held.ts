import { applyEdits, type Edit } from '@gentle-compass/core/design/edit';
import type { SourceDocument } from '@gentle-compass/core/documents/documents';
import { checkDesign } from '@gentle-compass/core/findings/catalogue';
import type { Finding } from '@gentle-compass/core/findings/finding';
import { designFrom, type ReadResult } from '@gentle-compass/core/formats/read-set';
import { predict, type Prediction } from '@gentle-compass/core/predict';
import type { ExpectationResult } from '@gentle-compass/core/reach/expectations';

/** Documents, and what they were read and predicted to. */
export interface Made {
  readonly documents: readonly SourceDocument[];
  readonly read: ReadResult;
  readonly now: Prediction;
  readonly milliseconds: number;
}

/** Edits that were tried: on which documents, and what is known of what they lead to. */
interface Tried extends Made {
  readonly from: readonly SourceDocument[];
  /** The edits as text. */
  readonly edits: string;
  check?: ReturnType<typeof checkDesign>;
}

/** The checks without what takes long: expectations are looked at in the network as it is, not under every failure. */
export const quickCheck = (p: Prediction, documents: readonly SourceDocument[]): ReturnType<typeof checkDesign> =>
  checkDesign(p, documents, { withConsequences: false, underFailures: false });

/** The open design with what is known of it: its documents, its prediction, its findings. What the desks share; small on purpose. */
export class Held {
  name = '';
  documents: readonly SourceDocument[] = [];
  read: ReadResult = designFrom([]);
  now: Prediction = predict(this.read.design);
  /** The state before the last edit. */
  before: { readonly now: Prediction; readonly findings: readonly Finding[] } = { now: this.now, findings: [] };
  /** What "now" is compared with. */
  reference: { readonly now: Prediction; readonly documents: readonly SourceDocument[] } | undefined;
  /** The network with what is down. */
  failed: Prediction | undefined;
  findings: readonly Finding[] = [];
  /** The same before expectations were tried in failures: what states are compared by, of which most were never tried so. */
  quick: readonly Finding[] = [];
  expectations: readonly ExpectationResult[] = [];
  /** The state whose expectations were tried in every failure. */
  judged: Prediction | undefined;
  /** Milliseconds that reading and predicting took last. */
  taken = 0;
  /** Counts designs taken: a long answer to an older one is given up. */
  designs = 0;

  private tried: Tried | undefined;
  private checked: Prediction | undefined;

  /** @param slice  milliseconds that a long computation takes before it listens again */
  constructor(readonly slice: number) {}

  /** Works through something long in slices, so that a newer question is heard in between; `undefined` when one came. */
  async sliced<T>(steps: Generator<undefined, T>, turn: () => number = () => this.designs): Promise<T | undefined> {
    const mine = turn();
    let until = performance.now() + this.slice;
    for (;;) {
      const step = steps.next();
      if (step.done) return step.value;
      if (performance.now() < until) continue;
      await new Promise((go) => setTimeout(go, 0));
      if (mine !== turn()) return undefined;
      until = performance.now() + this.slice;
    }
  }

  /** Reads documents and predicts, from the state as it is. */
  made(documents: readonly SourceDocument[]): Made {
    const start = performance.now();
    const read = designFrom(documents, { clock: Date.now() });
    return { documents, read, now: this.now.edited(read.design), milliseconds: performance.now() - start };
  }

  /** The same after edits; what was tried just before is not made again. */
  madeBy(edits: readonly Edit[]): Made {
    const { tried } = this;
    if (tried?.from === this.documents && tried.edits === JSON.stringify(edits)) return tried;
    return this.made(applyEdits(this.documents, edits));
  }

  /** Makes what edits lead to, without taking it: mostly it is what comes next. */
  tryOut(edits: readonly Edit[]): Tried {
    this.tried = { from: this.documents, edits: JSON.stringify(edits), ...this.madeBy(edits) };
    return this.tried;
  }

  /** What was made becomes the design. */
  take(made: Made): void {
    const { documents, read, now, milliseconds } = made;
    this.designs++;
    // Nothing of an older design is held on to; the checks of what was tried are still asked for.
    if (made !== this.tried) this.tried = undefined;
    this.documents = documents;
    this.read = read;
    this.now = now;
    this.failed = undefined;
    this.taken = milliseconds;
  }

  /**
   * Applies edits and gives what comes of them; the state before them is remembered. Where anything of it fails, nothing is
   * taken: the design stays what it was.
   */
  edit<T>(edits: readonly Edit[], then: () => T): T {
    const was: Made = { documents: this.documents, read: this.read, now: this.now, milliseconds: this.taken };
    const { before, failed } = this;
    const made = this.madeBy(edits);
    this.before = { now: this.now, findings: this.quick };
    this.take(made);
    try {
      return then();
    } catch (e) {
      this.take(was);
      Object.assign(this, { before, failed });
      throw e;
    }
  }

  /** Runs the checks on the present state, once. */
  check(): void {
    if (this.checked === this.now) return;
    this.checked = this.now;
    const known = this.tried?.now === this.now ? this.tried.check : undefined;
    const { findings, expectations } = known ?? quickCheck(this.now, this.documents);
    this.findings = this.quick = findings;
    this.expectations = expectations;
  }

  /** A finding of the present state. */
  finding(id: string): Finding | undefined {
    this.check();
    return this.findings.find((f) => f.id === id);
  }
}
