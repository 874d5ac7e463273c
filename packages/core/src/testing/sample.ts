import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { SourceDocument } from '../documents/documents';
import { readSet, type ReadResult } from '../formats/read-set';

/** Reads a folder of the sample campus, through the importer that a user's files go through. */
export function sample(folder: 'saltmarsh-point' | 'saltmarsh-point-before-review'): ReadResult {
  const root = join(__dirname, '../../../../demo', folder);
  return readSet(readdirSync(root).map((name) => ({ name, content: readFileSync(join(root, name), 'utf8') })));
}

type Json = Record<string, unknown>;
interface RouterTree {
  'ietf-interfaces:interfaces': { interface: Json[] };
  'ietf-routing:routing': { 'control-plane-protocols': { 'control-plane-protocol': (Json & { 'static-routes'?: Json })[] } };
}

/** Router documents without IPv6 and OSPFv3. */
export function withoutSix(documents: readonly SourceDocument[]): SourceDocument[] {
  return structuredClone(documents).map((d) => {
    const tree = d.tree as unknown as RouterTree;
    for (const i of tree['ietf-interfaces:interfaces'].interface) delete i['ietf-ip:ipv6'];
    const protocols = tree['ietf-routing:routing']['control-plane-protocols'];
    protocols['control-plane-protocol'] = protocols['control-plane-protocol'].filter((p) => p['type'] !== 'ietf-ospf:ospfv3');
    for (const p of protocols['control-plane-protocol']) delete p['static-routes']?.['ietf-ipv6-unicast-routing:ipv6'];
    return { ...d, tree: d.tree };
  });
}
