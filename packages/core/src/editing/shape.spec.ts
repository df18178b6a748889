import { instancesOf } from '../engine';
import { Sheet } from '../tests/topologies';
import { type Command, KIT, type Topology, applyBatch, portsOf, readTopology } from '../topology';
import { changeModel, kitRefusalOf, leftInKit, setCount, setPortCount } from '.';

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

describe('plain wired devices', () => {
  const sheet = () =>
    new Sheet()
      .device('A', 'wired-device')
      .device('B', 'wired-device')
      .device('SW', 'access-switch-12')
      .cable('SW p1', 'A e0').topology;
  test('get another number of ports: links of those that stay stay, a model that nothing is of any more goes', () => {
    const two = after(sheet(), setPortCount(sheet(), 'A', 6));
    expect([two.devices.A!.model, portsOf(two, two.devices.A!).length]).toEqual(['wired-device-6', 6]);
    expect(Object.keys(two.links)).toHaveLength(1);
    const both = after(two, setPortCount(two, 'B', 6));
    const one = after(both, setPortCount(both, 'A', 2));
    expect(Object.keys(one.models!)).toEqual(['wired-device-6', 'wired-device-2']);
    const none = after(one, setPortCount(one, 'A', 1));
    expect(Object.keys(none.models!)).toEqual(['wired-device-6']);
  });
  test('are one and the same to the limits of a kit, whatever their size; another model by that name is not', () => {
    const kit = { 'wired-device': { most: 2 } };
    const six = after(sheet(), setPortCount(sheet(), 'A', 6));
    expect(leftInKit(six, 'wired-device-6', kit)).toBe(0);
    expect(kitRefusalOf(sheet(), six, kit)).toBeNull();
    const smuggled: Topology = {
      ...sheet(),
      models: { 'wired-device-7': { ...KIT['border-router']! } },
    };
    smuggled.devices.B!.model = 'wired-device-7';
    expect(kitRefusalOf(sheet(), smuggled, kit)).toMatch(/has no “Border router”/);
  });
});
