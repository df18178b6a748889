import fc from 'fast-check';
import { Sheet, demoLab } from '../tests/topologies';
import { runs } from '../tests/runs';
import { type SimpleCommand, type Topology, applyBatch } from '../topology';
import {
  type Box,
  type Scene,
  SceneKeeper,
  distanceTo,
  fullLabelBox,
  labelBox,
  overlap,
  pillBox,
  pillWidth,
  sceneOf,
  socketKey,
} from '.';

const labOf = (slug: string): Topology => demoLab(slug).reference;
const at = (x: number, y: number) => ({ at: { x, y } });
/** Every text of a scene with its box, by its end. */
const textsOf = ({ lines, labels }: Scene): [string, Box][] =>
  [...lines.values()].flatMap((line) =>
    (['a', 'b'] as const).flatMap((end) => {
      const label = labels.get(socketKey(line.id, end));
      return label ? [[socketKey(line.id, end), labelBox(label, line[end].text)] as [string, Box]] : [];
    }),
  );
function expectLegible(scene: Scene): void {
  const texts = textsOf(scene);
  const pills = scene.linkSubnets.map((subnet) => pillBox(subnet, pillWidth(subnet.prefix)));
  for (const [index, [key, box]] of texts.entries()) {
    for (const tile of scene.tiles.values()) expect([key, tile.id, overlap(box, tile)]).toEqual([key, tile.id, false]);
    for (const [other, their] of texts.slice(index + 1))
      expect([key, other, overlap(box, their)]).toEqual([key, other, false]);
    for (const pill of pills) expect([key, overlap(box, pill)]).toEqual([key, false]);
  }
}

/** Two layer-3 switches with so many links between them, the ports of both with addresses. */
function parallel(count: number, second: { x: number; y: number }): Topology {
  const addresses = (last: number) =>
    Object.fromEntries(Array.from({ length: count }, (_one, at) => [`p${at + 1}`, `10.84.${at}.${last}/30`]));
  const sheet = new Sheet()
    .device('A', 'l3-switch', addresses(1), at(0, 0))
    .device('B', 'l3-switch', addresses(2), { at: second });
  for (let port = 1; port <= count; port++) sheet.cable(`A p${port}`, `B p${port}`, 'crossover');
  return sheet.topology;
}

test.each(['valley-lan', 'three-stations', 'season-opening', 'winch-isolation', 'summit-dual-stack'])(
  'in %s every end is written, on no tile and no other text',
  (slug) => {
    const scene = sceneOf(labOf(slug));
    const wired = [...scene.lines.values()].filter((line) => line.medium !== 'wireless');
    expect(textsOf(scene)).toHaveLength(wired.length * 2);
    expectLegible(scene);
  },
);

test.each([[{ x: 420, y: 0 }], [{ x: 0, y: 260 }], [{ x: 380, y: 240 }], [{ x: -360, y: 20 }]])(
  'eight parallel links are told apart at both ends (the other device at %j)',
  (second) => {
    const scene = sceneOf(parallel(8, second));
    expect(textsOf(scene)).toHaveLength(16);
    expectLegible(scene);
    const chips = [...scene.lines.values()].flatMap((line) => [line.a, line.b]);
    for (const [index, chip] of chips.entries())
      for (const other of chips.slice(index + 1))
        expect(Math.hypot(chip.x - other.x, chip.y - other.y)).toBeGreaterThanOrEqual(10);
  },
);

test.each(['valley-lan', 'three-stations', 'winch-isolation', 'summit-dual-stack'])(
  'in full a text of %s does not cover the device it belongs to',
  (slug) => {
    const { lines, labels, tiles } = sceneOf(labOf(slug));
    const covered = [...lines.values()].flatMap((line) =>
      (['a', 'b'] as const).flatMap((end) => {
        const label = labels.get(socketKey(line.id, end));
        const tile = tiles.get(line[end].device)!;
        return label && overlap(fullLabelBox(line[end], label), tile) ? `${tile.name} ${line[end].full}` : [];
      }),
    );
    expect(covered).toEqual([]);
  },
);

test('a text stands nearer to its own line than to the end of another, and nearer to its own end than to the far one', () => {
  for (const scene of [sceneOf(labOf('three-stations')), sceneOf(parallel(8, { x: 420, y: 0 }))])
    for (const line of scene.lines.values())
      for (const end of ['a', 'b'] as const) {
        const label = scene.labels.get(socketKey(line.id, end));
        if (!label) continue;
        const box = labelBox(label, line[end].text);
        const middle = { x: box.x + box.width / 2, y: box.y + box.height / 2 };
        const to = (spot: { x: number; y: number }): number => Math.hypot(spot.x - middle.x, spot.y - middle.y);
        expect(to(line[end])).toBeLessThan(to(line[end === 'a' ? 'b' : 'a']));
        const away = Math.min(
          ...line.points.slice(1).map((point, index) => distanceTo(middle, line.points[index]!, point)),
        );
        expect(away).toBeLessThanOrEqual(box.width / 2 + 20);
      }
});

test('no text lies on another wherever devices are put', () => {
  const place = fc.record({ x: fc.integer({ min: 0, max: 900 }), y: fc.integer({ min: 0, max: 600 }) });
  const links = [
    ['A g0', 'S u1'],
    ['B g0', 'S u2'],
    ['A g1', 'B g1'],
    ['S p1', 'H e0'],
    ['S p2', 'J e0'],
    ['B g2', 'J2 e0'],
  ] as const;
  fc.assert(
    fc.property(fc.array(place, { minLength: 6, maxLength: 6 }), (places) => {
      const sheet = new Sheet();
      for (const [index, [name, model]] of (
        [
          ['A', 'border-router'],
          ['B', 'border-router'],
          ['S', 'access-switch-12'],
          ['H', 'desktop'],
          ['J', 'desktop'],
          ['J2', 'desktop'],
        ] as const
      ).entries())
        sheet.device(name, model, {}, { at: places[index]! });
      for (const [from, to] of links) sheet.cable(from, to);
      expectLegible(sceneOf(sheet.topology));
    }),
    { numRuns: runs(20) },
  );
});

