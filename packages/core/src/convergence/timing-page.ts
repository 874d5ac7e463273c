import { timingLeaves, type Span } from './timing-profile';

const spanWords = (s: Span): string => (typeof s === 'number' ? `${s}` : `${s[0]} to ${s[1]}`);

/** The page about times that no configuration tells, in Markdown. */
export const timingPage = (): string => `# How reconvergence is timed

\`converge\` and every expectation with \`within-ms\` simulate the network event by event: each router hears of a failure by carrier, BFD or
its dead interval, originates when MinLSInterval lets it, floods hop by hop, waits as its SPF schedule says, calculates from its own
databases, and writes its own table. Many runs with phases of timers drawn anew give the earliest, the typical (the lower median) and the
latest time; the same seed gives the same runs.

What documents say is taken from them: hello, dead and retransmit intervals, priorities, BFD, \`spf-schedule\` or \`ietf-spf-delay\`, whether
carrier loss is seen. What no document says comes from a *timing profile*, a JSON file of times in ms, each a number or \`[least, most]\`;
a time that is left out has the value below. What is assumed is a guess at present hardware: measure your own.

| name | what it is | ms | from | how to measure it |
|---|---|---:|---|---|
${timingLeaves.map((l) => `| \`${l.leaf}\` | ${l.words} | ${spanWords(l.plain)} | ${l.from === 'standard' ? 'RFC 2328' : 'assumed'} | ${l.measure} |`).join('\n')}

What the simulation leaves out: a router that is switched on takes part at once, with an empty database; a table is switched over when its
last changed prefix is written; version 3 floods a router's prefixes with its links; acknowledgements matter only where they are missing.
Advertisements of routers that are out of reach stay in databases for up to an hour, as they do in routers.
`;
