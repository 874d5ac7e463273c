'use client';

import type { Entrance, ExitsAt } from '@gentle-compass/core/areas/from-outside';
import { useMemo, useState } from 'react';
import { go } from '../model/moving';
import { openEntry } from '../model/panes';
import { useStore } from '../model/state';
import type { OutsideView } from '../model/view';
import { AreaName } from '../parts/area-name';
import { LineTable, type LineColumn } from '../parts/line-table';
import { Panel, Section } from '../parts/panel';

import { useAnswer } from '../parts/use-answer';
import { count, listWords, someOf } from '../parts/words';
import { workbench } from '../worker/client';
import { useAdvertisement } from './advertisement-panel';
import { kindWords } from './area-words';
import { AreasHead } from './areas-head';
import { CircleDrawn } from './circle-drawn';
import { DocumentLines } from '../parts/document-lines';

const columns: readonly LineColumn[] = [
  { name: 'prefix', width: 'minmax(0,1.1fr)', kind: 'code' },
  { name: 'enters at', width: 'minmax(0,1fr)' },
  { name: 'from', width: 'minmax(0,1.1fr)', kind: 'quiet' },
  { name: 'as type', width: '60px', kind: 'code' },
  { name: 'metric', width: '62px', kind: 'number' },
  { name: 'kind', width: '78px' },
  { name: 'tag', width: '74px', kind: 'number' },
];
const fromWords: Record<Entrance['from'], string> = {
  static: 'static routes',
  direct: 'its own interfaces',
  other: 'another protocol',
  default: 'its default',
  'nssa-default': 'the default of its NSSA',
  translated: 'a type 7, translated',
  'external-range': 'an external summary',
};

interface Line extends Entrance {
  readonly prefix: string;
}

/** What enters from outside, how far it travels, which exit wins where and why, and the circles that redistribution can make. */
export function Outside() {
  const view = useStore((s) => s.view);
  const prefix = useStore((s) => s.prefix);
  const router = useStore((s) => s.router);
  const [text, setText] = useState('');
  const outside = useAnswer(() => workbench().areas.outside(), [view]);
  const lines = useMemo(() => (outside?.prefixes ?? []).flatMap((p): Line[] => p.entrances.map((e) => ({ ...e, prefix: p.prefix }))), [outside]);
  const wanted = text.trim().toLowerCase();
  const shown = useMemo(
    () =>
      wanted === ''
        ? lines
        : lines.filter((l) => `${l.prefix} ${l.router} ${l.type} ${fromWords[l.from]} tag ${l.tag}`.toLowerCase().includes(wanted)),
    [lines, wanted],
  );
  const chosen = lines.find((l) => l.prefix === prefix)?.prefix ?? lines[0]?.prefix;
  const exits = useAnswer(() => (chosen === undefined ? Promise.resolve([]) : workbench().areas.exits(chosen, router)), [view, chosen, router]);
  if (!view) return null;
  return (
    <div className="stage">
      <div className="flex min-h-0 min-w-0 flex-1 flex-col">
        <AreasHead>
          <input
            className="field ml-auto w-44"
            placeholder="prefix, router, tag"
            aria-label="Narrow what enters"
            value={text}
            onChange={(e) => setText(e.target.value)}
          />
        </AreasHead>
        <div
          className="flex min-h-0 flex-1 flex-col gap-3 overflow-y-auto px-4 pb-3"
          tabIndex={0}
          role="region"
          aria-label="What enters from outside"
        >
          {outside?.circles.map((c) => (
            <CircleDrawn key={`${c.prefix} ${c.steps.map((s) => s.from).join()}`} circle={c} />
          ))}
          {outside && lines.length === 0 ? <Nothing importing={outside.importing} /> : <Entrances lines={shown} chosen={chosen} />}
          {chosen !== undefined && exits && exits.length > 0 && <Exits prefix={chosen} exits={exits} />}
        </div>
      </div>
      <Panel label="About what enters">{outside && <About outside={outside} lines={lines.filter((l) => l.prefix === chosen)} />}</Panel>
    </div>
  );
}

