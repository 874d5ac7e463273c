import { processOf } from '../design/family';
import type { Port } from '../adjacency/speakers';
import { authenticationWords } from '../adjacency/hello-match';
import type { Area, Interface, OspfInstance, Router, StaticRoute } from '../design/design';
import { formatIpv6 } from '../prefix/ipv6';
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

/** One text where the families say the same; else each with its name. What a family does not say is left out. */
function sameOrEach(predictions: readonly Prediction[], texts: readonly (string | undefined)[]): string {
  const said = texts.filter((t) => t !== undefined);
  if (new Set(said).size <= 1) return said[0] ?? '';
  return predictions.flatMap((p, n) => (texts[n] === undefined ? [] : [`IPv${p.family}: ${texts[n] || 'none'}`])).join('; ');
}

/** What OSPF does on an interface in one family, cell by cell; `undefined` where the family is not on it. */
function ospfCells(p: Prediction, router: number, iface: number): readonly string[] | undefined {
  const i = p.design.routers[router]?.interfaces[iface];
  const port: Port | undefined = p.portOf(router, iface);
  if (p.family === 6 && i?.six === false && !port) return undefined;
  if (!port) return ['not in OSPF'];
  const s = port.settings;
  return [
    formatAddress(port.area.id),
    port.type,
    yes(s.passive),
    String(port.cost),
    port.loopback ? '' : `${s.hello} s / ${s.dead} s`,
    port.loopback ? '' : String(s.priority),
    authenticationWords(s.authentication),
    ...(s.instanceId > 0 ? [String(s.instanceId)] : []),
  ];
}

function addressesOf(p: Prediction, i: Interface): string {
  const global = i.addresses.map((a) => `${formatAddress(a.bits)}/${a.length}`);
  if (p.family === 4) return global.join(', ') || (i.unnumbered ? 'unnumbered' : 'none');
  // A link-local address that nobody wrote is the router's own affair.
  const local = i.linkLocal && !i.linkLocal.derived ? [formatAddress(i.linkLocal.address)] : [];
  return [...global, ...local].join(', ') || (i.six ? 'link-local' : 'none');
}

function interfaceTable(predictions: readonly Prediction[], index: number, router: Router): string[][] {
  const [p] = predictions;
  const names = predictions.length > 1 ? predictions.map((x) => `IPv${x.family}`) : ['address'];
  const head = ['interface', 'on', ...names, 'MTU', 'area', 'network type', 'passive', 'cost', 'hello / dead', 'priority', 'authentication', 'faces'];
  return [
    head,
    ...router.interfaces.map((i, n) => {
      const segment = p?.segments.list[p.segments.of[index]?.[n] ?? -1];
      const faces = segment?.members.filter((m) => m.router !== index).map((m) => p?.design.routers[m.router]?.name ?? '') ?? [];
      const views = predictions.map((x) => ({ p: x, iface: x.design.routers[index]?.interfaces[n], cells: ospfCells(x, index, n) }));
      const on = views.filter((v) => v.cells !== undefined);
      const families = on.map((v) => v.p);
      return [
        i.name,
        yes(i.enabled),
        ...views.map((v) => (v.iface ? addressesOf(v.p, v.iface) : '')),
        sameOrEach(
          families,
          on.map((v) => String(v.iface?.mtu ?? '')),
        ),
        ...[0, 1, 2, 3, 4, 5, 6].map((c) =>
          sameOrEach(
            families,
            on.map((v) => v.cells?.[c]),
          ),
        ),
        faces.length > 4 ? `${faces.slice(0, 4).join(', ')} and ${faces.length - 4} more` : faces.join(', '),
      ];
    }),
  ];
}

/** Lines of each family: once what all say, with the version what one says. */
function merged(predictions: readonly Prediction[], lists: readonly (readonly SheetItem[])[]): SheetItem[] {
  const [first = [], ...others] = lists;
  if (others.length === 0) return [...first];
  const version = (n: number): string => `OSPFv${predictions[n]?.family === 6 ? 3 : 2}`;
  const inAll = (x: SheetItem): boolean => lists.every((l) => l.some((y) => y.text === x.text));
  return lists.flatMap((list, n) =>
    list.flatMap((x): SheetItem[] =>
      inAll(x) ? (n === 0 ? [x] : []) : [{ ...x, text: `${version(n)}: ${x.text.replace(/^[A-Z][a-z]/, (w) => w.toLowerCase())}` }],
    ),
  );
}

