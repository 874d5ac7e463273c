'use client';

import type { DirectionCost } from '@gentle-compass/core/neighbours/costs';
import { useMemo, useState } from 'react';
import { go } from '../model/moving';
import { useStore } from '../model/state';
import { NumberTable } from '../parts/number-table';
import { Panel, Section } from '../parts/panel';
import { useAnswer } from '../parts/use-answer';
import { count, someOf } from '../parts/words';
import { workbench } from '../worker/client';
import { NeighboursHead } from './neighbours-head';

/** Rows at once; the others are counted. */
const most = 400;

const fromWords: Record<DirectionCost['from'], string> = {
  written: 'written',
  profile: 'profile',
  standard: 'standard',
  'reference-bandwidth': 'by bandwidth',
};
const comes = (d: DirectionCost): string => `${fromWords[d.from]}${d.mbps === undefined ? '' : `, ${d.mbps.toLocaleString('en-GB')} Mbit/s`}`;

/** Costs of both directions of every link, and the reference bandwidths that stand behind them. */
export function Costs() {
  const routers = useStore((s) => s.view?.routers);
  const [text, setText] = useState('');
  const costs = useAnswer(() => workbench().neighbours.costs(), [routers]);
  const rows = useMemo(
    () => (costs?.rows ?? []).filter((r) => `${r.a.router} ${r.b.router} ${r.a.iface} ${r.b.iface}`.toLowerCase().includes(text.toLowerCase())),
    [costs, text],
  );
  const differ = costs?.rows.filter((r) => r.note === 'differs').length ?? 0;
  return (
    <div className="stage">
      <div className="flex min-h-0 min-w-0 flex-1 flex-col">
        <NeighboursHead>
          <input
            className="field ml-auto w-44"
            placeholder="router, interface"
            aria-label="Narrow the links"
            value={text}
            onChange={(e) => setText(e.target.value)}
          />
        </NeighboursHead>
        <div className="min-h-0 flex-1 overflow-y-auto px-4 pb-4" tabIndex={0} role="region" aria-label="Costs both ways">
          {costs && rows.length === 0 && (
            <p className="rounded border border-rule bg-sheet p-4 text-ink2">
              {costs.rows.length === 0 ? 'No pair is full yet: costs appear here with the first.' : 'No link fits what you typed.'}
            </p>
          )}
          {rows.length > 0 && (
            <div className="rounded border border-rule bg-sheet px-4 py-2">
              <NumberTable
                label="Costs both ways"
                columns={[
                  { name: 'one end', kind: 'name' },
                  { name: 'there', kind: 'number' },
                  { name: 'from', kind: 'words' },
                  { name: 'other end', kind: 'name' },
                  { name: 'back', kind: 'number' },
                  { name: 'from ', kind: 'words' },
                  { name: '', kind: 'words' },
                ]}
                rows={rows.slice(0, most).map((r) => ({
                  key: `${r.a.router}/${r.a.iface}-${r.b.router}/${r.b.iface}`,
                  cells: [
                    <End key="a" of={r.a} segment={r.segment} />,
                    r.a.cost,
                    <span key="af" className="text-xs text-ink2">
                      {comes(r.a)}
                    </span>,
                    <End key="b" of={r.b} segment={r.segment} />,
                    r.b.cost,
                    <span key="bf" className="text-xs text-ink2">
                      {comes(r.b)}
                    </span>,
                    r.note === 'differs' ? (
                      <strong key="n" className="font-semibold text-caution">
                        ≠ differ
                      </strong>
                    ) : r.note === 'speed' ? (
                      <span key="n" className="text-caution">
                        speeds differ
                      </span>
                    ) : null,
                  ],
                }))}
              />
              {rows.length > most && <p className="mt-2 text-ink2">…and {count(rows.length - most, 'link')} more.</p>}
            </div>
          )}
        </div>
      </div>
      <Panel label="About the costs">
        <h2 className="text-xl">
          {differ === 0 ? 'Both ways cost the same' : `${count(differ, 'link')} ${differ === 1 ? 'costs' : 'cost'} otherwise back`}
        </h2>
        <p className="text-ink2">The output cost of each end counts for the direction in which it sends; from a LAN to a router nothing is added.</p>
        <Section title="Reference bandwidths">
          {costs?.references.length === 0 && <p>Every cost is written or a default: none comes from a reference bandwidth.</p>}
          {costs?.references.map((r) => (
            <p key={r.mbps} className="mb-1.5">
              <strong className="font-semibold">{r.mbps.toLocaleString('en-GB')} Mbit/s</strong> in {someOf(r.routers, 6)}
              {r.flat.length > 0 && (
                <span className="text-accent">: links of {r.flat.map((x) => x.toLocaleString('en-GB')).join(' and ')} Mbit/s all cost 1</span>
              )}
              .
            </p>
          ))}
          {(costs?.references.length ?? 0) > 1 && (
            <p className="text-accent">
              They differ: one link costs otherwise seen from each side. One reference must stand everywhere (RFC 9129 §2.8).
            </p>
          )}
        </Section>
      </Panel>
    </div>
  );
}

function End({ of, segment }: { readonly of: DirectionCost; readonly segment: number }) {
  return (
    <button type="button" className="text-left hover:underline" onClick={() => go({ stage: 'layout', segment, router: undefined })}>
      {of.router} <span className="font-mono text-xs text-ink2">{of.iface}</span>
    </button>
  );
}
