'use client';

import { comparePrefixes, covers, formatAddress, formatPrefix, hull, type Prefix } from '@gentle-compass/core/prefix/address';
import type { Scope } from '@gentle-compass/core/summaries/laying';
import { useCallback, useMemo, useState } from 'react';
import { makeChange } from '../model/history';
import { go } from '../model/moving';
import { useStore } from '../model/state';
import type { LaidText, SpaceView } from '../model/summaries-view';
import { useAreaWords } from '../parts/area-name';
import { Panel } from '../parts/panel';
import { useAnswer } from '../parts/use-answer';
import { areaTint } from '../parts/area-tint';
import { count, listWords } from '../parts/words';
import { workbench } from '../worker/client';
import { around, spanWords, zoomed, type Span } from './axis';
import { LaidTable } from './laid-table';
import { firstWishes, inOrder, lay, look, prefixAt, replaced, scopeKey, spaceOf, useLayings, wish, wishesText, asStands, type Space } from './laying';
import { Planner } from './planner';
import { Ruler, type Lane } from './ruler';
import { SummariesHead } from './summaries-head';
import { Trial } from './trial';
import { useAreaScope, useOutsideScope, useScopes } from './use-scope';

/** The ruler of an area. */
export function AreaRuler() {
  const areaWords = useAreaWords();
  const scopes = useScopes();
  const scope = useAreaScope(scopes);
  const area = scope?.kind === 'area' ? scope.area : undefined;
  const writers = scopes?.areas.find((a) => a.area === area)?.writers ?? [];
  return (
    <RulerPage
      scope={scope}
      nobody={
        area === undefined || writers.length > 0
          ? undefined
          : scopes?.areas.length === 1
            ? 'There is one area alone: nothing is summarised inside an area. As soon as there are two, the routers between them can tell many prefixes as few.'
            : `${areaWords(formatAddress(area))} has no border router: a summary is written where two areas meet.`
      }
      nothing={scopes && area === undefined ? 'No router runs OSPF yet. Summaries appear here as soon as there are areas with prefixes.' : undefined}
    >
      <label className="ml-auto flex items-center gap-2 text-ink2">
        of
        <select className="field text-ink" aria-label="Area to summarise" value={area ?? ''} onChange={(e) => go({ area: Number(e.target.value) })}>
          {scopes?.areas.map((a) => (
            <option key={a.area} value={a.area}>
              {areaWords(formatAddress(a.area))}
            </option>
          ))}
        </select>
      </label>
    </RulerPage>
  );
}

/** The ruler of what a boundary router announces, or a translator translates. */
export function OutsideRuler() {
  const scopes = useScopes();
  const scope = useOutsideScope(scopes);
  const router = scope?.kind === 'outside' ? scope.router : undefined;
  return (
    <RulerPage
      scope={scope}
      nobody={undefined}
      nothing={
        scopes && router === undefined
          ? 'No router announces anything from outside. Redistribution is set with “bring static on …”; what it brings can then be summarised here.'
          : undefined
      }
    >
      <label className="ml-auto flex items-center gap-2 text-ink2">
        announced by
        <select className="field text-ink" aria-label="Router that announces" value={router ?? ''} onChange={(e) => go({ router: e.target.value })}>
          {scopes?.routers.map((r) => (
            <option key={r.router} value={r.router}>
              {r.router}, {count(r.announced, 'prefix', 'prefixes')}
            </option>
          ))}
        </select>
      </label>
    </RulerPage>
  );
}

