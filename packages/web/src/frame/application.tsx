'use client';

import { useDeferredValue, useEffect, useMemo, useRef, useState, type DragEvent } from 'react';
import { redo, undo } from '../model/history';
import { importFiles, start } from '../model/session';
import { useStore } from '../model/state';
import { openEntry, openKeys } from '../model/panes';
import { stages } from '../model/address';
import { filesOfDrop } from './dropped-files';
import { Areas } from '../areas/areas';
import { Summaries } from '../summaries/summaries';
import { Failures } from '../failures/failures';
import { Layout } from '../layout/layout';
import { Neighbours } from '../neighbours/neighbours';
import { Routes } from '../routes/routes';
import { Changes } from '../changes/changes';
import { typing } from '../parts/typing';
import { ChangeStrip } from './change-strip';
import { KeepingStrip } from './keeping-strip';
import { KeysDialog } from './keys-dialog';
import { OutcomeDialog } from './outcome-dialog';
import { QuickEntry } from './quick-entry';
import { LineForm } from '../forms/line-form';
import { Rail } from './rail';
import { TopBar } from './top-bar';
import { Waiting } from './waiting';
import { lookAt } from '../model/families';
import { goStage } from '../model/moving';

const screens = {
  layout: Layout,
  neighbours: Neighbours,
  areas: Areas,
  summaries: Summaries,
  routes: Routes,
  failures: Failures,
  changes: Changes,
} as const;

function onKey(e: KeyboardEvent): void {
  const modified = e.ctrlKey || e.metaKey;
  if (modified && e.key.toLowerCase() === 'z' && !typing(e.target)) {
    e.preventDefault();
    void (e.shiftKey ? redo() : undo());
  } else if (!modified && e.key === '/' && !typing(e.target)) {
    e.preventDefault();
    openEntry();
  } else if (!modified && e.key === '?' && !typing(e.target)) {
    e.preventDefault();
    openKeys(true);
  } else if (!modified && !e.altKey && e.key === 'v' && !typing(e.target)) {
    const { view } = useStore.getState();
    if (view && view.families.length > 1) void lookAt(view.family === 4 ? 6 : 4);
  } else if (!modified && !e.altKey && !typing(e.target)) {
    const stage = stages[Number(e.key) - 1];
    if (/^[1-9]$/.test(e.key) && stage) goStage(stage);
  }
}

/** The whole page: top bar, rail, the stage in the middle with its panel. */
export function Application() {
  const stage = useStore((s) => s.stage);
  const ready = useStore((s) => s.view !== undefined);
  const working = useStore((s) => s.working);
  const trouble = useStore((s) => s.trouble);
  const [over, setOver] = useState(false);
  const started = useRef(false);
  useEffect(() => {
    if (!started.current) {
      started.current = true;
      void start();
    }
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, []);
  // The rail answers at once; a screen of a large campus is built in small pieces behind it, and no frame is held up.
  const shown = useDeferredValue(stage);
  const screen = useMemo(() => {
    const Screen = screens[shown];
    return <Screen />;
  }, [shown]);
  const drop = (e: DragEvent): void => {
    e.preventDefault();
    setOver(false);
    void filesOfDrop(e.dataTransfer).then((files) => importFiles(files));
  };
  return (
    <div
      className="grid h-dvh grid-cols-[minmax(0,1fr)] grid-rows-[44px_minmax(0,1fr)] overflow-hidden"
      onDragOver={(e) => {
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={(e) => {
        if (e.currentTarget === e.target) setOver(false);
      }}
      onDrop={drop}
    >
      <TopBar />
      <div className="grid min-h-0 grid-cols-[168px_minmax(0,1fr)] max-[899px]:grid-cols-[52px_minmax(0,1fr)]">
        <Rail />
        <main className="relative flex min-h-0 min-w-0 flex-col" aria-label={shown}>
          {ready ? screen : <Waiting working={working} trouble={trouble} />}
          <KeepingStrip />
          <ChangeStrip />
        </main>
      </div>
      <QuickEntry />
      <LineForm />
      <OutcomeDialog />
      <KeysDialog />
      {over && (
        <div className="pointer-events-none fixed inset-3 z-50 grid place-items-center rounded border-2 border-dashed border-accent bg-paper/90 text-lg">
          Drop router documents, a folder, a .zip or a .compass.json
        </div>
      )}
    </div>
  );
}
