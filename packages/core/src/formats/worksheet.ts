import type { Port } from '../adjacency/speakers';
import { authenticationWords } from '../adjacency/hello-match';
import type { Area, OspfInstance, Router, StaticRoute } from '../design/design';
import { valuesOf } from '../evidence/origins';
import { formatIpv4, formatPrefix } from '../prefix/ipv4';
import type { Prediction } from '../predict';

const lines = (title: string, body: readonly string[]): string[] => (body.length === 0 ? [] : ['', `## ${title}`, '', ...body]);
const yes = (v: boolean): string => (v ? 'yes' : 'no');
/** A name inside a table or list of Markdown: nothing in it can end the cell or open markup. */
const plain = (text: string): string => text.replace(/[\\`*_{}[\]<>|#]/g, '\\$&');

function interfaceLines(p: Prediction, index: number, router: Router): string[] {
  const row = (cells: readonly string[]): string => `| ${cells.join(' | ')} |`;
  const head = [
    'interface',
    'on',
    'address',
    'MTU',
    'area',
    'network type',
    'passive',
    'cost',
    'hello / dead',
    'priority',
    'authentication',
    'faces',
  ];
  return [
    row(head),
    row(head.map(() => '---')),
    ...router.interfaces.map((i, n) => {
      const port: Port | undefined = p.portOf(index, n);
      const segment = p.segments.list[p.segments.of[index]?.[n] ?? -1];
      const faces = segment?.members.filter((m) => m.router !== index).map((m) => plain(p.design.routers[m.router]?.name ?? '')) ?? [];
      const address = i.addresses.map((a) => `${formatIpv4(a.bits)}/${a.length}`).join(', ') || (i.unnumbered ? 'unnumbered' : 'none');
      const s = port?.settings;
      const ospf =
        port && s
          ? [
              formatIpv4(port.area.id),
              port.type,
              yes(s.passive),
              String(port.cost),
              port.loopback ? '' : `${s.hello} s / ${s.dead} s`,
              port.loopback ? '' : String(s.priority),
              authenticationWords(s.authentication),
            ]
          : ['not in OSPF', '', '', '', '', '', ''];
      return row([
        plain(i.name),
        yes(i.enabled),
        address,
        String(i.mtu),
        ...ospf,
        faces.length > 4 ? `${faces.slice(0, 4).join(', ')} and ${faces.length - 4} more` : faces.join(', '),
      ]);
    }),
  ];
}

function areaLines(a: Area, border: boolean): string[] {
  const type = { normal: 'normal', stub: 'stub', nssa: 'NSSA' }[a.type];
  const out = [
    `- Area ${formatIpv4(a.id)}: ${a.id === 0 ? 'the backbone' : type}${border && a.type !== 'normal' ? `, summaries ${a.summary ? 'let in' : 'kept out'}, default announced at cost ${a.defaultCost}` : ''}.`,
  ];
  for (const r of a.ranges)
    out.push(
      `  - Summarise ${formatPrefix(r.prefix)}${r.advertise ? '' : ', and announce nothing of it'}${r.cost === undefined ? '' : ` at the fixed cost ${r.cost}`}.`,
    );
  for (const v of a.virtualLinks)
    out.push(`  - Virtual link to router ${formatIpv4(v.routerId)} through area ${formatIpv4(v.transitArea)}, hello ${v.hello} s, dead ${v.dead} s.`);
  if (a.summaryIn.length > 0) out.push(`  - Let summaries in by the policy ${a.summaryIn.map(plain).join(', ')}.`);
  if (a.summaryOut.length > 0) out.push(`  - Let summaries out by the policy ${a.summaryOut.map(plain).join(', ')}.`);
  return out;
}

function importLines(o: OspfInstance): string[] {
  const out = o.redistribution.map(
    (r) =>
      `- Redistribute ${r.source} routes at metric ${r.metric}, ${r.metricType}${r.tag > 0 ? `, tag ${r.tag}` : ''}${r.policies.length > 0 ? `, as the policy ${r.policies.map(plain).join(', ')} lets pass` : ', all of them'}.`,
  );
  if (o.defaultRoute)
    out.push(
      `- Announce a default ${o.defaultRoute.announce === 'always' ? 'always' : 'while the router has one'}, at metric ${o.defaultRoute.metric}, ${o.defaultRoute.metricType}.`,
    );
  for (const r of o.externalRanges)
    out.push(`- Summarise what is imported as ${formatPrefix(r.prefix)}${r.advertise ? '' : ', and announce nothing of it'}.`);
  if (o.ribPolicy.length > 0) out.push(`- Take OSPF routes into the own table by the policy ${o.ribPolicy.map(plain).join(', ')}.`);
  return out;
}

function policyLines(router: Router): string[] {
  const sets = [...router.policies.sets.values()].map(
    (x) =>
      `- Prefixes “${plain(x.name)}”: ${x.lines.map((l) => `${formatPrefix(l.prefix)}${l.from === l.prefix.length && l.to === l.from ? '' : ` lengths ${l.from} to ${l.to}`}`).join(', ') || 'none'}.`,
  );
  const policies = [...router.policies.definitions.values()].flatMap((d) => [
    `- Policy “${plain(d.name)}”, in this order:`,
    ...d.statements.map((st) => {
      const when = [
        st.matchSet ? `the prefix is ${st.matchSet.invert ? 'not ' : ''}in “${plain(st.matchSet.name)}”` : '',
        st.matchTags ? `the tag is ${st.matchTags.join(' or ')}` : '',
        st.callPolicy === undefined ? '' : `the policy “${plain(st.callPolicy)}” accepts`,
      ].filter(Boolean);
      const { result, metric, metricType, tag } = st.actions;
      const then = [
        metric ? `${metric.change} metric ${metric.by}` : '',
        metricType ?? '',
        tag === undefined ? '' : `tag ${tag}`,
        result === undefined ? 'go on' : result,
      ].filter(Boolean);
      return `  - ${plain(st.name)}: ${when.length > 0 ? `when ${when.join(' and ')}: ` : ''}${then.join(', ')}.`;
    }),
  ]);
  return [...sets, ...policies];
}

const staticLine = (r: StaticRoute): string =>
  `- ${formatPrefix(r.prefix)} ${r.discard ? 'is discarded' : `by ${r.nextHops.map((h) => [h.address === undefined ? '' : formatIpv4(h.address), h.iface === undefined ? '' : plain(h.iface)].filter(Boolean).join(' out of ')).join(' and ')}`}, preference ${r.preference}.`;

/**
 * What to set on one router, in plain words and values, for any device: a page of Markdown that prints well.
 * Keys are never shown, only whether and how a link is authenticated.
 */
export function worksheet(p: Prediction, routerIndex: number): string {
  const router = p.design.routers[routerIndex];
  if (!router) return '';
  const s = p.speakersOf(routerIndex)[0];
  const o = router.instances.find((x) => x.version === 2);
  const values = valuesOf(p, routerIndex).filter((v) => v.iface === undefined);
  const roles = s
    ? [p.routing.isBorderRouter(s) ? 'area border router' : '', p.routing.isBoundaryRouter(s) ? 'AS boundary router' : ''].filter(Boolean)
    : [];
  return `${[
    `# ${plain(router.name)}`,
    '',
    s ? `Router id ${formatIpv4(s.routerId)}${roles.length > 0 ? `; ${roles.join(', ')}` : ''}.` : 'No OSPF runs here.',
    ...(router.defaults.profile === undefined ? [] : [`Follows the profile “${plain(router.defaults.profile)}”.`]),
    ...lines('Interfaces', interfaceLines(p, routerIndex, router)),
    ...lines('Areas', s && o ? o.areas.flatMap((a) => areaLines(a, p.routing.isBorderRouter(s))) : []),
    ...lines('Imported and announced', o ? importLines(o) : []),
    ...lines('Policies', policyLines(router)),
    ...lines('Static routes', router.staticRoutes.map(staticLine)),
    ...lines(
      'OSPF process',
      values.map(
        (v) =>
          `- ${v.what}: ${v.value}${v.origin === 'written' ? '' : ` (${v.origin === 'profile' ? 'by the profile' : 'by the standard: nothing to set'})`}`,
      ),
    ),
  ].join('\n')}\n`;
}
