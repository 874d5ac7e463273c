import { plainArea, plainOspfInterface } from './plain';
import { holds } from '../prefix/ipv4';
import { nameFits } from './settings';
import type { ActivationRule, Area, Interface, OspfInstance, OspfInterface, Router } from './design';

/** An interface that takes part in OSPF, and by which line. */
export interface ActiveInterface {
  readonly area: Area;
  readonly iface: Interface;
  /** Place of the interface in its router. */
  readonly index: number;
  readonly settings: OspfInterface;
  /** The rule that turned it on, by its place in the list; `undefined` when it is listed under its area. */
  readonly byRule: number | undefined;
}

/** True when the rule takes the interface: by one of its addresses, by its name, or any. */
export function ruleTakes(rule: ActivationRule, i: Interface): boolean {
  const m = rule.match;
  if (m.kind === 'any') return true;
  if (m.kind === 'prefix') return i.addresses.some((a) => holds(m.prefix, a.bits));
  return nameFits(m.pattern, i.name);
}

/** How specific a rule is for longest-match order: names count as /32, `any` as /0. */
const specificity = (r: ActivationRule): number => (r.match.kind === 'prefix' ? r.match.prefix.length : r.match.kind === 'name' ? 32 : 0);

/** The rule that decides over an interface, by its place in the list (`first-match` or `longest-match`). */
export function decidingRule(instance: OspfInstance, i: Interface): number | undefined {
  let best: number | undefined;
  instance.activation.forEach((rule, n) => {
    if (!ruleTakes(rule, i)) return;
    const current = best === undefined ? undefined : instance.activation[best];
    if (current === undefined) best = n;
    else if (instance.activationOrder === 'longest-match' && specificity(rule) > specificity(current)) best = n;
  });
  return best;
}

const known = new WeakMap<OspfInstance, readonly ActiveInterface[]>();

/** All interfaces of a router that take part in one OSPF process; one listed under an area wins over every rule. Found once. */
export function activeInterfaces(router: Router, instance: OspfInstance): readonly ActiveInterface[] {
  let out = known.get(instance);
  if (!out) {
    out = findActive(router, instance);
    known.set(instance, out);
  }
  return out;
}

/** Interfaces listed under areas by name; where a name stands twice the first counts. */
class Listed {
  private readonly settings: OspfInterface[] = [];
  private readonly areas: Area[] = [];
  private next = 0;
  private byName: Map<string, number> | undefined;

  constructor(instance: OspfInstance) {
    for (const area of instance.areas)
      for (const settings of area.interfaces) {
        this.settings.push(settings);
        this.areas.push(area);
      }
  }

  /** Place of an interface in the lists, -1 without: most stand in the order in which they are asked for. */
  find(name: string): number {
    if (!this.byName && this.settings[this.next]?.name === name) return this.next++;
    if (!this.byName) {
      this.byName = new Map();
      for (const [i, s] of this.settings.entries()) if (!this.byName.has(s.name)) this.byName.set(s.name, i);
    }
    return this.byName.get(name) ?? -1;
  }

  at(place: number): { readonly area: Area; readonly settings: OspfInterface } | undefined {
    const [area, settings] = [this.areas[place], this.settings[place]];
    return area && settings ? { area, settings } : undefined;
  }
}

function findActive(router: Router, instance: OspfInstance): ActiveInterface[] {
  const listed = new Listed(instance);
  const out: ActiveInterface[] = [];
  router.interfaces.forEach((iface, index) => {
    if (iface.boundTo !== undefined) return;
    const hit = listed.at(listed.find(iface.name));
    if (hit) {
      out.push({ area: hit.area, settings: hit.settings, iface, index, byRule: undefined });
      return;
    }
    if (instance.activation.length === 0) return;
    const n = decidingRule(instance, iface);
    const rule = n === undefined ? undefined : instance.activation[n];
    if (n === undefined || rule === undefined) return;
    const area = instance.areas.find((a) => a.id === rule.areaId) ?? plainArea(rule.areaId, router.defaults);
    out.push({ area, iface, index, settings: plainOspfInterface(iface, router.defaults, rule.passive), byRule: n });
  });
  return out;
}
