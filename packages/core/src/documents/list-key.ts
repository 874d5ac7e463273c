import { localName } from './shape';

/** Members that entries of lists are told apart by, in the order in which they count: an area by its id, whatever it is called. */
const keys = [
  'match',
  'area-id',
  'name',
  'prefix',
  'destination-prefix',
  'router-id',
  'identifier',
  'source',
  'id',
  'finding',
  'index',
  'link-id',
  'node-id',
];

/**
 * The key of a list entry, as text; `undefined` when it has none.
 *
 * @param more  members that tell entries apart where the others do not: an address by `ip`, of which mostly there is one
 */
export function keyOfEntry(entry: unknown, more: readonly string[] = []): string | undefined {
  if (typeof entry !== 'object' || entry === null || Array.isArray(entry)) return undefined;
  const node = entry as Record<string, unknown>;
  const names = Object.keys(node);
  for (const k of [...keys, ...more]) {
    const member = names.find((m) => localName(m) === k);
    if (member === undefined) continue;
    // The two versions of OSPF in a router may have one name (RFC 8349: a protocol is keyed by type and name).
    const type = typeof node['type'] === 'string' ? localName(node['type']) : '';
    return type === 'ospfv3' ? `${String(node[member])}, OSPFv3` : String(node[member]);
  }
  return undefined;
}
