import { editsBetween, type Edit } from './edit';
import { areaId } from '../documents/leaf-types';
import { localName } from '../documents/shape';
import { documentKind, hostNameOf, type SourceDocument } from '../documents/documents';
import { formatAddress, isSix, parseAddress, type Address } from '../prefix/address';

export type Json = Record<string, unknown>;

const isObject = (x: unknown): x is Json => typeof x === 'object' && x !== null && !Array.isArray(x);

/** Name under which a node holds a member, with or without its module prefix; `undefined` when it holds none. */
export const memberOf = (node: Json, name: string): string | undefined =>
  isObject(node) ? Object.keys(node).find((k) => localName(k) === localName(name)) : undefined;

/** A document writes something else where a node or list must stand: nothing is changed, so that nothing is lost. */
export class Malformed extends Error {
  constructor(name: string, wanted: string) {
    super(`"${localName(name)}" is no ${wanted} in a document that this would change: correct it there first.`);
  }
}

/** A member of a node, by its local name. */
export function member(node: Json, name: string): unknown {
  const key = memberOf(node, name);
  return key === undefined ? undefined : node[key];
}

/** Sets a member under the name that the document uses already, else under the given one; `undefined` takes it out. */
export function setMember(node: Json, name: string, value: unknown): void {
  const key = memberOf(node, name) ?? name;
  if (value === undefined) Reflect.deleteProperty(node, key);
  else node[key] = value;
}

/** A container below a node, made when it is not there. */
export function container(node: Json, name: string): Json {
  const known = member(node, name);
  if (isObject(known)) return known;
  if (known !== undefined && known !== null) throw new Malformed(name, 'node');
  const made: Json = {};
  setMember(node, name, made);
  return made;
}

/** A list below a node, made when it is not there. */
export function listIn(node: Json, name: string): Json[] {
  const known = member(node, name);
  if (Array.isArray(known)) return known as Json[];
  if (known !== undefined && known !== null) throw new Malformed(name, 'list');
  const made: Json[] = [];
  setMember(node, name, made);
  return made;
}

const listOf = (node: Json | undefined, name: string): Json[] => {
  const list = node && member(node, name);
  return Array.isArray(list) ? (list as unknown[]).filter(isObject) : [];
};

const childOf = (node: Json | undefined, name: string): Json | undefined => {
  const child = node && member(node, name);
  return isObject(child) ? child : undefined;
};

/** Where an interface holds the addresses of a family (RFC 8344). */
export const ipOf = (version: 2 | 3): 'ietf-ip:ipv4' | 'ietf-ip:ipv6' => (version === 2 ? 'ietf-ip:ipv4' : 'ietf-ip:ipv6');

/** Area id of an area entry, as a number. */
const idOf = (area: Json): number | undefined => areaId.read(member(area, 'area-id'));

/** One router document while it is being changed. */
export class RouterDraft {
  constructor(
    readonly file: string,
    readonly tree: Json,
    /** The version of the protocol that changes go to. */
    readonly version: 2 | 3 = 2,
  ) {}

  get name(): string {
    return hostNameOf(this.tree) ?? '';
  }

  set name(to: string) {
    setMember(container(this.tree, 'ietf-system:system'), 'hostname', to);
  }

  get interfaces(): Json[] {
    return listIn(container(this.tree, 'ietf-interfaces:interfaces'), 'interface');
  }

  iface(name: string): Json | undefined {
    return this.interfaces.find((i) => member(i, 'name') === name);
  }

  /** Adds an interface with one address of the version's family, or without any. */
  addInterface(name: string, address: { ip: Address; length: number } | undefined, more: Json = {}, mtu?: unknown): void {
    this.interfaces.push({ name, type: 'iana-if-type:ethernetCsmacd', ...more });
    this.giveFamily(name, address, mtu);
  }

