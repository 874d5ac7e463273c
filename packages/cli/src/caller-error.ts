const reasons: Readonly<Record<string, string>> = {
  ENOENT: 'there is no such file or folder',
  EISDIR: 'this is a folder, and a file is wanted',
  ENOTDIR: 'a part of this path is a file, and a folder is wanted',
  EEXIST: 'this exists already, and is no folder',
  EACCES: 'this may not be read or written',
  EPERM: 'this may not be read or written',
  ELOOP: 'links here lead in a circle',
  ENAMETOOLONG: 'this name is too long',
  ENOSPC: 'there is no room left',
  EROFS: 'nothing can be written there',
};

/** A sentence for a mistake in a path that the caller gave; `undefined` for anything else. */
export function callerError(e: unknown): string | undefined {
  if (typeof e !== 'object' || e === null || !('code' in e) || !('syscall' in e)) return undefined;
  const { code, path } = e as NodeJS.ErrnoException;
  const reason = reasons[code ?? ''];
  return reason === undefined ? undefined : `${path ?? 'a path'}: ${reason}.`;
}

/** Why a file or folder cannot be taken, in a sentence. */
export function whyNot(e: unknown): string {
  const code = (e as NodeJS.ErrnoException).code ?? '';
  const reason = reasons[code] ?? 'this cannot be read';
  return `${reason[0]?.toUpperCase() ?? ''}${reason.slice(1)}.`;
}
