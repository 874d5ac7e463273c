import { imports } from '../../lsdb/external-lsa';
import { formatIpv4 } from '../../prefix/ipv4';
import type { Check } from '../context';

/** Redistribution asked for where no attached area can carry externals (RFC 2328 §3.6). */
export const redistributionInStub: Check = {
  rule: 'redistribution-in-stub',
  about: 'Redistribution or a default is asked for in a router whose areas are all stub areas: nothing is announced.',
  run: (c) =>
    c.prediction.adjacencies.speakers.flatMap((s) => {
      const areas = c.prediction.routing.areasOf(s);
      if (!imports(s) || areas.length === 0 || areas.some((a) => c.prediction.routing.areaOf(s, a).type !== 'stub')) return [];
      const at = [...s.instance.at, s.instance.redistribution.length > 0 ? 'gentle-compass:redistribution' : 'gentle-compass:default-route'];
      return [
        {
          rule: 'redistribution-in-stub',
          severity: 'error' as const,
          where: [c.place(s.router, at)],
          message: `${s.router.name} imports routes, but stands only in stub areas (${areas.map(formatIpv4).join(', ')}): nothing of it is announced.`,
          evidence: areas.map((a) => ({ router: s.router.name, what: `area ${formatIpv4(a)}`, value: 'stub', origin: 'written' as const })),
          repairs: [],
          rfc: 'RFC 2328 §3.6',
        },
      ];
    }),
};

/** A default announced "if present" by a router that has none of its own. */
export const defaultMissing: Check = {
  rule: 'default-missing',
  about: 'A default route is to be announced if present, and the router has none that is not from OSPF.',
  run: (c) =>
    c.prediction.adjacencies.speakers.flatMap((s) => {
      if (s.instance.defaultRoute?.announce !== 'if-present' || c.prediction.routing.localRoutes(s).some((r) => r.length === 0)) return [];
      return [
        {
          rule: 'default-missing',
          severity: 'error' as const,
          where: [c.place(s.router, [...s.instance.at, 'gentle-compass:default-route'])],
          message: `${s.router.name} announces a default only if it has one, and it has none: nobody gets a default from it.`,
          evidence: [{ router: s.router.name, what: 'own default route', value: 'none', origin: 'computed' as const }],
          repairs: [
            {
              title: `Let ${s.router.name} announce the default always`,
              router: s.router.name,
              edits: [c.edit(s.router, s.instance.at, ['gentle-compass:default-route', 'announce'], 'always')],
            },
          ],
          rfc: 'RFC 2328 §12.4.4',
        },
      ];
    }),
};

/** Redistribution without a policy takes everything, later additions too. */
export const redistributionWithoutPolicy: Check = {
  rule: 'redistribution-without-policy',
  about: 'Redistribution has no policy: it takes everything of its source, later additions too.',
  run: (c) =>
    c.prediction.adjacencies.speakers.flatMap((s) =>
      s.instance.redistribution
        .filter((r) => r.policies.length === 0)
        .map((r) => ({
          rule: 'redistribution-without-policy',
          severity: 'warning' as const,
          where: [c.place(s.router, [...s.instance.at, 'gentle-compass:redistribution'])],
          message: `${s.router.name} redistributes every ${r.source} route, later additions too: no policy says which.${r.source === 'direct' ? ' For direct prefixes passive interfaces are the better way.' : ''}`,
          evidence: [{ router: s.router.name, what: `policy for ${r.source}`, value: 'none', origin: 'written' as const }],
          repairs: [],
          rfc: 'RFC 9067 §5',
        })),
    ),
};
