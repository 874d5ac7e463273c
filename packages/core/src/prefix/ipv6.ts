/** An IPv6 address as an unsigned 128-bit number. */
export type Ipv6 = bigint;

/** Reads an IPv6 address in the forms of RFC 4291 §2.2 (without a zone), or gives `undefined`. */
export function parseIpv6(text: string): Ipv6 | undefined {
  const halves = text.split('::');
  if (halves.length > 2) return undefined;
  const groups = (part: string): number[] | undefined => {
    if (part === '') return [];
    const out: number[] = [];
    for (const g of part.split(':')) {
      if (!/^[0-9a-fA-F]{1,4}$/.test(g)) return undefined;
      out.push(parseInt(g, 16));
    }
    return out;
  };
  const head = groups(halves[0] ?? '');
  const tail = halves.length === 2 ? groups(halves[1] ?? '') : [];
  if (!head || !tail) return undefined;
  const missing = 8 - head.length - tail.length;
  if (halves.length === 2 ? missing < 1 : missing !== 0) return undefined;
  let value = 0n;
  for (const g of [...head, ...new Array<number>(missing).fill(0), ...tail]) value = (value << 16n) | BigInt(g);
  return value;
}

/** Writes an IPv6 address as RFC 5952 recommends: lower case, the longest run of zero groups as `::`. */
export function formatIpv6(ip: Ipv6): string {
  const groups = Array.from({ length: 8 }, (_, i) => Number((ip >> BigInt(112 - 16 * i)) & 0xffffn));
  let best = { start: -1, length: 1 };
  for (let i = 0; i < 8; i++) {
    let n = 0;
    while (i + n < 8 && groups[i + n] === 0) n++;
    if (n > best.length) best = { start: i, length: n };
  }
  const text = (from: number, to: number): string =>
    groups
      .slice(from, to)
      .map((g) => g.toString(16))
      .join(':');
  return best.start < 0 ? text(0, 8) : `${text(0, best.start)}::${text(best.start + best.length, 8)}`;
}
