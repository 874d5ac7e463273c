import { deadFor, originOf } from '../../design/defaults';
import type { Refusal, RefusalKind } from '../../adjacency/hello-match';
import { refusesMtu, type Pairing } from '../../adjacency/settle';
import type { Port } from '../../adjacency/speakers';
import { Draft as Drafting } from '../../design/draft';
import type { Edit } from '../../design/edit';
import { refusalNames, refusalValue } from '../../evidence/neighbor-words';
import { formatAddress } from '../../prefix/address';
import { ownId } from './domain';
import type { Check, CheckContext } from '../context';
import type { Draft, Evidence, Repair } from '../finding';

/** The leaf of RFC 9129 or RFC 8344 that decides, where there is one. */
const leaf: Partial<Record<RefusalKind, string>> = {
  passive: 'passive',
  disabled: 'enabled',
  'hello-interval': 'hello-interval',
  'dead-interval': 'dead-interval',
  authentication: 'authentication',
  area: 'area-id',
  'area-type': 'area-type',
  'instance-id': 'instance-id',
};

function evidence(c: CheckContext, p: Port, kind: RefusalKind, value: string | number): Evidence {
  const name = leaf[kind];
  const ofArea = kind === 'area-type' || kind === 'area';
  const origin =
    kind === 'area'
      ? 'written'
      : ofArea
        ? originOf('area-type', p.area.written, p.area.given)
        : originOf(name ?? '', p.settings.written, p.settings.given);
  return { router: c.routerName(p.routerIndex), what: refusalNames[kind], value: refusalValue(kind, value), origin };
}

/** Repairs that bring one side to the other's value, one for each side. */
function repairsFor(c: CheckContext, kind: RefusalKind, a: Port, b: Port): Repair[] {
  const one = (p: Port, other: Port): Repair[] => {
    const router = c.routerOf(p);
    const name = router.name;
    const of = (title: string, edits: Repair['edits']): Repair[] => (edits.length === 0 ? [] : [{ title, router: name, edits }]);
    switch (kind) {
      case 'hello-interval':
        return of(`Set the hello interval of ${name} to ${other.settings.hello} s`, [
          ...c.portEdit(p, ['hello-interval'], other.settings.hello),
          // A dead interval that nobody writes follows the hello interval: where it agrees now it is to agree then.
          ...(followsHello(p) && p.settings.dead === other.settings.dead && deadFor(other.settings.hello) !== other.settings.dead
            ? c.portEdit(p, ['dead-interval'], other.settings.dead)
            : []),
        ]);
      case 'dead-interval':
        return of(`Set the dead interval of ${name} to ${other.settings.dead} s`, c.portEdit(p, ['dead-interval'], other.settings.dead));
      case 'instance-id':
        return of(
          `Set the instance id of ${p.iface.name} in ${name} to ${other.settings.instanceId}`,
          c.portEdit(p, ['instance-id'], other.settings.instanceId),
        );
      case 'passive':
        return p.settings.passive ? of(`Let ${name} send hellos on ${p.iface.name}`, c.portEdit(p, ['passive'], false)) : [];
      case 'disabled':
        return p.settings.enabled ? [] : of(`Switch OSPF on at ${p.iface.name} of ${name}`, c.portEdit(p, ['enabled'], true));
      case 'area-type': {
        if (p.area.at.length === 0 || other.area.id === 0) return [];
        const identity = { normal: undefined, stub: 'ietf-ospf:stub-area', nssa: 'ietf-ospf:nssa-area' }[other.area.type];
        const type = other.area.type === 'nssa' ? 'an NSSA' : other.area.type === 'stub' ? 'a stub area' : 'a normal area';
        return of(`Make area ${formatAddress(p.area.id)} ${type} in ${name}`, [c.edit(router, p.area.at, ['area-type'], identity)]);
      }
      case 'authentication':
        return other.settings.authentication.required && !p.settings.authentication.required && p.settings.authentication.keys.length > 0
          ? of(`Switch authentication on at ${p.iface.name} of ${name}`, c.portEdit(p, ['gentle-compass:authentication-required'], true))
          : [];
      case 'mask': {
        if (p.iface.addresses.length === 0) return [];
        return of(`Set the prefix length of ${p.iface.name} in ${name} to /${other.length}`, [
          c.edit(router, p.iface.at, ['ietf-ip:ipv4', 'address'], withLength(c, p, other.length)),
        ]);
      }
      case 'area':
        return of(`Move ${p.iface.name} of ${name} into area ${formatAddress(other.area.id)}`, movedInto(c, p, other.area.id));
      case 'router-id': {
        const speaker = c.prediction.adjacencies.speakers[p.speaker];
        return speaker ? [...ownId(c, speaker)] : [];
      }
      // What these ask for is a decision about the layout, not an edit of one line.
      case 'subnet':
      case 'interface-down':
      case 'no-static-neighbor':
        return [];
    }
  };
  return [...one(b, a), ...one(a, b)];
}

