import { sha256 } from '@noble/hashes/sha2';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils';
import type { Acceptance } from '../design/settings';
import type { DocumentValue, Edit } from '../design/edit';
import { memberName, valueAt } from '../design/edit';
import { localName } from '../documents/shape';
import { documentKind, type SourceDocument } from '../documents/documents';
import type { Draft, Finding } from './finding';

/** A digest of what a finding rests on: its message and its evidence. Lines that only moved do not change it. */
export const evidenceDigest = (d: Pick<Draft, 'message' | 'evidence'>): string =>
  bytesToHex(sha256(utf8ToBytes(JSON.stringify([d.message, d.evidence.map((e) => [e.router, e.what, e.value])])))).slice(0, 16);

/** How a finding stands to what was accepted: taken as it is, or come back since its evidence is another. */
export function acceptanceOf(accepted: readonly Acceptance[], id: string, digest: string): Pick<Finding, 'accepted' | 'returned'> {
  const own = accepted.filter((a) => a.finding === id);
  const same = own.find((a) => a.evidence === digest);
  if (same) return { accepted: { note: same.note } };
  const other = own[0];
  return other ? { returned: { note: other.note } } : {};
}

/** File name of the settings document that a design without one gets. */
export const settingsFile = 'settings.json';

/**
 * Edits that accept a finding with a note, or with `undefined` take its acceptance back, in whichever settings document it
 * stands. The design's first settings document takes new ones; where there is none, the edit makes one.
 */
export function acceptEdits(documents: readonly SourceDocument[], finding: Pick<Finding, 'id' | 'digest'>, note: string | undefined): Edit[] {
  const settings = documents.filter((d) => documentKind(d.tree) === 'settings');
  const holders = settings.length > 0 ? settings : [{ file: settingsFile, tree: {} }];
  return holders.flatMap((holder, n): Edit[] => {
    const member = Object.keys(holder.tree).find((m) => localName(m) === 'settings') ?? 'gentle-compass:settings';
    const at = [member, memberName(holder.tree, [member], 'accepted')];
    const from = valueAt(holder.tree, at) as DocumentValue;
    const all = Array.isArray(from) ? (from as readonly { finding?: string }[]) : [];
    const others = all.filter((a) => a.finding !== finding.id) as readonly DocumentValue[];
    const to = n === 0 && note !== undefined ? [...others, { finding: finding.id, evidence: finding.digest, note }] : others;
    return to.length === all.length && others.length === all.length
      ? []
      : [{ router: '', file: holder.file, at, from, to: to.length === 0 ? undefined : to }];
  });
}
