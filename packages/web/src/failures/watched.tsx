'use client';

import { go } from '../model/moving';
import { useStore } from '../model/state';
import type { WatchedView, WatchedViews, WayView } from '../model/what-if-view';
import { Section } from '../parts/panel';
import { Follow } from './follow';

/** A way in words: its routers, what it costs, or why it ends. */
export function wayWords(w: WayView): string {
  const inner = w.path.slice(1, -1);
  const by = inner.length === 0 ? 'directly' : `by ${inner.length > 4 ? `${inner.slice(0, 4).join(', ')} …` : inner.join(', ')}`;
  const cost = w.cost === null ? '' : `, cost ${w.cost.toLocaleString('en-GB')}`;
  const equal = w.equal > 1 ? `, one of ${w.equal} equal ways` : '';
  return w.fate === 'delivered' || w.fate === 'leaves' ? `${by}${cost}${equal}` : w.path.length === 0 ? w.reason : `${w.fate}: ${w.reason}`;
}

/** Whose packets are looked at: their way before and after, on the map too. */
export function Watched({ views, at, onAt }: { readonly views: WatchedViews | undefined; readonly at: number; readonly onAt: (n: number) => void }) {
  const watch = useStore((s) => s.watch);
  return (
    <Section title="Ways, before and after">
      {views?.problems.map((p) => (
        <p key={p} className="text-accent">
          {p}
        </p>
      ))}
      {views?.pairs.length === 0 && watch.length === 0 && (
        <p className="text-ink2">No way between loopbacks changes; name two ends to follow theirs.</p>
      )}
      <ul aria-label="Ways, before and after">
        {views?.pairs.map((w, n) => (
          <Row
            key={w.word}
            w={w}
            chosen={n === at}
            onChoose={() => onAt(n)}
            onDrop={watch.length > 0 ? () => go({ watch: watch.filter((x) => x !== w.word) }) : undefined}
          />
        ))}
      </ul>
      {(views?.pairs.length ?? 0) > 0 && <p className="mt-1 text-xs text-ink2">On the map: the way before in dots, the way now as a heavy line.</p>}
      <Follow known={watch.length > 0 ? watch : (views?.pairs.map((p) => p.word) ?? [])} />
    </Section>
  );
}

function Row({
  w,
  chosen,
  onChoose,
  onDrop,
}: {
  readonly w: WatchedView;
  readonly chosen: boolean;
  readonly onChoose: () => void;
  readonly onDrop: (() => void) | undefined;
}) {
  const [was, is] = [wayWords(w.before), wayWords(w.after)];
  const lost = w.after.fate !== 'delivered' && w.after.fate !== 'leaves';
  return (
    <li className={`border-b border-fine py-1 ${chosen ? 'bg-paper' : ''}`}>
      <span className="flex items-baseline">
        <button type="button" className="link min-w-0 flex-1 truncate text-left" aria-pressed={chosen} onClick={onChoose}>
          {w.from} → {w.to}
        </button>
        {onDrop && (
          <button type="button" className="link" aria-label={`Follow no more: ${w.word}`} onClick={onDrop}>
            ×
          </button>
        )}
      </span>
      {was === is ? (
        <span className="block text-ink2">{is}, as before</span>
      ) : (
        <>
          <span className="block text-ink2">before: {was}</span>
          <span className={`block ${lost ? 'text-accent' : ''}`}>now: {is}</span>
        </>
      )}
    </li>
  );
}
