import type { Edit } from '@gentle-compass/core/design/edit';
import type { Finding } from '@gentle-compass/core/findings/finding';
import { causesIn } from '../model/causes';
import { stageOfRule } from '../parts/stage-of-rule';

/** A kind of trouble that there is more than one of, with what mends all of it together. */
export interface OneKind {
  readonly rule: string;
  readonly title: string;
  readonly edits: readonly Edit[];
}

/** Kinds of trouble between neighbours of which several can be mended by an edit each; where two want one line otherwise, not together. */
export function allOfOneKind(findings: readonly Finding[]): OneKind[] {
  const by = new Map<string, Finding[]>();
  for (const f of causesIn(findings))
    if (stageOfRule(f.rule) === 'neighbours' && f.repairs.length > 0) {
      const list = by.get(f.rule);
      if (list) list.push(f);
      else by.set(f.rule, [f]);
    }
  return [...by].flatMap(([rule, list]): OneKind[] => {
    const lines = new Map<string, Edit>();
    let clash = false;
    for (const e of list.flatMap((f) => f.repairs[0]?.edits ?? [])) {
      const key = `${e.file} ${e.at.join('/')}`;
      const known = lines.get(key);
      if (known && JSON.stringify(known.to) !== JSON.stringify(e.to)) clash = true;
      lines.set(key, e);
    }
    return list.length < 2 || clash ? [] : [{ rule, title: `Mend all ${list.length}: ${rule.replaceAll('-', ' ')}`, edits: [...lines.values()] }];
  });
}
