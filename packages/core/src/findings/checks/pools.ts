import { Draft, listIn } from '../../design/draft';
import { Addresses, freeSubnet, subnetsOf } from '../../design/pools';
import { formatAddress, formatPrefix, isSix, prefixOf } from '../../prefix/address';
import type { Check } from '../context';
import type { Draft as FindingDraft } from '../finding';

/** A pool out of which no subnet of the usual length can be taken any more. */
export const poolFull: Check = {
  rule: 'pool-full',
  about: 'A pool is full: no subnet of the usual length is left in it, and the next link, LAN or router gets its address from elsewhere.',
  run: (c) => {
    const { design } = c.prediction;
    const pools = design.settings.pools.filter((p) => isSix(p.prefix.bits) === (design.family === 6));
    if (pools.length === 0) return [];
    const used = subnetsOf(design);
    const lengths = new Addresses(design);
    return pools.flatMap((pool): FindingDraft[] => {
      const length = Math.max(lengths.usualLength(pool.purpose, pool.area), pool.prefix.length);
      // Another pool of the kind stands in for a full one.
      const alike = pools.filter((p) => p.purpose === pool.purpose && p.area === pool.area);
      if (alike.some((p) => freeSubnet(p.prefix, Math.max(length, p.prefix.length), used))) return [];
      const area = pool.area === undefined ? '' : ` of area ${formatAddress(pool.area)}`;
      // The next block of its size that nothing has, within eight times as much space.
      const wide = Math.max(0, pool.prefix.length - 3);
      const around = prefixOf(pool.prefix.bits, wide);
      const ranges = design.routers.flatMap((r) =>
        r.instances.flatMap((o) => o.areas.flatMap((a) => (a.id === pool.area ? [] : a.ranges.map((x) => x.prefix)))),
      );
      const next = freeSubnet(around, pool.prefix.length, [...used, ...pools.map((p) => p.prefix), ...ranges]);
      const draft = new Draft(c.documents);
      if (next)
        listIn(draft.settings(), 'pool').push({
          prefix: formatPrefix(next),
          purpose: pool.purpose,
          ...(pool.area === undefined ? {} : { area: formatAddress(pool.area) }),
        });
      return [
        {
          rule: 'pool-full',
          severity: 'warning',
          topic: formatPrefix(pool.prefix),
          where: [c.settingsPlace(pool.file, pool.at)],
          message: `The pool ${formatPrefix(pool.prefix)} for ${pool.purpose}${area} is full: no /${length} is left in it.`,
          seen: 'Nothing on a device: the next address is taken from elsewhere, and may fall outside of the area\u2019s summary.',
          evidence: [{ router: '', what: `usual length of ${pool.purpose}`, value: `/${length}`, origin: 'computed' }],
          repairs: next ? [{ title: `Add the pool ${formatPrefix(next)} beside it`, router: '', edits: draft.edits() }] : [],
          rfc: 'RFC 2328 §3.5',
        },
      ];
    });
  },
};
