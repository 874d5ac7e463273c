'use client';

import type { Finding } from '@gentle-compass/core/findings/finding';
import { formatAddress } from '@gentle-compass/core/prefix/address';
import type { ExampleWay } from '@gentle-compass/core/summaries/example-way';
import { useState } from 'react';
import { useStore } from '../model/state';
import type { DetourView } from '../model/summaries-view';
import { useAreaInWords } from '../parts/area-name';
import { FindingCard } from '../parts/finding-card';
import { LineTable, type LineColumn } from '../parts/line-table';
import { Panel, Section } from '../parts/panel';
import { stageOfRule } from '../parts/stage-of-rule';
import { useAnswer } from '../parts/use-answer';
import { count, withAreaNames } from '../parts/words';
import { workbench } from '../worker/client';
import { SummariesHead } from './summaries-head';
import { wayWords } from './trial';

const detourColumns: readonly LineColumn[] = [
  { name: 'from', width: 'minmax(0,0.9fr)' },
  { name: 'to', width: 'minmax(0,1.2fr)', kind: 'code' },
  { name: 'by the summary', width: 'minmax(0,1.2fr)', kind: 'code' },
  { name: 'enters at', width: 'minmax(0,1.2fr)' },
  { name: 'costs', width: '50px', kind: 'number' },
  { name: 'nearer by', width: 'minmax(0,0.9fr)' },
  { name: 'could cost', width: '74px', kind: 'number' },
  { name: 'longer by', width: '68px', kind: 'number' },
];
const findingColumns: readonly LineColumn[] = [
  { name: 'is', width: '66px' },
  { name: 'what is found', width: 'minmax(0,1fr)' },
];
const tone = { error: 'text-accent', warning: 'text-caution', note: 'text-ink2' } as const;

/** What the panel is about: a finding, or a way that is longer. */
type Chosen = { readonly finding: string } | { readonly detour: number };

/** Where summaries go wrong, each with a packet that shows it and what would mend it; the ways that they make longer; and what looks wrong and is right. */
export function Dangers() {
  const view = useStore((s) => s.view);
  const [chosen, choose] = useState<Chosen | undefined>(undefined);
  const detours = useAnswer(() => workbench().summaries.detours(), [view]);
  const findings = view?.findings.filter((f) => stageOfRule(f.rule) === 'summaries') ?? [];
  const detour = chosen && 'detour' in chosen ? detours?.[chosen.detour] : undefined;
  const finding = detour ? undefined : (findings.find((f) => chosen && 'finding' in chosen && f.id === chosen.finding) ?? findings[0]);
  return (
    <div className="stage">
      <div className="flex min-h-0 min-w-0 flex-1 flex-col">
        <SummariesHead />
        <div className="flex min-h-0 flex-1 flex-col px-4 pb-4">
          <LineTable
            grows={false}
            label="Found of summaries"
            columns={findingColumns}
            rows={findings}
            keyOf={(f: Finding) => f.id}
            at={finding ? findings.indexOf(finding) : -1}
            onChoose={(f: Finding) => choose({ finding: f.id })}
            nothing="Nothing is found wrong with any summary."
            cells={(f: Finding) => [
              <span key="s" className={f.accepted ? 'text-ink2' : tone[f.severity]}>
                {f.accepted ? 'accepted' : f.severity}
              </span>,
              {
                shown: `${f.family === 6 ? 'IPv6: ' : ''}${withAreaNames(f.message, view?.areas)}`,
                title: f.message,
              },
            ]}
          />
          <h2 className="heading mt-4 mb-1 font-sans">Ways that summaries make longer</h2>
          <LineTable
            grows
            label="Ways that summaries make longer"
            columns={detourColumns}
            rows={detours ?? []}
            keyOf={(d: DetourView) => `${d.from} ${d.to} ${d.summary}`}
            at={chosen && 'detour' in chosen ? chosen.detour : -1}
            onChoose={(d: DetourView) => choose({ detour: detours?.indexOf(d) ?? 0 })}
            nothing={detours ? 'None: every packet takes the way that it would take without summaries.' : 'Looking…'}
            cells={(d: DetourView) => [
              d.from,
              d.to,
              d.summary,
              d.always ? d.through : `${d.through}, in part`,
              d.cost,
              d.better,
              d.shortest,
              d.cost - d.shortest,
            ]}
          />
        </div>
      </div>
      <Panel label="About the danger">
        {finding && (
          <>
            <FindingCard finding={finding} mend />
            <FindingWay key={finding.id} finding={finding} />
          </>
        )}
        {detour && <DetourShown detour={detour} />}
        <Discards />
      </Panel>
    </div>
  );
}

/** Where a packet goes. */
function Way({ way }: { readonly way: ExampleWay }) {
  return (
    <p>
      <span className="text-ink2">
        {way.from} to <span className="font-mono text-xs">{way.to}</span>:
      </span>{' '}
      {wayWords(way)}
    </p>
  );
}

/** The packet that shows a finding, as it goes now. */
function FindingWay({ finding: f }: { readonly finding: Finding }) {
  const view = useStore((s) => s.view);
  const own = (f.family ?? 4) === (view?.family ?? 4);
  const way = useAnswer(
    () => (f.example && own ? workbench().summaries.way(f.example.from, f.example.to) : Promise.resolve(null)),
    [view, f.example?.from, f.example?.to, own],
  );
  if (f.example && !own) return <p className="py-1.5 text-ink2">A packet that shows it is followed when IPv{f.family ?? 4} is looked at.</p>;
  return way ? (
    <Section title="A packet that shows it">
      <Way way={way} />
    </Section>
  ) : null;
}

/** One way that is longer: what it is, and how the packet goes. */
function DetourShown({ detour: d }: { readonly detour: DetourView }) {
  const inWords = useAreaInWords();
  const view = useStore((s) => s.view);
  const way = useAnswer(() => workbench().summaries.way(d.from, d.host), [view, d.from, d.host]);
  return (
    <section>
      <h2 className="text-xl">{d.cost - d.shortest} longer</h2>
      <p>
        <span className="font-mono text-xs">{d.to}</span> of {inWords(formatAddress(d.area))} costs {d.from} {d.cost} through {d.through}; told by
        itself it would cost {d.shortest} through {d.better}.
      </p>
      <p className="mt-1 text-ink2">
        Both border routers tell <span className="font-mono text-xs">{d.summary}</span> at one cost for all of its parts
        {d.always ? '' : '. Packets share the equal ways: some take the nearer one'}.
      </p>
      {way && (
        <Section title="The way now">
          <Way way={way} />
        </Section>
      )}
    </section>
  );
}

/** Addresses that nobody has, each dropped where its summary is made: as it should be. */
function Discards() {
  const inWords = useAreaInWords();
  const view = useStore((s) => s.view);
  const discards = useAnswer(() => workbench().summaries.discards(), [view]);
  if (!discards || discards.length === 0) return null;
  return (
    <Section title="Right as it is">
      <p className="text-ink2">
        Who makes a summary has a discard route for it: a packet to an address that nobody has is dropped there, and does not go round.
        {` ${count(discards.length, 'summary is', 'summaries are')} in force:`}
      </p>
      {discards.map((d) => (
        <div key={`${d.area} ${d.summary}`} className="border-b border-fine py-1.5">
          <p>
            <span className="font-mono text-xs font-semibold">{d.summary}</span>{' '}
            <span className="text-ink2">of {inWords(formatAddress(d.area))}</span>
          </p>
          <Way way={d.way} />
        </div>
      ))}
    </Section>
  );
}
