import { workbench } from '../worker/client';

/** Gives the user a file. */
export function save(name: string, content: BlobPart, type: string): void {
  const url = URL.createObjectURL(new Blob([content], { type }));
  const a = document.createElement('a');
  a.href = url;
  a.download = name;
  a.click();
  setTimeout(() => URL.revokeObjectURL(url), 1000);
}

/** A design's name as the beginning of a file name. */
export const fileName = (name: string): string =>
  name
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-|-$/g, '') || 'campus';

export type ExportKind = 'zip' | 'compass';

/** Writes a file of the open design. The salt of key digests is made anew each time. */
export async function exportDesign(kind: ExportKind, name: string, keys: 'digests' | 'clear'): Promise<void> {
  const salt = [...crypto.getRandomValues(new Uint8Array(8))].map((b) => b.toString(16).padStart(2, '0')).join('');
  if (kind === 'zip') save(`${fileName(name)}.zip`, (await workbench().files.exportZip(keys, salt)) as BlobPart, 'application/zip');
  else save(`${fileName(name)}.compass.json`, await workbench().files.exportCompass(keys, salt), 'application/json');
}
