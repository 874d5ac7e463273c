'use client';

import type { Origin } from '@gentle-compass/core/design/defaults';
import type { Finding } from '@gentle-compass/core/findings/finding';
import { useEffect, useRef } from 'react';
import { faces, type Face } from '../model/address';
import { makeChange } from '../model/history';
import { go } from '../model/moving';
import { useStore } from '../model/state';
import type { DesignView, PairView } from '../model/view';
import { AreaName } from '../parts/area-name';
import { Tag } from '../parts/panel';
import { useAnswer } from '../parts/use-answer';
import { workbench } from '../worker/client';
import { ComingUpPage } from './coming-up';

/** Says where a value comes from that the router document does not write. */
function OriginMark({ from }: { readonly from: Origin }) {
  if (from === 'written') return null;
  return from === 'profile' ? <span className="ml-1.5 font-sans text-[11px] text-ink2">profile</span> : <span className="sr-only"> (standard)</span>;
}

/** One pair: its two sides, and opened, every parameter side by side. */
export function PairPage({
  pair: p,
  view,
  letter,
  open,
}: {
  readonly pair: PairView;
  readonly view: DesignView;
  readonly letter: string | undefined;
  readonly open: boolean;
}) {
  const self = useRef<HTMLLIElement>(null);
  const chosen = useStore((s) => s.pair) === p.id;
  const was = useStore((s) => s.comparison?.neighbors.find((n) => n.router === p.a.router && n.iface === p.a.iface && n.peer === p.b.router)?.before);
  useEffect(() => {
    if (chosen) self.current?.scrollIntoView({ block: 'nearest' });
  }, [chosen]);
  return (
    <li
      ref={self}
      className={`${open ? 'min-[1700px]:col-span-2' : 'long-row'} rounded border bg-sheet ${open ? 'border-ink3' : 'border-rule'}`}
      data-pair={p.id}
    >
      <button
        type="button"
        aria-expanded={open}
        onClick={() => go({ pair: p.id })}
        className="grid w-full grid-cols-[minmax(0,1fr)_190px_minmax(0,1fr)] items-center gap-3 px-4 py-1.5"
      >
        <Side side={p.a} align="right" />
        <span className="text-center">
          <Tag kind={p.kind}>
            {letter !== undefined && `${letter} · `}
            {p.word}
          </Tag>
          <span className="block text-xs text-ink2">
            {p.type}, <AreaName id={p.area} quiet />
            {was !== undefined && <span className="block text-caution">was {was} before</span>}
          </span>
        </span>
        <Side side={p.b} align="left" />
      </button>
      {open && <Facing pair={p} finding={view.findings.find((f) => f.id === p.finding)} />}
    </li>
  );
}

function Side({ side, align }: { readonly side: PairView['a']; readonly align: 'left' | 'right' }) {
  return (
    <span className={align === 'right' ? 'text-right' : 'text-left'}>
      <span className="block font-serif text-lg leading-tight">{side.router}</span>
      <span className="block truncate font-mono text-xs text-ink2">
        {side.iface} {side.address}
      </span>
    </span>
  );
}

const faceWords: Record<Face, string> = { values: 'Side by side', up: 'Coming up, step by step' };

function Facing({ pair: p, finding }: { readonly pair: PairView; readonly finding: Finding | undefined }) {
  const face = useStore((s) => s.face);
  const asked = useAnswer(async () => p.values ?? (await workbench().neighbours.facing(p.id)), [p]);
  const values = p.values ?? asked ?? [];
  return (
    <div className="border-t border-fine pb-2">
      <p className="px-4 py-2 text-center">
        {finding ? <strong className="font-semibold">{finding.message}</strong> : `${p.a.router} ${p.a.words}; ${p.b.router} ${p.b.words}.`}
      </p>
      <div className="flex justify-center gap-1 pb-2" role="group" aria-label="What of the pair">
        {faces.map((f) => (
          <button key={f} type="button" className="control" aria-pressed={f === face} onClick={() => go({ pair: p.id, face: f })}>
            {faceWords[f]}
          </button>
        ))}
      </div>
      {face === 'up' && <ComingUpPage pair={p} />}
      {face === 'values' && (
        <table className="w-full">
          <caption className="sr-only">
            Parameters of {p.a.router} and {p.b.router} side by side
          </caption>
          <thead className="sr-only">
            <tr>
              <th>{p.a.router}</th>
              <th>parameter</th>
              <th>{p.b.router}</th>
            </tr>
          </thead>
          <tbody>
            {values.map((v) => {
              const apart = v.match === 'apart';
              const cell = (from: Origin): string =>
                `py-[3px] font-mono text-[12.5px] ${apart ? 'font-semibold text-accent' : from === 'standard' ? 'text-ink3' : ''}`;
              return (
                <tr key={v.id} className={`border-t border-fine ${apart ? 'bg-accentground' : ''}`}>
                  <td className={`${cell(v.aFrom)} w-[calc(50%-76px)] pr-4 text-right`}>
                    {v.a}
                    <OriginMark from={v.aFrom} />
                  </td>
                  <th
                    scope="row"
                    className={`text-center font-normal whitespace-nowrap ${apart ? 'font-semibold text-accent shadow-[inset_2px_0_var(--accent),inset_-2px_0_var(--accent)]' : 'text-ink2'}`}
                  >
                    {apart ? '≠ ' : ''}
                    {v.name}
                    {v.match === 'differs' && <span className="text-caution"> differs</span>}
                  </th>
                  <td className={`${cell(v.bFrom)} w-[calc(50%-76px)] pl-4`}>
                    {v.b}
                    <OriginMark from={v.bFrom} />
                  </td>
                </tr>
              );
            })}
            <tr className="border-t border-rule">
              <td className="py-1 pr-4 text-right font-semibold">{p.a.state}</td>
              <th scope="row" className="text-center font-normal text-ink2">
                rests in
              </th>
              <td className="py-1 pl-4 font-semibold">{p.b.state}</td>
            </tr>
          </tbody>
        </table>
      )}
      {face === 'values' && values.some((v) => v.aFrom === 'standard' || v.bFrom === 'standard') && (
        <p className="border-t border-fine px-4 pt-1.5 text-center text-xs text-ink2">Grey: nothing is written, the standard’s value holds.</p>
      )}
      {finding && finding.repairs.length > 0 && (
        <div className="grid grid-cols-2 gap-x-6 gap-y-1.5 border-t border-fine px-4 pt-2">
          {[p.a, p.b].map((side) => (
            <div key={side.router} className={`flex flex-col gap-1.5 ${side === p.a ? 'items-end' : 'items-start'}`}>
              {finding.repairs
                .filter((r) => r.router === side.router)
                .map((r, i) => (
                  <button
                    key={r.title}
                    type="button"
                    className="control"
                    data-main={finding.repairs[0] === r && i === 0 ? '' : undefined}
                    onClick={() => void makeChange(r.title, r.edits)}
                  >
                    {r.title}
                  </button>
                ))}
            </div>
          ))}
        </div>
      )}
    </div>
  );
}
