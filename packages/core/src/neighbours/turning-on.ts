import { runsIn, type Port } from '../adjacency/speakers';
import { activeInterfaces, decidingRule, ruleTakes } from '../design/activation';
import { container, Draft, listIn, member } from '../design/draft';
import type { ActivationRule, OspfInstance, Router } from '../design/design';
import { applyEdits, type Edit } from '../design/edit';
import { designOf } from '../design/family';
import type { SourceDocument } from '../documents/documents';
import { localName } from '../documents/shape';
import { designFrom } from '../formats/read-set';
import { formatAddress, formatPrefix } from '../prefix/address';
import type { Prediction } from '../predict';

/** How an interface came to take part, or why it does not. */
export type TurnedOnBy =
  | { readonly kind: 'line' }
  | { readonly kind: 'rule'; readonly rule: number }
  /** Bound to another routing table. */
  | { readonly kind: 'bound' }
  | { readonly kind: 'nothing' };

/** One interface of a router as one process sees it. */
export interface InterfacePart {
  readonly name: string;
  readonly addresses: readonly string[];
  readonly by: TurnedOnBy;
  /** As `0.0.0.10`; `undefined`: in none. */
  readonly area: string | undefined;
  /** Rules that match it, by their places: the deciding one and those that it does not get to. */
  readonly matched: readonly number[];
  readonly passive: boolean;
  /** What of it is told to the area, and whether it speaks to neighbours there. */
  readonly role: 'speaks' | 'advertised, never speaks' | 'down' | 'OSPF off on it' | 'left out';
}

/** One rule of a process, in words, and what becomes of it. */
export interface RulePart {
  readonly words: string;
  readonly area: string;
  readonly passive: boolean;
  /** Interfaces that it decides over. */
  readonly takes: readonly string[];
  /** Interfaces that it matches and another one decides over: a rule, or their own line (`undefined`). */
  readonly misses: readonly { readonly iface: string; readonly to: number | undefined }[];
  /** Interfaces that it takes into an area in which none of those on their wire are. */
  readonly broad: readonly string[];
}

/** Which interfaces of a router take part in one of its processes, and by what. */
export interface TurnedOn {
  readonly process: string;
  readonly order: OspfInstance['activationOrder'];
  readonly interfaces: readonly InterfacePart[];
  readonly rules: readonly RulePart[];
}

/** A rule as people read it: what it matches. */
export const ruleMatchWords = ({ match: m }: ActivationRule): string =>
  m.kind === 'any' ? 'any' : m.kind === 'name' ? m.pattern : formatPrefix(m.prefix);

function roleOf(port: Port | undefined): InterfacePart['role'] {
  if (!port) return 'left out';
  if (!port.settings.enabled) return 'OSPF off on it';
  if (!port.up) return 'down';
  return port.settings.passive || port.loopback ? 'advertised, never speaks' : 'speaks';
}

/** How every interface of a router came into OSPF, process by process (RFC 9129 §2.9; RFC 2328 C.3). */
export function turnedOn(p: Prediction, routerIndex: number): TurnedOn[] {
  const router = p.design.routers[routerIndex];
  return router ? router.instances.filter((o) => runsIn(p.design, o)).map((o) => ofProcess(p, router, routerIndex, o)) : [];
}

function ofProcess(p: Prediction, router: Router, routerIndex: number, instance: OspfInstance): TurnedOn {
  const active = new Map(activeInterfaces(router, instance).map((a) => [a.index, a]));
  const broad = new Map<number, string[]>();
  const interfaces = router.interfaces.map((i, n): InterfacePart => {
    const a = active.get(n);
    const port = a && p.portOf(routerIndex, n);
    const others = p.portsOn(p.segments.at(routerIndex, n)).filter((q) => q.routerIndex !== routerIndex && q.up);
    if (a?.byRule !== undefined && others.length > 0 && others.every((q) => q.area.id !== a.area.id)) {
      const list = broad.get(a.byRule);
      if (list) list.push(i.name);
      else broad.set(a.byRule, [i.name]);
    }
    return {
      name: i.name,
      addresses: i.addresses.map((x) => `${formatAddress(x.bits)}/${x.length}`),
      by: !a
        ? i.boundTo === undefined
          ? { kind: 'nothing' }
          : { kind: 'bound' }
        : a.byRule === undefined
          ? { kind: 'line' }
          : { kind: 'rule', rule: a.byRule },
      area: a && formatAddress(a.area.id),
      matched: i.boundTo === undefined ? instance.activation.flatMap((r, k) => (ruleTakes(r, i) ? [k] : [])) : [],
      passive: a?.settings.passive ?? false,
      role: roleOf(port),
    };
  });
  const rules = instance.activation.map((r, n): RulePart => ({
    words: ruleMatchWords(r),
    area: formatAddress(r.areaId),
    passive: r.passive,
    takes: interfaces.flatMap((i) => (i.by.kind === 'rule' && i.by.rule === n ? [i.name] : [])),
    misses: router.interfaces.flatMap((i, k) => {
      if (i.boundTo !== undefined || !ruleTakes(r, i)) return [];
      const a = active.get(k);
      if (a && a.byRule === undefined) return [{ iface: i.name, to: undefined }];
      const to = decidingRule(instance, i);
      return to === n ? [] : [{ iface: i.name, to }];
    }),
    broad: broad.get(n) ?? [],
  }));
  return { process: instance.name, order: instance.activationOrder, interfaces, rules };
}

