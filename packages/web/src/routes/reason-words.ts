import { reasonText, type Absence } from '@gentle-compass/core/areas/absence';
import { prefixNumber } from '@gentle-compass/core/documents/leaf-types';
import { formatAddress } from '@gentle-compass/core/prefix/address';
import { hostOf } from '@gentle-compass/core/reach/ends';

/** Why a route is missing, in one line. */
export const reasonWords = (a: Absence | null): string => (a?.reasons[0] ? reasonText(a.reasons[0]) : '');

/** An address in a prefix that a host could have, as text. */
export function hostWord(prefix: string): string {
  const p = prefixNumber.read(prefix);
  return p ? formatAddress(hostOf(p)) : prefix;
}
