'use client';

import { useState, type ReactNode } from 'react';
import { openEntry } from '../model/panes';
import { useStore } from '../model/state';
import type { DesignView } from '../model/view';
import type { CoverAdviceView, CoverageView, CoverRow } from '../model/what-if-view';
import { LineTable, type LineColumn } from '../parts/line-table';
import { Panel, Section } from '../parts/panel';
import { useAnswer } from '../parts/use-answer';
import { count } from '../parts/words';
import { workbench } from '../worker/client';
import { Trying } from './trying';

const columns: readonly LineColumn[] = [
  { name: 'router', width: 'minmax(0,1fr)' },
  { name: 'next hops', width: '84px', kind: 'number' },
  { name: 'without link', width: '92px', kind: 'number' },
  { name: 'without router', width: '104px', kind: 'number' },
  { name: 'not at all', width: '84px', kind: 'number' },
  { name: 'share without link', width: '160px' },
];

const percent = (n: number, of: number): string => (of === 0 ? '–' : `${((n / of) * 100).toFixed(n === of ? 0 : 1)} %`);

/** How much is covered, in figures and as a bar. */
function Covered({ n, of }: { readonly n: number; readonly of: number }) {
  return (
    <span className="flex items-center gap-1.5">
      <span className="inline-block h-2 w-16 shrink-0 border border-rule bg-paper">
        <span className="block h-full bg-settled" style={{ width: `${of === 0 ? 0 : (n / of) * 100}%` }} />
      </span>
      <span className="font-mono text-[12.5px]">{percent(n, of)}</span>
    </span>
  );
}

/** What each router could do at once when a link fails: loop-free alternates inside the areas (RFC 5286). */
export function LocalRepair({ head, view }: { readonly head: ReactNode; readonly view: DesignView }) {
  const documents = useStore((s) => s.design?.documents);
  const coverage = useAnswer<CoverageView>(() => workbench().whatIf.coverage(), [view.routers, view.family]);
  const [chosen, setChosen] = useState<string>();
  const one = coverage?.rows.find((r) => r.router === chosen);
  return (
    <>
      <div className="flex min-h-0 min-w-0 flex-1 flex-col">
        {head}
        <div className="flex min-h-0 flex-1 flex-col px-4 pt-3 pb-2" data-testid="repair">
          <p className="mb-2 max-w-[90ch]">
            {coverage ? (
              <>
                Of {count(coverage.all, 'next hop')} of routes inside the areas, in IPv{view.family},{' '}
                <strong className="font-semibold">{percent(coverage.link, coverage.all)}</strong> could be done without their link at once,{' '}
                {percent(coverage.node, coverage.all)} without the next router.{' '}
                <span className="text-ink2">This is what a router could do, not what it does: few do without being told to.</span>
              </>
            ) : (
              'Looking for alternates…'
            )}
          </p>
          <LineTable
            label="Local repair, router by router, the least covered first"
            columns={columns}
            rows={coverage?.rows ?? []}
            keyOf={(r) => r.router}
            cells={(r) => [
              r.router,
              r.all.toLocaleString('en-GB'),
              r.link.toLocaleString('en-GB'),
              r.node.toLocaleString('en-GB'),
              r.none.toLocaleString('en-GB'),
              <Covered key="c" n={r.link} of={r.all} />,
            ]}
            at={coverage?.rows.findIndex((r) => r.router === chosen) ?? -1}
            onChoose={(r) => setChosen(r.router)}
            nothing={coverage ? 'No router has a next hop inside an area.' : undefined}
          />
        </div>
      </div>
      <Panel label="Local repair">
        {one ? <Router row={one} /> : <Whole coverage={coverage} />}
        <Advice of={documents} family={view.family} />
      </Panel>
    </>
  );
}

/** Which of a router's next hops have no way around their link. */
function Router({ row }: { readonly row: CoverRow }) {
  return (
    <div data-testid="repair-router">
      <h2 className="text-xl">{row.router}</h2>
      <p className="text-ink2">
        {row.uncovered.length === 0
          ? 'Every next hop has an alternate that does without its link.'
          : `${count(row.all - row.link, 'next hop')} of ${row.all.toLocaleString('en-GB')} without an alternate that does without its link:`}
      </p>
      {row.uncovered.map((u) => (
        <Section key={u.iface} title={`${u.iface}${u.to === '' ? '' : `, to ${u.to}`}`}>
          <p className="font-mono text-xs leading-relaxed">
            {u.prefixes.slice(0, 24).join(', ')}
            {u.prefixes.length > 24 ? `, and ${u.prefixes.length - 24} more` : ''}
          </p>
        </Section>
      ))}
    </div>
  );
}

function Whole({ coverage }: { readonly coverage: CoverageView | undefined }) {
  const worst = (coverage?.rows ?? [])
    .flatMap((r) => r.uncovered.map((u) => ({ ...u, router: r.router })))
    .sort((a, b) => b.prefixes.length - a.prefixes.length);
  return (
    <>
      <h2 className="text-xl">{coverage && worst.length === 0 ? 'All is covered' : 'What stays uncovered'}</h2>
      <p className="text-ink2">
        A neighbour may stand in for a next hop when it does not send the packets back (RFC 5286). Links that carry the most prefixes without one come
        first.
      </p>
      <ul className="mt-1" aria-label="Links without an alternate">
        {worst.slice(0, 14).map((u) => (
          <li key={`${u.router}/${u.iface}`} className="flex items-baseline border-b border-fine py-0.5">
            <span className="min-w-0 flex-1 truncate">
              {u.router} <span className="text-ink2">to {u.to === '' ? u.iface : u.to}</span>
            </span>
            <span className="text-ink2">{count(u.prefixes.length, 'prefix', 'prefixes')}</span>
          </li>
        ))}
      </ul>
    </>
  );
}

/** The link and the cost that would cover most, by trying. */
function Advice({ of, family }: { readonly of: unknown; readonly family: number }) {
  return (
    <Section title="What would cover most">
      <Trying of={[of, family]} label="Try links and costs" title="Trying what would cover" ask={(report) => workbench().whatIf.covering(report)}>
        {(advice) => <Found advice={advice} />}
      </Trying>
    </Section>
  );
}

function Found({ advice }: { readonly advice: CoverAdviceView }) {
  return (
    <div data-testid="cover-advice">
      {advice.best.length === 0 && <p className="text-ink2">Nothing that was tried covers more.</p>}
      <ul>
        {advice.best.map((b) => (
          <li key={b.line} className="border-b border-fine py-1">
            <button type="button" className="link block max-w-full truncate text-left" onClick={() => openEntry(b.line)}>
              <code className="text-xs">{b.line}</code>
            </button>
            <span className="text-ink2">
              {b.kind === 'link' ? 'the best link' : 'the best cost'}: {percent(b.all - b.left, b.all)} covered, instead of{' '}
              {percent(advice.all - advice.left, advice.all)}
            </span>
          </li>
        ))}
      </ul>
      <p className="mt-1 text-xs text-ink2">
        {advice.tried.toLocaleString('en-GB')} of {count(advice.possible, 'link or cost', 'links and costs')} tried, near routers with something
        uncovered.
      </p>
    </div>
  );
}
