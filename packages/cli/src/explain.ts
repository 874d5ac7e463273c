import { say } from './say';
import { valuesOf } from '@gentle-compass/core/evidence/origins';
import { facingValues, pairWord, viewWords } from '@gentle-compass/core/evidence/neighbor-words';
import { routeEvidence, type EvidenceStep } from '@gentle-compass/core/evidence/route-evidence';
import { formatAddress, formatPrefix } from '@gentle-compass/core/prefix/address';
import { prefixNumber } from '@gentle-compass/core/documents/leaf-types';
import { prefixId } from '@gentle-compass/core/prefix/prefix-book';
import { predictFamilies, type Prediction } from '@gentle-compass/core/predict';
import { coveringRoute } from '@gentle-compass/core/compare/compare';
import { findingsOf } from '@gentle-compass/core/findings/catalogue';
import { readInput } from './predict';
import { Unusable } from './unusable';

function stepText(s: EvidenceStep): string[] {
  switch (s.kind) {
    case 'own-table':
      return [
        `the table takes it from ${s.source} (preference ${s.preference})${s.passedOver.map((p) => `, before ${p.source} (${p.preference})`).join('')}`,
      ];
    case 'rule':
      return [
        `OSPF has it as ${s.type} at cost ${s.metric}${s.forwardMetric === undefined ? '' : `, ${s.forwardMetric} to the exit`}, by way of area ${s.area} (${s.rule})`,
      ];
    case 'advertisement':
      return [`type ${s.lsa.type} ${s.lsa.id} of ${s.origin.router} (${s.lsa.adv}): it ${s.says}`];
    case 'path':
      return s.steps.length < 2
        ? ['it is the router itself']
        : [
            `the tree reaches ${s.to} at ${s.distance}${s.alsoVia > 0 ? ', over more than one equal way; one of them' : ''}:`,
            ...s.steps.map((x) => `    ${String(x.distance).padStart(5)}  ${x.router}`),
          ];
    case 'discard':
      return [
        `${s.origin.router} summarises ${s.origin.node === 'ranges' ? `area ${s.origin.area}` : 'externals'} so, and drops what no part takes; its parts: ${s.parts.slice(0, 6).join(', ')}${s.parts.length > 6 ? `, and ${s.parts.length - 6} more` : ''}`,
      ];
    case 'at-border':
      return [`at ${s.router} itself: ${s.prefixes.slice(0, 6).join(', ')}${s.prefixes.length > 6 ? `, and ${s.prefixes.length - 6} more` : ''}`];
  }
}

function explainPrefix(p: Prediction, router: number, text: string, json: boolean): string {
  const typed = prefixNumber.read(text);
  if (!typed) throw new Unusable(`"${text}" is no prefix; write 10.96.64.0/18 (or with a mask), 2001:db8:10::/48, or an address.`);
  const name = p.design.routers[router]?.name ?? '';
  const exact = routeEvidence(p, router, prefixId(typed.bits, typed.length));
  const covering = exact ? undefined : coveringRoute(p.rib(router), typed);
  const evidence = exact ?? (covering && routeEvidence(p, router, covering.key));
  if (json) return `${JSON.stringify({ router: name, asked: formatPrefix(typed), evidence: evidence ?? null }, null, 2)}\n`;
  if (!evidence) return `${name} has no route to ${formatPrefix(typed)}, and none that covers it.\n`;
  const head = exact ? `${name} ${evidence.prefix}` : `${name} has no route to ${formatPrefix(typed)} itself; ${evidence.prefix} covers it`;
  return `${[head, ...evidence.steps.flatMap((s) => stepText(s).map((l) => `  ${l}`))].join('\n')}\n`;
}

const originWords = { written: '', profile: ' (profile)', standard: ' (standard)', rule: ' (rule)' } as const;

