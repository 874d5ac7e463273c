import { runsIn, type Port, type Speaker } from '../adjacency/speakers';
import { originOf } from '../design/defaults';
import type { DocumentPath, OspfInstance, Router } from '../design/design';
import type { Family } from '../design/family';
import type { Expectation } from '../design/settings';
import { memberName, pathWords, setLeaf, type DocumentValue, type Edit } from '../design/edit';
import { documentKind, type SourceDocument } from '../documents/documents';
import { Positions, type TextPlace } from '../documents/positions';
import { formatAddress } from '../prefix/address';
import type { Prediction } from '../predict';
import { concerns, judge, type ExpectationResult } from '../reach/expectations';
import { healingBy } from '../convergence/within';
import { forwardingOf } from '../compare/forwarding-kept';
import type { Forwarding } from '../reach/forwarding';
import type { Draft, Evidence, Place } from './finding';

/** Texts in which places were looked for: parsed once for a document, however often it is checked. */
const parsed = new WeakMap<SourceDocument, Positions>();

/** What every check is given: a settled prediction of one family and the documents behind it. */
export class CheckContext {
  private readonly byFile: ReadonlyMap<string, SourceDocument>;
  private expectationsMade: readonly ExpectationResult[] | undefined;
  constructor(
    readonly prediction: Prediction,
    readonly documents: readonly SourceDocument[],
    private readonly underFailures = true,
    /** What became of the expectations, where that is known already. */
    judged?: readonly ExpectationResult[],
    /** What the other family makes of the same design, where there is one. */
    readonly other?: Prediction,
  ) {
    this.expectationsMade = judged;
    this.byFile = new Map(documents.filter((d) => documentKind(d.tree) === 'router').map((d) => [d.file, d]));
  }

  private forwardingMade: Forwarding | undefined;

  /** Forwarding through the network as it is. */
  get forwarding(): Forwarding {
    this.forwardingMade ??= forwardingOf(this.prediction);
    return this.forwardingMade;
  }

  private bordersMade: ReadonlyMap<number, readonly Speaker[]> | undefined;

  /** Area border routers by area. */
  get borders(): ReadonlyMap<number, readonly Speaker[]> {
    if (!this.bordersMade) {
      const { routing, adjacencies } = this.prediction;
      const out = new Map<number, Speaker[]>();
      for (const s of adjacencies.speakers)
        if (routing.isBorderRouter(s))
          for (const a of routing.areasOf(s)) {
            const list = out.get(a);
            if (list) list.push(s);
            else out.set(a, [s]);
          }
      this.bordersMade = out;
    }
    return this.bordersMade;
  }

  /** Expectations of the design about this family, in the order in which they stand. */
  get expected(): readonly Expectation[] {
    return this.prediction.design.settings.expectations.filter((e) => concerns(e, this.prediction));
  }

  /** What became of each of them. */
  expectations(): readonly ExpectationResult[] {
    this.expectationsMade ??= judge(this.forwarding, this.expected, {
      underFailures: this.underFailures,
      forward: forwardingOf,
      healing: healingBy(),
    });
    return this.expectationsMade;
  }

  get family(): Family {
    return this.prediction.family;
  }

  /** The node of an interface that holds the addresses of the family (RFC 8344). */
  get addressNode(): string {
    return this.family === 6 ? 'ietf-ip:ipv6' : 'ietf-ip:ipv4';
  }

  /** Processes of a router that route the family. */
  processesOf(router: Router): readonly OspfInstance[] {
    return router.instances.filter((o) => runsIn(this.prediction.design, o));
  }

  routerName(index: number): string {
    return this.prediction.design.routers[index]?.name ?? '';
  }

  document(router: Router): SourceDocument {
    return this.byFile.get(router.file) ?? { file: router.file, tree: {} };
  }

  /** A place in a router's document. */
  place(router: Router, at: DocumentPath, leaf?: string, more: { interface?: string; area?: string } = {}): Place {
    const words = pathWords(this.document(router).tree, at);
    return {
      router: router.name,
      path: leaf === undefined ? words : `${words}/${leaf}`,
      ...more,
      file: router.file,
      ...this.lineOf(this.document(router), at, leaf),
    };
  }

  /** Where a node begins in its document's text; the leaf itself where it is written. */
  private lineOf(document: SourceDocument, at: DocumentPath, leaf?: string): Partial<TextPlace> {
    let positions = parsed.get(document);
    if (!positions) {
      positions = new Positions(document);
      parsed.set(document, positions);
    }
    const path = [...at];
    for (const name of leaf?.split('/') ?? []) path.push(memberName(document.tree, path, name));
    return positions.at(path) ?? {};
  }

  /** A place in a settings document: an expectation, a group of routers meant to be alike. */
  settingsPlace(file: string, at: DocumentPath): Place {
    const document = this.documents.find((d) => d.file === file) ?? { file, tree: {} };
    return { router: '', path: pathWords(document.tree, at), file, ...this.lineOf(document, at) };
  }

  /** The place of a port's OSPF settings. */
  portPlace(p: Port, leaf?: string): Place {
    const router = this.routerOf(p);
    return this.place(router, p.settings.at.length > 0 ? p.settings.at : p.iface.at, leaf, {
      interface: p.iface.name,
      area: formatAddress(p.area.id),
    });
  }

  routerOf(p: Port): Router {
    const r = this.prediction.design.routers[p.routerIndex];
    if (!r) throw new RangeError(`no router ${p.routerIndex}`);
    return r;
  }

  /** Evidence about a setting of a port, with its origin. */
  setting(p: Port, leaf: string, what: string, value: string | number): Evidence {
    return { router: this.routerOf(p).name, what, value: String(value), origin: originOf(leaf, p.settings.written, p.settings.given) };
  }

  /** An edit that sets leaves below a node. */
  edit(router: Router, at: DocumentPath, names: readonly string[], to: DocumentValue): Edit {
    return setLeaf(this.document(router), router.name, at, names, to);
  }

  /** An edit of a port's OSPF settings; `undefined` where a rule turned it on and there is nothing written to change. */
  portEdit(p: Port, names: readonly string[], to: DocumentValue): Edit[] {
    return p.settings.at.length === 0 ? [] : [this.edit(this.routerOf(p), p.settings.at, names, to)];
  }
}

/** A check: looks at a settled network and tells what one would want otherwise. */
export interface Check {
  readonly rule: string;
  /** One line for the catalogue. */
  readonly about: string;
  /** What it makes sense for; both where it does not say. */
  readonly families?: readonly Family[];
  readonly run: (c: CheckContext) => Draft[];
}
