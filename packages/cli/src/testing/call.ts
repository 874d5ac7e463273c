import { main } from '../main';

/** What a call ended with, and what it wrote. */
export interface Called {
  readonly code: number;
  readonly out: string;
  readonly err: string;
}

/** Runs a call as the command line would; gives its exit code and what it wrote. */
export async function call(...args: readonly string[]): Promise<Called> {
  let out = '';
  let err = '';
  const stdout = jest.spyOn(process.stdout, 'write').mockImplementation((text) => ((out += String(text)), true));
  const stderr = jest.spyOn(process.stderr, 'write').mockImplementation((text) => ((err += String(text)), true));
  try {
    return { code: await main(args), out, err };
  } finally {
    stdout.mockRestore();
    stderr.mockRestore();
  }
}
