import { applyEdits, type Edit } from '@gentle-compass/core/design/edit';
import type { SourceDocument } from '@gentle-compass/core/documents/documents';
import { designOf, hasFamily, type Family } from '@gentle-compass/core/design/family';
import { checkFamilies, type CheckResult } from '@gentle-compass/core/findings/catalogue';
import { withCauses } from '@gentle-compass/core/findings/causes';
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
  check?: CheckResult;
}

/** The open design with what is known of it: its documents, its prediction, its findings. What the desks share; small on purpose. */
export class Held {
  name = '';
  documents: readonly SourceDocument[] = [];
  read: ReadResult = designFrom([]);
  /** The family that is looked at: `now` is its prediction. */
  family: Family = 4;
  now: Prediction = predict(this.read.design);
  /** The state before the last edit, and with what was down then. */
  before: { readonly now: Prediction; readonly findings: readonly Finding[]; readonly failed?: Prediction | undefined } = {
    now: this.now,
    findings: [],
  };
  /** What "now" is compared with. */
  reference: { readonly now: Prediction; readonly documents: readonly SourceDocument[] } | undefined;
  /** The network with what is down. */
  failed: Prediction | undefined;
  findings: readonly Finding[] = [];
  /** The same before expectations were tried in failures: what states are compared by, of which most were never tried so. */
  quick: readonly Finding[] = [];
  expectations: readonly ExpectationResult[] = [];
  /** What explains what, as it was found last for each: taken over while both are there, until it is found anew. */
  private readonly causes = new Map<string, string>();
  /** The state for which that was found. */
  explained: Prediction | undefined;
  /** The state whose expectations were tried in every failure. */
  judged: Prediction | undefined;
  /** Milliseconds that reading and predicting took last. */
  taken = 0;
  /** Counts designs taken: a long answer to an older one is given up. */
  designs = 0;

  /** The prediction of the other family, by that of the one looked at; made when it is asked for. */
  private readonly beside = new WeakMap<Prediction, Prediction | (() => Prediction)>();
  private tried: Tried | undefined;
  private checked: Prediction | undefined;

  /** @param slice  milliseconds that a long computation takes before it listens again */
  constructor(readonly slice: number) {}

  /**
   * Works through something long in slices, so that a newer question is heard in between; `undefined` when one came.
   *
   * @param turn  is another one then @param look  sees every step
   */
  async sliced<S, T>(steps: Generator<S, T>, turn: () => unknown = () => this.designs, look?: (step: S) => void): Promise<T | undefined> {
    const mine = turn();
    let until = performance.now() + this.slice;
    for (;;) {
      const step = steps.next();
      if (step.done) return step.value;
      look?.(step.value);
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
    // Where nothing of IPv6 is left, IPv4 is looked at.
    const now = this.family === 6 && !hasFamily(read.design, 6) ? predict(read.design) : this.now.edited(read.design);
    const before = this.now;
    // From the state before, when it is asked for.
    if (this.beside.has(before) && hasFamily(read.design, 6) && now.family === before.family)
      this.beside.set(now, () => {
        const was = this.otherOf(before);
        return was ? was.edited(read.design) : this.predictedBeside(now);
      });
    return { documents, read, now, milliseconds: performance.now() - start };
  }

  /** What the other family makes of a state, where the design says anything of IPv6. */
  otherOf(now: Prediction): Prediction | undefined {
    if (!hasFamily(designOf(now.design), 6)) return undefined;
    const known = this.beside.get(now);
    if (known && typeof known !== 'function') return known;
    const other = known ? known() : this.predictedBeside(now);
    this.beside.set(now, other);
    return other;
  }

  private predictedBeside(now: Prediction): Prediction {
    return predict(designOf(now.design), now.failures, { family: now.family === 6 ? 4 : 6 });
  }

  /** A state as both families see it, IPv4 first. */
  bothOf(now: Prediction): readonly Prediction[] {
    const other = this.otherOf(now);
    return [now, ...(other ? [other] : [])].sort((a, b) => a.family - b.family);
  }

  /** The checks without what takes long: expectations are looked at in the network as it is, not under every failure. */
  quickCheck(now: Prediction, documents: readonly SourceDocument[]): CheckResult {
    return checkFamilies(this.bothOf(now), documents, { withConsequences: false, underFailures: false });
  }

  /** Looks at the other family: every state that is held is that of it from here on. */
  lookAt(family: Family): void {
    if (family === this.family) return;
    const next = this.otherOf(this.now);
    if (!next) return;
    const was = this.now;
    const across = (p: Prediction): Prediction => this.otherOf(p) ?? predict(designOf(p.design), [], { family });
    this.designs++;
    this.family = family;
    this.tried = undefined;
    this.failed = undefined;
    this.before = { ...this.before, now: across(this.before.now) };
    if (this.reference) this.reference = { ...this.reference, now: across(this.reference.now) };
    this.now = next;
    this.beside.set(next, was);
    // What was found is about both, and stays.
    if (this.checked === was) this.checked = next;
    if (this.judged === was) this.judged = next;
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
    this.family = now.family;
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
    this.before = { now: this.now, findings: this.quick, failed };
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
    const { findings, expectations } = known ?? this.quickCheck(this.now, this.documents);
    this.findings = this.quick = this.withKnownCauses(findings);
    this.expectations = expectations;
  }

  /** Findings with what explained them before, where that is still there. */
  withKnownCauses(findings: readonly Finding[]): readonly Finding[] {
    const there = new Set(findings.map((f) => f.id));
    const known = findings.flatMap(({ id }): [string, string][] => {
      const cause = this.causes.get(id);
      return cause !== undefined && there.has(cause) ? [[id, cause]] : [];
    });
    return known.length === 0 ? findings : withCauses(findings, new Map(known));
  }

  /** What explains the findings of the present state. */
  explain(causes: ReadonlyMap<string, string>): void {
    for (const { id } of this.findings) this.causes.delete(id);
    for (const [id, cause] of causes) this.causes.set(id, cause);
    this.explained = this.now;
    this.findings = withCauses(this.findings, causes);
    this.quick = withCauses(this.quick, causes);
  }

  /** A finding of the present state. */
  finding(id: string): Finding | undefined {
    this.check();
    return this.findings.find((f) => f.id === id);
  }
}
