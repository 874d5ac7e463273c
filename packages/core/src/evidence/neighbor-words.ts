import { originOf, type Origin } from '../design/defaults';
import type { NeighborState } from '../design/terms';
import { authenticationWords, type RefusalKind } from '../adjacency/hello-match';
import type { NeighborView, Pairing } from '../adjacency/settle';
import { elects, type Port } from '../adjacency/speakers';
import { formatAddress, formatPrefix, prefixOf } from '../prefix/address';

/** One line of the facing pages: a parameter with the value of each side. */
export interface FacingValue {
  readonly id: string;
  readonly name: string;
  readonly a: string;
  readonly b: string;
  readonly aFrom: Origin;
  readonly bFrom: Origin;
  /** `apart`: this keeps the two from becoming neighbours; `differs`: it differs and does no harm by itself. */
  readonly match: 'same' | 'differs' | 'apart';
}

const areaType = { normal: 'normal', stub: 'stub', nssa: 'NSSA' } as const;

/** What may differ, and nobody minds: in version 3 the prefixes too (RFC 5340 §4.2.2.1). */
const notCompared: readonly string[] = ['router-id', 'cost', 'priority', 'link-local', 'prefixes'];

/** Global prefixes of a port. */
const prefixWords = (p: Port): string => p.iface.addresses.map((x) => formatPrefix(prefixOf(x.bits, x.length))).join(', ') || 'none';

/** The parameters of a pair side by side, in the order in which a router looks at them. */
export function facingValues(pair: Pairing): FacingValue[] {
  const { port: a, peer: b } = pair.a;
  const refused = new Set([...pair.a.refused, ...pair.b.refused].map((r) => r.kind as string));
  const mtuApart = [pair.a, pair.b].some((v) => v.because === 'mtu-refused-here');
  const line = (id: string, name: string, of: (p: Port) => string, from: (p: Port) => Origin, apart = refused.has(id)): FacingValue => {
    const [x, y] = [of(a), of(b)];
    return { id, name, a: x, b: y, aFrom: from(a), bFrom: from(b), match: apart ? 'apart' : x === y ? 'same' : 'differs' };
  };
  const leaf = (name: string) => (p: Port) => originOf(name, p.settings.written, p.settings.given);
  const always = (): Origin => 'written';
  const transit = (p: Port): boolean => p.type === 'broadcast' || p.type === 'non-broadcast';
  const typeApart = transit(a) !== transit(b);
  return [
    line('area', 'area', (p) => formatAddress(p.area.id), always),
    line(
      'area-type',
      'area type',
      (p) => areaType[p.area.type],
      (p) => originOf('area-type', p.area.written, p.area.given),
    ),
    line('hello-interval', 'hello interval', (p) => `${p.settings.hello} s`, leaf('hello-interval')),
    line('dead-interval', 'dead interval', (p) => `${p.settings.dead} s`, leaf('dead-interval')),
    line('network-type', 'network type', (p) => p.type, leaf('interface-type'), typeApart),
    ...(a.six
      ? [
          line('instance-id', 'instance id', (p) => String(p.settings.instanceId), leaf('instance-id')),
          line(
            'link-local',
            'link-local',
            (p) => formatAddress(p.helloFrom ?? 0),
            (p) => (p.iface.linkLocal?.derived ? 'standard' : 'written'),
          ),
          line('prefixes', 'prefixes', prefixWords, always),
        ]
      : [
          line(
            'subnet',
            'subnet',
            (p) => (p.address === undefined ? 'unnumbered' : formatPrefix(prefixOf(p.address, p.length))),
            always,
            refused.has('mask') || refused.has('subnet'),
          ),
        ]),
    line('authentication', 'authentication', (p) => authenticationWords(p.settings.authentication), leaf('authentication')),
    line(
      'mtu',
      'MTU',
      (p) => `${p.iface.mtu}${p.settings.mtuIgnore ? ', ignored' : ''}`,
      (p) => originOf('mtu', p.iface.written, p.iface.given),
      mtuApart,
    ),
    line('passive', 'passive', (p) => (p.settings.passive ? 'yes' : 'no'), leaf('passive')),
    line('disabled', 'OSPF on it', (p) => (p.settings.enabled ? 'on' : 'off'), leaf('enabled')),
    line('router-id', 'router id', (p) => formatAddress(p.routerId), always),
    line(
      'cost',
      'cost',
      (p) => String(p.cost),
      (p) => (p.costFrom === 'reference-bandwidth' ? 'written' : p.costFrom),
    ),
    ...(elects(a.type) || elects(b.type) ? [line('priority', 'priority', (p) => String(p.settings.priority), leaf('priority'))] : []),
  ].map((v) => (notCompared.includes(v.id) && v.match === 'differs' ? { ...v, match: 'same' as const } : v));
}

