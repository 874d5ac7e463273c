'use client';

import { useMemo, useState } from 'react';
import type { OwnRow } from '../model/reach-view';
import { go } from '../model/moving';
import { useStore } from '../model/state';
import { LineTable } from '../parts/line-table';
import { TableOut } from '../parts/table-out';
import { useAnswer } from '../parts/use-answer';
import { workbench } from '../worker/client';
import { narrowing } from './narrowing';

const ospfWords = (r: OwnRow): string =>
  r.ospf ? `${r.ospf.type} ${r.ospf.metric ?? ''} ${r.ospf.hops.map((h) => h.router || h.iface).join(', ') || 'dropped'}` : '';

/** What OSPF computed beside what the router's table took, and why a better-known source won. */
export function OwnTable({ router }: { readonly router: string }) {
  const view = useStore((s) => s.view);
  const failure = useStore((s) => s.failure);
  const prefix = useStore((s) => s.prefix);
  const [text, setText] = useState('');
  const [onlyOther, setOnlyOther] = useState(false);
  const rows = useAnswer(() => workbench().routes.own(router), [router, view, failure]);
  const isOther = (r: OwnRow): boolean => r.why !== '' || r.ospf === null;
  const shown = useMemo(() => {
    const fits = narrowing<OwnRow>(text, (r) => `${r.prefix} ${ospfWords(r)} ${r.took} ${r.why}`);
    return (rows ?? []).filter((r) => (!onlyOther || isOther(r)) && fits(r));
  }, [rows, text, onlyOther]);
  const passed = rows?.filter((r) => r.why !== '').length ?? 0;
  return (
    <>
      <div className="flex items-center gap-2 pb-2">
        <input
          className="field w-52"
          aria-label="Narrow the lines"
          placeholder="inside 10.97.0.0/16, type, source"
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
        <button type="button" className="control" aria-pressed={onlyOther} onClick={() => setOnlyOther(!onlyOther)}>
          Only where they part
        </button>
        <span className="whitespace-nowrap text-ink2" role="status">
          {rows ? `${passed} not taken` : ''}
        </span>
        <TableOut
          name={`${router} beside OSPF`}
          lines={() => [
            ['prefix', 'OSPF computed', 'the table took', 'preference', 'why'],
            ...shown.map((r) => [r.prefix, ospfWords(r), r.took, r.preference ?? '', r.why]),
          ]}
        />
      </div>
      <LineTable
        label={`OSPF beside the table of ${router}`}
        columns={[
          { name: 'prefix', width: view?.family === 6 ? '230px' : '150px', kind: 'code' },
          { name: 'OSPF', width: '84px' },
          { name: 'cost', width: '52px', kind: 'number' },
          { name: 'table took', width: '92px' },
          { name: 'preference', width: 'minmax(0,1fr)', kind: 'quiet' },
        ]}
        rows={shown}
        keyOf={(r) => r.prefix}
        at={shown.findIndex((r) => r.prefix === prefix)}
        onChoose={(r) => go({ router, prefix: r.prefix })}
        cells={(r) => [
          r.prefix,
          r.ospf?.type ?? <span className="text-ink3">none</span>,
          r.ospf?.metric ?? '',
          r.took === '' ? <span className="text-accent">nothing</span> : r.took === 'ospf-discard' ? 'summary' : r.took,
          { shown: r.why === '' && r.ospf === null ? 'not from OSPF' : r.why, title: r.why },
        ]}
        nothing={rows ? 'No line fits.' : 'Reading the table…'}
      />
    </>
  );
}
