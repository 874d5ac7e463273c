'use client';

import { useStore } from '../model/state';
import { ExpectedPage } from './expected-page';
import { MatrixPage } from './matrix-page';
import { PrefixPage } from './prefix-page';
import { SideBySide } from './side-by-side';
import { Tables } from './tables';
import { TracePage } from './trace-page';
import { TreePage } from './tree-page';

const screens = {
  tables: Tables,
  beside: SideBySide,
  prefix: PrefixPage,
  tree: TreePage,
  trace: TracePage,
  matrix: MatrixPage,
  expected: ExpectedPage,
} as const;

/** Will it get there, and back: tables, ways, traces, and what must hold. */
export function Routes() {
  const look = useStore((s) => s.look);
  const ready = useStore((s) => s.view !== undefined);
  const Screen = screens[look];
  return ready ? <Screen /> : null;
}