function Nothing({ importing }: { readonly importing: readonly string[] }) {
  return (
    <p className="rounded border border-rule bg-sheet p-4 text-ink2">
      {importing.length === 0
        ? 'Nothing enters from outside: no router redistributes anything or announces a default.'
        : `Nothing enters from outside: ${someOf(importing, 6)} ${importing.length === 1 ? 'is' : 'are'} asked to bring routes in, and ${importing.length === 1 ? 'has' : 'have'} none that may enter.`}{' '}
      <button type="button" className="link" onClick={() => openEntry('bring ')}>
        Redistribute something
      </button>
    </p>
  );
}

function Entrances({ lines, chosen }: { readonly lines: readonly Line[]; readonly chosen: string | undefined }) {
  const key = useStore((s) => s.lsa);
  const same = lines.findIndex((l) => l.key === key);
  return (
    <LineTable
      label="What enters from outside"
      columns={columns}
      rows={lines}
      keyOf={(l) => l.key}
      at={same >= 0 ? same : lines.findIndex((l) => l.prefix === chosen)}
      onChoose={(l) => go({ prefix: l.prefix, lsa: l.key })}
      cells={(l) => [
        { shown: l.prefix, title: l.prefix },
        <>
          {l.router}
          {l.area !== undefined && (
            <span className="text-ink2">
              , in <AreaName id={l.area} quiet />
            </span>
          )}
        </>,
        fromWords[l.from],
        { shown: l.type, title: l.name },
        l.metric.toLocaleString('en-GB'),
        l.metricType.replace('-', ' '),
        <span className={l.tag === 0 ? 'text-ink3' : ''}>{l.tag === 0 ? 'none' : l.tag}</span>,
      ]}
      nothing="Nothing fits what you typed."
      grows={false}
    />
  );
}

/** Routers with the same answer stand in one line. */
function alike(exits: readonly ExitsAt[]): { readonly routers: readonly string[]; readonly first: ExitsAt; readonly distances: readonly number[] }[] {
  const out = new Map<string, { routers: string[]; first: ExitsAt; distances: number[] }>();
  for (const e of exits) {
    // Of a type 1 the metric grows on the way: it belongs to the router, not to the exit.
    const key = `${e.to.join()} ${e.type} ${e.distance === undefined ? '' : (e.metric ?? '')} ${e.why}`;
    const line = out.get(key) ?? { routers: [], first: e, distances: [] };
    out.set(key, line);
    line.routers.push(e.router);
    const d = e.distance ?? e.metric;
    if (d !== undefined) line.distances.push(d);
  }
  return [...out.values()];
}

const span = (list: readonly number[]): string => {
  const [least, most] = [Math.min(...list), Math.max(...list)];
  return list.length === 0 ? '' : least === most ? least.toLocaleString('en-GB') : `${least.toLocaleString('en-GB')}–${most.toLocaleString('en-GB')}`;
};

