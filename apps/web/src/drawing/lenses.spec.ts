import { analyse } from '@sobrin/core/engine';
import { type Topology, emptyTopology } from '@sobrin/core/topology';
import { factsOf } from '../workers/facts';
import { bandsOf, domainName, fieldKeys, middleOf } from './lenses';

const host = (address: string) => ({
  name: 'H',
  model: 'desktop',
  at: { x: 0, y: 0 },
  interfaces: { e0: { on: { kind: 'port' as const, port: 'e0' }, v4: { addresses: [address] } } },
});
const topology: Topology = {
  ...emptyTopology(),
  devices: {
    r: { name: 'R', model: 'border-router', at: { x: 0, y: 0 }, fields: { rack: 'A1' } },
    a: host('10.84.1.2/24'),
    b: host('10.84.2.2/24'),
  },
  links: {
    one: {
      a: { device: 'a', port: 'e0' },
      b: { device: 'r', port: 'g0' },
      medium: 'straight',
      cableId: 'KR-1',
      fields: { colour: 'blue' },
    },
    two: { a: { device: 'b', port: 'e0' }, b: { device: 'r', port: 'g1' }, medium: 'straight' },
    down: { a: { device: 'b', port: 'e0' }, b: { device: 'r', port: 'f1' }, medium: 'straight' },
  },
};

test('each broadcast domain has a letter and a tone of its own; a link that is down is in none', () => {
  const { links, ...rest } = topology;
  const { down: _down, ...up } = links;
  const sound = { ...rest, links: up };
  const bands = bandsOf(sound, factsOf(analyse(sound)).links, { domains: true })!;
  expect([bands.get('one'), bands.get('two')]).toEqual([[{ label: 'A', tone: 1 }], [{ label: 'B', tone: 2 }]]);
  expect(bandsOf(topology, factsOf(analyse(topology)).links, { domains: true })!.get('down')).toEqual([]);
});
test('there are no bands without a lens, nor where nothing is told', () => {
  expect(bandsOf(topology, {}, {})).toBeNull();
  expect(bandsOf(topology, null, { domains: true })).toBeNull();
});
test('domains go on after Z', () => expect([0, 25, 26, 51, 52].map(domainName)).toEqual(['A', 'Z', 'AA', 'AZ', 'BA']));
test('the middle of a link tells what the lenses ask for, and nothing that is not known', () => {
  const off = { ends: false, subnets: false, cables: false };
  expect(middleOf(topology, 'one', null, { ...off, cables: true, ids: true, speeds: true })).toBe('Cu · KR-1');
  expect(middleOf(topology, 'one', null, { ...off, field: 'colour' })).toBe('blue');
  expect(middleOf(topology, 'two', null, { ...off, field: 'colour', ids: true })).toBe('');
  expect(middleOf(topology, 'gone', null, { ...off, cables: true })).toBe('');
});
test('every field that is in use can be a lens', () => expect(fieldKeys(topology)).toEqual(['colour', 'rack']));
