'use client';

import { proxy } from 'comlink';
import { useMemo, useRef, useState, type ReactNode } from 'react';
import { makeChange } from '../model/history';
import { openEntry } from '../model/panes';
import { told, useStore } from '../model/state';
import type { DesignView } from '../model/view';
import type { DemandsRead, LoadRow, LoadsView, ReliefView, WorstView } from '../model/what-if-view';
import { LineTable, type LineColumn } from '../parts/line-table';
import { Panel, Section } from '../parts/panel';
import { useAnswer } from '../parts/use-answer';
import { count, listWords } from '../parts/words';
import { workbench } from '../worker/client';

const mbps = (n: number): string => n.toLocaleString('en-GB', { maximumFractionDigits: n < 10 ? 2 : 0 });

const keyOf = (r: { readonly router: string; readonly iface: string }): string => `${r.router}/${r.iface}`;

/** How full a row is at its fullest: as a share of what it can carry; where that is not said, by its Mbit/s behind all others. */
function fullness(r: LoadRow, worst: WorstView | undefined): number {
  const most = Math.max(r.now, r.then ?? 0, worst?.[keyOf(r)]?.mbps ?? 0);
  return r.capacity === null || r.capacity === 0 ? -1 / (1 + most) : most / r.capacity;
}

/** A share of a capacity in figures, and as a bar. */
function Share({ of, capacity }: { readonly of: number; readonly capacity: number | null }) {
  if (capacity === null || capacity === 0) return <span className="text-ink3">no capacity said</span>;
  const share = of / capacity;
  return (
    <span className="flex items-center gap-1.5">
      <span className="inline-block h-2 w-16 shrink-0 border border-rule bg-paper">
        <span className={`block h-full ${share > 1 ? 'bg-accent' : 'bg-ink3'}`} style={{ width: `${Math.min(100, share * 100)}%` }} />
      </span>
      <span className={`font-mono text-[12.5px] ${share > 1 ? 'text-accent' : ''}`}>{(share * 100).toFixed(share < 0.1 ? 1 : 0)} %</span>
    </span>
  );
}

/** That nothing is over what it can carry is said only of what the design gives a capacity. */
function withinWords(rows: readonly LoadRow[]): string {
  const unknown = rows.filter((r) => r.capacity === null).length;
  if (unknown === 0) return 'no link would carry more than it can';
  if (unknown === rows.length) return 'of no link that carries any the design says what it can carry';
  return `no link would carry more than it can, of those of which that is said (of ${count(unknown, 'interface')} it is not)`;
}