/** One word or two for the state that a pair rests in. */
export function pairWord(pair: Pairing): { word: string; kind: 'full' | 'rests' | 'trouble' | 'down' } {
  const states = [pair.a.state, pair.b.state];
  const { port: a, peer: b } = pair.a;
  const transit = (p: Port): boolean => p.type === 'broadcast' || p.type === 'non-broadcast';
  if (states.every((s) => s === 'full'))
    return transit(a) === transit(b) ? { word: 'full', kind: 'full' } : { word: 'full, carries nothing', kind: 'trouble' };
  if (states.every((s) => s === '2-way')) return { word: '2-Way', kind: 'rests' };
  if ([...pair.a.refused, ...pair.b.refused].some((r) => r.kind === 'interface-down')) return { word: 'down', kind: 'down' };
  if (states.includes('exstart') || states.includes('exchange')) return { word: 'stuck in ExStart', kind: 'trouble' };
  if (pair.a.refused.some((r) => r.kind === 'passive') && a.settings.passive && b.settings.passive) return { word: 'both passive', kind: 'rests' };
  if (spokes(pair.a) && spokes(pair.b)) return { word: 'two spokes', kind: 'rests' };
  if (states.includes('init')) return { word: 'one-way', kind: 'trouble' };
  return { word: 'apart', kind: 'trouble' };
}

const because: Record<NeighborView['because'], string> = {
  full: 'databases are in step',
  'not-heard': 'hears no hello that it takes',
  'one-way': 'hears the other, but is not heard',
  'neither-leads': 'neither of the two is designated router or backup, so 2-Way is right',
  'mtu-refused-here': 'refuses the other’s database descriptions: they may be longer than its own MTU',
  'mtu-refused-there': 'waits for answers that the other refuses for its smaller MTU',
  'peer-stays-2-way': 'wants an adjacency, while the other is content with 2-Way',
  polled: 'hears nothing of a listed neighbour: Attempt until its dead interval ends, then Down, and polled (RFC 2328 §9.5.1)',
};

/** Two that cannot lead on a non-broadcast network: routers that may not be elected send no hellos to one another (RFC 2328 §9.5.1). */
const spokes = (v: NeighborView): boolean =>
  v.because === 'not-heard' &&
  v.refused.every((r) => r.kind === 'no-static-neighbor') &&
  [v.port, v.peer].every((p) => p.type === 'non-broadcast' && p.settings.priority === 0);

/** Why one side rests where it does. */
export const viewWords = (v: NeighborView): string =>
  spokes(v) ? 'cannot lead, nor can the other, so neither speaks: that is right' : because[v.because];

/** What two facing ends may differ in, as people call it. */
export const refusalNames: Record<RefusalKind, string> = {
  'interface-down': 'interface',
  disabled: 'OSPF on the interface',
  passive: 'passive',
  'no-static-neighbor': 'static neighbours',
  subnet: 'subnet',
  area: 'area',
  authentication: 'authentication',
  mask: 'prefix length',
  'hello-interval': 'hello interval',
  'dead-interval': 'dead interval',
  'area-type': 'area type',
  'router-id': 'router id',
  'instance-id': 'instance id',
};

/** A value in which two ends differ, as it is written: with its unit, as an address, as a length. */
export const refusalValue = (kind: RefusalKind, value: string | number): string => {
  if (kind === 'area' || kind === 'router-id') return formatAddress(Number(value));
  if (kind === 'hello-interval' || kind === 'dead-interval') return `${value} s`;
  if (kind === 'mask' || kind === 'subnet') return `/${value}`;
  return String(value);
};

/** States of RFC 2328 §10.1 as the standard writes them. */
export const neighborStateNames: Readonly<Record<NeighborState, string>> = {
  down: 'Down',
  attempt: 'Attempt',
  init: 'Init',
  '2-way': '2-Way',
  exstart: 'ExStart',
  exchange: 'Exchange',
  loading: 'Loading',
  full: 'Full',
};
