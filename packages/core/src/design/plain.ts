import type { Area, NetworkType, OspfInterface } from './design';

/** Hello interval in seconds where none is written (RFC 2328 C.3, C.5). */
export const defaultHello = (networkType: NetworkType): number =>
  networkType === 'non-broadcast' || networkType === 'point-to-multipoint' ? 30 : 10;

/** An OSPF interface about which the document says nothing but its name. */
export const plainOspfInterface = (name: string, passive = false): OspfInterface => ({
  at: [],
  name,
  type: 'broadcast',
  passive,
  enabled: true,
  priority: 1,
  cost: undefined,
  mtuIgnore: false,
  prefixSuppression: false,
  hello: 10,
  dead: 40,
  retransmit: 5,
  transmitDelay: 1,
  staticNeighbors: [],
  authentication: { required: false, keys: [] },
  advertise: undefined,
  loopbackAs: 'host',
  bfd: false,
  written: new Set(),
});

/** An area that nothing but an activation rule names. */
export const plainArea = (id: number): Area => ({
  at: [],
  id,
  type: 'normal',
  summary: true,
  defaultCost: 1,
  ranges: [],
  virtualLinks: [],
  interfaces: [],
  summaryIn: [],
  summaryOut: [],
  translatorAlways: false,
  nssaDefault: false,
  nssaDefaultType: 'type-2',
  written: new Set(),
});
