'use client';

import { useState } from 'react';
import type { OriginValue } from '@gentle-compass/core/evidence/origins';
import { AreaMap, troubleLetters } from '../map/area-map';
import { endFirstVisit, go, useStore } from '../model/store';
import type { DesignView, SegmentView } from '../model/view';
import { FindingCard } from '../parts/finding-card';
import { Panel, Section, Tag } from '../parts/panel';
import { useAnswer } from '../parts/use-answer';
import { areaName, count, listWords } from '../parts/words';
import { workbench } from '../worker/client';

/** The chart of the campus and what is chosen on it. */
export function Layout() {
  const view = useStore((s) => s.view);
  const router = useStore((s) => s.router);
  const segment = useStore((s) => s.segment);
  if (!view) return null;
  const chosenSegment = view.segments.find((s) => s.index === segment);
  return (
    <div className="stage">
      <AreaMap
        view={view}
        router={chosenSegment ? undefined : router}
        segment={segment}
        onRouter={(name) => go({ router: name, segment: undefined })}
        onSegment={(index) => go({ segment: index })}
        onNothing={() => go({ router: undefined, segment: undefined })}
        hint="Map of the campus. Tab to a router, then arrow keys move, plus and minus zoom, 0 fits."
      />
      <Panel label="What is chosen">
        {chosenSegment ? (
          <SegmentPanel view={view} segment={chosenSegment} />
        ) : router !== undefined && view.routers.some((r) => r.name === router) ? (
          <RouterPanel view={view} name={router} />
        ) : (
          <Overview view={view} />
        )}
      </Panel>
    </div>
  );
}

function Overview({ view }: { readonly view: DesignView }) {
  const first = useStore((s) => s.firstVisit);
  const letters = troubleLetters(view);
  const trouble = view.pairs.filter((p) => p.kind === 'trouble').length;
  const open = view.findings.filter((f) => !f.accepted);
  const accepted = view.findings.filter((f) => f.accepted);
  return (
    <>
      {first && (
        <div className="mb-3 rounded border border-rule bg-paper p-3">
          <p>
            This is Saltmarsh Point, a marine research station, before its review: follow the dashed links marked with letters, or start with the
            first error below and mend it in one click.
          </p>
          <p className="mt-1 text-ink2">To work on your own campus, drop its router documents anywhere on this page.</p>
          <button type="button" className="link mt-1 text-ink2" onClick={endFirstVisit}>
            Put this note away
          </button>
        </div>
      )}
      <h2 className="text-xl">{open.length === 0 ? 'Nothing stands in the way' : count(open.length, 'thing to look at', 'things to look at')}</h2>
      <p className="text-ink2">
        {count(view.pairs.filter((p) => p.kind === 'full').length, 'pair')} of neighbours full, {trouble} in trouble,{' '}
        {view.pairs.filter((p) => p.kind === 'rests').length} at rest.
      </p>
      <div className="mt-2 border-t border-fine">
        {open.map((f) => (
          <FindingCard key={f.id} finding={f} letter={letters.get(view.pairs.find((p) => p.finding === f.id)?.id ?? '')} />
        ))}
      </div>
      {view.expectations.length > 0 && (
        <Section title="Expectations">
          <ul>
            {view.expectations.map((e) => (
              <li key={e.name} className="flex gap-2 border-b border-fine py-1">
                <span className="min-w-0">
                  {e.name}
                  {e.under !== 'normal' && (
                    <span className="text-ink2"> ({e.under === 'any-link' ? 'and under any link failure' : 'and under any router failure'})</span>
                  )}
                </span>
                <span className="ml-auto">
                  <Tag kind={e.holds ? 'full' : 'trouble'}>{e.holds ? 'holds' : 'broken'}</Tag>
                </span>
              </li>
            ))}
          </ul>
          <p className="mt-1 text-ink2">Looked at in the network as it is; the command line tries every failure too.</p>
        </Section>
      )}
      {accepted.length > 0 && (
        <Section title={`Accepted (${accepted.length})`}>
          {accepted.map((f) => (
            <FindingCard key={f.id} finding={f} />
          ))}
        </Section>
      )}
      {open.length === 0 && (
        <p className="mt-3">Choose a router or a link on the map, read any table under Routes, or cut something under Failures.</p>
      )}
    </>
  );
}

