'use client';

import { formatAddress } from '@gentle-compass/core/prefix/address';
import { useMemo, useState } from 'react';
import { areaId } from '@gentle-compass/core/documents/leaf-types';
import type { TreeRouter } from '@gentle-compass/core/evidence/tree';
import { AreaMap } from '../map/area-map';
import { enterLine } from '../model/history';
import { go } from '../model/moving';
import { useStore } from '../model/state';
import { NumberTable } from '../parts/number-table';
import { Panel, Section } from '../parts/panel';
import { useAnswer } from '../parts/use-answer';
import { areaName, changeWords, count, listWords } from '../parts/words';
import { workbench } from '../worker/client';
import { RoutesHead, WhatIsDown } from './routes-head';

/** The places in a tree whose cost can be tried: the interface out of which each last step leaves. */
const stepsOf = (t: TreeRouter): readonly { readonly place: string; readonly cost: number }[] =>
  t.edges.filter((e) => e.iface !== '').map((e) => ({ place: `${e.from}/${e.iface}`, cost: e.cost }));

/** Rows of the list at once. */
const listed = 400;
/** Moves that are told at once. */
const told = 60;

const lastStep = (t: TreeRouter): string =>
  t.edges.length === 0
    ? 'the root'
    : t.edges.map((e) => `${e.cost} from ${e.from}${e.iface === '' ? ' (virtual link)' : e.lan === undefined ? '' : ' over a LAN'}`).join('; ');

