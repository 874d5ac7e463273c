'use client';

import { csvTables } from '@gentle-compass/core/reports/csv-tables';
import { Dialog, DropdownMenu } from 'radix-ui';
import { useEffect, useRef, useState } from 'react';
import { CompareControl } from './compare-control';
import { exportDesign, type ExportKind } from './export-design';
import { fileName, save } from '../parts/save';
import { FamilySwitch } from './family-switch';
import { MadeUpCampus } from './made-up-campus';
import { ShelfDialog } from './shelf-dialog';
import { redo, undo } from '../model/history';
import { importFiles, openEmpty, openSample, samples } from '../model/session';
import { useStore } from '../model/state';
import { openBlueprint, openEntry } from '../model/panes';
import { workbench } from '../worker/client';
import { ReturnFocus } from '../parts/return-focus';

const item = 'cursor-pointer rounded px-3 py-1.5 outline-none data-[highlighted]:bg-paper';

interface KeyQuestionProps {
  readonly kind: ExportKind | undefined;
  readonly name: string;
  readonly onDone: () => void;
}

/** Asks what becomes of authentication keys in an export; only where there are any. */
function KeyQuestion({ kind, name, onDone }: KeyQuestionProps) {
  const answer = (keys: 'digests' | 'clear'): void => {
    if (kind) void exportDesign(kind, name, keys);
    onDone();
  };
  return (
    <Dialog.Root open={kind !== undefined} onOpenChange={(o) => (o ? undefined : onDone())}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/30" />
        <Dialog.Content className="fixed top-24 left-1/2 z-50 w-[460px] max-w-[92vw] -translate-x-1/2 rounded border border-rule bg-sheet p-5 shadow-lg">
          <ReturnFocus />
          <Dialog.Title className="text-xl">The documents hold authentication keys</Dialog.Title>
          <Dialog.Description className="mt-1 text-ink2">
            Without them, whoever gets the file can still check that two ends have the same key, but not read it.
          </Dialog.Description>
          <div className="mt-4 flex gap-2">
            <button type="button" className="control" data-main onClick={() => answer('digests')}>
              Leave the keys out
            </button>
            <button type="button" className="control" onClick={() => answer('clear')}>
              Export keys in the clear
            </button>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function FileMenu() {
  const [asked, setAsked] = useState<ExportKind | undefined>(undefined);
  const onExport = (kind: ExportKind): void => {
    void workbench()
      .files.holdsKeys()
      .then((keys) => {
        if (keys) setAsked(kind);
        else void exportDesign(kind, name, 'clear');
      });
  };
  const [making, setMaking] = useState(false);
  const files = useRef<HTMLInputElement>(null);
  const folder = useRef<HTMLInputElement>(null);
  const name = useStore((s) => s.design?.name ?? 'campus');
  const [browsing, setBrowsing] = useState(false);
  const take = (input: HTMLInputElement): void => {
    const list = [...(input.files ?? [])];
    input.value = '';
    if (list.length > 0) void importFiles(list);
  };
  return (
    <>
      <ShelfDialog open={browsing} onDone={() => setBrowsing(false)} />
      <MadeUpCampus open={making} onDone={() => setMaking(false)} />
      <KeyQuestion kind={asked} name={name} onDone={() => setAsked(undefined)} />
      <DropdownMenu.Root modal={false}>
        <DropdownMenu.Trigger id="file-menu" className="control">
          Open or export ▾
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content
            align="end"
            sideOffset={4}
            className="z-40 max-h-[80vh] w-72 overflow-y-auto rounded border border-rule bg-sheet p-1 shadow-lg"
          >
            <DropdownMenu.Label className="heading px-3 pt-1.5 pb-0.5">Open</DropdownMenu.Label>
            <DropdownMenu.Item className={item} onSelect={() => files.current?.click()}>
              Router documents (.json, .xml), .csv, .zip, .compass.json…
            </DropdownMenu.Item>
            <DropdownMenu.Item className={item} onSelect={() => folder.current?.click()}>
              A folder of router documents…
            </DropdownMenu.Item>
            {samples.map((s) => (
              <DropdownMenu.Item key={s.folder} className={item} onSelect={() => void openSample(s)}>
                Sample: {s.name}
              </DropdownMenu.Item>
            ))}
            <DropdownMenu.Item className={item} onSelect={() => setMaking(true)}>
              A made-up campus of any size…
            </DropdownMenu.Item>
            <DropdownMenu.Item className={item} onSelect={() => void openEmpty('New campus')}>
              An empty design
            </DropdownMenu.Item>
            <DropdownMenu.Item className={item} onSelect={() => openBlueprint(true)}>
              Blueprint: lay out a campus from numbers…
            </DropdownMenu.Item>
            <DropdownMenu.Item className={item} onSelect={() => setBrowsing(true)}>
              The shelf: kept designs, variants…
            </DropdownMenu.Item>
            <DropdownMenu.Separator className="my-1 h-px bg-fine" />
            <DropdownMenu.Label className="heading px-3 pt-1.5 pb-0.5">Export</DropdownMenu.Label>
            <DropdownMenu.Item className={item} onSelect={() => onExport('zip')}>
              Router documents as .zip
            </DropdownMenu.Item>
            <DropdownMenu.Item className={item} onSelect={() => onExport('compass')}>
              Whole design as .compass.json
            </DropdownMenu.Item>
            <DropdownMenu.Item
              className={item}
              onSelect={() =>
                void workbench()
                  .files.worksheets()
                  .then((z) => save(`${fileName(name)}-worksheets.zip`, z as BlobPart, 'application/zip'))
              }
            >
              Worksheets, one a router
            </DropdownMenu.Item>
            <DropdownMenu.Sub>
              <DropdownMenu.SubTrigger className={`${item} flex`}>
                A table as CSV <span className="ml-auto">›</span>
              </DropdownMenu.SubTrigger>
              <DropdownMenu.Portal>
                <DropdownMenu.SubContent className="z-50 w-44 rounded border border-rule bg-sheet p-1 shadow-lg">
                  {csvTables.map((t) => (
                    <DropdownMenu.Item
                      key={t}
                      className={item}
                      onSelect={() =>
                        void workbench()
                          .files.csv(t)
                          .then((text) => save(`${fileName(name)}-${t}.csv`, text, 'text/csv'))
                      }
                    >
                      {t}
                    </DropdownMenu.Item>
                  ))}
                </DropdownMenu.SubContent>
              </DropdownMenu.Portal>
            </DropdownMenu.Sub>
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
      <input
        ref={files}
        type="file"
        multiple
        hidden
        accept=".json,.xml,.zip,.csv"
        aria-label="Files to open"
        onChange={(e) => take(e.currentTarget)}
      />
      <input
        ref={(el) => {
          folder.current = el;
          el?.setAttribute('webkitdirectory', '');
        }}
        type="file"
        multiple
        hidden
        aria-label="Folder to open"
        onChange={(e) => take(e.currentTarget)}
      />
    </>
  );
}

/** The chart that was chosen, where the browser keeps it. */
function keptTheme(): string | null {
  try {
    return window.localStorage.getItem('theme');
  } catch {
    return null;
  }
}

function ThemeControl() {
  const [theme, setTheme] = useState<'light' | 'dark' | undefined>(undefined);
  const shown = theme ?? 'light';
  useEffect(() => {
    const kept = keptTheme();
    const dark = kept === null ? window.matchMedia('(prefers-color-scheme: dark)').matches : kept === 'dark';
    document.documentElement.dataset.theme = dark ? 'dark' : 'light';
    // eslint-disable-next-line react-hooks/set-state-in-effect -- the page is rendered before the browser's wish is known
    setTheme(dark ? 'dark' : 'light');
  }, []);
  const turn = (): void => {
    const next = shown === 'dark' ? 'light' : 'dark';
    document.documentElement.dataset.theme = next;
    try {
      window.localStorage.setItem('theme', next);
    } catch {
      useStore.setState({ notice: 'This browser keeps no settings: the chart is as you chose until the page is closed. Everything else works.' });
    }
    setTheme(next);
  };
  return (
    <button type="button" className="control" onClick={turn}>
      {shown === 'dark' ? 'Day chart' : 'Night chart'}
    </button>
  );
}

/** Name of the design, history, and what can be opened and exported. */
export function TopBar() {
  const name = useStore((s) => s.design?.name);
  const history = useStore((s) => s.design?.history);
  const position = useStore((s) => s.design?.position ?? 0);
  const working = useStore((s) => s.working);
  const reading = useStore((s) => s.reading);
  const back = history?.[position - 1];
  const forward = history?.[position];
  return (
    <header className="flex items-center gap-3 border-b border-rule bg-sheet px-3.5 max-[899px]:gap-1.5 max-[899px]:px-2">
      <svg className="shrink-0" width="20" height="20" viewBox="0 0 32 32" aria-hidden="true">
        <circle cx="16" cy="16" r="13" fill="none" stroke="currentColor" strokeWidth="2" />
        <path d="M16 4 20 16 16 28 12 16z" fill="var(--accent)" />
        <path d="M16 16 20 16 16 28 12 16z" fill="currentColor" />
      </svg>
      <span className="font-serif text-[18px] font-medium whitespace-nowrap max-[899px]:sr-only">Gentle Compass</span>
      <span className="min-w-0 truncate text-ink2" title={name}>
        {name}
      </span>
      <span className="ml-auto flex min-w-0 shrink-[0.5] items-center text-ink3" role="status">
        <span className="truncate" title={working}>
          {working ?? ''}
        </span>
        {reading && (
          <button type="button" className="control ml-2 text-ink" onClick={reading.stop}>
            Stop reading
          </button>
        )}
      </span>
      <button type="button" className="control" disabled={!back} title={back ? `Undo: ${back.title}` : 'Nothing to undo'} onClick={() => void undo()}>
        Undo
      </button>
      <button
        type="button"
        className="control"
        disabled={!forward}
        title={forward ? `Redo: ${forward.title}` : 'Nothing to redo'}
        onClick={() => void redo()}
      >
        Redo
      </button>
      <button type="button" className="control" onClick={() => openEntry()} title="Quick entry: one line that changes the design ( / )">
        Type a change
      </button>
      <FamilySwitch />
      <CompareControl />
      <ThemeControl />
      <FileMenu />
    </header>
  );
}
