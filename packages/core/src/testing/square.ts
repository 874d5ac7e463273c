import { campus, type Campus } from './campus';

/** Routers a to d in area 0: a reaches d by b and by c. Costs of the cables of either way. */
export const square = (byB = 10, byC = byB): Campus =>
  campus()
    .router('a', '10.96.0.1', 0)
    .router('b', '10.96.0.2', 0)
    .router('c', '10.96.0.3', 0)
    .router('d', '10.96.0.4', 0)
    .cable('a', 'b', '10.96.1.0', 0, byB)
    .cable('b', 'd', '10.96.1.2', 0, byB)
    .cable('a', 'c', '10.96.1.4', 0, byC)
    .cable('c', 'd', '10.96.1.6', 0, byC);
