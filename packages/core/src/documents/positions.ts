import { findNodeAtLocation, parseTree, type Node } from 'jsonc-parser';
import type { DocumentPath } from './document-path';
import { documentText, type SourceDocument } from './documents';
import { placeOf } from './json-text';
import { parseXml } from './xml';

/** A place in a text, 1-based. */
export interface TextPlace {
  readonly line: number;
  readonly column: number;
}

/** Where the nodes of one document stand in its text, JSON or XML. The text is parsed when first asked for. */
export class Positions {
  readonly text: string;
  private json: Node | undefined;
  private xml: ReadonlyMap<string, TextPlace> | undefined;
  constructor(private readonly document: SourceDocument) {
    this.text = documentText(document);
  }

  /** Where the node at a path begins, or the nearest node above it that is written; `undefined` in an empty document. */
  at(path: DocumentPath): TextPlace | undefined {
    const up = [...path];
    for (;;) {
      const found = this.document.encoding === 'xml' ? this.inXml(up) : this.inJson(up);
      if (found || up.length === 0) return found;
      up.pop();
    }
  }

  private inJson(path: DocumentPath): TextPlace | undefined {
    this.json ??= parseTree(this.text);
    const node = this.json && findNodeAtLocation(this.json, [...path]);
    return node && placeOf(this.text, node.parent?.type === 'property' ? node.parent.offset : node.offset);
  }

  private inXml(path: DocumentPath): TextPlace | undefined {
    if (!this.xml) {
      const places = new Map<string, TextPlace>();
      parseXml(this.document.file, this.text, 1000, (at, place) => places.set(JSON.stringify(at), place));
      this.xml = places;
    }
    return this.xml.get(JSON.stringify(path));
  }
}
