import { clipped, sceneOf, siteAreas, tilesOf } from '../drawing';
import { Sheet } from '../tests/topologies';
import { type Command, type Topology, applyBatch, emptyTopology, readTopology } from '../topology';
import { addDevices, freshNames, moveSite, removeChosen, rename, setAddress, setModule, changePort } from '.';

const ids = () => {
  let at = 0;
  return () => `n${++at}`;
};
function after(topology: Topology, ...commands: Command[]): Topology {
  const done = applyBatch(topology, 'test', commands);
  if (!done.ok) throw new Error(done.error);
  const sound = readTopology(done.value.document);
  if (!sound.ok) throw new Error(sound.error[0]!.text);
  return sound.value;
}
const start = (): Topology => ({
  ...emptyTopology(),
  sites: { s: { name: 'Valley', area: { x: 0, y: 0, width: 100, height: 100 } }, inner: { name: 'Hall', parent: 's' } },
  devices: {
    r: {
      name: 'RT-1',
      model: 'modular-router',
      at: { x: 0, y: 0 },
      site: 's',
      modules: { b1: 'fibre-sm' },
      settings: { hostname: 'RT-1' },
    },
    q: {
      name: 'RT-2',
      model: 'modular-router',
      at: { x: 300, y: 0 },
      site: 'inner',
      modules: { b1: 'fibre-sm' },
      settings: { hostname: 'other' },
    },
    h: { name: 'PC-1', model: 'desktop', at: { x: 0, y: 200 } },
  },
  links: { l: { a: { device: 'r', port: 'b1/f0' }, b: { device: 'q', port: 'b1/f0' }, medium: 'sm-fibre' } },
});

test('new devices get the next free names of their kind', () => {
  expect(freshNames(start(), 'desktop', 2)).toEqual(['PC-2', 'PC-3']);
  expect(freshNames(start(), 'access-switch-12', 1)).toEqual(['SW-1']);
});

test('several new devices stand beside each other and on nobody', () => {
  const { ids: added, commands } = addDevices(start(), 'desktop', 12, { x: 0, y: 0 }, 's', ids());
  const topology = after(start(), ...commands);
  expect(added.map((id) => topology.devices[id]!.site)).toEqual(Array(12).fill('s'));
  const boxes = [...tilesOf(topology).values()];
  for (const [at, box] of boxes.entries())
    for (const other of boxes.slice(at + 1))
      expect(
        box.x + box.width <= other.x ||
          other.x + other.width <= box.x ||
          box.y + box.height <= other.y ||
          other.y + other.height <= box.y,
      ).toBe(true);
});

test('new devices stand on no cable, where they would read as cabled to it', () => {
  const sheet = new Sheet()
    .device('A', 'border-router', {}, { at: { x: 0, y: 0 } })
    .device('B', 'border-router', {}, { at: { x: 900, y: 0 } })
    .cable('A g0', 'B g0').topology;
  const { commands } = addDevices(sheet, 'desktop', 6, { x: 200, y: 0 }, undefined, ids());
  const topology = after(sheet, ...commands);
  const { tiles, lines } = sceneOf(topology);
  for (const [id, { x, y, width, height }] of tiles)
    if (!'AB'.includes(id))
      for (const { points } of lines.values())
        expect(clipped(points[0]!, points[1]!, { x, y, width, height })).toBeNull();
});

test('an address is kept as typed, replaced, and taken away without a trace', () => {
  const typed = after(start(), setAddress(start(), 'h', 'e0', 4, '10.84.1. 11/26'));
  expect(typed.devices.h!.interfaces).toEqual({
    e0: { on: { kind: 'port', port: 'e0' }, v4: { addresses: ['10.84.1. 11/26'] } },
  });
  const both = after(
    typed,
    setAddress(typed, 'h', 'e0', 6, 'fd00::1/64'),
    setAddress(typed, 'h', 'e0', 4, '10.84.1.11/26'),
  );
  expect(both.devices.h!.interfaces!.e0!.v4!.addresses).toEqual(['10.84.1.11/26']);
  expect(after(typed, setAddress(typed, 'h', 'e0', 4, '')).devices.h!.interfaces).toBeUndefined();
});

test('an interface that is called otherwise than its port is found by its port', () => {
  const topology = after(start(), {
    kind: 'setInterface',
    device: 'r',
    key: 'b1.f0',
    set: { on: { kind: 'port', port: 'b1/f0' }, v4: { addresses: ['10.0.0.1/30'] }, mtu: 1400 },
  });
  const changed = after(topology, setAddress(topology, 'r', 'b1/f0', 4, '10.0.0.2/30'));
  expect(changed.devices.r!.interfaces).toEqual({
    'b1.f0': { on: { kind: 'port', port: 'b1/f0' }, v4: { addresses: ['10.0.0.2/30'] }, mtu: 1400 },
  });
});

test('a hostname that was the name goes along with a new name, another one stays', () => {
  expect(after(start(), ...rename(start(), 'r', 'RT-V')).devices.r!.settings!.hostname).toBe('RT-V');
  expect(after(start(), ...rename(start(), 'q', 'RT-M')).devices.q!.settings!.hostname).toBe('other');
});

test('a module that is taken out takes the links and settings of its ports along', () => {
  const labelled = after(
    start(),
    changePort('r', 'b1/f0', { label: 'up' }),
    setAddress(start(), 'r', 'b1/f0', 4, '10.0.0.1/30'),
  );
  const without = after(labelled, ...setModule(labelled, 'r', 'b1', null));
  expect(without.links).toEqual({});
  expect([without.devices.r!.modules, without.devices.r!.ports, without.devices.r!.interfaces]).toEqual([
    undefined,
    undefined,
    undefined,
  ]);
});

test('defaults of a port are not stored', () => {
  const off = after(start(), changePort('h', 'e0', { enabled: false }));
  expect(off.devices.h!.ports).toEqual({ e0: { enabled: false } });
  expect(after(off, changePort('h', 'e0', { enabled: undefined })).devices.h!.ports).toBeUndefined();
});

test('removing a device and one of its links at once removes the link once', () => {
  expect(after(start(), ...removeChosen(start(), { devices: ['r'], links: ['l'], sites: [] })).links).toEqual({});
  expect(
    after(start(), ...removeChosen(start(), { devices: [], links: [], sites: ['s'] })).devices.r!.site,
  ).toBeUndefined();
});

test('a site moves with all that stands in it and in the sites inside it', () => {
  const moved = after(start(), ...moveSite(start(), 's', { x: 10, y: 20 }));
  expect([moved.devices.r!.at, moved.devices.q!.at, moved.devices.h!.at, moved.sites.s!.area]).toEqual([
    { x: 10, y: 20 },
    { x: 310, y: 20 },
    { x: 0, y: 200 },
    { x: 10, y: 20, width: 100, height: 100 },
  ]);
});

test('told only the site, new devices stand inside it, in its lowest row or below, on nobody', () => {
  const area = siteAreas(start(), tilesOf(start())).find((area) => area.id === 's')!;
  const { ids: added, commands } = addDevices(start(), 'desktop', 4, null, 's', ids());
  const topology = after(start(), ...commands);
  const grown = siteAreas(topology, tilesOf(topology)).find((area) => area.id === 's')!;
  expect([grown.x, grown.width]).toEqual([area.x, area.width]);
  const places = new Set(Object.values(topology.devices).map(({ at }) => `${at.x} ${at.y}`));
  expect(places.size).toBe(Object.keys(topology.devices).length);
  expect(added).toHaveLength(4);
});
