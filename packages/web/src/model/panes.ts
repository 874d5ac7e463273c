import { go } from './moving';
import { useStore, type OpenForm } from './state';

export const dismissOutcome = (): void => useStore.setState({ outcome: undefined });
export const dismissTrouble = (): void => useStore.setState({ trouble: undefined, fault: false });
/** Opens quick entry, with the beginning of a line. */
export const openEntry = (line = ''): void => useStore.setState({ entry: line });
/** Opens a form, or puts it away. */
export const openForm = (form: OpenForm | undefined): void => useStore.setState({ form });
/** Lists the keys, or puts the list away. */
export const openKeys = (keys: boolean): void => useStore.setState({ keys });
export const closeEntry = (): void => useStore.setState({ entry: undefined });
/** Opens the blueprint of the campus, or closes it. */
export const openBlueprint = (open: boolean): void => {
  if (open) go({ stage: 'layout' });
  useStore.setState({ blueprinting: open });
};
/** Opens the worksheet of the chosen router in the place of the map, or closes it. */
export const openWorksheet = (open: boolean): void => useStore.setState({ worksheet: open });
/** Opens a router's document beside its panel; `undefined` closes it. */
export const openDocument = (router: string | undefined, line?: number): void => useStore.setState({ document: router, documentLine: line });
/** Puts the word about a damaged design away. */
export const dismissDamage = (): void => useStore.setState({ damaged: undefined });
export const dismissNotice = (): void => useStore.setState({ notice: undefined });
export const dismissChange = (): void => useStore.setState({ lastChange: undefined });
export const endFirstVisit = (): void => useStore.setState({ firstVisit: false });
/** Chooses which areas the map shows as one plate. */
export const fold = (folded: readonly string[]): void => useStore.setState({ folded });