test('what is written can be chosen for the drawing and for one link', () => {
  const topology = parallel(2, { x: 420, y: 0 });
  const texts = (of: Topology): string[] => [...sceneOf(of).lines.values()].map((line) => line.a.text);
  expect(texts(topology)).toEqual(['p1 .1', 'p2 .1']);
  expect(texts({ ...topology, endTexts: 'ports' })).toEqual(['p1', 'p2']);
  topology.links['A-p1-B-p1']!.endTexts = 'addresses';
  expect(texts({ ...topology, endTexts: 'nothing' })).toEqual(['.1', '']);
});

test('a text placed by hand stands there, counted from its chip, and goes along with it', () => {
  const topology = parallel(1, { x: 420, y: 0 });
  topology.links['A-p1-B-p1']!.labelOffsets = { a: { x: 40, y: -30 } };
  const offset = (scene: Scene): { x: number; y: number } => {
    const line = scene.lines.get('A-p1-B-p1')!;
    const label = scene.labels.get(socketKey(line.id, 'a'))!;
    return { x: label.x - line.a.x, y: label.y - line.a.y };
  };
  expect(offset(sceneOf(topology))).toEqual({ x: 40, y: -30 });
  expect(offset(sceneOf(topology, { at: new Map([['A', { x: -50, y: 90 }]]) }))).toEqual({ x: 40, y: -30 });
});

test('while one device is moved, texts elsewhere stay where they are', () => {
  const topology = labOf('three-stations');
  const keeper = new SceneKeeper();
  const still = keeper.scene(topology);
  const id = Object.entries(topology.devices).find(([, device]) => device.name === 'DESK-1')![0];
  const from = topology.devices[id]!.at;
  const moved = keeper.scene(topology, { at: new Map([[id, { x: from.x - 40, y: from.y + 60 }]]) });
  const changed = [...moved.lines].filter(([link, line]) => still.lines.get(link) !== line).map(([link]) => link);
  expect(changed.length).toBeGreaterThan(0);
  expect(changed.length).toBeLessThan(10);
  for (const [key, label] of moved.labels)
    if (!changed.includes(key.slice(2))) expect(label).toBe(still.labels.get(key));
  expect(keeper.scene(topology)).toEqual(still);
});

test('a scene worked out step by step is the same as one from the start', () => {
  const topology = labOf('three-stations');
  const ids = Object.keys(topology.devices);
  const keeper = new SceneKeeper();
  fc.assert(
    fc.property(
      fc.array(
        fc.tuple(fc.constantFrom(...ids), fc.integer({ min: -80, max: 900 }), fc.integer({ min: -80, max: 900 })),
        {
          maxLength: 4,
        },
      ),
      (moves) => {
        const places = new Map(moves.map(([id, x, y]) => [id, { x, y }]));
        const { tiles, lines } = keeper.scene(topology, { at: places });
        const fresh = sceneOf(topology, { at: places });
        expect([...lines]).toEqual([...fresh.lines]);
        expect([...tiles]).toEqual([...fresh.tiles]);
      },
    ),
    { numRuns: runs(8) },
  );
});

test('after any changes of the drawing its scene is the same as one from the start', () => {
  const start = labOf('three-stations');
  const keeper = new SceneKeeper();
  const pick = <T>(of: Record<string, T>, at: number): [string, T] => {
    const all = Object.entries(of);
    return all[at % all.length]!;
  };
  /** One change of each kind, at whatever `at` picks. */
  const CHANGES: ((topology: Topology, at: number) => SimpleCommand[])[] = [
    ({ devices }, at) => [{ kind: 'removeDevices', ids: [pick(devices, at)[0]] }],
    ({ links }, at) => [{ kind: 'disconnect', ids: [pick(links, at)[0]] }],
    ({ devices }, at) => [{ kind: 'setDevice', id: pick(devices, at)[0], set: { name: 'A'.repeat(at % 30) } }],
    ({ devices }, at) => [{ kind: 'move', to: { [pick(devices, at)[0]]: { x: at * 7, y: at * 3 } } }],
    ({ links }, at) => [{ kind: 'setLink', id: pick(links, at)[0], set: { bends: [{ x: 3 * at, y: 2 * at }] } }],
    (_all, at) => [{ kind: 'setDocument', set: { endTexts: at % 2 ? 'ports' : 'nothing' } }],
    ({ devices }, at) => {
      const [id, device] = pick(devices, at);
      return [
        { kind: 'removeDevices', ids: [id] },
        { kind: 'addDevice', id, device: { ...device, name: 'Back again' } },
      ];
    },
  ];
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.constantFrom(...CHANGES), fc.nat({ max: 300 })), { minLength: 1, maxLength: 6 }),
      (changes) => {
        let topology = start;
        for (const [change, at] of changes) {
          const done = applyBatch(topology, 'change', change(topology, at));
          if (!done.ok) throw new Error(done.error);
          topology = done.value.document;
          const { tiles, lines } = keeper.scene(topology);
          const fresh = sceneOf(topology);
          expect([...lines]).toEqual([...fresh.lines]);
          expect([...tiles]).toEqual([...fresh.tiles]);
        }
      },
    ),
    { numRuns: runs(8) },
  );
});
