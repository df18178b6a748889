import { applyBatch } from '../topology';
import { Sheet } from '../tests/topologies';
import { type Topology } from '../topology';
import { changeWords, drawingChanges } from '.';

const start = (): Topology => {
  const { topology } = new Sheet()
    .device('S', 'access-switch-12')
    .host('A', '10.0.0.1/24')
    .host('B', '10.0.0.2/24')
    .cable('A e0', 'S p1');
  return { ...topology, sites: { v: { name: 'Valley' } } };
};

test('what was added, changed and removed is told by name, with what differs', () => {
  const before = start();
  const [link] = Object.keys(before.links);
  const done = applyBatch(before, 'x', [
    { kind: 'setDevice', id: 'A', set: { name: 'DESK', site: 'v', powered: false } },
    { kind: 'move', to: { A: { x: 9, y: 9 } } },
    {
      kind: 'setInterface',
      device: 'A',
      key: 'e0',
      set: { on: { kind: 'port', port: 'e0' }, v4: { addresses: ['10.0.0.9/24'] } },
    },
    { kind: 'setLink', id: link!, set: { medium: 'crossover', lengthM: 20 } },
    { kind: 'removeDevices', ids: ['B'] },
    { kind: 'addDevice', id: 'C', device: { name: 'NEW', model: 'laptop', at: { x: 0, y: 0 } } },
    { kind: 'setDocument', set: { title: 'Tuesday' } },
  ]);
  if (!done.ok) throw new Error(done.error);
  const found = drawingChanges(before, done.value.document);
  expect(found.map(({ what, sort, name, details }) => [what, sort, name, ...details])).toEqual([
    ['changed', 'drawing', 'the drawing', 'title: none → Tuesday'],
    [
      'changed',
      'device',
      'DESK',
      'name: A → DESK',
      'moved',
      'e0: 10.0.0.1/24 → 10.0.0.9/24',
      'site: none → Valley',
      'power: none → no',
    ],
    ['added', 'device', 'NEW'],
    ['removed', 'device', 'B'],
    [
      'changed',
      'link',
      'DESK e0 – S p1',
      expect.stringMatching(/^medium: .* → .*crossover/i),
      'length in m: none → 20',
    ],
  ]);
  expect(changeWords(found)).toBe('1 device added, 1 device and 1 link changed, 1 device removed');
});

test('a drawing differs in nothing from itself', () => {
  expect(drawingChanges(start(), start())).toEqual([]);
  expect(changeWords([])).toBe('no difference');
});
