'use client';

import { Dialog } from 'radix-ui';
import { useId, useState } from 'react';
import { enterLine, makeChange } from '../model/history';
import { openForm } from '../model/panes';
import { useStore, type OpenForm } from '../model/state';
import type { DesignView, Trial } from '../model/view';
import { FoundByTrial } from '../parts/found-by-trial';
import { passedWords, PolicyFlowTable } from '../parts/policy-flows';
import { useAnswer } from '../parts/use-answer';
import { useReading } from '../parts/use-reading';
import { changeWords } from '../parts/words';
import { workbench } from '../worker/client';
import { formKinds, type FormField, type FormValues } from './form-kinds';
import { ReturnFocus } from '../parts/return-focus';

/** Names that a field can be completed from. */
function names(
  field: FormField,
  view: DesignView,
  own: { readonly sets: readonly string[]; readonly policies: readonly string[] },
): readonly string[] {
  const interfaces = view.routers.flatMap((r) => r.interfaces.map((i) => ({ r, i })));
  const known: Partial<Record<FormField['kind'], readonly string[]>> = {
    router: view.routers.map((r) => r.name),
    place: interfaces.map(({ r, i }) => `${r.name}/${i.name}`),
    area: view.areas.map((a) => a.id.replace(/^0\.0\.0\./, '')),
    address: [
      ...view.routers.map((r) => r.name),
      ...interfaces.flatMap(({ i }) => (i.kind === 'loopback' ? i.addresses.map((a) => a.split('/')[0] ?? '') : [])),
    ],
    set: own.sets,
    policy: own.policies,
  };
  return known[field.kind] ?? [];
}

interface RowProps {
  readonly field: FormField;
  readonly value: string;
  readonly offered: readonly string[];
  readonly onChange: (value: string) => void;
}

function FieldRow({ field, value, offered, onChange }: RowProps) {
  const id = useId();
  if (field.kind === 'flag')
    return (
      <label className="col-start-2 flex items-baseline gap-2">
        <input
          type="checkbox"
          className="translate-y-[2px] accent-(--accent)"
          checked={value !== ''}
          onChange={(e) => onChange(e.target.checked ? 'yes' : '')}
        />
        {field.label}
      </label>
    );
  return (
    <>
      <label htmlFor={id} className="pt-1 text-ink2">
        {field.label}
        {field.optional && <span className="text-ink3"> (if wanted)</span>}
      </label>
      {field.kind === 'choice' ? (
        <select id={id} className="field" value={value} onChange={(e) => onChange(e.target.value)}>
          {field.choices?.map((c) => (
            <option key={c.value} value={c.value}>
              {c.words}
            </option>
          ))}
        </select>
      ) : (
        <>
          <input
            id={id}
            className={`field ${field.kind === 'text' ? '' : 'font-mono text-[12.5px]'}`}
            inputMode={field.kind === 'number' ? 'numeric' : 'text'}
            list={offered.length > 0 ? `${id}-names` : undefined}
            placeholder={field.hint}
            autoComplete="off"
            value={value}
            onChange={(e) => onChange(e.target.value)}
          />
          {offered.length > 0 && (
            <datalist id={`${id}-names`}>
              {[...new Set(offered)].slice(0, 400).map((n) => (
                <option key={n} value={n} />
              ))}
            </datalist>
          )}
        </>
      )}
    </>
  );
}

/** What comes of it: of an expectation, whether it holds. */
function effectWords(name: OpenForm['name'], effect: Trial): string {
  if (name !== 'expectation') return changeWords(effect);
  return effect.found.some((f) => f.rule === 'expectation-broken')
    ? 'It does not hold in the network as it is.'
    : 'It holds in the network as it is.';
}

