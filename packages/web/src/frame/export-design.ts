import { fileName, save } from '../parts/save';
import { workbench } from '../worker/client';

export type ExportKind = 'zip' | 'compass';

/** Writes a file of the open design. The salt of key digests is made anew each time. */
export async function exportDesign(kind: ExportKind, name: string, keys: 'digests' | 'clear'): Promise<void> {
  const salt = [...crypto.getRandomValues(new Uint8Array(8))].map((b) => b.toString(16).padStart(2, '0')).join('');
  if (kind === 'zip') save(`${fileName(name)}.zip`, (await workbench().files.exportZip(keys, salt)) as BlobPart, 'application/zip');
  else save(`${fileName(name)}.compass.json`, await workbench().files.exportCompass(keys, salt), 'application/json');
}