/** Lanes of a ruler: the own one, the other areas, and what comes from elsewhere. More than a few others share one. */
function lanesOf(space: Space, scope: Scope, nameOf: (area: number) => string, tintOf: (area: number) => number, site: Prefix | undefined): Lane[] {
  const own: Lane = {
    key: 'own',
    name: scope.kind === 'area' ? nameOf(scope.area) : `from ${scope.router}`,
    tint: scope.kind === 'area' ? tintOf(scope.area) : 0,
    marks: space.parts,
    summaries: [],
  };
  const areas = [...new Set([...space.foreign.map((f) => f.area), ...space.view.others.map((o) => o.area)])];
  const lanes = areas
    .sort((a, b) => (a ?? Infinity) - (b ?? Infinity))
    .map((area): Lane => ({
      key: String(area),
      name: area === null ? 'from elsewhere' : nameOf(area),
      tint: area === null ? 0 : tintOf(area),
      // What holds the whole site says nothing of its room.
      marks: space.foreign.filter((f) => f.area === area && !(area === null && site && covers(f.prefix, site))),
      summaries: space.view.others.filter((o) => o.area === area).map((o) => ({ prefix: prefixAt(o.prefix), text: o.prefix })),
    }));
  if (lanes.length <= mostLanes) return [own, ...lanes];
  const more = lanes.slice(mostLanes - 1);
  return [
    own,
    ...lanes.slice(0, mostLanes - 1),
    {
      key: 'more',
      name: count(more.length, 'other area'),
      tint: 0,
      marks: more.flatMap((l) => l.marks).sort((a, b) => comparePrefixes(a.prefix, b.prefix)),
      summaries: more.flatMap((l) => l.summaries),
    },
  ];
}

const mostLanes = 7;

function RulerPage({
  scope,
  nobody,
  nothing,
  children,
}: {
  readonly scope: Scope | undefined;
  /** Why nobody could write a summary. */
  readonly nobody: string | undefined;
  /** Why there is nothing at all. */
  readonly nothing: string | undefined;
  readonly children: React.ReactNode;
}) {
  const view = useStore((s) => s.view);
  const design = useStore((s) => s.design?.id ?? '');
  const key = scope ? scopeKey(design, view?.family ?? 4, scope) : '';
  const wishes = useLayings((s) => s.wishes[key]) ?? firstWishes;
  const asked = JSON.stringify([key, wishesText(wishes)]);
  const answer = useAnswer(
    async () => (scope ? { asked, key, space: await workbench().summaries.space(scope, wishesText(wishes)) } : undefined),
    [view, asked],
  );
  // While a wish is answered anew the space before stays; that of another scope does not.
  const found = answer?.key === key ? answer.space : undefined;
  return (
    <div className="stage">
      <div className="flex min-h-0 min-w-0 flex-1 flex-col">
        <SummariesHead>{children}</SummariesHead>
        {nothing !== undefined && <p className="mx-4 rounded border border-rule bg-sheet p-4 text-ink2">{nothing}</p>}
        {scope && found && <Laid key={key} scopeKey={key} scope={scope} found={found} nobody={nobody} />}
      </div>
      <Panel label="Planner">
        {scope && found && <Planner scopeKey={key} scope={scope} wishes={wishes} onWish={(w) => wish(key, w)} wrong={found.wrong} />}
      </Panel>
    </div>
  );
}

