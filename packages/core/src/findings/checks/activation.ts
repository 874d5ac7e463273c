import { runsIn } from '../../adjacency/speakers';
import { valueAt, type DocumentValue } from '../../design/edit';
import { activeInterfaces, decidingRule, ruleTakes } from '../../design/activation';
import type { ActivationRule } from '../../design/design';
import { ruleMatchWords } from '../../neighbours/turning-on';
import { formatAddress, formatPrefix } from '../../prefix/address';
import { parseTypedPrefix } from '../../prefix/ipv4';
import type { Check, CheckContext } from '../context';
import type { Draft } from '../finding';
import type { Speaker } from '../../adjacency/speakers';

const ruleWords = (r: ActivationRule): string => `${ruleMatchWords(r)} into area ${formatAddress(r.areaId)}`;

const place = (c: CheckContext, s: Speaker, n: number): Draft['where'][number] =>
  c.place(s.router, [...s.instance.at, 'gentle-compass:activation', n]);

/** The list of rules as written, without one of them. */
function withoutRule(c: CheckContext, s: Speaker, n: number): Draft['repairs'][number] {
  const edit = c.edit(s.router, s.instance.at, ['gentle-compass:activation'], undefined);
  const kept = (edit.from as readonly DocumentValue[]).filter((_, i) => i !== n);
  return { title: `Take the rule out of ${s.router.name}`, router: s.router.name, edits: [{ ...edit, to: kept.length > 0 ? kept : undefined }] };
}

/** The rule before all others. */
function ruleFirst(c: CheckContext, s: Speaker, n: number): Draft['repairs'][number] {
  const edit = c.edit(s.router, s.instance.at, ['gentle-compass:activation'], undefined);
  const rules = edit.from as readonly DocumentValue[];
  const to = [rules[n], ...rules.filter((_, i) => i !== n)];
  return { title: `Put the rule first in ${s.router.name}`, router: s.router.name, edits: [{ ...edit, to }] };
}

/** A rule that turns OSPF on nowhere: often a mask and an inverted mask confused. */
export const activationIdle: Check = {
  rule: 'activation-idle',
  about: 'An activation rule takes no interface: it matches none, or every one it matches is decided by another rule or listed under an area.',
  run: (c) =>
    c.prediction.adjacencies.speakers.flatMap((s) =>
      s.instance.activation.flatMap((rule, n): Draft[] => {
        const active = activeInterfaces(s.router, s.instance);
        if (active.some((a) => a.byRule === n)) return [];
        const matched = s.router.interfaces.filter((i) => i.boundTo === undefined && ruleTakes(rule, i));
        const swallowing = matched.map((i) => decidingRule(s.instance, i)).find((d) => d !== undefined && d !== n);
        const by = swallowing === undefined ? undefined : s.instance.activation[swallowing];
        return [
          {
            rule: 'activation-idle',
            severity: 'warning',
            where: [place(c, s, n)],
            message:
              matched.length === 0
                ? `The rule "${ruleWords(rule)}" of ${s.router.name} matches no interface: is its mask written the way it was meant?`
                : by
                  ? `The rule "${ruleWords(rule)}" of ${s.router.name} never decides: "${ruleWords(by)}" takes ${matched.map((i) => i.name).join(', ')} first.`
                  : `The rule "${ruleWords(rule)}" of ${s.router.name} never decides: ${matched.map((i) => i.name).join(', ')} is listed under an area.`,
            evidence: s.router.interfaces.flatMap((i) =>
              i.addresses.map((a) => ({
                router: s.router.name,
                what: i.name,
                value: `${formatAddress(a.bits)}/${a.length}`,
                origin: 'written' as const,
              })),
            ),
            repairs: [...(by && s.instance.activationOrder === 'first-match' ? [ruleFirst(c, s, n)] : []), withoutRule(c, s, n)],
            rfc: 'RFC 9129 §2.9',
          },
        ];
      }),
    ),
};

/** A rule written for one address that takes every address of the interface. */
export const activationAddresses: Check = {
  rule: 'activation-addresses',
  about: 'A rule matches one address of an interface that has several: all of its subnets are advertised.',
  run: (c) =>
    c.prediction.adjacencies.ports.flatMap((p): Draft[] => {
      const s = c.prediction.adjacencies.speakers[p.speaker];
      const rule = p.byRule === undefined ? undefined : s?.instance.activation[p.byRule];
      if (!s || p.byRule === undefined || rule?.match.kind !== 'prefix' || p.iface.addresses.length < 2) return [];
      const match = rule.match;
      const outside = p.iface.addresses.filter((a) => !ruleTakes(rule, { ...p.iface, addresses: [a] }));
      if (outside.length === 0) return [];
      return [
        {
          rule: 'activation-addresses',
          severity: 'warning',
          where: [place(c, s, p.byRule)],
          message: `The rule for ${formatPrefix(match.prefix)} takes the whole of ${p.iface.name} in ${s.router.name}: ${outside.map((a) => `${formatAddress(a.bits)}/${a.length}`).join(', ')} is advertised too.`,
          evidence: p.iface.addresses.map((a) => ({
            router: s.router.name,
            what: p.iface.name,
            value: `${formatAddress(a.bits)}/${a.length}`,
            origin: 'written' as const,
          })),
          repairs: [],
          rfc: 'RFC 2328 §12.4.1',
        },
      ];
    }),
};

