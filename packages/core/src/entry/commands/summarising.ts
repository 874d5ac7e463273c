import { formatPrefix, type Prefix } from '../../prefix/address';
import { container, listIn, member, setMember, type Json } from '../../design/draft';
import { isPrefix } from '../references';
import { areaText, Refusal, type Site } from '../site';
import type { Reader } from '../words';
import { whereWords } from './change';
import type { CommandKind } from './command';
import { metricLeaves, metricOptions, routersUntil, type Metric } from './outside';

/** Routers of an area that stand on its border, as their documents have them. */
const bordersOf = (site: Site, area: number): string[] =>
  site.design.routers.filter((r) => site.areasOf(r).length > 1 && site.areasOf(r).some((a) => a.id === area)).map((r) => r.name);

/** Puts a range into a list, in the place of one of its prefix, or takes that out; says whether there was one. */
function putRange(list: Json[], prefix: Prefix, made: Json | undefined): boolean {
  const known = list.findIndex((x) => isPrefix(member(x, 'prefix'), prefix));
  if (made === undefined) {
    if (known >= 0) list.splice(known, 1);
  } else if (known >= 0) list[known] = made;
  else list.push(made);
  return known >= 0;
}

/** A summary of an area at its border routers. */
function ofArea(r: Reader, prefix: Prefix): (site: Site) => string {
  const area = r.area();
  let cost: number | undefined;
  let hidden = false;
  let off = false;
  r.options({
    cost: { help: 'a fixed cost instead of that of its parts', read: () => (cost = r.number('cost', 0, 16_777_214)) },
    hidden: { help: 'not told at all', read: () => (hidden = true) },
    off: { help: 'take the range away', read: () => (off = true) },
  });
  return (site) => {
    const borders = bordersOf(site, area);
    if (borders.length === 0) throw new Refusal(`${areaText(area)} has no border router: a summary is written where two areas meet.`);
    let found = 0;
    for (const n of borders) {
      const entry = site.open(n).area(area);
      if (!entry) continue;
      const list = listIn(container(entry, 'ranges'), 'range');
      const made: Json = { prefix: formatPrefix(prefix), ...(hidden ? { advertise: false } : {}), ...(cost === undefined ? {} : { cost }) };
      if (putRange(list, prefix, off ? undefined : made)) found++;
      if (list.length === 0) setMember(entry, 'ranges', undefined);
    }
    if (off && found === 0) throw new Refusal(`No border router of ${areaText(area)} has the range ${formatPrefix(prefix)}.`);
    return off
      ? `Range ${formatPrefix(prefix)} of ${areaText(area)} taken away on ${whereWords(borders)}`
      : `${areaText(area)} summarised as ${formatPrefix(prefix)} on ${whereWords(borders)}${cost === undefined ? '' : `, cost ${cost}`}${hidden ? ', hidden' : ''}`;
  };
}

/** A summary of what boundary routers announce, and translators translate. */
function ofOutside(r: Reader, prefix: Prefix): (site: Site) => string {
  const names = routersUntil(r, ['metric', 'type', 'tag', 'hidden', 'off']);
  const m: Metric = {};
  let tag: number | undefined;
  let hidden = false;
  r.options({
    ...metricOptions(r, m),
    tag: { help: 'route tag', read: () => (tag = r.number('tag', 0, 4_294_967_295)) },
    hidden: { help: 'not told at all', read: () => (hidden = true) },
  });
  return (site) => {
    let found = 0;
    for (const n of names) {
      const ospf = site.open(n).ospf(site.processName);
      const list = listIn(ospf, 'gentle-compass:external-ranges');
      // Type and tag stay as they are, where the line says nothing of them.
      const old = list.find((x) => isPrefix(member(x, 'prefix'), prefix));
      const kept = Object.fromEntries(
        ['metric-type', 'tag'].flatMap((leaf) => (old && member(old, leaf) !== undefined ? [[leaf, member(old, leaf)]] : [])),
      );
      const made: Json = {
        ...kept,
        prefix: formatPrefix(prefix),
        ...(hidden ? { advertise: false } : {}),
        ...metricLeaves(m),
        ...(tag === undefined ? {} : { tag }),
      };
      if (putRange(list, prefix, m.off === true ? undefined : made)) found++;
      if (list.length === 0) setMember(ospf, 'external-ranges', undefined);
    }
    if (m.off === true && found === 0)
      throw new Refusal(
        `${names.length === 1 ? `${names[0] ?? ''} has no` : 'None of these routers has the'} external range ${formatPrefix(prefix)}.`,
      );
    return m.off === true
      ? `External range ${formatPrefix(prefix)} taken away on ${whereWords(names)}`
      : `What ${whereWords(names)} announce${names.length === 1 ? 's' : ''} summarised as ${formatPrefix(prefix)}${m.metric === undefined ? '' : `, metric ${m.metric}`}${hidden ? ', hidden' : ''}`;
  };
}

/** `range 10.96.64.0/18 area 20`: a summary at the border routers of an area; `outside on ...`: one of what boundary routers announce. */
export const range: CommandKind = {
  verb: 'range',
  help: 'summarise an area at its border routers, or what boundary routers announce, or cease to',
  form: 'range PREFIX area AREA [cost COST] [hidden] [off], or range PREFIX outside on ROUTER... [metric METRIC] [type TYPE] [tag TAG] [hidden] [off]',
  example: 'range 10.96.64.0/18 area 20 cost 640',
  read(r) {
    const prefix = r.prefix('prefix');
    const of = r.oneOf(
      [
        { text: 'area', help: 'the area that is summarised' },
        { text: 'outside', help: 'what boundary routers announce, and translators translate' },
      ],
      'what is summarised',
    );
    return of === 'area' ? ofArea(r, prefix) : ofOutside(r, prefix);
  },
};
