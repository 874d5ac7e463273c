import type { Speaker } from '../adjacency/speakers';
import { applyPolicies } from '../design/policy';
import { backbone } from '../design/design';
import { interfaceUp } from '../failures/outage';
import type { ExternalLsa } from '../lsdb/lsa';
import { covers, formatAddress, formatPrefix, holds, hostLength, prefixOf, type Prefix } from '../prefix/address';
import { prefixId } from '../prefix/prefix-book';
import type { Prediction } from '../predict';
import { areaWords } from './flooding';
import { advertisementsIn } from './held';
import { prefixesOf } from './lsa-words';
import { keptOutAt } from './prefix-forms';

/** A part of a sentence that can be gone to. */
export type Said =
  | string
  | { readonly router: string }
  | { readonly prefix: string; readonly at: string }
  | { readonly area: number }
  | { readonly router: string; readonly iface: string };

/** One reason why a router has no route, in words, with the section behind it. */
export interface Reason {
  readonly kind:
    | 'down'
    | 'nobody'
    | 'not-up'
    | 'not-in-ospf'
    | 'not-advertised'
    | 'refused-here'
    | 'filtered'
    | 'folded'
    | 'stub-area'
    | 'out-of-reach'
    | 'unresolved'
    | 'not-imported'
    | 'own';
  readonly said: readonly Said[];
  readonly rfc: string;
}

/** Why a router has no route to a prefix, and what packets to it do all the same. */
export interface Absence {
  readonly router: string;
  readonly prefix: string;
  readonly reasons: readonly Reason[];
  /** The line that takes packets to it in its place. */
  readonly instead: { readonly prefix: string; readonly source: string } | undefined;
}

interface Place {
  readonly router: number;
  readonly iface: number;
}

/** What brings a prefix into the design: looked at once, asked for by every router. */
export class WhyAbsent {
  private readonly key: number;
  /** Interfaces on it. */
  private readonly attached: readonly Place[];
  /** Processes in whose own part of an area it is told, by the area. */
  private readonly told: readonly { readonly s: Speaker; readonly area: number }[];
  /** Border routers that tell it as a summary which no router inside has as such. */
  private readonly summing: readonly Speaker[];
  private readonly externals: readonly { readonly lsa: ExternalLsa; readonly area: number | undefined }[];

  constructor(
    private readonly p: Prediction,
    readonly prefix: Prefix,
  ) {
    this.key = prefixId(prefix.bits, prefix.length);
    const same = (x: Prefix): boolean => x.length === prefix.length && x.bits === prefix.bits;
    this.attached = p.design.routers.flatMap((r, router) =>
      r.interfaces.flatMap((i, iface): Place[] => (i.addresses.some((a) => same(prefixOf(a.bits, a.length))) ? [{ router, iface }] : [])),
    );
    const bySpeaker = new Map(p.adjacencies.speakers.map((s) => [s.routerId, s]));
    const told = new Map<string, { s: Speaker; area: number }>();
    const summing = new Set<Speaker>();
    const externals = new Map<string, { lsa: ExternalLsa; area: number | undefined }>();
    for (const s of p.adjacencies.speakers)
      for (const area of [...p.routing.areasOf(s), undefined])
        for (const lsa of advertisementsIn(p, s, area)) {
          if (!prefixesOf(lsa).some(same)) continue;
          if (lsa.type === 5 || lsa.type === 7) externals.set(`${lsa.adv} ${lsa.type} ${area ?? ''}`, { lsa, area });
          else if (lsa.type === 3) {
            const writer = p.adjacencies.speakers[lsa.speaker];
            if (writer && lsa.reason === 'range') summing.add(writer);
          } else if (lsa.type !== 4 && area !== undefined) {
            const writer = bySpeaker.get(lsa.type === 2 ? lsa.port.routerId : lsa.adv);
            if (writer) told.set(`${writer.index} ${area}`, { s: writer, area });
          }
        }
    this.told = [...told.values()];
    this.summing = [...summing];
    this.externals = [...externals.values()];
  }

  /** Why this router has no such route; `undefined` where it has. */
  at(router: number): Absence | undefined {
    const { p, prefix, key } = this;
    const name = p.design.routers[router]?.name ?? '';
    const rib = p.ribOnce(router);
    if (rib.some((r) => r.key === key)) return undefined;
    const covering = rib.filter((r) => covers(r, prefix)).sort((a, b) => b.length - a.length)[0];
    const reasons = this.reasons(router, name);
    return {
      router: name,
      prefix: formatPrefix(prefix),
      reasons: reasons.filter((r, n) => reasons.findIndex((x) => JSON.stringify(x.said) === JSON.stringify(r.said)) === n).slice(0, 6),
      instead: covering && { prefix: formatPrefix(covering), source: covering.source },
    };
  }

