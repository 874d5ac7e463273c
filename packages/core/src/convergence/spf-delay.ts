import type { SpfSchedule } from '../design/design';

/** When a router calculates after its databases changed. Times in ms. */
export interface SpfDelay {
  /** Something changed. @returns  when the calculation is due; `undefined`: one is due already */
  changed(now: number): number | undefined;
  /** The calculation that was due begins. */
  begins(now: number): void;
}

/** The states of RFC 8405 §3. */
export type BackOffState = 'quiet' | 'short-wait' | 'long-wait';

/**
 * RFC 8405 §5: the first change after a quiet time waits INITIAL_SPF_DELAY, those that follow within TIME_TO_LEARN_INTERVAL
 * SHORT_SPF_DELAY, later ones LONG_SPF_DELAY, until nothing came for HOLDDOWN_INTERVAL. The timers are moments that are looked at,
 * not deeds: what they would do shows only at the next change.
 */
export class BackOff implements SpfDelay {
  private due = false;
  private learnt = 0;
  private held = -Infinity;

  constructor(private readonly s: Extract<SpfSchedule, { kind: 'back-off' }>) {}

  /** The state at a moment, before anything happens in it. */
  state(now: number): BackOffState {
    if (now >= this.held) return 'quiet';
    return now >= this.learnt ? 'long-wait' : 'short-wait';
  }

  changed(now: number): number | undefined {
    const state = this.state(now);
    this.held = now + this.s.holdDown;
    if (state === 'quiet') this.learnt = now + this.s.timeToLearn;
    if (this.due) return undefined;
    this.due = true;
    return now + { quiet: this.s.initial, 'short-wait': this.s.short, 'long-wait': this.s.long }[state];
  }

  begins(): void {
    this.due = false;
  }
}

/** A first delay, then a hold between calculations that doubles while changes come within it, up to a maximum. */
class Doubling implements SpfDelay {
  private due = false;
  private last = -Infinity;
  private hold = 0;

  constructor(private readonly s: Extract<SpfSchedule, { kind: 'doubling' }>) {}

  changed(now: number): number | undefined {
    if (this.due) return undefined;
    this.due = true;
    const open = this.last + this.hold;
    if (now >= open) {
      this.hold = this.s.hold;
      return now + this.s.first;
    }
    this.hold = Math.min(2 * this.hold, this.s.maximum);
    return Math.max(open, now + this.s.first);
  }

  begins(now: number): void {
    this.due = false;
    this.last = now;
  }
}

class Fixed implements SpfDelay {
  private due = false;

  constructor(private readonly delay: number) {}

  changed(now: number): number | undefined {
    if (this.due) return undefined;
    this.due = true;
    return now + this.delay;
  }

  begins(): void {
    this.due = false;
  }
}

/** The clock of a schedule. */
export const spfDelay = (s: SpfSchedule): SpfDelay =>
  s.kind === 'back-off' ? new BackOff(s) : s.kind === 'doubling' ? new Doubling(s) : new Fixed(s.delay);
