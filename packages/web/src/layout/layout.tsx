'use client';

import dynamic from 'next/dynamic';
import { AreaMap, troubleLetters } from '../map/area-map';
import { go } from '../model/moving';
import { useStore } from '../model/state';
import { AreaName } from '../parts/area-name';
import { endFirstVisit, openBlueprint, openEntry, openForm } from '../model/panes';
import type { DesignView, SegmentView } from '../model/view';
import { causesIn, standsAlone } from '../model/causes';
import { FindingCard } from '../parts/finding-card';
import { NumberTable } from '../parts/number-table';
import { Panel, Section, Tag } from '../parts/panel';
import { count, listWords } from '../parts/words';
import { BlueprintPage } from '../blueprint/blueprint-page';
import { TablesPage } from '../tables/tables-page';
import { expectationValues } from '../forms/form-kinds';
import { workbench } from '../worker/client';
import { RouterPanel } from './router-panel';
import { WorksheetPage } from './worksheet-page';

/** The text editor comes when a document is first opened. */
const DocumentPage = dynamic(() => import('./document-page').then((m) => m.DocumentPage), { ssr: false });

/** The chart of the campus and what is chosen on it. */
export function Layout() {
  const view = useStore((s) => s.view);
  const router = useStore((s) => s.router);
  const segment = useStore((s) => s.segment);
  const document = useStore((s) => s.document);
  const comparison = useStore((s) => s.comparison);
  const blueprinting = useStore((s) => s.blueprinting);
  const table = useStore((s) => s.table);
  const worksheet = useStore((s) => s.worksheet);
  if (!view) return null;
  if (blueprinting) return <BlueprintPage />;
  if (worksheet && router !== undefined && view.routers.some((r) => r.name === router)) return <WorksheetPage name={router} />;
  if (table !== undefined) return <TablesPage name={table} />;
  if (view.routers.length === 0) return <EmptyDesign />;
  const marks = new Map((comparison?.routers ?? []).map((r) => [r.router, `±${(r.lost + r.gained + r.changed).toLocaleString('en-GB')} routes`]));
  const chosenSegment = view.segments.find((s) => s.index === segment);
  return (
    <div className="stage">
      <h1 className="sr-only">{document === undefined ? 'Layout' : `Document of ${document}`}</h1>
      {document !== undefined && view.routers.some((r) => r.name === document) ? (
        <DocumentPage view={view} name={document} />
      ) : (
        <AreaMap
          view={view}
          router={chosenSegment ? undefined : router}
          segment={segment}
          onRouter={(name) => go({ router: name, segment: undefined })}
          onSegment={(index) => go({ segment: index })}
          onFound={(f) =>
            f.kind === 'router' ? go({ router: f.router, segment: undefined }) : f.kind === 'segment' ? go({ segment: f.segment }) : undefined
          }
          onTables={() => go({ table: 'interfaces' })}
          marks={marks}
          onNothing={() => go({ router: undefined, segment: undefined })}
          hint="Map of the campus. Tab to a router, then arrow keys choose the next one, with Shift they move the map, with Alt the plate; plus and minus zoom, 0 fits, f finds."
        />
      )}
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

/** What to do in a design that has no router yet. */
function EmptyDesign() {
  return (
    <div className="m-auto max-w-[560px] px-6">
      <h1 className="text-xl">An empty chart</h1>
      <p className="mt-1 text-ink2">
        Press <kbd className="font-mono">/</kbd> and type a line: what it would do stands below it before you press Enter, and Undo takes it back.
        Loopbacks, links and LANs get the next free addresses.
      </p>
      <ul className="mt-3 border-t border-fine font-mono text-[12.5px]">
        {['router skerry-1', 'router skerry-2', 'link skerry-1 skerry-2 cost 10', 'lan reading-room on skerry-1 skerry-2 length 26'].map((l) => (
          <li key={l} className="border-b border-fine py-1">
            {l}
          </li>
        ))}
      </ul>
      <button type="button" className="control mt-3" data-main onClick={() => openEntry('router ')}>
        Add the first router
      </button>{' '}
      <button type="button" className="control" onClick={() => openBlueprint(true)}>
        Lay a campus out from a blueprint
      </button>
    </div>
  );
}

function Overview({ view }: { readonly view: DesignView }) {
  const first = useStore((s) => s.firstVisit);
  const letters = troubleLetters(view);
  const trouble = view.pairs.filter((p) => p.kind === 'trouble').length;
  const open = view.findings.filter((f) => !f.accepted);
  const accepted = view.findings.filter((f) => f.accepted);
  // A note says what is so, and stands in nobody's way.
  const inTheWay = causesIn(view.findings).length;
  const follow = open.filter((f) => f.severity !== 'note').length - inTheWay;
  const notes = open.filter((f) => f.severity === 'note').length;
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
      <h2 className="text-xl">{inTheWay === 0 ? 'Nothing stands in the way' : count(inTheWay, 'thing to look at', 'things to look at')}</h2>
      <p className="text-ink2">
        {count(view.pairs.filter((p) => p.kind === 'full').length, 'pair')} of neighbours full, {trouble} in trouble,{' '}
        {view.pairs.filter((p) => p.kind === 'rests').length} at rest.
      </p>
      {notes + follow > 0 && (
        <p className="text-ink2">
          {[
            ...(follow > 0 ? [`${count(follow, 'thing')} more ${follow === 1 ? 'follows' : 'follow'} from these`] : []),
            ...(notes > 0 ? [`${count(notes, 'note')} besides`] : []),
          ].join('; ')}
          .
        </p>
      )}
      <div className="mt-2 border-t border-fine">
        {open
          .filter((f) => standsAlone(f, open))
          .map((f) => (
            <FindingCard key={f.id} finding={f} letter={letters.get(view.pairs.find((p) => p.finding === f.id)?.id ?? '')} />
          ))}
      </div>
      <Expectations view={view} />
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

function SegmentPanel({ view, segment: s }: { readonly view: DesignView; readonly segment: SegmentView }) {
  const pairs = view.pairs.filter((p) => p.segment === s.index);
  const findings = view.findings.filter((f) => pairs.some((p) => p.finding === f.id));
  return (
    <>
      <p className="text-ink2">
        {s.kind === 'lan' ? 'LAN' : 'link'} on <span className="font-mono">{s.subnets.join(', ') || 'no subnet'}</span>
        {s.area !== null && (
          <>
            {' · '}
            <AreaName id={s.area} />
          </>
        )}
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
        <NumberTable
          label="Who stands on it"
          columns={[
            { name: 'router, address', kind: 'name' },
            { name: 'leads', kind: 'words' },
            { name: 'cost', kind: 'number' },
          ]}
          rows={s.members.map((m) => ({
            key: `${m.router} ${m.iface}`,
            cells: [
              <span key="name">
                <button type="button" className="link" onClick={() => go({ router: m.router, segment: undefined })}>
                  {m.router}
                </button>
                <span className="block font-mono text-xs text-ink2">
                  {m.iface} {m.address}
                </span>
              </span>,
              m.leads,
              m.cost,
            ],
          }))}
        />
      </Section>
      {s.members
        .filter((m) => m.leads !== '')
        .map((m) => (
          <button
            key={m.router}
            type="button"
            className="link mt-1 mr-3"
            onClick={() =>
              openForm({
                name: 'expectation',
                values: {
                  name: `${m.router} ${m.leads === 'DR' ? 'leads' : 'is backup on'} ${s.subnets[0] ?? m.iface}`,
                  kind: 'leader',
                  place: `${m.router}/${m.iface}`,
                  backup: m.leads === 'BDR' ? 'yes' : '',
                },
              })
            }
          >
            expect {m.router} as {m.leads}
          </button>
        ))}
      <Section title="Neighbours on it">
        <ul>
          {pairs.map((p) => (
            <li key={p.id} className="flex items-center gap-2 border-b border-fine py-1">
              <button type="button" className="link" onClick={() => go({ stage: 'neighbours', meet: 'pairs', pair: p.id })}>
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

const underWords = (under: string): string =>
  under === 'any-link'
    ? 'and under any link failure'
    : under === 'any-router'
      ? 'and under any router failure'
      : under === 'any-group'
        ? 'and under any shared risk'
        : `and under ${under}`;

/** Opens the form of an expectation with what it says now. */
async function change(name: string): Promise<void> {
  const known = await workbench().layout.expectation(name);
  if (known) openForm({ name: 'expectation', values: expectationValues(known) });
}

/** What the design is for, and whether it holds: while something is down, in the network as it is then. */
function Expectations({ view }: { readonly view: DesignView }) {
  const failure = useStore((s) => s.failure);
  const broken = new Map(failure?.broken.map((e) => [e.name, e.message]));
  return (
    <Section title={failure ? 'Expectations, with what is down' : 'Expectations'}>
      <ul>
        {view.expectations.map((e) => {
          const why = failure ? broken.get(e.name) : e.holds ? undefined : e.message;
          return (
            <li key={e.name} className="border-b border-fine py-1">
              <span className="flex gap-2">
                <span className="min-w-0">
                  <button type="button" className="text-left hover:underline" title="Change what is expected" onClick={() => void change(e.name)}>
                    {e.name}
                  </button>
                  {e.under !== 'normal' && !failure && <span className="text-ink2"> ({underWords(e.under)})</span>}
                </span>
                <span className="ml-auto whitespace-nowrap">
                  <Tag kind={why === undefined ? 'full' : 'trouble'}>
                    {why !== undefined ? 'broken' : e.untried && !failure ? 'holds, trying failures…' : 'holds'}
                  </Tag>
                </span>
              </span>
              {why !== undefined && <span className="block text-ink2">{why}.</span>}
            </li>
          );
        })}
      </ul>
      <button type="button" className="link mt-1" onClick={() => openForm({ name: 'expectation', values: {} })}>
        {view.expectations.length === 0 ? 'say what the network is for' : 'expect something more'}
      </button>
    </Section>
  );
}
