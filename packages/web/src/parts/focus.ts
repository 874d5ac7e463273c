/** How long what is to take the focus may take to be drawn, in milliseconds. */
const atMost = 10_000;
let latest = 0;

/**
 * Gives an element the focus as soon as it is drawn: on a busy machine that takes more than a moment. Whoever moves the
 * focus meanwhile keeps it, and the latest wish holds.
 *
 * @param find  looks for the element, once a frame
 */
export function focusWhenDrawn(find: () => HTMLElement | SVGElement | null | undefined): void {
  const wish = (latest += 1);
  const from = document.activeElement;
  const end = performance.now() + atMost;
  const look = (): void => {
    const now = document.activeElement;
    if (wish !== latest || (now !== from && now !== document.body) || performance.now() > end) return;
    const el = find();
    if (el) el.focus();
    else requestAnimationFrame(look);
  };
  look();
}
