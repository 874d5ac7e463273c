import type { SourceDocument } from '../documents/documents';
import { Campus } from './campus';
import { mirrored } from './mirror';

type Json = Record<string, unknown>;
interface OspfTree {
  areas: { area: { 'area-id': string; interfaces: { interface: Json[] } }[] };
}

/** One router of a network with both families, open to change. */
export interface DualRouter {
  /** The interface with its addresses. */
  iface(name: string): { [member: string]: unknown; 'ietf-ip:ipv6'?: { address: { ip: string; 'prefix-length': number }[] } };
  /** The process of a version. */
  readonly two: OspfTree;
  readonly three: OspfTree;
  /** An interface in the process of version 3. */
  port(name: string): Json;
}

function openRouter(document: SourceDocument): DualRouter {
  const tree = document.tree as {
    'ietf-interfaces:interfaces': { interface: Json[] };
    'ietf-routing:routing': { 'control-plane-protocols': { 'control-plane-protocol': { type: string; ospf: OspfTree }[] } };
  };
  const process = (version: string): OspfTree => {
    const found = tree['ietf-routing:routing']['control-plane-protocols']['control-plane-protocol'].find((p) => p.type.endsWith(version));
    if (!found) throw new RangeError(`no ${version}`);
    return found.ospf;
  };
  const one = <T>(x: T | undefined): T => {
    if (x === undefined) throw new RangeError('nothing there');
    return x;
  };
  const three = process('ospfv3');
  return {
    iface: (name) => one(tree['ietf-interfaces:interfaces'].interface.find((i) => i['name'] === name)),
    two: process('ospfv2'),
    three,
    port: (name) => one(three.areas.area.flatMap((a) => a.interfaces.interface).find((i) => i['name'] === name)),
  };
}

class DualCampus extends Campus {
  constructor(
    private readonly four: Campus,
    private readonly change: Readonly<Record<string, (router: DualRouter) => void>>,
  ) {
    super();
  }

  override documents(): SourceDocument[] {
    const out = mirrored(this.four.documents());
    for (const [name, change] of Object.entries(this.change)) {
      const document = out.find((d) => d.file === `${name}.json`);
      if (document) change(openRouter(document));
    }
    return out;
  }
}

/** A network with IPv6 and OSPFv3 like IPv4 and OSPFv2, and changes of its routers by name. */
export const dual = (four: Campus, change: Readonly<Record<string, (router: DualRouter) => void>> = {}): Campus => new DualCampus(four, change);