/** What links would carry of the demands of the design: now, with what is down, and at worst in any single failure. */
export function Load({ head, view, nameOf }: { readonly head: ReactNode; readonly view: DesignView; readonly nameOf: (word: string) => string }) {
  const fail = useStore((s) => s.fail);
  const documents = useStore((s) => s.design?.documents);
  const loads = useAnswer<LoadsView>(() => workbench().whatIf.loads([...fail]), [view.routers, documents, fail]);
  const [tried, setTried] = useState<{ readonly of: unknown; readonly done: number; readonly all: number; readonly worst?: WorstView | undefined }>();
  const [chosen, setChosen] = useState<string>();
  const mine = tried?.of === documents ? tried : undefined;
  const worst = mine?.worst;
  const begin = async (): Promise<void> => {
    const of = documents;
    setTried({ of, done: 0, all: 0 });
    try {
      const found = await workbench().whatIf.worst(proxy((done: number, all: number) => setTried((s) => (s?.worst ? s : { of, done, all }))));
      setTried(found ? { of, done: 0, all: 0, worst: found } : undefined);
    } catch (e) {
      told(e, 'Counting loads');
      setTried(undefined);
    }
  };
  const rows = useMemo(() => {
    const known = new Set(loads?.rows.map(keyOf));
    // What carries only in a failure has no row of its own yet.
    const more = Object.entries(worst ?? {}).flatMap(([k, w]): LoadRow[] => {
      const [router = '', iface = ''] = k.split('/');
      const r = view.routers.find((x) => x.name === router)?.interfaces.find((i) => i.name === iface);
      const s = view.segments.find((x) => x.index === r?.segment);
      return known.has(k) || w.mbps === 0
        ? []
        : [
            {
              router,
              iface,
              to: s?.members.flatMap((m) => (m.router === router ? [] : [m.router])) ?? [],
              segment: s?.index ?? -1,
              now: 0,
              then: fail.length > 0 ? 0 : null,
              capacity: loads?.capacities[k] ?? null,
            },
          ];
    });
    return [...(loads?.rows ?? []), ...more].sort((a, b) => fullness(b, worst) - fullness(a, worst));
  }, [loads, worst, view, fail]);
  const columns: readonly LineColumn[] = [
    { name: 'out of', width: 'minmax(0,1.2fr)' },
    { name: 'towards', width: 'minmax(0,1fr)', kind: 'quiet' },
    { name: 'can carry', width: '84px', kind: 'number' },
    { name: 'now', width: '72px', kind: 'number' },
    ...(fail.length > 0 ? [{ name: 'while down', width: '84px', kind: 'number' as const }] : []),
    ...(worst
      ? [
          { name: 'at worst', width: '76px', kind: 'number' as const },
          { name: 'when this fails', width: 'minmax(0,1fr)', kind: 'quiet' as const },
        ]
      : []),
    { name: 'at most full', width: '128px' },
  ];
  const one = rows.find((r) => keyOf(r) === chosen);
  const over = rows.filter((r) => fullness(r, worst) > 1);
  return (
    <>
      <div className="flex min-h-0 min-w-0 flex-1 flex-col">
        {head}
        <div className="flex min-h-0 flex-1 flex-col px-4 pt-3 pb-2" data-testid="load">
          {loads && loads.demands > 0 ? (
            <>
              <div className="mb-2 flex flex-wrap items-baseline gap-x-4 gap-y-1">
                <p>
                  {count(loads.demands, 'demand')}, <span className="font-mono">{mbps(loads.asked)}</span> Mbit/s:{' '}
                  {over.length === 0 ? (
                    withinWords(rows)
                  ) : (
                    <strong className="font-semibold text-accent">{count(over.length, 'interface')} would carry more than it can</strong>
                  )}
                  {worst ? ', whatever one thing fails' : fail.length > 0 ? ', now or with what is down' : ''}
                  {loads.lost > 0 && <span className="text-accent">; {mbps(loads.lost)} Mbit/s do not arrive</span>}
                  {(loads.lostThen ?? 0) > loads.lost && <span className="text-accent">; {mbps(loads.lostThen ?? 0)} while that is down</span>}.
                </p>
                <span className="ml-auto flex items-baseline gap-2">
                  {mine && !worst && (
                    <span role="status" className="text-ink2">
                      {mine.done.toLocaleString('en-GB')} of {mine.all === 0 ? '…' : mine.all.toLocaleString('en-GB')}
                    </span>
                  )}
                  {mine && !worst ? (
                    <button type="button" className="control" onClick={() => void workbench().whatIf.stop()}>
                      Stop
                    </button>
                  ) : (
                    !worst && (
                      <button type="button" className="control" data-main onClick={() => void begin()}>
                        Try every failure
                      </button>
                    )
                  )}
                </span>
              </div>
              <LineTable
                label="What links would carry, the fullest first"
                columns={columns}
                rows={rows}
                keyOf={keyOf}
                cells={(r) => {
                  const w = worst?.[keyOf(r)];
                  return [
                    { shown: keyOf(r), title: keyOf(r) },
                    { shown: listWords(r.to), title: listWords(r.to) },
                    r.capacity === null ? '' : mbps(r.capacity),
                    mbps(r.now),
                    ...(fail.length > 0 ? [mbps(r.then ?? 0)] : []),
                    ...(worst
                      ? [mbps(Math.max(w?.mbps ?? 0, r.now)), w && w.mbps > r.now ? { shown: nameOf(w.fail), title: w.fail } : 'nothing has to']
                      : []),
                    <Share key="share" of={Math.max(r.now, r.then ?? 0, w?.mbps ?? 0)} capacity={r.capacity} />,
                  ];
                }}
                at={rows.findIndex((r) => keyOf(r) === chosen)}
                onChoose={(r) => setChosen(keyOf(r))}
                nothing="Nothing crosses a link."
              />
            </>
          ) : (
            <p className="max-w-[62ch] text-ink2">
              {loads
                ? 'The design says nothing of traffic yet. State who sends how much to whom, bring a table, or let each LAN send so much towards its nearest exit: then it is shown what each link would carry, now and in every failure. It is computed from the design, not measured.'
                : 'Counting…'}
            </p>
          )}
        </div>
      </div>
      <Panel label="What it would carry">
        {one && (
          <One row={one} worst={worst?.[keyOf(one)]} nameOf={nameOf} over={one.capacity !== null && one.now > one.capacity} documents={documents} />
        )}
        {loads && <Demands loads={loads} />}
      </Panel>
    </>
  );
}

