import type { Reader } from '../words';
import type { Site } from '../site';

/** One verb of quick entry. */
export interface CommandKind {
  readonly verb: string;
  readonly help: string;
  /** Its form: capitals stand for what is typed, brackets for what may be left out. */
  readonly form: string;
  readonly example: string;
  /** Reads what follows the verb; gives the work to do, which changes the site's draft and says in words what it does. */
  read(r: Reader): (site: Site) => string;
}
