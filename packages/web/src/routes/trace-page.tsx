'use client';

import type { Mend } from '@gentle-compass/core/entry/return-route';
import { useMemo, useState, type ReactNode } from 'react';
import { AreaMap } from '../map/area-map';
import type { Way } from '../map/map-marks';
import { makeChange } from '../model/history';
import { go } from '../model/moving';
import type { BranchView, NoTrace, TraceView, WalkView } from '../model/reach-view';
import { useStore } from '../model/state';
import { copyText } from '../parts/copy';
import { Panel, Section, Tag } from '../parts/panel';
import { useAnswer } from '../parts/use-answer';
import { count, listWords, someOf } from '../parts/words';
import { workbench } from '../worker/client';
import { fateKind, fateWords, verdict } from './fate-words';
import { RoutesHead, WhatIsDown } from './routes-head';
import { WhyAbsent } from './said';
import { expectThis, stepTo, traceTo } from './steps';

/** Other addresses of the source’s router that are told at once. */
const otherSources = 24;

/** Where packets go on the map, there and back. */
function waysOf(t: TraceView): Map<string, Way> {
  const out = new Map<string, Way>(t.there.lines.map((l) => [l, 'there']));
  for (const l of t.back.lines) out.set(l, out.has(l) ? 'both' : 'back');
  return out;
}

/** A packet from an address to another, every equal way of it, and the way of the answer. */
export function TracePage() {
  const view = useStore((s) => s.view);
  const failure = useStore((s) => s.failure);
  const from = useStore((s) => s.from);
  const to = useStore((s) => s.to);
  const router = useStore((s) => s.router);
  const source = from ?? router ?? view?.routers[0]?.name ?? '';
  const goal = to ?? '';
  const t = useAnswer<TraceView | NoTrace | null>(
    () => (source === '' || goal === '' ? Promise.resolve(null) : workbench().reach.trace(source, goal)),
    [source, goal, view, failure],
  );
  const trace = t && 'there' in t ? t : undefined;
  const ways = useMemo(() => (trace ? waysOf(trace) : undefined), [trace]);
  const lit = useMemo(
    () =>
      trace
        ? new Set([...trace.starts, ...trace.goals, ...[...trace.there.branches, ...trace.back.branches].flatMap((b) => b.hops.map((h) => h.router))])
        : undefined,
    [trace],
  );
  const marks = useMemo(() => (trace ? marksOf(trace) : undefined), [trace]);
  if (!view) return null;
  return (
    <div className="stage">
      <div className="flex min-h-0 min-w-0 flex-1 flex-col">
        <RoutesHead>
          <WhatIsDown />
        </RoutesHead>
        <Ends key={`${source} ${goal}`} from={source} to={goal} />
        <AreaMap
          view={view}
          router={undefined}
          segment={undefined}
          onRouter={(name) => (from === undefined || goal !== '' ? traceTo(name, goal) : traceTo(source, name))}
          onSegment={(index) => {
            const subnet = view.segments.find((s) => s.index === index)?.subnets[0];
            if (subnet !== undefined) go({ prefix: subnet, look: 'prefix' });
          }}
          goneRouters={new Set(failure?.goneRouters)}
          downPairs={new Set(failure?.downPairs)}
          {...(ways ? { ways } : {})}
          {...(lit ? { lit } : {})}
          {...(marks ? { marks } : {})}
          calm={(n) => ['begins', 'arrives'].includes(marks?.get(n) ?? '')}
          litWords="on the way"
          hint="Map of the campus with the way of the packet: a whole line there, dots for the answer. Enter or a click on a router takes it as the source."
        />
      </div>
      <Panel label="What becomes of it">
        {trace ? (
          <Traced t={trace} from={source} />
        ) : t && 'fault' in t ? (
          <>
            <h2 className="text-xl">That cannot be followed</h2>
            <p className="text-ink2">{t.fault}</p>
          </>
        ) : (
          <>
            <h2 className="text-xl">Where is it to go</h2>
            <p className="text-ink2">
              Type a destination: an address, a router (its loopback) or a group. The source may be an address of a router, of a host on a LAN, or a
              router: then it is the address that the router takes by itself.
            </p>
            <Section title="For example">
              <ul>
                {view.segments
                  .filter((s) => s.kind === 'lan' && s.subnets.length > 0)
                  .slice(0, 4)
                  .map((s) => (
                    <li key={s.index} className="border-b border-fine py-0.5">
                      <button type="button" className="link font-mono text-xs" onClick={() => traceTo(source, s.members[0]?.address ?? '')}>
                        {s.members[0]?.address}
                      </button>{' '}
                      <span className="text-ink2">
                        on the LAN of{' '}
                        {someOf(
                          s.members.map((m) => m.router),
                          3,
                        )}
                      </span>
                    </li>
                  ))}
              </ul>
            </Section>
          </>
        )}
      </Panel>
    </div>
  );
}