  private reasons(router: number, name: string): Reason[] {
    const { p } = this;
    if (p.outage.routers.has(router)) return [{ kind: 'down', said: [{ router: name }, ' is down.'], rfc: '' }];
    const refused = this.refusedHere(router, name);
    if (refused) return [refused];
    const out: Reason[] = [];
    for (const s of p.speakersOf(router)) out.push(...this.inside(s), ...this.summed(s), ...this.outside(s));
    if (out.length > 0) return out;
    if (p.speakersOf(router).length === 0 && this.told.length + this.externals.length > 0)
      return [{ kind: 'not-in-ospf', said: [{ router: name }, ' does not run OSPF, and no static route of it leads there.'], rfc: '' }];
    const unused = this.notBrought(router);
    return unused.length > 0 ? unused : [this.nobody()];
  }

  /** OSPF has it, and the router's own table does not. */
  private refusedHere(router: number, name: string): Reason | undefined {
    const { p, prefix, key } = this;
    for (const s of p.speakersOf(router)) {
      const route = p.routing.table(s).get(key);
      if (!route) continue;
      const { ribPolicy } = s.instance;
      const metricType = route.type.endsWith('1') ? 'type-1' : 'type-2';
      const accepted =
        ribPolicy.length === 0 || applyPolicies(s.router.policies, ribPolicy, { prefix, metric: route.metric, metricType, tag: route.tag }).accepted;
      return accepted
        ? {
            kind: 'unresolved',
            said: ['OSPF has it as ', `${route.type}, and its next hop lies in the very prefix: the table of `, { router: name }, ' leaves it out.'],
            rfc: 'RFC 2328 §11',
          }
        : {
            kind: 'refused-here',
            said: [
              `OSPF has it as ${route.type} at ${route.metric}; the policy ${ribPolicy.join(', ')} keeps it out of the table of `,
              { router: name },
              '.',
            ],
            rfc: '',
          };
    }
    return undefined;
  }

  /** It lies inside an area. */
  private inside(s: Speaker): Reason[] {
    const { p, prefix } = this;
    const out: Reason[] = [];
    const own = p.routing.areasOf(s);
    for (const { s: writer, area } of this.told) {
      const name = writer.router.name;
      if (own.includes(area)) {
        out.push({
          kind: 'out-of-reach',
          said: [{ router: name }, ' has it in ', { area }, ', and no path of full neighbours leads there from ', { router: s.router.name }, '.'],
          rfc: 'RFC 2328 §16.1',
        });
        continue;
      }
      const borders = p.adjacencies.speakers.filter((b) => p.routing.isBorderRouter(b) && p.routing.areasOf(b).includes(area));
      const knowing = borders.filter((b) => p.routing.table(b).get(this.key)?.type === 'intra-area');
      if (borders.length === 0) {
        out.push({
          kind: 'out-of-reach',
          said: [{ router: name }, ' has it in ', { area }, ', which no border router joins to the backbone.'],
          rfc: 'RFC 2328 §3.1',
        });
        continue;
      }
      if (knowing.length === 0) {
        out.push({
          kind: 'out-of-reach',
          said: [{ router: name }, ' has it in ', { area }, '; no border router of that area reaches it.'],
          rfc: 'RFC 2328 §16.1',
        });
        continue;
      }
      const stopped = knowing.flatMap((b) => {
        const into = own.find((a) => p.routing.areasOf(b).includes(a)) ?? backbone;
        const why = keptOutAt(p, b, area, into === area ? backbone : into, prefix);
        return why === undefined ? [] : [this.kept(why, b, into)];
      });
      if (stopped.length === knowing.length) {
        out.push(...stopped);
        continue;
      }
      // The backbone has it: what keeps it out of this router's areas stands at their own borders.
      out.push(...this.keptAtGates(s));
      if (out.length === 0)
        out.push({
          kind: 'out-of-reach',
          said: ['Border routers of ', { area }, ' tell it, and no path of full neighbours leads to them from ', { router: s.router.name }, '.'],
          rfc: 'RFC 2328 §16.2',
        });
    }
    return out;
  }