/** A router's shortest-path tree: on the map with costs adding up, and as a list; what another cost would move in it. */
export function TreePage() {
  const view = useStore((s) => s.view);
  const router = useStore((s) => s.router);
  const area = useStore((s) => s.area);
  const failure = useStore((s) => s.failure);
  const [place, setPlace] = useState<string | undefined>(undefined);
  const [text, setText] = useState('');
  const name = view?.routers.find((r) => r.name === router && r.areas.length > 0)?.name ?? view?.routers.find((r) => r.areas.length > 0)?.name ?? '';
  const dotted = area === undefined ? undefined : view?.areas.find((a) => a.id === formatAddress(area))?.id;
  const tree = useAnswer(() => workbench().routes.tree(name, dotted), [name, dotted, view, failure]);
  const step = tree?.tree.flatMap(stepsOf).find((s) => s.place === place);
  const cost = /^\d{1,5}$/.test(text.trim()) && Number(text) >= 1 && Number(text) <= 65_535 ? Number(text) : undefined;
  const asked = step && cost !== undefined && cost !== step.cost && !failure && tree ? ([tree.area, step.place, cost] as const) : undefined;
  const trial = useAnswer(() => (asked ? workbench().routes.costTrial(name, ...asked) : Promise.resolve(null)), [name, asked?.join(), view]);
  const ways = useMemo(() => new Map((tree?.lines ?? []).map((l) => [l, 'there' as const])), [tree]);
  const moved = useMemo(() => new Map(trial?.moves.map((m) => [m.router, m])), [trial]);
  const marks = useMemo(
    () =>
      new Map(
        (tree?.tree ?? []).map((t) => {
          const m = moved.get(t.router);
          return [t.router, m ? `${t.distance} → ${m.after ?? 'none'}` : String(t.distance)] as const;
        }),
      ),
    [tree, moved],
  );
  const lit = useMemo(() => new Set((tree?.tree ?? []).map((t) => t.router)), [tree]);
  if (!view) return null;
  const choose = (t: TreeRouter): void => {
    const [first] = stepsOf(t);
    setPlace(first?.place);
    setText(first ? String(first.cost) : '');
  };
  return (
    <div className="stage">
      <div className="flex min-h-0 min-w-0 flex-1 flex-col">
        <RoutesHead>
          <WhatIsDown />
        </RoutesHead>
        <div className="flex flex-wrap items-center gap-2 border-b border-rule px-4 pb-2 text-ink2">
          <span>
            From <strong className="font-semibold text-ink">{name}</strong>
          </span>
          <span className="flex gap-1" role="group" aria-label="Through which area">
            {(tree?.areas ?? []).map((a) => (
              <button
                key={a}
                type="button"
                className="control"
                aria-pressed={a === tree?.area}
                onClick={() => go({ router: name, area: areaId.read(a) })}
              >
                {areaName(a)}
              </button>
            ))}
          </span>
          <span className="truncate">A click on a router makes it the root. Numbers under the plates are costs from the root.</span>
        </div>
        <AreaMap
          view={view}
          router={name}
          segment={undefined}
          onRouter={(n) => {
            setPlace(undefined);
            go({ router: n });
          }}
          onSegment={(index) => {
            const s = view.segments.find((x) => x.index === index);
            const at = tree?.tree.find((t) => t.edges.some((e) => e.segment === index));
            const edge = at?.edges.find((e) => e.segment === index);
            if (s && edge) {
              setPlace(`${edge.from}/${edge.iface}`);
              setText(String(edge.cost));
            }
          }}
          onFound={(f) => {
            if (f.kind === 'router') go({ router: f.router });
          }}
          goneRouters={new Set(failure?.goneRouters)}
          downPairs={new Set(failure?.downPairs)}
          ways={ways}
          lit={lit}
          marks={marks}
          calm={(n) => !moved.has(n)}
          litWords="in the tree"
          hint="Map of the campus with the shortest-path tree. Enter or a click on a router makes it the root, on a link chooses its cost."
        />
      </div>
      <Panel label="The tree">
        {step ? (
          <>
            <p className="text-ink2">cost out of</p>
            <h2 className="text-xl">{step.place}</h2>
            <label className="mt-1 flex items-center gap-2 text-ink2">
              Cost
              <input
                className="field w-24 text-right font-mono text-ink"
                aria-label={`Another cost of ${step.place}`}
                inputMode="numeric"
                value={text}
                onChange={(e) => setText(e.target.value)}
              />
              now {step.cost}
            </label>
            {failure && <p className="mt-1 text-ink2">Bring back what is down to try another cost.</p>}
            {trial && (
              <>
                <p className="mt-2" data-testid="cost-trial">
                  {trial.moves.length === 0
                    ? `Nothing moves in the tree of ${name}. `
                    : `${count(trial.moves.length, 'router moves', 'routers move')} in the tree of ${name}. `}
                  <span className="text-ink2">{changeWords(trial)}</span>
                </p>
                {trial.moves.length > 0 && (
                  <NumberTable
                    label="What moves in the tree"
                    columns={[
                      { name: 'router', kind: 'name' },
                      { name: 'now', kind: 'number' },
                      { name: 'then', kind: 'number' },
                      { name: 'over', kind: 'words' },
                    ]}
                    rows={trial.moves.slice(0, told).map((m) => ({
                      key: m.router,
                      cells: [m.router, m.before, m.after, listWords(m.overAfter)],
                    }))}
                  />
                )}
                {trial.moves.length > told && <p className="text-ink2">and {trial.moves.length - told} more; the map shows all of them</p>}
                <button
                  type="button"
                  className="control mt-2"
                  data-main
                  onClick={() => void enterLine(trial.line, []).then(() => setPlace(undefined))}
                >
                  {trial.title}
                </button>
              </>
            )}
            <button type="button" className="control mt-2" onClick={() => setPlace(undefined)}>
              Back to the tree
            </button>
          </>
        ) : (
          <>
            <h2 className="text-xl">
              {tree ? `${count(Math.max(tree.tree.length - 1, 0), 'router')} in reach` : tree === null ? 'It runs no OSPF' : ''}
            </h2>
            <p className="text-ink2">
              inside {tree ? areaName(tree.area) : 'its area'}, nearest first. Choose one to try another cost of the last step to it.
            </p>
            <NumberTable
              label="The tree, nearest first"
              className="mt-1"
              columns={[
                { name: 'cost', kind: 'number', width: 52 },
                { name: 'router', kind: 'name' },
                { name: 'last step', kind: 'words' },
              ]}
              rows={(tree?.tree ?? []).slice(0, listed).map((t) => ({
                key: t.router,
                cells: [
                  t.distance,
                  stepsOf(t).length === 0 ? (
                    t.router
                  ) : (
                    <button key="choose" type="button" className="link text-left" onClick={() => choose(t)}>
                      {t.router}
                    </button>
                  ),
                  <span key="step" className="text-ink2">
                    {lastStep(t)}
                  </span>,
                ],
              }))}
            />
            {tree && tree.tree.length > listed && <p className="text-ink2">and {tree.tree.length - listed} more; the map shows all of them</p>}
            <Section title="What it is not">
              <p className="text-ink2">
                Prefixes of other areas and from outside hang on the border and boundary routers in it; the tables show them.
              </p>
            </Section>
          </>
        )}
      </Panel>
    </div>
  );
}
