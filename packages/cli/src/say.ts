import { once } from 'node:events';

/**
 * A text without characters that a terminal would obey: controls but line ends and tabs, DEL and the C1 controls, each written
 * as `\u001b`, which is right within JSON too.
 */
export const printable = (text: string): string =>
  // eslint-disable-next-line no-control-regex -- these are the ones that are meant
  text.replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f-\u009f]|\r(?!\n)/g, (c) => `\\u${c.charCodeAt(0).toString(16).padStart(4, '0')}`);

/** Writes to standard output; false when the reader should be waited for. */
export const say = (text: string): boolean => process.stdout.write(printable(text));

/** The same, and waits where the reader is slower than we are. */
export async function sayAll(text: string): Promise<void> {
  if (!say(text)) await once(process.stdout, 'drain');
}

/** Writes a message. */
export const tell = (text: string): boolean => process.stderr.write(printable(text));
