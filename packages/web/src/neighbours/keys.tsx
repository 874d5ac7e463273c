'use client';

import type { KeySpan, NewKey } from '@gentle-compass/core/neighbours/key-times';
import { useState } from 'react';
import { makeChange } from '../model/history';
import { go } from '../model/moving';
import type { KeysView, ProvingView } from '../model/neighbours-view';
import { useStore } from '../model/state';
import { Panel, Section } from '../parts/panel';
import { useAnswer } from '../parts/use-answer';
import { count, listWords } from '../parts/words';
import { workbench } from '../worker/client';
import { KeyAxis } from './key-axis';
import { NeighboursHead } from './neighbours-head';
import { moment } from './moments';

/** How neighbours prove themselves: mode, key id and algorithm on both sides, keys over time, and a change of key rehearsed. */
export function Keys() {
  const view = useStore((s) => s.view);
  const documents = useStore((s) => s.design?.documents);
  const chosen = useStore((s) => s.pair);
  const list = useAnswer(() => workbench().neighbours.proving(), [view?.routers, documents]);
  const pair = list?.find((p) => p.pair === chosen) ?? list?.[0];
  const answer = useAnswer(async () => (pair ? await workbench().neighbours.keys(pair.pair) : null), [pair?.pair, view?.routers, documents]);
  const keys = answer?.pair === pair?.pair ? answer : undefined;
  const apart = list?.filter((p) => !p.together).length ?? 0;
  return (
    <div className="stage">
      <div className="flex min-h-0 min-w-0 flex-1 flex-col">
        <NeighboursHead>
          {list && list.length > 0 && (
            <span className="ml-auto text-ink2">
              {count(list.length, 'pair')} with keys, {apart === 0 ? 'all take each other’s packets' : `${apart} apart`}
            </span>
          )}
        </NeighboursHead>
        <div className="min-h-0 flex-1 overflow-y-auto px-4 pb-4" tabIndex={0} role="region" aria-label="Keys of pairs">
          {list?.length === 0 && (
            <p className="rounded border border-rule bg-sheet p-4 text-ink2">
              No interface has a key and none requires one: hellos are taken without proof. Give keys in the documents (a key, or a key chain), and
              their pairs stand here.
            </p>
          )}
          {list && list.length > 0 && (
            <table className="w-full rounded border border-rule bg-sheet" aria-label="Pairs and how they prove themselves">
              <thead className="text-ink2">
                <tr>
                  <th className="py-1 pl-4 text-left font-normal">one end</th>
                  <th className="py-1 pl-3 text-left font-normal">proves itself with</th>
                  <th className="py-1 pl-3 text-left font-normal">other end</th>
                  <th className="py-1 pl-3 text-left font-normal">proves itself with</th>
                  <th className="py-1 pr-4 pl-3 text-left font-normal">so they</th>
                </tr>
              </thead>
              <tbody>
                {list.slice(0, 400).map((p) => (
                  <ProvingRow key={p.pair} of={p} chosen={p === pair} />
                ))}
              </tbody>
            </table>
          )}
          {list && list.length > 400 && <p className="mt-2 text-ink2">…and {count(list.length - 400, 'pair')} more.</p>}
          {pair && keys && <KeyAxis keys={keys} a={pair.a.router} b={pair.b.router} />}
        </div>
      </div>
      <Panel label="About the keys">
        {pair && keys ? (
          <About key={pair.pair} of={pair} keys={keys} />
        ) : (
          <p className="text-ink2">Keys are compared, and never shown unless you ask for one.</p>
        )}
      </Panel>
    </div>
  );
}

