import * as v from 'valibot';
import type { AreaKind } from '../entry/parameters';
import { areaKinds } from '../entry/parameters';
import { prefix6Number } from '../documents/leaf-types';
import type { Prefix } from '../prefix/address';
import { parseTypedPrefix, type Ipv4Prefix } from '../prefix/ipv4';

/** An area of a campus as its designer counts it. */
export interface BlueprintArea {
  /** 1 to 4,294,967,295; the backbone is there anyway. */
  readonly id: number;
  /** Begins the names of its routers. */
  readonly name: string;
  readonly kind: AreaKind;
  readonly borders: number;
  /** Routers between border and access routers; 0: access routers hang on the border routers. */
  readonly distribution: number;
  readonly access: number;
  /** Cables of each access router upwards. */
  readonly uplinks: number;
  /** User LANs of each access router. */
  readonly lans: number;
  /** Hosts on each LAN. */
  readonly hosts: number;
  /** Room to leave, in percent of what is there. */
  readonly growth: number;
}

/** A campus in numbers: what is laid out from it stays editable by hand. */
export interface Blueprint {
  /** Everything lies in it. */
  readonly supernet: string;
  readonly core: number;
  readonly shape: 'ring' | 'mesh';
  /** Routers to the outside, each on two core routers. */
  readonly exits: number;
  readonly coreCost: number;
  readonly uplinkCost: number;
  /** Hello interval of links, s; dead intervals follow as four times that. */
  readonly hello: number;
  /** Room to leave in the backbone, in percent. */
  readonly growth: number;
  readonly areas: readonly BlueprintArea[];
  /** IPv6 prefix of the site: every router then speaks both families. Without it, or empty: IPv4 alone. */
  readonly ipv6?: string;
  /** Whether cables get a /127 each, or do with link-local addresses. */
  readonly ipv6Links?: 'link-local' | 'numbered';
  /** Blocks that were given out before, by area id, `0` the backbone: they stay where they still suffice. */
  readonly blocks?: Readonly<Record<string, string>>;
  /** Addresses that were given out before, by `ROUTER/INTERFACE`: they stay where their block does. */
  readonly given?: Readonly<Record<string, string>>;
  /** The same of IPv6. */
  readonly blocks6?: Readonly<Record<string, string>>;
  readonly given6?: Readonly<Record<string, string>>;
}

const count = (from: number, to: number) => {
  const words = `a whole number from ${from.toLocaleString('en-GB')} to ${to.toLocaleString('en-GB')}`;
  return v.pipe(v.number(words), v.integer(words), v.minValue(from, words), v.maxValue(to, words));
};
const percent = count(0, 1000);

const areaSchema = v.strictObject({
  id: count(1, 4_294_967_295),
  name: v.pipe(v.string(), v.regex(/^[a-z0-9][a-z0-9-]{0,30}$/i, 'a name of letters, digits and hyphens')),
  kind: v.picklist(areaKinds),
  borders: count(1, 8),
  distribution: count(0, 64),
  access: count(0, 500),
  uplinks: count(1, 8),
  lans: count(0, 64),
  hosts: count(1, 16_000_000),
  growth: percent,
});
const schema = v.strictObject({
  supernet: v.string(),
  core: count(1, 64),
  shape: v.picklist(['ring', 'mesh']),
  exits: count(0, 16),
  coreCost: count(1, 65_535),
  uplinkCost: count(1, 65_535),
  hello: count(1, 65_535),
  growth: percent,
  areas: v.array(areaSchema),
  blocks: v.exactOptional(v.record(v.string(), v.string())),
  given: v.exactOptional(v.record(v.string(), v.string())),
  ipv6: v.exactOptional(v.string()),
  ipv6Links: v.exactOptional(v.picklist(['link-local', 'numbered'])),
  blocks6: v.exactOptional(v.record(v.string(), v.string())),
  given6: v.exactOptional(v.record(v.string(), v.string())),
});

/** What does not fit in a blueprint: the field, as `areas[2].uplinks`, and why. */
export interface BlueprintFault {
  readonly field: string;
  readonly message: string;
}

/** The supernet of a blueprint, typed with length, mask or inverted mask. */
export function supernetOf(b: Blueprint): Ipv4Prefix | undefined {
  const p = parseTypedPrefix(b.supernet);
  return p && p.notation !== 'address' ? { bits: p.bits, length: p.length } : undefined;
}

/** The IPv6 prefix of the site; `undefined` where none is asked for, or it is none. */
export function sitePrefixOf(b: Blueprint): Prefix | undefined {
  return b.ipv6?.includes('/') ? prefix6Number.read(b.ipv6) : undefined;
}

/** Reads a blueprint as it is kept or typed; what does not fit is told field by field. */
export function readBlueprint(value: unknown): { blueprint?: Blueprint; faults: BlueprintFault[] } {
  const result = v.safeParse(schema, value);
  if (!result.success)
    return {
      faults: result.issues.map((i) => {
        const keys = (i.path ?? []).map((p) => p.key as string | number);
        const line = keys.find((k) => typeof k === 'number');
        return {
          field: keys
            .map((k) => (typeof k === 'number' ? `[${k}]` : `.${k}`))
            .join('')
            .replace(/^\./, ''),
          message: `${line === undefined ? '' : `Area line ${line + 1}: `}"${String(keys.at(-1) ?? 'the blueprint')}" is ${i.message.startsWith('a') ? i.message : 'not known here'}.`,
        };
      }),
    };
  const b = result.output;
  const faults: BlueprintFault[] = [];
  const tell = (field: string, message: string): void => {
    faults.push({ field, message });
  };
  if (!supernetOf(b)) tell('supernet', `"${b.supernet}" is no prefix: write it as 10.96.0.0/11.`);
  if (b.ipv6 && !sitePrefixOf(b)) tell('ipv6', `"${b.ipv6}" is no IPv6 prefix: write it as 2001:db8:40::/48.`);
  b.areas.forEach((a, n) => {
    if (b.areas.findIndex((x) => x.id === a.id) !== n) tell(`areas[${n}].id`, `Area ${a.id} stands twice.`);
    if (b.areas.findIndex((x) => x.name === a.name) !== n) tell(`areas[${n}].name`, `The name "${a.name}" stands twice.`);
    if (a.access + a.distribution === 0 && a.borders === 1)
      tell(`areas[${n}].access`, `${a.name} has nothing inside: give it an access router, or a second border router.`);
    const above = a.distribution > 0 ? a.distribution : a.borders;
    if (a.access > 0 && a.uplinks > above) tell(`areas[${n}].uplinks`, `${a.uplinks} uplinks need as many routers above; ${a.name} has ${above}.`);
  });
  return faults.length > 0 ? { faults } : { blueprint: b, faults };
}

/** A campus to begin with: four core routers in a ring, two exits, three areas. */
export const firstBlueprint: Blueprint = {
  supernet: '10.96.0.0/11',
  core: 4,
  shape: 'ring',
  exits: 2,
  coreCost: 10,
  uplinkCost: 20,
  hello: 10,
  growth: 50,
  areas: [
    { id: 10, name: 'kelp', kind: 'normal', borders: 2, distribution: 0, access: 4, uplinks: 2, lans: 2, hosts: 200, growth: 50 },
    { id: 20, name: 'drydock', kind: 'totally-stubby', borders: 2, distribution: 0, access: 6, uplinks: 2, lans: 2, hosts: 100, growth: 50 },
    { id: 30, name: 'tidepool', kind: 'nssa', borders: 2, distribution: 2, access: 6, uplinks: 2, lans: 1, hosts: 60, growth: 50 },
  ],
};