function areaItems(a: Area, border: boolean): SheetItem[] {
  const type = { normal: 'normal', stub: 'stub', nssa: 'NSSA' }[a.type];
  const out = [
    item(
      `Area ${formatAddress(a.id)}${a.name === '' ? '' : ` (${a.name})`}: ${a.id === 0 ? 'the backbone' : type}${border && a.type !== 'normal' ? `, summaries ${a.summary ? 'let in' : 'kept out'}, default announced at cost ${a.defaultCost}` : ''}.`,
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
      `Prefixes “${x.name}”: ${
        [
          ...x.lines.map((l) => ({ ...l, text: formatPrefix(l.prefix) })),
          ...(router.asWritten ? [] : x.lines6.map((l) => ({ ...l, text: `${formatIpv6(l.prefix.bits)}/${l.prefix.length}` }))),
        ]
          .map((l) => `${l.text}${l.from === l.prefix.length && l.to === l.from ? '' : ` lengths ${l.from} to ${l.to}`}`)
          .join(', ') || 'none'
      }.`,
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

/** Areas of all families in the order of their ids, each with what it says below. */
function allAreas(predictions: readonly Prediction[], index: number): SheetItem[] {
  const lists = predictions.map((p) => {
    const s = p.speakersOf(index)[0];
    const router = p.design.routers[index];
    const o = router && processOf(router);
    return new Map(s && o ? o.areas.map((a) => [a.id, areaItems(a, p.routing.isBorderRouter(s))] as const) : []);
  });
  const ids = [...new Set(lists.flatMap((l) => [...l.keys()]))].sort((a, b) => a - b);
  const said = predictions.filter((_, n) => (lists[n]?.size ?? 0) > 0);
  return ids.flatMap((id) =>
    merged(
      said,
      lists.filter((l) => l.size > 0).map((l) => l.get(id) ?? []),
    ),
  );
}

function processItems(p: Prediction, index: number): SheetItem[] {
  return valuesOf(p, index)
    .filter((v) => v.iface === undefined)
    .map((v) =>
      item(
        `${v.what}: ${v.value}${v.origin === 'written' ? '' : ` (${v.origin === 'profile' ? 'by the profile' : 'by the standard: nothing to set'})`}`,
      ),
    );
}

function introOf(p: Prediction, index: number): string {
  const s = p.speakersOf(index)[0];
  if (!s) return 'No OSPF runs here.';
  const roles = [p.routing.isBorderRouter(s) ? 'area border router' : '', p.routing.isBoundaryRouter(s) ? 'AS boundary router' : ''].filter(Boolean);
  return `Router id ${formatAddress(s.routerId)}${roles.length > 0 ? `; ${roles.join(', ')}` : ''}.`;
}

/**
 * What to set on one router, in plain words and values, for any device. Keys are never shown, only whether and how a link is
 * authenticated. What both families have alike stands once.
 *
 * @param predictions  of the families that the design has, IPv4 first
 */
export function worksheetOf(predictions: readonly Prediction[], routerIndex: number): Worksheet | undefined {
  const router = predictions[0]?.design.routers[routerIndex];
  if (!router) return undefined;
  const speaking = predictions.filter((p) => p.speakersOf(routerIndex).length > 0);
  const asked = speaking.length > 0 ? speaking : predictions.slice(0, 1);
  const part = (title: string, items: readonly SheetItem[]): Worksheet['parts'] => (items.length === 0 ? [] : [{ title, items }]);
  const table = interfaceTable(predictions, routerIndex, router);
  const own = (p: Prediction): Router => p.design.routers[routerIndex] ?? router;
  return {
    router: router.name,
    intro: [
      ...merged(
        asked,
        asked.map((p) => [item(introOf(p, routerIndex))]),
      ).map((x) => x.text),
      ...(predictions.length > 1 && speaking.length === 1 ? [`Only OSPFv${speaking[0]?.family === 6 ? 3 : 2} runs here.`] : []),
      ...(router.defaults.profile === undefined ? [] : [`Follows the profile “${router.defaults.profile}”.`]),
    ],
    parts: [
      ...(table.length > 1 ? [{ title: 'Interfaces', table }] : []),
      ...part('Areas', allAreas(predictions, routerIndex)),
      ...part(
        'Imported and announced',
        merged(
          asked,
          asked.map((p) => {
            const o = processOf(own(p));
            return o ? importItems(o) : [];
          }),
        ),
      ),
      ...part('Policies', policyItems(router)),
      ...part(
        'Static routes',
        predictions.flatMap((p) => own(p).staticRoutes.map((r) => item(staticLine(r)))),
      ),
      ...part(
        'OSPF process',
        merged(
          asked,
          asked.map((p) => processItems(p, routerIndex)),
        ),
      ),
    ],
  };
}

/** The worksheet of a router as a page of Markdown. */
export function worksheet(predictions: readonly Prediction[], routerIndex: number): string {
  const w = worksheetOf(predictions, routerIndex);
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
