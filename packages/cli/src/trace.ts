import { say } from './say';
import { formatAddress, isSix } from '@gentle-compass/core/prefix/address';
import { predict } from '@gentle-compass/core/predict';
import { Forwarding } from '@gentle-compass/core/reach/forwarding';
import { trace, type Walk } from '@gentle-compass/core/reach/trace';
import { addressOf } from './address';
import { failuresOf } from './failures';
import { readInput } from './predict';
import { Unusable } from './unusable';

export interface TraceCall {
  readonly from: string;
  readonly to: string;
  readonly at: string | undefined;
  readonly fail: readonly string[];
  readonly json: boolean;
}

const walkJson = (w: Walk): object => ({
  fate: w.fate,
  branches: w.branches.map((b) => ({
    fate: b.fate,
    reason: b.reason,
    hops: b.hops.map((h) => ({
      router: h.router,
      route: h.route,
      'out-interface': h.outInterface,
      'next-hop': h.nextHop === null ? null : formatAddress(h.nextHop),
    })),
  })),
});

const walkText = (title: string, w: Walk): string[] => [
  `${title}: ${w.fate}${w.cut ? ` (the first ${w.branches.length} ways)` : ''}`,
  ...w.branches.map((b) => `  ${b.fate.padEnd(9)} ${b.hops.map((h) => h.router).join(' > ')}${b.reason === '' ? '' : `: ${b.reason}`}`),
];

/** `trace`: every equal way of a packet from a source address to a destination, and the way back. */
export function traceCommand(paths: readonly string[], call: TraceCall): number {
  const [from, to] = [addressOf(call.from), addressOf(call.to)];
  if (isSix(from) !== isSix(to)) throw new Unusable(`${call.from} and ${call.to} are of two families; a packet has one.`);
  const specs = failuresOf(call.fail);
  const p = predict(readInput(paths).design, specs, isSix(from) ? { family: 6 } : {});
  if (p.problems.length > 0) throw new Unusable(p.problems.join(' '));
  const at = call.at === undefined ? undefined : p.routerIndex(call.at);
  if (at === -1) throw new Unusable(`there is no router "${call.at ?? ''}".`);
  const t = trace(new Forwarding(p), from, to, at);
  say(
    call.json
      ? `${JSON.stringify({ forward: walkJson(t.forward), return: walkJson(t.return) }, null, 2)}\n`
      : `${[...walkText(`${call.from} to ${call.to}`, t.forward), ...walkText(`${call.to} back to ${call.from}`, t.return)].join('\n')}\n`,
  );
  return 0;
}
