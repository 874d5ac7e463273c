import { networkTypes } from '../design/design';
import type { LeafType } from '../documents/cursor';
import { anyText, flag, integer, oneOf, routerIdText } from '../documents/leaf-types';

/** What a parameter is set on: an interface's OSPF entry, the interface itself, its cable, an area of a router, or its process. */
export type ParameterScope = 'ospf-interface' | 'interface' | 'cable' | 'area' | 'process';

/** A parameter that quick entry and the router panel can set and clear. */
export interface Parameter {
  readonly name: string;
  readonly scope: ParameterScope;
  /** Members from the scope's node down to the leaf, as a new document writes them. */
  readonly path: readonly string[];
  readonly type: LeafType<unknown>;
  /** Words that complete it. */
  readonly words?: readonly string[];
  /** What it means, with its unit. */
  readonly help: string;
  /** Members of the same node that would hold before it: they go when it is set. */
  readonly over?: readonly (readonly string[])[];
}

const seconds = integer(1, 65_535);
const milliseconds = integer(0, 600_000);
const spfSchedule = 'gentle-compass:spf-schedule';
/** What documents count in microseconds (RFC 9314), typed in milliseconds. */
const shortTime: LeafType<number> = {
  read: (x) => (typeof x === 'number' && Number.isInteger(x) && x >= 1 && x <= 4_294_967 ? x * 1000 : undefined),
  expected: 'a whole number from 1 to 4,294,967',
};
const spfDelay = ['spf-control', 'ietf-spf-delay'] as const;
const yesNo = ['yes', 'no'] as const;

/** Yes and no, as people write them. */
const yes: LeafType<boolean> = {
  read: (x) => (x === 'yes' || x === 'on' || x === 'true' ? true : x === 'no' || x === 'off' || x === 'false' ? false : flag.read(x)),
  expected: 'yes or no',
};
const p = (
  name: string,
  scope: ParameterScope,
  path: string | readonly string[],
  type: LeafType<unknown>,
  help: string,
  words?: readonly string[],
): Parameter => ({ name, scope, path: typeof path === 'string' ? [path] : path, type, help, ...(words ? { words } : {}) });
const over = (x: Parameter, ...paths: readonly (readonly string[])[]): Parameter => ({ ...x, over: paths });

