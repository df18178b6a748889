import { analyse } from '../engine';
import { Sheet } from '../tests/topologies';
import { type Topology, applyBatch } from '../topology';
import { siblingRepairs } from './siblings';

/** Hosts at one switch, of which the last two stand in another subnet than the others. */
function lan(family: 4 | 6): Topology {
  const sheet = new Sheet().device('S', 'access-switch-12');
  for (const n of [1, 2, 3, 4, 5, 6]) sheet.host(`PC-${n}`, '').cable(`PC-${n} e0`, `S p${n}`);
  for (const n of [1, 2, 3, 4, 5, 6]) {
    const address = family === 4 ? `10.${n > 4 ? 99 : 84}.1.1${n}/24` : `fd${n > 4 ? 99 : 84}:1::1${n}/64`;
    sheet.topology.devices[`PC-${n}`]!.interfaces = {
      e0: { on: { kind: 'port', port: 'e0' }, [family === 4 ? 'v4' : 'v6']: { addresses: [address] } },
    };
  }
  return sheet.topology;
}

test.each([4, 6] as const)('several that stand in another subnet get addresses of their own, IPv%s', (family) => {
  const drawing = lan(family);
  const repairs = siblingRepairs(analyse(drawing));
  expect(repairs.map(({ at }) => at)).toEqual(['PC-5', 'PC-6']);
  const all = repairs.flatMap(({ commands }) => [...commands]);
  const done = applyBatch(drawing, 'all', all);
  if (!done.ok) throw new Error(done.error);
  const after = done.value.document;
  const typed = Object.values(after.devices).flatMap(({ interfaces }) =>
    Object.values(interfaces ?? {}).flatMap(({ v4, v6 }) => (v4 ?? v6)?.addresses ?? []),
  );
  expect(typed).toHaveLength(6);
  expect(new Set(typed).size).toBe(6);
  expect(siblingRepairs(analyse(after))).toEqual([]);
});
