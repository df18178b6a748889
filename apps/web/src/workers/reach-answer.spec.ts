import { analyse } from '@sobrin/core/engine';
import { type Topology, emptyTopology } from '@sobrin/core/topology';
import { reachAnswer } from './reach-answer';

const host = (name: string, address?: string, gateway4?: string) => ({
  name,
  model: 'desktop',
  at: { x: 0, y: 0 },
  ...(address && { interfaces: { e0: { on: { kind: 'port' as const, port: 'e0' }, v4: { addresses: [address] } } } }),
  ...(gateway4 && { settings: { gateway4 } }),
});
const topology: Topology = {
  ...emptyTopology(),
  devices: {
    s: { name: 'S', model: 'access-switch-12', at: { x: 0, y: 0 } },
    a: host('A', '10.84.1.2/24'),
    b: host('B', '10.84.1.3/24'),
    far: host('FAR', '10.84.9.3/24'),
    mute: host('MUTE'),
  },
  links: Object.fromEntries(
    ['a', 'b', 'far', 'mute'].map((id, at) => [
      id,
      { a: { device: id, port: 'e0' }, b: { device: 's', port: `p${at + 1}` }, medium: 'straight' as const },
    ]),
  ),
};

test('whom a device reaches is told of every device with an address, with the reason where it does not', () => {
  const { devices } = reachAnswer(analyse(topology), 'a');
  expect(devices.b).toEqual({ answer: 'yes', reason: null });
  expect(devices.far!.answer).toBe('no');
  expect(devices.far!.reason).toMatch(/\./);
  expect(Object.keys(devices).sort()).toEqual(['b', 'far']);
});
test('one member that is not reached speaks for its tile', () => {
  const tiled = structuredClone(topology);
  tiled.devices.b!.members = { m1: {}, m2: {} };
  tiled.links.b!.a.member = 'm1';
  expect(reachAnswer(analyse(tiled), 'a').devices.b!.answer).not.toBe('yes');
});
test('a device that is gone reaches nobody', () => expect(reachAnswer(analyse(topology), 'x').devices).toEqual({}));
