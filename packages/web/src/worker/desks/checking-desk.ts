import { checkDesign, consequenceOf, mendingAll } from '@gentle-compass/core/findings/catalogue';
import type { Consequence } from '@gentle-compass/core/findings/finding';
import { judging } from '@gentle-compass/core/reach/expectations';
import { Forwarding } from '@gentle-compass/core/reach/forwarding';
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
    const judged = await held.sliced(judging(new Forwarding(now), expectations));
    if (!judged) return null;
    held.judged = now;
    held.findings = checkDesign(now, documents, { withConsequences: false, judged }).findings;
    held.expectations = judged;
    return this.showing.patch();
  }

  /** What a finding costs now: by predicting again with all of it mended. Asked for one by one, so that nothing waits. */
  consequence(id: string): Consequence | null {
    const finding = this.held.finding(id);
    const edits = finding && mendingAll(finding, this.held.findings);
    return edits ? consequenceOf(this.held.now, this.held.documents, edits) : null;
  }
}
