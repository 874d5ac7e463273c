import type { Consequence, Finding } from '@gentle-compass/core/findings/finding';
import { create } from 'zustand';
import { workbench } from '../worker/client';
import { summarise } from './keeping';
import { received } from './received';
import { told, useStore } from './state';

/** What findings cost, by their ids, as far as it is known: apart from the view, so that one that comes redraws its own finding alone. */
export const useCosts = create<{ readonly costs: Readonly<Record<string, Consequence>> }>(() => ({ costs: {} }));

/** What a finding costs now; nothing while it is not known. */
export const useCost = (finding: Finding): Consequence => useCosts((s) => s.costs[finding.id]) ?? finding.consequence;

/** Milliseconds without a change after which what follows from what is looked for in a large network. */
const idle = 4000;

/** What takes long after a change: expectations in all failures that they must outlive, and what each finding costs. */
class Judging {
  private turn = 0;

  /** A new state makes the filling-in of the old one pointless. */
  end(): void {
    this.turn++;
    useCosts.setState({ costs: {} });
  }

  /** Begins with the present state; a newer one ends it. */
  async begin(): Promise<void> {
    const turn = ++this.turn;
    const opening = received.openings;
    try {
      // What follows from what makes a list short: it comes first, but in a large network, where it takes longest.
      const large = (useStore.getState().view?.routers.length ?? 0) > 150;
      if (!large) await this.explain(turn, opening);
      await this.weigh(turn);
      const patch = turn === this.turn ? await workbench().checking.judgedText() : null;
      if (patch !== null) {
        this.take(patch, opening);
        // Other findings may have come.
        await this.weigh(turn);
      }
      if (turn !== this.turn) return;
      // One trial of a large network takes the worker as long as several edits: nobody is kept waiting for it.
      if (large) await new Promise((go) => setTimeout(go, idle));
      if (large) await this.explain(turn, opening);
    } catch (e) {
      told(e, 'Trying the expectations');
    }
  }

  /** Finds out which finding follows from which. */
  private async explain(turn: number, opening: number): Promise<void> {
    const patch = turn === this.turn ? await workbench().checking.explainedText() : null;
    if (patch === null) return;
    this.take(patch, opening);
    summarise();
  }

  /** What the worker gave is taken even if something newer is asked for by now: what it gives next stands on it. */
  private take(patch: string, opening: number): void {
    if (opening === received.openings) useStore.setState({ view: received.take(patch) });
  }

  /** Asks what each finding costs, one after the other, while the page goes on. */
  private async weigh(turn: number): Promise<void> {
    for (const { id, repairs } of useStore.getState().view?.findings ?? []) {
      if (repairs.length === 0 || id in useCosts.getState().costs) continue;
      const cost = await workbench().checking.consequence(id);
      if (turn !== this.turn) return;
      if (cost) useCosts.setState(({ costs }) => ({ costs: { ...costs, [id]: cost } }));
    }
  }
}

/** Of the design that is open. */
export const judging = new Judging();
