import type { DesignRow, VersionRow } from '../storage/kept';
import { announce, shelf } from '../storage/shelf';

export type { DesignRow, VersionRow } from '../storage/kept';

/** Designs that this browser keeps, the latest first; none where it keeps nothing. */
export const keptDesigns = (): Promise<readonly DesignRow[]> =>
  shelf()
    .list()
    .catch(() => []);

/** Versions of a design in the order in which they were kept. */
export const versionsOf = (design: string): Promise<readonly VersionRow[]> =>
  shelf()
    .versionsOf(design)
    // One that is damaged cannot be gone back to.
    .then((list) => list.filter((v) => Array.isArray(v.documents) && typeof v.name === 'string'))
    .catch(() => []);

/** Deletes a design; other tabs that have it open hear of it. */
export async function deleteDesign(id: string): Promise<void> {
  await shelf().remove(id);
  announce(id);
}

/** Everything that is kept of a design, row by row and as it is, as text: for one that is damaged. */
export const rowsOfDesign = async (id: string): Promise<string> => JSON.stringify((await shelf().raw(id)) ?? null, null, 1);

/** Deletes a version. */
export const deleteVersion = (id: string): Promise<void> => shelf().removeVersion(id);