/** Every parameter by name. */
export const parameters: readonly Parameter[] = [
  p('cost', 'ospf-interface', 'cost', integer(1, 65_535), 'cost of sending out of the interface'),
  p('hello', 'ospf-interface', 'hello-interval', seconds, 'hello interval, s'),
  p('dead', 'ospf-interface', 'dead-interval', seconds, 'dead interval, s'),
  p('retransmit', 'ospf-interface', 'retransmit-interval', seconds, 'retransmission interval, s'),
  p('transmit-delay', 'ospf-interface', 'transmit-delay', seconds, 'delay added to the age of what is sent, s'),
  p('type', 'ospf-interface', 'interface-type', oneOf(networkTypes), 'network type', networkTypes),
  p('priority', 'ospf-interface', 'priority', integer(0, 255), 'priority in the election, 0: never leads'),
  p('passive', 'ospf-interface', 'passive', yes, 'advertised, but no hellos', yesNo),
  p('ospf', 'ospf-interface', 'enabled', yes, 'OSPF on or off on the interface', yesNo),
  p('mtu-ignore', 'ospf-interface', 'mtu-ignore', yes, 'do not compare the MTU', yesNo),
  p('prefix-suppression', 'ospf-interface', 'prefix-suppression', yes, 'do not advertise the link subnet', yesNo),
  p('bfd', 'ospf-interface', ['bfd', 'enabled'], yes, 'fast detection of a lost neighbour', yesNo),
  over(
    p('bfd-interval', 'ospf-interface', ['bfd', 'min-interval'], shortTime, 'time between two BFD packets, ms'),
    ['bfd', 'desired-min-tx-interval'],
    ['bfd', 'required-min-rx-interval'],
  ),
  p('bfd-multiplier', 'ospf-interface', ['bfd', 'local-multiplier'], integer(1, 255), 'BFD packets that may be missing'),
  p('key-required', 'ospf-interface', 'gentle-compass:authentication-required', yes, 'authentication switched on', yesNo),
  p('key-chain', 'ospf-interface', ['authentication', 'ospfv2-key-chain'], anyText, 'key chain that it proves itself with'),
  p('loopback-as', 'ospf-interface', 'gentle-compass:loopback-as', oneOf(['host', 'subnet']), 'how a loopback is advertised', ['host', 'subnet']),
  p('mtu', 'interface', ['ietf-ip:ipv4', 'mtu'], integer(68, 65_535), 'MTU, octets'),
  p('bandwidth', 'interface', 'gentle-compass:bandwidth-mbps', integer(1, 4_294_967_295), 'bandwidth, Mbit/s'),
  p('up', 'interface', 'enabled', yes, 'interface on or off', yesNo),
  p('carrier-seen', 'cable', 'gentle-compass:carrier-loss-seen', yes, 'both ends of a cable see when it is cut', yesNo),
  p('description', 'interface', 'description', anyText, 'a note on the interface'),
  p('area-name', 'area', 'gentle-compass:name', anyText, 'name of the area, for people'),
  p('default-cost', 'area', 'default-cost', integer(0, 0xff_fffe), 'cost of the default told to a stub area or NSSA'),
  p('summaries', 'area', 'summary', yes, 'type 3 summaries into a stub area or NSSA', yesNo),
  p('translator', 'area', ['gentle-compass:nssa', 'translator-role'], oneOf(['candidate', 'always']), 'who translates an NSSA (RFC 3101)', [
    'candidate',
    'always',
  ]),
  p('nssa-default', 'area', ['gentle-compass:nssa', 'default-route'], yes, 'a type 7 default into an NSSA', yesNo),
  p('area-key-required', 'area', 'gentle-compass:authentication-required', yes, 'authentication switched on in the whole area', yesNo),
  p('stub-router', 'process', ['stub-router', 'always'], yes, 'transit links at 65535 (RFC 6987)', yesNo),
  p('counts-empty-areas', 'process', 'gentle-compass:counts-empty-areas', yes, 'an area without an interface that is up counts', yesNo),
  p(
    'activation-order',
    'process',
    'gentle-compass:activation-order',
    oneOf(['first-match', 'longest-match']),
    'which rule of several turns OSPF on',
    ['first-match', 'longest-match'],
  ),
  over(p('spf-initial-delay', 'process', [...spfDelay, 'initial-delay'], milliseconds, 'first SPF delay, ms (RFC 8405)'), [spfSchedule]),
  over(p('spf-short-delay', 'process', [...spfDelay, 'short-delay'], milliseconds, 'short SPF delay, ms (RFC 8405)'), [spfSchedule]),
  over(p('spf-long-delay', 'process', [...spfDelay, 'long-delay'], milliseconds, 'long SPF delay, ms (RFC 8405)'), [spfSchedule]),
  over(p('spf-hold-down', 'process', [...spfDelay, 'hold-down'], milliseconds, 'SPF hold-down, ms (RFC 8405)'), [spfSchedule]),
  over(p('spf-time-to-learn', 'process', [...spfDelay, 'time-to-learn'], milliseconds, 'SPF time to learn, ms (RFC 8405)'), [spfSchedule]),
  p('spf-fixed-delay', 'process', [spfSchedule, 'fixed-delay'], milliseconds, 'SPF after this delay, always, ms'),
  over(p('spf-first-delay', 'process', [spfSchedule, 'first-delay'], milliseconds, 'first SPF delay before a hold that doubles, ms'), [
    spfSchedule,
    'fixed-delay',
  ]),
  over(p('spf-hold', 'process', [spfSchedule, 'hold'], milliseconds, 'hold between two SPF at first, ms; it doubles'), [spfSchedule, 'fixed-delay']),
  over(p('spf-maximum-hold', 'process', [spfSchedule, 'maximum-hold'], milliseconds, 'hold between two SPF at most, ms'), [
    spfSchedule,
    'fixed-delay',
  ]),
  p('reference-bandwidth', 'process', ['auto-cost', 'reference-bandwidth'], integer(1, 4_294_967), 'reference bandwidth, Mbit/s'),
  p('auto-cost', 'process', ['auto-cost', 'enabled'], yes, 'costs from the reference bandwidth', yesNo),
  p(
    'router-id',
    'process',
    'explicit-router-id',
    { read: (x) => (typeof x === 'string' && routerIdText.read(x) !== undefined ? x : undefined), expected: routerIdText.expected },
    'router id',
  ),
  p('router-id-rule', 'process', 'gentle-compass:router-id-rule', oneOf(['highest-loopback', 'lowest-loopback']), 'where a router id comes from', [
    'highest-loopback',
    'lowest-loopback',
  ]),
  p('paths', 'process', ['spf-control', 'paths'], integer(1, 65_535), 'equal-cost paths in use at most'),
  p('rfc1583-compatible', 'process', 'gentle-compass:rfc1583-compatible', yes, 'RFC 1583 preference among paths', yesNo),
  p('range-cost', 'process', 'gentle-compass:range-cost', oneOf(['largest', 'smallest']), 'cost of a range: of its largest or smallest part', [
    'largest',
    'smallest',
  ]),
  p('border-model', 'process', 'gentle-compass:border-model', oneOf(['rfc3509', 'rfc2328']), 'what makes a border router', ['rfc3509', 'rfc2328']),
  p('preference-internal', 'process', ['preference', 'internal'], integer(0, 255), 'preference of routes inside the system'),
  p('preference-external', 'process', ['preference', 'external'], integer(0, 255), 'preference of external routes'),
  p('preference', 'process', ['preference', 'all'], integer(0, 255), 'preference of OSPF routes'),
];

export const parameterOf = (name: string): Parameter | undefined => parameters.find((x) => x.name === name);

export { areaKinds, type AreaKind } from '../design/terms';
