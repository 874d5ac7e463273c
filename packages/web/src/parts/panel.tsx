import type { ReactNode } from 'react';

/** The side panel of a stage: what is chosen, and what can be done about it. */
export function Panel({ label, children }: { readonly label: string; readonly children: ReactNode }) {
  return (
    <aside
      aria-label={label}
      tabIndex={0}
      className="w-[clamp(316px,23vw,460px)] shrink-0 overflow-y-auto border-l border-rule bg-sheet px-4 py-3.5 max-[899px]:w-full max-[899px]:border-t max-[899px]:border-l-0"
    >
      {children}
    </aside>
  );
}

/** A part of a panel under its heading. */
export function Section({ title, children }: { readonly title: string; readonly children: ReactNode }) {
  return (
    <section className="mt-4">
      <h3 className="heading mb-1">{title}</h3>
      {children}
    </section>
  );
}

/** A state in words, framed: settled, resting, in trouble. */
export function Tag({ kind, children }: { readonly kind: 'full' | 'rests' | 'trouble' | 'down'; readonly children: ReactNode }) {
  const colours = {
    full: 'border-settled bg-settledground text-settled',
    rests: 'border-rule bg-sheet text-ink2',
    trouble: 'border-accent bg-accentground text-accent',
    down: 'border-dashed border-ink3 text-ink2',
  }[kind];
  return <span className={`inline-block rounded border px-2 py-px font-semibold whitespace-nowrap ${colours}`}>{children}</span>;
}
