import { interfaceState } from '@gentle-compass/core/adjacency/interface-state';
import { formatAddress, formatPrefix } from '@gentle-compass/core/prefix/address';
import type { Prediction } from '@gentle-compass/core/predict';

const columns = (rows: readonly (readonly string[])[], indent: string): string[] => {
  const widths: number[] = [];
  for (const r of rows) r.forEach((c, i) => (widths[i] = Math.max(widths[i] ?? 0, c.length)));
  return rows.map((r) => indent + r.map((c, i) => (i === r.length - 1 ? c : c.padEnd(widths[i] ?? 0))).join('  '));
};

function routerText(p: Prediction, index: number, more: boolean): string[] {
  const router = p.design.routers[index];
  if (!router) return [];
  const out: string[] = [];
  for (const s of p.speakersOf(index)) {
    const roles = [p.routing.isBorderRouter(s) ? 'border router' : '', p.routing.isBoundaryRouter(s) ? 'boundary router' : ''].filter(Boolean);
    out.push(
      `${router.name}  ${more ? (p.family === 6 ? 'OSPFv3  ' : 'OSPFv2  ') : ''}${formatAddress(s.routerId)}${roles.length > 0 ? `  ${roles.join(', ')}` : ''}`,
    );
    const rows = s.ports.flatMap((port) => {
      const leaders = p.adjacencies.leaders[port.index] ?? { dr: 0, bdr: 0 };
      const base = [port.iface.name, `area ${formatAddress(port.area.id)}`, interfaceState(port, leaders)];
      const heard = (p.adjacencies.views[port.index] ?? []).filter((v) => v.state !== 'down');
      if (heard.length === 0) return [[...base, '']];
      return heard.map((v) => [...base, `${formatAddress(v.peer.routerId)} ${p.design.routers[v.peer.routerIndex]?.name ?? ''} ${v.state}`]);
    });
    out.push(...columns(rows, '  '));
  }
  if (out.length === 0) out.push(`${router.name}  no ${p.family === 6 ? 'OSPFv3' : 'OSPF'}`);
  const rows = p
    .rib(index)
    .map((r) => [
      formatPrefix(r),
      r.route?.type ?? r.source,
      r.route ? String(r.route.metric) : '',
      r.hops.map((h) => (h.address === undefined ? h.iface : `${h.iface} ${formatAddress(h.address)}`)).join(', ') || 'dropped',
    ]);
  return [...out, ...columns(rows, '    '), ''];
}

/** The predictions of a design, a family each, as text for people: each router with its neighbours and its own table. */
export function predictionText(predictions: readonly Prediction[], names: readonly string[]): string {
  const [first] = predictions;
  const lines = (first?.design.routers ?? []).flatMap((r, i) =>
    first?.outage.routers.has(i) || (names.length > 0 && !names.includes(r.name))
      ? []
      : predictions.flatMap((p) => routerText(p, i, predictions.length > 1)),
  );
  return `${lines.join('\n')}\n`;
}
