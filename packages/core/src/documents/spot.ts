import type { DocumentPath } from './document-path';

/** A place that documents have in common: its path is one list for all of them. */
export class Spot {
  private readonly members = new Map<string, Spot>();
  private readonly entries = new Map<string, Spot[]>();

  constructor(readonly path: DocumentPath) {}

  /** A member, or with an index an entry of the list that it holds. */
  below(member: string, index: number | undefined): Spot {
    if (index === undefined) return getOrMake(this.members, member, () => new Spot([...this.path, member]));
    const list = getOrMake(this.entries, member, (): Spot[] => []);
    let entry = list[index];
    if (!entry) {
      entry = new Spot([...this.path, member, index]);
      list[index] = entry;
      spots++;
    }
    return entry;
  }
}

function getOrMake<T>(map: Map<string, T>, key: string, make: () => T): T {
  let value = map.get(key);
  if (value === undefined) {
    value = make();
    map.set(key, value);
    spots++;
  }
  return value;
}

let root = new Spot([]);
let spots = 0;

/** The place of a whole document. What is remembered below it has a bound: nonsense may bring any number of places. */
export function rootSpot(): Spot {
  if (spots > 10_000) [root, spots] = [new Spot([]), 0];
  return root;
}
