import { leaderNamed } from '../adjacency/leader-named';
import type { Design } from '../design/design';
import type { Family } from '../design/family';
import { formatFailure, type FailureSpec } from '../failures/outage';
import { predict } from '../predict';
import type { Happening } from './simulate';

/**
 * What happens with every leader that fails or returns written as the router that it is: the one that leads when all that
 * happened before has settled; who returns is whoever failed by that name. The same router for both families: the leader in
 * IPv4, where anybody leads there. Where nobody does, the failure stays as it is written.
 *
 * @param down  what is down at the beginning
 */
export function leadersNamed(design: Design, family: Family, happenings: readonly Happening[], down: readonly FailureSpec[]): readonly Happening[] {
  const isLeader = (f: FailureSpec): boolean => f.kind === 'leader';
  if (!happenings.some((h) => h.kind !== 'edit' && isLeader(h.spec))) return happenings;
  const failed: FailureSpec[] = [];
  const routers = new Map<string, FailureSpec>();
  const fail = (spec: FailureSpec): void => {
    let named: FailureSpec | string = spec;
    for (const f of family === 6 ? ([4, 6] as const) : [family]) {
      named = isLeader(spec) ? leaderNamed(predict(design, failed, { family: f }), spec) : spec;
      if (typeof named !== 'string') break;
    }
    if (typeof named === 'string') return;
    routers.set(formatFailure(spec), named);
    failed.push(named);
  };
  for (const spec of down) fail(spec);
  const out = new Map<Happening, Happening>();
  for (const h of [...happenings].sort((a, b) => a.ms - b.ms)) {
    if (h.kind === 'edit') continue;
    const word = formatFailure(h.spec);
    if (h.kind === 'fail') fail(h.spec);
    const spec = routers.get(word) ?? h.spec;
    if (h.kind === 'restore') {
      const at = failed.findLastIndex((f) => formatFailure(f) === formatFailure(spec));
      if (at >= 0) failed.splice(at, 1);
    }
    out.set(h, { ...h, spec });
  }
  return happenings.map((h) => out.get(h) ?? h);
}
