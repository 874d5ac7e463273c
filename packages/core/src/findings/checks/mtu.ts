import { originOf } from '../../design/defaults';
import { neighborStateNames } from '../../evidence/neighbor-words';
import type { Check } from '../context';

/** MTU that keeps two routers from exchanging their databases (RFC 2328 §10.6). */
export const mtu: Check = {
  rule: 'mtu',
  about: 'The MTU differs and the side with the smaller one refuses the other’s database descriptions: the pair rests in ExStart or Exchange.',
  run: (c) =>
    c.prediction.adjacencies.pairs.flatMap((pair) => {
      const small = [pair.a, pair.b].find((v) => v.because === 'mtu-refused-here');
      if (!small) return [];
      const { port: p, peer: q } = small;
      const [rp, rq] = [c.routerOf(p), c.routerOf(q)];
      const other = small === pair.a ? pair.b : pair.a;
      return [
        {
          rule: 'mtu',
          severity: 'error' as const,
          where: [c.place(rp, p.iface.at, 'ipv4/mtu', { interface: p.iface.name }), c.place(rq, q.iface.at, 'ipv4/mtu', { interface: q.iface.name })],
          message: `${rp.name} and ${rq.name} never exchange their databases: ${rp.name} refuses descriptions of up to ${q.iface.mtu} octets, its MTU is ${p.iface.mtu}.`,
          seen: `${rp.name} rests in ${neighborStateNames[small.state]}, ${rq.name} in ${neighborStateNames[other.state]}, over and over.`,
          evidence: [
            { router: rp.name, what: 'MTU', value: `${p.iface.mtu}`, origin: originOf('mtu', p.iface.written, p.iface.given) },
            { router: rq.name, what: 'MTU', value: `${q.iface.mtu}`, origin: originOf('mtu', q.iface.written, q.iface.given) },
            c.setting(p, 'mtu-ignore', 'MTU ignore', String(p.settings.mtuIgnore)),
          ],
          repairs: [
            {
              title: `Set the MTU of ${p.iface.name} in ${rp.name} to ${q.iface.mtu}`,
              router: rp.name,
              edits: [c.edit(rp, p.iface.at, [c.addressNode, 'mtu'], q.iface.mtu)],
            },
            {
              title: `Set the MTU of ${q.iface.name} in ${rq.name} to ${p.iface.mtu}`,
              router: rq.name,
              edits: [c.edit(rq, q.iface.at, [c.addressNode, 'mtu'], p.iface.mtu)],
            },
            ...(p.settings.at.length > 0
              ? [{ title: `Let ${rp.name} ignore the MTU on ${p.iface.name}`, router: rp.name, edits: c.portEdit(p, ['mtu-ignore'], true) }]
              : []),
          ],
          rfc: 'RFC 2328 §10.6',
        },
      ];
    }),
};