function explainInterface(
  predictions: readonly Prediction[],
  router: number,
  iface: string,
  json: boolean,
  documents: Parameters<typeof findingsOf>[1],
): string {
  const [p] = predictions;
  if (!p) return '';
  const name = p.design.routers[router]?.name ?? '';
  if (!p.design.routers[router]?.interfaces.some((i) => i.name === iface))
    throw new Unusable(
      `router ${name} has no interface "${iface}"; it has ${p.design.routers[router]?.interfaces.map((i) => i.name).join(', ') ?? 'none'}.`,
    );
  const pairs = predictions.flatMap((one) =>
    one.adjacencies.pairs
      .filter((x) => [x.a, x.b].some((v) => v.port.routerIndex === router && v.port.iface.name === iface))
      .map((x) => ({ ...x, version: one.family === 6 ? 3 : 2 })),
  );
  const findings = findingsOf(predictions, documents, false).filter((f) => f.where.some((w) => w.router === name && w.interface === iface));
  const views = pairs.map((x) => ({
    version: x.version,
    a: {
      router: p.design.routers[x.a.port.routerIndex]?.name ?? '',
      interface: x.a.port.iface.name,
      'router-id': formatAddress(x.a.port.routerId),
      state: x.a.state,
      because: viewWords(x.a),
    },
    b: {
      router: p.design.routers[x.b.port.routerIndex]?.name ?? '',
      interface: x.b.port.iface.name,
      'router-id': formatAddress(x.b.port.routerId),
      state: x.b.state,
      because: viewWords(x.b),
    },
    word: pairWord(x).word,
    values: facingValues(x),
  }));
  const values = valuesOf(p, router).filter((v) => v.iface === iface);
  if (json) return `${JSON.stringify({ router: name, interface: iface, values, pairs: views, findings }, null, 2)}\n`;
  const lines = [`${name}/${iface}${views.length === 0 ? ': nobody in OSPF shares its wire' : ''}`];
  for (const v of views) {
    lines.push(
      `  ${v.a.router} and ${v.b.router}${predictions.length > 1 ? `, OSPFv${v.version}` : ''}: ${v.word}`,
      `    ${v.a.router} rests in ${v.a.state}: ${v.a.because}`,
      `    ${v.b.router} rests in ${v.b.state}: ${v.b.because}`,
    );
    for (const x of v.values)
      lines.push(
        `    ${x.match === 'apart' ? '!' : ' '} ${x.name.padEnd(15)} ${`${x.a}${originWords[x.aFrom]}`.padEnd(26)} ${x.b}${originWords[x.bFrom]}`,
      );
  }
  if (views.length === 0) for (const v of values) lines.push(`    ${v.what.padEnd(20)} ${v.value}${originWords[v.origin]}`);
  for (const f of findings) lines.push(`  ${f.severity}: ${f.message}`, ...f.repairs.map((r) => `    mend: ${r.title}`));
  return `${lines.join('\n')}\n`;
}

/** `explain PATH… ROUTER PREFIX` or `explain PATH… ROUTER/IFACE`: the whole chain of evidence. */
export function explainCommand(args: readonly string[], json: boolean): number {
  const last = args.at(-1) ?? '';
  const slash = /^[^/]+\/[^/]+$/.test(last) && !/^\d+(\.\d+){3}\//.test(last) && prefixNumber.read(last) === undefined;
  const paths = args.slice(0, slash ? -1 : -2);
  if (paths.length === 0) throw new Unusable('write: explain PATH… ROUTER PREFIX, or explain PATH… ROUTER/INTERFACE.');
  const read = readInput(paths);
  const predictions = predictFamilies(read.design);
  const p = predictions.find((x) => x.family === (!slash && last.includes(':') ? 6 : 4));
  if (!p) throw new Unusable('nothing in this design routes IPv6.');
  const name = slash ? (last.split('/')[0] ?? '') : (args.at(-2) ?? '');
  const router = p.routerIndex(name);
  if (router < 0)
    throw new Unusable(
      `there is no router "${name}"; known are ${read.design.routers
        .slice(0, 12)
        .map((r) => r.name)
        .join(', ')}.`,
    );
  say(slash ? explainInterface(predictions, router, last.split('/')[1] ?? '', json, read.documents) : explainPrefix(p, router, last, json));
  return 0;
}
