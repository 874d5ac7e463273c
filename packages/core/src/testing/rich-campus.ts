import fc from 'fast-check';
import { formatAddress } from '../prefix/address';
import { campus, type Campus } from './campus';

/**
 * Random networks with everything that the protocol has, as documents: areas of every type, translators, virtual links,
 * forwarding addresses, policies, ranges, networks of every type, unnumbered cables, several processes and addresses, IPv6
 * addresses beside IPv4. Nothing about them is known beforehand; they serve to hold two computations against each other.
 */
export interface RichPlan {
  /** A stream of numbers from which every choice is taken: shrinking it shrinks the network. */
  readonly numbers: readonly number[];
  readonly areas: readonly ('normal' | 'stub' | 'totally' | 'nssa' | 'closed-nssa')[];
}

export const richPlans: fc.Arbitrary<RichPlan> = fc.record({
  numbers: fc.array(fc.nat(5039), { minLength: 60, maxLength: 140 }),
  areas: fc.array(
    fc.constantFrom(
      'normal' as const,
      'normal' as const,
      'stub' as const,
      'totally' as const,
      'nssa' as const,
      'nssa' as const,
      'closed-nssa' as const,
    ),
    {
      minLength: 1,
      maxLength: 3,
    },
  ),
});

/** What a rich network was built from, so that tests can see that each feature is met. */
export interface RichCampus {
  readonly campus: Campus;
  readonly names: readonly string[];
  readonly features: ReadonlySet<string>;
  /** Failures to try: links, interfaces and routers that are there. */
  readonly failures: readonly string[];
}

class Builder {
  readonly c = campus();
  readonly names: string[] = [];
  readonly features = new Set<string>();
  readonly failures: string[] = [];
  private at = 0;
  private cables = 0;
  private lans = 0;
  private readonly topology: string[] = [];

  constructor(private readonly plan: RichPlan) {}

  next(below: number): number {
    return (this.plan.numbers[this.at++ % this.plan.numbers.length] ?? 0) % below;
  }

  /** True once in so many times; notes the feature then. */
  now(once: number, feature: string): boolean {
    if (this.next(once) !== 0) return false;
    this.features.add(feature);
    return true;
  }

  cost = (): number => 1 + this.next(7);

  router(name: string, area: number, ospf: Record<string, unknown> = {}): string {
    const n = this.names.push(name);
    this.c.router(name, `10.96.${area}.${n}`, area, {
      ...(this.now(9, 'stub router') ? { 'stub-router': { always: {} } } : {}),
      ...(this.now(12, 'few paths') ? { 'spf-control': { paths: 1 } } : {}),
      ...ospf,
    });
    this.failures.push(`router:${name}`);
    return name;
  }

  /** A cable, numbered or not. */
  cable(a: string, b: string, area: number): void {
    const n = this.cables++;
    const [ia, ib] = [`c${n}`, `c${n}`];
    this.failures.push(`link:${a}/${ia}`, `interface:${b}/${ib}`);
    const ipv6 = this.now(4, 'IPv6 addresses') ? { iface: { ipv6: { address: [{ ip: `2001:db8:${n}::1`, 'prefix-length': 64 }] } } } : {};
    if (this.now(8, 'unnumbered')) {
      this.c.port(a, ia, '', area, { 'interface-type': 'point-to-point', cost: this.cost() });
      this.c.port(b, ib, '', area, { 'interface-type': 'point-to-point', cost: this.cost() });
      this.topology.push(`${a}/${ia} ${b}/${ib}`);
      return;
    }
    const base = `10.97.${Math.floor(n / 64)}.${(n % 64) * 4}`;
    const suppressed = this.now(10, 'prefix suppression') ? { 'prefix-suppression': true } : {};
    const type = this.now(6, 'broadcast cable') ? 'broadcast' : 'point-to-point';
    const second = this.now(9, 'several addresses') ? ` 10.110.${n}.1/28` : '';
    const far = base.replace(/\d+$/, (last) => String(Number(last) + 1));
    this.c.port(a, ia, `${base}/31${second}`, area, { 'interface-type': type, cost: this.cost(), ...suppressed, ...ipv6 });
    this.c.port(b, ib, `${far}/31`, area, { 'interface-type': type, cost: this.cost(), ...suppressed });
  }

  /** A LAN of one of the network types. */
  lan(members: readonly string[], area: number): string {
    const n = this.lans++;
    const net = `10.98.${n}.0/24`;
    const kind = ['broadcast', 'broadcast', 'non-broadcast', 'point-to-multipoint', 'hybrid'][this.next(5)] ?? 'broadcast';
    this.features.add(kind);
    const neighbors = (self: string): object => ({
      'static-neighbors': {
        neighbor: members.flatMap((m, i) =>
          m === self ? [] : [{ identifier: `10.98.${n}.${i + 1}`, ...(this.next(4) === 0 ? { priority: 0 } : {}) }],
        ),
      },
    });
    this.c.lan(
      `lan${n}`,
      net,
      area,
      members.map(
        (m, i) => [m, { cost: this.cost(), priority: this.next(3), ...(kind === 'non-broadcast' && i === 0 ? neighbors(m) : {}) }] as const,
      ),
      { 'interface-type': kind },
    );
    for (const m of members) this.failures.push(`link:${m}/lan${n}`);
    return net;
  }

