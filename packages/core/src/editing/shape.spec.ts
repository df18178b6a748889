import { instancesOf } from '../engine';
import { Sheet } from '../tests/topologies';
import { type Command, type Topology, applyBatch, readTopology } from '../topology';
import { changeModel, setCount } from '.';

function after(topology: Topology, commands: Command[]): Topology {
  const done = applyBatch(topology, 'test', commands);
  if (!done.ok) throw new Error(done.error);
  const sound = readTopology(done.value.document);
  if (!sound.ok) throw new Error(sound.error[0]!.text);
  return sound.value;
}

describe('another model', () => {
  const drawn = (): Topology =>
    new Sheet()
      .device('S', 'access-switch-20', {}, { ports: { p2: { label: 'desk' }, p19: { enabled: false } } })
      .host('A', '10.84.1.1/26')
      .host('B', '10.84.1.2/26')
      .cable('A e0', 'S p2')
      .cable('B e0', 'S p19').topology;
  test('keeps links and settings of ports that both have, and takes the others along', () => {
    const { devices, links } = after(drawn(), changeModel(drawn(), 'S', 'access-switch-12'));
    expect(devices.S).toMatchObject({ model: 'access-switch-12', ports: { p2: { label: 'desk' } } });
    expect(devices.S!.ports).not.toHaveProperty('p19');
    expect(Object.values(links).map((link) => link.b.port)).toEqual(['p2']);
  });
  test('keeps modules only where a bay takes them', () => {
    const { topology } = new Sheet().device('R', 'modular-router', {}, { modules: { b1: 'serial-1' } });
    expect(after(topology, changeModel(topology, 'R', 'border-router')).devices.R).not.toHaveProperty('modules');
  });
});

describe('a tile of like hosts', () => {
  const desk = (): Topology =>
    new Sheet()
      .device('S', 'access-switch-12')
      .device('DESK', 'desktop', { e0: '10.84.1.11/29' })
      .host('X', '10.84.1.12/29')
      .cable('DESK e0', 'S p1').topology;
  const addresses = (topology: Topology): (string | undefined)[] =>
    [...instancesOf(topology).values()]
      .filter((instance) => instance.deviceId === 'DESK')
      .map((instance) => instance.interfaces[0]?.[1].v4?.addresses?.[0]);
  test('of one host becomes several, each with an address of its own; the cable stays with the first', () => {
    const three = after(desk(), setCount(desk(), 'DESK', 3));
    expect(addresses(three)).toEqual(['10.84.1.11/29', '10.84.1.13/29', '10.84.1.14/29']);
    expect(Object.values(three.links)[0]!.a).toEqual({ device: 'DESK', member: 'm1', port: 'e0' });
  });
  test('goes back to one with the address and the cable of the first', () => {
    const three = after(desk(), setCount(desk(), 'DESK', 3));
    const single = after(three, setCount(three, 'DESK', 1));
    expect(single).toEqual(desk());
  });
  test('loses the last ones with their links', () => {
    const three = after(desk(), setCount(desk(), 'DESK', 3));
    const cabled = after(three, [
      {
        kind: 'connect',
        id: 'k',
        link: { a: { device: 'DESK', member: 'm3', port: 'e0' }, b: { device: 'S', port: 'p2' }, medium: 'straight' },
      },
    ]);
    const two = after(cabled, setCount(cabled, 'DESK', 2));
    expect(Object.keys(two.devices.DESK!.members!)).toEqual(['m1', 'm2']);
    expect(Object.keys(two.links)).toEqual(Object.keys(desk().links));
  });
  test('stays as it is where nothing changes', () => {
    expect(setCount(desk(), 'DESK', 1)).toEqual([]);
    expect(setCount(desk(), 'DESK', 0)).toEqual([]);
  });
});
