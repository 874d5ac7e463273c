import { sha256 } from '@noble/hashes/sha2';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils';
import { localName } from './shape';
import type { SourceDocument } from './documents';

const prefix = 'digest:';

/** A key that is not shown: `digest:SALT:HEX`, SHA-256 over salt and key. The same key and salt give the same digest. */
export const digestOf = (salt: string, key: string): string => `${prefix}${salt}:${bytesToHex(sha256(utf8ToBytes(`${salt}:${key}`))).slice(0, 32)}`;

/** True when a secret is a digest and not the key itself. */
export const isDigest = (secret: string): boolean => /^digest:[0-9a-f]{8,64}:[0-9a-f]{32}$/.test(secret);

/** True when two secrets stand for one key: both in the clear, both digests, or one of each. */
export function sameSecret(a: string, b: string): boolean {
  if (a === b) return true;
  if (isDigest(a) === isDigest(b)) return false;
  const [digest, clear] = isDigest(a) ? [a, b] : [b, a];
  return digestOf(digest.split(':')[1] ?? '', clear) === digest;
}

const secretLeaves = new Set(['ospfv2-key', 'ospfv3-key', 'keystring', 'hexadecimal-string']);

/** For `JSON.stringify`: shows every member but the keys. */
export const hideKeys = (member: string, value: unknown): unknown =>
  secretLeaves.has(localName(member)) && typeof value === 'string' ? 'not shown' : value;

function withoutKeys(node: unknown, salt: string): unknown {
  if (Array.isArray(node)) return node.map((n) => withoutKeys(n, salt));
  if (typeof node !== 'object' || node === null) return node;
  return Object.fromEntries(
    Object.entries(node).map(([name, value]) => [
      name,
      secretLeaves.has(localName(name)) && typeof value === 'string' ? (isDigest(value) ? value : digestOf(salt, value)) : withoutKeys(value, salt),
    ]),
  );
}

/**
 * Documents with every authentication key replaced by a salted digest: whether two keys are equal can still be checked.
 *
 * @param salt  8 to 64 hexadecimal digits, made anew for each export
 */
export const redactKeys = (documents: readonly SourceDocument[], salt: string): SourceDocument[] =>
  documents.map((d) => ({
    file: d.file,
    ...(d.encoding ? { encoding: d.encoding } : {}),
    tree: withoutKeys(d.tree, salt) as Record<string, unknown>,
  }));

/** True when a document holds a key in the clear. */
export const holdsKeys = (documents: readonly SourceDocument[]): boolean => {
  const clear = (node: unknown): boolean =>
    typeof node === 'object' &&
    node !== null &&
    Object.entries(node).some(([name, value]) => (secretLeaves.has(localName(name)) && typeof value === 'string' ? !isDigest(value) : clear(value)));
  return documents.some((d) => clear(d.tree));
};
