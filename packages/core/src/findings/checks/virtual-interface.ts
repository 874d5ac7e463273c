import { configuredUp } from '../../design/router-id';
import type { Check } from '../context';

/** A virtual interface that is down since nothing carries it. */
export const virtualInterfaceDown: Check = {
  rule: 'virtual-interface-down',
  families: [4],
  about: 'A virtual interface is down since none of the interfaces that carry it is up.',
  run: (c) =>
    c.prediction.design.routers.flatMap((router) =>
      router.interfaces
        .filter((i) => i.enabled && i.carriedBy !== undefined && !configuredUp(router, i))
        .map((i) => ({
          rule: 'virtual-interface-down',
          families: [4],
          severity: 'warning' as const,
          where: [c.place(router, i.at, 'carried-by', { interface: i.name })],
          message: `${i.name} of ${router.name} is down: ${i.carriedBy?.length === 0 ? 'nothing is attached to it' : `none of its carriers (${i.carriedBy?.join(', ') ?? ''}) is up`}.`,
          evidence: [{ router: router.name, what: 'carried by', value: i.carriedBy?.join(', ') ?? '', origin: 'written' as const }],
          repairs: [],
          rfc: 'RFC 8343',
        })),
    ),
};
