'use client';

import type { OriginValue } from '@gentle-compass/core/evidence/origins';
import type { RouterDetail } from '@gentle-compass/core/evidence/router-detail';
import { Policies } from './policies';
import { useState, type KeyboardEvent } from 'react';
import { enterLine } from '../model/history';
import { go } from '../model/moving';
import { useStore } from '../model/state';
import { AreaName } from '../parts/area-name';
import { openDocument, openEntry, openWorksheet } from '../model/panes';
import type { DesignView, InterfaceView } from '../model/view';
import { FindingCard } from '../parts/finding-card';
import { Section, Tag } from '../parts/panel';
import { useAnswer } from '../parts/use-answer';
import { areaName, count, listWords } from '../parts/words';
import { workbench } from '../worker/client';

/** Carries out a line of quick entry; gives back why it cannot. */
async function runLine(line: string): Promise<string | undefined> {
  const { plan, error } = await enterLine(line, []);
  return plan || error?.message.startsWith('Nothing changes') ? undefined : error?.message;
}

interface FieldProps {
  readonly label: string;
  readonly value: string;
  /** True when the document writes it: then it can be cleared. */
  readonly written: boolean;
  readonly choices?: readonly string[];
  /** Where a value comes from that is not written here, where that is worth a word. */
  readonly by?: string | undefined;
  /** The line that sets a value; an empty one clears it. */
  readonly line: (value: string) => string;
}

/** One value that can be typed over. What is taken is what the document then says; what is not, says why. */
function Field({ label, value, written, choices, by, line }: FieldProps) {
  const [typed, setTyped] = useState<string | undefined>(undefined);
  const [fault, setFault] = useState<string | undefined>(undefined);
  // While IPv6 is looked at a line is about OSPFv3; what no such line can change is only shown.
  const three = useStore((s) => s.view?.family === 6);
  const fixed = three && !/^(set|clear) /.test(line('1'));
  const commit = (next: string): void => {
    setTyped(undefined);
    if (next.trim() === value) return;
    void runLine(`${three ? 'v3 ' : ''}${line(next.trim())}`).then((f) => {
      setFault(f);
      if (f !== undefined) setTyped(next);
    });
  };
  const onKey = (e: KeyboardEvent<HTMLInputElement>): void => {
    if (e.key === 'Enter') commit(typed ?? value);
    else if (e.key === 'Escape') {
      setTyped(undefined);
      setFault(undefined);
    }
  };
  const look = `field w-full min-w-0 py-0.5 text-right font-mono text-[12.5px] ${written ? '' : 'text-ink2'}`;
  return (
    <label className="grid grid-cols-[1fr_152px] items-center gap-2 py-0.5">
      <span>
        {label}
        {by !== undefined && <span className="text-ink2"> {by}</span>}
      </span>
      {choices ? (
        <select className={look} value={value} disabled={fixed} onChange={(e) => commit(e.target.value)}>
          {[...new Set([value, ...choices])].map((c) => (
            <option key={c}>{c}</option>
          ))}
        </select>
      ) : (
        <input
          className={look}
          readOnly={fixed}
          value={typed ?? value}
          aria-invalid={fault !== undefined}
          onChange={(e) => setTyped(e.target.value)}
          onBlur={() => typed !== undefined && fault === undefined && commit(typed)}
          onKeyDown={onKey}
        />
      )}
      {fault !== undefined && (
        <span role="alert" className="col-span-2 text-accent">
          {fault}
        </span>
      )}
    </label>
  );
}

const typeWords = ['broadcast', 'non-broadcast', 'point-to-multipoint', 'point-to-point', 'hybrid'];

