/** All files of an entry, folders walked through. */
async function walk(entry: FileSystemEntry, path: string, out: File[]): Promise<void> {
  if (entry.isFile) {
    const file = await new Promise<File>((resolve, reject) => (entry as FileSystemFileEntry).file(resolve, reject));
    if (!path || /\.(json|xml|zip|csv)$/i.test(file.name)) out.push(path ? new File([file], `${path}${file.name}`) : file);
    return;
  }
  const reader = (entry as FileSystemDirectoryEntry).createReader();
  for (;;) {
    const batch = await new Promise<FileSystemEntry[]>((resolve, reject) => reader.readEntries(resolve, reject));
    if (batch.length === 0) return;
    for (const e of batch) await walk(e, `${path}${entry.name}/`, out);
  }
}

/** The files that a drop carries, those inside dropped folders too. */
export async function filesOfDrop(data: DataTransfer): Promise<File[]> {
  const entries = [...data.items].flatMap((i) => i.webkitGetAsEntry() ?? []);
  if (entries.length === 0) return [...data.files];
  const out: File[] = [];
  for (const e of entries) await walk(e, '', out);
  return out;
}
