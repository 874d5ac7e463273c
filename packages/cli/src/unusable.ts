/** Raised by a command when its input or call is unusable: exit code 2. */
export class Unusable extends Error {}
