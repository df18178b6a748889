import fc from 'fast-check';
import { emptyTopology } from '../topology';
import { SceneKeeper, overlap, sceneOf, textsBox } from '.';
import { boldWidth } from './letters';
import { writtenIn } from './names';

/** Hosts in a row with what is plugged in above. */
function row(names: readonly string[], pitch: number) {
  const topology = emptyTopology();
  for (const [at, name] of names.entries())
    topology.devices[`h${at}`] = { name, model: 'desktop', at: { x: at * pitch, y: 0 } };
  return [...sceneOf(topology).tiles.values()];
}
const linesOf = (names: readonly string[], pitch: number) => row(names, pitch).map(({ written }) => written?.lines);

test('names with room for themselves stay in one line', () => {
  expect(linesOf(['PC-1', 'PC-2', 'PC-3'], 64)).toEqual([undefined, undefined, undefined]);
  expect(linesOf(['TICKETS-VALLEY-1', 'TICKETS-VALLEY-2'], 140)).toEqual([undefined, undefined]);
});
test('names that would run into each other are broken where words end', () =>
  expect(linesOf(['TICKETS-VALLEY-1', 'TICKETS-VALLEY-2', 'X'], 72)).toEqual([
    ['TICKETS-', 'VALLEY-1'],
    ['TICKETS-', 'VALLEY-2'],
    undefined,
  ]));
test('a long one beside a short one takes what the short one leaves', () =>
  expect(linesOf(['A', 'TICKETS-VALLEY-1', 'B'], 72)).toEqual([undefined, undefined, undefined]));
test('of a word that is too long the middle is left out: its end tells it from others', () =>
  expect(writtenIn('WINCHCONTROLLER17', 66).lines).toEqual(['WINC…R17']));
test('whatever they are called: no two names in a row overlap, and each has at most three lines', () => {
  const name = fc.array(fc.constantFrom('A', 'TICKETS', '-', 'VALLEY', ' ', '17', 'WINCHCONTROLLER'), { maxLength: 8 });
  fc.assert(
    fc.property(fc.array(name, { minLength: 2, maxLength: 6 }), fc.integer({ min: 52, max: 140 }), (names, pitch) => {
      const tiles = row(
        names.map((parts) => parts.join('')),
        pitch,
      );
      const boxes = tiles.map((tile) => textsBox(tile, '')!).filter((_box, at) => tiles[at]!.name);
      for (const [at, box] of boxes.entries())
        for (const other of boxes.slice(at + 1)) expect(overlap(box, other)).toBe(false);
      for (const { written } of tiles) {
        expect(written?.lines.length ?? 1).toBeLessThanOrEqual(3);
        for (const line of written?.lines ?? []) expect(boldWidth(line, 12)).toBeLessThanOrEqual(written!.width);
      }
    }),
  );
});
test('while something is moved lightly, lines stay as they were, and tiles that stay are the same objects', () => {
  const topology = emptyTopology();
  for (const [at, name] of ['TICKETS-VALLEY-1', 'TICKETS-VALLEY-2'].entries())
    topology.devices[`h${at}`] = { name, model: 'desktop', at: { x: at * 72, y: 0 } };
  const keeper = new SceneKeeper();
  const before = keeper.scene(topology).tiles;
  const moved = keeper.scene(topology, { at: new Map([['h1', { x: 400, y: 0 }]]), light: true }).tiles;
  expect(moved.get('h1')!.written).toEqual(before.get('h1')!.written);
  expect(moved.get('h0')).toBe(before.get('h0'));
  expect(keeper.scene(topology, { at: new Map([['h1', { x: 400, y: 0 }]]) }).tiles.get('h1')!.written).toBeUndefined();
});

test('the area of a site reaches round the lines of names', () => {
  const topology = emptyTopology();
  topology.sites.s = { name: 'Valley' };
  const heightWith = (name: string): number => {
    for (const at of [0, 1])
      topology.devices[`h${at}`] = { name: `${name}${at}`, model: 'desktop', site: 's', at: { x: at * 72, y: 0 } };
    return sceneOf(topology).sites[0]!.height;
  };
  expect(heightWith('TICKETS-VALLEY-') - heightWith('T')).toBe(14);
});
