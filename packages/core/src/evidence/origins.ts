import type { Port } from '../adjacency/speakers';
import { originOf, type Origin } from '../design/defaults';
import type { Interface, OspfInstance, Router } from '../design/design';
import type { Prediction } from '../predict';

/** A value that holds in a router, and where it comes from. Intervals in seconds, bandwidths in Mbit/s, sizes in octets. */
export interface OriginValue {
  /** The interface it holds on; `undefined`: the whole process. */
  readonly iface: string | undefined;
  readonly what: string;
  readonly value: string;
  readonly origin: Origin;
}

const yes = (v: boolean): string => (v ? 'yes' : 'no');

function processValues(o: OspfInstance): OriginValue[] {
  const one = (what: string, value: string | number, leaf: string): OriginValue => ({
    iface: undefined,
    what,
    value: String(value),
    origin: originOf(leaf, o.written, o.given),
  });
  return [
    one('router id rule', o.routerIdRule, 'router-id-rule'),
    one('costs from bandwidth', yes(o.autoCost), 'auto-cost'),
    one('reference bandwidth', `${o.referenceBandwidth} Mbit/s`, 'reference-bandwidth'),
    one('equal-cost paths', o.paths, 'paths'),
    one('cost of a summary', `${o.rangeCost} part`, 'range-cost'),
    one('border model', o.borderModel, 'border-model'),
    one('RFC 1583 compatible', yes(o.rfc1583Compatible), 'rfc1583-compatible'),
    one('counts empty areas', yes(o.countsEmptyAreas), 'counts-empty-areas'),
  ];
}

function portValues(p: Port): OriginValue[] {
  const s = p.settings;
  const one = (what: string, value: string | number, leaf: string): OriginValue => ({
    iface: p.iface.name,
    what,
    value: String(value),
    origin: originOf(leaf, s.written, s.given),
  });
  const cost: OriginValue = {
    iface: p.iface.name,
    what: 'cost',
    value: String(p.cost),
    origin: p.costFrom === 'reference-bandwidth' ? 'written' : p.costFrom,
  };
  return [
    one('network type', p.type, 'interface-type'),
    p.costFrom === 'reference-bandwidth' ? { ...cost, what: 'cost, from the reference bandwidth' } : cost,
    one('passive', yes(s.passive), 'passive'),
    ...(p.loopback
      ? [one('loopback as', s.loopbackAs, 'loopback-as')]
      : [
          one('hello interval', `${s.hello} s`, 'hello-interval'),
          one('dead interval', `${s.dead} s`, 'dead-interval'),
          one('priority', s.priority, 'priority'),
          one('MTU ignored', yes(s.mtuIgnore), 'mtu-ignore'),
          one('prefix suppression', yes(s.prefixSuppression), 'prefix-suppression'),
        ]),
  ];
}

const mtuOf = (i: Interface): OriginValue => ({ iface: i.name, what: 'MTU', value: String(i.mtu), origin: originOf('mtu', i.written, i.given) });

/** Every value that holds in a router's OSPF, with its origin: first the process, then interface by interface. */
export function valuesOf(p: Prediction, routerIndex: number): OriginValue[] {
  const router: Router | undefined = p.design.routers[routerIndex];
  const instance = router?.instances.find((o) => o.version === 2);
  if (!router) return [];
  return [
    ...(instance ? processValues(instance) : []),
    ...router.interfaces.flatMap((i) => {
      const port = p.adjacencies.ports.find((x) => x.routerIndex === routerIndex && x.iface === i);
      return [...(port ? portValues(port) : []), mtuOf(i)];
    }),
  ];
}
