import type { StoredDesign } from '../storage/kept';
import type { DesignView } from './view';
import { patched, type ViewPatch } from './view-patch';

/** What the page and the worker hold in common: answers come in the order of the questions, and each stands on the one before it. */
export class Received {
  /** The view as the worker gave it last: what it gives next is what changed since. */
  private view: DesignView | undefined;
  /** The documents as the worker holds them. */
  documents: StoredDesign['documents'] = [];
  /** Counts designs that were opened: a change of an earlier one ends with it. */
  openings = 0;
  /** The design as it stood when it was opened, to compare with. */
  opened: StoredDesign['documents'] = [];

  /** A design was opened: its view as text. */
  whole(text: string): DesignView {
    this.view = JSON.parse(text) as DesignView;
    return this.view;
  }

  /** Takes what changed in the view, a `ViewPatch` as text. */
  take(patch: string): DesignView | undefined {
    this.view = this.view && patched(this.view, JSON.parse(patch) as ViewPatch);
    return this.view;
  }
}

/** Of the design that is open. */
export const received = new Received();