/** Whether the dead interval of a port is four times its hello interval because nothing says otherwise. */
const followsHello = (p: Port): boolean => !p.settings.written.has('dead-interval') && p.settings.dead === deadFor(p.settings.hello);

/** An interface listed under one area goes with all that is written of it to another; an area that is left empty goes too. */
function movedInto(c: CheckContext, p: Port, area: number): Edit[] {
  if (p.settings.at.length === 0) return [];
  const draft = new Drafting(c.documents);
  const router = draft.router(c.routerOf(p).name, c.family === 6 ? 3 : 2);
  const entry = router.takeOut(p.iface.name);
  if (!entry) return [];
  router.putInto(area, entry);
  return draft.edits();
}

/** Kinds whose repair moves what others write: it stands alone. */
const standsAlone: ReadonlySet<RefusalKind> = new Set(['area']);

/** Kinds that each side mends for itself: both repairs are needed where there are two. */
const eachForItself: ReadonlySet<RefusalKind> = new Set(['passive', 'disabled', 'authentication']);

/** The MTU that would keep a pair in ExStart as soon as it hears each other: what the smaller side is to be set to. */
function hiddenMtu(c: CheckContext, a: Port, b: Port): { readonly evidence: Evidence[]; readonly repair: Repair } | undefined {
  const small = refusesMtu(a, b) ? a : refusesMtu(b, a) ? b : undefined;
  if (!small) return undefined;
  const router = c.routerOf(small);
  const { mtu } = (small === a ? b : a).iface;
  const evidence = [a, b].map(({ routerIndex, iface }): Evidence => ({
    router: c.routerName(routerIndex),
    what: 'MTU',
    value: `${iface.mtu}`,
    origin: originOf('mtu', iface.written, iface.given),
  }));
  const title = `Set the MTU of ${small.iface.name} in ${router.name} to ${mtu}`;
  return { evidence, repair: { title, router: router.name, edits: [c.edit(router, small.iface.at, [c.addressNode, 'mtu'], mtu)] } };
}

/** One thing that differs, with its ways to mend it. */
interface Differing {
  readonly word: string;
  readonly repairs: readonly Repair[];
  /** Each side mends it for itself: where there are two repairs both are needed. */
  readonly both: boolean;
  /** It is not made together with others. */
  readonly alone?: boolean;
}

/** Where several things differ: all of them in one go, if each can be mended by an edit, then one by one. */
function allRepairs(each: readonly Differing[]): Repair[] {
  const single = each.flatMap((x) => x.repairs);
  if (each.length === 1 || each.some((x) => x.repairs.length === 0 || x.alone)) return single;
  const chosen = each.flatMap((x) => (x.both ? x.repairs : x.repairs.slice(0, 1)));
  const routers = [...new Set(chosen.map((r) => r.router))].join(' and ');
  const title = `Mend all of it in ${routers}: ${each.map((x) => x.word).join(', ')}`;
  return [{ title, router: routers, edits: chosen.flatMap((r) => r.edits) }, ...single];
}

