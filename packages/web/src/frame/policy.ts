/**
 * What a page may do: scripts of this origin and inline ones by nonce, no eval, no frame, nothing of another origin. Styles may
 * stand on elements: charts and lists place their parts so.
 */
export const contentPolicy = (nonce: string): string =>
  Object.entries({
    'default-src': "'none'",
    'script-src': `'self' 'nonce-${nonce}'`,
    'style-src': "'self' 'unsafe-inline'",
    'img-src': "'self' data: blob:",
    'font-src': "'self'",
    'connect-src': "'self'",
    'worker-src': "'self' blob:",
    'base-uri': "'none'",
    'form-action': "'self'",
    'frame-src': "'none'",
    'frame-ancestors': "'none'",
    'object-src': "'none'",
  })
    .map(([name, value]) => `${name} ${value}`)
    .join('; ');

/** Headers that every answer has, files too. */
export const plainHeaders = [
  { key: 'x-content-type-options', value: 'nosniff' },
  { key: 'referrer-policy', value: 'no-referrer' },
  { key: 'permissions-policy', value: 'camera=(), microphone=(), geolocation=(), usb=(), serial=(), payment=(), display-capture=()' },
  { key: 'cross-origin-opener-policy', value: 'same-origin' },
  { key: 'cross-origin-resource-policy', value: 'same-origin' },
];

/**
 * Whether a request asks this machine by a name of its own. A page of somebody else whose name leads here by trickery does not.
 *
 * @param host    the `Host` header
 * @param opened  the address that the server was told to listen on, if any: then every name is taken
 */
export function isOwnHost(host: string | null, opened: string | undefined): boolean {
  if (opened !== undefined && opened !== '' && !isLoopback(opened)) return true;
  return host !== null && isLoopback(host.replace(/:\d+$/, ''));
}

const isLoopback = (name: string): boolean =>
  name === 'localhost' || name.endsWith('.localhost') || name === '[::1]' || name === '::1' || /^127(\.\d{1,3}){3}$/.test(name);