/** A rule as it is typed on the bench. */
export interface TypedRule {
  readonly process: string;
  /** `any`, a prefix (with a length, a mask or an inverted mask), or a name with `*`. */
  readonly match: string;
  /** As `10` or `0.0.0.10`. */
  readonly area: string;
  readonly passive: boolean;
  /** Place in the list, from 0. */
  readonly at: number;
}

/** What a rule would do to one interface. */
export interface Caught {
  readonly iface: string;
  readonly addresses: readonly string[];
  readonly before: string;
  readonly after: string;
}

/** What a rule on the bench comes to. */
export interface RuleTrial {
  readonly edits: readonly Edit[];
  /** Interfaces that take part otherwise than before. */
  readonly caught: readonly Caught[];
  /** Interfaces that it matches and that stay what they are: something before it decides. */
  readonly missed: readonly string[];
  /** How the text was understood: `10.96.8.0/22`. */
  readonly understood: string | undefined;
  /** Why it cannot stand. */
  readonly problems: readonly string[];
}

const partWords = (i: InterfacePart | undefined): string =>
  i?.area === undefined ? 'not in OSPF' : `area ${i.area}${i.passive ? ', passive' : ''}${i.by.kind === 'rule' ? ` by rule ${i.by.rule + 1}` : ''}`;

/**
 * What a rule for turning OSPF on would catch, before it is saved: its edit is made on a copy and read as any document.
 *
 * @param router  host name
 */
export function tryRule(p: Prediction, documents: readonly SourceDocument[], router: string, typed: TypedRule): RuleTrial {
  const index = p.routerIndex(router);
  const draft = new Draft(documents);
  const version = p.family === 6 ? 3 : 2;
  const process = draft
    .router(router, version)
    .processes()
    .find((x) => member(x, 'name') === typed.process && localName(String(member(x, 'type'))) === `ospfv${version}`);
  const failed = (why: string): RuleTrial => ({ edits: [], caught: [], missed: [], understood: undefined, problems: [why] });
  if (!process) return failed(`${router} has no process “${typed.process}” of OSPFv${version}.`);
  if (typed.match.trim() === '') return failed('Type what it is to match: a prefix, an interface name with *, or any.');
  const list = listIn(container(process, 'ietf-ospf:ospf'), 'gentle-compass:activation');
  list.splice(Math.min(Math.max(typed.at, 0), list.length), 0, {
    match: typed.match.trim(),
    'area-id': typed.area.trim(),
    ...(typed.passive && { passive: true }),
  });
  const edits = draft.edits();
  const read = designFrom(applyEdits(documents, edits), { named: p.design.now });
  const fresh = read.problems.filter((x) => x.file === designOf(p.design).routers[index]?.file).map((x) => `${x.message} ${x.remedy}`);
  const known = new Set(designFrom(documents, { named: p.design.now }).problems.map((x) => `${x.message} ${x.remedy}`));
  const problems = fresh.filter((x) => !known.has(x));
  const next = p.edited(read.design);
  const was = turnedOn(p, index).find((x) => x.process === typed.process);
  const now = turnedOn(next, next.routerIndex(router)).find((x) => x.process === typed.process);
  const rule = now?.rules[Math.min(Math.max(typed.at, 0), now.rules.length - 1)];
  const caught = (now?.interfaces ?? []).flatMap((i): Caught[] => {
    const old = was?.interfaces.find((x) => x.name === i.name);
    const by = i.by.kind === 'rule' && now?.rules[i.by.rule] === rule;
    return by
      ? [{ iface: i.name, addresses: i.addresses, before: partWords(old), after: `area ${i.area ?? ''}${i.passive ? ', passive' : ''}` }]
      : [];
  });
  return { edits: problems.length > 0 ? [] : edits, caught, missed: rule?.misses.map((m) => m.iface) ?? [], understood: rule?.words, problems };
}
