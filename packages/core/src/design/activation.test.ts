import fc from 'fast-check';
import { campus } from '../testing/campus';
import { activeInterfaces, ActiveWalk } from './activation';

/** Ports of one router: listed under an area or not, in any order; some are bound to a table of their own. */
const routers = fc.record({
  ports: fc.array(fc.record({ area: fc.constantFrom(null, 0, 1), bound: fc.nat(5) }), { maxLength: 8 }),
  turned: fc.boolean(),
  rules: fc.uniqueArray(fc.constantFrom('10.97.0.0/16', '10.97.1.0/24', '10.98.0.0/16'), { maxLength: 2 }),
});

test('walking over the interfaces of a process finds what the list of them holds, with and without rules', () => {
  fc.assert(
    fc.property(routers, ({ ports, turned, rules }) => {
      const activation = rules.map((match) => ({ match, 'area-id': 1 }));
      const c = campus().router('a', '10.96.0.1', 0, rules.length > 0 ? { activation } : {});
      ports.forEach((p, i) => {
        c.port('a', `p${i}`, `10.97.${i}.1/24`, p.area, p.bound === 0 ? { iface: { 'bind-ni-name': 'elsewhere' } } : {});
      });
      const [router] = c.read().design.routers;
      const instance = router?.instances[0];
      if (!router || !instance) throw new Error('no process');
      // Most documents list interfaces in their own order; the walk must find them in any.
      const areas = turned ? instance.areas.map((a) => ({ ...a, interfaces: [...a.interfaces].reverse() })) : instance.areas;
      const process = { ...instance, areas };
      const walk = new ActiveWalk(router, process);
      const found = [];
      while (walk.next()) found.push({ area: walk.area, settings: walk.settings, iface: walk.iface, index: walk.index, byRule: walk.byRule });
      const listed = activeInterfaces(router, process);
      expect(found).toEqual(listed.map((x) => ({ area: x.area, settings: x.settings, iface: x.iface, index: x.index, byRule: x.byRule })));
      // Everything that is listed and not elsewhere takes part; nothing is found twice.
      const own = ports.flatMap((p, i) => (p.area !== null && p.bound !== 0 ? [`p${i}`] : []));
      const names = found.map((f) => f.iface?.name);
      expect(new Set(names).size).toBe(names.length);
      expect(own.every((name) => names.includes(name))).toBe(true);
    }),
    { numRuns: 200 },
  );
});
