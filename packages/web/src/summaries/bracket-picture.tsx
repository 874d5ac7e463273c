'use client';

import { bitsOf, covers, hostLength, isSix } from '@gentle-compass/core/prefix/address';
import { ends, type Span } from './axis';
import { prefixAt, type Space } from './laying';

/** A summary over its parts, to scale; those that are gone are crossed out, those that cost something else are marked. */
export function BracketPicture({
  summary,
  space,
  tint,
  lost,
  moved,
}: {
  readonly summary: string;
  readonly space: Space;
  readonly tint: number;
  readonly lost: readonly string[];
  readonly moved: readonly string[];
}) {
  const p = prefixAt(summary);
  const span: Span = { six: isSix(p.bits), first: bitsOf(p.bits), power: hostLength(p.bits) - p.length };
  const [gone, other] = [new Set(lost), new Set(moved)];
  // What is gone is drawn last: nothing may stand over it.
  const rank = (text: string): number => (gone.has(text) ? 2 : other.has(text) ? 1 : 0);
  const parts = [...space.parts, ...space.left].filter((m) => covers(p, m.prefix)).sort((a, b) => rank(a.text) - rank(b.text));
  return (
    <div
      className="relative mt-1 h-[54px]"
      role="img"
      aria-label={`${summary} with ${parts.length} parts, ${lost.length} lost, ${moved.length} at another cost`}
    >
      <div className="absolute inset-x-0 top-2 h-3 border-x border-t-2 border-ink2" />
      <span className="absolute top-0 left-1/2 -translate-x-1/2 bg-sheet px-1.5 font-mono text-xs leading-4">{summary}</span>
      {parts.map((m) => {
        const [from, to] = ends(span, m.prefix);
        const state = rank(m.text);
        return (
          <div
            key={m.text}
            title={`${m.text}${state === 2 ? ' is gone' : state === 1 ? ' costs something else' : ''}`}
            className="absolute min-w-[3px] overflow-hidden border text-center text-[11px] leading-[14px]"
            style={{
              left: `${from * 100}%`,
              width: `${(to - from) * 100}%`,
              top: 22,
              height: state === 0 ? 16 : 20,
              background: state === 2 ? 'var(--accent-ground)' : state === 1 ? 'var(--caution-ground)' : `var(--land-${tint})`,
              borderColor: state === 2 ? 'var(--accent)' : state === 1 ? 'var(--caution)' : `var(--coast-${tint})`,
            }}
          ></div>
        );
      })}
      {parts
        .filter((m) => gone.has(m.text))
        .map((m) => {
          const [from, to] = ends(span, m.prefix);
          return (
            <span
              key={m.text}
              className="absolute top-[42px] text-[10px] leading-none text-accent"
              style={{ left: `${((from + to) / 2) * 100}%`, transform: 'translateX(-50%)' }}
            >
              ✕
            </span>
          );
        })}
    </div>
  );
}
