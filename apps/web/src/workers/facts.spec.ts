import { analyse } from '@sobrin/core/engine';
import { type Topology, emptyTopology } from '@sobrin/core/topology';
import { factsOf } from './facts';

const pair = (medium: 'straight' | 'crossover' | 'serial', enabled = true): Topology => ({
  ...emptyTopology(),
  devices: {
    a: { name: 'A', model: 'desktop', at: { x: 0, y: 0 }, ...(!enabled && { ports: { e0: { enabled } } }) },
    b: { name: 'B', model: 'desktop', at: { x: 0, y: 0 } },
  },
  links: { l: { a: { device: 'a', port: 'e0' }, b: { device: 'b', port: 'e0' }, medium } },
});

test.each([
  ['crossover', true, 'up'],
  ['straight', true, 'crossed'],
  ['serial', true, 'crossed'],
  ['crossover', false, 'down'],
] as const)('two hosts on a %s cable (ports on: %s): %s', (medium, enabled, state) => {
  const { links, problems } = factsOf(analyse(pair(medium, enabled)));
  expect(links.l!.state).toBe(state);
  expect(links.l!.text === '').toBe(state === 'up');
  expect(problems.length > 0).toBe(state !== 'up');
});