  /** Lets an interface speak the version's family of addresses, with one more address of it, or without any. */
  giveFamily(name: string, address?: { ip: Address; length: number }, mtu?: unknown): void {
    const node = this.iface(name);
    if (!node) throw new RangeError(`no interface ${name}`);
    const ip = container(node, ipOf(this.version));
    if (mtu !== undefined) setMember(ip, 'mtu', mtu);
    if (address) listIn(ip, 'address').push({ ip: formatAddress(address.ip), 'prefix-length': address.length });
  }

  /** Addresses that an interface writes of the version's family. */
  addressesOf(name: string): Json[] {
    return listOf(childOf(this.iface(name), ipOf(this.version)), 'address');
  }

  /** Takes addresses of the version's family from an interface; the family stays. */
  dropAddresses(name: string, which: (ip: Address | undefined) => boolean): void {
    const ip = childOf(this.iface(name), ipOf(this.version));
    if (!ip) return;
    const left = listOf(ip, 'address').filter((a) => !which(parseAddress(String(member(a, 'ip')))));
    setMember(ip, 'address', left.length > 0 ? left : undefined);
  }

  /** Takes an interface away, out of every process too. */
  removeInterface(name: string): void {
    const { interfaces } = this;
    const n = interfaces.findIndex((i) => member(i, 'name') === name);
    if (n >= 0) interfaces.splice(n, 1);
    for (const version of [2, 3] as const) new RouterDraft(this.file, this.tree, version).takeOut(name);
    for (const { list, entry } of this.everyOspfInterface(name)) list.splice(list.indexOf(entry), 1);
  }

  /** A name for a new interface that the router does not use yet. */
  freeName(wanted: string): string {
    let name = wanted;
    for (let n = 2; this.iface(name); n++) name = `${wanted}-${n}`;
    return name;
  }

  private get protocols(): Json[] {
    return listIn(container(container(this.tree, 'ietf-routing:routing'), 'control-plane-protocols'), 'control-plane-protocol');
  }

  /** All OSPF processes, of both versions. */
  processes(): Json[] {
    const routing = childOf(childOf(this.tree, 'ietf-routing:routing'), 'control-plane-protocols');
    return listOf(routing, 'control-plane-protocol').filter((p) => /^ospfv[23]$/.test(localName(String(member(p, 'type')))));
  }

  /** Puts a process or another source of routes beside those that are there. */
  addProcess(entry: Json): void {
    this.protocols.push(entry);
  }

  /** The process that changes go to: the first by name of its version. */
  process(): Json | undefined {
    const own = this.processes().filter((p) => localName(String(member(p, 'type'))) === `ospfv${this.version}`);
    return own.sort((a, b) => (String(member(a, 'name')) < String(member(b, 'name')) ? -1 : 1))[0];
  }

  /** Its `ospf` container; a router without one gets a process of the given name. */
  ospf(processName = 'campus'): Json {
    let p = this.process();
    if (!p) {
      p = { type: `ietf-ospf:ospfv${this.version}`, name: processName };
      this.protocols.push(p);
    }
    return container(p, 'ietf-ospf:ospf');
  }

  private ospfIfThere(): Json | undefined {
    const p = this.process();
    return p && childOf(p, 'ietf-ospf:ospf');
  }

  areas(): Json[] {
    return listOf(childOf(this.ospfIfThere(), 'areas'), 'area');
  }

  area(id: number): Json | undefined {
    return this.areas().find((a) => idOf(a) === id);
  }

  /** The router's entry of an area, made in the order of ids when it is not there. */
  ensureArea(id: number, processName?: string): Json {
    const known = this.area(id);
    if (known) return known;
    const list = listIn(container(this.ospf(processName), 'areas'), 'area');
    const made: Json = { 'area-id': formatAddress(id), interfaces: { interface: [] } };
    const after = list.findIndex((a) => (idOf(a) ?? 0) > id);
    list.splice(after < 0 ? list.length : after, 0, made);
    return made;
  }

