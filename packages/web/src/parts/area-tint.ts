/** Which tint an area has, on the map and wherever it is marked: by its place in the list of areas; the backbone has the first. */
export function areaTint(areas: readonly { readonly id: string }[], area: string): number {
  const n = areas.filter((a) => a.id !== '0.0.0.0').findIndex((a) => a.id === area);
  return area === '0.0.0.0' || n < 0 ? 0 : (n % 8) + 1;
}