/** A form that makes one line of quick entry: what the line would do stands below it before it is done. */
function Form({ form, view }: { readonly form: OpenForm; readonly view: DesignView }) {
  const kind = formKinds[form.name];
  const [values, setValues] = useState<FormValues>(form.values);
  const [refused, setRefused] = useState<string | undefined>(undefined);
  const fields = kind.fields(values);
  // A choice that nobody has touched says what it shows.
  const shown: FormValues = {
    ...Object.fromEntries(fields.flatMap((f) => (f.kind === 'choice' && f.choices?.[0] ? [[f.id, f.choices[0].value]] : []))),
    ...values,
  };
  const line = kind.line(shown);
  const { reading, effect } = useReading(line === '' ? undefined : line, undefined);
  const detail = useAnswer(
    () =>
      shown['router'] && view.routers.some((r) => r.name === shown['router'])
        ? workbench().layout.routerDetail(shown['router'])
        : Promise.resolve(undefined),
    [shown['router'], view],
  );
  const own = { sets: detail?.prefixSets.map((s) => s.name) ?? [], policies: detail?.policies.map((p) => p.name) ?? [] };
  const close = (): void => openForm(undefined);
  const act = async (): Promise<void> => {
    const { plan, error } = await enterLine(line, []);
    if (plan) close();
    else setRefused(error?.message);
  };
  const plan = reading?.plan;
  const decides = form.name === 'policy' || form.name === 'prefixSet' || form.name === 'filter';
  const edits = plan?.edits;
  const flows = useAnswer(
    () => (decides && edits && shown['router'] ? workbench().areas.flows(shown['router'], edits) : Promise.resolve([])),
    [decides, edits, shown['router']],
  );
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        if (plan) void act();
      }}
    >
      <div className="mt-3 grid grid-cols-[232px_1fr] items-start gap-x-3 gap-y-1.5">
        {fields.map((f) => (
          <FieldRow
            key={`${shown['kind'] ?? ''} ${f.id}`}
            field={f}
            value={shown[f.id] ?? ''}
            offered={names(f, view, own)}
            onChange={(value) => {
              setRefused(undefined);
              setValues({ ...values, [f.id]: value });
            }}
          />
        ))}
      </div>
      <div className="mt-3 min-h-[84px] border-t border-fine pt-2" role="status" data-testid="form-preview">
        {line === '' ? (
          <p className="text-ink2">What this would do stands here as soon as enough is said.</p>
        ) : (
          <>
            <p className="font-mono text-xs text-ink2">{line}</p>
            {plan ? (
              <>
                <p>
                  <span className="font-semibold">{plan.title}.</span>{' '}
                  <span className="text-ink2">{effect ? effectWords(form.name, effect) : 'Working out what that changes…'}</span>
                </p>
                {plan.notes.map((n) => (
                  <p key={n} className="text-ink2">
                    {n}
                  </p>
                ))}
                {effect && effect.found.length > 0 && (
                  <FoundByTrial
                    trial={effect}
                    onWith={(title, edits) => void makeChange(`${plan.title}; ${title}`, [...plan.edits, ...edits]).then(close)}
                  />
                )}
              </>
            ) : (
              reading?.error && <p className="text-accent">{refused ?? reading.error.message}</p>
            )}
          </>
        )}
      </div>
      {decides && plan && flows && flows.length > 0 && (
        <div className="mt-2 max-h-56 overflow-y-auto" tabIndex={0} role="region" aria-label="What would pass">
          {flows.map((f, n) => (
            <div key={n} className="mb-2">
              <p className="mb-1 text-ink2">
                Then <span className="font-mono text-xs text-ink">{f.policies.join(', ')}</span> over {f.over}: {passedWords(f)}.
              </p>
              <PolicyFlowTable flow={f} />
            </div>
          ))}
        </div>
      )}
      <div className="mt-2 flex justify-end gap-1.5">
        <button type="button" className="control" onClick={close}>
          Leave it
        </button>
        <button type="submit" className="control" data-main disabled={!plan}>
          Make the change
        </button>
      </div>
    </form>
  );
}

/** The form that is open. */
export function LineForm() {
  const form = useStore((s) => s.form);
  const view = useStore((s) => s.view);
  if (!form || !view) return null;
  const kind = formKinds[form.name];
  return (
    <Dialog.Root open onOpenChange={(open) => !open && openForm(undefined)}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/30" />
        <Dialog.Content className="fixed top-16 left-1/2 z-50 max-h-[min(86vh,calc(100dvh-5rem))] w-[620px] max-w-[94vw] -translate-x-1/2 overflow-y-auto rounded border border-rule bg-sheet p-5 shadow-lg">
          <ReturnFocus />
          <Dialog.Title className="text-xl">{kind.title}</Dialog.Title>
          <Dialog.Description className="text-ink2">{kind.about}</Dialog.Description>
          <Form form={form} view={view} />
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