function ProvingRow({ of: p, chosen }: { readonly of: ProvingView; readonly chosen: boolean }) {
  return (
    <tr className={`border-t border-fine align-top ${chosen ? 'bg-paper' : ''}`} data-proving={p.pair}>
      <td className="py-1 pl-4">
        <button type="button" className="text-left hover:underline" aria-pressed={chosen} onClick={() => go({ pair: p.pair })}>
          {p.a.router} <span className="font-mono text-xs text-ink2">{p.a.iface}</span>
        </button>
      </td>
      <td className="py-1 pl-3">
        {p.a.words}
        {p.a.chain !== '' && <span className="text-ink2"> of “{p.a.chain}”</span>}
      </td>
      <td className="py-1 pl-3">
        {p.b.router} <span className="font-mono text-xs text-ink2">{p.b.iface}</span>
      </td>
      <td className="py-1 pl-3">
        {p.b.words}
        {p.b.chain !== '' && <span className="text-ink2"> of “{p.b.chain}”</span>}
      </td>
      <td className={`py-1 pr-4 pl-3 ${!p.together ? 'font-semibold text-accent' : p.partsAt !== undefined ? 'text-caution' : 'text-settled'}`}>
        {!p.together ? `are apart: ${p.why}` : p.partsAt !== undefined ? `part on ${moment(p.partsAt)}` : 'take each other’s packets'}
      </td>
    </tr>
  );
}

const spanWords = (s: KeySpan): string =>
  s.aTakes && s.bTakes
    ? 'both are taken'
    : !s.aTakes && !s.bTakes
      ? 'neither takes the other’s packets'
      : 'one takes the other’s packets, not the other way round';

function About({ of, keys }: { readonly of: ProvingView; readonly keys: KeysView }) {
  return (
    <>
      <h2 className="text-xl">
        {of.a.router} and {of.b.router}
      </h2>
      <p className={keys.together ? 'text-ink2' : 'text-accent'}>
        {!keys.together
          ? `They do not take each other’s packets now: ${of.why}.`
          : keys.partsAt === undefined
            ? 'They take each other’s packets, and go on doing so.'
            : `They take each other’s packets until ${moment(keys.partsAt)}; then they part.`}
      </p>
      {keys.spans.length > 1 && (
        <Section title="Stretch by stretch">
          <ul>
            {keys.spans.map((s) => (
              <li key={String(s.from)} className="border-b border-fine py-0.5">
                <span className="text-ink2">{s.from === undefined ? 'at first' : `from ${moment(s.from)}`}</span>:{' '}
                {s.a === s.b ? s.a : `${s.a} against ${s.b}`};{' '}
                <span className={s.aTakes && s.bTakes ? 'text-settled' : 'text-accent'}>{spanWords(s)}</span>
              </li>
            ))}
          </ul>
        </Section>
      )}
      <Section title="The keys">
        {(['a', 'b'] as const).map((side) => (
          <SideKeys key={side} side={side} router={of[side].router} keys={keys} />
        ))}
      </Section>
      <Rehearsal of={of} keys={keys} />
      <div className="mt-4">
        <button type="button" className="control" onClick={() => go({ meet: 'pairs', face: 'values', pair: of.pair })}>
          Side by side
        </button>
      </div>
    </>
  );
}

function SideKeys({ side, router, keys }: { readonly side: 'a' | 'b'; readonly router: string; readonly keys: KeysView }) {
  const [shown, show] = useState<Readonly<Record<number, string>>>({});
  const lines = keys.lines.filter((l) => l.side === side);
  const shared = keys.shared[side];
  return (
    <div className="mb-1.5">
      <strong className="font-semibold">{router}</strong>
      {lines.length === 0 && <span className="text-ink2"> has no key.</span>}
      {shared.length > 0 && <span className="text-ink2"> uses the same chain on {listWords(shared)}: a change touches these neighbours too.</span>}
      <ul>
        {lines.map((l) => (
          <li key={l.id} className="flex flex-wrap items-baseline gap-x-2 border-b border-fine py-0.5">
            <span className="font-mono text-xs">
              {l.id} {l.algorithm === 'none' ? 'clear text' : l.algorithm}
            </span>
            <span className={l.sameAs.length > 0 ? 'text-settled' : 'text-accent'}>
              {l.sameAs.length > 0 ? '= the other end’s' : l.unlike.length > 0 ? `≠ ${l.unlike.join(', ')}` : 'the other end has none of this id'}
            </span>
            {keys.revealable[side].includes(l.id) &&
              (shown[l.id] === undefined ? (
                <button
                  type="button"
                  className="link ml-auto"
                  onClick={() =>
                    void workbench()
                      .neighbours.reveal(keys.pair, side, l.id)
                      .then((text) => show({ ...shown, [l.id]: text ?? '' }))
                  }
                >
                  Show the key
                </button>
              ) : (
                <button
                  type="button"
                  className="link ml-auto font-mono text-xs"
                  onClick={() => show(Object.fromEntries(Object.entries(shown).filter(([id]) => Number(id) !== l.id)))}
                >
                  {shown[l.id]} · hide
                </button>
              ))}
          </li>
        ))}
      </ul>
    </div>
  );
}

