import type { Check } from '../context';
import type { Draft } from '../finding';

/** A link whose two directions cost differently. */
export const unequalCosts: Check = {
  rule: 'unequal-costs',
  about: 'The two directions of a link cost differently: traffic may return another way.',
  run: (c) =>
    c.prediction.adjacencies.pairs.flatMap((pair): Draft[] => {
      const { port: a, peer: b } = pair.a;
      const segment = c.prediction.segments.list[pair.segment];
      if (a.cost === b.cost || pair.a.state !== 'full' || segment?.size !== 2) return [];
      return [
        {
          rule: 'unequal-costs',
          severity: 'note',
          where: [c.portPlace(a, 'cost'), c.portPlace(b, 'cost')],
          message: `${c.routerName(a.routerIndex)} sends to ${c.routerName(b.routerIndex)} at cost ${a.cost}, and gets back at ${b.cost}.`,
          evidence: [c.setting(a, 'cost', 'cost', a.cost), c.setting(b, 'cost', 'cost', b.cost)],
          repairs: [
            {
              title: `Set the cost of ${c.routerName(b.routerIndex)} to ${a.cost}`,
              router: c.routerName(b.routerIndex),
              edits: c.portEdit(b, ['cost'], a.cost),
            },
            {
              title: `Set the cost of ${c.routerName(a.routerIndex)} to ${b.cost}`,
              router: c.routerName(a.routerIndex),
              edits: c.portEdit(a, ['cost'], b.cost),
            },
          ].filter((r) => r.edits.length > 0),
          rfc: 'RFC 2328 §2.1',
        },
      ];
    }),
};

/** A reference so low that links of different speed cost the same. */
export const flatCosts: Check = {
  rule: 'flat-costs',
  about: 'The reference bandwidth is so low that links of different speed cost 1 alike.',
  run: (c) =>
    c.prediction.adjacencies.speakers.flatMap((s): Draft[] => {
      const speeds = [
        ...new Set(
          s.ports.flatMap((p) =>
            p.costFrom === 'reference-bandwidth' && p.cost === 1 && p.iface.bandwidthMbps !== undefined ? [p.iface.bandwidthMbps] : [],
          ),
        ),
      ].sort((a, b) => a - b);
      const fastest = speeds.at(-1);
      if (speeds.length < 2 || fastest === undefined) return [];
      return [
        {
          rule: 'flat-costs',
          severity: 'warning',
          where: [c.place(s.router, s.instance.at, 'auto-cost/reference-bandwidth')],
          message: `Links of ${speeds.join(', ')} Mbit/s all cost 1 in ${s.router.name}: its reference of ${s.instance.referenceBandwidth} Mbit/s is too low to tell them apart.`,
          evidence: [{ router: s.router.name, what: 'reference bandwidth', value: `${s.instance.referenceBandwidth} Mbit/s`, origin: 'written' }],
          repairs: [
            {
              title: `Set the reference bandwidth of ${s.router.name} to ${fastest} Mbit/s (the same must stand everywhere)`,
              router: s.router.name,
              edits: [c.edit(s.router, s.instance.at, ['auto-cost', 'reference-bandwidth'], fastest)],
            },
          ],
          rfc: 'RFC 9129 §2.8',
        },
      ];
    }),
};
