import type { LineChange } from '../compare/document-changes';

/** A name inside Markdown: nothing in it can end the cell or open markup. */
const plain = (text: string): string => text.replace(/[\\`*_{}[\]<>|#]/g, '\\$&').replace(/\s+/g, ' ');

/** A node of a router document in words: `OSPF campus, area 10, interface to-kelp-3: cost`. */
export function pathInWords(path: string): string {
  if (path === '') return 'the whole document';
  const steps = path.split(/\/(?![^[]*\])/).map((s) => {
    const m = /^([^[]+)\[(.*)\]$/.exec(s);
    return { name: m?.[1] ?? s, key: m?.[2] };
  });
  const silent = new Set([
    'system',
    'interfaces',
    'routing',
    'control-plane-protocols',
    'ospf',
    'areas',
    'ranges',
    'virtual-links',
    'routing-policy',
    'static-routes',
    'key-chains',
  ]);
  const words: string[] = [];
  const leaf: string[] = [];
  for (const { name, key } of steps) {
    if (key === undefined) {
      if (!silent.has(name)) leaf.push(name);
    } else if (name === 'control-plane-protocol') words.push(`protocol ${key}`);
    else if (name === 'area') words.push(key === '0.0.0.0' ? 'backbone' : `area ${key.replace(/^0\.0\.0\.(?=\d+$)/, '')}`);
    else words.push(`${name} ${key}`);
  }
  return `${words.join(', ')}${words.length > 0 && leaf.length > 0 ? ': ' : ''}${leaf.join(' ')}`;
}

/**
 * What to alter on each router to come from one state of a design to another, in plain words and values for any device: only
 * what differs, router by router, as Markdown.
 *
 * @param title  what the change is
 * @param lines  the lines that differ, as `documentChanges` gives them
 */
export function changeSheet(title: string, lines: readonly LineChange[]): string {
  const out = [`# ${plain(title)}`, ''];
  const routers = new Map<string, LineChange[]>();
  for (const l of lines) routers.set(l.router, [...(routers.get(l.router) ?? []), l]);
  out.push(
    routers.size === 0
      ? 'Nothing is to be altered.'
      : `To be altered on ${routers.size} ${routers.size === 1 ? 'router' : 'routers'}; everything that is not named here stays as it is. Keys are not shown.`,
  );
  for (const [router, own] of routers) {
    out.push('', `## ${plain(router)}`, '', '| done | where | before | now |', '| --- | --- | --- | --- |');
    for (const l of own) out.push(`| ☐ | ${plain(pathInWords(l.path))} | ${plain(l.from ?? 'not set')} | ${plain(l.to ?? 'take it out')} |`);
  }
  return `${out.join('\n')}\n`;
}