/** What stands under the plates: where it begins, ends, is dropped, comes round. */
function marksOf(t: TraceView): Map<string, string> {
  const out = new Map<string, string>(t.starts.map((s) => [s, 'begins']));
  for (const b of t.there.branches) {
    const last = b.hops.at(-1)?.router;
    if (last !== undefined) out.set(last, fateWords[b.fate]);
  }
  for (const b of t.back.branches) {
    const last = b.hops.at(-1)?.router;
    if (last !== undefined && b.fate !== 'delivered') out.set(last, `answer ${fateWords[b.fate]}`);
  }
  return out;
}

/** Both ends, to be typed; Enter follows the packet. */
function Ends({ from, to }: { readonly from: string; readonly to: string }) {
  const view = useStore((s) => s.view);
  const [a, setA] = useState(from);
  const [b, setB] = useState(to);
  const known = useMemo(
    () =>
      (view?.routers ?? []).flatMap((r) => [
        { word: r.name, about: 'router' },
        ...r.interfaces.flatMap((i) =>
          i.addresses.filter((x) => !/^fe80/.test(x)).map((x) => ({ word: x.split('/')[0] ?? '', about: `${r.name}/${i.name}` })),
        ),
      ]),
    [view?.routers],
  );
  const field = (label: string, value: string, set: (x: string) => void): ReactNode => (
    <label className="flex items-center gap-2">
      {label}
      <input
        className="field w-52 font-mono text-xs text-ink"
        aria-label={label === 'From' ? 'From: address, router or group' : 'To: address, router or group'}
        list="known-ends"
        placeholder="address, router, group"
        autoComplete="off"
        value={value}
        onChange={(e) => set(e.target.value)}
      />
    </label>
  );
  return (
    <form
      className="flex flex-wrap items-center gap-x-3 gap-y-2 border-b border-rule px-4 pb-2 text-ink2"
      onSubmit={(e) => {
        e.preventDefault();
        traceTo(a.trim(), b.trim());
      }}
    >
      {field('From', a, setA)}
      {field('To', b, setB)}
      <button type="submit" className="control" data-main>
        Follow it
      </button>
      <button type="button" className="control" onClick={() => traceTo(b.trim(), a.trim())} disabled={b.trim() === ''}>
        Turn round
      </button>
      <datalist id="known-ends">
        {known.slice(0, 600).map((k) => (
          <option key={`${k.word} ${k.about}`} value={k.word}>
            {k.about}
          </option>
        ))}
      </datalist>
    </form>
  );
}

function Traced({ t, from }: { readonly t: TraceView; readonly from: string }) {
  const v = verdict(t);
  const oneWay = t.there.fate === 'delivered' && t.back.fate !== 'delivered';
  const mends = useAnswer<readonly Mend[]>(() => (oneWay ? workbench().reach.mends(t.from, t.to) : Promise.resolve([])), [t]);
  const [mend, setMend] = useState<number | undefined>(undefined);
  const expectation = {
    name: `${from} reaches ${t.to}`,
    kind: t.there.fate === 'dropped' || t.there.fate === 'looping' ? 'no-reach' : 'reach',
    from: t.chosen ? t.from : from,
    to: t.to,
    ...(oneWay ? { oneWay: 'yes' } : {}),
    ...(t.there.fate === 'leaves' ? { leavesBy: exitOf(t) } : {}),
  };
  return (
    <>
      <p className="text-ink2">
        <span className="font-mono text-xs">{t.from}</span> to <span className="font-mono text-xs">{t.to}</span>
      </p>
      <h2 className="text-xl">{v.title}</h2>
      <p>
        {v.words}
        {t.hops !== null && t.hops > 0 && ` ${count(t.hops, 'router')} after the first${t.cost === null ? '' : `, cost ${t.cost}`}.`}
      </p>
      <p className="mt-1 text-ink2">
        {t.chosen
          ? `${t.source} takes ${t.from} by itself: the address of ${t.sources.find((s) => s.address === t.from)?.iface ?? 'an interface'}.`
          : t.source !== ''
            ? `${t.from} is an address of ${t.source}.`
            : t.starts.length > 1
              ? `A host: it begins at ${listWords(t.starts)}, whichever is its gateway.`
              : t.starts.length === 1
                ? `A host behind ${t.starts[0] ?? ''}.`
                : 'No router that is up stands on its subnet.'}
      </p>
      <div className="mt-2 flex flex-wrap gap-1.5">
        <button type="button" className="control" onClick={() => expectThis(expectation)}>
          Expect this
        </button>
        <button type="button" className="control" onClick={() => void copyText(asText(t))}>
          Copy as text
        </button>
      </div>
      {t.missing && (
        <Section title={t.there.fate === 'delivered' ? 'The missing return route' : `Why ${t.missing.router} has no route`}>
          <WhyAbsent absence={t.missing} />
        </Section>
      )}
      {mends && mends.length > 0 && (
        <Section title="What would bring the answer back">
          <ul>
            {mends.map((m, n) => (
              <li key={m.title} className="border-b border-fine py-1">
                <button
                  type="button"
                  className="w-full text-left hover:underline"
                  aria-expanded={mend === n}
                  onClick={() => setMend(mend === n ? undefined : n)}
                >
                  {m.title}
                </button>
                {mend === n && (
                  <div className="mt-1">
                    <p className="font-mono text-xs text-ink2">{m.lines.join('; ')}</p>
                    <button type="button" className="control mt-1" data-main onClick={() => void makeChange(m.title, m.edits)}>
                      Do it
                    </button>
                  </div>
                )}
              </li>
            ))}
          </ul>
          <p className="mt-1 text-ink2">Each was tried: after it the answer arrives.</p>
        </Section>
      )}
      <WalkSection title={`There: ${fateWords[t.there.fate]}`} walk={t.there} to={t.to} />
      <WalkSection title={`Back: ${fateWords[t.back.fate]}`} walk={t.back} to={t.from} />
      {t.sources.length > 1 && t.there.fate !== 'dropped' && (
        <Section title={`From ${t.source}’s other addresses`}>
          <ul>
            {t.sources
              .filter((s) => s.address !== t.from)
              .slice(0, otherSources)
              .map((s) => (
                <li key={s.address} className="flex items-baseline gap-2 border-b border-fine py-0.5">
                  <button type="button" className="link font-mono text-xs" onClick={() => traceTo(s.address, t.to)}>
                    {s.address}
                  </button>
                  <span className="truncate text-ink2">
                    {s.iface}
                    {s.chosen ? ', taken by itself' : ''}
                  </span>
                  <span className={`ml-auto whitespace-nowrap ${s.back === 'delivered' ? 'text-settled' : 'text-accent'}`}>
                    {s.back === 'delivered' ? 'answered' : `answer ${fateWords[s.back]}`}
                  </span>
                </li>
              ))}
          </ul>
          {t.sources.length - 1 > otherSources && <p className="text-ink2">and {t.sources.length - 1 - otherSources} more</p>}
        </Section>
      )}
    </>
  );
}

