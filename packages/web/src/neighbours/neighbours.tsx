'use client';

import { useStore } from '../model/state';
import { Alike } from './alike';
import { Costs } from './costs';
import { Keys } from './keys';
import { Leading } from './leading';
import { Pairs } from './pairs';
import { TakingPart } from './taking-part';

const screens = { pairs: Pairs, leading: Leading, part: TakingPart, keys: Keys, alike: Alike, costs: Costs } as const;

/** Who becomes whose neighbour: pairs facing each other, elections, what takes part, keys, routers that are to be alike, costs. */
export function Neighbours() {
  const meet = useStore((s) => s.meet);
  const ready = useStore((s) => s.view !== undefined);
  const Screen = screens[meet];
  return ready ? <Screen /> : null;
}
