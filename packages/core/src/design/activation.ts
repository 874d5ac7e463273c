import { plainArea, plainOspfInterface } from './plain';
import { holds } from '../prefix/address';
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

/** Interfaces turned on by rules have settings and areas of nobody's writing: made once for a process. */
const known = new WeakMap<OspfInstance, readonly ActiveInterface[]>();

/** All interfaces of a router that take part in one OSPF process; one listed under an area wins over every rule. */
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
  private area = 0;
  private place = 0;
  private byName: Map<string, { readonly area: Area; readonly settings: OspfInterface }> | undefined;
  /** Area of what was found last. */
  foundIn: Area | undefined;

  constructor(private readonly areas: readonly Area[]) {}

  /** What is listed under a name: most stand in the order in which they are asked for. */
  find(name: string): OspfInterface | undefined {
    if (!this.byName) {
      for (let a = this.areas[this.area]; a && this.place >= a.interfaces.length; a = this.areas[++this.area]) this.place = 0;
      const area = this.areas[this.area];
      const settings = area?.interfaces[this.place];
      if (settings?.name === name) {
        this.place++;
        this.foundIn = area;
        return settings;
      }
    }
    const hit = this.named().get(name);
    this.foundIn = hit?.area;
    return hit?.settings;
  }

  private named(): Map<string, { readonly area: Area; readonly settings: OspfInterface }> {
    if (!this.byName) {
      this.byName = new Map();
      for (const area of this.areas)
        for (const settings of area.interfaces) if (!this.byName.has(settings.name)) this.byName.set(settings.name, { area, settings });
    }
    return this.byName;
  }
}

/** Goes over the same one by one. Where no rule has a say, as nearly everywhere, nothing is made. */
export class ActiveWalk {
  private readonly listed: Listed;
  private readonly byRules: readonly ActiveInterface[] | undefined;
  private place = -1;
  private made: ActiveInterface | undefined;
  private found: OspfInterface | undefined;

  constructor(
    private readonly router: Router,
    instance: OspfInstance,
  ) {
    this.listed = new Listed(instance.areas);
    this.byRules = instance.activation.length === 0 ? undefined : activeInterfaces(router, instance);
  }

  /** Goes on to the next interface that takes part; false when there is none. */
  next(): boolean {
    const { interfaces } = this.router;
    if (this.byRules) {
      this.made = this.byRules[++this.place];
      return this.made !== undefined;
    }
    for (this.place++; this.place < interfaces.length; this.place++) {
      const iface = interfaces[this.place];
      if (!iface || iface.boundTo !== undefined) continue;
      this.found = this.listed.find(iface.name);
      if (this.found) return true;
    }
    return false;
  }

  /** Place of the interface in its router. */
  get index(): number {
    return this.made?.index ?? this.place;
  }

  get iface(): Interface | undefined {
    return this.router.interfaces[this.index];
  }

  get settings(): OspfInterface | undefined {
    return this.made?.settings ?? this.found;
  }

  get area(): Area | undefined {
    return this.made?.area ?? this.listed.foundIn;
  }

  get byRule(): number | undefined {
    return this.made?.byRule;
  }
}

function findActive(router: Router, instance: OspfInstance): ActiveInterface[] {
  const listed = new Listed(instance.areas);
  const out = new Array<ActiveInterface>(router.interfaces.length);
  let n = 0;
  for (let index = 0; index < router.interfaces.length; index++) {
    const iface = router.interfaces[index];
    if (!iface || iface.boundTo !== undefined) continue;
    const settings = listed.find(iface.name);
    const area = listed.foundIn;
    if (settings && area) out[n++] = { area, settings, iface, index, byRule: undefined };
    else if (instance.activation.length > 0) {
      const byRule = activatedByRule(router, instance, iface, index);
      if (byRule) out[n++] = byRule;
    }
  }
  if (n < out.length) out.length = n;
  return out;
}

function activatedByRule(router: Router, instance: OspfInstance, iface: Interface, index: number): ActiveInterface | undefined {
  const n = decidingRule(instance, iface);
  const rule = n === undefined ? undefined : instance.activation[n];
  if (n === undefined || rule === undefined) return undefined;
  const area = instance.areas.find((a) => a.id === rule.areaId) ?? plainArea(rule.areaId, router.defaults);
  return { area, iface, index, settings: plainOspfInterface(iface, router.defaults, rule.passive), byRule: n };
}
