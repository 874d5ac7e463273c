import type { Expectation } from '@gentle-compass/core/design/settings';
import { documentText } from '@gentle-compass/core/documents/documents';
import { valuesOf, type OriginValue } from '@gentle-compass/core/evidence/origins';
import { routerDetail, type RouterDetail } from '@gentle-compass/core/evidence/router-detail';
import { worksheetOf, type Worksheet } from '@gentle-compass/core/reports/worksheet';
import { sheetOf, type Sheet, type SheetName } from '@gentle-compass/core/sheets/sheet';
import { layoutMap, type LayoutInput, type MapLayout } from '../../map/layout';
import type { DocumentView } from '../../model/view';
import type { Held } from '../held';

/** The design as it is written: values and where they come from, tables, documents, worksheets, the chart. */
export class LayoutDesk {
  constructor(private readonly held: Held) {}

  /** A chart laid out, whatever is folded on it. */
  chart(input: LayoutInput): MapLayout {
    return layoutMap(input);
  }

  /** An expectation by its name. */
  expectation(name: string): Expectation | null {
    return this.held.now.design.settings.expectations.find((e) => e.name === name) ?? null;
  }

  /** Every value that holds in a router, with its origin. */
  values(router: string): OriginValue[] {
    return valuesOf(this.held.now, this.held.now.routerIndex(router));
  }

  /** Who a router is, and what it brings in. */
  routerDetail(router: string): RouterDetail {
    return routerDetail(this.held.now, this.held.now.routerIndex(router));
  }

  /** A table of the design as it stands. */
  sheet(name: SheetName): Sheet {
    return sheetOf(name, this.held.now, name === 'families' ? this.held.otherOf(this.held.now) : undefined);
  }

  /** A document as text with the lines that findings point at. */
  documentView(file: string): DocumentView | null {
    const d = this.held.documents.find((x) => x.file === file);
    if (!d) return null;
    this.held.check();
    const marks = this.held.findings.flatMap((f) =>
      f.accepted
        ? []
        : f.where.flatMap((w) =>
            w.file === file && w.line !== undefined ? [{ line: w.line, severity: f.severity, message: f.message, finding: f.id }] : [],
          ),
    );
    return { file, text: documentText(d), marks };
  }

  /** What to set on one router. */
  worksheetOf(router: string): Worksheet | null {
    return worksheetOf(this.held.bothOf(this.held.now), this.held.now.routerIndex(router)) ?? null;
  }
}
