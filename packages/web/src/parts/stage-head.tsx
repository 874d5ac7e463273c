import type { ReactNode } from 'react';

/** The head of every view of a stage: its name, the way to the others, and what is particular to it. */
export function StageHead<View extends string>({
  title,
  label,
  views,
  chosen,
  onChoose,
  children,
}: {
  readonly title: string;
  /** What the buttons choose between. */
  readonly label: string;
  readonly views: Readonly<Record<View, string>>;
  readonly chosen: View;
  readonly onChoose: (view: View) => void;
  readonly children?: ReactNode;
}) {
  return (
    <header className="flex flex-wrap items-center gap-x-3 gap-y-2 px-4 pt-3 pb-2">
      <h1 className="text-xl">{title}</h1>
      <span className="flex flex-wrap gap-1" role="group" aria-label={label}>
        {(Object.keys(views) as View[]).map((v) => (
          <button key={v} type="button" className="control" aria-pressed={v === chosen} onClick={() => onChoose(v)}>
            {views[v]}
          </button>
        ))}
      </span>
      {children}
    </header>
  );
}
