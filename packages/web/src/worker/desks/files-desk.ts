import { zipDocuments, zipTexts } from '@gentle-compass/core/documents/archive';
import { writeCompass } from '@gentle-compass/core/documents/compass-file';
import { documentText, type InputFile, type SourceDocument } from '@gentle-compass/core/documents/documents';
import { holdsKeys, redactKeys } from '@gentle-compass/core/documents/key-digest';
import { designFrom, readDocuments } from '@gentle-compass/core/formats/read-set';
import { generateCampus, type CampusSize } from '@gentle-compass/core/generate/generate-campus';
import { tableOf, writeCsv } from '@gentle-compass/core/reports/csv';
import type { CsvTable } from '@gentle-compass/core/reports/csv-tables';
import { worksheet } from '@gentle-compass/core/reports/worksheet';
import type { ImportOutcome, StoredDocuments } from '../../model/view';
import type { Held } from '../held';

/** What comes in and what leaves. */
export class FilesDesk {
  constructor(private readonly held: Held) {}

  /** Reads files that a user brings; the open design is not touched. */
  readFiles(files: readonly InputFile[], name: string): ImportOutcome {
    const { documents, problems, name: inside } = readDocuments(files);
    const read = designFrom(documents, { clock: Date.now() });
    const all = [...problems, ...read.problems];
    const outcome = { problems: all, notUsed: read.notUsed, routers: read.design.routers.length };
    if (read.design.routers.length === 0) return outcome;
    return { ...outcome, design: { name: inside ?? name, documents: read.documents } };
  }

  /** Makes a campus of a size; in words why not, when the numbers do not fit each other. */
  generate(size: CampusSize): StoredDocuments | string {
    try {
      return { name: `Campus of ${size.routers} routers`, documents: designFrom(generateCampus(size)).documents };
    } catch (e) {
      if (e instanceof RangeError) return e.message;
      throw e;
    }
  }

  /** A table as CSV. */
  csv(table: CsvTable): string {
    this.held.check();
    return writeCsv(tableOf(table, this.held.now, this.held.findings));
  }

  /** Lines of a table that is shown, its header first, as CSV. */
  asCsv([header = [], ...rows]: readonly (readonly string[])[]): string {
    return writeCsv({ header, rows });
  }

  /** What to set on each router, as an archive of pages. */
  worksheets(): Uint8Array {
    const { now } = this.held;
    const both = this.held.bothOf(now);
    return zipTexts(
      now.design.routers.map((r, i) => ({ name: `${r.name.replace(/[^\w.-]/g, '_').replace(/^\.+/, '_')}.md`, text: worksheet(both, i) })),
    );
  }

  /** True when an export would show authentication keys. */
  holdsKeys(): boolean {
    return holdsKeys(this.held.documents);
  }

  private withKeys(keys: 'digests' | 'clear', salt: string): readonly SourceDocument[] {
    return keys === 'clear' ? this.held.documents : redactKeys(this.held.documents, salt);
  }

  /** The router documents as an archive. Keys are left out as digests unless asked for in the clear. */
  exportZip(keys: 'digests' | 'clear', salt: string): Uint8Array {
    return zipDocuments(this.withKeys(keys, salt));
  }

  exportCompass(keys: 'digests' | 'clear', salt: string): string {
    return writeCompass({ name: this.held.name, documents: this.withKeys(keys, salt) });
  }

  /** One router's document as text. */
  documentOf(router: string): string {
    const file = this.held.read.design.routers.find((r) => r.name === router)?.file;
    const d = this.held.documents.find((x) => x.file === file);
    return d ? documentText(d) : '';
  }
}
