import { type Topology, emptyTopology } from '../topology';
import { readingOrder } from './reading-order';
import { sceneOf } from './scene';

const at = (x: number, y: number, site?: string) => ({
  name: '',
  model: 'desktop',
  at: { x, y },
  ...(site !== undefined && { site }),
});
const read = (topology: Topology): string[] =>
  readingOrder(topology, sceneOf(topology)).map(({ kind, id }) => (kind === 'site' ? `[${id}]` : id));

test('what stands side by side is read from the left, one row after the other, whatever the order in the file', () => {
  const topology = {
    ...emptyTopology(),
    devices: { a: at(400, 210), b: at(100, 0), c: at(0, 200), d: at(0, 8), e: at(200, 190) },
  };
  expect(read(topology)).toEqual(['d', 'b', 'c', 'e', 'a']);
});

test('what stands in a site comes right after it, also in one within another', () => {
  const area = (x: number, y: number, width: number) => ({ x, y, width, height: 300 });
  const topology: Topology = {
    ...emptyTopology(),
    sites: {
      east: { name: 'East', area: area(1000, 0, 400) },
      west: { name: 'West', area: area(0, 0, 800) },
      hut: { name: 'Hut', parent: 'west', area: area(400, 50, 300) },
    },
    devices: {
      e1: at(1100, 100, 'east'),
      w2: at(100, 200, 'west'),
      w1: at(100, 80, 'west'),
      h1: at(450, 100, 'hut'),
      free: at(850, 20),
    },
  };
  expect(read(topology)).toEqual(['[west]', 'w1', '[hut]', 'h1', 'w2', 'free', '[east]', 'e1']);
});
