'use client';

import type { AreaGlance } from '@gentle-compass/core/areas/glance';
import { go } from '../model/moving';
import { useStore } from '../model/state';
import { AreaName } from '../parts/area-name';
import { useAnswer } from '../parts/use-answer';
import { someOf } from '../parts/words';
import { workbench } from '../worker/client';
import { AreaPanel } from './area-panel';
import { attachedWords, kindWords, loadBySource, sourceCounts, sourceFill, sources, sourceWords, totalOf } from './area-words';
import { AreasHead } from './areas-head';

/** Every area at one look: its type, who stands at its border, how it hangs on the backbone, and its load. */
export function Glance() {
  const view = useStore((s) => s.view);
  const chosen = useStore((s) => s.area);
  const areas = useAnswer(() => workbench().areas.glance(), [view]);
  if (!areas) return <AreasHead />;
  const open = areas.find((a) => a.id === chosen) ?? areas.find((a) => troublesOf(a).length > 0) ?? areas[0];
  const most = Math.max(1, ...areas.map((a) => totalOf(a.load)));
  return (
    <div className="stage">
      <div className="flex min-h-0 min-w-0 flex-1 flex-col">
        <AreasHead>
          <span className="ml-auto flex gap-3 text-ink2">
            What comes from
            {sources.map((s) => (
              <span key={s} className="flex items-center gap-1">
                <span className="inline-block size-2.5" style={{ background: sourceFill[s] }} />
                {sourceWords[s]}
              </span>
            ))}
          </span>
        </AreasHead>
        <div className="min-h-0 flex-1 overflow-y-auto px-4 pb-4" tabIndex={0} role="region" aria-label="Areas of the design">
          {areas.length === 0 ? (
            <p className="rounded border border-rule bg-sheet p-4 text-ink2">No router runs OSPF of this family yet.</p>
          ) : (
            <AreaTable areas={areas} chosen={open?.id} most={most} />
          )}
        </div>
      </div>
      {open && <AreaPanel area={open} />}
    </div>
  );
}

/** What is not as it should be with an area, in a few words each. */
export function troublesOf(a: AreaGlance): string[] {
  return [
    ...(a.kinds.length > 1 ? ['its routers do not agree on its type'] : []),
    ...(a.attached === 'not at all' ? ['not attached to the backbone'] : []),
    ...(a.pieces.length > 1 ? [`in ${a.pieces.length} pieces`] : []),
    ...a.borders.filter((b) => b.leftOver).map((b) => `${b.router} stands at its border by mistake`),
    ...a.limits.flatMap((l) => {
      const n = a.load.find((x) => x.type === l.type)?.count ?? 0;
      return n > l.atMost ? [`${n} of type ${l.type}, at most ${l.atMost} are expected`] : [];
    }),
  ];
}

const cell = 'border-t border-fine py-2 pr-4 align-top';

function AreaTable({ areas, chosen, most }: { readonly areas: readonly AreaGlance[]; readonly chosen: number | undefined; readonly most: number }) {
  return (
    <table className="w-full border-separate border-spacing-0 rounded border border-rule bg-sheet" aria-label="Areas">
      <thead className="text-left text-ink2">
        <tr>
          <th scope="col" className="w-[190px] py-1.5 pl-3 font-normal">
            area
          </th>
          <th scope="col" className="w-[70px] py-1.5 pr-4 text-right font-normal">
            routers
          </th>
          <th scope="col" className="py-1.5 font-normal">
            border routers
          </th>
          <th scope="col" className="w-[34%] py-1.5 pr-3 font-normal">
            advertisements on each router
          </th>
        </tr>
      </thead>
      <tbody>
        {areas.map((a) => {
          const by = loadBySource(a.load);
          const troubles = troublesOf(a);
          return (
            <tr
              key={a.id}
              className={`cursor-pointer ${a.id === chosen ? 'bg-paper' : 'hover:bg-paper'}`}
              onClick={() => go({ area: a.id })}
              aria-selected={a.id === chosen}
            >
              <th scope="row" className={`${cell} pl-3 text-left font-normal`}>
                <button type="button" className="font-serif text-lg leading-tight" aria-pressed={a.id === chosen} onClick={() => go({ area: a.id })}>
                  <AreaName id={a.id} />
                </button>
                <span className="block text-ink2">
                  {a.id === 0 ? attachedWords.backbone : `${a.kinds.map((k) => kindWords[k.kind]).join(' / ')}, ${attachedWords[a.attached]}`}
                </span>
                {troubles.map((t) => (
                  <span key={t} className="block text-accent">
                    {t}
                  </span>
                ))}
              </th>
              <td className={`${cell} text-right font-mono text-[12.5px]`}>{a.routers.length}</td>
              <td className={cell}>
                {a.borders.length === 0 ? (
                  <span className="text-ink2">none</span>
                ) : (
                  someOf(
                    a.borders.map((b) => b.router),
                    8,
                  )
                )}
                {a.boundaries.length > 0 && (
                  <span className="block text-ink2">
                    boundary:{' '}
                    {someOf(
                      a.boundaries.map((b) => b.router),
                      8,
                    )}
                  </span>
                )}
              </td>
              <td className={`${cell} pr-3`}>
                <span className="flex items-center gap-2">
                  <span className="flex h-3 min-w-0 flex-1" aria-hidden>
                    {sources.map((s) => (
                      <span key={s} style={{ width: `${(100 * by[s]) / most}%`, background: sourceFill[s] }} />
                    ))}
                  </span>
                  <span className="w-12 shrink-0 text-right font-mono text-[12.5px]">{totalOf(a.load).toLocaleString('en-GB')}</span>
                </span>
                <span className="text-ink2">{sources.map((s) => `${by[s].toLocaleString('en-GB')} ${sourceCounts[s]}`).join(', ')}</span>
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
