import { formatAddress } from '../../prefix/address';
import type { Breach } from '../../reach/breach';
import type { Check, CheckContext } from '../context';
import type { Draft, Place } from '../finding';

/** Findings about broken expectations of some kinds of breach, each at the expectation and at the routers it is about. */
function broken(c: CheckContext, kind: Breach['kind'], rule: string, rfc: string): Draft[] {
  const expectations = c.expected;
  return c.expectations().flatMap((result, n): Draft[] => {
    const e = expectations[n];
    if (!e || result.breach?.kind !== kind) return [];
    const routers = result.breach.routers.slice(0, 4).flatMap((name): Place[] => {
      const router = c.prediction.design.routers.find((r) => r.name === name);
      return router ? [c.place(router, [])] : [];
    });
    const by = result['broken-by'].filter((f) => f !== '');
    return [
      {
        rule,
        severity: 'error',
        topic: e.name,
        where: [c.settingsPlace(e.file, e.at), ...routers],
        message: `“${e.name}” does not hold: ${result.message}.`,
        evidence: [
          ...by.slice(0, 12).map((f) => ({ router: '', what: 'broken by', value: f, origin: 'computed' as const })),
          ...(by.length > 12 ? [{ router: '', what: 'broken by', value: `${by.length - 12} more`, origin: 'computed' as const }] : []),
        ],
        repairs:
          result.breach.kind === 'wrong-source' && e.kind === 'reach' && typeof e.from === 'number'
            ? [
                {
                  title: `Test from ${result.breach.better} instead`,
                  router: '',
                  edits: [
                    {
                      router: '',
                      file: e.file,
                      at: [...e.at, 'from'],
                      from: formatAddress(e.from),
                      to: result.breach.better,
                    },
                  ],
                },
              ]
            : [],
        rfc,
      },
    ];
  });
}

const check = (kind: Breach['kind'], rule: string, rfc: string, about: string): Check => ({ rule, about, run: (c) => broken(c, kind, rule, rfc) });

/** An expectation that does not hold, for no reason that has a check of its own. */
export const expectationBroken = check(
  'broken',
  'expectation-broken',
  'RFC 2328 §11',
  'An expectation of the designer does not hold, as the network is or in a failure that it must outlive.',
);

/** It arrives, and the answer finds no way back. */
export const returnMissing = check(
  'return-missing',
  'return-path-missing',
  'RFC 2328 §11.1',
  'Packets arrive and the answers do not come back: the return route is missing.',
);

/** A test from an address that nobody can answer to, though the router has one that all can. */
export const wrongSource = check(
  'wrong-source',
  'wrong-source',
  'RFC 1122 §3.3.4.3',
  'Reach is tested from an address that the other end has no route to; another address of the same router would be answered.',
);

/** An external route expected where only stub areas are (RFC 2328 §3.6). */
export const externalInStub = check(
  'external-in-stub',
  'external-in-stub',
  'RFC 2328 §3.6',
  'An external route is expected in a router whose areas are all stub areas or NSSAs, into which type 5 does not come.',
);

/** A change expected at once, where only the dead interval tells of it. */
export const slowerThanExpected = check(
  'too-slow',
  'slower-than-expected',
  'RFC 2328 §10.5',
  'A path is expected back sooner than the routers on it can learn of the failure: only the dead interval tells them.',
);
