import type { Check } from '../context';

/** A key that is given and not switched on, or authentication switched on without a key. */
export const authenticationKey: Check = {
  rule: 'authentication-key',
  about: 'A key is given but authentication is not switched on, or it is required and there is no key.',
  run: (c) =>
    c.prediction.adjacencies.ports.flatMap((p) => {
      const { required, keys } = p.settings.authentication;
      if (required === keys.length > 0 || p.loopback || p.settings.passive) return [];
      const name = c.routerName(p.routerIndex);
      return [
        {
          rule: required ? 'key-missing' : 'key-not-switched-on',
          severity: required ? ('error' as const) : ('warning' as const),
          where: [c.portPlace(p, 'authentication')],
          message: required
            ? `${p.iface.name} of ${name} requires authentication and has no key: no packet is accepted.`
            : `${p.iface.name} of ${name} has a key, but authentication is not switched on: packets go out without proof.`,
          evidence: [
            { router: name, what: 'authentication', value: required ? 'required' : 'off', origin: 'written' as const },
            { router: name, what: 'keys', value: String(keys.length), origin: 'written' as const },
          ],
          repairs: required
            ? []
            : [
                {
                  title: `Switch authentication on at ${p.iface.name} of ${name}`,
                  router: name,
                  edits: c.portEdit(p, ['gentle-compass:authentication-required'], true),
                },
              ],
          rfc: 'RFC 2328 D.3',
        },
      ];
    }),
};