  /** What keeps it out of a router's areas at the borders between them and the backbone. */
  private keptAtGates(s: Speaker): Reason[] {
    const { p, prefix } = this;
    const own = p.routing.areasOf(s);
    if (own.includes(backbone)) return [];
    return p.adjacencies.speakers
      .filter((b) => p.routing.isBorderRouter(b))
      .flatMap((gate) =>
        p.routing.areasOf(gate).flatMap((a) => {
          const why = a !== backbone && own.includes(a) ? keptOutAt(p, gate, backbone, a, prefix) : undefined;
          return why === undefined ? [] : [this.kept(why, gate, a)];
        }),
      );
  }

  /** What a border router does, as a reason. */
  private kept({ kind, by }: { readonly kind: 'filtered' | 'folded' | 'stub-area'; readonly by: string }, at: Speaker, area: number): Reason {
    const router = { router: at.router.name };
    switch (kind) {
      case 'folded':
        return { kind, said: [router, ' folds it into ', { prefix: by, at: at.router.name }, '.'], rfc: 'RFC 2328 §12.4.3' };
      case 'stub-area':
        return {
          kind,
          said: [router, ' lets no summaries into ', { area }, ': a default stands for it.'],
          rfc: 'RFC 2328 §12.4.3.1',
        };
      case 'filtered':
        return { kind, said: [router, ` ${by}.`], rfc: 'RFC 2328 §12.4.3' };
    }
  }

  /** It is a summary: what keeps that out of this router's areas, or that its writer is not reached. */
  private summed(s: Speaker): Reason[] {
    if (this.told.length > 0 || this.summing.length === 0 || this.summing.includes(s)) return [];
    const kept = this.keptAtGates(s);
    if (kept.length > 0) return kept;
    return this.summing.map((w) => ({
      kind: 'out-of-reach',
      said: [{ router: w.router.name }, ' sums it up, and no path of full neighbours carries that to ', { router: s.router.name }, '.'],
      rfc: 'RFC 2328 §16.2',
    }));
  }

  /** It comes from outside. */
  private outside(s: Speaker): Reason[] {
    const { p } = this;
    const out: Reason[] = [];
    const areas = p.routing.areasOf(s);
    for (const { lsa, area } of this.externals) {
      const writer = p.adjacencies.speakers[lsa.speaker];
      const name = writer?.router.name ?? formatAddress(lsa.adv);
      if (writer === s) {
        out.push({
          kind: 'own',
          said: [{ router: name }, ' announces it itself, and takes no route from its own announcement.'],
          rfc: 'RFC 2328 §16.4',
        });
        continue;
      }
      if (lsa.type === 7) {
        if (area !== undefined && areas.includes(area))
          out.push({
            kind: 'out-of-reach',
            said: [{ router: name }, ' brings it into ', { area }, ', and its forwarding address is not reached from here.'],
            rfc: 'RFC 3101 §2.5',
          });
        else if (!this.externals.some((x) => x.lsa.type === 5))
          out.push({
            kind: 'filtered',
            said: [
              { router: name },
              ' brings it into ',
              { area: area ?? backbone },
              lsa.propagate ? ', and no border router there translates it.' : ', for that area alone: it is not to be translated.',
            ],
            rfc: 'RFC 3101 §3.2',
          });
        continue;
      }
      const holds5 = p.routing.externals(s).some((l) => l.adv === lsa.adv && prefixId(l.bits, l.length) === this.key);
      if (!holds5 || areas.every((a) => p.routing.areaOf(s, a).type !== 'normal')) {
        const closed = areas.filter((a) => p.routing.areaOf(s, a).type !== 'normal');
        if (closed.length === areas.length)
          for (const a of closed)
            out.push({
              kind: 'stub-area',
              said: [
                { router: name },
                ' announces it from outside, and ',
                { area: a },
                ` is ${p.routing.areaOf(s, a).type === 'stub' ? 'a stub area' : 'an NSSA'}: no type 5 enters.`,
              ],
              rfc: 'RFC 2328 §3.6',
            });
        else
          out.push({
            kind: 'out-of-reach',
            said: [{ router: name }, ' announces it from outside; no path of full neighbours carries that to ', { router: s.router.name }, '.'],
            rfc: 'RFC 2328 §13',
          });
        continue;
      }
      const boundary = p.routing.boundary(s).get(lsa.adv) ?? [];
      if (boundary.length === 0)
        out.push({
          kind: 'out-of-reach',
          said: [{ router: name }, ' announces it from outside, and no way to that router is known at ', { router: s.router.name }, '.'],
          rfc: 'RFC 2328 §16.4',
        });
      else if (lsa.forwarding !== 0)
        out.push({
          kind: 'unresolved',
          said: [
            { router: name },
            ` announces it with the forwarding address ${formatAddress(lsa.forwarding)}, which OSPF does not reach inside at `,
            { router: s.router.name },
            '.',
          ],
          rfc: 'RFC 2328 §16.4',
        });
      else
        out.push({
          kind: 'unresolved',
          said: [{ router: name }, ' announces it from outside, and nothing of it holds here.'],
          rfc: 'RFC 2328 §16.4',
        });
    }
    return out;
  }

