import type { Finding } from './finding';

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
