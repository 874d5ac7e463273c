import * as v from 'valibot';
import type { ReadProblem } from './cursor';
import type { SourceDocument } from './documents';

/** Version of the design file that this program writes. */
export const compassVersion = 2;

const document = v.strictObject({ file: v.string(), tree: v.record(v.string(), v.unknown()), encoding: v.exactOptional(v.literal('xml')) });

const schema = v.strictObject({
  format: v.literal('gentle-compass'),
  version: v.literal(compassVersion),
  name: v.pipe(v.string(), v.maxLength(200)),
  /** Routers, the topology and the settings of the design, each a document of its own. */
  documents: v.array(document),
});

/** A whole design in one file: its name and every document behind it, its settings among them. */
export interface CompassFile {
  readonly name: string;
  readonly documents: readonly SourceDocument[];
}

/** What each old version needs to become the next one. Version 1 had no settings; nothing else changed. */
const migrations: Readonly<Record<number, (tree: Record<string, unknown>) => Record<string, unknown>>> = {
  1: (tree) => ({ ...tree, version: 2 }),
};

/** Writes a design as `*.compass.json`. */
export const writeCompass = (f: CompassFile): string =>
  `${JSON.stringify(
    {
      format: 'gentle-compass',
      version: compassVersion,
      name: f.name,
      documents: f.documents.map(({ file, tree, encoding }) => ({ file, tree, ...(encoding ? { encoding } : {}) })),
    },
    null,
    1,
  )}\n`;

/** Reads the parsed JSON of a `*.compass.json`, of this version or an older one; a fault names the place. */
export function readCompass(file: string, tree: Record<string, unknown>): CompassFile | ReadProblem {
  if (typeof tree.version === 'number' && tree.version > compassVersion)
    return {
      severity: 'error',
      file,
      path: 'version',
      message: `This design file has version ${tree.version}; this program knows versions up to ${compassVersion}.`,
      remedy: 'Open it with a newer Gentle Compass.',
    };
  let current = tree;
  for (let step = migrations[Number(current.version)]; step; step = migrations[Number(current.version)]) current = step(current);
  const result = v.safeParse(schema, current);
  if (result.success) return result.output;
  const issue = result.issues[0];
  return {
    severity: 'error',
    file,
    path: issue.path?.map((p) => String(p.key)).join('/') ?? '',
    at: issue.path?.map((p) => p.key as string | number) ?? [],
    message: `This design file does not have the shape it should: ${issue.message}.`,
    remedy: 'Export it again; if it was edited by hand, mend it at that place.',
  };
}
