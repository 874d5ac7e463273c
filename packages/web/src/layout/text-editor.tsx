'use client';

import { json } from '@codemirror/lang-json';
import { xml } from '@codemirror/lang-xml';
import { HighlightStyle, syntaxHighlighting } from '@codemirror/language';
import { lintGutter, setDiagnostics, type Diagnostic } from '@codemirror/lint';
import { EditorState, StateEffect, StateField } from '@codemirror/state';
import { Decoration, EditorView, keymap, type DecorationSet } from '@codemirror/view';
import { tags } from '@lezer/highlight';
import { basicSetup } from 'codemirror';
import { useEffect, useRef } from 'react';

/** Something to be seen at a line, 1-based. */
export interface TextMark {
  readonly line: number;
  readonly column?: number;
  readonly severity: 'error' | 'warning' | 'info';
  readonly message: string;
}

/** The small diamond that stands for a finding everywhere. */
const diamond = (fill: string, ink: string): string =>
  `url('data:image/svg+xml,<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 12 12"><path d="M6 1 11 6 6 11 1 6z" fill="%23${fill}" stroke="%23${ink}" stroke-width="1.4"/></svg>')`;

const chart = EditorView.theme({
  '.cm-lint-marker-error': { content: diamond('f6e4dc', 'a8412a') },
  '.cm-lint-marker-warning': { content: diamond('f6ecd0', '8a6100') },
  '.cm-lint-marker-info': { content: diamond('fffdf8', '55606b') },
  '.cm-marked': { backgroundColor: 'var(--accent-ground)' },
  '&': { height: '100%', backgroundColor: 'var(--sheet)', color: 'var(--ink)', fontSize: '12.5px' },
  '.cm-scroller': { fontFamily: "'IBM Plex Mono', monospace", lineHeight: '1.5' },
  '.cm-gutters': { backgroundColor: 'var(--paper)', color: 'var(--ink-3)', border: 'none', borderRight: '1px solid var(--rule)' },
  '.cm-activeLine, .cm-activeLineGutter': { backgroundColor: 'var(--paper)' },
  '.cm-cursor': { borderLeftColor: 'var(--ink)' },
  '&.cm-focused': { outline: 'none' },
  '.cm-selectionBackground, &.cm-focused .cm-selectionBackground': { backgroundColor: 'var(--caution-ground) !important' },
  '.cm-tooltip, .cm-panels': { backgroundColor: 'var(--sheet)', color: 'var(--ink)', border: '1px solid var(--rule)' },
  '.cm-lintRange-error': { backgroundImage: 'none', borderBottom: '2px solid var(--accent)' },
  '.cm-lintRange-warning': { backgroundImage: 'none', borderBottom: '2px solid var(--caution)' },
});

/** Names are ink, values lighter: colour is left to what is to be looked at. */
const inks = HighlightStyle.define([
  { tag: [tags.propertyName, tags.tagName], color: 'var(--ink)' },
  { tag: [tags.string, tags.attributeValue, tags.content], color: 'var(--ink-2)' },
  { tag: [tags.number, tags.bool, tags.null], color: 'var(--ink)', fontWeight: '600' },
  { tag: [tags.punctuation, tags.bracket, tags.separator], color: 'var(--ink-3)' },
]);

const markLines = StateEffect.define<readonly number[]>();

/** Lines that are marked, by their ground. */
const markedLines = StateField.define<DecorationSet>({
  create: () => Decoration.none,
  update(lines, tr) {
    let out = lines.map(tr.changes);
    for (const e of tr.effects)
      if (e.is(markLines)) {
        const at = [...new Set(e.value)].filter((n) => n >= 1 && n <= tr.state.doc.lines).sort((a, b) => a - b);
        out = Decoration.set(at.map((n) => Decoration.line({ class: 'cm-marked' }).range(tr.state.doc.line(n).from)));
      }
    return out;
  },
  provide: (f) => EditorView.decorations.from(f),
});

interface Props {
  readonly label: string;
  readonly text: string;
  readonly isXml: boolean;
  readonly marks: readonly TextMark[];
  /** Line to bring into sight. */
  readonly line?: number;
  readonly onChange: (text: string) => void;
  readonly onApply: () => void;
}

/** A text that is read and edited, with marks at its lines. */
export function TextEditor({ label, text, isXml, marks, line, onChange, onApply }: Props) {
  const holder = useRef<HTMLDivElement>(null);
  const editor = useRef<EditorView | undefined>(undefined);
  const calls = useRef({ onChange, onApply });
  useEffect(() => {
    calls.current = { onChange, onApply };
  });
  useEffect(() => {
    if (!holder.current) return undefined;
    const made = new EditorView({
      parent: holder.current,
      state: EditorState.create({
        doc: '',
        extensions: [
          keymap.of([
            {
              key: 'Mod-Enter',
              run: () => {
                calls.current.onApply();
                return true;
              },
            },
          ]),
          basicSetup,
          syntaxHighlighting(inks),
          isXml ? xml() : json(),
          lintGutter(),
          markedLines,
          chart,
          EditorView.contentAttributes.of({ 'aria-label': label, tabindex: '0' }),
          EditorView.updateListener.of((u) => {
            if (u.docChanged) calls.current.onChange(u.state.doc.toString());
          }),
        ],
      }),
    });
    editor.current = made;
    return () => made.destroy();
  }, [label, isXml]);
  useEffect(() => {
    const e = editor.current;
    if (e && e.state.doc.toString() !== text) e.dispatch({ changes: { from: 0, to: e.state.doc.length, insert: text } });
  }, [text, label, isXml]);
  useEffect(() => {
    const e = editor.current;
    if (!e) return;
    const found = marks.flatMap((m): Diagnostic[] => {
      if (m.line > e.state.doc.lines || m.line < 1) return [];
      const at = e.state.doc.line(m.line);
      const from = at.from + (m.column === undefined ? at.text.length - at.text.trimStart().length : Math.min(m.column - 1, at.length));
      return [{ from, to: Math.max(from, at.to), severity: m.severity, message: m.message }];
    });
    e.dispatch(setDiagnostics(e.state, found));
    e.dispatch({ effects: markLines.of(marks.filter((m) => m.severity !== 'info').map((m) => m.line)) });
  }, [marks, text]);
  useEffect(() => {
    const e = editor.current;
    if (!e || line === undefined || line > e.state.doc.lines) return;
    const at = e.state.doc.line(line);
    e.dispatch({ selection: { anchor: at.from }, effects: EditorView.scrollIntoView(at.from, { y: 'center' }) });
  }, [line, text]);
  return <div ref={holder} className="min-h-0 grow basis-0 overflow-hidden" />;
}
