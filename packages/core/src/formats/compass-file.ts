import * as v from 'valibot';
import type { ReadProblem } from './cursor';
import type { SourceDocument } from './read-set';

/** Version of the design file that this program writes. */
export const compassVersion = 1;

const schema = v.strictObject({
  format: v.literal('gentle-compass'),
  version: v.literal(compassVersion),
  name: v.pipe(v.string(), v.maxLength(200)),
  documents: v.array(v.strictObject({ file: v.string(), tree: v.record(v.string(), v.unknown()), encoding: v.exactOptional(v.literal('xml')) })),
});

/** A whole design in one file: its name and every document behind it. */
export interface CompassFile {
  readonly name: string;
  readonly documents: readonly SourceDocument[];
}

/** Writes a design as `*.compass.json`. */
export const writeCompass = (f: CompassFile): string =>
  `${JSON.stringify({ format: 'gentle-compass', version: compassVersion, name: f.name, documents: f.documents.map(({ file, tree, encoding }) => ({ file, tree, ...(encoding ? { encoding } : {}) })) }, null, 1)}\n`;

/** Reads the parsed JSON of a `*.compass.json`; a fault names the place. */
export function readCompass(file: string, tree: Record<string, unknown>): CompassFile | ReadProblem {
  if (typeof tree.version === 'number' && tree.version > compassVersion)
    return {
      severity: 'error',
      file,
      path: 'version',
      message: `This design file has version ${tree.version}; this program knows versions up to ${compassVersion}.`,
      remedy: 'Open it with a newer Gentle Compass.',
    };
  const result = v.safeParse(schema, tree);
  if (result.success) return result.output;
  const issue = result.issues[0];
  return {
    severity: 'error',
    file,
    path: issue.path?.map((p) => String(p.key)).join('/') ?? '',
    message: `This design file does not have the shape it should: ${issue.message}.`,
    remedy: 'Export it again; if it was edited by hand, mend it at that place.',
  };
}