/** What can be set on an interface, each field a line of quick entry. */
function InterfaceFields({ router, i, values }: { readonly router: string; readonly i: InterfaceView; readonly values: readonly OriginValue[] }) {
  const place = `${router}/${i.name}`;
  const of = (what: string): OriginValue | undefined => values.find((v) => v.iface === i.name && v.what === what);
  const set = (name: string) => (value: string) => (value === '' ? `clear ${name} on ${place}` : `set ${name} ${value} on ${place}`);
  const number = (label: string, name: string, what: string, unit = ''): React.ReactNode => {
    const v = of(what);
    if (!v) return null;
    return (
      <Field
        key={`${place} ${name}`}
        label={`${label}${unit}`}
        value={v.value.replace(/[^\d].*$/, '')}
        written={v.origin === 'written'}
        line={set(name)}
      />
    );
  };
  return (
    <div className="border-t border-fine bg-paper px-2 py-1.5">
      <Field
        label="area"
        value={i.area === null ? 'none' : areaName(i.area).replace('Area ', '').replace('Backbone', '0')}
        written={of('area')?.origin !== 'rule'}
        by={of('area')?.origin === 'rule' ? '(by a rule)' : undefined}
        line={(v) => (v === '' || v === 'none' ? `leave ${place}` : `join ${place} area ${v}`)}
      />
      {i.area !== null && (
        <>
          {number('cost', 'cost', of('cost') ? 'cost' : 'cost, from the reference bandwidth')}
          <Field
            label="network type"
            value={of('network type')?.value ?? ''}
            written={of('network type')?.origin === 'written'}
            choices={typeWords}
            line={set('type')}
          />
          {number('hello', 'hello', 'hello interval', ', s')}
          {number('dead', 'dead', 'dead interval', ', s')}
          {number('priority', 'priority', 'priority')}
          <Field
            label="passive"
            value={of('passive')?.value === 'yes' ? 'yes' : 'no'}
            written={of('passive')?.origin === 'written'}
            by={of('passive')?.origin === 'rule' ? '(by a rule)' : undefined}
            choices={['yes', 'no']}
            line={set('passive')}
          />
        </>
      )}
      {number('MTU', 'mtu', 'MTU')}
      <div className="mt-1 flex flex-wrap gap-x-3">
        <button type="button" className="link" onClick={() => openEntry(`address ${place} and `)}>
          one more address
        </button>
        <button type="button" className="link" onClick={() => go({ stage: 'failures', router, fail: [`interface:${place}`] })}>
          what if it fails
        </button>
        <button type="button" className="link" onClick={() => openEntry(`renumber ${place}`)}>
          renumber
        </button>
        <button type="button" className="link" onClick={() => openEntry(`delete interface ${place}`)}>
          delete
        </button>
      </div>
    </div>
  );
}

const kindWords = ['normal', 'stub', 'totally-stubby', 'nssa', 'totally-nssa'];

/** An area as this router has it; its type is changed on every router of the area. */
function AreaFields({ a }: { readonly a: RouterDetail['areas'][number] }) {
  const id = a.id.startsWith('0.0.0.') ? a.id.slice(6) : a.id;
  return (
    <div className="border-t border-fine py-1">
      <p className="font-semibold">
        <AreaName id={a.id} />
      </p>
      {a.id !== '0.0.0.0' && (
        <Field
          key={`${a.id} ${a.kind}`}
          label="type, on all its routers"
          value={a.kind}
          written
          choices={kindWords}
          line={(v) => `set area-type ${v} on area ${id}`}
        />
      )}
      {a.defaultCost !== null && (
        <Field
          key={`${a.id} cost`}
          label="cost of the default"
          value={String(a.defaultCost)}
          written={false}
          line={(v) => (v === '' ? `clear default-cost on area ${id}` : `set default-cost ${v} on area ${id}`)}
        />
      )}
      {a.ranges.map((r) => (
        <p key={r} className="flex gap-2">
          <span className="font-mono text-xs">{r}</span>
          <button type="button" className="link ml-auto" onClick={() => openEntry(`range ${r.split(',')[0] ?? ''} area ${id} off`)}>
            take away
          </button>
        </p>
      ))}
      {a.border && (
        <button type="button" className="link" onClick={() => openEntry('range ')}>
          add a summary
        </button>
      )}
    </div>
  );
}