/** OSPF prepared but switched off, or without an address to take a router id from. */
export const processDoesNotRun: Check = {
  rule: 'process-does-not-run',
  about: 'An OSPF process is configured and does not run: it is switched off, or there is no address for its router id.',
  run: (c) =>
    c.prediction.design.routers.flatMap((router, index) =>
      router.instances
        .filter(
          (o) =>
            runsIn(c.prediction.design, o) &&
            o.areas.some((a) => a.interfaces.length > 0) &&
            !c.prediction.outage.routers.has(index) &&
            !c.prediction.adjacencies.speakers.some((s) => s.routerIndex === index && s.instance === o),
        )
        .map((o): Draft => ({
          rule: 'process-does-not-run',
          severity: 'error',
          where: [c.place(router, o.at)],
          message: o.enabled
            ? `${c.family === 6 ? 'OSPFv3' : 'OSPF'} "${o.name}" of ${router.name} has no router id: no interface that is up has an IPv4 address, and none is written. Write an explicit-router-id: any 32 bits that no other router has.`
            : `OSPF "${o.name}" of ${router.name} is configured and switched off.`,
          evidence: [{ router: router.name, what: 'enabled', value: String(o.enabled), origin: o.written.has('enabled') ? 'written' : 'standard' }],
          repairs: o.enabled
            ? []
            : [{ title: `Switch OSPF "${o.name}" of ${router.name} on`, router: router.name, edits: [c.edit(router, o.at, ['enabled'], true)] }],
          rfc: 'RFC 2328 C.1',
        })),
    ),
};

/** A rule for turning OSPF on that takes an interface whose neighbours are all in another area. */
export const activationBroad: Check = {
  rule: 'activation-broad',
  about: 'An activation rule is too broad: it takes an interface into an area in which none of the neighbours on its wire are.',
  run: (c) =>
    c.prediction.adjacencies.ports.flatMap((p): Draft[] => {
      const s = c.prediction.adjacencies.speakers[p.speaker];
      const rule = p.byRule === undefined ? undefined : s?.instance.activation[p.byRule];
      const others = c.prediction.portsOn(p.segment).filter((q) => q.routerIndex !== p.routerIndex && q.up);
      if (!s || !rule || p.byRule === undefined || others.length === 0 || others.some((q) => q.area.id === p.area.id)) return [];
      const match = ruleMatchWords(rule);
      const there = [...new Set(others.map((q) => formatAddress(q.area.id)))];
      const to = there.length === 1 ? others[0]?.area.id : undefined;
      const list = [...s.instance.at, 'gentle-compass:activation'];
      const now = (valueAt(c.document(s.router).tree, list) ?? valueAt(c.document(s.router).tree, [...s.instance.at, 'activation'])) as
        readonly object[] | undefined;
      return [
        {
          rule: 'activation-broad',
          severity: 'warning',
          where: [c.place(s.router, [...list, p.byRule], undefined, { interface: p.iface.name })],
          message: `The rule "${match}" of ${s.router.name} takes ${p.iface.name} into area ${formatAddress(p.area.id)}, while ${others.map((q) => c.routerName(q.routerIndex)).join(', ')} on its wire ${others.length === 1 ? 'is' : 'are'} in area ${there.join(', ')}.`,
          evidence: [p, ...others].map((q) => ({
            router: c.routerName(q.routerIndex),
            what: q.iface.name,
            value: `area ${formatAddress(q.area.id)}`,
            origin: q.byRule === undefined ? ('written' as const) : ('computed' as const),
          })),
          repairs:
            to === undefined || !Array.isArray(now)
              ? []
              : [
                  {
                    title: `Put a rule for ${p.iface.name} into area ${formatAddress(to)} before it`,
                    router: s.router.name,
                    edits: [
                      c.edit(
                        s.router,
                        s.instance.at,
                        ['gentle-compass:activation'],
                        [{ match: p.iface.name, 'area-id': formatAddress(to) }, ...(now as never[])],
                      ),
                    ],
                  },
                ],
          rfc: 'RFC 9129 §2.9',
        },
      ];
    }),
};

/** How a rule's mask was read, where it was typed as one. */
export const maskReadAs: Check = {
  rule: 'mask-read-as',
  families: [4],
  about: 'An activation rule was typed with a mask or with host bits: how it was read.',
  run: (c) =>
    c.prediction.adjacencies.speakers.flatMap((s) =>
      s.instance.activation.flatMap((rule, n): Draft[] => {
        if (rule.match.kind !== 'prefix') return [];
        const list = [...s.instance.at, 'gentle-compass:activation'];
        const tree = c.document(s.router).tree;
        const at = valueAt(tree, list) === undefined ? [...s.instance.at, 'activation', n] : [...list, n];
        const raw = valueAt(tree, [...at, 'match']);
        const typed = typeof raw === 'string' ? parseTypedPrefix(raw) : undefined;
        if (!typed || (typed.notation === 'length' && !typed.hostBits) || typed.notation === 'address') return [];
        const how = { length: 'a prefix length', mask: 'a mask', 'inverted-mask': 'an inverted mask', address: 'an address' }[typed.notation];
        return [
          {
            rule: 'mask-read-as',
            severity: 'note',
            topic: formatPrefix(rule.match.prefix),
            where: [c.place(s.router, at, 'match')],
            message: `The rule "${String(raw)}" of ${s.router.name} was read with ${how}: it takes ${formatPrefix(rule.match.prefix)}${typed.hostBits ? ', its host bits left out' : ''}.`,
            evidence: [{ router: s.router.name, what: 'match', value: String(raw), origin: 'written' }],
            repairs: [
              {
                title: `Write it as ${formatPrefix(rule.match.prefix)}`,
                router: s.router.name,
                edits: [c.edit(s.router, at, ['match'], formatPrefix(rule.match.prefix))],
              },
            ],
            rfc: 'RFC 4632 §3.1',
          },
        ];
      }),
    ),
};
