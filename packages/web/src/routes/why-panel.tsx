'use client';

import type { EvidenceStep } from '@gentle-compass/core/evidence/route-evidence';
import { go } from '../model/moving';
import type { EvidenceView, RouteRow } from '../model/view';
import { DocumentLines } from '../parts/document-lines';
import { Panel, Section } from '../parts/panel';
import { RouterLink } from '../parts/router-link';
import { areaName, count, listWords } from '../parts/words';

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

/** Why a route is as it is: from the sentence down to the lines of the document. */
export function WhyPanel({ evidence, row }: { readonly evidence: EvidenceView | null | undefined; readonly row: RouteRow | undefined }) {
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
      <DocumentLines lines={evidence?.lines ?? []} />
    </Panel>
  );
}
