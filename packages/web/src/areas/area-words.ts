import type { AreaGlance } from '@gentle-compass/core/areas/glance';
import type { AreaKind } from '@gentle-compass/core/design/terms';

/** Types of an area as they are said. */
export const kindWords: Record<AreaKind, string> = {
  normal: 'normal',
  stub: 'stub',
  'totally-stubby': 'totally stubby',
  nssa: 'NSSA',
  'totally-nssa': 'totally NSSA',
};

export const attachedWords: Record<AreaGlance['attached'], string> = {
  backbone: 'all others hang on it',
  directly: 'at the backbone',
  'by virtual link': 'by a virtual link',
  'not at all': 'not attached',
};

/** Where an advertisement's word comes from: the area itself, other areas, or outside. */
export const sources = ['inside', 'areas', 'outside'] as const;
export type LoadSource = (typeof sources)[number];
export const sourceWords: Record<LoadSource, string> = { inside: 'itself', areas: 'other areas', outside: 'outside' };
export const sourceCounts: Record<LoadSource, string> = { inside: 'own', areas: 'from areas', outside: 'outside' };
export const sourceFill: Record<LoadSource, string> = { inside: 'var(--coast-5)', areas: 'var(--coast-1)', outside: 'var(--coast-3)' };

/** By type as it is written (RFC 2328 A.4, RFC 5340 A.4). */
export function sourceOf(type: string): LoadSource {
  if (['3', '4', '0x2003', '0x2004'].includes(type)) return 'areas';
  return ['5', '7', '0x4005', '0x2007'].includes(type) ? 'outside' : 'inside';
}

/** How many advertisements of an area's load come from where. */
export function loadBySource(load: AreaGlance['load']): Record<LoadSource, number> {
  const out = { inside: 0, areas: 0, outside: 0 };
  for (const l of load) out[sourceOf(l.type)] += l.count;
  return out;
}

/** All of a load together. */
export const totalOf = (load: AreaGlance['load']): number => load.reduce((n, l) => n + l.count, 0);