/** A change of key on a live pair, tried before anything is touched. */
function Rehearsal({ of, keys }: { readonly of: ProvingView; readonly keys: KeysView }) {
  const [secret, setSecret] = useState('');
  const [hours, setHours] = useState('24');
  const [plain, setPlain] = useState(of.a.chain === '' || of.b.chain === '');
  const documents = useStore((s) => s.design?.documents);
  const wait = Number(hours);
  const next: NewKey = {
    id: keys.freeId,
    algorithm: keys.lines[0]?.algorithm ?? 'hmac-sha-256',
    secret: secret || 'not chosen yet',
    from: keys.now + wait * 3_600_000,
    apart: 60_000,
  };
  const right = hours.trim() !== '' && Number.isFinite(wait) && wait > 0;
  const rehearsal = useAnswer(
    async () => (right ? await workbench().neighbours.rehearse(of.pair, next, plain) : null),
    [of.pair, keys.now, keys.freeId, secret, hours, plain, documents],
  );
  return (
    <Section title="A change of key, rehearsed">
      <div className="flex flex-wrap items-end gap-1.5">
        <label className="text-ink2">
          new key {next.id}
          <input
            type="password"
            autoComplete="off"
            className="field mt-0.5 block w-32"
            aria-label="The new key"
            value={secret}
            onChange={(e) => setSecret(e.target.value)}
          />
        </label>
        <label className="text-ink2">
          in hours
          <input
            className="field mt-0.5 block w-16 text-right"
            aria-label="Hours until it is sent"
            inputMode="decimal"
            value={hours}
            onChange={(e) => setHours(e.target.value)}
          />
        </label>
        <label className="flex items-center gap-1.5 pb-1 text-ink2">
          <input type="checkbox" checked={plain} onChange={(e) => setPlain(e.target.checked)} /> just replaced
        </label>
      </div>
      {!right && <p className="mt-1 text-accent">Hours: a number above 0.</p>}
      {rehearsal && (
        <>
          <ol className="mt-1.5 list-decimal pl-5" aria-label="Steps of the change">
            {rehearsal.steps.map((s) => (
              <li key={s.words} className="border-b border-fine py-0.5">
                {s.words}:{' '}
                <span className={s.holds ? 'text-settled' : 'text-accent'}>
                  {s.holds ? 'the pair lives' : `the pair is lost unless the next follows within ${s.withinS ?? 0} s`}
                </span>
              </li>
            ))}
          </ol>
          <p className="mt-1" data-testid="rehearsed">
            {rehearsal.safe
              ? 'Nothing is lost at any step, with clocks up to a minute apart.'
              : plain
                ? 'A key without lifetimes cannot change on both ends at once: the pair lives only if the second follows in time. Keys of a chain, with lifetimes, lose nothing.'
                : 'Not without losing the pair.'}
          </p>
          {rehearsal.safe && rehearsal.edits.length > 0 && (
            <div className="mt-1 flex flex-wrap gap-1.5">
              <button
                type="button"
                className="control"
                disabled={secret === ''}
                onClick={() =>
                  void makeChange(
                    `Key ${next.id} on both ends of ${of.a.router} and ${of.b.router}`,
                    rehearsal.edits.flatMap((e) => e.edits),
                  )
                }
              >
                Write it into {count(rehearsal.edits.length, 'chain')}
              </button>
              {secret === '' && <span className="text-ink2">Type the key first.</span>}
            </div>
          )}
        </>
      )}
    </Section>
  );
}
