import type { Consequence } from '@gentle-compass/core/findings/finding';
import { workbench } from '../worker/client';
import type { DesignView } from './view';

/** The page as those see it who add to what it shows. */
interface Shown {
  view(): DesignView | undefined;
  show(view: DesignView | undefined): void;
  /** Applies what changed in the view, as the worker tells it. */
  take(patch: string): DesignView | undefined;
  told(e: unknown, doing: string): void;
}

/** What takes long after a change: expectations in all failures that they must outlive, and what each finding costs. */
export class Judging {
  private turn = 0;

  constructor(private readonly page: Shown) {}

  /** A new state makes the filling-in of the old one pointless. */
  end(): void {
    this.turn++;
  }

  /** Begins with the present state; a newer one ends it. */
  async begin(): Promise<void> {
    const turn = ++this.turn;
    try {
      await this.costs(turn);
      const patch = turn === this.turn ? await workbench().judgedText() : null;
      if (patch === null || turn !== this.turn) return;
      this.page.show(this.page.take(patch));
      // Other findings may have come, and their costs with them.
      await this.costs(turn);
    } catch (e) {
      this.page.told(e, 'Trying the expectations');
    }
  }

  /** Fills in what each finding costs, one after the other, while the page goes on: shown together at every few. */
  private async costs(turn: number): Promise<void> {
    const found = new Map<string, Consequence>();
    const findings = (this.page.view()?.findings ?? []).filter((f) => f.repairs.length > 0);
    for (const [n, f] of findings.entries()) {
      const c = await workbench().consequence(f.id);
      if (turn !== this.turn) return;
      if (c) found.set(f.id, c);
      const now = this.page.view();
      if (now && found.size > 0 && (n % 4 === 0 || n === findings.length - 1)) this.page.show(withCosts(now, found));
    }
  }
}

/** The view with what findings cost; those of which it is not known, and everything else, are the same objects. */
export const withCosts = (view: DesignView, found: ReadonlyMap<string, Consequence>): DesignView => ({
  ...view,
  findings: view.findings.map((f) => {
    const consequence = found.get(f.id);
    return consequence && consequence !== f.consequence ? { ...f, consequence } : f;
  }),
});
