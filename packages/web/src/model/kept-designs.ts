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
    .catch(() => []);

/** Deletes a design; other tabs that have it open hear of it. */
export async function deleteDesign(id: string): Promise<void> {
  await shelf().remove(id);
  announce(id);
}

/** Deletes a version. */
export const deleteVersion = (id: string): Promise<void> => shelf().removeVersion(id);
