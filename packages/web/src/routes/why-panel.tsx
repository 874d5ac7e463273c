'use client';

import type { EvidenceStep } from '@gentle-compass/core/evidence/route-evidence';
import type { LostWay } from '@gentle-compass/core/evidence/lost-ways';
import { go } from '../model/moving';
import type { WhyNotView } from '../model/reach-view';
import type { EvidenceView, RouteRow } from '../model/view';
import { DocumentLines } from '../parts/document-lines';
import { Panel, Section } from '../parts/panel';
import { RouterLink } from '../parts/router-link';
import { areaName, count, listWords } from '../parts/words';
import { hostWord } from './reason-words';
import { WhyAbsent } from './said';
import { expectThis, traceTo } from './steps';

const typeNames: Record<number, string> = {
  1: 'router',
  2: 'network',
  3: 'summary',
  4: 'boundary-router summary',
  5: 'external',
  7: 'NSSA external',
  0x2001: 'router',
  0x2002: 'network',
  0x2003: 'inter-area prefix',
  0x2004: 'inter-area router',
  0x4005: 'external',
  0x2007: 'NSSA external',
  0x2009: 'intra-area prefix',
};

/** A type as the version writes it: a small number, or the whole LS type (RFC 5340 A.4.2.1). */
const typeNumber = (type: number): string => (type < 16 ? String(type) : `0x${type.toString(16)}`);

const sourceWords: Record<string, string> = {
  direct: 'an own interface',
  static: 'a static route',
  ospf: 'OSPF',
  other: 'another protocol',
  'ospf-discard': 'the discard route of a summary of its own',
};

/** One step of the chain as a sentence, with its parts as links. */
function Step({ step }: { readonly step: EvidenceStep }) {
  switch (step.kind) {
    case 'own-table':
      return (
        <p>
          The table takes it from <strong className="font-semibold">{sourceWords[step.source]}</strong> (preference {step.preference})
          {step.passedOver.length > 0 &&
            `, before ${step.passedOver.map((p) => `${sourceWords[p.source] ?? p.source} (${p.preference})`).join(', ')}`}
          .
        </p>
      );
    case 'rule':
      return (
        <p>
          OSPF has it as <strong className="font-semibold">{step.type}</strong> at cost <span className="font-mono">{step.metric}</span>
          {step.forwardMetric !== undefined && (
            <>
              {' '}
              and <span className="font-mono">{step.forwardMetric}</span> to the exit
            </>
          )}
          , by way of {areaName(step.area).replace('Area', 'area')} ({step.rule}).
        </p>
      );
    case 'advertisement':
      return (
        <details>
          <summary className="cursor-pointer">
            Type {typeNumber(step.lsa.type)} ({typeNames[step.lsa.type]}) of <strong className="font-semibold">{step.origin.router}</strong>: it{' '}
            {step.says}.
          </summary>
          <dl className="mt-1 grid grid-cols-[auto_1fr] gap-x-3 font-mono text-xs text-ink2">
            <dt>id</dt>
            <dd>{step.lsa.id}</dd>
            <dt>from</dt>
            <dd>{step.lsa.adv}</dd>
          </dl>
          <pre
            className="mt-1 max-h-52 overflow-auto rounded border border-fine bg-paper p-2 font-mono text-xs"
            tabIndex={0}
            aria-label="Body of the advertisement"
          >
            {JSON.stringify(step.body, null, 1)}
          </pre>
        </details>
      );
    case 'path':
      return step.steps.length < 2 ? (
        <p>It is the router itself.</p>
      ) : (
        <div>
          <p>
            The tree reaches {step.to} at <span className="font-mono">{step.distance}</span>
            {step.alsoVia > 0 && `, over more than one equal way; one of them`}:
          </p>
          <ol className="mt-0.5">
            {step.steps.map((s, i) => (
              <li key={s.router + String(i)} className="flex gap-2">
                <span className="w-9 shrink-0 text-right font-mono text-ink2">{s.distance}</span>
                <span>
                  <RouterLink name={s.router} />
                  {s.throughNetwork !== undefined && <span className="text-ink2"> over LAN {s.throughNetwork}</span>}
                </span>
              </li>
            ))}
          </ol>
        </div>
      );
    case 'discard':
      return (
        <p>
          {step.origin.router} summarises {step.origin.node === 'ranges' ? areaName(step.origin.area).replace('Area', 'area') : 'externals'} so, and
          drops what none of its {count(step.parts.length, 'part')} takes:{' '}
          <span className="font-mono text-xs">
            {step.parts.slice(0, 8).join(', ')}
            {step.parts.length > 8 ? `, and ${step.parts.length - 8} more` : ''}
          </span>
          .
        </p>
      );
    case 'at-border':
      return (
        <p>
          At {step.router} itself:{' '}
          {step.prefixes.length === 1 ? (
            <span className="font-mono text-xs">{step.prefixes[0]}</span>
          ) : (
            `${step.prefixes.length} prefixes behind it (${step.prefixes.slice(0, 3).join(', ')}${step.prefixes.length > 3 ? ', …' : ''})`
          )}{' '}
          {step.prefixes.length === 1 ? 'stands' : 'stand'} in{' '}
          <button type="button" className="link" onClick={() => go({ stage: 'routes', router: step.router, prefix: undefined })}>
            its own table
          </button>
          .
        </p>
      );
  }
}