  users(router: string, area: number, n: number): void {
    const shared = this.now(6, 'a prefix in two places');
    this.c.port(router, `users${n}`, `10.99.${shared ? 0 : n}.${1 + this.next(200)}/24`, area, { passive: true, cost: this.cost() });
  }

  join(members: readonly string[], area: number): void {
    members.slice(1).forEach((m, i) => {
      this.cable(members[this.next(i + 1)] ?? m, m, area);
    });
    for (let k = this.next(3); k > 0 && members.length > 1; k--) {
      const [a, b] = [members[this.next(members.length)], members[this.next(members.length)]];
      if (a !== undefined && b !== undefined && a !== b) this.cable(a, b, area);
    }
    if (members.length > 2 && this.next(3) > 0) this.lan(members.slice(0, 2 + this.next(members.length - 1)), area);
  }

  /** Imports of a boundary router: statics to nowhere, to a neighbour's LAN, through policies; a default; ranges over them. */
  imports(name: string, n: number): void {
    this.features.add('imports');
    const type = this.next(2) === 0 ? 'type-1' : 'type-2';
    const policy = this.now(3, 'redistribution policy') ? { policy: ['out'] } : {};
    const ospf: Record<string, unknown> = { redistribution: [{ source: 'static', metric: 5 + this.next(4), 'metric-type': type, ...policy }] };
    if (this.now(4, 'announced default')) ospf['default-route'] = { announce: this.next(2) === 0 ? 'always' : 'if-present', metric: 4 };
    if (this.now(5, 'external range')) ospf['external-ranges'] = [{ prefix: '198.51.100.0/22', advertise: this.next(3) > 0 }];
    if (this.now(5, 'other routes')) ospf['other-routes'] = [{ prefix: `203.0.113.${16 * n}/28`, preference: 20 + this.next(150) }];
    if (this.now(4, 'a route handed over')) {
      const handed = {
        prefix: `198.51.${100 + this.next(3)}.0/24`,
        preference: 60 + this.next(100),
        'learnt-from': this.names[this.next(this.names.length)],
      };
      ospf['other-routes'] = [...((ospf['other-routes'] as object[] | undefined) ?? []), handed];
    }
    if ('other-routes' in ospf) (ospf['redistribution'] as object[]).push({ source: 'other' });
    this.c.ospf(name, ospf);
    for (let k = 1 + this.next(2); k > 0; k--) {
      const prefix = `198.51.${100 + this.next(3)}.0/24`;
      const on = this.next(this.lans + 1);
      if (on < this.lans && this.now(2, 'forwarding address')) this.c.static(name, prefix, `10.98.${on}.77`);
      else this.c.static(name, prefix, 'blackhole', this.now(6, 'a static that OSPF may beat') ? { 'route-preference': 180 } : {});
    }
    if (this.now(6, 'a default route')) this.c.static(name, '0.0.0.0/0', 'blackhole');
    this.c.document(name, {
      'ietf-routing-policy:routing-policy': {
        'defined-sets': {
          'prefix-sets': {
            'prefix-set': [
              { name: 'some', prefixes: { 'prefix-list': [{ 'ip-prefix': '198.51.100.0/23', 'mask-length-lower': 23, 'mask-length-upper': 24 }] } },
              { name: 'low', prefixes: { 'prefix-list': [{ 'ip-prefix': '10.96.0.0/11', 'mask-length-lower': 24, 'mask-length-upper': 32 }] } },
            ],
          },
        },
        'policy-definitions': {
          'policy-definition': [
            this.policy('out', 'some', { 'policy-result': 'accept-route', 'set-metric': { metric: 9 } }),
            this.policy('hosts', 'low', { 'policy-result': 'accept-route' }),
          ],
        },
      },
    });
  }

  private policy(name: string, set: string, actions: object): object {
    return { name, statements: { statement: [{ name: 's', conditions: { 'match-prefix-set': { 'prefix-set': set } }, actions }] } };
  }

