/**
 * Some browsers have channels between tabs and refuse to make one. The storage library makes one as it is loaded, and would
 * fail there: it must find none at all instead. To be imported before it.
 */
try {
  new BroadcastChannel('gentle-compass-probe').close();
} catch {
  Object.defineProperty(globalThis, 'BroadcastChannel', { value: undefined, configurable: true, writable: true });
}
