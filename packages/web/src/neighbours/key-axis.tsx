'use client';

import type { KeyLine } from '@gentle-compass/core/neighbours/key-times';
import type { KeysView } from '../model/neighbours-view';
import { moment } from './moments';

const width = 720;
const left = 150;
const rowHeight = 22;

/** Keys of both ends on one axis of time: taken in a thin line, sent in a thick one; below it where the two take each other's packets. */
export function KeyAxis({ keys, a, b }: { readonly keys: KeysView; readonly a: string; readonly b: string }) {
  const turns = keys.lines.flatMap((l) => [l.send.from, l.send.until, l.accept.from, l.accept.until].flatMap((t) => t ?? []));
  if (turns.length === 0) return null;
  const [first, last] = [Math.min(...turns, keys.now), Math.max(...turns, keys.now)];
  const margin = Math.max((last - first) * 0.08, 3_600_000);
  const [from, to] = [first - margin, last + margin];
  const x = (ms: number): number => left + ((width - left) * (ms - from)) / (to - from);
  const clip = (ms: number | undefined, otherwise: number): number => Math.min(Math.max(ms ?? otherwise, from), to);
  const lines = [...keys.lines].sort((p, q) => (p.side < q.side ? -1 : p.side > q.side ? 1 : p.id - q.id));
  const height = (lines.length + 1) * rowHeight + 26;
  const bar = (l: KeyLine, what: 'send' | 'accept', y: number): React.ReactNode => (
    <line
      x1={x(clip(l[what].from, from))}
      x2={x(clip(l[what].until, to))}
      y1={y}
      y2={y}
      stroke="var(--ink-2)"
      strokeWidth={what === 'send' ? 7 : 1.5}
      strokeOpacity={what === 'send' ? 0.75 : 1}
    />
  );
  return (
    <figure className="mt-3 rounded border border-rule bg-sheet p-3">
      <figcaption className="mb-1 text-ink2">
        Keys over time: thick where a key may be sent, thin where it is taken; the last line is the pair.
      </figcaption>
      <svg
        viewBox={`0 0 ${width} ${height}`}
        className="block w-full"
        role="img"
        aria-label={
          keys.partsAt === undefined ? 'Keys over time; the pair does not part' : `Keys over time; the pair parts on ${moment(keys.partsAt)}`
        }
      >
        {lines.map((l, n) => {
          const y = n * rowHeight + 13;
          return (
            <g key={`${l.side}${l.id}`}>
              <text x={left - 10} y={y + 4} textAnchor="end" fontSize="12" fill="var(--ink)">
                {l.side === 'a' ? a : b}, key {l.id}
              </text>
              {bar(l, 'accept', y)}
              {bar(l, 'send', y)}
            </g>
          );
        })}
        {keys.spans.map((s) => {
          const y = lines.length * rowHeight + 13;
          const holds = s.aTakes && s.bTakes;
          return (
            <line
              key={String(s.from)}
              x1={x(clip(s.from, from))}
              x2={x(clip(s.until, to))}
              y1={y}
              y2={y}
              stroke={holds ? 'var(--settled)' : 'var(--accent)'}
              strokeWidth={holds ? 4 : 9}
              strokeDasharray={holds ? undefined : '3 3'}
            />
          );
        })}
        <text x={left - 10} y={lines.length * rowHeight + 17} textAnchor="end" fontSize="12" fontWeight="600" fill="var(--ink)">
          the pair
        </text>
        <line x1={x(keys.now)} x2={x(keys.now)} y1="0" y2={height - 18} stroke="var(--ink)" strokeWidth="1" strokeDasharray="2 3" />
        <text x={x(keys.now)} y={height - 4} textAnchor="middle" fontSize="11" fill="var(--ink-2)">
          now
        </text>
        {keys.partsAt !== undefined && (
          <text x={Math.min(x(keys.partsAt), width - 80)} y={height - 4} textAnchor="middle" fontSize="11" fontWeight="600" fill="var(--accent)">
            parts {moment(keys.partsAt)}
          </text>
        )}
      </svg>
    </figure>
  );
}
