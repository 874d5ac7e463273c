import { address6Number } from '@gentle-compass/core/documents/leaf-types';
import type { Address } from '@gentle-compass/core/prefix/address';
import { parseIpv4 } from '@gentle-compass/core/prefix/ipv4';
import { Unusable } from './unusable';

/** An address that a call names; a text that is none makes the call unusable. */
export function addressOf(text: string): Address {
  const ip = text.includes(':') ? address6Number.read(text) : parseIpv4(text);
  if (ip === undefined) throw new Unusable(`"${text}" is no address such as 10.96.0.1 or 2001:db8::1.`);
  return ip;
}
