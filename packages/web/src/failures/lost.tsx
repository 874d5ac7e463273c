'use client';

import { openEntry } from '../model/panes';
import { go } from '../model/moving';
import type { DesignView, FailureView } from '../model/view';
import type { DatabaseRow, WatchedViews } from '../model/what-if-view';
import { Elections } from '../parts/elections';
import { NumberTable } from '../parts/number-table';
import { Section } from '../parts/panel';
import { count, listWords } from '../parts/words';
import { BestLink } from './best-link';
import { isWorkable, Planned } from './planned';
import { Watched } from './watched';

/** Rows of the list of tables; of a large campus nearly all tables change. */
const shownTables = 200;

/** Under which name what is down is kept, or a way to keep it. */
function Keeping({ view, fail, name }: { readonly view: DesignView; readonly fail: readonly string[]; readonly name: string }) {
  const known = view.scenarios.find((s) => s.fail.join(' ') === fail.join(' '));
  return known ? (
    <p className="text-ink2">
      Kept as <strong className="font-semibold text-ink">{known.name}</strong>
      {known.note === '' ? '' : `: ${known.note}`}.
    </p>
  ) : (
    <p className="mt-1">
      <button type="button" className="link" onClick={() => openEntry(`scenario "${name}" fails ${fail.join(' ')}`)}>
        Keep it under a name…
      </button>
    </p>
  );
}

/** What is lost with what is down, and what can be done about it. */
export function Lost({
  failure: f,
  view,
  fail,
  name,
  watched,
  databases,
  onDatabases,
  at,
  onAt,
}: {
  readonly failure: FailureView;
  readonly view: DesignView;
  readonly fail: readonly string[];
  readonly name: string;
  /** The ways that are watched, and which of them is on the map. */
  readonly watched: WatchedViews | undefined;
  /** What is flooded anew. */
  readonly databases: readonly DatabaseRow[] | undefined;
  /** Asks for that, where it is not told by itself. */
  readonly onDatabases: (() => void) | undefined;
  readonly at: number;
  readonly onAt: (n: number) => void;
}) {
  const [word] = fail;
  const affected = f.routers.filter((r) => !r.gone);
  return (
    <div data-testid="what-is-lost">
      <h2 className="text-xl">
        {f.unfinished
          ? 'Counting what is out of reach…'
          : f.unreachable > 0
            ? `${count(f.unreachablePrefixes.length, 'prefix', 'prefixes')} out of reach`
            : f.broken.length > 0
              ? `${count(f.broken.length, 'expectation')} broken`
              : f.lost + f.changed + f.gained > 0
                ? 'Everything still reaches'
                : 'Nothing changes'}
      </h2>
      <p className="text-ink2">
        {count(f.lost, 'route')} lost, {f.changed.toLocaleString('en-GB')} changed, {f.gained.toLocaleString('en-GB')} gained in{' '}
        {count(affected.length, 'table')}; answered in {f.milliseconds < 10 ? f.milliseconds.toFixed(1) : Math.round(f.milliseconds)} ms.
      </p>
      <Keeping view={view} fail={fail} name={name} />
      {f.problems.map((p) => (
        <p key={p} className="mt-1 text-accent">
          {p}
        </p>
      ))}
      {f.broken.length > 0 && (
        <Section title="Expectations that break">
          <ul>
            {f.broken.map((e) => (
              <li key={e.name} className="border-b border-fine py-0.5">
                <strong className="font-semibold">{e.name}</strong> <span className="text-ink2">{e.message}</span>
              </li>
            ))}
          </ul>
        </Section>
      )}
      <Watched views={watched} at={at} onAt={onAt} />
      {f.unreachablePrefixes.length > 0 && (
        <Section title="Cannot be reached any more">
          <ul>
            {f.unreachablePrefixes.slice(0, 40).map((u) => (
              <li key={u.prefix} className="border-b border-fine py-0.5">
                <span className="font-mono text-[12.5px]">{u.prefix}</span>{' '}
                <span className="text-ink2">from {u.routers.length > 3 ? count(u.routers.length, 'router') : listWords(u.routers)}</span>
              </li>
            ))}
          </ul>
        </Section>
      )}
      {f.vanished.length > 0 && (
        <Section title="Went down with it">
          <p className="font-mono text-xs leading-relaxed">
            {f.vanished.slice(0, 12).join(', ')}
            {f.vanished.length > 12 ? `, and ${f.vanished.length - 12} more` : ''}
          </p>
        </Section>
      )}
      <Section title={f.unfinished ? `${count(f.downPairs.length, 'pair')} down` : `${count(f.neighborsLost.length, 'neighbour state')} lost`}>
        <ul>
          {f.neighborsLost.map((n) => (
            <li key={`${n.router}${n.iface}${n.peer}`} className="border-b border-fine py-0.5">
              {n.router} <span className="text-ink2">loses</span> {n.peer}{' '}
              <span className="text-ink2">
                ({n.before} → {n.after})
              </span>
            </li>
          ))}
        </ul>
      </Section>
      {(f.unreachable > 0 || f.broken.length > 0) && <BestLink view={view} words={fail} />}
      {word !== undefined && isWorkable(fail) && <Planned view={view} word={word} />}
      {f.elections.length > 0 && (
        <Section title="Led by others">
          <Elections list={f.elections} />
        </Section>
      )}
      <Databases rows={databases} />
      {onDatabases && (
        <Section title="Databases, before against after">
          <button type="button" className="control" onClick={onDatabases}>
            Compare them
          </button>
        </Section>
      )}
      <Section title="Tables, before against after">
        <NumberTable
          label="Tables, before against after"
          columns={[
            { name: 'router', kind: 'name' },
            { name: 'lost', kind: 'number' },
            { name: 'changed', kind: 'number' },
            { name: 'gained', kind: 'number' },
          ]}
          rows={f.routers.slice(0, shownTables).map((r) => ({
            key: r.router,
            loud: [1],
            cells: r.gone
              ? [
                  <span key="name" className="text-ink2">
                    {r.router}, down
                  </span>,
                ]
              : [
                  <button key="name" type="button" className="link" onClick={() => go({ stage: 'routes', router: r.router, prefix: undefined })}>
                    {r.router}
                  </button>,
                  r.lost,
                  r.changed,
                  r.gained,
                ],
          }))}
        />
        {f.routers.length > shownTables && <p className="mt-1 text-ink2">…and {count(f.routers.length - shownTables, 'table')} more.</p>}
      </Section>
    </div>
  );
}

/** What every router of an area hears anew: advertisements that are new, say something else, or are gone. */
function Databases({ rows }: { readonly rows: readonly DatabaseRow[] | undefined }) {
  if (!rows || rows.length === 0) return null;
  return (
    <Section title="Databases, before against after">
      <NumberTable
        label="Databases, before against after"
        columns={[
          { name: 'advertisements', kind: 'name' },
          { name: 'new', kind: 'number' },
          { name: 'other', kind: 'number' },
          { name: 'gone', kind: 'number' },
        ]}
        rows={rows.map((r) => ({
          key: `${r.where} ${r.what}`,
          cells: [
            <span key="name" title={r.examples.join('\n')}>
              {r.where} <span className="text-ink2">{r.what}</span>
            </span>,
            r.fresh,
            r.newer,
            r.gone,
          ],
        }))}
      />
    </Section>
  );
}
