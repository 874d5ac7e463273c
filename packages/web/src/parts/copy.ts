import { useStore } from '../model/state';

/** Copies a text; a browser that does not let it is told of. */
export async function copyText(text: string): Promise<void> {
  try {
    await navigator.clipboard.writeText(text);
  } catch {
    useStore.setState({ notice: 'The browser did not let anything be copied. Mark the text and copy it by hand, or export the table.' });
  }
}
