import type { SummaryEffect } from '@gentle-compass/core/summaries/effect';
import { count } from '../parts/words';

const thousand = 1000n;
const raised = '⁰¹²³⁴⁵⁶⁷⁸⁹';

/** A number of addresses: exact as long as it can be read, else as a power of two. */
export function addresses(n: bigint): string {
  if (n < thousand * thousand * thousand) return Number(n).toLocaleString('en-GB');
  const power = n.toString(2).length - 1;
  return `${1n << BigInt(power) === n ? '' : '≈ '}2${String(power).replace(/\d/g, (d) => raised[Number(d)] ?? d)}`;
}

/** How much of what is claimed is in use. */
export function share(needed: bigint, claimed: bigint): string {
  if (claimed === 0n) return '';
  const tenth = Number((needed * 1000n) / claimed) / 10;
  return tenth < 0.1 && needed > 0n ? '< 0.1%' : `${tenth < 10 ? tenth.toFixed(1) : tenth.toFixed(0)}%`;
}

/** What an edit would save, in a sentence. */
export function effectWords(e: SummaryEffect | undefined): string {
  if (!e) return 'All is so already.';
  const saved = e.advertisements.reduce((n, a) => n + a.count[0] - a.count[1], 0);
  const { lost, gained, changed, routers } = e.routes;
  if (saved === 0 && lost + gained + changed === 0) return 'Nothing changes in databases or tables.';
  const by = lost - gained;
  const where = e.advertisements.length === 1 ? '' : ` in ${e.advertisements.length} databases`;
  const told =
    saved === 0 ? 'As many advertisements as before' : `${count(Math.abs(saved), 'advertisement')} ${saved > 0 ? 'fewer' : 'more'}${where}`;
  const tables =
    routers === 0
      ? 'no table changes'
      : `${by === 0 ? 'as many routes' : `${count(Math.abs(by), 'route')} ${by > 0 ? 'fewer' : 'more'}`} in ${count(routers, 'router')}`;
  return `${told}; ${tables}${changed > 0 ? `, ${count(changed, 'route')} at another cost or by another way` : ''}.`;
}

/** The same in a few words. */
export function saved(e: SummaryEffect | undefined): { readonly advertisements: number; readonly routes: number; readonly routers: number } {
  return {
    advertisements: e ? e.advertisements.reduce((n, a) => n + a.count[0] - a.count[1], 0) : 0,
    routes: e ? e.routes.lost - e.routes.gained : 0,
    routers: e?.routes.routers ?? 0,
  };
}
