import type { Edit } from '../design/edit';
import type { Finding } from './finding';
import { mendingAll, pairOf } from './mending';

type Told = Pick<Finding, 'id' | 'rule' | 'severity' | 'where' | 'evidence'>;

/** What keeps two routers that share a wire from being neighbours. */
const neighborFaults: ReadonlySet<string> = new Set([
  'area',
  'area-type',
  'hello-interval',
  'dead-interval',
  'mask',
  'authentication',
  'key-missing',
  'key-not-switched-on',
  'passive',
  'disabled',
  'duplicate-router-id',
  'mtu',
  'interface-not-in-ospf',
  'router-without-ospf',
  'both-passive',
  'near-miss-subnet',
  'static-neighbor-missing',
  'nobody-leads',
  'process-does-not-run',
]);

/** Router names that a finding about pieces lists, piece by piece. */
const piecesOf = (f: Told): string[][] => f.evidence.filter((e) => e.what.startsWith('piece ')).map((e) => e.value.split(', '));

/** Groups of router names that are joined one after the other. */
class Joined {
  private readonly head = new Map<string, string>();

  of(name: string): string {
    let at = name;
    for (let up = this.head.get(at); up !== undefined; up = this.head.get(at)) at = up;
    return at;
  }

  join(names: readonly string[]): void {
    const [first, ...rest] = names;
    if (first !== undefined) for (const n of rest) if (this.of(n) !== this.of(first)) this.head.set(this.of(n), this.of(first));
  }
}

/**
 * Which finding explains an area in pieces: a fault between neighbours without which its pieces would be one. Where several
 * faults are needed for that the first that joins two pieces is named.
 *
 * @returns  ids of causes by the ids of what they explain
 */
export function causesOf(findings: readonly Told[]): Map<string, string> {
  const faults = findings.filter((f) => neighborFaults.has(f.rule) && f.severity !== 'note');
  const out = new Map<string, string>();
  for (const f of findings.filter((x) => x.rule === 'area-split')) {
    const pieces = piecesOf(f);
    const groups = new Joined();
    for (const p of pieces) groups.join(p);
    const apart = (): number => new Set(pieces.map((p) => groups.of(p[0] ?? ''))).size;
    let cause: string | undefined;
    let left = apart();
    for (const fault of faults) {
      groups.join([...new Set(fault.where.map((w) => w.router))]);
      const now = apart();
      if (now < left) cause ??= fault.id;
      left = now;
    }
    if (cause !== undefined && left === 1) out.set(f.id, cause);
  }
  return out;
}

/** Findings with what explains them; what was explained before stays so. */
export const withCauses = (findings: readonly Finding[], causes: ReadonlyMap<string, string>): Finding[] =>
  findings.map((f) => ({ ...f, 'caused-by': causes.get(f.id) ?? f['caused-by'] }));

/** With more faults than this none is looked for that needs several of them. */
const fewFaults = 16;

/** How a network is looked at again and again. */
export interface Looking {
  /** What the checks find in the network as it is, accepted findings left out; failures are not tried. */
  readonly plain: readonly Finding[];
  /** The same with some edits made. */
  readonly mended: (edits: readonly Edit[]) => readonly Finding[];
  /** Where a finding stands in the order of work: what keeps neighbours apart comes first, with 0. */
  readonly orderOf: (f: Finding) => number;
}

/**
 * Which finding explains which, found by trying: a finding that is gone once another one is mended follows from that one, where
 * the other comes earlier in the order of work or is about the same router, its mending brings nothing new, and the two are not
 * about the same pair. What is only gone when several are mended follows from one without which it stays, the nearest first. One
 * step is one trial. What fails only under failures is not tried, so it is not explained either.
 *
 * @param findings  those of the network, of all families
 * @param trials    faults that are tried at most
 * @returns  ids of causes by the ids of what they explain; each cause stands for itself
 */