function RouterPanel({ view, name }: { readonly view: DesignView; readonly name: string }) {
  const r = view.routers.find((x) => x.name === name);
  if (!r) return null;
  const findings = view.findings.filter((f) => f.where.some((w) => w.router === name));
  const pairs = view.pairs.filter((p) => p.a.router === name || p.b.router === name);
  const role = [r.border ? 'border router' : '', r.boundary ? 'boundary router' : ''].filter(Boolean);
  return (
    <>
      <p className="text-ink2">{role.length > 0 ? listWords(role) : r.routerId === null ? 'no OSPF' : 'internal router'}</p>
      <h2 className="text-xl">{r.name}</h2>
      {r.routerId !== null && (
        <p>
          <span className="text-ink2">router id</span> <span className="font-mono">{r.routerId}</span>{' '}
          <span className="text-ink2">{r.routerIdFrom}</span>
        </p>
      )}
      <p className="text-ink2">
        {r.areas.map(areaName).join(', ')}
        {r.areas.length > 0 ? ' · ' : ''}
        <span className="font-mono text-xs">{r.file}</span>
      </p>
      {r.profile !== null && <p className="text-ink2">follows the profile “{r.profile}”</p>}
      <div className="mt-2 flex gap-1.5">
        <button type="button" className="control" onClick={() => go({ stage: 'routes', router: name, prefix: undefined })}>
          {r.routes === null ? 'Its routes' : count(r.routes, 'route')}
        </button>
        <button type="button" className="control" onClick={() => go({ stage: 'failures', router: name, fail: [`router:${name}`] })}>
          What if it fails
        </button>
      </div>
      {findings.length > 0 && (
        <Section title="Findings here">
          {findings.map((f) => (
            <FindingCard key={f.id} finding={f} mend />
          ))}
        </Section>
      )}
      <Section title="Neighbours">
        <ul>
          {pairs.map((p) => {
            const [self, peer] = p.a.router === name ? [p.a, p.b] : [p.b, p.a];
            return (
              <li key={p.id} className="flex items-center gap-2 border-b border-fine py-1">
                <button type="button" className="link min-w-0 truncate" onClick={() => go({ stage: 'neighbours', pair: p.id })}>
                  {peer.router}
                </button>
                <span className="min-w-0 truncate font-mono text-xs text-ink2">{self.iface}</span>
                <span className="ml-auto">
                  <Tag kind={p.kind}>{p.kind === 'trouble' || p.kind === 'rests' ? p.word : self.state}</Tag>
                </span>
              </li>
            );
          })}
        </ul>
        {pairs.length === 0 && <p className="text-ink2">Nobody shares a wire with it.</p>}
      </Section>
      <Section title="Interfaces">
        <table className="w-full">
          <thead className="text-ink2">
            <tr>
              <th className="py-1 text-left font-normal">name, address</th>
              <th className="text-left font-normal">area</th>
              <th className="text-right font-normal">cost</th>
            </tr>
          </thead>
          <tbody>
            {r.interfaces.map((i) => (
              <tr key={i.name} className="border-t border-fine align-top">
                <td className="py-1">
                  <span className="block">{i.name}</span>
                  <span className="block font-mono text-xs text-ink2">{i.addresses.join(', ') || 'no address'}</span>
                </td>
                <td className="py-1">
                  {i.area === null ? <span className="text-ink2">not in OSPF</span> : areaName(i.area).replace('Area ', '')}
                  <span className="block text-xs text-ink2">{i.area === null ? '' : i.state}</span>
                </td>
                <td className={`py-1 text-right font-mono ${i.costFrom === 'standard' ? 'text-ink3' : ''}`}>{i.cost ?? ''}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </Section>
      <Values router={name} state={view} />
    </>
  );
}

const originNames = { written: 'written', profile: 'profile', standard: 'standard' } as const;

/** Every value that holds in a router, and where it comes from; folded away until asked for. */
function Values({ router, state }: { readonly router: string; readonly state: DesignView }) {
  const [open, setOpen] = useState(false);
  const values = useAnswer(() => (open ? workbench().values(router) : Promise.resolve([])), [open, router, state]);
  const groups = new Map<string, OriginValue[]>();
  for (const v of values ?? []) groups.set(v.iface ?? '', [...(groups.get(v.iface ?? '') ?? []), v]);
  return (
    <section className="mt-4">
      <button type="button" className="link" aria-expanded={open} onClick={() => setOpen(!open)}>
        {open ? 'Fold the values away' : 'All values, and where each comes from'}
      </button>
      {[...groups].map(([iface, list]) => (
        <table key={iface} className="mt-2 w-full">
          <caption className="heading text-left">{iface === '' ? 'OSPF process' : iface}</caption>
          <thead className="sr-only">
            <tr>
              <th>what</th>
              <th>value</th>
              <th>origin</th>
            </tr>
          </thead>
          <tbody>
            {list.map((v) => (
              <tr key={v.what} className="border-t border-fine align-top">
                <td className="py-0.5">{v.what}</td>
                <td className="py-0.5 text-right font-mono text-[12.5px]">{v.value}</td>
                <td className={`w-[62px] py-0.5 pl-2 text-right ${v.origin === 'written' ? '' : 'text-ink2'}`}>{originNames[v.origin]}</td>
              </tr>
            ))}
          </tbody>
        </table>
      ))}
    </section>
  );
}

function SegmentPanel({ view, segment: s }: { readonly view: DesignView; readonly segment: SegmentView }) {
  const pairs = view.pairs.filter((p) => p.segment === s.index);
  const findings = view.findings.filter((f) => pairs.some((p) => p.finding === f.id));
  return (
    <>
      <p className="text-ink2">
        {s.kind === 'lan' ? 'LAN' : 'link'} on <span className="font-mono">{s.subnets.join(', ') || 'no subnet'}</span>
        {s.area !== null && ` · ${areaName(s.area)}`}
      </p>
      <h2 className="text-xl">{listWords(s.members.map((m) => m.router))}</h2>
      <div className="mt-2 flex gap-1.5">
        <button type="button" className="control" onClick={() => go({ stage: 'failures', fail: [s.fail] })} data-testid="cut-here">
          What if it is cut
        </button>
      </div>
      {findings.length > 0 && (
        <Section title="Findings here">
          {findings.map((f) => (
            <FindingCard key={f.id} finding={f} mend />
          ))}
        </Section>
      )}
      <Section title="On it">
        <table className="w-full">
          <thead className="text-ink2">
            <tr>
              <th className="py-1 text-left font-normal">router, address</th>
              <th className="text-left font-normal">leads</th>
              <th className="text-right font-normal">cost</th>
            </tr>
          </thead>
          <tbody>
            {s.members.map((m) => (
              <tr key={`${m.router} ${m.iface}`} className="border-t border-fine align-top">
                <td className="py-1">
                  <button type="button" className="link" onClick={() => go({ router: m.router, segment: undefined })}>
                    {m.router}
                  </button>
                  <span className="block font-mono text-xs text-ink2">
                    {m.iface} {m.address}
                  </span>
                </td>
                <td className="py-1">{m.leads}</td>
                <td className="py-1 text-right font-mono">{m.cost ?? ''}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </Section>
      <Section title="Neighbours on it">
        <ul>
          {pairs.map((p) => (
            <li key={p.id} className="flex items-center gap-2 border-b border-fine py-1">
              <button type="button" className="link" onClick={() => go({ stage: 'neighbours', pair: p.id })}>
                {p.a.router} and {p.b.router}
              </button>
              <span className="ml-auto">
                <Tag kind={p.kind}>{p.word}</Tag>
              </span>
            </li>
          ))}
        </ul>
      </Section>
    </>
  );
}