  /** An interface's entry in OSPF, with the area that holds it. */
  ospfInterface(name: string): { area: Json; id: number; list: Json[]; entry: Json } | undefined {
    for (const area of this.areas()) {
      const list = listIn(container(area, 'interfaces'), 'interface');
      const entry = list.find((i) => member(i, 'name') === name);
      if (entry) return { area, id: idOf(area) ?? 0, list, entry };
    }
    return undefined;
  }

  /** Its entries in all processes of both versions, each with the list that holds it. */
  everyOspfInterface(name: string): { list: Json[]; entry: Json }[] {
    return this.processes().flatMap((p) =>
      listOf(childOf(childOf(p, 'ospf'), 'areas'), 'area').flatMap((area) => {
        const list = listIn(container(area, 'interfaces'), 'interface');
        return list.filter((i) => member(i, 'name') === name).map((entry) => ({ list, entry }));
      }),
    );
  }

  /** Puts an interface into an area. */
  putInto(area: number, entry: Json, processName?: string): void {
    listIn(container(this.ensureArea(area, processName), 'interfaces'), 'interface').push(entry);
  }

  /** Takes an interface out of OSPF; an area that has nothing left in this router goes with it. Gives its entry. */
  takeOut(name: string): Json | undefined {
    const at = this.ospfInterface(name);
    if (!at) return undefined;
    at.list.splice(at.list.indexOf(at.entry), 1);
    this.dropEmptyArea(at.id);
    return at.entry;
  }

  /** Takes an area out of the router that has neither an interface nor a virtual link left in it. */
  dropEmptyArea(id: number): void {
    const area = this.area(id);
    if (!area || listOf(childOf(area, 'interfaces'), 'interface').length > 0) return;
    if (listOf(childOf(area, 'virtual-links'), 'virtual-link').length > 0) return;
    const list = listIn(container(this.ospf(), 'areas'), 'area');
    const n = list.findIndex((a) => a === area);
    if (n >= 0) list.splice(n, 1);
  }

  /** The protocol entry that static routes stand in, made when there is none. */
  staticProtocol(): Json {
    const known = this.protocols.find((p) => localName(String(member(p, 'type'))) === 'static');
    if (known) return known;
    const made: Json = { type: 'ietf-routing:static', name: 'own' };
    this.protocols.push(made);
    return made;
  }

  removeProtocol(protocol: Json): void {
    const n = this.protocols.indexOf(protocol);
    if (n >= 0) this.protocols.splice(n, 1);
  }

  /** An address of an interface becomes another one, of its family. */
  readdress(from: Address, to: Address, length: number, iface: string): void {
    for (const a of listOf(childOf(this.iface(iface), ipOf(isSix(from) ? 3 : 2)), 'address'))
      if (parseAddress(String(member(a, 'ip'))) === from) {
        setMember(a, 'ip', formatAddress(to));
        if (memberOf(a, 'netmask') !== undefined) setMember(a, 'netmask', undefined);
        setMember(a, 'prefix-length', length);
      }
  }

  /** Every text in the document that is exactly one address becomes another: next hops, static neighbours, router ids. */
  replaceAddress(from: Address, to: Address): void {
    const now = formatAddress(to);
    const isOld = (v: unknown): boolean => typeof v === 'string' && parseAddress(v) === from;
    const walk = (node: unknown, under: string): void => {
      if (Array.isArray(node)) node.forEach((x) => walk(x, under));
      else if (isObject(node))
        for (const [k, v] of Object.entries(node))
          if (isOld(v) && localName(k) !== 'ip') node[k] = now;
          else walk(v, k);
    };
    walk(this.tree, '');
  }
}

/** The documents of a design while a change is being put together; what came in stays as it is. */
export class Draft {
  private readonly trees = new Map<string, Json>();
  private readonly drafts = new Map<string, RouterDraft>();
  private readonly byName = new Map<string, string>();
  private readonly removed = new Set<string>();
  private readonly others = new Map<string, Json>();
  private readonly added: string[] = [];
  private madeTopology: Json | undefined;