export function* explaining(
  looking: Looking,
  findings: readonly Finding[],
  trials: number,
): Generator<{ readonly done: number; readonly of: number }, Map<string, string>> {
  const { plain, mended, orderOf } = looking;
  const known = new Map(findings.map((f) => [f.id, f]));
  const base = plain.filter((f) => known.has(f.id)).sort((a, b) => orderOf(a) - orderOf(b));
  const before = new Set(plain.map((f) => f.id));
  const out = new Map<string, string>();
  const faults: { readonly fault: Finding; readonly edits: readonly Edit[] }[] = [];
  const roots = base.filter((f) => f.severity !== 'note' && f.repairs.length > 0);
  let done = 0;
  // Two faults between neighbours follow from one another only where they share a router.
  const mayFollow = (f: Finding, fault: Finding): boolean => !out.has(f.id) && follows(f, fault, orderOf) && (orderOf(f) > 0 || near(f, fault));
  const asks = (f: Finding): boolean => f.severity !== 'note';
  for (const fault of roots) {
    if (out.has(fault.id) || done >= trials || !base.some((f) => asks(f) && mayFollow(f, fault))) continue;
    yield { done: done++, of: roots.length };
    const all = mendingAll(fault, base);
    for (const edits of [...(all ? [all] : []), ...fault.repairs.slice(1, 3).map((r) => r.edits)]) {
      const after = mended(edits);
      const left = new Set(after.map((f) => f.id));
      const gone = base.filter((f) => !left.has(f.id));
      // What is only told otherwise now is nothing new.
      const anew = (f: Finding): boolean =>
        f.severity !== 'note' && !before.has(f.id) && !gone.some((g) => g.rule === f.rule && g.id !== fault.id && near(g, f));
      if (left.has(fault.id) || after.some(anew)) continue;
      faults.push({ fault, edits });
      for (const f of gone) if (mayFollow(f, fault)) out.set(f.id, fault.id);
      break;
    }
  }
  const open = base.filter((f) => !out.has(f.id) && !faults.some((x) => x.fault === f) && f.severity !== 'note');
  const causes = faults.filter((x) => !out.has(x.fault.id));
  if (open.length > 0 && causes.length > 1 && causes.length <= fewFaults) yield* together(open, causes, looking, out);
  return new Map([...out].map(([id, cause]) => [id, rootOf(out, cause)]));
}

/** Whether two findings are about one router. */
const near = (a: Finding, b: Finding): boolean => a.where.some((x) => b.where.some((y) => x.router === y.router));

/** Whether a finding can follow from a fault: not the fault itself, nor another thing wrong between the same two ends. */
const follows = (f: Finding, fault: Finding, orderOf: Looking['orderOf']): boolean =>
  f.id !== fault.id && (orderOf(f) >= orderOf(fault) || near(f, fault)) && (pairOf(f) === undefined || pairOf(f) !== pairOf(fault));

/** The cause of a cause; each is explained by one alone. */
function rootOf(causes: ReadonlyMap<string, string>, id: string): string {
  const seen = new Set<string>();
  let at = id;
  for (let up = causes.get(at); up !== undefined && !seen.has(up); up = causes.get(at)) {
    seen.add(at);
    at = up;
  }
  return at;
}

/** What goes only when several faults are mended: it follows from one without which it stays. */
function* together(
  open: readonly Finding[],
  faults: readonly { readonly fault: Finding; readonly edits: readonly Edit[] }[],
  { mended, orderOf }: Looking,
  out: Map<string, string>,
): Generator<{ readonly done: number; readonly of: number }, void> {
  const merged = (list: typeof faults): Edit[] => {
    const by = new Map<string, Edit>();
    for (const { edits } of list) for (const e of edits) if (!by.has(`${e.file} ${e.at.join('/')}`)) by.set(`${e.file} ${e.at.join('/')}`, e);
    return [...by.values()];
  };
  const left = new Set(mended(merged(faults)).map((f) => f.id));
  const gone = open.filter((f) => !left.has(f.id));
  const without = new Map<Finding, ReadonlySet<string>>();
  let done = 0;
  for (const { fault } of gone.length > 0 ? faults : []) {
    yield { done: done++, of: faults.length };
    without.set(fault, new Set(mended(merged(faults.filter((x) => x.fault !== fault))).map((f) => f.id)));
  }
  for (const f of gone) {
    const needed = faults.map((x) => x.fault).filter((x) => follows(f, x, orderOf) && without.get(x)?.has(f.id));
    const cause = needed.find((x) => near(f, x)) ?? needed[0];
    if (cause) out.set(f.id, cause.id);
  }
}
