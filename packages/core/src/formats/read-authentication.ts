import type { Authentication, AuthenticationKey, Lifetime } from '../design/design';
import type { Cursor } from '../documents/cursor';
import { anyText, flag, identity, integer, moment, nameText } from '../documents/leaf-types';

export type KeyChains = ReadonlyMap<string, readonly AuthenticationKey[]>;

const noChains: KeyChains = new Map();
const always: Lifetime = {};
const seconds = integer(1, 2_147_483_646);

/** Reads key chains (RFC 8177). A hexadecimal key compares equal to the same octets written as text. */
export function readKeyChains(root: Cursor): KeyChains {
  const top = root.child('key-chains');
  if (!top) return noChains;
  const chains = new Map<string, AuthenticationKey[]>();
  for (const c of top.list('key-chain', 'name')) {
    const name = c.leaf('name', nameText);
    const keys: AuthenticationKey[] = [];
    for (const k of c.list('key', 'key-id')) {
      const id = k.leaf('key-id', integer(0, Number.MAX_SAFE_INTEGER));
      const algorithm = k.leaf('crypto-algorithm', identity) ?? 'md5';
      const secret = readKeyString(k.child('key-string'));
      const lifetime = k.child('lifetime');
      const both = readLifetime(lifetime?.child('send-accept-lifetime'));
      const send = readLifetime(lifetime?.child('send-lifetime')) ?? both ?? always;
      const accept = readLifetime(lifetime?.child('accept-lifetime')) ?? both ?? always;
      if (id !== undefined) keys.push({ id: id % 0x1_0000, algorithm, secret, send, accept });
    }
    if (name !== undefined) chains.set(name, keys);
  }
  return chains;
}

/** A lifetime of a key: `always`, or from a start to an end, for a number of seconds, or without an end (RFC 8177). */
function readLifetime(c: Cursor | undefined): Lifetime | undefined {
  if (!c) return undefined;
  c.known('always', 'no-end-time');
  const from = c.leaf('start-date-time', moment);
  const end = c.leaf('end-date-time', moment);
  const duration = c.leaf('duration', seconds);
  const until = end ?? (from === undefined || duration === undefined ? undefined : from + duration * 1000);
  if (from !== undefined && until !== undefined && until <= from) {
    c.problem('end-date-time', 'This lifetime ends before it begins.', 'Correct one of the two; until then the key counts as valid always.');
    return always;
  }
  return { ...(from === undefined ? {} : { from }), ...(until === undefined ? {} : { until }) };
}

function readKeyString(c: Cursor | undefined): string {
  const hex = c?.leaf('hexadecimal-string', anyText);
  if (hex !== undefined) {
    const octets = hex.split(':').map((h) => parseInt(h, 16));
    if (octets.every((o) => o >= 32 && o < 127)) return String.fromCharCode(...octets);
    return `hex ${hex.toLowerCase()}`;
  }
  return c?.leaf('keystring', anyText) ?? '';
}

/** Most interfaces name no key: these serve them all. */
const keyless = { off: { required: false, keys: [] }, required: { required: true, keys: [] } } as const satisfies Record<string, Authentication>;

/** The leaves of RFC 9129 for each version, and what algorithm is meant where none is written. */
const forms = {
  2: {
    of: 'ospfv2',
    idLeaf: 'key-id',
    ids: integer(0, 255),
    plain: 'md5',
    other: ['ospfv3-key-chain', 'ospfv3-sa-id', 'ospfv3-key', 'ospfv3-crypto-algorithm'],
  },
  3: {
    of: 'ospfv3',
    idLeaf: 'sa-id',
    ids: integer(0, 65_535),
    plain: 'hmac-sha-256',
    other: ['ospfv2-key-chain', 'ospfv2-key-id', 'ospfv2-key', 'ospfv2-crypto-algorithm'],
  },
} as const;

/**
 * Reads how an interface or virtual link authenticates (RFC 9129 `authentication`).
 * Version 3 names a security association in the place of a key id (RFC 7166 §4.1). Without `authentication-required` it is switched on exactly where a key is given.
 */
export function readAuthentication(holder: Cursor, chains: KeyChains, areaRequires: boolean | undefined, version: 2 | 3): Authentication {
  const c = holder.child('authentication');
  const required = holder.leaf('authentication-required', flag) ?? c?.leaf('authentication-required', flag) ?? areaRequires;
  if (!c) return required === true ? keyless.required : keyless.off;
  const { of, other, idLeaf, ids, plain } = forms[version];
  const chain = c.leaf(`${of}-key-chain`, nameText);
  const id = c.leaf(`${of}-${idLeaf}`, ids);
  const secret = c.leaf(`${of}-key`, anyText);
  const algorithm = c.leaf(`${of}-crypto-algorithm`, identity);
  c.knownAll(other);
  let keys: readonly AuthenticationKey[] = [];
  if (chain !== undefined) {
    keys = chains.get(chain) ?? [];
    if (version === 2 && keys.some((k) => k.id > 255)) keys = keys.map((k) => ({ ...k, id: k.id & 255 }));
    if (!chains.has(chain))
      c.problem(`${of}-key-chain`, `There is no key chain "${chain}" in this document.`, 'Add the key chain, or name one that exists.');
  } else if (secret !== undefined || id !== undefined)
    keys = [
      {
        id: id ?? 0,
        algorithm: algorithm ?? (version === 2 && id === undefined ? 'none' : plain),
        secret: secret ?? '',
        send: always,
        accept: always,
      },
    ];
  return { required: required ?? keys.length > 0, keys, ...(chain === undefined ? {} : { chain }) };
}
