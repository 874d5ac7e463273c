/** Interface states of RFC 2328 §9.1; `passive` is ours for one that sends nothing. */
export const interfaceStates = ['down', 'loopback', 'waiting', 'point-to-point', 'dr-other', 'bdr', 'dr', 'passive'] as const;
export type InterfaceState = (typeof interfaceStates)[number];
