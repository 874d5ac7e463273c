'use client';

import type { LineChange } from '@gentle-compass/core/compare/document-changes';
import { count } from '../parts/words';

/** A node's place without what every document has in front of it. */
export const shortPath = (path: string): string =>
  path
    .replace(/^routing\/control-plane-protocols\/control-plane-protocol\[[^\]]*\]\/ospf\//, '')
    .replace(/^interfaces\/interface\[([^\]]*)\]/, 'interface $1')
    .replace(/areas\/area\[([^\]]*)\]/, 'area $1')
    .replace(/interfaces\/interface\[([^\]]*)\]/, 'interface $1')
    .replace(/\/?ranges\/range\[([^\]]*)\]/, '/range $1');

const clipped = (text: string): string => (text.length > 150 ? `${text.slice(0, 149)}…` : text);

/** Configuration lines that differ, router by router: what was struck through, what is now. */
export function LineList({ lines, atMost }: { readonly lines: readonly LineChange[]; readonly atMost: number }) {
  const shown = lines.slice(0, atMost);
  return (
    <>
      <table className="w-full table-fixed text-[12.5px]">
        <caption className="sr-only">Configuration lines</caption>
        <colgroup>
          <col className="w-[110px]" />
          <col className="w-[34%]" />
          <col />
        </colgroup>
        <thead className="sr-only">
          <tr>
            <th>router</th>
            <th>node</th>
            <th>before and now</th>
          </tr>
        </thead>
        <tbody>
          {shown.map((l, n) => (
            <tr key={`${l.file} ${l.path}`} className="border-b border-fine align-top">
              <td className="truncate py-0.5 pr-2" title={l.router}>
                {shown[n - 1]?.router === l.router ? <span className="sr-only">{l.router}</span> : l.router}
              </td>
              <td className="py-0.5 pr-2 break-words text-ink2" title={l.path}>
                {shortPath(l.path) || 'document'}
              </td>
              <td className="py-0.5 font-mono text-xs break-words">
                {l.from !== undefined && (
                  <del className="text-ink3">
                    <span className="sr-only">before: </span>
                    {clipped(l.from)}
                  </del>
                )}
                {l.from !== undefined && l.to !== undefined && ' '}
                {l.to !== undefined && (
                  <ins className="no-underline">
                    <span className="sr-only">now: </span>
                    {clipped(l.to)}
                  </ins>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {lines.length > atMost && <p className="pt-1 text-ink2">and {count(lines.length - atMost, 'more line')}</p>}
    </>
  );
}
