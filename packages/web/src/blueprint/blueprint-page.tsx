'use client';

import type { Blueprint, BlueprintArea, BlueprintFault } from '@gentle-compass/core/blueprint/blueprint';
import { useEffect, useState, type ReactNode } from 'react';
import { makeChange } from '../model/history';
import { useStore } from '../model/state';
import { openBlueprint } from '../model/panes';
import type { BlueprintView, ChangeSummary } from '../model/view';
import { Panel, Section } from '../parts/panel';
import { changeWords, count, listWords } from '../parts/words';
import { workbench } from '../worker/client';

const kinds = ['normal', 'stub', 'totally-stubby', 'nssa', 'totally-nssa'] as const;
const wait = (ms: number): Promise<void> => new Promise((go) => setTimeout(go, ms));

interface CellProps {
  readonly label: string;
  readonly value: string | number;
  readonly fault: string | undefined;
  readonly onChange: (text: string) => void;
  readonly wide?: boolean;
  /** What an empty field means. */
  readonly hint?: string | undefined;
}

/** One number or word of the blueprint. */
function Cell({ label, value, fault, onChange, wide = false, hint }: CellProps) {
  return (
    <input
      className={`field w-full min-w-0 px-1.5 py-0.5 font-mono text-[12.5px] ${wide ? 'text-left' : 'text-right'} ${fault === undefined ? '' : 'border-accent text-accent'}`}
      aria-label={label}
      aria-invalid={fault !== undefined}
      title={fault}
      inputMode={typeof value === 'number' ? 'numeric' : 'text'}
      value={value}
      placeholder={hint}
      onChange={(e) => onChange(e.target.value)}
    />
  );
}

const isPrefix = (key: string): boolean => key === 'supernet' || key === 'ipv6';
const numberOf = (text: string): number | string => (/^\d{1,10}$/.test(text) ? Number(text) : text);

const columns: readonly { readonly key: keyof BlueprintArea; readonly name: string; readonly help: string; readonly width: string }[] = [
  { key: 'id', name: 'area', help: 'number of the area', width: '54px' },
  { key: 'name', name: 'name', help: 'begins the names of its routers', width: '104px' },
  { key: 'borders', name: 'border', help: 'border routers', width: '50px' },
  { key: 'distribution', name: 'distr.', help: 'distribution routers', width: '50px' },
  { key: 'access', name: 'access', help: 'access routers', width: '50px' },
  { key: 'uplinks', name: 'uplinks', help: 'cables of each access router upwards', width: '52px' },
  { key: 'lans', name: 'LANs', help: 'user LANs of each access router', width: '46px' },
  { key: 'hosts', name: 'hosts', help: 'hosts on each LAN', width: '58px' },
  { key: 'growth', name: 'growth %', help: 'room to leave, in percent of what is there', width: '62px' },
];

const grid = {
  gridTemplateColumns: `${columns[0]?.width ?? ''} ${columns[1]?.width ?? ''} 112px ${columns
    .slice(2)
    .map((c) => c.width)
    .join(' ')} 26px`,
};

/** The areas in numbers, one line each. */
function AreaTable({
  areas,
  faults,
  onChange,
}: {
  readonly areas: readonly BlueprintArea[];
  readonly faults: readonly BlueprintFault[];
  readonly onChange: (areas: readonly BlueprintArea[]) => void;
}) {
  const faultAt = (n: number, key: string): string | undefined => faults.find((f) => f.field === `areas[${n}].${key}`)?.message;
  const put = (n: number, key: keyof BlueprintArea, value: unknown): void => onChange(areas.map((a, i) => (i === n ? { ...a, [key]: value } : a)));
  const add = (): void => {
    const last = areas.at(-1);
    const id = Math.max(0, ...areas.map((a) => (typeof a.id === 'number' ? a.id : 0))) + 10;
    onChange([
      ...areas,
      { borders: 2, distribution: 0, access: 4, uplinks: 2, lans: 1, hosts: 100, growth: 50, kind: 'normal', ...last, id, name: `area-${id}` },
    ]);
  };
  return (
    <div className="mt-2">
      <div role="table" aria-label="Areas of the blueprint">
        <div role="row" className="grid gap-1 border-b border-rule pb-1 text-ink2" style={grid}>
          {[columns[0], columns[1], { key: 'kind', name: 'type', help: 'type of the area' }, ...columns.slice(2)].map((c) => (
            <span key={c?.key} role="columnheader" title={c?.help} className={c?.key === 'name' || c?.key === 'kind' ? '' : 'text-right'}>
              {c?.name}
            </span>
          ))}
          <span role="columnheader" className="sr-only">
            take out
          </span>
        </div>
        {areas.map((a, n) => {
          const cell = (c: (typeof columns)[number]): ReactNode => (
            <span role="cell" key={c.key}>
              <Cell
                label={`${c.help}, line ${n + 1}`}
                value={a[c.key]}
                fault={faultAt(n, c.key)}
                wide={c.key === 'name'}
                onChange={(t) => put(n, c.key, c.key === 'name' ? t : numberOf(t))}
              />
            </span>
          );
          return (
            // A line is its place: its number and name are being typed.
            <div role="row" key={n} className="grid items-center gap-1 border-b border-fine py-1" style={grid}>
              {columns.slice(0, 2).map(cell)}
              <span role="cell">
                <select
                  className="field w-full px-1 py-0.5"
                  aria-label={`type of the area, line ${n + 1}`}
                  value={a.kind}
                  onChange={(e) => put(n, 'kind', e.target.value)}
                >
                  {kinds.map((k) => (
                    <option key={k}>{k}</option>
                  ))}
                </select>
              </span>
              {columns.slice(2).map(cell)}
              <span role="cell" className="text-center">
                <button
                  type="button"
                  className="link text-ink2"
                  aria-label={`Take area ${a.id} out`}
                  onClick={() => onChange(areas.filter((_, i) => i !== n))}
                >
                  ×
                </button>
              </span>
            </div>
          );
        })}
      </div>
      <button type="button" className="control mt-2" onClick={add}>
        Add an area
      </button>
    </div>
  );
}

