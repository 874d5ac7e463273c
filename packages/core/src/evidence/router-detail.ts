import { processOf } from '../design/family';
import { configuredUp } from '../design/router-id';
import type { Router } from '../design/design';
import { formatAddress, formatPrefix } from '../prefix/address';
import type { Prediction } from '../predict';
import { policiesOf, type RouterPolicies } from './policy-words';

/** Who a router is and what it brings in, in sentences. */
export interface RouterDetail extends RouterPolicies {
  readonly identity: {
    /** Whether the document writes the id, or a rule finds it. */
    readonly from: 'written' | 'rule' | 'none';
    /** Where the id comes from, what would change it, and who would notice. */
    readonly words: readonly string[];
  };
  /** Areas that its document names: type in the words of quick entry, summaries as `PREFIX` with cost or `hidden`. */
  readonly areas: readonly {
    readonly id: string;
    readonly kind: string;
    /** `null` where no default is told into the area. */
    readonly defaultCost: number | null;
    readonly ranges: readonly string[];
    readonly border: boolean;
  }[];
  /** What it redistributes and announces. */
  readonly imports: readonly string[];
}

function areasOf(r: Router): RouterDetail['areas'] {
  const all = processOf(r)?.areas ?? [];
  return all.map((a) => ({
    id: formatAddress(a.id),
    kind: a.type === 'normal' ? 'normal' : `${a.summary ? '' : 'totally-'}${a.type === 'stub' ? (a.summary ? 'stub' : 'stubby') : 'nssa'}`,
    defaultCost: a.type === 'normal' || all.length < 2 ? null : a.defaultCost,
    ranges: a.ranges.map((x) => `${formatPrefix(x.prefix)}${x.cost === undefined ? '' : `, cost ${x.cost}`}${x.advertise ? '' : ', hidden'}`),
    border: all.length > 1,
  }));
}

const several = (n: number, one: string): string => `${n} ${one}${n === 1 ? '' : 's'}`;

function importWords(r: Router): string[] {
  const statics = r.staticRoutes.map(
    (x) =>
      `static ${formatPrefix(x.prefix)} ${x.discard ? 'dropped' : `by ${x.nextHops.map((h) => (h.address === undefined ? (h.iface ?? '') : formatAddress(h.address))).join(', ')}`}`,
  );
  const brought = r.instances.flatMap((o) => [
    ...o.redistribution.map(
      (x) =>
        `${x.source} routes, metric ${x.metric} ${x.metricType}${x.tag === 0 ? '' : `, tag ${x.tag}`}${x.policies.length > 0 ? `, where ${x.policies.join(', ')} lets them pass` : ', all of them'}`,
    ),
    ...(o.defaultRoute
      ? [
          `a default route, ${o.defaultRoute.announce === 'always' ? 'always' : 'while its own table has one'}, metric ${o.defaultRoute.metric} ${o.defaultRoute.metricType}`,
        ]
      : []),
    ...o.externalRanges.map((x) => `summarised outside as ${formatPrefix(x.prefix)}${x.advertise ? '' : ', not announced'}`),
    ...o.otherRoutes.map(
      (x) => `${formatPrefix(x.prefix)} from another protocol${x.learntFrom === undefined ? '' : `, while ${x.learntFrom} hands it over`}`,
    ),
  ]);
  return [...statics, ...brought];
}

/** Who a router is: where its id comes from (RFC 2328 C.1), what would change it and who would notice; and what it imports. */
export function routerDetail(p: Prediction, routerIndex: number): RouterDetail {
  const router = p.design.routers[routerIndex];
  const s = p.speakersOf(routerIndex)[0];
  const policies = router ? policiesOf(router) : { policies: [], prefixSets: [], filters: [] };
  if (!router || !s)
    return { identity: { from: 'none', words: [] }, areas: router ? areasOf(router) : [], imports: router ? importWords(router) : [], ...policies };
  const source = s.routerIdSource;
  const id = formatAddress(s.routerId);
  const neighbours = p.adjacencies.pairs.filter((x) => x.a.port.routerIndex === routerIndex || x.b.port.routerIndex === routerIndex).length;
  const noticed = `${neighbours === 0 ? 'No neighbour knows' : `${several(neighbours, 'neighbour')} ${neighbours === 1 ? 'knows' : 'know'}`} it by this id: with another one, they all form anew.`;
  if (source.from === 'explicit' || source.from === 'routing')
    return {
      identity: {
        from: 'written',
        words: [
          source.from === 'explicit'
            ? 'Written in the document: only an edit changes it.'
            : 'Written once for the whole router, under routing: only an edit changes it.',
          noticed,
        ],
      },
      areas: areasOf(router),
      imports: importWords(router),
      ...policies,
    };
  const highest = s.instance.routerIdRule === 'highest-loopback';
  const kind = source.from === 'loopback' ? 'loopback' : 'interface';
  const others = router.interfaces.filter(
    (i) => (i.kind === 'loopback') === (kind === 'loopback') && configuredUp(router, i) && i.addresses.length > 0,
  );
  const words = [
    `Found by rule: the ${highest ? 'highest' : 'lowest'} address on ${kind === 'loopback' ? 'its loopbacks' : 'its interfaces, since no loopback has one'}, here of ${source.name}.`,
    `${kind === 'loopback' ? 'A loopback' : 'Any loopback address, or an interface'} with ${highest ? 'a higher' : 'a lower'} address than ${id} would take over, in OSPF or not${others.length > 1 ? '; so would the next one if this went' : '; without it the router would have another id or none'}.`,
    noticed,
  ];
  return { identity: { from: 'rule', words }, areas: areasOf(router), imports: importWords(router), ...policies };
}
