import type { DesignView } from '../model/view';

/** Something that can be taken down: as it is typed, by name, and what it is. */
export interface Breakable {
  readonly word: string;
  readonly name: string;
  readonly about: string;
}

/** Everything that can be taken down from the list: links and LANs, who leads them, what shares a risk, then routers, then single interfaces. */
export function breakables(view: DesignView): Breakable[] {
  return [
    ...view.segments.map((s) => ({
      word: s.fail,
      name: s.kind === 'lan' ? `LAN ${s.members[0]?.iface ?? ''}` : s.members.map((m) => m.router).join(' – '),
      about: s.kind === 'lan' ? `${s.members.length} routers, ${s.subnets[0] ?? ''}` : (s.subnets[0] ?? 'link'),
    })),
    ...view.segments.flatMap((s) => {
      const [m] = s.kind === 'lan' ? s.members : [];
      return m ? [{ word: `leader:${m.router}/${m.iface}`, name: `leader of LAN ${m.iface}`, about: s.subnets[0] ?? 'whoever it is then' }] : [];
    }),
    ...view.risks.map((r) => ({ word: `group:${r.name}`, name: `shared risk ${r.name}`, about: r.members.join(', ') })),
    ...view.routers.map((r) => ({ word: `router:${r.name}`, name: r.name, about: 'router' })),
    ...view.routers.flatMap((r) =>
      r.interfaces.map((i) => ({ word: `interface:${r.name}/${i.name}`, name: `${r.name}/${i.name}`, about: i.addresses[0] ?? 'interface' })),
    ),
  ];
}

/** Every failure as it can be typed: what the list has, each router's end of a wire, and groups that share a risk. */
export const failureWords = (view: DesignView): string[] => [
  ...new Set([
    ...breakables(view).map((b) => b.word),
    ...view.routers.flatMap((r) => r.interfaces.flatMap((i) => ['link', 'lan'].map((kind) => `${kind}:${r.name}/${i.name}`))),
  ]),
];

/** Names of failures; the list of what can fail is made once for a view. */
export function namer(view: DesignView | undefined): (word: string) => string {
  const known = new Map(view ? breakables(view).map((b) => [b.word, b.name]) : []);
  return (word) => {
    if (view && word.startsWith('link:')) return linkName(view, word);
    if (word.startsWith('lan:')) return known.get(word) ?? `LAN ${word.slice(word.indexOf('/') + 1)}`;
    if (word.startsWith('leader:')) return known.get(word) ?? `leader at ${word.slice('leader:'.length)}`;
    return known.get(word) ?? word;
  };
}

/** A link by its two ends, an attachment to a LAN by its router. */
export function linkName(view: DesignView, word: string): string {
  const [router = '', iface = ''] = word.slice(word.indexOf(':') + 1).split('/');
  const segment = view.segments.find((s) => s.members.some((m) => m.router === router && m.iface === iface));
  return segment?.kind === 'cable' ? segment.members.map((m) => m.router).join(' – ') : `${router} on ${iface}`;
}

/** Lines of the map that a failure is drawn on: of a cable its segment, of an attachment to a LAN its router too, of a LAN its bar. */
export function linePlaces(view: DesignView, word: string): string[] {
  const colon = word.indexOf(':');
  const kind = word.slice(0, colon);
  if (!['link', 'lan', 'leader', 'interface'].includes(kind)) return [];
  const [router = '', iface = ''] = word.slice(colon + 1).split('/');
  const s = view.segments.find((x) => x.members.some((m) => m.router === router && m.iface === iface));
  if (!s) return [];
  return kind === 'link' && s.kind === 'lan' ? [`${s.index} ${router}`] : [String(s.index)];
}

/** Numbers of the shared risks of a design, in their order, on the lines and routers that are part of them. */
export function risksOnMap(view: DesignView): ReadonlyMap<string, string> {
  const out = new Map<string, string>();
  const put = (key: string, n: number): unknown => out.set(key, out.has(key) ? `${out.get(key) ?? ''},${n}` : String(n));
  view.risks.forEach((r, n) => {
    const places = r.words.flatMap((w) => (w.startsWith('router:') ? [w.slice('router:'.length)] : linesOfRisk(view, w)));
    for (const key of new Set(places)) put(key, n + 1);
  });
  return out;
}

/** Of a whole LAN the ways of all its routers to it. */
function linesOfRisk(view: DesignView, word: string): string[] {
  const [key = ''] = linePlaces(view, word);
  const s = view.segments.find((x) => String(x.index) === key);
  if (s?.kind !== 'lan') return key === '' ? [] : [key];
  if (word.startsWith('lan:')) return s.members.map((m) => `${s.index} ${m.router}`);
  return [`${s.index} ${word.slice(word.indexOf(':') + 1).split('/')[0] ?? ''}`];
}
