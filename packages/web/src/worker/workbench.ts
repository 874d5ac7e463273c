import { AreasDesk } from './desks/areas-desk';
import { ChangesDesk } from './desks/changes-desk';
import { CheckingDesk } from './desks/checking-desk';
import { EditingDesk } from './desks/editing-desk';
import { FailuresDesk } from './desks/failures-desk';
import { FilesDesk } from './desks/files-desk';
import { LayoutDesk } from './desks/layout-desk';
import { NeighboursDesk } from './desks/neighbours-desk';
import { ReachDesk } from './desks/reach-desk';
import { RoutesDesk } from './desks/routes-desk';
import { SummariesDesk } from './desks/summaries-desk';
import { SweepDesk } from './desks/sweep-desk';
import { TimingDesk } from './desks/timing-desk';
import { WhatIfDesk } from './desks/what-if-desk';
import { Held } from './held';
import { Showing } from './showing';

/** The computing side of the page: a desk for each stage over the design that is open. Lives in a worker. */
export class Workbench {
  readonly editing: EditingDesk;
  readonly checking: CheckingDesk;
  readonly layout: LayoutDesk;
  readonly neighbours: NeighboursDesk;
  readonly areas: AreasDesk;
  readonly summaries: SummariesDesk;
  readonly routes: RoutesDesk;
  readonly reach: ReachDesk;
  readonly failures: FailuresDesk;
  readonly sweep: SweepDesk;
  readonly whatIf: WhatIfDesk;
  readonly timing: TimingDesk;
  readonly changes: ChangesDesk;
  readonly files: FilesDesk;

  /** @param slice  milliseconds that a long computation takes before it listens again */
  constructor(slice = 12) {
    const held = new Held(slice);
    const showing = new Showing(held);
    this.editing = new EditingDesk(held, showing);
    this.checking = new CheckingDesk(held, showing);
    this.layout = new LayoutDesk(held);
    this.neighbours = new NeighboursDesk(held);
    this.areas = new AreasDesk(held);
    this.summaries = new SummariesDesk(held);
    this.routes = new RoutesDesk(held);
    this.reach = new ReachDesk(held);
    this.failures = new FailuresDesk(held);
    this.sweep = new SweepDesk(held);
    this.whatIf = new WhatIfDesk(held);
    this.timing = new TimingDesk(held);
    this.changes = new ChangesDesk(held);
    this.files = new FilesDesk(held);
  }
}
