'use client';

import { setFailures } from '../model/failing';
import type { DesignView } from '../model/view';
import { Section } from '../parts/panel';
import { count } from '../parts/words';
import { EveryCutPanel } from './every-cut';
import { Risks } from './risks';
import { SinglePoints } from './single-points';
import type { SweepState } from './use-sweep';

/** What can be asked while nothing is down: what stands alone, what is kept, what fails together, and every cut. */
export function NothingDown({
  view,
  sweep,
  nameOf,
}: {
  readonly view: DesignView;
  readonly sweep: SweepState | undefined;
  readonly nameOf: (word: string) => string;
}) {
  return (
    <>
      <h2 className="text-xl">What if…</h2>
      <p className="text-ink2">
        Point at a link or a router to see what its loss would change; a click takes it down. “Cut across” draws a cut over the map, and “walk over
        all” goes from one to the next by the arrow keys. Several go down in the order you choose.
      </p>
      <Scenarios view={view} />
      <SinglePoints state={sweep} nameOf={nameOf} />
      <EveryCutPanel view={view} />
      <Risks view={view} nameOf={nameOf} />
      <Section title="Up now">
        <p>
          {count(view.pairs.filter((p) => p.kind === 'full').length, 'pair')} full
          {view.routeCount !== null && `, ${count(view.routeCount, 'route')} in ${count(view.routers.length, 'table')}`}.
        </p>
      </Section>
    </>
  );
}

/** Failures that are kept under a name: one click tries them on the design as it is now. */
function Scenarios({ view }: { readonly view: DesignView }) {
  if (view.scenarios.length === 0) return null;
  return (
    <Section title="Kept failures">
      <ul aria-label="Kept failures">
        {view.scenarios.map((s) => (
          <li key={s.name} className="border-b border-fine py-0.5">
            <button type="button" className="link text-left" onClick={() => void setFailures(s.fail)}>
              {s.name}
            </button>{' '}
            <span className="text-ink2">{s.note === '' ? s.fail.join(', ') : s.note}</span>
          </li>
        ))}
      </ul>
    </Section>
  );
}