/** The interface's address list as written, with another prefix length on its first address. */
function withLength(c: CheckContext, p: Port, length: number): Repair['edits'][number]['to'] {
  const { from } = c.edit(c.routerOf(p), p.iface.at, ['ietf-ip:ipv4', 'address'], undefined);
  const first = formatAddress(p.iface.addresses[0]?.bits ?? 0);
  return (from as readonly Record<string, string | number>[]).map((x) =>
    x.ip === first ? Object.fromEntries([...Object.entries(x).filter(([leaf]) => leaf !== 'netmask'), ['prefix-length', length]]) : x,
  );
}

/** Faults in both views of a pair, the first of them deciding; ports that are down by failure are no fault. */
function faults(pair: Pairing): Refusal[] {
  const all = [...pair.a.refused];
  for (const r of pair.b.refused) if (!all.some((x) => x.kind === r.kind)) all.push({ ...r, ours: r.theirs, theirs: r.ours });
  return all;
}

function passiveWords(c: CheckContext, a: Port, b: Port): string {
  const silent = [a, b].filter((p) => p.settings.passive).map((p) => `${c.routerName(p.routerIndex)} is passive on ${p.iface.name}`);
  return `${c.routerName(a.routerIndex)} and ${c.routerName(b.routerIndex)} stay apart: ${silent.join(', ')}.`;
}

const alsoWords = (more: readonly string[]): string => (more.length === 0 ? '' : `; ${more.join(' and ')} differ${more.length === 1 ? 's' : ''} too`);

function draft(c: CheckContext, pair: Pairing): Draft | undefined {
  const { port: a, peer: b } = pair.a;
  const found = faults(pair).filter((r) => r.kind !== 'interface-down' && r.kind !== 'no-static-neighbor');
  const first = found.find((r) => r.kind !== 'subnet' || found.length === 1) ?? found[0];
  if (!first || found.length < faults(pair).length || !(a.up || b.up)) return undefined;
  const na = c.routerName(a.routerIndex);
  const nb = c.routerName(b.routerIndex);
  // A LAN of users with both gateways passive is meant; a cable has a check of its own (both-passive).
  if (first.kind === 'passive' && a.settings.passive && b.settings.passive) return undefined;
  const name = leaf[first.kind];
  const mtu = hiddenMtu(c, a, b);
  return {
    rule: first.kind === 'router-id' ? 'duplicate-router-id' : first.kind === 'mask' || first.kind === 'subnet' ? 'mask' : first.kind,
    severity: first.kind === 'passive' ? 'warning' : 'error',
    where: [c.portPlace(a, name), c.portPlace(b, name)],
    message:
      first.kind === 'passive'
        ? passiveWords(c, a, b)
        : `${na} and ${nb} stay apart: ${refusalNames[first.kind]} ${refusalValue(first.kind, first.ours)} against ${refusalValue(first.kind, first.theirs)}${alsoWords([...found.slice(1).map((r) => refusalNames[r.kind]), ...(mtu ? ['MTU'] : [])])}.`,
    seen:
      first.kind === 'passive'
        ? 'No hello leaves the passive side; no neighbour is listed.'
        : 'Hellos arrive and are thrown away; no neighbour is listed on either side.',
    evidence: [...found.flatMap((r) => [evidence(c, a, r.kind, r.ours), evidence(c, b, r.kind, r.theirs)]), ...(mtu?.evidence ?? [])],
    repairs: allRepairs([
      ...found.map((r) => ({
        word: refusalNames[r.kind],
        repairs: repairsFor(c, r.kind, a, b),
        both: eachForItself.has(r.kind),
        alone: standsAlone.has(r.kind),
      })),
      ...(mtu ? [{ word: 'MTU', repairs: [mtu.repair], both: true }] : []),
    ]),
    rfc: first.rfc,
  };
}

/** Two routers on one wire that refuse each other's hellos (RFC 2328 §8.2, §10.5). */
export const neighborsApart: Check = {
  rule: 'neighbours-apart',
  about: 'Two routers on one segment refuse each other’s hellos: area, hello or dead interval, mask, authentication, area type, passive, router id.',
  run: (c) => c.prediction.adjacencies.pairs.flatMap((p) => draft(c, p) ?? []),
};