/** A router: who it is and from where, its interfaces, areas and imports; every field can be typed over. */
export function RouterPanel({ view, name }: { readonly view: DesignView; readonly name: string }) {
  const r = view.routers.find((x) => x.name === name);
  const shown = useStore((s) => s.document === name);
  const [unfolded, setUnfolded] = useState<string | undefined>(undefined);
  const values = useAnswer(() => workbench().layout.values(name), [name, view]) ?? [];
  const detail = useAnswer(() => workbench().layout.routerDetail(name), [name, view]);
  if (!r) return null;
  const findings = view.findings.filter((f) => f.where.some((w) => w.router === name));
  const pairs = view.pairs.filter((p) => p.a.router === name || p.b.router === name);
  const role = [r.border ? 'border router' : '', r.boundary ? 'boundary router' : ''].filter(Boolean);
  return (
    <>
      <p className="text-ink2">{role.length > 0 ? listWords(role) : r.routerId === null ? 'no OSPF' : 'internal router'}</p>
      <h2 className="text-xl">{r.name}</h2>
      <p className="text-ink2">{r.areas.map(areaName).join(', ')}</p>
      {r.profile !== null && <p className="text-ink2">follows the profile “{r.profile}”</p>}
      <div className="mt-2 flex flex-wrap gap-1.5">
        <button type="button" className="control" aria-pressed={shown} onClick={() => openDocument(shown ? undefined : name)}>
          Document
        </button>
        <button type="button" className="control" onClick={() => go({ stage: 'routes', router: name, prefix: undefined })}>
          {r.routes === null ? 'Its routes' : count(r.routes, 'route')}
        </button>
        <button type="button" className="control" onClick={() => go({ stage: 'failures', router: name, fail: [`router:${name}`] })}>
          What if it fails
        </button>
        <button type="button" className="control" onClick={() => openWorksheet(true)}>
          Worksheet
        </button>
      </div>
      {findings.length > 0 && (
        <Section title="Findings here">
          {findings.map((f) => {
            const line = f.where.find((w) => w.router === name)?.line;
            return (
              <div key={f.id}>
                <FindingCard finding={f} mend />
                {line !== undefined && (
                  <button type="button" className="link mb-1 text-ink2" onClick={() => openDocument(name, line)}>
                    line {line} of its document
                  </button>
                )}
              </div>
            );
          })}
        </Section>
      )}
      {r.routerId !== null && (
        <Section title="Identity">
          <Field
            key={`${name} id`}
            label="router id"
            value={r.routerId}
            written={detail?.identity.from === 'written'}
            line={(v) => (v === '' ? `clear router-id on ${name}` : `set router-id ${v} on ${name}`)}
          />
          {detail?.identity.words.map((w) => (
            <p key={w} className="text-ink2">
              {w}
            </p>
          ))}
        </Section>
      )}
      <Section title="Neighbours">
        <ul>
          {pairs.map((p) => {
            const [self, peer] = p.a.router === name ? [p.a, p.b] : [p.b, p.a];
            return (
              <li key={p.id} className="flex items-center gap-2 border-b border-fine py-1">
                <button type="button" className="link min-w-0 truncate" onClick={() => go({ stage: 'neighbours', meet: 'pairs', pair: p.id })}>
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
        {pairs.length === 0 && (
          <p className="text-ink2">
            Nobody shares a wire with it.{' '}
            <button type="button" className="link" onClick={() => openEntry(`link ${name} `)}>
              Link it
            </button>
          </p>
        )}
      </Section>
      <Section title="Interfaces">
        <ul>
          {r.interfaces.map((i) => (
            <li key={i.name} className="border-t border-fine">
              <button
                type="button"
                className="grid w-full grid-cols-[1fr_70px_40px] items-start gap-1 py-1 text-left hover:bg-paper"
                aria-expanded={unfolded === i.name}
                onClick={() => setUnfolded(unfolded === i.name ? undefined : i.name)}
              >
                <span className="min-w-0">
                  <span className="block truncate">{i.name}</span>
                  <span className="block font-mono text-xs text-ink2">{i.addresses.join(', ') || 'no address'}</span>
                </span>
                <span>
                  {i.area === null ? <span className="text-ink2">not in OSPF</span> : areaName(i.area)}
                  <span className="block text-xs text-ink2">{i.area === null ? '' : i.state}</span>
                </span>
                <span className={`text-right font-mono ${i.costFrom === 'standard' ? 'text-ink2' : ''}`}>{i.cost ?? ''}</span>
              </button>
              {unfolded === i.name && <InterfaceFields router={name} i={i} values={values} />}
            </li>
          ))}
        </ul>
        <div className="mt-1 flex gap-3">
          <button type="button" className="link" onClick={() => openEntry(`link ${name} `)}>
            add a link
          </button>
          <button type="button" className="link" onClick={() => openEntry(`interface ${name}/`)}>
            an interface
          </button>
          <button type="button" className="link" onClick={() => openEntry(`clone ${name} as `)}>
            clone
          </button>
          <button type="button" className="link" onClick={() => openEntry(`rename ${name} as `)}>
            rename
          </button>
          <button type="button" className="link" onClick={() => openEntry(`delete router ${name}`)}>
            delete
          </button>
        </div>
      </Section>
      {detail && detail.areas.length > 0 && (
        <Section title="Areas">
          {detail.areas.map((a) => (
            <AreaFields key={a.id} a={a} />
          ))}
        </Section>
      )}
      <Section title="From outside">
        <ul>
          {detail?.imports.map((w) => (
            <li key={w} className="border-b border-fine py-0.5">
              {w}
            </li>
          ))}
        </ul>
        {detail?.imports.length === 0 && <p className="text-ink2">It brings nothing in.</p>}
        <div className="mt-1 flex gap-3">
          <button type="button" className="link" onClick={() => openEntry(`static `)}>
            static route
          </button>
          <button type="button" className="link" onClick={() => openEntry(`bring static on ${name} `)}>
            bring in routes
          </button>
          <button type="button" className="link" onClick={() => openEntry(`announce default on ${name} `)}>
            announce a default
          </button>
        </div>
      </Section>
      {detail && <Policies router={name} detail={detail} />}
      <Values values={values} />
    </>
  );
}

const originNames = { written: 'written', profile: 'profile', standard: 'standard', rule: 'rule' } as const;

/** Every value that holds in a router, and where it comes from; folded away until asked for. */
function Values({ values }: { readonly values: readonly OriginValue[] }) {
  const [open, setOpen] = useState(false);
  const groups = new Map<string, OriginValue[]>();
  for (const v of open ? values : []) groups.set(v.iface ?? '', [...(groups.get(v.iface ?? '') ?? []), v]);
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
