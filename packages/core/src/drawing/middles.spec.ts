import { type LinkLine } from './lines';
import { middlePlaces } from './middles';
import { sceneOf } from './scene';
import { Sheet } from '../tests/topologies';

/** Cables from hosts side by side to one switch: nearer to it they come closer to each other. */
function comb(): LinkLine[] {
  const sheet = new Sheet().device('S', 'access-switch-12', {}, { at: { x: 0, y: 0 } });
  for (let at = 0; at < 6; at++)
    sheet.device(`H${at}`, 'desktop', {}, { at: { x: 20 * at, y: 260 } }).cable(`H${at} e0`, `S p${at + 1}`);
  return [...sceneOf(sheet.topology).lines.values()];
}

test('what is written along links side by side does not lie on one another', () => {
  const lines = comb();
  const places = middlePlaces(lines, new Map(lines.map(({ id }) => [id, { width: 27, height: 16 }])));
  expect(places.size).toBe(6);
  expect(new Set(places.values()).size).toBeGreaterThan(1);
  expect(places.get(lines[0]!.id)).toBe(0.5);
});
test('alone it stands in the middle, and so does what has no room anywhere', () => {
  const [line] = comb();
  const sizes = new Map([[line!.id, { width: 27, height: 16 }]]);
  expect([...middlePlaces([line!], sizes).values()]).toEqual([0.5]);
  const wide = comb().map((each) => [each.id, { width: 4000, height: 900 }] as const);
  expect([...middlePlaces(comb(), new Map(wide)).values()]).toEqual(Array.from({ length: 6 }, () => 0.5));
});
