'use client';

import type { Circle } from '@gentle-compass/core/areas/from-outside';
import { Tag } from '../parts/panel';

const stateWords: Record<Circle['state'], string> = { closed: 'it goes round', open: 'it could go round', ended: 'it is ended' };
const kinds = { closed: 'trouble', open: 'rests', ended: 'full' } as const;
const colours: Record<Circle['state'], string> = { closed: 'var(--accent)', open: 'var(--caution)', ended: 'var(--settled)' };

/** Units of the drawing. */
const [wide, high] = [330, 116];

/** Two-point redistribution as it goes round: routers on a ring, arrows for who tells whom, and what ends it. */
export function CircleDrawn({ circle: c }: { readonly circle: Circle }) {
  const names = [...new Set(c.steps.flatMap((s) => [s.from, s.to]))];
  const at = (name: string): { x: number; y: number } => {
    const angle = (2 * Math.PI * names.indexOf(name)) / names.length + Math.PI;
    return { x: wide / 2 + Math.cos(angle) * 118, y: high / 2 + Math.sin(angle) * (names.length === 2 ? 0 : 34) };
  };
  return (
    <article
      aria-label={`Circle of ${c.prefix}`}
      className={`flex shrink-0 items-center gap-4 rounded border bg-sheet px-3 py-1 ${c.state === 'closed' ? 'border-accent' : 'border-rule'}`}
    >
      <svg
        viewBox={`0 0 ${wide} ${high}`}
        width={wide}
        height={high}
        role="img"
        aria-label={c.steps.map((s) => `${s.from} tells ${s.to} by ${s.by}`).join(', ')}
        className="shrink-0"
      >
        <defs>
          <marker id={`tip-${c.state}`} viewBox="0 0 8 8" refX="7" refY="4" markerWidth="7" markerHeight="7" orient="auto">
            <path d="M0 0L8 4L0 8z" fill={colours[c.state]} />
          </marker>
        </defs>
        {c.steps.map((s, n) => {
          const [a, b] = [at(s.from), at(s.to)];
          const length = Math.hypot(b.x - a.x, b.y - a.y) || 1;
          // Arrows bend away from the middle, each to its right, so that there and back stand apart.
          const bend = names.length === 2 ? 44 : 18;
          const [nx, ny] = [-(b.y - a.y) / length, (b.x - a.x) / length];
          const mid = { x: (a.x + b.x) / 2 + nx * -bend, y: (a.y + b.y) / 2 + ny * -bend };
          const off = (p: { x: number; y: number }): { x: number; y: number } => {
            const d = Math.hypot(mid.x - p.x, mid.y - p.y) || 1;
            return { x: p.x + ((mid.x - p.x) / d) * 34, y: p.y + ((mid.y - p.y) / d) * 16 };
          };
          const [from, to] = [off(a), off(b)];
          return (
            <g key={n}>
              <path
                d={`M${from.x} ${from.y}Q${mid.x} ${mid.y} ${to.x} ${to.y}`}
                fill="none"
                stroke={colours[c.state]}
                strokeWidth={1.6}
                strokeDasharray={c.state === 'closed' ? undefined : '5 4'}
                markerEnd={`url(#tip-${c.state})`}
              />
              <text
                x={(a.x + b.x) / 2 + nx * -bend * 0.62}
                y={(a.y + b.y) / 2 + ny * -bend * 0.62 + 4}
                textAnchor="middle"
                fontSize={11.5}
                fill="var(--ink-2)"
                stroke="var(--sheet)"
                strokeWidth={4}
                paintOrder="stroke"
              >
                {s.by}
              </text>
            </g>
          );
        })}
        {names.map((name) => {
          const p = at(name);
          const half = Math.max(26, name.length * 3.7 + 8);
          return (
            <g key={name}>
              <rect x={p.x - half} y={p.y - 11} width={2 * half} height={22} rx={2} fill="var(--sheet)" stroke="var(--ink)" />
              <text x={p.x} y={p.y + 4} textAnchor="middle" fontSize={12.5} fontWeight={600} fill="var(--ink)">
                {name}
              </text>
            </g>
          );
        })}
      </svg>
      <div className="min-w-0">
        <p>
          <Tag kind={kinds[c.state]}>{stateWords[c.state]}</Tag> <span className="font-mono text-[12.5px]">{c.prefix}</span>
        </p>
        <p className="mt-1">{c.why}</p>
        {c.state !== 'ended' && (
          <p className="mt-1 text-ink2">
            What ends it: a policy where it is handed over that sets a tag, and one where it would come back in that refuses this tag; or a policy
            that hands over nothing that OSPF was told from there.
          </p>
        )}
      </div>
    </article>
  );
}
