import type { RiskGroup, Topology, TopologyLink } from '../design/design';
import { Cursor, type ReadContext } from '../documents/cursor';
import { anyText, flag, nameText } from '../documents/leaf-types';

/** Reads physical links and shared-risk groups (RFC 8345, with two leaves of our own module). */
export function readTopology(tree: Record<string, unknown>, context: ReadContext): Topology {
  const root = Cursor.root(context, tree);
  const links: TopologyLink[] = [];
  const riskGroups: RiskGroup[] = [];
  for (const network of root.child('networks')?.list('network', 'network-id') ?? []) {
    network.known('network-id', 'network-types', 'node');
    for (const c of network.list('link', 'link-id')) {
      const id = c.leaf('link-id', anyText) ?? '';
      const source = c.child('source');
      const destination = c.child('destination');
      const from = { node: source?.leaf('source-node', nameText), point: source?.leaf('source-tp', nameText) };
      const to = { node: destination?.leaf('dest-node', nameText), point: destination?.leaf('dest-tp', nameText) };
      const carrierLossSeen = c.leaf('carrier-loss-seen', flag) ?? true;
      if (from.node === undefined || to.node === undefined)
        c.problem('', 'This link does not name both of its ends.', 'Give it a source-node and a dest-node, with their termination points.');
      else
        links.push({
          id,
          from: { node: from.node, point: from.point ?? '' },
          to: { node: to.node, point: to.point ?? '' },
          carrierLossSeen,
        });
    }
    for (const c of network.list('risk-groups', 'name')) {
      const name = c.leaf('name', nameText);
      const members = c.leafList('member', anyText) ?? c.leafList('members', anyText) ?? [];
      if (name !== undefined) riskGroups.push({ name, members });
    }
  }
  for (const c of root.list('risk-groups', 'name')) {
    const name = c.leaf('name', nameText);
    const members = c.leafList('members', anyText) ?? [];
    if (name !== undefined) riskGroups.push({ name, members });
  }
  root.finish();
  return { links, riskGroups };
}
