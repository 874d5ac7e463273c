'use client';

import { useCombobox } from 'downshift';
import { useEffect, useRef, type KeyboardEvent, type ReactNode, type RefObject } from 'react';

/** Something that can be taken. */
export interface Choice {
  readonly key: string;
  readonly words: string;
  /** What it is, beside it. */
  readonly about: string;
  /** Only a description: it cannot be taken. */
  readonly hint?: boolean;
}

const { InputBlur, InputClick, MenuMouseLeave } = useCombobox.stateChangeTypes;
const ignored = new Set<unknown>([InputBlur, InputClick, MenuMouseLeave]);

/** A field with a list of what fits: the arrow keys go through it, Enter and a click take. */
export function Combobox({
  label,
  listLabel,
  text,
  choices,
  begin,
  onText,
  onTake,
  onKey,
  field,
  look,
}: {
  readonly label: string;
  readonly listLabel: string;
  readonly text: string;
  readonly choices: readonly Choice[];
  /** Which choice is marked while nobody has gone to one: the first, or none. */
  readonly begin: 'first' | 'none';
  readonly onText: (text: string) => void;
  readonly onTake: (n: number) => void;
  /**
   * Keys of the field's own, asked first; true: that key is done with.
   *
   * @param marked  place of the choice that is marked, -1 for none
   */
  readonly onKey?: (e: KeyboardEvent<HTMLInputElement>, marked: number) => boolean;
  readonly field?: RefObject<HTMLInputElement | null>;
  readonly look: {
    readonly field: string;
    readonly list: string;
    readonly words: string;
    readonly placeholder: string;
    readonly describedBy?: string;
    /** Beside the field, and between it and the list. */
    readonly beside?: ReactNode;
    readonly between?: ReactNode;
    /** In the place of the list when nothing fits. */
    readonly nothing?: ReactNode;
    readonly row?: string;
  };
}) {
  const own = useRef<HTMLInputElement>(null);
  const input = field ?? own;
  const first = begin === 'first' ? 0 : -1;
  const list = useCombobox<Choice>({
    items: [...choices],
    isOpen: choices.length > 0,
    inputValue: text,
    selectedItem: null,
    defaultHighlightedIndex: first,
    initialHighlightedIndex: first,
    itemToString: (c) => c?.words ?? '',
    itemToKey: (c) => c?.key,
    // It is asked of places past the end too.
    isItemDisabled: (c: Choice | undefined) => c?.hint === true,
    // The list is there as long as something fits: coming and going, of focus or pointer, takes nothing and unmarks nothing.
    stateReducer: (state, { type, changes }) => (ignored.has(type) ? state : changes),
    onStateChange: ({ type, selectedItem }) => {
      const { InputKeyDownEnter, ItemClick } = useCombobox.stateChangeTypes;
      if ((type === InputKeyDownEnter || type === ItemClick) && selectedItem) onTake(choices.indexOf(selectedItem));
    },
  });
  const { setHighlightedIndex, highlightedIndex } = list;
  const keys = choices.map((c) => c.key).join('\n');
  useEffect(() => {
    setHighlightedIndex(first);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- another list begins anew; the function is another one each time
  }, [keys, first]);
  const marked = highlightedIndex < choices.length ? highlightedIndex : -1;
  // eslint-disable-next-line react-hooks/refs -- the ref is handed on, nothing reads it while drawing
  const props = list.getInputProps({
    ref: input,
    'aria-label': label,
    'aria-labelledby': undefined,
    'aria-describedby': look.describedBy,
    onChange: (e) => onText(e.currentTarget.value),
    onKeyDown: (e) => {
      const done = onKey?.(e, marked) ?? false;
      // What the field has done itself the list does not do again.
      if (done) Object.assign(e.nativeEvent, { preventDownshiftDefault: true });
      if (done) e.preventDefault();
    },
  });
  const frame = <input {...props} className={look.field} placeholder={look.placeholder} autoComplete="off" spellCheck={false} />;
  return (
    <>
      {look.beside === undefined ? (
        frame
      ) : (
        <div className={look.row}>
          {frame}
          {look.beside}
        </div>
      )}
      {look.between}
      <ul
        {...list.getMenuProps({ 'aria-label': listLabel, 'aria-labelledby': undefined })}
        className={choices.length > 0 || (look.nothing !== undefined && text !== '') ? look.list : 'hidden'}
      >
        {choices.map((c, n) => (
          <li
            key={c.key}
            {...list.getItemProps({ item: c, index: n, onMouseDown: (e) => e.preventDefault() })}
            className={`flex gap-3 py-0.5 ${c.hint === true ? '' : 'cursor-pointer'} ${n === marked ? 'bg-paper' : ''}`}
          >
            <span className={`${look.words} ${c.hint === true ? 'text-ink2' : ''}`}>{c.words}</span>
            <span className="min-w-0 truncate text-ink2 last:ml-0">{c.about}</span>
          </li>
        ))}
        {choices.length === 0 && text !== '' && look.nothing !== undefined && <li className="text-ink2">{look.nothing}</li>}
      </ul>
    </>
  );
}
