'use client';

import { proxy } from 'comlink';
import { useEffect, useMemo, useRef, useState } from 'react';
import { go } from '../model/moving';
import type { MatrixEnd, MatrixView } from '../model/reach-view';
import { useStore } from '../model/state';
import { NumberTable } from '../parts/number-table';
import { Panel, Section } from '../parts/panel';
import { TableOut } from '../parts/table-out';
import { areaName, count } from '../parts/words';
import { workbench } from '../worker/client';
import { blocksOf, cellOf, kinds, kindWords, orderOf, sizesOf, type CellKind, type Grouping } from './matrix-cells';
import { MatrixGrid } from './matrix-grid';
import { RoutesHead, WhatIsDown } from './routes-head';
import { expectThis, traceTo } from './steps';

/** Ends of which each is many: all loopbacks, all LANs and all that comes from outside by one host each. */
const everyEnd = [
  { value: 'loopbacks', words: 'all loopbacks' },
  { value: 'lans', words: 'LANs, a host each' },
  { value: 'outside', words: 'outside, a host each' },
] as const;

/** Makes the matrix anew when the network, or what is asked, is another one. */
function useMatrix(
  rows: string,
  columns: string,
): { matrix: MatrixView | undefined; progress: readonly [number, number] | undefined; stop: () => void; stopped: boolean } {
  const view = useStore((s) => s.view);
  const failure = useStore((s) => s.failure);
  const [matrix, setMatrix] = useState<MatrixView | undefined>(undefined);
  const [progress, setProgress] = useState<readonly [number, number] | undefined>(undefined);
  const [stopped, setStopped] = useState(false);
  useEffect(() => {
    const turn = { over: false };
    const report = (done: number, of: number): void => {
      if (!turn.over) setProgress([done, of]);
    };
    void workbench()
      .reach.matrix(rows, columns, proxy(report))
      .then((m) => {
        if (turn.over) return;
        setProgress(undefined);
        setStopped(m === null);
        if (m) setMatrix(m);
      });
    return () => {
      turn.over = true;
      // Nobody waits for it any more.
      void workbench().reach.stopMatrix();
    };
  }, [rows, columns, view, failure]);
  return { matrix, progress, stopped, stop: () => void workbench().reach.stopMatrix() };
}

