/** Runs whose time lies in a span, its end not included but for the last. Times in ms. */
export interface Bin {
  readonly from: number;
  readonly to: number;
  readonly middle: number;
  readonly runs: number;
}

/** Counts times in spans of one width. @param times  sorted */
export function binsOf(times: readonly number[], most = 16): Bin[] {
  const [least, greatest] = [times[0], times.at(-1)];
  if (least === undefined || greatest === undefined) return [];
  const n = greatest === least ? 1 : Math.min(most, Math.max(3, Math.ceil(Math.sqrt(times.length))));
  const width = greatest === least ? 1 : (greatest - least) / n;
  const counted = Array.from({ length: n }, () => 0);
  for (const t of times) {
    const at = Math.min(n - 1, Math.floor((t - least) / width));
    counted[at] = (counted[at] ?? 0) + 1;
  }
  return counted.map((runs, i) => {
    const from = least + i * width;
    return { from, to: from + width, middle: from + width / 2, runs };
  });
}
