/** A time in ms: one, or any between two. */
export type Span = number | readonly [least: number, most: number];

/** How long things take that no configuration tells. Times in ms. */
export interface TimingProfile {
  readonly carrierDetect: Span;
  readonly linkDelay: Span;
  readonly pacing: Span;
  readonly lsaProcessing: Span;
  readonly ackDelay: Span;
  readonly minLsInterval: Span;
  readonly minLsArrival: Span;
  readonly spfBase: Span;
  readonly spfPerRouter: Span;
  readonly installBase: Span;
  readonly installPerPrefix: Span;
}

/** One time of a profile, as files and pages name it. */
export interface TimingLeaf {
  readonly key: keyof TimingProfile;
  /** Its name in a file. */
  readonly leaf: string;
  /** What it is, for people. */
  readonly words: string;
  readonly plain: Span;
  /** What the plain value stands on. */
  readonly from: 'standard' | 'assumed';
  /** How to find one's own. */
  readonly measure: string;
}

/** Every time of a profile with its plain value. */
export const timingLeaves: readonly TimingLeaf[] = [
  {
    key: 'carrierDetect',
    leaf: 'carrier-detect-ms',
    words: 'from the loss or return of the light to the moment the router’s OSPF hears of it',
    plain: [8, 16],
    from: 'assumed',
    measure: 'Pull a cable that carries a stream of packets every millisecond over a second equal way: what is lost is this time.',
  },
  {
    key: 'linkDelay',
    leaf: 'link-delay-ms',
    words: 'a packet’s way over one link',
    plain: [0.05, 0.4],
    from: 'assumed',
    measure: 'Half of a ping across the link; 5 µs for each kilometre of fibre.',
  },
  {
    key: 'pacing',
    leaf: 'pacing-ms',
    words: 'how long a router gathers advertisements before it sends an update',
    plain: [0, 1],
    from: 'assumed',
    measure: 'Capture updates on two links of a router: the time from the arrival of one to its departure, less processing.',
  },
  {
    key: 'lsaProcessing',
    leaf: 'lsa-processing-ms',
    words: 'taking in one advertisement',
    plain: [0.05, 0.3],
    from: 'assumed',
    measure: 'The same capture with updates of one and of fifty advertisements: the difference, divided.',
  },
  {
    key: 'ackDelay',
    leaf: 'ack-delay-ms',
    words: 'how long an acknowledgement is held back',
    plain: [0, 1000],
    from: 'assumed',
    measure: 'Capture updates and their acknowledgements on one link.',
  },
  {
    key: 'minLsInterval',
    leaf: 'min-ls-interval-ms',
    words: 'MinLSInterval: the least time between two originations of one advertisement',
    plain: 5000,
    from: 'standard',
    measure: 'Change a cost twice within a second and capture: when the second change leaves the router.',
  },
  {
    key: 'minLsArrival',
    leaf: 'min-ls-arrival-ms',
    words: 'MinLSArrival: the least time between two instances of one advertisement that a router takes in',
    plain: 1000,
    from: 'standard',
    measure: 'It is in the router’s documentation; RFC 2328 says one second.',
  },
  {
    key: 'spfBase',
    leaf: 'spf-base-ms',
    words: 'one calculation, however small',
    plain: [0.1, 1],
    from: 'assumed',
    measure: 'Routers log how long their calculations take: that of the smallest area.',
  },
  {
    key: 'spfPerRouter',
    leaf: 'spf-per-router-ms',
    words: 'one calculation, for each router in its areas',
    plain: [0.005, 0.03],
    from: 'assumed',
    measure: 'The log’s times of a small and of a large area: the difference, divided.',
  },
  {
    key: 'installBase',
    leaf: 'install-base-ms',
    words: 'writing changed routes into the forwarding table, however few',
    plain: [0.2, 1.5],
    from: 'assumed',
    measure: 'A stream of packets over a path that changes by cost: from the end of the calculation to the first packet on the new path.',
  },
  {
    key: 'installPerPrefix',
    leaf: 'install-per-prefix-ms',
    words: 'the same, for each prefix that changes',
    plain: [0.01, 0.05],
    from: 'assumed',
    measure: 'The same with a hundred and with a thousand prefixes behind the change: the difference, divided.',
  },
];

/** The profile that holds where none is given. */
export const plainProfile: TimingProfile = Object.fromEntries(timingLeaves.map((l) => [l.key, l.plain])) as unknown as TimingProfile;

const isTime = (x: unknown): x is number => typeof x === 'number' && Number.isFinite(x) && x >= 0 && x <= 3_600_000;

/** Reads the times of a profile; what is left out is plain. Texts say what is wrong with it, where, and what to write. */
export function readProfile(tree: unknown): { readonly profile: TimingProfile; readonly problems: readonly string[] } {
  const known = timingLeaves.map((l) => l.leaf).join(', ');
  if (typeof tree !== 'object' || tree === null || Array.isArray(tree))
    return { profile: plainProfile, problems: [`A timing profile is an object of times in ms; its names are ${known}.`] };
  const problems: string[] = [];
  const times: Record<string, Span> = {};
  for (const [name, value] of Object.entries(tree)) {
    const leaf = timingLeaves.find((l) => l.leaf === name);
    if (!leaf) problems.push(`"${name}" is no time of a profile; its names are ${known}.`);
    else if (isTime(value)) times[leaf.key] = value;
    else if (Array.isArray(value) && value.length === 2 && isTime(value[0]) && isTime(value[1]) && value[0] <= value[1])
      times[leaf.key] = [value[0], value[1]];
    else problems.push(`"${name}" is no time: write a number of ms from 0 to 3,600,000, or [least, most] of two such numbers.`);
  }
  return { profile: { ...plainProfile, ...times }, problems };
}

/** A profile as a file holds it. */
export const writeProfile = (p: TimingProfile): Record<string, Span> => Object.fromEntries(timingLeaves.map((l) => [l.leaf, p[l.key]]));