/** Each of some addresses against each other: both ways, one way, dropped, in a circle; with routers on the way and cost. */
export function MatrixPage() {
  const view = useStore((s) => s.view);
  const from = useStore((s) => s.from);
  const to = useStore((s) => s.to);
  const [grouping, setGrouping] = useState<Grouping>('area');
  const [shown, setShown] = useState<CellKind | undefined>(undefined);
  const [block, setBlock] = useState<readonly [string, string] | undefined>(undefined);
  const [at, setAt] = useState<readonly [number, number] | undefined>(undefined);
  const [groups, setGroups] = useState<readonly string[]>([]);
  useEffect(() => {
    void workbench().reach.sides().then(setGroups);
  }, [view]);
  // A trace may have left single addresses here: a matrix of one is none.
  const known = (word: string | undefined): string =>
    word !== undefined && (everyEnd.some((e) => e.value === word) || groups.includes(word) || word.includes('/')) ? word : 'loopbacks';
  const [rows, columns] = [known(from), known(to)];
  const { matrix, progress, stop, stopped } = useMatrix(rows, columns);
  const order = useMemo(() => (matrix ? orderOf(matrix, grouping, block) : undefined), [matrix, grouping, block]);
  const sizes = useMemo(() => (matrix && order ? sizesOf(matrix, order) : undefined), [matrix, order]);
  const blocks = useMemo(() => (matrix && grouping !== 'none' ? blocksOf(matrix, grouping) : undefined), [matrix, grouping]);
  if (!view) return null;
  const chosen = matrix && order && at ? cellOf(matrix, order.rows[at[0]] ?? -1, order.columns[at[1]] ?? -1) : undefined;
  const ends = matrix && order && at ? { row: matrix.rows[order.rows[at[0]] ?? -1], column: matrix.columns[order.columns[at[1]] ?? -1] } : undefined;
  const groupWords = (g: string): string => (grouping === 'area' ? (g === '' ? 'no OSPF' : areaName(g)) : g);
  return (
    <div className="stage">
      <div className="flex min-h-0 min-w-0 flex-1 flex-col max-[899px]:h-[440px]!">
        <RoutesHead>
          <WhatIsDown />
        </RoutesHead>
        <div className="flex flex-wrap items-center gap-x-3 gap-y-2 px-4 pb-2 text-ink2">
          <Side label="From" value={rows} groups={groups} onChange={(v) => go({ from: v })} />
          <Side label="To" value={columns} groups={groups} onChange={(v) => go({ to: v })} />
          <span className="flex gap-1" role="group" aria-label="Grouped by">
            {(['area', 'site', 'none'] as const).map((g) => (
              <button
                key={g}
                type="button"
                className="control"
                aria-pressed={grouping === g}
                onClick={() => {
                  setGrouping(g);
                  setBlock(undefined);
                  setAt(undefined);
                }}
              >
                {g === 'area' ? 'By area' : g === 'site' ? 'By site' : 'By name'}
              </button>
            ))}
          </span>
          {block && (
            <button type="button" className="control" onClick={() => setBlock(undefined)}>
              {groupWords(block[0])} to {groupWords(block[1])} ×
            </button>
          )}
          {progress ? (
            <span className="flex items-center gap-2" role="status">
              <progress value={progress[0]} max={progress[1]} aria-label="Making the matrix" /> {progress[0].toLocaleString('en-GB')} of{' '}
              {progress[1].toLocaleString('en-GB')}
              <button type="button" className="control" onClick={stop}>
                Stop
              </button>
            </span>
          ) : (
            <span role="status">{stopped ? 'Stopped. What is shown is from before.' : ''}</span>
          )}
          {matrix && order && (
            <TableOut
              name={`matrix ${rows} ${columns}`}
              lines={() => [
                ['from', 'to', 'there', 'back', 'routers after the first', 'cost', 'other routers back'],
                ...order.rows.flatMap((r) =>
                  order.columns.map((c) => {
                    const x = cellOf(matrix, r, c);
                    return [
                      endWords(matrix.rows[r]),
                      endWords(matrix.columns[c]),
                      x.there,
                      x.back,
                      x.hops ?? '',
                      x.cost ?? '',
                      x.lopsided ? 'yes' : 'no',
                    ];
                  }),
                ),
              ]}
            />
          )}
        </div>
        {matrix && order && order.rows.length > 0 && order.columns.length > 0 ? (
          <MatrixGrid
            matrix={matrix}
            order={order}
            at={at}
            shown={shown}
            onAt={setAt}
            onOpen={(r, c) => traceTo(matrix.rows[r]?.address ?? '', matrix.columns[c]?.address ?? '')}
          />
        ) : (
          <p className="px-4 text-ink2">
            {matrix ? 'Nothing of this family stands at these ends. Choose others above.' : 'Following packets between them…'}
          </p>
        )}
      </div>
      <Panel label="What the matrix says">
        {chosen && ends?.row && ends.column ? (
          <>
            <p className="text-ink2">
              {endWords(ends.row)} to {endWords(ends.column)}
            </p>
            <h2 className="text-xl">{kindWords[chosen.kind].title}</h2>
            <p>
              {kindWords[chosen.kind].words}
              {chosen.hops !== null && ` ${count(chosen.hops, 'router')} after the first`}
              {chosen.cost !== null && `${chosen.hops !== null ? ', ' : ' '}cost ${chosen.cost}`}
              {chosen.hops !== null || chosen.cost !== null ? '.' : ''}
            </p>
            <div className="mt-2 flex flex-wrap gap-1.5">
              <button type="button" className="control" data-main onClick={() => traceTo(ends.row?.address ?? '', ends.column?.address ?? '')}>
                Trace
              </button>
              {/* By which exit it is to leave, its trace says. */}
              {chosen.kind !== 'leaves' && (
                <button
                  type="button"
                  className="control"
                  onClick={() =>
                    expectThis({
                      name: `${endName(ends.row)} ${chosen.there === 'delivered' ? 'reaches' : 'does not reach'} ${endName(ends.column)}`,
                      kind: chosen.there === 'delivered' ? 'reach' : 'no-reach',
                      from: ends.row?.address ?? '',
                      to: ends.column?.address ?? '',
                      ...(chosen.there === 'delivered' && chosen.back !== 'delivered' ? { oneWay: 'yes' } : {}),
                    })
                  }
                >
                  Expect this
                </button>
              )}
            </div>
          </>
        ) : (
          <>
            <h2 className="text-xl">{sizes ? summaryWords(sizes) : 'Who reaches whom'}</h2>
            <p className="text-ink2">Arrow keys go from cell to cell, Enter follows the packet.</p>
          </>
        )}
        {sizes && (
          <Section title="Pairs">
            <ul>
              {kinds.map((k) => (
                <li key={k}>
                  <button
                    type="button"
                    className={`flex w-full items-baseline gap-2 border-b border-fine py-0.5 text-left ${shown === k ? 'font-semibold' : 'hover:bg-paper'}`}
                    aria-pressed={shown === k}
                    onClick={() => setShown(shown === k ? undefined : k)}
                  >
                    <span className="w-6 text-center font-mono" aria-hidden="true">
                      {kindWords[k].sign}
                    </span>
                    {kindWords[k].title}
                    <span className={`ml-auto font-mono text-[12.5px] ${sizes[k] === 0 ? 'text-ink3' : ''}`}>{sizes[k].toLocaleString('en-GB')}</span>
                  </button>
                </li>
              ))}
            </ul>
            <p className="mt-1 text-ink2">One chosen stands out in the matrix.</p>
          </Section>
        )}
        {blocks && blocks.names.length > 1 && blocks.names.length <= 12 && (
          <Section title={`Both ways, ${grouping === 'area' ? 'area by area' : 'site by site'}`}>
            <NumberTable
              label="Pairs that reach each other both ways, group by group"
              columns={[
                { name: 'from', kind: 'name' },
                { name: 'to', kind: 'name' },
                { name: 'both', kind: 'number' },
                { name: 'of', kind: 'number' },
              ]}
              rows={blocks.rows.map((b) => ({
                key: `${b.from} ${b.to}`,
                cells: [
                  <button
                    key="go"
                    type="button"
                    className="link"
                    onClick={() => {
                      setBlock([b.from, b.to]);
                      setAt(undefined);
                    }}
                  >
                    {groupWords(b.from)}
                  </button>,
                  groupWords(b.to),
                  b.both,
                  b.all,
                ],
              }))}
            />
          </Section>
        )}
      </Panel>
    </div>
  );
}

