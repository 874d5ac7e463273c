import { openForm } from '../model/panes';
import { go } from '../model/moving';

/** Goes to a line of a router's table. */
export const stepTo = (at: { readonly router: string; readonly prefix: string | undefined }): void =>
  go({ stage: 'routes', look: 'tables', router: at.router, prefix: at.prefix });

/** Follows a packet. */
export const traceTo = (from: string, to: string): void => go({ stage: 'routes', look: 'trace', from, to });

/** Opens the form in which something is expected, with what one looks at in it. */
export const expectThis = (values: Readonly<Record<string, string>>): void => openForm({ name: 'expectation', values });
