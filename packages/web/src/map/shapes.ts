export interface Point {
  readonly x: number;
  readonly y: number;
}
/** Size of a plate that is larger than a name needs. */
export interface Size {
  readonly width: number;
  readonly height: number;
}

/** A name plate: its usual width, the least that a short name gets, and its height. */
export const plate = { width: 84, least: 62, height: 22 } as const;
/** Width of a plate that holds a name. */
export const plateWidth = (name: string): number => Math.max(plate.least, name.length * 6.9 + 14);
