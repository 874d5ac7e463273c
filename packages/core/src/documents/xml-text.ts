const entities: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&apos;' };

/** True for a character that XML 1.0 can hold. */
const known = (code: number): boolean =>
  code === 9 || code === 10 || code === 13 || (code >= 0x20 && code <= 0xd7ff) || (code >= 0xe000 && code <= 0xfffd) || code >= 0x1_0000;

/** Text as it may stand in XML 1.0: entities for markup, and a sign in the place of characters that XML does not know. */
export function xmlText(text: string): string {
  let out = '';
  for (const c of text) out += known(c.codePointAt(0) ?? 0) ? (entities[c] ?? c) : '\ufffd';
  return out;
}
