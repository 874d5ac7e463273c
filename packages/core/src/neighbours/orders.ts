/** Every order of some things. */
export function* orders<T>(items: readonly T[]): Generator<readonly T[]> {
  if (items.length <= 1) yield items;
  else for (const [i, first] of items.entries()) for (const rest of orders(items.filter((_, n) => n !== i))) yield [first, ...rest];
}