const endName = (e: MatrixEnd | undefined): string => (e === undefined ? '' : e.router === '' ? e.address : e.router);
const endWords = (e: MatrixEnd | undefined): string => (e === undefined ? '' : `${e.address}${e.router === '' ? '' : ` (${e.router})`}`);

/** What is to be known first: everything arrives, or how much does not. */
function summaryWords(sizes: Readonly<Record<CellKind, number>>): string {
  const lost = sizes.oneway + sizes.dropped + sizes.looping + sizes.partly + sizes.leaves;
  return lost === 0 ? 'Everyone reaches everyone' : `${count(lost, 'pair does', 'pairs do')} not reach each other`;
}

/** One side of the matrix: all loopbacks, the LANs, a group, or a prefix that is typed. */
function Side({
  label,
  value,
  groups,
  onChange,
}: {
  readonly label: string;
  readonly value: string;
  readonly groups: readonly string[];
  readonly onChange: (v: string) => void;
}) {
  const [typing, setTyping] = useState(false);
  const field = useRef<HTMLInputElement>(null);
  useEffect(() => {
    if (typing) field.current?.focus();
  }, [typing]);
  const given = [...everyEnd, ...groups.map((g) => ({ value: g, words: g }))];
  return (
    <label className="flex items-center gap-2">
      {label}
      {typing ? (
        <input
          ref={field}
          className="field w-44 font-mono text-xs text-ink"
          aria-label={`${label}: a prefix`}
          placeholder="10.97.0.0/16, then Enter"
          onKeyDown={(e) => {
            const text = e.currentTarget.value.trim();
            if (e.key === 'Enter' && text.includes('/')) {
              setTyping(false);
              onChange(text);
            } else if (e.key === 'Escape') setTyping(false);
          }}
          onBlur={() => setTyping(false)}
        />
      ) : (
        <select
          className="field text-ink"
          aria-label={`${label}: which ends`}
          value={value}
          onChange={(e) => {
            if (e.target.value === 'typed') setTyping(true);
            else onChange(e.target.value);
          }}
        >
          {given.map((g) => (
            <option key={g.value} value={g.value}>
              {g.words}
            </option>
          ))}
          {!given.some((g) => g.value === value) && <option value={value}>hosts in {value}</option>}
          <option value="typed">hosts in a prefix…</option>
        </select>
      )}
    </label>
  );
}