  constructor(private readonly documents: readonly SourceDocument[]) {
    for (const d of documents) {
      const name = documentKind(d.tree) === 'router' ? hostNameOf(d.tree) : undefined;
      if (name !== undefined && !this.byName.has(name)) this.byName.set(name, d.file);
    }
  }

  /** A router's document, opened for change by a version of the protocol. */
  router(name: string, version: 2 | 3 = 2): RouterDraft {
    const file = this.byName.get(name);
    if (file === undefined) throw new RangeError(`no router ${name}`);
    let tree = this.trees.get(file);
    if (!tree) {
      tree = structuredClone(this.documents.find((x) => x.file === file)?.tree ?? {});
      this.trees.set(file, tree);
    }
    const key = `${version} ${file}`;
    let draft = this.drafts.get(key);
    if (!draft) {
      draft = new RouterDraft(file, tree, version);
      this.drafts.set(key, draft);
    }
    return draft;
  }

  /** A new router document, empty or as a copy of another tree. */
  addRouter(name: string, tree: Json = {}): void {
    let file = `${name.replace(/[^\w.-]/g, '_').replace(/^\.+/, '_')}.json`;
    const taken = new Set([...this.documents.map((d) => d.file), ...this.added]);
    const base = file.replace(/\.json$/, '');
    for (let n = 2; taken.has(file); n++) file = `${base}-${n}.json`;
    this.trees.set(file, tree);
    this.byName.set(name, file);
    this.added.push(file);
    this.router(name).name = name;
  }

  removeRouter(name: string): void {
    const file = this.byName.get(name);
    if (file === undefined) throw new RangeError(`no router ${name}`);
    this.removed.add(file);
    this.byName.delete(name);
  }

  rename(from: string, to: string): void {
    const draft = this.router(from);
    draft.name = to;
    this.byName.delete(from);
    this.byName.set(to, draft.file);
  }

  /** The `settings` container of the design, made when there is none. */
  settings(): Json {
    const d = this.documents.find((x) => documentKind(x.tree) === 'settings');
    const file = d?.file ?? 'settings.json';
    let tree = this.others.get(file);
    if (!tree) {
      tree = structuredClone(d?.tree ?? {});
      this.others.set(file, tree);
      if (!d) this.added.push(file);
    }
    return container(tree, 'gentle-compass:settings');
  }

  /** The topology document, opened for change; `undefined` when the design has none. */
  topology(): Json | undefined {
    const d = this.documents.find((x) => documentKind(x.tree) === 'topology');
    if (!d) return undefined;
    let tree = this.others.get(d.file);
    if (!tree) {
      tree = structuredClone(d.tree);
      this.others.set(d.file, tree);
    }
    return tree;
  }

  /** The topology document, opened for change; made when the design has none. */
  openTopology(): Json {
    const known = this.topology() ?? this.madeTopology;
    if (known) return known;
    let file = 'topology.json';
    for (let n = 2; this.documents.some((d) => d.file === file) || this.added.includes(file); n++) file = `topology-${n}.json`;
    this.madeTopology = {};
    this.others.set(file, this.madeTopology);
    this.added.push(file);
    return this.madeTopology;
  }

  /** What has been changed, as edits. */
  edits(): Edit[] {
    const changed = (d: SourceDocument): SourceDocument[] => {
      if (this.removed.has(d.file)) return [];
      const tree = this.trees.get(d.file) ?? this.others.get(d.file);
      return [tree ? { file: d.file, tree, ...(d.encoding ? { encoding: d.encoding } : {}) } : d];
    };
    const fresh = this.added.flatMap((file): SourceDocument[] => {
      const tree = this.trees.get(file) ?? this.others.get(file);
      return tree && Object.keys(tree).length > 0 ? [{ file, tree }] : [];
    });
    return editsBetween(this.documents, [...this.documents.flatMap(changed), ...fresh]);
  }
}
