import type { Expectation } from '@gentle-compass/core/design/settings';
import { causing, checkFamilies, consequenceOf } from '@gentle-compass/core/findings/catalogue';
import { mendingAll } from '@gentle-compass/core/findings/mending';
import type { Consequence } from '@gentle-compass/core/findings/finding';
import type { Prediction } from '@gentle-compass/core/predict';
import { concerns, judging, type ExpectationResult } from '@gentle-compass/core/reach/expectations';
import { healingBy } from '@gentle-compass/core/convergence/within';
import { forwardingOf } from '@gentle-compass/core/compare/forwarding-kept';
import type { Held } from '../held';
import type { Showing } from '../showing';

/** What is found in the open design: at once, and what takes long afterwards. */
export class CheckingDesk {
  constructor(
    private readonly held: Held,
    private readonly showing: Showing,
  ) {}

  /** What the checks find in the state that the last edit led to: what that changes in the view, as text. */
  foundText(): string {
    this.held.check();
    return this.showing.patch();
  }

  /**
   * Tries every expectation in the failures that it must outlive, in slices; what that changes in the view, as text. `null` where
   * nothing is to be tried, or a newer design came meanwhile.
   */
  async judgedText(): Promise<string | null> {
    const { held } = this;
    held.check();
    const { now, documents } = held;
    const { expectations } = now.design.settings;
    if (held.judged === now || expectations.every((e) => e.under === 'normal')) return null;
    const both = held.bothOf(now);
    const judged = await held.sliced(judgingBoth(both, expectations));
    if (!judged) return null;
    held.judged = now;
    held.findings = held.withKnownCauses(checkFamilies(both, documents, { withConsequences: false, judged }).findings);
    held.expectations = judged;
    return this.showing.patch();
  }

  /**
   * Finds out which finding follows from which, in slices; what that changes in the view, as text. `null` where nothing is new, or
   * a newer design came meanwhile.
   */
  async explainedText(): Promise<string | null> {
    const { held } = this;
    held.check();
    const { now, documents } = held;
    if (held.explained === now || this.explaining === now) return null;
    this.explaining = now;
    const causes = await held.sliced(causing(held.bothOf(now), documents, held.findings));
    if (this.explaining === now) this.explaining = undefined;
    if (!causes || held.now !== now) return null;
    held.explain(causes);
    return this.showing.patch();
  }

  /** The state for which that is being found out. */
  private explaining: Prediction | undefined;

  /** What a finding costs now: by predicting again with all of it mended. Asked for one by one, so that nothing waits. */
  consequence(id: string): Consequence | null {
    const finding = this.held.finding(id);
    const edits = finding && mendingAll(finding, this.held.findings);
    const of = this.held.bothOf(this.held.now).find((p) => p.family === (finding?.family ?? 4));
    return edits && of ? consequenceOf(of, this.held.documents, edits) : null;
  }
}

/** Every expectation, those about IPv4 first, in the prediction of the family that it is about. */
function* judgingBoth(both: readonly Prediction[], expectations: readonly Expectation[]): Generator<undefined, ExpectationResult[]> {
  const out: ExpectationResult[] = [];
  for (const p of both)
    out.push(
      ...(yield* judging(
        forwardingOf(p),
        expectations.filter((e) => concerns(e, p)),
        { forward: forwardingOf, healing: healingBy() },
      )),
    );
  return out;
}
