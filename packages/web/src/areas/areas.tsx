'use client';

import { useStore } from '../model/state';
import { Databases } from './databases';
import { Filters } from './filters';
import { Glance } from './glance';
import { Outside } from './outside';
import { Reach } from './reach';
import { Types } from './types';

const screens = { glance: Glance, types: Types, databases: Databases, reach: Reach, outside: Outside, filters: Filters } as const;

/** What each router knows, and what it need not: areas, their types, databases, and how far advertisements go. */
export function Areas() {
  const show = useStore((s) => s.show);
  const ready = useStore((s) => s.view !== undefined);
  const Screen = screens[show];
  return ready ? <Screen /> : null;
}
