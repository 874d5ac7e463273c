import { act } from '@testing-library/react';
import { designFrom } from '@gentle-compass/core/formats/read-set';
import { enterLine, inTurn } from '../src/model/history';
import { allKept } from '../src/model/keeping';
import { openEmpty } from '../src/model/session';
import { useStore } from '../src/model/state';
import { shelf } from '../src/storage/shelf';

/** Three routers: a backbone cable, a LAN behind it in area 10. */
export const smallCampus = [
  'router tern-1 area 0',
  'router tern-2 area 0',
  'router tern-3 area 10',
  'link tern-1 tern-2 cost 5',
  'link tern-2 tern-3 area 10 cost 7',
  'lan hatchery on tern-3 passive',
] as const;

/** Opens a new design and types lines into it. */
export async function openWith(lines: readonly string[]): Promise<void> {
  await act(async () => {
    await openEmpty('Tern islet');
    for (const line of lines) {
      const { plan, error } = await enterLine(line, []);
      if (!plan) throw new Error(`${line}: ${error?.message ?? ''}`);
    }
  });
  await settled();
}

const after = (ms: number): Promise<'late'> => new Promise((go) => setTimeout(() => go('late'), ms));

/** Waits until everything that was asked has been answered and kept, and nothing moves any more; where something is held back on purpose, for a second of rest. */
export async function settled(): Promise<void> {
  for (let still = 0, rest = 6; still < rest; still++) {
    const before = state();
    const late = await waited();
    if (state() !== before) still = -1;
    rest = late ? 40 : 12;
  }
}

/** A moment in which what is under way may go on; true when something still is. */
async function waited(): Promise<boolean> {
  const turn = { late: false };
  await act(async () => {
    await after(5);
    const done = inTurn(() => Promise.resolve()).then(allKept);
    turn.late = (await Promise.race([done, after(25)])) === 'late';
  });
  return turn.late;
}

export const state = (): ReturnType<typeof useStore.getState> => useStore.getState();

/** Files, documents and history as the browser keeps them; they must fit together. */
export async function kept(): Promise<{ files: string[]; steps: string[]; position: number; sound: boolean }> {
  const id = state().design?.id ?? '';
  const d = await shelf().design(id);
  if (!d) return { files: [], steps: [], position: 0, sound: false };
  const rows = await shelf().documents.where('design').equals(id).toArray();
  const files = d.documents.map((x) => x.file);
  return {
    files,
    steps: d.history.map((s) => s.title),
    position: d.position,
    sound: rows.length === files.length && designFrom(d.documents).problems.every((p) => p.severity !== 'error') && d.position <= d.history.length,
  };
}
