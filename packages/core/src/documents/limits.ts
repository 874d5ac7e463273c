import type { ReadProblem } from './cursor';

/** What one import may hold (octets, files, nesting); past them a clear refusal. */
export const readLimits = {
  fileBytes: 64 * 1024 * 1024,
  files: 10_000,
  unpackedBytes: 512 * 1024 * 1024,
  /** An archive that announces more than this, and so many times its own size, is made to fill the machine. */
  tightArchive: { bytes: 32 * 1024 * 1024, times: 100 },
  nesting: 100,
} as const;

/** Octets in words. */
export const megabytes = (bytes: number): string => `${Math.round(bytes / 1024 / 1024)} MB`;

/** An error about a whole file. */
export const refuse = (file: string, message: string, remedy: string, place: Partial<ReadProblem> = {}): ReadProblem => ({
  severity: 'error',
  file,
  path: '',
  message,
  remedy,
  ...place,
});
