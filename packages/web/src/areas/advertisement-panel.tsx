'use client';

import { formatAddress } from '@gentle-compass/core/prefix/address';
import { go } from '../model/moving';
import { useStore } from '../model/state';
import type { AdvertisementRow, AdvertisementView } from '../model/view';
import { AreaName } from '../parts/area-name';
import { DocumentLines } from '../parts/document-lines';
import { Panel, Section } from '../parts/panel';
import { useAnswer } from '../parts/use-answer';
import { areaNumbered, count } from '../parts/words';
import { workbench } from '../worker/client';

/** Entries of a list at once; the others are counted. */
const shown = 60;

/** Asks for the chosen advertisement, as the chosen router holds it. */
export function useAdvertisement(router: string | undefined): AdvertisementView | null | undefined {
  const view = useStore((s) => s.view);
  const key = useStore((s) => s.lsa);
  return useAnswer(() => (key === undefined ? Promise.resolve(null) : workbench().areas.advertisement(key, router)), [view, key, router]);
}

/** The head of everything that is about one advertisement. */
export function AdvertisementName({ lsa }: { readonly lsa: AdvertisementView }) {
  return (
    <>
      <p className="text-ink2">
        type <span className="font-mono">{lsa.type}</span> of {lsa.router}, {lsa.area === null ? 'everywhere' : areaNumbered(lsa.area).toLowerCase()}
      </p>
      <h2 className="text-xl">{lsa.says}</h2>
    </>
  );
}

/** One advertisement: how far it goes, the routes that stand on it, its fields, and the lines that made it. */
export function AdvertisementPanel({
  router,
  beside,
  rows,
}: {
  readonly router: string | undefined;
  readonly beside: string | undefined;
  readonly rows: readonly AdvertisementRow[];
}) {
  const lsa = useAdvertisement(router);
  const row = rows.find((r) => r.key === lsa?.key);
  const why = row?.why;
  return (
    <Panel label="About the advertisement">
      {lsa ? (
        <>
          <AdvertisementName lsa={lsa} />
          {why !== undefined && why !== '' && <p className="mt-1">{why}</p>}
          {row && beside !== undefined && router !== undefined && row.by !== 'both' && (
            <KnownInstead row={row} by={row.by === 'first' ? beside : router} />
          )}
          <p className="mt-2 text-ink2">
            {count(lsa.reach.holders.length, 'router')} {lsa.reach.holders.length === 1 ? 'holds' : 'hold'} it.{' '}
            <button type="button" className="link" onClick={() => go({ show: 'reach', lsa: lsa.key, prefix: undefined })}>
              Show how far it goes
            </button>
          </p>
          {router !== undefined && (
            <Section title={`${count(lsa.routes.length, 'route')} of ${router} ${lsa.routes.length === 1 ? 'stands' : 'stand'} on it`}>
              <ul>
                {lsa.routes.slice(0, shown).map((p) => (
                  <li key={p}>
                    <button type="button" className="link font-mono text-xs" onClick={() => go({ stage: 'routes', router, prefix: p })}>
                      {p}
                    </button>
                  </li>
                ))}
                {lsa.routes.length > shown && <li className="text-ink2">{count(lsa.routes.length - shown, 'more')}.</li>}
              </ul>
            </Section>
          )}
          <DocumentLines lines={lsa.lines} />
          <Section title="Its fields">
            <Fields lsa={lsa} />
          </Section>
        </>
      ) : (
        <>
          <h2 className="text-xl">Choose an advertisement</h2>
          <p className="text-ink2">to read it field by field, and to see the lines that made it, the routes that stand on it, and how far it goes.</p>
        </>
      )}
    </Panel>
  );
}

/** How the router that does not hold an advertisement knows what it is about: by a summary, a range, a default, or not at all. */
function KnownInstead({ row, by }: { readonly row: AdvertisementRow; readonly by: string }) {
  const view = useStore((s) => s.view);
  const prefix = row.prefixes.split(' ')[0] ?? '';
  const own = view?.routers.find((r) => r.name === by)?.areas ?? [];
  const forms = useAnswer(() => (prefix === '' ? Promise.resolve(null) : workbench().areas.forms(prefix)), [view, prefix]);
  const there = forms?.filter((f) => own.includes(formatAddress(f.area)) && f.routers.includes(by)) ?? [];
  if (there.length === 0) return null;
  return (
    <Section title={`How ${by} knows ${prefix}`}>
      {there.map((a) => (
        <div key={a.area} className="border-b border-fine py-1">
          <p>
            in <AreaName id={a.area} quiet />:{' '}
            {a.forms.length === 0
              ? 'not at all'
              : a.forms
                  .slice(0, 3)
                  .map((f) => `type ${f.type} ${f.prefix} of ${f.router}`)
                  .join(', ')}
          </p>
          {a.why !== '' && <p className="text-ink2">{a.why}</p>}
        </div>
      ))}
    </Section>
  );
}

/** Every field in the names of the model, with its value. */
function Fields({ lsa }: { readonly lsa: AdvertisementView }) {
  return (
    <dl className="font-mono text-xs">
      {lsa.fields.map((f, n) => (
        <div key={n} className="flex gap-3 border-b border-fine py-px" style={{ paddingLeft: f.depth * 12 }}>
          <dt className="text-ink2">{f.name}</dt>
          <dd className="ml-auto text-right break-all">{f.value}</dd>
        </div>
      ))}
    </dl>
  );
}
