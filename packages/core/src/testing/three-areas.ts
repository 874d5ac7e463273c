import { campus, type Campus } from './campus';

/** Three areas behind a backbone of two: 1 is plain, 2 a stub, 3 an NSSA that brings a static in; the gate's range folds 1. */
export const three = (): Campus =>
  campus()
    .router('core', '10.96.0.1', 0)
    .router('gate', '10.96.0.2', 0)
    .router('one', '10.97.0.1', 1)
    .router('two', '10.98.0.1', 2)
    .router('three', '10.99.0.1', 3, { redistribution: [{ source: 'static', metric: 7 }] })
    .cable('core', 'gate', '10.96.128.0', 0)
    .cable('gate', 'one', '10.97.128.0', 1)
    .cable('gate', 'two', '10.98.128.0', 2)
    .cable('gate', 'three', '10.99.128.0', 3)
    .port('one', 'lab', '10.97.1.1/24', 1, { passive: true })
    .area('gate', 1, { ranges: { range: [{ prefix: '10.97.0.0/17' }] } })
    .area('gate', 2, { 'area-type': 'stub-area', summary: false, 'default-cost': 4 })
    .area('two', 2, { 'area-type': 'stub-area' })
    .area('gate', 3, { 'area-type': 'nssa-area' })
    .area('three', 3, { 'area-type': 'nssa-area' })
    .port('three', 'out', '203.0.113.2/30', null)
    .static('three', '198.51.100.0/24', '203.0.113.1');