  /** Routers that have it and tell nobody. */
  private notBrought(asking: number): Reason[] {
    const { p, key } = this;
    const out: Reason[] = [];
    for (const { router, iface } of this.attached) {
      if (router === asking) continue;
      const r = p.design.routers[router];
      const i = r?.interfaces[iface];
      if (!r || !i) continue;
      const place = { router: r.name, iface: i.name };
      if (p.outage.routers.has(router)) out.push({ kind: 'down', said: [{ router: r.name }, ', which has it, is down.'], rfc: '' });
      else if (!interfaceUp(p.design, p.outage, router, iface))
        out.push({ kind: 'not-up', said: [place, ' has it, and is down.'], rfc: 'RFC 2328 §12.4.1' });
      else {
        const port = p.portOf(router, iface);
        out.push(
          port && port.settings.enabled
            ? {
                kind: 'not-advertised',
                said: [place, ' has it in ', { area: port.area.id }, ', and does not advertise it.'],
                rfc: 'RFC 2328 §12.4.1',
              }
            : {
                kind: 'not-in-ospf',
                said: [place, ' has it, and OSPF does not speak there; nor is it brought in from outside.'],
                rfc: 'RFC 2328 §12.4.1',
              },
        );
      }
    }
    p.design.routers.forEach((r, n) => {
      if (n === asking || p.outage.routers.has(n)) return;
      const written = r.staticRoutes.some((x) => prefixId(x.prefix.bits, x.prefix.length) === key);
      const valid = p.localRoutes(n).find((l) => l.key === key && l.source !== 'direct');
      if (written && !valid)
        out.push({ kind: 'unresolved', said: [{ router: r.name }, ' has a static route to it, whose next hop is not reached.'], rfc: '' });
      else if (valid) {
        const brought = p.speakersOf(n).flatMap((s) => s.instance.redistribution.filter((x) => x.source === valid.source));
        out.push({
          kind: 'not-imported',
          said: [
            { router: r.name },
            ` has it from ${valid.source === 'static' ? 'a static route' : 'another protocol'}`,
            p.speakersOf(n).length === 0
              ? ', and runs no OSPF.'
              : brought.length === 0
                ? ', and does not bring that into OSPF.'
                : ', and what it brings into OSPF leaves this prefix out.',
          ],
          rfc: 'RFC 2328 §12.4.4',
        });
      }
    });
    return out;
  }

  /** Nothing in the design has it: what is nearest to it. */
  private nobody(): Reason {
    const { p, prefix } = this;
    const near = p.design.routers.flatMap((r) =>
      r.interfaces.flatMap((i) =>
        i.addresses.flatMap((a) => {
          const subnet = prefixOf(a.bits, a.length);
          return a.length < hostLength(a.bits) && subnet.length < prefix.length && holds(subnet, prefix.bits)
            ? [{ subnet, place: { router: r.name, iface: i.name } }]
            : [];
        }),
      ),
    );
    const [nearest] = near.sort((a, b) => b.subnet.length - a.subnet.length);
    return {
      kind: 'nobody',
      said: nearest
        ? [
            'No router has this very prefix; it lies in ',
            { prefix: formatPrefix(nearest.subnet), at: nearest.place.router },
            ' of ',
            nearest.place,
            '.',
          ]
        : ['No router of the design has it, and none brings it from outside.'],
      rfc: '',
    };
  }
}

/** A reason as plain text. */
export const reasonText = (r: Reason): string =>
  r.said
    .map((x) =>
      typeof x === 'string' ? x : 'iface' in x ? `${x.router}/${x.iface}` : 'prefix' in x ? x.prefix : 'area' in x ? areaWords(x.area) : x.router,
    )
    .join('');
