import { backbone } from '../../design/design';
import { covers, formatPrefix, prefixOf, type Prefix } from '../../prefix/address';
import { purposeOf } from '../../design/pools';
import { setMember, type Json } from '../../design/draft';
import { cutInTopology } from '../cabling';
import { forget, renameElsewhere } from '../references';
import { renumber, subnetOf } from '../renumber';
import { areaText, Refusal, type End, type Site } from '../site';
import type { CommandKind } from './command';

const plural = (n: number, one: string): string => `${n} ${one}${n === 1 ? '' : 's'}`;

/** `join kelp-1/library area 10`: an interface takes part in OSPF. */
export const join: CommandKind = {
  verb: 'join',
  help: 'let an interface take part in OSPF, or in another area',
  form: 'join ROUTER/INTERFACE area AREA [cost COST] [passive]',
  example: 'join kelp-3/library area 10 passive',
  read(r) {
    const place = r.place();
    r.word('area', 'the area it joins');
    const area = r.area();
    let cost: number | undefined;
    let passive = false;
    r.options({
      cost: { help: 'cost out of it', read: () => (cost = r.number('cost', 1, 65_535)) },
      passive: { help: 'advertised, but no hellos', read: () => (passive = true) },
    });
    return (site) => {
      const draft = site.open(place.router);
      const entry: Json = draft.takeOut(place.iface) ?? { name: place.iface };
      if (passive) setMember(entry, 'passive', true);
      if (cost !== undefined) setMember(entry, 'cost', cost);
      site.enter(draft, area);
      draft.putInto(area, entry);
      return `${place.router}/${place.iface} joins ${areaText(area)}${passive ? ', passive' : ''}`;
    };
  },
};

/** `leave kelp-1/library`: an interface takes no part in OSPF any more. */
export const leave: CommandKind = {
  verb: 'leave',
  help: 'take an interface out of OSPF',
  form: 'leave ROUTER/INTERFACE',
  example: 'leave kelp-3/library',
  read(r) {
    const place = r.place();
    r.end();
    return (site) => {
      if (!site.open(place.router).takeOut(place.iface)) throw new Refusal(`${place.router}/${place.iface} is not listed in OSPF.`);
      return `${place.router}/${place.iface} leaves OSPF`;
    };
  },
};

/** The one area that a router moves out of. */
function movesFrom(site: Site, name: string, from: number | undefined): number {
  const own = site.areasOf(site.router(name)).map((a) => a.id);
  if (from !== undefined) {
    if (!own.includes(from)) throw new Refusal(`${name} has no part in ${areaText(from)}.`);
    return from;
  }
  const others = own.filter((a) => a !== backbone);
  if (own.length === 1 && own[0] !== undefined) return own[0];
  if (others.length === 1 && others[0] !== undefined) throw new Refusal(`${name} stands between areas: say what moves, as in "from ${others[0]}".`);
  throw new Refusal(
    own.length === 0 ? `${name} runs no OSPF.` : `${name} has parts in ${own.map(areaText).join(', ')}: say which moves, with "from".`,
  );
}

/** `move kelp-5 to 20`: routers go to another area with all that is theirs. */
export const move: CommandKind = {
  verb: 'move',
  help: 'move routers to another area',
  form: 'move ROUTER... to AREA [from AREA] [replan]',
  example: 'move kelp-5 to 20 replan',
  read(r) {
    const names = [r.router('a router to move')];
    while (r.peek() !== 'to') {
      if (r.done) throw r.fault('Expected "to" and an area, or another router.', [{ text: 'to', help: 'the area follows' }]);
      names.push(r.router('"to", or another router'));
    }
    r.word('to', 'the area follows');
    r.maybe('area');
    const area = r.area();
    let from: number | undefined;
    let replan = false;
    r.options({
      from: {
        help: 'the area that a border router moves out of',
        read: () => {
          r.maybe('area');
          from = r.area();
        },
      },
      replan: { help: 'with new addresses out of the new area; else they are kept', read: () => (replan = true) },
    });
    return (asked) => {
      // The other family comes along where it lies in the same area; where it does not, the two differ on purpose.
      const lies = (site: Site): boolean =>
        names.every(
          (n) =>
            site.areasOf(site.router(n)).some((x) => x.id === movesFrom(asked, n, from)) && !site.areasOf(site.router(n)).every((x) => x.id === area),
        );
      const sites = [
        asked,
        ...(asked.family === 4 && asked.other.design.routers.some((x) => asked.other.areasOf(x).length > 0) && lies(asked.other)
          ? [asked.other]
          : []),
      ];
      const counts = sites.map((site) => moveIn(site, names, area, site === asked ? from : movesFrom(asked, names[0] ?? '', from), replan));
      if (sites.length === 2) asked.notes.push('OSPFv3 goes the same way.');
      else if (asked.family === 4 && names.some((n) => asked.other.runs(n))) asked.notes.push('OSPFv3 stays where it is: its areas are others.');
      return `${names.join(', ')} to ${areaText(area)}, ${replan ? 'addresses planned anew' : 'addresses kept'} (${plural(Math.max(...counts), 'interface')})`;
    };
  },
};

