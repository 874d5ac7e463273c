import type { ElectionView } from '../model/view';

/** Segments on which others lead than before. */
export function Elections({ list }: { readonly list: readonly ElectionView[] }) {
  return (
    <ul>
      {list.slice(0, 60).map((e) => (
        <li key={e.name} className="border-b border-fine py-0.5">
          <span className="font-mono text-xs">{e.name}</span> <span className="text-ink2">{e.before} →</span> {e.after}
        </li>
      ))}
    </ul>
  );
}