  build(): RichCampus {
    const domain = { 'rfc1583-compatible': this.now(4, 'RFC 1583'), 'range-cost': this.now(5, 'smallest range cost') ? 'smallest' : 'largest' };
    const model = (): object => ({ ...domain, ...(this.now(5, 'the border model of RFC 2328') ? { 'border-model': 'rfc2328' } : {}) });
    const core = Array.from({ length: 1 + this.next(3) }, (_, i) => this.router(`core-${i + 1}`, 0, domain));
    const borders: string[] = [];
    const boundary: string[] = [];
    this.plan.areas.forEach((type, i) => {
      const id = i + 1;
      const own = Array.from({ length: 1 + this.next(3) }, (_, k) => this.router(`border-${id}-${k + 1}`, 0, model() as Record<string, unknown>));
      const inside = Array.from({ length: 1 + this.next(3) }, (_, k) => this.router(`inside-${id}-${k + 1}`, id, domain));
      // One of the borders may hang on the backbone by a virtual link alone.
      const remote = own.length > 1 && type === 'normal' && this.now(2, 'virtual link') ? own.at(-1) : undefined;
      borders.push(...own.filter((x) => x !== remote));
      this.join([...own, ...inside], id);
      if (remote !== undefined) this.virtualLink(own[0] ?? '', remote, id);
      inside.forEach((r, k) => {
        if (this.next(2) === 0) this.users(r, id, id * 8 + k);
      });
      this.ranges(own, id);
      this.areaType(type, [...own, ...inside], own, id);
      boundary.push(...(type === 'stub' || type === 'totally' ? own.slice(0, 1) : [...inside.slice(0, 1), ...own.slice(0, 1)]));
    });
    this.join([...core, ...borders], 0);
    for (const [n, r] of [...core, ...boundary].entries()) if (this.next(2) === 0) this.imports(r, n);
    if (core.length > 1 && this.now(3, 'several processes')) this.secondProcess(core[0] ?? '', core[1] ?? '');
    if (this.topology.length > 0) this.c.links(this.topology);
    return { campus: this.c, names: this.names, features: this.features, failures: this.failures };
  }

  private virtualLink(a: string, b: string, area: number): void {
    const id = (name: string): string => formatAddress(0x0a60_0000 + this.names.indexOf(name) + 1);
    this.c.area(a, 0, { 'virtual-links': { 'virtual-link': [{ 'transit-area-id': formatAddress(area), 'router-id': id(b) }] } });
    this.c.area(b, 0, { 'virtual-links': { 'virtual-link': [{ 'transit-area-id': formatAddress(area), 'router-id': id(a) }] } });
  }

  private ranges(own: readonly string[], id: number): void {
    for (const r of own)
      for (const area of [0, id])
        if (this.next(4) === 0) {
          const prefix = ['10.99.0.0/20', `10.96.${area}.0/28`, '10.97.0.0/25', '10.98.0.0/22'][this.next(4)];
          this.features.add(area === 0 ? 'backbone range' : 'range');
          this.c.area(r, area, {
            ranges: { range: [{ prefix, advertise: this.next(4) > 0, ...(this.next(2) === 0 ? { cost: 40 + this.next(9) } : {}) }] },
          });
        }
    if (this.now(6, 'summary policies'))
      for (const r of own.slice(0, 1)) {
        this.imports(r, 9);
        this.c.area(r, id, { [this.next(2) === 0 ? 'summary-in-policy' : 'summary-out-policy']: ['hosts'] });
      }
  }

  private areaType(type: RichPlan['areas'][number], all: readonly string[], own: readonly string[], id: number): void {
    this.features.add(type);
    if (type === 'normal') return;
    const stub = type === 'stub' || type === 'totally';
    const closed = type === 'totally' || type === 'closed-nssa';
    for (const r of all)
      this.c.area(r, id, {
        'area-type': stub ? 'stub-area' : 'nssa-area',
        ...(closed ? { summary: false } : {}),
        ...(own.includes(r) ? { 'default-cost': 1 + this.next(9) } : {}),
      });
    if (stub) return;
    for (const r of own) {
      const nssa = {
        ...(this.now(4, 'translator by decree') ? { 'translator-role': 'always' } : {}),
        ...(this.now(4, 'NSSA default') ? { 'default-route': true, 'metric-type': this.next(2) === 0 ? 'type-1' : 'type-2' } : {}),
      };
      this.c.area(r, id, { nssa });
    }
  }

  private secondProcess(a: string, b: string): void {
    for (const [i, r] of [a, b].entries()) {
      this.c.port(r, 'aside', `10.111.0.${i + 1}/30`, null);
      this.c.port(r, 'lab', `10.111.${i + 1}.1/24`, null);
      const interfaces = [
        { name: 'aside', 'interface-type': 'point-to-point', cost: 3 },
        { name: 'lab', passive: true },
      ];
      this.c.process(r, 'second', {
        'explicit-router-id': `10.111.0.${i + 1}`,
        areas: { area: [{ 'area-id': '0.0.0.0', interfaces: { interface: interfaces } }] },
      });
    }
  }
}

/** Builds the network of a plan. */
export const richCampusOf = (plan: RichPlan): RichCampus => new Builder(plan).build();
