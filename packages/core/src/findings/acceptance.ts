import { sha256 } from '@noble/hashes/sha2';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils';
import type { Acceptance } from '../design/settings';
import type { DocumentValue, Edit } from '../design/edit';
import { valueAt } from '../design/edit';
import { documentKind, type SourceDocument } from '../formats/documents';
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
 * Edits that accept a finding with a note, or with `undefined` take its acceptance back. The design's first settings
 * document holds it; where there is none, the edit makes one.
 */
export function acceptEdits(documents: readonly SourceDocument[], finding: Pick<Finding, 'id' | 'digest'>, note: string | undefined): Edit[] {
  const holder = documents.find((d) => documentKind(d.tree) === 'settings') ?? { file: settingsFile, tree: {} };
  const member = Object.keys(holder.tree).find((m) => m.endsWith('settings')) ?? 'gentle-compass:settings';
  const at = [member, 'accepted'];
  const from = valueAt(holder.tree, at) as DocumentValue;
  const others = (Array.isArray(from) ? (from as { finding?: string }[]) : []).filter((a) => a.finding !== finding.id) as DocumentValue[];
  const to = note === undefined ? others : [...others, { finding: finding.id, evidence: finding.digest, note }];
  return [{ router: '', file: holder.file, at, from, to: to.length === 0 ? undefined : to }];
}