/** One interface, and the cost that would relieve it. */
function One({
  row,
  worst,
  nameOf,
  over,
  documents,
}: {
  readonly row: LoadRow;
  readonly worst: WorstView[string] | undefined;
  readonly nameOf: (word: string) => string;
  readonly over: boolean;
  readonly documents: unknown;
}) {
  const [state, setState] = useState<{ readonly key: string; readonly of: unknown; readonly relief: ReliefView | null }>();
  const key = keyOf(row);
  const relief = state?.key === key && state.of === documents ? state.relief : undefined;
  const ask = async (): Promise<void> => {
    try {
      setState({ key, of: documents, relief: await workbench().whatIf.relief(row.router, row.iface) });
    } catch (e) {
      told(e, 'Trying costs');
    }
  };
  return (
    <div data-testid="one-load">
      <h2 className="text-xl">{key}</h2>
      <p className="text-ink2">
        would carry {mbps(row.now)} Mbit/s{row.capacity === null ? '' : ` of ${mbps(row.capacity)}`} towards {listWords(row.to) || 'its LAN'}
        {worst && worst.mbps > row.now ? `; ${mbps(worst.mbps)} when ${nameOf(worst.fail)} fails` : ''}.
      </p>
      {over && relief === undefined && (
        <p className="mt-2">
          <button type="button" className="control" data-main onClick={() => void ask()}>
            Which cost would relieve it?
          </button>
        </p>
      )}
      {relief === null && (
        <p className="mt-2 text-ink2">
          No cost of this interface leaves fewer over what they can carry: all ways are too narrow, or nothing else leads there.
        </p>
      )}
      {relief && (
        <p className="mt-2" data-testid="relief">
          At cost <strong className="font-semibold">{relief.cost.toLocaleString('en-GB')}</strong> it would carry {mbps(relief.mbps)} Mbit/s, and{' '}
          {relief.over === 0 ? 'nothing is over what it can carry' : `${count(relief.over, 'interface')} ${relief.over === 1 ? 'is' : 'are'} over`}.{' '}
          <button type="button" className="link" onClick={() => openEntry(relief.line)}>
            <code className="text-xs">{relief.line}</code>
          </button>
        </p>
      )}
    </div>
  );
}

/** What the design says of traffic, and ways to say more. */
function Demands({ loads }: { readonly loads: LoadsView }) {
  const file = useRef<HTMLInputElement>(null);
  const [each, setEach] = useState('50');
  const [read, setRead] = useState<{ readonly words: string; readonly more: readonly string[] }>();
  const take = async (title: string, asked: Promise<DemandsRead>): Promise<void> => {
    try {
      const { edits, count: n, problems, note } = await asked;
      if (edits.length > 0) await makeChange(title, edits);
      setRead({
        words: `${n === 0 ? 'No demand' : count(n, 'demand')} taken.${note === '' ? '' : ` ${note}`}`,
        more: problems.slice(0, 8).map((p) => `${p.file}, ${p.path}: ${p.message} ${p.remedy}`),
      });
    } catch (e) {
      told(e, title);
    }
  };
  const amount = Number(each);
  return (
    <>
      <Section title="Traffic of the design">
        <p className="text-ink2">
          {loads.demands === 0 ? 'Nothing is said of it.' : `${count(loads.demands, 'demand')}, ${mbps(loads.asked)} Mbit/s in all.`} It is what links
          would carry, not what they do.
        </p>
        {loads.faults.slice(0, 6).map((f) => (
          <p key={f} className="mt-1 text-accent">
            {f}
          </p>
        ))}
        <div className="mt-2 flex flex-wrap gap-1.5">
          <button type="button" className="control" onClick={() => openEntry('demand ')}>
            Add one…
          </button>
          <button type="button" className="control" onClick={() => file.current?.click()}>
            From a table…
          </button>
          {loads.demands > 0 && (
            <button type="button" className="control" onClick={() => void take('Nothing more is said of traffic', workbench().whatIf.noDemands())}>
              Forget all
            </button>
          )}
          <input
            ref={file}
            type="file"
            accept=".csv,text/csv"
            className="hidden"
            aria-label="Table of demands"
            onChange={(e) => {
              const f = e.target.files?.[0];
              e.target.value = '';
              if (f) void f.text().then((text) => take(`Demands from ${f.name}`, workbench().whatIf.demandsFrom(f.name, text)));
            }}
          />
        </div>
        <p className="mt-1 text-xs text-ink2">A table (CSV) has the columns from, to and mbps; ends are addresses, routers or groups.</p>
      </Section>
      <Section title="Each LAN towards the exits">
        <p className="text-ink2">
          {loads.exits.routers.length === 0
            ? 'No router tells OSPF of anything outside yet.'
            : `${loads.exits.byDefault ? 'Exits' : 'No default route is told; exits, by what they tell of outside'}: ${listWords(loads.exits.routers)}. Each LAN of hosts sends to the nearest.`}
        </p>
        <form
          className="mt-1 flex items-baseline gap-1.5"
          onSubmit={(e) => {
            e.preventDefault();
            void take(`Each LAN sends ${each} Mbit/s to its exit`, workbench().whatIf.demandsOfLans(amount));
          }}
        >
          <input
            className="field w-20 text-right font-mono"
            aria-label="Mbit/s for each LAN"
            inputMode="decimal"
            value={each}
            onChange={(e) => setEach(e.target.value)}
          />
          <span className="text-ink2">Mbit/s each</span>
          <button type="submit" className="control ml-auto" disabled={!(amount > 0 && amount <= 1e9) || loads.exits.routers.length === 0}>
            Fill in
          </button>
        </form>
      </Section>
      {read && (
        <div className="mt-3" role="status">
          <p>{read.words}</p>
          {read.more.map((m) => (
            <p key={m} className="text-accent">
              {m}
            </p>
          ))}
        </div>
      )}
    </>
  );
}