/** Moves routers in one family; gives the number of interfaces. */
function moveIn(site: Site, names: readonly string[], area: number, from: number | undefined, replan: boolean): number {
  const moved = new Map<string, End>();
  const wires: End[][] = [];
  for (const name of names) {
    const old = movesFrom(site, name, from);
    if (old === area) throw new Refusal(`${name} is in ${areaText(area)} already.`);
    for (const i of site.router(name).interfaces) {
      if (site.ospfOf(site.router(name), i.name)?.area.id !== old) continue;
      const ends = site.endsOn({ router: name, iface: i.name }).filter((e) => site.ospfOf(site.router(e.router), e.iface)?.area.id === old);
      const fresh = ends.filter((e) => !moved.has(`${e.router}/${e.iface}`));
      for (const e of fresh) moved.set(`${e.router}/${e.iface}`, e);
      if (fresh.length > 0) wires.push(site.endsOn({ router: name, iface: i.name }));
    }
  }
  for (const e of moved.values()) {
    const draft = site.open(e.router);
    const entry = draft.takeOut(e.iface);
    site.enter(draft, area);
    draft.putInto(area, entry ?? { name: e.iface });
  }
  for (const name of new Set([...moved.values()].map((e) => e.router))) if (!names.includes(name)) site.noteWithoutBackbone(name);
  if (replan) for (const ends of wires) replanWire(site, ends, area);
  return moved.size;
}

/** Another subnet of the same kind for a wire, or address for a loopback, out of an area. */
function replanWire(site: Site, ends: readonly End[], area: number | undefined): Prefix | undefined {
  const [first] = ends;
  const iface = first && site.interfaceOf(first);
  if (!first || !iface || iface.addresses.length === 0) return undefined;
  const old = subnetOf(site, first);
  const purpose = purposeOf(old, iface.kind === 'loopback');
  const to = site.subnet(purpose, area, old.length);
  renumber(site, ends, to);
  return to;
}

/** `renumber kelp-1/to-kelp-3`: another subnet for a wire, all ends together. */
export const renumberWire: CommandKind = {
  verb: 'renumber',
  help: 'give a link, a LAN or a loopback another subnet',
  form: 'renumber ROUTER/INTERFACE [as PREFIX]',
  example: 'renumber kelp-1/to-kelp-3 as 10.97.2.4/31',
  read(r) {
    const place = r.place();
    let as: Prefix | undefined;
    r.options({ as: { help: 'the subnet; the next free one when not said', read: () => (as = r.prefix('subnet')) } });
    return (site) => {
      const ends = site.endsOn(place);
      const old = subnetOf(site, place);
      const area = site.ospfOf(site.router(place.router), place.iface)?.area.id;
      const loopback = site.interfaceOf(place)?.kind === 'loopback';
      site.addresses.release(old);
      let to: Prefix;
      if (as) {
        const p = as;
        const other = site.design.routers
          .flatMap((x) => x.interfaces.map((i) => ({ x, i })))
          .find(
            ({ x, i }) =>
              !ends.some((e) => e.router === x.name && e.iface === i.name) &&
              i.addresses.map((a) => prefixOf(a.bits, a.length)).some((a) => covers(a, p) || covers(p, a)),
          );
        if (other) {
          site.addresses.take(old, purposeOf(old, loopback), area);
          const free = site.addresses.next(purposeOf(p, loopback), area, p.length);
          throw new Refusal(
            `${formatPrefix(p)} overlaps what ${other.x.name}/${other.i.name} has.`,
            free ? [{ after: 'as', text: formatPrefix(free), help: `the next free subnet of ${free.from}` }] : [],
          );
        }
        to = p;
        renumber(site, ends, to);
      } else {
        site.addresses.take(old, purposeOf(old, loopback), area);
        to = replanWire(site, ends, area) ?? old;
      }
      return `${place.router}/${place.iface} from ${formatPrefix(old)} to ${formatPrefix(to)} (${plural(ends.length, 'end')})`;
    };
  },
};

