'use client';

import { useStore } from '../model/state';
import { Cost } from './cost';
import { Dangers } from './dangers';
import { AreaRuler, OutsideRuler } from './ruler-page';

const screens = { ruler: AreaRuler, outside: OutsideRuler, cost: Cost, dangers: Dangers } as const;

/** Few prefixes for many: what to summarise, what that saves and hides, and where it goes wrong. */
export function Summaries() {
  const part = useStore((s) => s.part);
  const ready = useStore((s) => s.view !== undefined);
  const Screen = screens[part];
  return ready ? <Screen /> : null;
}
