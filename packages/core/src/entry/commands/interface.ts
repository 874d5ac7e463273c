import { formatAddress, prefixOf } from '../../prefix/address';
import type { Ipv4 } from '../../prefix/ipv4';
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
    let typed: { readonly ip: Ipv4; readonly length: number } | undefined;
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
      const draft = site.draft.router(place.router);
      const given =
        typed ??
        (loopback ? { ip: site.subnet('loopbacks', area ?? site.areasOf(site.router(place.router))[0]?.id ?? 0, 32).bits, length: 32 } : undefined);
      if (typed) {
        const others = othersThan(site, place);
        refuseWhatClashes(site, place, typed.ip, typed.length, others, loopback);
        tellEnds(site, place, prefixOf(typed.ip, typed.length), others);
      }
      const type = loopback ? 'iana-if-type:softwareLoopback' : carrier === undefined ? undefined : 'iana-if-type:l2vlan';
      draft.addInterface(place.iface, given, {
        ...(type === undefined ? {} : { type }),
        ...(carrier === undefined ? {} : { 'gentle-compass:carried-by': [carrier] }),
      });
      if (area !== undefined) {
        site.enter(draft, area);
        const entry: Json = { name: place.iface, ...(passive || loopback ? { passive: true } : {}), ...(cost === undefined ? {} : { cost }) };
        draft.putInto(area, entry);
      }
      return inWords(site, `${place.router}/${place.iface}`, given, { loopback, carrier, area });
    };
  },
};

function inWords(
  site: Site,
  place: string,
  given: { readonly ip: Ipv4; readonly length: number } | undefined,
  { loopback, carrier, area }: { readonly loopback: boolean; readonly carrier: string | undefined; readonly area: number | undefined },
): string {
  if (!given && area !== undefined)
    site.notes.push('It has no address: OSPF speaks there only as an unnumbered cable, where the topology joins two such ends.');
  const kind = loopback ? 'Loopback' : 'Interface';
  const address = given ? ` with ${formatAddress(given.ip)}/${given.length}` : ' without an address';
  return `${kind} ${place}${address}${carrier === undefined ? '' : `, carried by ${carrier}`}${area === undefined ? '' : `, in ${areaText(area)}`}`;
}