/** `rename kelp-5 as kelp-9`: another host name. */
export const rename: CommandKind = {
  verb: 'rename',
  help: 'give a router another host name',
  form: 'rename ROUTER as NAME',
  example: 'rename kelp-5 as eelgrass-1',
  read(r) {
    const router = r.router();
    r.word('as', 'the new name follows');
    const name = r.newName('name', r.known.routers);
    r.end();
    return (site) => {
      site.draft.rename(router, name);
      renameElsewhere(site, router, name);
      if (site.design.routers.some((x) => x.interfaces.some((i) => i.name === `to-${router}`)))
        site.notes.push(`Interfaces called "to-${router}" keep their names.`);
      return `${router} is called ${name}`;
    };
  },
};

/** Interfaces that face a router over cables go with it. */
function removeRouter(site: Site, name: string): number {
  let faces = 0;
  for (const i of site.router(name).interfaces) {
    const ends = site.endsOn({ router: name, iface: i.name });
    const far = ends.length === 2 ? ends.find((e) => e.router !== name) : undefined;
    const p = far && site.interfaceOf(far)?.addresses[0];
    if (!far || (p && purposeOf(p, false) === 'lans') || !site.design.routers.some((r) => r.name === far.router)) continue;
    site.open(far.router).removeInterface(far.iface);
    faces++;
  }
  site.draft.removeRouter(name);
  forget(site, name);
  return faces;
}

/** `delete link kelp-1 kelp-3`: takes away routers, links, LANs and interfaces. */
export const remove: CommandKind = {
  verb: 'delete',
  help: 'take away routers, a link, a LAN or an interface',
  form: 'delete router ROUTER... | link ROUTER ROUTER | lan ROUTER/INTERFACE | interface ROUTER/INTERFACE',
  example: 'delete link kelp-1 kelp-3',
  read(r) {
    const kind = r.oneOf(
      [
        { text: 'router', help: 'routers, and the ends that face them' },
        { text: 'link', help: 'both ends of a cable' },
        { text: 'lan', help: 'every interface on a LAN' },
        { text: 'interface', help: 'one interface' },
      ],
      'what is deleted',
    );
    if (kind === 'router') {
      const names = [r.router()];
      while (!r.done) names.push(r.router('another router'));
      r.rest = r.known.routers.filter((n) => !names.includes(n)).map((text) => ({ text, help: 'router' }));
      return (site) => {
        const faces = [...new Set(names)].reduce((n, name) => n + removeRouter(site, name), 0);
        if (faces > 0)
          site.notes.push(
            `${plural(faces, 'interface')} that faced ${names.length === 1 ? 'it' : 'them'} over cables ${faces === 1 ? 'goes' : 'go'} too.`,
          );
        return `${names.join(', ')} deleted`;
      };
    }
    if (kind === 'link') {
      const a = r.router('the first router');
      const b = r.router('the second router');
      r.end();
      return (site) => {
        const wires = site.wiresBetween(a, b).filter((w) => site.endsOn(w.a).length === 2);
        const [wire] = wires;
        if (!wire) throw new Refusal(`No cable joins ${a} and ${b}.`);
        if (wires.length > 1)
          throw new Refusal(
            `${plural(wires.length, 'cable')} join ${a} and ${b}: delete the interfaces one by one (${wires.map((w) => `${a}/${w.a.iface}`).join(', ')}).`,
          );
        for (const end of [wire.a, wire.b]) site.open(end.router).removeInterface(end.iface);
        cutInTopology(site, [wire.a, wire.b]);
        return `Link between ${a} and ${b} deleted`;
      };
    }
    const place = r.place();
    r.end();
    return (site) => {
      const ends = kind === 'lan' ? site.endsOn(place) : [place];
      for (const e of ends) site.open(e.router).removeInterface(e.iface);
      cutInTopology(site, ends);
      return kind === 'lan'
        ? `LAN of ${place.router}/${place.iface} deleted (${plural(ends.length, 'interface')})`
        : `${place.router}/${place.iface} deleted`;
    };
  },
};