const purposeWords = { loopbacks: 'loopbacks', links: 'links', lans: 'LANs' } as const;

/** The address plan: each area one prefix, how full it is, and what is left for growth. */
function PlanTable({ plan }: { readonly plan: BlueprintView }) {
  return (
    <table className="mt-2 w-full">
      <caption className="heading pb-1 text-left">The address plan</caption>
      <thead className="text-ink2">
        <tr>
          <th className="py-1 text-left font-normal">area</th>
          <th className="text-left font-normal">prefix, and its summary</th>
          <th className="pl-4 text-right font-normal">routers</th>
          <th className="pl-4 text-right font-normal">links</th>
          <th className="pl-4 text-right font-normal">full</th>
          <th className="pl-5 text-left font-normal">room left for</th>
        </tr>
      </thead>
      <tbody>
        {plan.areas.map((a) => (
          <tr key={a.id} className="border-t border-fine align-top">
            <td className="py-1">{a.id === 0 ? 'Backbone' : `${a.id} ${a.name}`}</td>
            <td className="py-1">
              <span className="font-mono text-[12.5px]">{a.prefix}</span>
              {a.six && <span className="block font-mono text-[12.5px]">{a.six}</span>}
              {a.moved && <span className="block text-caution">moves: its old block is too small</span>}
            </td>
            <td className="py-1 text-right font-mono text-[12.5px]">{a.routers}</td>
            <td className="py-1 text-right font-mono text-[12.5px]">{a.links}</td>
            <td className="py-1 text-right font-mono text-[12.5px]">{a.full} %</td>
            <td className="py-1 pl-5">
              {listWords(a.parts.map((p) => `${p.left.toLocaleString('en-GB')} ${purposeWords[p.purpose as keyof typeof purposeWords]}`))}
              <span className="block font-mono text-xs text-ink2">{a.parts.map((p) => p.prefix).join('  ')}</span>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

const some = (names: readonly string[]): string =>
  names.length > 8 ? `${names.slice(0, 7).join(', ')} and ${names.length - 7} more` : names.join(', ');

/** What making it would do to the design as it stands. */
function Outlook({ plan, effect, made }: { readonly plan: BlueprintView; readonly effect: ChangeSummary | undefined; readonly made: boolean }) {
  return (
    <>
      <h2 className="text-xl">{plan.edits.length === 0 ? 'The campus is laid out so' : made ? 'What would change' : 'What would be made'}</h2>
      {plan.edits.length > 0 && <p className="text-ink2">{effect ? changeWords(effect) : 'Working out what that changes…'}</p>}
      {plan.come.length > 0 && (
        <Section title={`${count(plan.come.length, 'router')} come`}>
          <p>{some(plan.come)}</p>
        </Section>
      )}
      {plan.change.length > 0 && (
        <Section title={`${count(plan.change.length, 'router')} change`}>
          <p>{some(plan.change)}</p>
        </Section>
      )}
      {plan.go.length > 0 && (
        <Section title={`${count(plan.go.length, 'router')} go`}>
          <p>{some(plan.go)}</p>
        </Section>
      )}
      {plan.kept.length > 0 && (
        <Section title={`${count(plan.kept.length, 'place')} kept as edited by hand`}>
          <ul>
            {plan.kept.slice(0, 30).map((k) => (
              <li key={`${k.file} ${k.path}`} className="border-b border-fine py-0.5 break-words">
                <span className="font-semibold">{k.file.replace(/\.json$/, '')}</span>{' '}
                {k.why === 'deleted'
                  ? k.path === ''
                    ? 'was deleted by hand'
                    : `lost ${k.path.split('/').slice(-2).join(' ')} by hand`
                  : k.path.split('/').slice(-2).join(' ')}
              </li>
            ))}
          </ul>
          <p className="mt-1 text-ink2">The blueprint would have changed these too; what was written by hand stays.</p>
        </Section>
      )}
    </>
  );
}

/** A campus from numbers: the plan is shown before anything is made, and changing it later keeps what was edited by hand. */
export function BlueprintPage() {
  const view = useStore((s) => s.view);
  const [typed, setTyped] = useState<Blueprint | undefined>(undefined);
  const [made, setMade] = useState(false);
  const [plan, setPlan] = useState<BlueprintView | undefined>(undefined);
  const [effect, setEffect] = useState<ChangeSummary | undefined>(undefined);
  useEffect(() => {
    void workbench()
      .editing.blueprint()
      .then((b) => {
        setTyped(b.blueprint);
        setMade(b.made);
      });
  }, []);
  useEffect(() => {
    const turn = { over: false };
    const stale = (): boolean => turn.over;
    const ask = async (): Promise<void> => {
      if (!typed) return;
      await wait(80);
      if (stale()) return;
      const answer = await workbench().editing.planBlueprint(typed);
      if (stale()) return;
      setPlan(answer);
      setEffect(undefined);
      if (answer.edits.length === 0) return;
      const change = await workbench().editing.tryEdits(answer.edits);
      if (!stale() && change) setEffect(change);
    };
    void ask();
    return () => {
      turn.over = true;
    };
  }, [typed, view]);
  if (!typed) return null;
  const faults = plan?.faults ?? [];
  const put = (key: keyof Blueprint, value: unknown): void => setTyped({ ...typed, [key]: value });
  const field = (
    key: 'supernet' | 'core' | 'exits' | 'coreCost' | 'uplinkCost' | 'hello' | 'growth' | 'ipv6',
    label: string,
    width = 'w-[64px]',
  ): ReactNode => (
    <label className="flex items-center gap-2">
      <span className="text-ink2">{label}</span>
      <span className={width}>
        <Cell
          label={label}
          value={typed[key] ?? ''}
          fault={faults.find((f) => f.field === key)?.message}
          wide={isPrefix(key)}
          hint={key === 'ipv6' ? 'none: IPv4 alone' : undefined}
          onChange={(t) => put(key, isPrefix(key) ? t : numberOf(t))}
        />
      </span>
    </label>
  );
  const ready = plan !== undefined && faults.length === 0 && plan.edits.length > 0;
  const make = (): void => {
    if (plan) void makeChange(plan.title, plan.edits).then(() => openBlueprint(false));
  };
  return (
    <div className="stage">
      <div className="min-w-0 flex-1 overflow-y-auto px-6 py-4" tabIndex={0} role="region" aria-label="Blueprint">
        <div className="flex items-baseline gap-3">
          <h1 className="text-xl">Blueprint</h1>
          <span className="text-ink2">{made ? 'of this campus: change a number, and see what would change' : 'a campus from numbers'}</span>
          <button type="button" className="control ml-auto" data-main={ready ? '' : undefined} disabled={!ready} onClick={make}>
            {made ? 'Change the campus' : 'Make the campus'}
          </button>
          <button type="button" className="control" onClick={() => openBlueprint(false)}>
            Back to the map
          </button>
        </div>
        <div className="mt-3 flex flex-wrap gap-x-5 gap-y-2">
          {field('supernet', 'everything lies in', 'w-[150px]')}
          {field('core', 'core routers', 'w-[48px]')}
          <label className="flex items-center gap-2">
            <span className="text-ink2">in a</span>
            <select className="field px-1 py-0.5" aria-label="shape of the core" value={typed.shape} onChange={(e) => put('shape', e.target.value)}>
              <option>ring</option>
              <option>mesh</option>
            </select>
          </label>
          {field('exits', 'exits', 'w-[48px]')}
          {field('coreCost', 'cost in the core')}
          {field('uplinkCost', 'cost of uplinks')}
          {field('hello', 'hello, s', 'w-[48px]')}
          {field('growth', 'growth of the backbone, %', 'w-[56px]')}
          {field('ipv6', 'IPv6 prefix of the site', 'w-[170px]')}
          {typed.ipv6 && (
            <label className="flex items-center gap-2">
              <span className="text-ink2">IPv6 on links</span>
              <select
                className="field px-1 py-0.5"
                aria-label="IPv6 on links"
                value={typed.ipv6Links ?? 'link-local'}
                onChange={(e) => put('ipv6Links', e.target.value)}
              >
                <option value="link-local">link-local alone</option>
                <option value="numbered">a /127 each</option>
              </select>
            </label>
          )}
        </div>
        <AreaTable areas={typed.areas} faults={faults} onChange={(areas) => put('areas', areas)} />
        {faults.length > 0 && (
          <ul role="alert" className="mt-3 text-accent">
            {faults.map((f) => (
              <li key={f.field + f.message}>{f.message}</li>
            ))}
          </ul>
        )}
        {plan && faults.length === 0 && <PlanTable plan={plan} />}
      </div>
      <Panel label="What the blueprint does">
        {plan && faults.length === 0 ? (
          <Outlook plan={plan} effect={effect} made={made} />
        ) : (
          <p className="text-ink2">What does not fit stands in red beside the numbers.</p>
        )}
      </Panel>
    </div>
  );
}
