import { deadFor, givenTo, type Defaults } from './defaults';
import type { Area, BfdTimers, Interface, OspfInterface } from './design';

/** Once a second, three times: what RFC 9314 gives where nothing is written. */
export const plainBfdTimers: BfdTimers = { multiplier: 3, send: 1_000_000, receive: 1_000_000 };

/** An OSPF interface that an activation rule turned on: nothing about it is written. */
export function plainOspfInterface(iface: Pick<Interface, 'name' | 'kind'>, defaults: Defaults, passive = false): OspfInterface {
  const plain = defaults.interfaces[iface.kind];
  const timers = defaults.timers[plain.type];
  return {
    at: [],
    name: iface.name,
    type: plain.type,
    passive,
    enabled: true,
    priority: plain.priority,
    cost: undefined,
    mtuIgnore: plain.mtuIgnore,
    prefixSuppression: plain.prefixSuppression,
    hello: timers.hello,
    dead: timers.dead ?? deadFor(timers.hello),
    retransmit: 5,
    transmitDelay: 1,
    staticNeighbors: [],
    authentication: { required: false, keys: [] },
    advertise: undefined,
    loopbackAs: plain.loopbackAs,
    bfd: false,
    bfdTimers: plainBfdTimers,
    instanceId: 0,
    written: new Set(),
    given: givenTo(plain.given, timers.given),
  };
}

const plainAreas = new WeakMap<Defaults, Map<number, Area>>();

/** An area that nothing but an activation rule names; the same object for all who ask with the same defaults. */
export function plainArea(id: number, defaults: Defaults): Area {
  let known = plainAreas.get(defaults);
  if (!known) plainAreas.set(defaults, (known = new Map<number, Area>()));
  let area = known.get(id);
  if (!area) known.set(id, (area = makePlainArea(id, defaults)));
  return area;
}

const makePlainArea = (id: number, defaults: Defaults): Area => ({
  at: [],
  id,
  name: '',
  type: 'normal',
  summary: true,
  defaultCost: defaults.areaDefaultCost,
  ranges: [],
  virtualLinks: [],
  interfaces: [],
  summaryIn: [],
  summaryOut: [],
  translatorAlways: false,
  nssaDefault: false,
  nssaDefaultType: 'type-2',
  written: new Set(),
  given: defaults.given,
});
