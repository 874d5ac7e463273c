import type { Origin } from '../design/defaults';
import type { Edit } from '../design/edit';

export const severities = ['error', 'warning', 'note'] as const;
export type Severity = (typeof severities)[number];

/** A node of a router document that has a part in a finding. */
export interface Place {
  readonly router: string;
  /** The document's words for the node, as `…/interface[to-kelp-4]/dead-interval`. */
  readonly path: string;
  readonly interface?: string;
  readonly area?: string;
  /** File of the document, and where in its text the node begins (1-based). */
  readonly file?: string;
  readonly line?: number;
  readonly column?: number;
}

/** One value that a conclusion rests on. Times in seconds, sizes in octets. */
export interface Evidence {
  readonly router: string;
  readonly what: string;
  readonly value: string;
  /** Whether the document wrote it, the router's profile or a standard gives it, or it was worked out. */
  readonly origin: Origin | 'computed';
}

/** What a finding does to this network, by predicting with and without it. */
export interface Consequence {
  readonly 'routes-lost': number;
  readonly 'routes-changed': number;
  readonly routers: readonly string[];
}

/** A way to mend a finding: edits as data, applied together. */
export interface Repair {
  readonly title: string;
  /** The router in whose document it is made. */
  readonly router: string;
  readonly edits: readonly Edit[];
}

/** A packet that shows what a finding is about: from a router to an address. */
export interface Example {
  readonly from: string;
  readonly to: string;
}

/** One thing that an engineer would want otherwise. `id` is stable: rule and places. */
export interface Finding {
  readonly id: string;
  readonly rule: string;
  readonly severity: Severity;
  /** 6: about IPv6 and OSPFv3. */
  readonly family?: 6;
  /** Id of the finding that explains this one: with that mended this is gone too; `null` for one that stands for itself. */
  readonly 'caused-by': string | null;
  /** What it is about, where one place may have several findings of the rule. */
  readonly topic?: string;
  readonly where: readonly Place[];
  /** One line: what is wrong, with the values. */
  readonly message: string;
  /** What would be seen on the devices. */
  readonly seen?: string;
  readonly evidence: readonly Evidence[];
  readonly consequence: Consequence;
  /** A way that shows it. */
  readonly example?: Example;
  readonly repairs: readonly Repair[];
  readonly rfc: string;
  /** Of message and evidence: an acceptance holds while this stays. */
  readonly digest: string;
  /** Looked at and taken as it is. */
  readonly accepted?: { readonly note: string };
  /** Was accepted, and its evidence is another now. */
  readonly returned?: { readonly note: string };
}

/** A finding before its consequence is known. */
export type Draft = Omit<Finding, 'id' | 'caused-by' | 'consequence' | 'digest' | 'accepted' | 'returned'>;

const shortPath = (path: string): string => path.replace(/^.*\/ospf\//, '').replace(/^.*\/ospf$/, '');

/** The stable identity of a finding: its rule, the routers and interfaces (or nodes) it stands at, and what it is about where one place may have several. */
export const findingId = (d: Pick<Draft, 'rule' | 'where' | 'topic' | 'family'>): string =>
  `${d.rule}:${d.where.map((w) => [w.router, w.interface ?? shortPath(w.path)].filter(Boolean).join('/')).join('+')}${d.topic === undefined ? '' : `:${d.topic}`}${d.family === 6 ? ':IPv6' : ''}`;