/** The line as it stands, to be expected. */
function expectedOf(router: string, row: RouteRow): Record<string, string> {
  const hop = row.hops.find((h) => h.router !== '')?.router ?? '';
  return {
    name: `${router} has ${row.prefix}`,
    kind: 'route',
    router,
    prefix: row.prefix,
    via: row.hops.length === 1 ? hop : '',
    type: /^(intra|inter|external|nssa)/.test(row.type) ? row.type : '',
    ...(row.change === 'lost' ? { absent: 'yes', via: '', type: '' } : {}),
  };
}

const lostWords = (w: LostWay): string => {
  switch (w.lost) {
    case 'no-route':
      return 'has no route to it';
    case 'comes-back':
      return 'its own way comes back over here';
    case 'kind':
      return `has it as ${w.type ?? ''} only, which comes after, whatever it costs`;
    case 'outside-metric':
      return 'has it at a higher metric outside, which decides first';
    case 'cost':
      return `${w.more} more`;
    case 'equal':
      return 'as good, and not used: the number of equal ways is limited, or it is of another area';
  }
};

/** By each other neighbour: what it would cost, and the first point at which it lost. */
function LostWays({ lost, best }: { readonly lost: readonly LostWay[]; readonly best: number | null }) {
  return (
    <ul aria-label="Ways that lost">
      {lost.slice(0, 12).map((w) => (
        <li key={`${w.router} ${w.iface}`} className="border-b border-fine py-0.5">
          <RouterLink name={w.router} /> <span className="text-ink2">out {w.iface}</span>
          <span className="block text-ink2">
            {w.lost === 'cost' && w.beyond !== null ? (
              <>
                <span className="font-mono text-xs">
                  {w.link} + {w.beyond} = {w.link + w.beyond}
                </span>
                , {lostWords(w)}
                {best !== null && <> than {best}</>}
              </>
            ) : (
              lostWords(w)
            )}
            .
          </span>
        </li>
      ))}
      {lost.length > 12 && <li className="text-ink2">and {lost.length - 12} more</li>}
    </ul>
  );
}

/** Why a route is as it is: from the sentence down to the lines of the document. */
export function WhyPanel({
  evidence,
  row,
  whyNot,
  router,
}: {
  readonly evidence: EvidenceView | null | undefined;
  readonly row: RouteRow | undefined;
  readonly whyNot?: WhyNotView | undefined;
  readonly router: string;
}) {
  if (!row) return null;
  const hops = row.hops.map((h) => h.router || `its interface ${h.iface}`);
  return (
    <Panel label="Why">
      <p className="text-ink2">why</p>
      <h2 className="font-mono text-lg">{row.prefix}</h2>
      <p>
        {row.change === 'lost'
          ? `The route is lost. It was ${row.before}.`
          : hops.length > 0
            ? `Goes to ${listWords(hops)}.`
            : 'Packets to it are dropped here.'}
      </p>
      <div className="mt-2 flex flex-wrap gap-1.5">
        <button type="button" className="control" onClick={() => traceTo(router, hostWord(row.prefix))}>
          Trace
        </button>
        <button type="button" className="control" onClick={() => go({ look: 'prefix' })}>
          In all routers
        </button>
        <button type="button" className="control" onClick={() => expectThis(expectedOf(router, row))}>
          Expect this
        </button>
      </div>
      {row.change === 'lost' && whyNot?.absence && (
        <Section title="Why it is not there">
          <WhyAbsent absence={whyNot.absence} />
        </Section>
      )}
      {evidence && (
        <Section title="Because">
          <ol className="space-y-2.5">
            {evidence.steps.map((s, i) => (
              <li key={i}>
                <Step step={s} />
              </li>
            ))}
          </ol>
        </Section>
      )}
      {whyNot && whyNot.lost.length > 0 && (
        <Section title="Ways that lost">
          <LostWays lost={whyNot.lost} best={row.metric} />
        </Section>
      )}
      <DocumentLines lines={evidence?.lines ?? []} />
    </Panel>
  );
}
