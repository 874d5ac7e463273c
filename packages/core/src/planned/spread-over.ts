/** So many of a list, spread over it; all of a short one. */
export const spreadOver = <T>(all: readonly T[], most: number): T[] =>
  all.filter((_, n) => all.length <= most || Math.floor((n * most) / all.length) !== Math.floor(((n - 1) * most) / all.length));
