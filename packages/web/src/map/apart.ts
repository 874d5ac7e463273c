import { plate, plateWidth } from './shapes';

/** Room that a plate takes on the sheet: wide enough for the longest name. */
export interface Room {
  readonly x: number;
  readonly y: number;
}
/** Small campuses get more paper around each plate, so that what is written on lines has its place. */
export const spareFor = (routers: number): Room => (routers <= 30 ? { x: 44, y: 36 } : { x: 14, y: 28 });
export const roomFor = (names: readonly string[], spare: Room): Room => ({
  x: Math.max(plate.least, ...names.map(plateWidth)) + spare.x,
  y: plate.height + spare.y,
});

/** Who gives way when two plates touch: a free one to one on the coast, both to one that was placed by hand. */
export type Hold = 'free' | 'coast' | 'hand';
const firmness: Record<Hold, number> = { free: 0, coast: 1, hand: 2 };

export interface Node {
  readonly id: string;
  x: number;
  y: number;
  readonly hold: Hold;
  readonly room: Room;
}

/** Rounds after which it is asked whether there is any headway. */
const stallAfter = 40;
/** Overlaps of rooms below this many pixels are left: rooms have paper to spare around each plate. */
const least = 0.2;

/** Moves plates apart until none touches another; the firmer of two stays. */
export function separate(nodes: readonly Node[], rounds = 400): void {
  const x = Float64Array.from(nodes, (n) => n.x);
  const y = Float64Array.from(nodes, (n) => n.y);
  const width = Float64Array.from(nodes, (n) => n.room.x);
  const height = Float64Array.from(nodes, (n) => n.room.y);
  const firm = Uint8Array.from(nodes, (n) => firmness[n.hold]);
  const row = Int32Array.from(nodes, (_, i) => i);
  const widest = width.reduce((a, b) => Math.max(a, b), 0);
  let last = Infinity;
  for (let n = 0; n < rounds; n++) {
    sortByPlace(row, x);
    const pushed = pushApart(row, x, y, width, height, firm, widest);
    if (pushed === 0) break;
    if (n % stallAfter !== stallAfter - 1) continue;
    // A crowd that has no more room only swaps places.
    if (pushed > last * 0.9) break;
    last = pushed;
  }
  nodes.forEach((node, i) => ([node.x, node.y] = [x[i] ?? 0, y[i] ?? 0]));
}

/** Sorts places by x, equal ones by number: nearly sorted as they are from round to round, that takes one look. */
function sortByPlace(row: Int32Array, x: Float64Array): void {
  for (let i = 1; i < row.length; i++) {
    const at = row[i] ?? 0;
    const own = x[at] ?? 0;
    let j = i - 1;
    for (; j >= 0; j--) {
      const other = row[j] ?? 0;
      const d = (x[other] ?? 0) - own;
      if (d < 0 || (d === 0 && other < at)) break;
      row[j + 1] = other;
    }
    row[j + 1] = at;
  }
}

/**
 * One round from left to right: who stands further off than a plate is wide cannot touch. Gives the number of pairs that
 * were pushed apart. Small, and of steady types: it runs over every pair of neighbours.
 */
function pushApart(
  row: Int32Array,
  x: Float64Array,
  y: Float64Array,
  width: Float64Array,
  height: Float64Array,
  firm: Uint8Array,
  widest: number,
): number {
  let pushed = 0;
  for (let i = 0; i < row.length; i++) {
    const a = row[i] ?? 0;
    for (let j = i + 1; j < row.length; j++) {
      const b = row[j] ?? 0;
      const dx = (x[b] ?? 0) - (x[a] ?? 0);
      if (dx > widest) break;
      const dy = (y[b] ?? 0) - (y[a] ?? 0);
      const wantY = ((height[a] ?? 0) + (height[b] ?? 0)) / 2;
      const oy = wantY - (dy < 0 ? -dy : dy);
      if (oy <= least) continue;
      const wantX = ((width[a] ?? 0) + (width[b] ?? 0)) / 2;
      const ox = wantX - (dx < 0 ? -dx : dx);
      if (ox <= least) continue;
      pushed++;
      const [fa, fb] = [firm[a] ?? 0, firm[b] ?? 0];
      const share = fa === fb ? 0.5 : fa > fb ? 0 : 1;
      const [at, by] = ox / wantX < oy / wantY ? [x, (dx < 0 ? -1 : 1) * ox] : [y, (dy < 0 ? -1 : 1) * oy];
      at[a] = (at[a] ?? 0) - by * share;
      at[b] = (at[b] ?? 0) + by * (1 - share);
    }
  }
  return pushed;
}
