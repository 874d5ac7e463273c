'use client';

import type { FlowPrefix, PolicyFlow } from '@gentle-compass/core/areas/policy-flow';
import { count } from './words';

/** Prefixes of a line at once; the others are counted. */
const shown = 24;

const resultWords = { accept: 'takes', reject: 'refuses', on: 'lets on' } as const;
const colours = { accept: 'text-settled', reject: 'text-accent', on: 'text-ink2' } as const;

function Prefixes({ list }: { readonly list: readonly FlowPrefix[] }) {
  if (list.length === 0) return <span className="text-ink3">none</span>;
  return (
    <span className="font-mono text-xs">
      {list.slice(0, shown).map((l, n) => (
        <span key={l.prefix}>
          {n > 0 && ', '}
          {l.prefix}
          {l.gives !== '' && <span className="font-sans text-ink2"> {l.gives}</span>}
        </span>
      ))}
      {list.length > shown && <span className="font-sans text-ink2"> and {list.length - shown} more</span>}
    </span>
  );
}

/** One place where policies decide: statement by statement, what of the prefixes that are there each takes, refuses or leaves to the next. */
export function PolicyFlowTable({ flow: f }: { readonly flow: PolicyFlow }) {
  return (
    <table
      className="w-full border-separate border-spacing-0 rounded border border-rule bg-sheet"
      aria-label={`What ${f.policies.join(', ')} does over ${f.over}`}
    >
      <thead className="text-left text-ink2">
        <tr>
          <th scope="col" className="w-[38%] px-3 py-1 font-normal">
            statement
          </th>
          <th scope="col" className="w-14 px-2 py-1 text-right font-normal">
            of now
          </th>
          <th scope="col" className="px-3 py-1 font-normal">
            prefixes
          </th>
        </tr>
      </thead>
      <tbody>
        {f.steps.map((s) => (
          <tr key={`${s.policy} ${s.statement}`}>
            <th scope="row" className="border-t border-fine px-3 py-1 text-left align-top font-normal">
              <span className="font-mono text-xs text-ink2">
                {f.policies.length > 1 || s.policy !== f.policies[0] ? `${s.policy}/${s.statement}` : s.statement}
              </span>{' '}
              {s.words}
            </th>
            <td
              className={`border-t border-fine px-2 py-1 text-right align-top font-mono text-[12.5px] ${s.prefixes.length === 0 ? 'text-ink3' : colours[s.result]}`}
              title={resultWords[s.result]}
            >
              {s.prefixes.length.toLocaleString('en-GB')}
            </td>
            <td className="border-t border-fine px-3 py-1 align-top">
              <Prefixes list={s.prefixes} />
            </td>
          </tr>
        ))}
        <tr>
          <th scope="row" className="border-t border-fine px-3 py-1 text-left align-top font-normal text-ink2">
            what none of them takes is refused
          </th>
          <td
            className={`border-t border-fine px-2 py-1 text-right align-top font-mono text-[12.5px] ${f.rest.length === 0 ? 'text-ink3' : 'text-accent'}`}
          >
            {f.rest.length.toLocaleString('en-GB')}
          </td>
          <td className="border-t border-fine px-3 py-1 align-top">
            <Prefixes list={f.rest} />
          </td>
        </tr>
      </tbody>
    </table>
  );
}

/** How much of what comes passes, in words. */
export const passedWords = (f: PolicyFlow): string => {
  const all = f.rest.length + f.steps.reduce((n, s) => n + s.prefixes.length, 0);
  return all === 0 ? 'nothing comes here' : `${count(f.passed, 'prefix', 'prefixes')} of ${all} ${f.passed === 1 ? 'passes' : 'pass'}`;
};
