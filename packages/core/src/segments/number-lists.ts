/** Lists of numbers one behind the other: list `i` is `items[first[i]]` to `items[first[i + 1] - 1]`. */
export interface NumberLists {
  readonly first: Int32Array;
  readonly items: Int32Array;
}

/**
 * Lists of the places at which each key stands, in their order; keys below 0 are left out.
 *
 * @param size  keys are smaller than this
 * @param item  what stands in the lists instead of a place
 */
export function listsByKey(keys: ArrayLike<number>, size: number, item?: (place: number) => number): NumberLists {
  const first = new Int32Array(size + 1);
  for (let i = 0; i < keys.length; i++) {
    const k = keys[i] ?? -1;
    if (k >= 0) first[k + 1] = (first[k + 1] ?? 0) + 1;
  }
  for (let k = 0; k < size; k++) first[k + 1] = (first[k + 1] ?? 0) + (first[k] ?? 0);
  const at = first.slice();
  const items = new Int32Array(first[size] ?? 0);
  for (let i = 0; i < keys.length; i++) {
    const k = keys[i] ?? -1;
    if (k < 0) continue;
    const place = at[k] ?? 0;
    at[k] = place + 1;
    items[place] = item ? item(i) : i;
  }
  return { first, items };
}

/** A longer copy of numbers, with zeros behind them: twice as long, and at least so long. */
export function wider<T extends Int32Array | Uint32Array | Uint8Array | Float64Array>(list: T, length = 0): T {
  const Numbers = list.constructor as new (size: number) => T;
  const out = new Numbers(Math.max(length, list.length * 2));
  out.set(list);
  return out;
}
