import { say, tell } from './say';
import { Command, CommanderError } from 'commander';
import { checkCommand } from './check';
import { convergeCommand } from './converge';
import { explainCommand } from './explain';
import { csvTables } from '@gentle-compass/core/reports/csv-tables';
import { whatIfTables } from '@gentle-compass/core/reports/what-if-tables';
import { generateCommand } from './generate';
import { summarizeCommand } from './summarize';
import { tableCommand, worksheetCommand } from './table';
import { traceCommand } from './trace';
import { matrixCommand } from './matrix';
import { sweepCommand } from './sweep';
import { predictCommand } from './predict';
import { Unusable } from './unusable';
import { callerError } from './caller-error';
import { readFileSync } from 'node:fs';

const collectOption = (value: string, before: string[]): string[] => [...before, value];

function program(done: (code: number) => void): Command {
  const cli = new Command('gentle-compass')
    .description('Predicts what an OSPF campus comes to rest in, and checks what its routers must agree on.')
    .exitOverride()
    .configureOutput({ writeOut: (text) => void say(text), writeErr: (text) => void tell(text) })
    .showHelpAfterError('(gentle-compass --help lists the commands)');
  cli
    .command('predict')
    .description('neighbours, leaders, databases and route tables of every router')
    .argument('<path...>', 'files, folders or .zip of router documents; - for standard input')
    .option(
      '--fail <spec>',
      'link:ROUTER/IFACE, interface:ROUTER/IFACE, lan:ROUTER/IFACE, leader:ROUTER/IFACE, router:ROUTER or group:NAME; repeatable, in order',
      collectOption,
      [],
    )
    .option('--router <name>', 'only this router; repeatable', collectOption, [])
    .option('--start-order <file>', 'host names in order of start, one a line')
    .option('--now <date-and-time>', 'moment at which key lifetimes are judged, as in 2026-05-01T06:00:00Z')
    .option('--json', 'the whole prediction as JSON')
    .action(async (paths: string[], o: { fail: string[]; router: string[]; startOrder?: string; now?: string; json?: boolean }) => {
      done(
        await predictCommand(paths, {
          fail: o.fail,
          routers: o.router,
          startOrder: o.startOrder === undefined ? undefined : readFileSync(o.startOrder, 'utf8').split(/\s+/).filter(Boolean),
          json: o.json ?? false,
          now: o.now,
        }),
      );
    });
  cli
    .command('check')
    .description('what will not work, why, and the smallest edit that mends it')
    .argument('<path...>', 'files, folders or .zip of router documents; - for standard input')
    .option('--expect <file>', 'a file with expectations, checked beside those of the input')
    .option('--now <date-and-time>', 'moment at which key lifetimes are judged, as in 2026-05-01T06:00:00Z')
    .option('--format <format>', 'text, json, sarif or junit', 'text')
    .action((paths: string[], o: { format: string; expect?: string; now?: string }) => {
      done(checkCommand(paths, o.format, o.expect, o.now));
    });
  cli
    .command('explain')
    .description('why a route or a neighbour is as it is: PATH… ROUTER PREFIX, or PATH… ROUTER/INTERFACE')
    .argument('<words...>', 'the input, then the router and prefix, or router/interface')
    .option('--json', 'the evidence as JSON')
    .action((words: string[], o: { json?: boolean }) => {
      done(explainCommand(words, o.json ?? false));
    });
  cli
    .command('trace')
    .description('every equal way of a packet from an address to another, and the way back')
    .argument('<path...>', 'files, folders or .zip of router documents; - for standard input')
    .requiredOption('--from <address>', 'source address; a host starts at every router of its LAN')
    .requiredOption('--to <address>', 'destination address')
    .option('--at <router>', 'the one router where it starts')
    .option('--fail <spec>', 'what is down, as for predict; repeatable', collectOption, [])
    .option('--json', 'as JSON')
    .action((paths: string[], o: { from: string; to: string; at?: string; fail: string[]; json?: boolean }) => {
      done(traceCommand(paths, { from: o.from, to: o.to, at: o.at, fail: o.fail, json: o.json ?? false }));
    });
  cli
    .command('matrix')
    .description('which addresses reach which others, there and back: loopbacks, or what the groups of a file name')
    .argument('<path...>', 'files, folders or .zip of router documents; - for standard input')
    .option('--groups <file>', 'JSON with groups of addresses, in the place of all loopbacks')
    .option('--family <family>', '4 or 6; both without it')
    .option('--fail <spec>', 'what is down, as for predict; repeatable', collectOption, [])
    .option('--json', 'as JSON')
    .action(async (paths: string[], o: { groups?: string; family?: string; fail: string[]; json?: boolean }) => {
      done(await matrixCommand(paths, { groups: o.groups, family: o.family, fail: o.fail, json: o.json ?? false }));
    });
  cli
    .command('sweep')
    .description('every single failure, or every two together: what each cuts, breaks and makes longer')
    .argument('<path...>', 'files, folders or .zip of router documents; - for standard input')
    .option('--kinds <kinds>', 'links, routers, borders, lans, groups, separated by commas; all but borders without it')
    .option('--pairs', 'every two of them together, too')
    .option('--expect <file>', 'a file with expectations, judged beside those of the input')
    .option('--demands <file>', 'CSV of traffic with the columns from, to and mbps, carried beside that of the input')
    .option('--format <format>', 'text, json or junit', 'text')
    .action(async (paths: string[], o: { kinds?: string; pairs?: boolean; expect?: string; demands?: string; format: string }) => {
      done(await sweepCommand(paths, { kinds: o.kinds, pairs: o.pairs ?? false, expect: o.expect, demands: o.demands, format: o.format }));
    });
  cli
    .command('converge')
    .description('how long the network takes after failures and returns: every router, watched packets, loops; by many simulated runs')
    .argument('<path...>', 'files, folders or .zip of router documents; - for standard input')
    .option('--fail <spec@ms>', 'what fails, as for predict, and when in ms from the first event (0); repeatable', collectOption, [])
    .option('--restore <spec@ms>', 'what returns; what was not failed before is down at the beginning; repeatable', collectOption, [])
    .option('--profile <file>', 'JSON of times that no configuration tells; what it leaves out is assumed')
    .option('--seed <n>', 'the same seed gives the same runs', '1')
    .option('--runs <n>', 'how many runs', '100')
    .option('--watch <from,to>', 'two addresses whose packets are followed; repeatable', collectOption, [])
    .option('--family <family>', '4 or 6; both without it')
    .option('--json', 'as JSON')
    .action(
      async (
        paths: string[],
        o: { fail: string[]; restore: string[]; profile?: string; seed: string; runs: string; watch: string[]; family?: string; json?: boolean },
      ) => {
        done(await convergeCommand(paths, { ...o, profile: o.profile, family: o.family, json: o.json ?? false }));
      },
    );
  cli
    .command('summarize')
    .description('the best summaries of an area, exactly: fewest prefixes outside, least foreign, fewest addresses')
    .argument('<path...>', 'files, folders or .zip of router documents; - for standard input')
    .requiredOption('--area <id>', 'the area, as in 20 or 0.0.0.20')
    .requiredOption('--at-most <k>', 'summaries at most')
    .option('--leave-out <prefix>', 'a prefix that needs no summary, with all that it contains; repeatable', collectOption, [])
    .option('--allow-foreign <n>', 'foreign prefixes that each summary may hold', '0')
    .option('--reserve <prefix>', 'a prefix that will be there one day; repeatable', collectOption, [])
    .option('--family <family>', '4 or 6; without it 4 where the area has IPv4')
    .option('--json', 'as JSON')
    .action(
      (
        paths: string[],
        o: { area: string; atMost: string; leaveOut: string[]; allowForeign: string; reserve: string[]; family?: string; json?: boolean },
      ) => {
        done(summarizeCommand(paths, { ...o, family: o.family, json: o.json ?? false }));
      },
    );
  cli
    .command('table')
    .description('one table of the prediction as CSV')
    .argument('<path...>', 'files, folders or .zip of router documents; - for standard input')
    .requiredOption('--of <table>', [...csvTables, ...whatIfTables].join(', '))
    .option('--router <name>', 'for routes, loads and alternates: only of this router; repeatable', collectOption, [])
    .option('--fail <spec>', 'what is down, as for predict; repeatable', collectOption, [])
    .option('--demands <file>', 'for loads: CSV of traffic with the columns from, to and mbps, carried beside that of the input')
    .action(async (paths: string[], o: { of: string; router: string[]; fail: string[]; demands?: string }) => {
      done(await tableCommand(paths, { of: o.of, routers: o.router, fail: o.fail, demands: o.demands }));
    });
  cli
    .command('worksheet')
    .description('what to set on each router, in plain words and values, as Markdown')
    .argument('<path...>', 'files, folders or .zip of router documents; - for standard input')
    .option('--router <name>', 'only this router; repeatable', collectOption, [])
    .option('--out <folder>', 'one file a router into this folder')
    .action((paths: string[], o: { router: string[]; out?: string }) => {
      done(worksheetCommand(paths, o.router, o.out));
    });
  cli
    .command('generate')
    .description('the router documents of a believable campus of any size')
    .requiredOption('--routers <n>', 'how many routers')
    .requiredOption('--areas <n>', 'how many areas beside the backbone')
    .option('--seed <n>', 'the same numbers and seed give the same campus', '1')
    .requiredOption('--out <folder>', 'an empty or new folder')
    .action((o: { routers: string; areas: string; seed: string; out: string }) => {
      done(generateCommand(o));
    });
  return cli;
}

/** Runs a call; gives its exit code: 0 done, 1 trouble found by `check`, 2 unusable input or call, 70 a fault of ours. */
export async function main(args: readonly string[]): Promise<number> {
  let code = 0;
  const cli = program((c) => {
    code = c;
  });
  try {
    await cli.parseAsync([...args], { from: 'user' });
    return code;
  } catch (e) {
    if (e instanceof CommanderError) return e.exitCode === 0 ? 0 : 2;
    const mistake = e instanceof Unusable ? e.message : callerError(e);
    if (mistake !== undefined) {
      tell(`gentle-compass: ${mistake}\n`);
      return 2;
    }
    tell(`gentle-compass: a fault of ours: ${e instanceof Error ? (e.stack ?? e.message) : String(e)}\n`);
    return 70;
  }
}
