import '@testing-library/jest-dom';
import 'fake-indexeddb/auto';

/** Sizes are not known without a browser: everything is as large as the screen, so that long lists show their beginning. */
class NoResizing implements ResizeObserver {
  constructor(private readonly heard: ResizeObserverCallback) {}
  observe(target: Element): void {
    const size = { inlineSize: 1280, blockSize: 800 };
    const rect = { x: 0, y: 0, width: 1280, height: 800, top: 0, left: 0, right: 1280, bottom: 800, toJSON: () => '' };
    this.heard([{ target, contentRect: rect, borderBoxSize: [size], contentBoxSize: [size], devicePixelContentBoxSize: [size] }], this);
  }
  unobserve(): void {}
  disconnect(): void {}
}
globalThis.ResizeObserver = NoResizing;
Element.prototype.scrollIntoView = () => undefined;
Element.prototype.scrollTo = () => undefined;
for (const [name, size] of Object.entries({ offsetHeight: 800, offsetWidth: 1280, clientHeight: 800, clientWidth: 1280 }))
  Object.defineProperty(HTMLElement.prototype, name, { configurable: true, get: () => size });
