'use client';

import type { PrefixInArea } from '@gentle-compass/core/areas/prefix-forms';
import { useMemo } from 'react';
import { AreaMap } from '../map/area-map';
import { go } from '../model/moving';
import { useStore } from '../model/state';
import { AreaName } from '../parts/area-name';
import type { AdvertisementView } from '../model/view';
import { Panel, Section } from '../parts/panel';
import { PrefixField } from '../parts/prefix-field';
import { useAnswer } from '../parts/use-answer';
import { count } from '../parts/words';
import { workbench } from '../worker/client';
import { AdvertisementName, useAdvertisement } from './advertisement-panel';
import { AreasHead } from './areas-head';

/** Where an advertisement is flooded and at which borders it stops; or how a prefix changes its form from area to area. */
export function Reach() {
  const view = useStore((s) => s.view);
  const router = useStore((s) => s.router);
  const prefix = useStore((s) => s.prefix);
  const lsa = useAdvertisement(router);
  const forms = useAnswer(() => (prefix === undefined ? Promise.resolve(null) : workbench().areas.forms(prefix)), [view, prefix]);
  const holders = useMemo(() => (lsa ? new Set(lsa.reach.holders) : undefined), [lsa]);
  const marks = useMemo(() => new Map(lsa?.reach.stops.map((s) => [s.router, s.area === undefined ? 'does not come here' : 'stops here'])), [lsa]);
  if (!view) return null;
  return (
    <div className="stage">
      <div className="flex min-h-0 min-w-0 flex-1 flex-col">
        <AreasHead>
          <span className="ml-auto">
            <PrefixField key={prefix} word="Follow" label="Prefix to follow" prefix={prefix} />
          </span>
        </AreasHead>
        <AreaMap
          view={view}
          router={router}
          segment={undefined}
          onRouter={(name) => go({ router: name })}
          onSegment={(index) => {
            const subnet = view.segments.find((s) => s.index === index)?.subnets[0];
            if (subnet !== undefined) go({ prefix: subnet, lsa: undefined });
          }}
          onNothing={() => go({ router: undefined })}
          onFound={(f) => {
            if (f.kind === 'router') go({ router: f.router });
          }}
          {...(holders ? { lit: holders } : {})}
          marks={marks}
          hint="Map of the campus. Routers that hold the advertisement stand out; a click on a link or LAN follows its prefix."
        />
      </div>
      <Panel label="How far it goes">
        {prefix !== undefined && forms !== undefined && <Forms prefix={prefix} forms={forms} chosen={lsa ?? undefined} of={view.routers.length} />}
        {lsa && !forms?.some((a) => a.forms.some((f) => f.key === lsa.key)) && <Flooding lsa={lsa} of={view.routers.length} />}
        {prefix === undefined && !lsa && (
          <>
            <h2 className="text-xl">Choose what to follow</h2>
            <p className="text-ink2">
              Type a prefix above, or click a link or LAN on the map, to see what every area knows of it. Or choose an advertisement in{' '}
              <button type="button" className="link" onClick={() => go({ show: 'databases' })}>
                Databases
              </button>{' '}
              to see where it is flooded.
            </p>
          </>
        )}
      </Panel>
    </div>
  );
}

const asWords = { itself: 'as itself', folded: 'inside a summary', default: 'by a default alone' } as const;

/** What every area knows of a prefix, from where it lies to the far ends. */
function Forms({
  prefix,
  forms,
  chosen,
  of,
}: {
  readonly prefix: string;
  readonly forms: readonly PrefixInArea[] | null;
  readonly chosen: AdvertisementView | undefined;
  readonly of: number;
}) {
  // What floods everywhere stands under several areas; how far it goes is told once.
  const first = forms?.find((a) => a.forms.some((f) => f.key === chosen?.key));
  if (!forms)
    return (
      <>
        <h2 className="text-xl">That is no prefix</h2>
        <p className="text-ink2">
          <span className="font-mono">{prefix}</span> cannot be followed: write a network and its length, as in 10.96.64.0/24 or 2001:db8:40::/64.
        </p>
      </>
    );
  return (
    <>
      <p className="text-ink2">how it is known</p>
      <h2 className="font-mono text-lg">{prefix}</h2>
      <ol className="mt-1">
        {forms.map((a, n) => (
          <li key={`${a.area} ${n}`} data-area={a.area} className="border-b border-fine py-1.5">
            <p>
              <strong className="font-semibold">
                <AreaName id={a.area} />
              </strong>{' '}
              <span className="text-ink2">
                {a.forms[0] ? asWords[a.forms[0].as] : 'not at all'}, {count(a.routers.length, 'router')}
              </span>
            </p>
            {a.forms.slice(0, 8).map((f) => (
              <button
                key={f.key}
                type="button"
                className={`flex w-full gap-2 text-left ${f.key === chosen?.key ? 'font-semibold' : ''}`}
                aria-pressed={f.key === chosen?.key}
                onClick={() => go({ lsa: f.key })}
              >
                <span className="w-12 shrink-0 font-mono text-xs leading-5">{f.type}</span>
                <span className="link min-w-0 truncate font-mono text-xs leading-5">{f.prefix}</span>
                <span className="ml-auto text-ink2">
                  {f.router}
                  {f.metric === undefined ? '' : `, ${f.metric}`}
                </span>
              </button>
            ))}
            {a.forms.length > 8 && <p className="text-ink2">{count(a.forms.length - 8, 'more')}.</p>}
            {a.why !== '' && <p className="text-ink2">{a.why}</p>}
            {a === first && chosen && (
              <div className="mt-1 border-l-2 border-ink pl-2.5">
                <Flooding lsa={chosen} of={of} />
              </div>
            )}
          </li>
        ))}
      </ol>
    </>
  );
}

/** Who holds an advertisement, and where it stops, with the reason at each stop. */
function Flooding({ lsa, of }: { readonly lsa: AdvertisementView; readonly of: number }) {
  const { holders, stops } = lsa.reach;
  return (
    <div className="mt-2">
      <AdvertisementName lsa={lsa} />
      <p className="text-ink2">
        {holders.length === of
          ? `All ${of} routers hold it.`
          : `${holders.length} of ${count(of, 'router')} ${holders.length === 1 ? 'holds' : 'hold'} it.`}{' '}
        <button type="button" className="link" onClick={() => go({ show: 'databases', lsa: lsa.key })}>
          Read it
        </button>
      </p>
      <Section title={stops.length === 0 ? 'It stops nowhere' : `It stops at ${count(new Set(stops.map((s) => s.router)).size, 'router')}`}>
        <ul>
          {stops.slice(0, 60).map((s, n) => (
            <li key={n} className="border-b border-fine py-1">
              <button type="button" className="link" onClick={() => go({ router: s.router })}>
                {s.router}
              </button>
              {s.area !== undefined && (
                <>
                  , before <AreaName id={s.area} quiet />
                </>
              )}
              <span className="block text-ink2">
                {s.why} {s.rfc}
              </span>
            </li>
          ))}
          {stops.length > 60 && <li className="py-1 text-ink2">{count(stops.length - 60, 'more')}.</li>}
        </ul>
      </Section>
    </div>
  );
}
