/** Properties that the page's style gives and that must stand in the file itself. */
const inlined = [
  'fill',
  'stroke',
  'stroke-width',
  'stroke-dasharray',
  'stroke-opacity',
  'font-family',
  'font-size',
  'font-style',
  'font-weight',
  'paint-order',
] as const;

/**
 * The map as a drawing of its own: colours and type written into it, the whole chart in sight, nothing of the page needed.
 *
 * @param sheet  the map's element as it stands in the page
 * @param near  with all that is read near by, however far off the map is seen now
 */
export function mapAsSvg(sheet: SVGSVGElement, width: number, height: number, near: boolean): string {
  const far = near ? [...sheet.querySelectorAll('[data-far]')] : [];
  for (const g of far) g.removeAttribute('data-far');
  const text = drawnAs(sheet, width, height);
  for (const g of far) g.setAttribute('data-far', '');
  return text;
}

function drawnAs(sheet: SVGSVGElement, width: number, height: number): string {
  const copy = sheet.cloneNode(true) as SVGSVGElement;
  const originals = [...sheet.querySelectorAll<SVGElement>('*')];
  const copies = [...copy.querySelectorAll<SVGElement>('*')];
  const gone: SVGElement[] = [];
  originals.forEach((from, n) => {
    const to = copies[n];
    if (!to) return;
    const style = getComputedStyle(from);
    if (style.display === 'none' || style.visibility === 'hidden') gone.push(to);
    for (const p of inlined) {
      const value = style.getPropertyValue(p);
      if (value !== '' && (from.hasAttribute(p) || p.startsWith('font') || p === 'fill' || p === 'stroke')) to.setAttribute(p, value);
    }
    for (const a of ['class', 'role', 'tabindex', 'aria-label', 'aria-pressed', 'data-router', 'style']) to.removeAttribute(a);
  });
  gone.forEach((g) => g.remove());
  // The sheet may be moved and zoomed: the file shows the whole chart.
  for (const g of copy.children) g.removeAttribute('transform');
  for (const a of ['class', 'role', 'aria-label', 'style']) copy.removeAttribute(a);
  for (const g of copy.children) g.removeAttribute('data-far');
  copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg');
  copy.setAttribute('viewBox', `0 0 ${width} ${height}`);
  copy.setAttribute('width', String(width));
  copy.setAttribute('height', String(height));
  return `<?xml version="1.0" encoding="UTF-8"?>\n${new XMLSerializer().serializeToString(copy)}\n`;
}
