import { designOf, families, hasFamily, type Family } from '@gentle-compass/core/design/family';
import { riskWords } from '@gentle-compass/core/failures/outage';
import { severities, type Finding } from '@gentle-compass/core/findings/finding';
import type { ExpectationResult } from '@gentle-compass/core/reach/expectations';
import { foldsAbove, wholeInput } from '../map/fold';
import { layoutMap, type MapLayout } from '../map/layout';
import type { DesignView, RouterView, SegmentView } from '../model/view';
import { patchBetween } from '../model/view-patch';
import type { Held } from './held';
import { ViewMaking } from './view-making';
import { areaViews, countedUpTo } from './views';

const onlyFour: readonly Family[] = [4];

/** Findings as they were, those of the family looked at before the other's of the same weight. */
function ownFirst(findings: readonly Finding[], family: Family): readonly Finding[] {
  const weight = (f: Finding): number => severities.indexOf(f.severity) + (f.accepted ? severities.length : 0);
  const foreign = (f: Finding): number => ((f.family ?? 4) === family ? 0 : 1);
  return findings.every((f) => foreign(f) === 0) ? findings : [...findings].sort((a, b) => weight(a) - weight(b) || foreign(a) - foreign(b));
}

/** Each expectation once: the family in which it does not hold, where there is one. */
const toldOnce = (results: readonly ExpectationResult[]): readonly ExpectationResult[] =>
  [...new Set(results.map((r) => r.name))].flatMap((name) => {
    const all = results.filter((r) => r.name === name);
    return all.find((r) => !r.holds) ?? all[0] ?? [];
  });

/** What the page shows of the open design: whole once, then what changed. */
export class Showing {
  private readonly making = new ViewMaking();
  private shown: DesignView | undefined;
  private drawn: { readonly key: string; readonly map: MapLayout } | undefined;

  constructor(private readonly held: Held) {}

  /** The view with its findings. */
  whole(): DesignView {
    this.held.check();
    this.shown = this.view(this.held.taken);
    return this.shown;
  }

  /** What changed in the view since it was given last, as text, a `ViewPatch`. Findings are those of the last check. */
  patch(): string {
    const before = this.shown ?? this.view(0);
    this.shown = this.view(this.held.taken);
    return JSON.stringify(patchBetween(before, this.shown));
  }

  private view(milliseconds: number): DesignView {
    const { held } = this;
    const { now: p } = held;
    const findings = ownFirst(held.findings, held.family);
    const routers = this.making.routers(p);
    const { segments } = this.making;
    return {
      name: held.name,
      family: held.family,
      families: hasFamily(designOf(p.design), 6) ? families : onlyFour,
      routers,
      segments,
      pairs: this.making.pairsOf(p, findings),
      areas: areaViews(p),
      findings,
      expectations: toldOnce(held.expectations).map(({ name, under, holds, message, family }) => ({
        name,
        under,
        holds,
        // Said of the family in which it does not hold, where it is about both.
        message: !holds && family === 6 ? `IPv6: ${message}` : message,
        untried: holds && under !== 'normal' && held.judged !== p,
      })),
      layout: this.layout(routers, segments),
      risks: p.design.topology.riskGroups.map(({ name, members }) => ({ name, members, words: riskWords(p.design, name) })),
      scenarios: p.design.settings.scenarios.map(({ name, fail, note }) => ({ name, fail, note })),
      places: p.design.settings.places,
      routeCount: routers.length > countedUpTo ? null : routers.reduce((n, r) => n + (r.routes ?? 0), 0),
      milliseconds,
    };
  }

  /** The map, laid out anew only when a router, its areas or a link came or went. */
  private layout(routers: readonly RouterView[], segments: readonly SegmentView[]): MapLayout | null {
    if (routers.length > foldsAbove) return null;
    const { shown, drawn } = this;
    const { places } = this.held.now.design.settings;
    const settled = drawn && shown?.segments === segments && shown.places === places;
    if (settled && routers.every((r, i) => r === shown.routers[i] || r.areas.join() === shown.routers[i]?.areas.join())) return drawn.map;
    const input = wholeInput({ routers, segments, places });
    const key = JSON.stringify(input);
    if (this.drawn?.key !== key) this.drawn = { key, map: layoutMap(input) };
    return this.drawn.map;
  }
}
