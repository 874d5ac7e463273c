import { processOf } from '../design/family';
import type { Port } from '../adjacency/speakers';
import { originOf, type Origin } from '../design/defaults';
import type { Area, Interface, OspfInstance, Router } from '../design/design';
import { formatAddress } from '../prefix/address';
import type { Prediction } from '../predict';

/** A value that holds in a router, and where it comes from. Intervals in seconds, bandwidths in Mbit/s, sizes in octets. */
export interface OriginValue {
  /** The interface it holds on; `undefined`: the whole process. */
  readonly iface: string | undefined;
  readonly what: string;
  readonly value: string;
  /** `rule`: of the rule that turns OSPF on there. */
  readonly origin: Origin | 'rule';
}

const yes = (v: boolean): string => (v ? 'yes' : 'no');

const plain = (what: string, value: string, origin: Origin): OriginValue => ({ iface: undefined, what, value, origin });

function preferenceValues(o: OspfInstance): OriginValue[] {
  const { intra, inter, external } = o.preference;
  const same = intra === inter && inter === external;
  const origin = o.written.has('preference') ? 'written' : o.given.has('preference/ospf') ? 'profile' : 'standard';
  return [plain('preference of OSPF', same ? String(intra) : `${intra} intra, ${inter} inter, ${external} external`, origin)];
}

function imported(
  what: string,
  node: string,
  r: { metric: number; metricType: string; written: ReadonlySet<string> },
  given: ReadonlySet<string>,
): OriginValue[] {
  const from = (leaf: string): Origin => (r.written.has(leaf) ? 'written' : given.has(`${node}/${leaf}`) ? 'profile' : 'standard');
  return [plain(`metric of ${what}`, String(r.metric), from('metric')), plain(`type of ${what}`, r.metricType, from('metric-type'))];
}

function areaValues(a: Area): OriginValue[] {
  const area = `area ${formatAddress(a.id)}`;
  const type = plain(`type of ${area}`, a.type, originOf('area-type', a.written, a.given));
  if (a.type === 'normal') return a.id === 0 ? [] : [type];
  return [
    type,
    plain(`summaries into ${area}`, yes(a.summary), originOf('summary', a.written, a.given)),
    plain(`default cost of ${area}`, String(a.defaultCost), originOf('default-cost', a.written, a.given)),
  ];
}

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
    ...preferenceValues(o),
    ...o.redistribution.flatMap((r) => imported(`redistributed ${r.source} routes`, 'redistribution', r, o.given)),
    ...(o.defaultRoute ? imported('announced default', 'default-route', o.defaultRoute, o.given) : []),
    ...o.areas.flatMap((a) => areaValues(a)),
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
    p.byRule === undefined
      ? one('passive', yes(s.passive), 'passive')
      : { iface: p.iface.name, what: 'passive', value: yes(s.passive), origin: 'rule' as const },
    ...(p.byRule === undefined ? [] : [{ iface: p.iface.name, what: 'area', value: formatAddress(p.area.id), origin: 'rule' as const }]),
    ...(p.loopback
      ? [one('loopback as', s.loopbackAs, 'loopback-as')]
      : [
          one('hello interval', `${s.hello} s`, 'hello-interval'),
          one('dead interval', `${s.dead} s`, 'dead-interval'),
          one('priority', s.priority, 'priority'),
          one('retransmit interval', `${s.retransmit} s`, 'retransmit-interval'),
          one('transmit delay', `${s.transmitDelay} s`, 'transmit-delay'),
          one('MTU ignored', yes(s.mtuIgnore), 'mtu-ignore'),
          one('prefix suppression', yes(s.prefixSuppression), 'prefix-suppression'),
        ]),
  ];
}

const mtuOf = (i: Interface): OriginValue => ({ iface: i.name, what: 'MTU', value: String(i.mtu), origin: originOf('mtu', i.written, i.given) });

/** Every value that holds in a router's OSPF, with its origin: first the process, then interface by interface. */
export function valuesOf(p: Prediction, routerIndex: number): OriginValue[] {
  const router: Router | undefined = p.design.routers[routerIndex];
  const instance = router && processOf(router);
  if (!router) return [];
  return [
    ...(instance ? processValues(instance) : []),
    ...router.interfaces.flatMap((i, n) => {
      const port = p.portOf(routerIndex, n);
      return [...(port ? portValues(port) : []), mtuOf(i)];
    }),
  ];
}
