import { formatAddress, prefixOf, type Address } from '../../prefix/address';
import type { Json } from '../../design/draft';
import { areaText, Refusal, type Site } from '../site';
import { othersThan, refuseWhatClashes, tellEnds } from './address';
import type { CommandKind } from './command';

/** `interface kelp-3/vlan20 over to-kelp-1 as 10.97.20.1/24 area 10`: one interface of one router. */
export const addInterface: CommandKind = {
  verb: 'interface',
  help: 'add an interface, a loopback, or a virtual one with what carries it',
  form: 'interface ROUTER/NAME [as ADDRESS/LENGTH] [loopback] [over INTERFACE] [area AREA] [cost COST] [passive]',
  example: 'interface kelp-3/vlan20 over library as 10.97.20.1/24 area 10 passive',
  read(r) {
    const place = r.newPlace();
    let typed: { readonly ip: Address; readonly length: number } | undefined;
    let loopback = false;
    let carrier: string | undefined;
    let area: number | undefined;
    let cost: number | undefined;
    let passive = false;
    r.options({
      as: { help: 'its address, with length or mask; of a loopback the next free one when not said', read: () => (typed = r.hostAddress('address')) },
      loopback: { help: 'a loopback', read: () => (loopback = true) },
      over: {
        help: 'a virtual interface (VLAN, tunnel): up only while the one that carries it is',
        read: () => (carrier = r.interfaceOf(place.router, 'the interface that carries it')),
      },
      area: { help: 'takes part in OSPF there', read: () => (area = r.area()) },
      cost: { help: 'cost out of it', read: () => (cost = r.number('cost', 1, 65_535)) },
      passive: { help: 'advertised, but nobody speaks OSPF on it', read: () => (passive = true) },
    });
    return (site) => {
      if (loopback && carrier !== undefined) throw new Refusal('A loopback is carried by nothing: leave "over" out.');
      if (area === undefined && (cost !== undefined || passive)) throw new Refusal('"cost" and "passive" need an area: say it, as in "area 10".');
      const type = loopback ? 'iana-if-type:softwareLoopback' : carrier === undefined ? undefined : 'iana-if-type:l2vlan';
      const more = { ...(type === undefined ? {} : { type }), ...(carrier === undefined ? {} : { 'gentle-compass:carried-by': [carrier] }) };
      // With an address it is about that family; a loopback without one gets one of each that its router runs.
      const sites = typed ? [site] : site.acting([place.router]);
      const given: { readonly ip: Address; readonly length: number }[] = [];
      sites.forEach((s, n) => {
        const draft = s.open(place.router);
        const own = typed ?? (loopback ? nextLoopback(s, place.router, area) : undefined);
        if (typed) {
          const others = othersThan(s, place);
          refuseWhatClashes(s, place, typed.ip, typed.length, others, loopback);
          tellEnds(s, place, prefixOf(typed.ip, typed.length), others);
        }
        if (own) given.push(own);
        if (n === 0) draft.addInterface(place.iface, own, more);
        else draft.giveFamily(place.iface, own);
        if (area === undefined) return;
        s.enter(draft, area);
        draft.putInto(area, {
          name: place.iface,
          ...(passive || loopback ? { passive: true } : {}),
          ...(cost === undefined ? {} : { cost }),
        } satisfies Json);
      });
      if (typed && area !== undefined && site.other.runs(place.router))
        site.notes.push(
          `OSPFv${site.other.version} has no part on it: give it an IPv${site.other.family} address with "address ${place.router}/${place.iface} as ADDRESS/LENGTH", and let it join with "${site.family === 4 ? 'v3 ' : ''}join ${place.router}/${place.iface} area AREA".`,
        );
      return inWords(site, `${place.router}/${place.iface}`, given, { loopback, carrier, area });
    };
  },
};

function nextLoopback(site: Site, router: string, area: number | undefined): { readonly ip: Address; readonly length: number } {
  const { bits, length } = site.subnet('loopbacks', area ?? site.areasOf(site.router(router))[0]?.id ?? 0);
  return { ip: bits, length };
}

function inWords(
  site: Site,
  place: string,
  given: readonly { readonly ip: Address; readonly length: number }[],
  { loopback, carrier, area }: { readonly loopback: boolean; readonly carrier: string | undefined; readonly area: number | undefined },
): string {
  if (given.length === 0 && area !== undefined && site.runs(place.slice(0, place.indexOf('/'))))
    site.notes.push('It has no address: OSPF speaks there only as an unnumbered cable, where the topology joins two such ends.');
  const kind = loopback ? 'Loopback' : 'Interface';
  const address = given.length > 0 ? ` with ${given.map((x) => `${formatAddress(x.ip)}/${x.length}`).join(' and ')}` : ' without an address';
  return `${kind} ${place}${address}${carrier === undefined ? '' : `, carried by ${carrier}`}${area === undefined ? '' : `, in ${areaText(area)}`}`;
}
