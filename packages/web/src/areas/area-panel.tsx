'use client';

import type { AreaGlance, RoleAt } from '@gentle-compass/core/areas/glance';
import { go } from '../model/moving';
import { useStore } from '../model/state';
import { AreaName } from '../parts/area-name';
import { FindingCard } from '../parts/finding-card';
import { NumberTable } from '../parts/number-table';
import { Panel, Section } from '../parts/panel';
import { areaNumbered, count, someOf } from '../parts/words';
import { RouterLink } from '../parts/router-link';
import { stageOfRule } from '../parts/stage-of-rule';
import { kindWords, totalOf } from './area-words';

/** Routers in a list at once; the others are counted. */
const shown = 40;

/** Routers that stand somewhere, each with the sentence why. */
function Roles({ title, roles }: { readonly title: string; readonly roles: readonly RoleAt[] }) {
  if (roles.length === 0) return null;
  return (
    <Section title={title}>
      <ul>
        {roles.slice(0, shown).map((r) => (
          <li key={r.router} className="border-b border-fine py-1">
            <RouterLink name={r.router} /> <span className="text-ink2">{r.why}</span>
            {r.leftOver && <span className="text-accent"> Nobody answers there: probably left over.</span>}
          </li>
        ))}
        {roles.length > shown && <li className="py-1 text-ink2">{count(roles.length - shown, 'more')}.</li>}
      </ul>
    </Section>
  );
}

/** What is known of one area: its type as each router has it, its borders and why they are, its load by type against its limits. */
export function AreaPanel({ area: a }: { readonly area: AreaGlance }) {
  const view = useStore((s) => s.view);
  const name = areaNumbered(a.id);
  const own = new Set(a.routers);
  const counted = (view?.routers ?? []).flatMap((r) => (own.has(r.name) && r.routes !== null ? [r.routes] : []));
  const findings = (view?.findings ?? []).filter(
    (f) => (stageOfRule(f.rule) === 'areas' || f.rule === 'area-type') && f.where.some((w) => own.has(w.router)),
  );
  const few = Math.min(...counted).toLocaleString('en-GB');
  const many = Math.max(...counted).toLocaleString('en-GB');
  return (
    <Panel label="About the area">
      <h2 className="text-xl">
        <AreaName id={a.id} />
      </h2>
      <p className="text-ink2">
        {count(a.routers.length, 'router')}
        {counted.length > 0 && `, each with ${few === many ? few : `${few} to ${many}`} routes in its table`}.
      </p>
      {a.kinds.length > 1 && (
        <Section title="Its routers do not agree">
          {a.kinds.map((k) => (
            <p key={k.kind}>
              <strong className="font-semibold">{kindWords[k.kind]}</strong> in {someOf(k.routers, 6)}
            </p>
          ))}
        </Section>
      )}
      <div className="mt-3 flex flex-wrap gap-1.5">
        {a.id !== 0 && (
          <button type="button" className="control" onClick={() => go({ show: 'types', area: a.id })}>
            Try another type
          </button>
        )}
        <button type="button" className="control" onClick={() => go({ show: 'databases', area: a.id, router: a.routers[0], beside: undefined })}>
          Its advertisements
        </button>
      </div>
      {findings.length > 0 && (
        <Section title="Found here">
          {findings.map((f) => (
            <FindingCard key={f.id} finding={f} mend />
          ))}
        </Section>
      )}
      <Section title={`${totalOf(a.load).toLocaleString('en-GB')} advertisements on each router`}>
        <NumberTable
          label={`Load of ${name}`}
          columns={[
            { name: 'type', kind: 'code', width: 56 },
            { name: 'what', kind: 'words' },
            { name: 'now', kind: 'number', width: 52 },
            { name: 'at most', kind: 'number', width: 62 },
          ]}
          rows={a.load.map((l) => {
            const limits = a.limits.filter((x) => x.type === l.type).map((x) => x.atMost);
            return { key: l.type, cells: [l.type, l.name, l.count, limits.length > 0 ? Math.min(...limits) : null] };
          })}
        />
      </Section>
      {a.tables.length > 0 && (
        <Section title="Tables, and what is expected of them">
          <NumberTable
            label={`Tables of ${name}`}
            columns={[
              { name: 'router', kind: 'name' },
              { name: 'now', kind: 'number', width: 52 },
              { name: 'at most', kind: 'number', width: 62 },
            ]}
            rows={a.tables.map((t) => ({
              key: `${t.router} ${t.name}`,
              cells: [t.router, view?.routers.find((r) => r.name === t.router)?.routes ?? null, t.atMost],
            }))}
          />
        </Section>
      )}
      {a.pieces.length > 1 && (
        <Section title={`${a.pieces.length} pieces that do not hear each other`}>
          {a.pieces.map((p, n) => (
            <p key={p[0]} className="border-b border-fine py-1">
              {n + 1}: {someOf(p, 8)}
            </p>
          ))}
        </Section>
      )}
      <Roles title="Why these stand at its border" roles={a.borders} />
      <Roles title="Boundary routers" roles={a.boundaries} />
      {a.virtualLinks.length > 0 && (
        <Section title="Virtual links">
          {a.virtualLinks.map((v) => (
            <p key={`${v.ends.join(' ')} ${v.through}`}>
              {v.ends.join(' and ')} through <AreaName id={v.through} quiet />:{' '}
              {v.cost === undefined ? (
                <span className="text-accent">down</span>
              ) : (
                <>
                  up, at cost {v.cost}, by way of {v.path.join(', ')}
                </>
              )}
            </p>
          ))}
        </Section>
      )}
    </Panel>
  );
}