/** The ruler with what is laid on it, and what that would do. */
function Laid({
  scopeKey: key,
  scope,
  found,
  nobody,
}: {
  readonly scopeKey: string;
  readonly scope: Scope;
  readonly found: SpaceView;
  readonly nobody: string | undefined;
}) {
  const areaWords = useAreaWords();
  const areas = useStore((s) => s.view?.areas);
  const six = useStore((s) => s.view?.family === 6);
  const space = useMemo(() => spaceOf(found), [found]);
  const draft = useLayings((s) => s.laid[key]);
  const laid = draft ?? found.stands;
  const [at, choose] = useState(0);
  const site = useMemo(
    () => hull([...space.parts, ...space.foreign.filter((f) => scope.kind === 'outside' || f.area !== null)].map((m) => m.prefix)),
    [space, scope.kind],
  );
  const lanes = useMemo(
    () =>
      lanesOf(
        space,
        scope,
        (a) => areaWords(formatAddress(a)).replace(/^Area (\S+), /, '$1 '),
        (a) => areaTint(areas ?? [], formatAddress(a)),
        site,
      ),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- names come with the areas
    [space, scope.kind === 'area' ? scope.area : scope.router, areas],
  );
  const whole = hull([...[...space.parts, ...space.left].map((m) => m.prefix), ...found.stands.map((l) => prefixAt(l.prefix))]);
  const kept = useLayings((s) => s.spans[key]);
  const empty: Prefix = six ? prefixAt('2001:db8::/32') : prefixAt('10.96.0.0/11');
  const span: Span = kept ?? around(whole ?? site ?? empty);
  const onLook = useCallback((s: Span) => look(key, s), [key]);

  const focusOn = (text: string): void => {
    // It stands in its new place after the next drawing.
    requestAnimationFrame(() => {
      document.querySelector<HTMLElement>(`[data-summary="${CSS.escape(text)}"]`)?.focus();
    });
  };
  const put = (n: number, prefix: Prefix | undefined): void => {
    if (prefix === undefined) {
      lay(
        key,
        laid.filter((_, i) => i !== n),
      );
      choose(Math.max(0, n - 1));
      const next = laid[n === 0 ? 1 : n - 1];
      if (next) focusOn(next.prefix);
      return;
    }
    const text = formatPrefix(prefix);
    if (laid.some((l, i) => i !== n && l.prefix === text)) return;
    const next = replaced(laid, n, prefix);
    lay(key, next.list);
    choose(next.at);
    focusOn(text);
  };
  const add = (): void => {
    // The first part that is in no summary, as it is: from there it is widened.
    const covered = laid.map((l) => prefixAt(l.prefix));
    const first = space.parts.find((m) => !covered.some((c) => covers(c, m.prefix)));
    if (!first) return;
    const list = inOrder([...laid, { prefix: first.text, cost: undefined, hidden: false }]);
    lay(key, list);
    choose(list.findIndex((l) => l.prefix === first.text));
    focusOn(first.text);
  };
  const change = (n: number, to: Partial<LaidText>): void =>
    lay(
      key,
      laid.map((l, i) => (i === n ? { ...l, ...to } : l)),
    );
  const view = useStore((s) => s.view);
  const wishes = useLayings((s) => s.wishes[key]) ?? firstWishes;
  const asked = JSON.stringify(laid);
  const trial = useAnswer(async () => ({ asked, t: await workbench().summaries.trial(scope, wishesText(wishes), laid) }), [view, key, asked, wishes]);
  const changed = !asStands(laid, found.stands) || !found.agree;
  return (
    <div className="min-h-0 flex-1 overflow-y-auto px-4 pb-4">
      <div className="flex items-center gap-1.5 pb-1.5">
        <span className="mr-auto font-mono text-xs text-ink2">{spanWords(span)}</span>
        <button type="button" className="control" aria-label="Farther" onClick={() => onLook(zoomed(span, 0.5, 1))}>
          −
        </button>
        <button type="button" className="control" aria-label="Nearer" onClick={() => onLook(zoomed(span, 0.5, -1))}>
          +
        </button>
        <button type="button" className="control" disabled={!whole} onClick={() => whole && onLook(around(whole))}>
          {scope.kind === 'area' ? 'Area' : 'Announced'}
        </button>
        <button type="button" className="control" disabled={!site} onClick={() => site && onLook(around(site))}>
          Site
        </button>
        <button type="button" className="control" onClick={add}>
          Lay a summary
        </button>
      </div>
      <Ruler space={space} lanes={lanes} span={span} onLook={onLook} laid={laid} onLay={put} at={at} onChoose={choose} onAdd={add} />
      {nobody !== undefined && <p className="mt-3 rounded border border-rule bg-sheet p-3 text-ink2">{nobody}</p>}
      {!found.agree && (
        <p className="mt-2 text-caution">
          {listWords(found.writers.map((w) => w.router))} do not have the same summaries. Shown is what they have together; taking over gives all of
          them the same.
        </p>
      )}
      <LaidTable
        space={space}
        laid={laid}
        at={at}
        onChoose={choose}
        onChange={change}
        onRemove={(n) => put(n, undefined)}
        outside={scope.kind === 'outside'}
      />
      <Trial
        scope={scope}
        space={space}
        laid={laid}
        changed={changed}
        trial={trial?.asked === asked ? (trial.t ?? undefined) : undefined}
        allowed={wishes.allowForeign}
        writers={found.writers.map((w) => w.router)}
        onTake={(title, edits) => {
          const before = view;
          // What was not taken over stays laid.
          void makeChange(title, edits).then(() => {
            if (useStore.getState().view !== before) lay(key, undefined);
          });
        }}
        onReset={() => lay(key, undefined)}
      />
    </div>
  );
}
