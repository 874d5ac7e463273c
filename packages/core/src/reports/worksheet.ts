import { processOf } from '../design/family';
import type { Port } from '../adjacency/speakers';
import { authenticationWords } from '../adjacency/hello-match';
import type { Area, OspfInstance, Router, StaticRoute } from '../design/design';
import { valuesOf } from '../evidence/origins';
import { formatAddress, formatPrefix } from '../prefix/address';
import type { Prediction } from '../predict';

/** One line of a worksheet, or one that belongs to the line before it. */
export interface SheetItem {
  readonly text: string;
  readonly below?: true;
}
/** What to set on one router: parts with a table or with lines, as plain text. */
export interface Worksheet {
  readonly router: string;
  readonly intro: readonly string[];
  readonly parts: readonly { readonly title: string; readonly table?: readonly (readonly string[])[]; readonly items?: readonly SheetItem[] }[];
}

const yes = (v: boolean): string => (v ? 'yes' : 'no');
/** Text inside Markdown: nothing in it can end the cell or open markup. */
const plain = (text: string): string => text.replace(/[\\`*_{}[\]<>|#]/g, '\\$&').replace(/\s+/g, ' ');
const item = (text: string): SheetItem => ({ text });
const below = (text: string): SheetItem => ({ text, below: true });

function interfaceTable(p: Prediction, index: number, router: Router): string[][] {
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
    head,
    ...router.interfaces.map((i, n) => {
      const port: Port | undefined = p.portOf(index, n);
      const segment = p.segments.list[p.segments.of[index]?.[n] ?? -1];
      const faces = segment?.members.filter((m) => m.router !== index).map((m) => p.design.routers[m.router]?.name ?? '') ?? [];
      const address = i.addresses.map((a) => `${formatAddress(a.bits)}/${a.length}`).join(', ') || (i.unnumbered ? 'unnumbered' : 'none');
      const s = port?.settings;
      const ospf =
        port && s
          ? [
              formatAddress(port.area.id),
              port.type,
              yes(s.passive),
              String(port.cost),
              port.loopback ? '' : `${s.hello} s / ${s.dead} s`,
              port.loopback ? '' : String(s.priority),
              authenticationWords(s.authentication),
            ]
          : ['not in OSPF', '', '', '', '', '', ''];
      return [
        i.name,
        yes(i.enabled),
        address,
        String(i.mtu),
        ...ospf,
        faces.length > 4 ? `${faces.slice(0, 4).join(', ')} and ${faces.length - 4} more` : faces.join(', '),
      ];
    }),
  ];
}

function areaItems(a: Area, border: boolean): SheetItem[] {
  const type = { normal: 'normal', stub: 'stub', nssa: 'NSSA' }[a.type];
  const out = [
    item(
      `Area ${formatAddress(a.id)}: ${a.id === 0 ? 'the backbone' : type}${border && a.type !== 'normal' ? `, summaries ${a.summary ? 'let in' : 'kept out'}, default announced at cost ${a.defaultCost}` : ''}.`,
    ),
  ];
  for (const r of a.ranges)
    out.push(
      below(
        `Summarise ${formatPrefix(r.prefix)}${r.advertise ? '' : ', and announce nothing of it'}${r.cost === undefined ? '' : ` at the fixed cost ${r.cost}`}.`,
      ),
    );
  for (const v of a.virtualLinks)
    out.push(
      below(
        `Virtual link to router ${formatAddress(v.routerId)} through area ${formatAddress(v.transitArea)}, hello ${v.hello} s, dead ${v.dead} s.`,
      ),
    );
  if (a.summaryIn.length > 0) out.push(below(`Let summaries in by the policy ${a.summaryIn.join(', ')}.`));
  if (a.summaryOut.length > 0) out.push(below(`Let summaries out by the policy ${a.summaryOut.join(', ')}.`));
  return out;
}

function importItems(o: OspfInstance): SheetItem[] {
  const out = o.redistribution.map(
    (r) =>
      `Redistribute ${r.source} routes at metric ${r.metric}, ${r.metricType}${r.tag > 0 ? `, tag ${r.tag}` : ''}${r.policies.length > 0 ? `, as the policy ${r.policies.join(', ')} lets pass` : ', all of them'}.`,
  );
  if (o.defaultRoute)
    out.push(
      `Announce a default ${o.defaultRoute.announce === 'always' ? 'always' : 'while the router has one'}, at metric ${o.defaultRoute.metric}, ${o.defaultRoute.metricType}.`,
    );
  for (const r of o.externalRanges)
    out.push(`Summarise what is imported as ${formatPrefix(r.prefix)}${r.advertise ? '' : ', and announce nothing of it'}.`);
  if (o.ribPolicy.length > 0) out.push(`Take OSPF routes into the own table by the policy ${o.ribPolicy.join(', ')}.`);
  return out.map(item);
}

function policyItems(router: Router): SheetItem[] {
  const sets = [...router.policies.sets.values()].map(
    (x) =>
      `Prefixes “${x.name}”: ${x.lines.map((l) => `${formatPrefix(l.prefix)}${l.from === l.prefix.length && l.to === l.from ? '' : ` lengths ${l.from} to ${l.to}`}`).join(', ') || 'none'}.`,
  );
  const policies = [...router.policies.definitions.values()].flatMap((d) => [
    item(`Policy “${d.name}”, in this order:`),
    ...d.statements.map((st) => {
      const when = [
        st.matchSet ? `the prefix is ${st.matchSet.invert ? 'not ' : ''}in “${st.matchSet.name}”` : '',
        st.matchTags ? `the tag is ${st.matchTags.join(' or ')}` : '',
        st.callPolicy === undefined ? '' : `the policy “${st.callPolicy}” accepts`,
      ].filter(Boolean);
      const { result, metric, metricType, tag } = st.actions;
      const then = [
        metric ? `${metric.change} metric ${metric.by}` : '',
        metricType ?? '',
        tag === undefined ? '' : `tag ${tag}`,
        result === undefined ? 'go on' : result,
      ].filter(Boolean);
      return below(`${st.name}: ${when.length > 0 ? `when ${when.join(' and ')}: ` : ''}${then.join(', ')}.`);
    }),
  ]);
  return [...sets.map(item), ...policies];
}

const staticLine = (r: StaticRoute): string =>
  `${formatPrefix(r.prefix)} ${r.discard ? 'is discarded' : `by ${r.nextHops.map((h) => [h.address === undefined ? '' : formatAddress(h.address), h.iface ?? ''].filter(Boolean).join(' out of ')).join(' and ')}`}, preference ${r.preference}.`;

/** What to set on one router, in plain words and values, for any device. Keys are never shown, only whether and how a link is authenticated. */
export function worksheetOf(p: Prediction, routerIndex: number): Worksheet | undefined {
  const router = p.design.routers[routerIndex];
  if (!router) return undefined;
  const s = p.speakersOf(routerIndex)[0];
  const o = processOf(router);
  const values = valuesOf(p, routerIndex).filter((v) => v.iface === undefined);
  const roles = s
    ? [p.routing.isBorderRouter(s) ? 'area border router' : '', p.routing.isBoundaryRouter(s) ? 'AS boundary router' : ''].filter(Boolean)
    : [];
  const part = (title: string, items: readonly SheetItem[]): Worksheet['parts'] => (items.length === 0 ? [] : [{ title, items }]);
  const table = interfaceTable(p, routerIndex, router);
  return {
    router: router.name,
    intro: [
      s ? `Router id ${formatAddress(s.routerId)}${roles.length > 0 ? `; ${roles.join(', ')}` : ''}.` : 'No OSPF runs here.',
      ...(router.defaults.profile === undefined ? [] : [`Follows the profile “${router.defaults.profile}”.`]),
    ],
    parts: [
      ...(table.length > 1 ? [{ title: 'Interfaces', table }] : []),
      ...part('Areas', s && o ? o.areas.flatMap((a) => areaItems(a, p.routing.isBorderRouter(s))) : []),
      ...part('Imported and announced', o ? importItems(o) : []),
      ...part('Policies', policyItems(router)),
      ...part(
        'Static routes',
        router.staticRoutes.map((r) => item(staticLine(r))),
      ),
      ...part(
        'OSPF process',
        values.map((v) =>
          item(
            `${v.what}: ${v.value}${v.origin === 'written' ? '' : ` (${v.origin === 'profile' ? 'by the profile' : 'by the standard: nothing to set'})`}`,
          ),
        ),
      ),
    ],
  };
}

/** The worksheet of a router as a page of Markdown. */
export function worksheet(p: Prediction, routerIndex: number): string {
  const w = worksheetOf(p, routerIndex);
  if (!w) return '';
  const row = (cells: readonly string[]): string => `| ${cells.join(' | ')} |`;
  return `${[
    `# ${plain(w.router)}`,
    '',
    ...w.intro.map(plain),
    ...w.parts.flatMap(({ title, table, items }) => [
      '',
      `## ${title}`,
      '',
      ...(table ?? []).flatMap((cells, n) => (n === 0 ? [row(cells), row(cells.map(() => '---'))] : [row(cells.map(plain))])),
      ...(items ?? []).map((x) => `${x.below ? '  ' : ''}- ${plain(x.text)}`),
    ]),
  ].join('\n')}\n`;
}