/** Every way of a packet, hop by hop with the line that takes it on. */
function WalkSection({ title, walk, to }: { readonly title: string; readonly walk: WalkView; readonly to: string }) {
  return (
    <Section title={title}>
      {walk.branches.map((b, n) => (
        <Branch key={n} b={b} to={to} n={walk.branches.length > 1 ? n + 1 : 0} />
      ))}
      {walk.cut && <p className="text-ink2">There are more equal ways; the first {walk.branches.length} are shown.</p>}
    </Section>
  );
}

function Branch({ b, n }: { readonly b: BranchView; readonly to: string; readonly n: number }) {
  return (
    <div className="mb-2">
      {n > 0 && (
        <p className="flex items-baseline gap-2 text-ink2">
          way {n} <Tag kind={fateKind(b.fate)}>{fateWords[b.fate]}</Tag>
        </p>
      )}
      <ol>
        {b.hops.map((h, i) => (
          <li key={`${h.router} ${i}`} className="grid grid-cols-[minmax(80px,auto)_minmax(0,1fr)] gap-x-2 border-b border-fine py-0.5">
            <button
              type="button"
              className="link text-left"
              onClick={() => stepTo({ router: h.router, prefix: h.route === '' ? undefined : h.route })}
              title={`The table of ${h.router}`}
            >
              {h.router}
            </button>
            <span className="text-right">
              <span className="font-mono text-xs">{h.route}</span>
              <span className="block text-xs text-ink2">{[h.by, h.iface && `out ${h.iface}`].filter(Boolean).join(', ')}</span>
            </span>
          </li>
        ))}
      </ol>
      {b.fate !== 'delivered' || b.hops.length === 0 || b.reason.startsWith('a host') ? (
        <p className={b.fate === 'delivered' ? 'text-ink2' : 'text-accent'}>{b.reason}.</p>
      ) : null}
    </div>
  );
}

/** Where a packet leaves the design, as a router and its interface. */
function exitOf(t: TraceView): string {
  const last = t.there.branches[0]?.hops.at(-1);
  return last ? `${last.router}/${last.iface}` : '';
}

/** The trace as text, line by line. */
function asText(t: TraceView): string {
  const walk = (title: string, w: WalkView): string[] => [
    `${title}: ${fateWords[w.fate]}`,
    ...w.branches.flatMap((b, n) => [
      ...(w.branches.length > 1 ? [`  way ${n + 1}: ${fateWords[b.fate]}`] : []),
      ...b.hops.map(
        (h) => `    ${[h.router, h.route, h.by, h.iface && `out ${h.iface}`, h.nextHop && `to ${h.nextHop}`].filter(Boolean).join('  ')}`,
      ),
      `    ${b.reason}`,
    ]),
  ];
  return [`${t.from} to ${t.to}`, ...walk('there', t.there), ...walk('back', t.back)].join('\n');
}
