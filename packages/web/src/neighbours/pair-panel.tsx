'use client';

import { go } from '../model/moving';
import type { DesignView, PairView } from '../model/view';
import { Acceptance, Because, Beneath, Cost, FindingCard } from '../parts/finding-card';
import { standsAlone } from '../model/causes';
import { Section } from '../parts/panel';
import { byName } from '../parts/words';
import { stageOfRule } from '../parts/stage-of-rule';
import { RepairLines } from './repair-lines';

export function PairPanel({ view, pair: p }: { readonly view: DesignView; readonly pair: PairView }) {
  const finding = view.findings.find((f) => f.id === p.finding);
  const subnets = view.segments.find((s) => s.index === p.segment)?.subnets ?? [];
  return (
    <>
      <p className="text-ink2">
        {subnets.length > 0 ? (
          <>
            pair on <span className="font-mono">{subnets.join(', ')}</span>
          </>
        ) : view.family === 6 ? (
          'pair by link-local addresses alone'
        ) : (
          'pair on an unnumbered link'
        )}
      </p>
      <h2 className="text-xl">
        {p.a.router} and {p.b.router}{' '}
        {p.kind === 'full'
          ? 'are full neighbours'
          : p.kind === 'rests'
            ? 'rest as they should'
            : p.kind === 'down'
              ? 'are down'
              : p.word.startsWith('stuck')
                ? 'are stuck'
                : p.word.startsWith('full')
                  ? 'reach Full for nothing'
                  : 'stay apart'}
      </h2>
      {finding ? (
        <>
          {finding.seen !== undefined && (
            <Section title="Seen on the devices">
              <p>{finding.seen}</p>
            </Section>
          )}
          <Section title="What follows">
            <Cost
              finding={finding}
              otherwise={
                finding.repairs.length > 0
                  ? 'No route in any table depends on it now.'
                  : 'What depends on it is not known: mending it takes more than an edit of a line.'
              }
            />
          </Section>
          <Section title="Mend it">
            {finding.repairs.map((r) => (
              <RepairLines key={r.title} repair={r} family={finding.family} />
            ))}
          </Section>
          <Because finding={finding} />
          <Beneath finding={finding} />
          <Acceptance finding={finding} />
          <p className="mt-3 text-xs text-ink2">{finding.rfc}</p>
        </>
      ) : (
        <>
          <Section title="Where each side rests">
            {[p.a, p.b].map((s) => (
              <p key={s.router} className="mb-1">
                <strong className="font-semibold">
                  {s.router}: {s.state}
                </strong>
                , {s.words}.
              </p>
            ))}
          </Section>
          <Section title="Cost">
            <p>
              {p.a.router} to {p.b.router} <span className="font-mono">{p.a.cost}</span>, back <span className="font-mono">{p.b.cost}</span>
            </p>
          </Section>
        </>
      )}
      <div className="mt-4">
        <button type="button" className="control" onClick={() => go({ stage: 'layout', segment: p.segment, router: undefined })}>
          Show it on the map
        </button>
      </div>
      <OtherFindings view={view} except={p.finding} />
    </>
  );
}

/** Beside the pairs while none is opened: where they rest, counted. */
export function NoPair({ view }: { readonly view: DesignView }) {
  const words = new Map<string, number>();
  for (const p of view.pairs) words.set(p.word, (words.get(p.word) ?? 0) + 1);
  return (
    <>
      <h2 className="text-xl">Choose a pair</h2>
      <p className="text-ink2">to see where each side rests, and every value on which the two must agree.</p>
      {words.size > 0 && (
        <Section title="Where pairs rest">
          <ul>
            {[...words]
              .sort(([a], [b]) => byName(a, b))
              .map(([word, n]) => (
                <li key={word} className="flex border-b border-fine py-0.5">
                  {word}
                  <span className="ml-auto font-mono">{n.toLocaleString('en-GB')}</span>
                </li>
              ))}
          </ul>
        </Section>
      )}
      <OtherFindings view={view} />
    </>
  );
}

/** Findings of this stage that no pair carries: one end that is not in OSPF, keys. */
function OtherFindings({ view, except }: { readonly view: DesignView; readonly except?: string | null }) {
  const rest = view.findings.filter(
    (f) => stageOfRule(f.rule) === 'neighbours' && f.id !== except && standsAlone(f, view.findings) && !view.pairs.some((p) => p.finding === f.id),
  );
  if (rest.length === 0) return null;
  return (
    <Section title="Also here">
      {rest.map((f) => (
        <FindingCard key={f.id} finding={f} mend />
      ))}
    </Section>
  );
}
