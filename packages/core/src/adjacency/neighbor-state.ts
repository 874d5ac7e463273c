/** Neighbour states of RFC 2328 §10.1, in their order. */
export const neighborStates = ['down', 'attempt', 'init', '2-way', 'exstart', 'exchange', 'loading', 'full'] as const;
export type NeighborState = (typeof neighborStates)[number];

/** Interface states of RFC 2328 §9.1; `passive` is ours for one that sends nothing. */
export const interfaceStates = ['down', 'loopback', 'waiting', 'point-to-point', 'dr-other', 'bdr', 'dr', 'passive'] as const;
export type InterfaceState = (typeof interfaceStates)[number];