/** Which exit wins at each router, and by which rule. */
function Exits({ prefix, exits }: { readonly prefix: string; readonly exits: readonly ExitsAt[] }) {
  return (
    <section>
      <h2 className="heading mb-1 font-sans">
        Which exit wins for <span className="font-mono">{prefix}</span>
      </h2>
      <table className="w-full border-separate border-spacing-0 rounded border border-rule bg-sheet" aria-label="Which exit wins">
        <thead className="text-left text-ink2">
          <tr>
            {['at', 'goes to', 'as', 'metric', 'to the exit', 'because'].map((c) => (
              <th
                key={c}
                scope="col"
                className={`px-3 py-1 font-normal whitespace-nowrap ${c === 'metric' || c === 'to the exit' ? 'text-right' : ''}`}
              >
                {c}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {alike(exits).map(({ routers, first, distances }) => (
            <tr key={routers[0]}>
              <td className="max-w-60 border-t border-fine px-3 py-1 align-top">{someOf(routers, 6)}</td>
              <td className="border-t border-fine px-3 py-1 align-top font-semibold whitespace-nowrap">{first.to.join(', ')}</td>
              <td className="border-t border-fine px-3 py-1 align-top whitespace-nowrap">{first.type}</td>
              <td className="border-t border-fine px-3 py-1 text-right align-top font-mono text-[12.5px]">
                {first.distance === undefined ? span(distances) : (first.metric ?? '').toLocaleString('en-GB')}
              </td>
              <td className="border-t border-fine px-3 py-1 text-right align-top font-mono text-[12.5px]">
                {first.distance === undefined ? '' : span(distances)}
              </td>
              <td className="border-t border-fine px-3 py-1 align-top text-ink2">{first.why}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

/** The lines that bring the chosen prefix in, and what holds for all: translators, stub borders, what goes nowhere. */
function About({ outside, lines }: { readonly outside: OutsideView; readonly lines: readonly Line[] }) {
  const routers = useStore((s) => s.view?.routers.length ?? 0);
  const lsa = useAdvertisement(undefined);
  const [first] = lines;
  return (
    <>
      {first && (
        <>
          <p className="text-ink2">enters at {listWords([...new Set(lines.map((l) => l.router))])}</p>
          <h2 className="font-mono text-lg">{first.prefix}</h2>
          <ul>
            {lines.slice(0, 12).map((l) => (
              <li key={l.key} className="border-b border-fine py-1">
                Type <span className="font-mono">{l.type}</span> of {l.router}:{' '}
                {l.holders === routers ? `all ${routers} routers` : `${l.holders} of ${routers} routers`} hold it
                {l.forwarding === '' ? '' : `; packets go to ${l.forwarding}`}.{' '}
                <button type="button" className="link" onClick={() => go({ show: 'reach', lsa: l.key, prefix: l.prefix })}>
                  How far it goes
                </button>
              </li>
            ))}
            {lines.length > 12 && <li className="py-1 text-ink2">{count(lines.length - 12, 'more way')}.</li>}
          </ul>
          {lsa && lines.some((l) => l.key === lsa.key) && <DocumentLines lines={lsa.lines} />}
        </>
      )}
      {outside.silenced.length > 0 && (
        <Section title="It goes nowhere">
          <p className="text-accent">
            {listWords(outside.silenced)} {outside.silenced.length === 1 ? 'brings' : 'bring'} routes in and{' '}
            {outside.silenced.length === 1 ? 'stands' : 'stand'} in stub areas alone: no type 5 leaves them.
          </p>
        </Section>
      )}
      {outside.translators.map((t, n) => (
        <Section key={`${t.area} ${n}`} title="Who translates">
          <p>
            <AreaName id={t.area} />:{' '}
            <strong className="font-semibold">{listWords(t.translators.filter((x) => x.translates).map((x) => x.router)) || 'nobody'}</strong>.{' '}
            {t.why} {t.next}
          </p>
          <ul>
            {t.translators.map((x) => (
              <li key={x.router} className="flex border-b border-fine py-0.5">
                {x.router}
                {x.always && <span className="text-ink2">, told to always</span>}
                <span className="ml-auto font-mono text-xs text-ink2">{x.routerId}</span>
              </li>
            ))}
          </ul>
        </Section>
      ))}
      {outside.borders.length > 0 && (
        <Section title={count(outside.borders.length, 'stub border')}>
          <ul>
            {outside.borders.slice(0, 60).map((b) => (
              <li key={`${b.router} ${b.area}`} className="border-b border-fine py-1">
                {b.router}, <AreaName id={b.area} quiet /> ({kindWords[b.kind]})<span className="block text-ink2">{b.says}</span>
              </li>
            ))}
          </ul>
        </Section>
      )}
    </>
  );
}
