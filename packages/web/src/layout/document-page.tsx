'use client';

import { useEffect, useMemo, useState } from 'react';
import { makeChange } from '../model/history';
import { useStore } from '../model/state';
import { openDocument } from '../model/panes';
import type { DesignView, Trial, TypedDocument } from '../model/view';
import { FoundByTrial } from '../parts/found-by-trial';
import { useAnswer } from '../parts/use-answer';
import { changeWords, count } from '../parts/words';
import { workbench } from '../worker/client';
import { TextEditor, type TextMark } from './text-editor';

const wait = (ms: number): Promise<void> => new Promise((go) => setTimeout(go, ms));
const severities = { error: 'error', warning: 'warning', note: 'info' } as const;

/** What stands in the way of a typed text, or what it would change. */
function useTyped(file: string, typed: string | undefined, view: DesignView): { reading: TypedDocument | undefined; effect: Trial | undefined } {
  const [reading, setReading] = useState<TypedDocument | undefined>(undefined);
  const [effect, setEffect] = useState<Trial | undefined>(undefined);
  useEffect(() => {
    const turn = { over: false };
    const stale = (): boolean => turn.over;
    const ask = async (): Promise<void> => {
      if (typed !== undefined) await wait(150);
      if (stale()) return;
      const answer = typed === undefined ? undefined : await workbench().editing.typedDocument(file, typed);
      if (stale()) return;
      setReading(answer);
      setEffect(undefined);
      if (!answer || answer.edits.length === 0) return;
      const change = await workbench().editing.tryEdits(answer.edits);
      if (!stale() && change) setEffect(change);
    };
    void ask();
    return () => {
      turn.over = true;
    };
  }, [file, typed, view]);
  return { reading, effect };
}

/** A router's document beside its panel: the lines that findings point at are marked, and it can be edited as text. */
export function DocumentPage({ view, name }: { readonly view: DesignView; readonly name: string }) {
  const file = view.routers.find((r) => r.name === name)?.file ?? '';
  const document = useAnswer(() => workbench().layout.documentView(file), [file, view]);
  const line = useStore((s) => s.documentLine);
  const [typed, setTyped] = useState<{ readonly file: string; readonly base: string; readonly text: string } | undefined>(undefined);
  const own = typed?.file === file && typed.text !== document?.text ? typed : undefined;
  const { reading, effect } = useTyped(file, own?.text, view);
  const problems = useMemo(() => (own ? (reading?.problems ?? []) : []), [own, reading]);
  const marks = useMemo(
    (): TextMark[] =>
      own
        ? problems.flatMap((p) =>
            p.line === undefined
              ? []
              : [{ line: p.line, ...(p.column === undefined ? {} : { column: p.column }), severity: 'error', message: `${p.message} ${p.remedy}` }],
          )
        : (document?.marks ?? []).map((m) => ({ line: m.line, severity: severities[m.severity as keyof typeof severities], message: m.message })),
    [own, problems, document],
  );
  if (!document) return <div className="min-w-0 grow" />;
  const overtaken = own !== undefined && own.base !== document.text;
  const apply = (): void => {
    if (own) void makeChange(`Document of ${name} edited`, reading?.edits ?? []).then(() => setTyped(undefined));
  };
  const ready = own !== undefined && (reading?.edits.length ?? 0) > 0;
  return (
    <section className="flex min-h-0 min-w-0 grow flex-col" aria-label={`Document of ${name}`}>
      <div className="flex shrink-0 items-center gap-2 border-b border-rule bg-sheet px-4 py-1.5">
        <h2 className="min-w-0 truncate font-mono text-[13px]">{file}</h2>
        <span className="text-ink2">{document.marks.length > 0 && !own && `${count(document.marks.length, 'line')} with findings`}</span>
        <button type="button" className="control ml-auto" data-main={ready ? '' : undefined} disabled={!ready} onClick={apply}>
          Apply
        </button>
        <button type="button" className="control" disabled={!own} onClick={() => setTyped(undefined)}>
          Give up the text
        </button>
        <button type="button" className="control" onClick={() => openDocument(undefined)}>
          Back to the map
        </button>
      </div>
      <TextEditor
        label={`Text of ${file}`}
        text={own?.text ?? document.text}
        isXml={file.endsWith('.xml') || document.text.trimStart().startsWith('<')}
        marks={marks}
        {...(line === undefined ? {} : { line })}
        onChange={(text) => setTyped(text === document.text ? undefined : { file, base: own?.base ?? document.text, text })}
        onApply={apply}
      />
      <div className="max-h-[132px] shrink-0 overflow-y-auto border-t border-rule bg-sheet px-4 py-2" role="status" data-testid="typed-state">
        {overtaken && (
          <p className="text-caution">The document was changed elsewhere since you began typing; applying puts your text in its place.</p>
        )}
        {!own && document.marks.length === 0 && (
          <p className="text-ink2">Edit the text and apply it with Ctrl+Enter; the panel beside it shows the same router.</p>
        )}
        {!own &&
          document.marks.map((m) => (
            <p key={`${m.finding} ${m.line}`}>
              <span className="mr-2 font-mono text-ink2">line {m.line}</span>
              {m.message}
            </p>
          ))}
        {own && reading && problems.length === 0 && reading.edits.length === 0 && <p className="text-ink2">The text means the same as before.</p>}
        {problems.map((p) => (
          <p key={`${p.path} ${p.message}`} className="text-accent">
            <span className="mr-2 font-mono">
              {p.line === undefined ? p.path : `line ${p.line}${p.column === undefined ? '' : `, column ${p.column}`}`}
            </span>
            {p.message} {p.remedy}
          </p>
        ))}
        {ready && <p>{effect ? `Applied, it would do this: ${changeWords(effect)}` : 'Working out what it would change…'}</p>}
        {ready && effect && effect.found.length > 0 && (
          <FoundByTrial
            trial={effect}
            onWith={(title, edits) =>
              void makeChange(`Document of ${name} edited; ${title}`, [...(reading?.edits ?? []), ...edits]).then(() => setTyped(undefined))
            }
          />
        )}
      </div>
    </section>
  );
}
