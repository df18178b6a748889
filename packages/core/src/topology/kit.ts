import { type Device, type DeviceKind, type Model, type PortFacts, type Topology } from './schema';
import { entryOf } from '../records';

const FAST = [10, 100];
const GIGABIT = [10, 100, 1000];

const ports = (prefix: string, first: number, count: number, facts: Omit<PortFacts, 'key'>): PortFacts[] =>
  Array.from({ length: count }, (_, at) => ({ key: `${prefix}${first + at}`, ...facts }));

/** Gigabit copper finds its pairing by itself (IEEE 802.3 clause 40.4.4); 10/100 copper of the kit does not. */
const gigabit = (pairing: 'mdi' | 'mdix', more: Partial<PortFacts> = {}): Omit<PortFacts, 'key'> => ({
  connector: 'copper',
  speeds: GIGABIT,
  pairing,
  auto: true,
  ...more,
});
const fast = (pairing: 'mdi' | 'mdix', more: Partial<PortFacts> = {}): Omit<PortFacts, 'key'> => ({
  connector: 'copper',
  speeds: FAST,
  pairing,
  ...more,
});
const fibre = (kind: 'mm-fibre' | 'sm-fibre', more: Partial<PortFacts> = {}): Omit<PortFacts, 'key'> => ({
  connector: kind,
  speeds: [1000],
  ...more,
});
const serial: Omit<PortFacts, 'key'> = { connector: 'serial', speeds: [2] };
const radio: Omit<PortFacts, 'key'> = { connector: 'radio', speeds: [300], many: true };
const consolePort: PortFacts = { key: 'con', connector: 'console', speeds: [0] };

const ROUTER_BAY = { accepts: ['serial-1', 'serial-4', 'switch-8', 'fibre-mm', 'fibre-sm', 'copper-1'] };
const POWER_BAY = { accepts: ['power'] };

const accessSwitch = (access: number, poeWatts: number): Model => ({
  poeWatts,
  name: `Access switch ${access} + 4`,
  kind: 'switch',
  class: 'intermediary',
  bridges: 'vlan',
  ports: [
    ...ports('p', 1, access, fast('mdix', { switched: true, poe: 'source' })),
    ...ports('u', 1, 4, gigabit('mdix', { switched: true })),
    consolePort,
  ],
});

const end = (name: string, kind: DeviceKind, port: Omit<PortFacts, 'key'>): Model => ({
  name,
  kind,
  class: 'end',
  ports: ports(port.connector === 'radio' ? 'w' : 'e', 0, 1, port),
});

/** A passive device: each port at its front is wired to the one of the same number at its rear. */
const passive = (name: string, kind: DeviceKind, count: number): Model => {
  const side = (prefix: string, other: string, more: Partial<PortFacts>): PortFacts[] =>
    ports(prefix, 1, count, gigabit('mdix', more)).map((port, at) => ({ ...port, through: `${other}${at + 1}` }));
  return {
    name,
    kind,
    class: 'passive',
    bridges: 'hub',
    ports: [...side('p', 'r', {}), ...side('r', 'p', { rear: true })],
  };
};

/** The most ports that a plain wired device has. */
export const MOST_WIRED_PORTS = 48;
const WIRED = 'wired-device';
/** A plain wired device with so many ports, and the id of its model: that of the kit has one, others stand in the drawing. */
export function wiredDevice(count: number): { id: string; model: Model } {
  const own = ports('e', 0, count, gigabit('mdi'));
  return {
    id: count === 1 ? WIRED : `${WIRED}-${count}`,
    model: { name: count === 1 ? 'Wired device' : `Wired device ${count}`, kind: 'device', class: 'end', ports: own },
  };
}
/** The model of the kit that one of a drawing is a size of; its own id otherwise. */
export const kitIdOf = (topology: Topology, id: string): string =>
  entryOf(topology.models, id)?.kind === 'device' && /^wired-device-\d+$/.test(id) ? WIRED : id;

/** The models that every lab can use. They are Sobrin's own. Instructors' models live in the lab file (`models`). */
export const KIT: Readonly<Record<string, Model>> = {
  'border-router': {
    name: 'Border router',
    kind: 'router',
    class: 'intermediary',
    forwards: true,
    ports: [...ports('g', 0, 4, gigabit('mdi')), ...ports('f', 1, 1, fibre('sm-fibre')), consolePort],
  },
  'modular-router': {
    name: 'Modular router',
    kind: 'router',
    class: 'intermediary',
    forwards: true,
    ports: [...ports('g', 0, 4, gigabit('mdi')), consolePort],
    bays: { b1: ROUTER_BAY, b2: ROUTER_BAY, b3: ROUTER_BAY },
  },
  'access-switch-12': accessSwitch(12, 120),
  'access-switch-20': accessSwitch(20, 200),
  'access-switch-44': accessSwitch(44, 370),
  'l3-switch': {
    name: 'Layer-3 switch 16 + 4',
    kind: 'l3-switch',
    class: 'intermediary',
    forwards: true,
    bridges: 'vlan',
    ports: [
      ...ports('p', 1, 16, gigabit('mdix', { switched: true })),
      ...ports('f', 1, 4, fibre('mm-fibre', { switched: true })),
      consolePort,
    ],
  },
  'core-switch': {
    name: 'Core switch',
    kind: 'l3-switch',
    class: 'intermediary',
    forwards: true,
    bridges: 'vlan',
    ports: [
      ...ports('p', 1, 12, gigabit('mdix', { switched: true })),
      ...ports('f', 1, 12, fibre('sm-fibre', { switched: true })),
      consolePort,
    ],
    bays: { power1: POWER_BAY, power2: POWER_BAY },
  },
  hub: {
    name: 'Hub 8',
    kind: 'hub',
    class: 'intermediary',
    bridges: 'hub',
    ports: ports('p', 1, 8, { ...fast('mdix'), speeds: [10] }),
  },
  firewall: {
    name: 'Firewall',
    kind: 'firewall',
    class: 'security',
    forwards: true,
    ports: [...ports('g', 0, 4, gigabit('mdi')), consolePort],
  },
  'access-point': {
    name: 'Access point',
    kind: 'access-point',
    class: 'wireless',
    bridges: 'vlan',
    ports: [
      ...ports('e', 0, 1, gigabit('mdi', { switched: true, poe: 'sink' })),
      ...ports('w', 0, 1, { ...radio, switched: true }),
    ],
  },
  'home-gateway': {
    name: 'Home gateway',
    kind: 'home-gateway',
    class: 'wireless',
    forwards: true,
    bridges: 'vlan',
    ports: [
      ...ports('g', 0, 1, gigabit('mdi')),
      ...ports('p', 1, 4, gigabit('mdix', { switched: true })),
      ...ports('w', 0, 1, { ...radio, switched: true }),
    ],
  },
  'cable-modem': {
    name: 'Cable modem',
    kind: 'modem',
    class: 'intermediary',
    bridges: 'hub',
    ports: [...ports('c', 0, 1, { connector: 'coax', speeds: [100] }), ...ports('e', 0, 1, fast('mdix'))],
  },
  'dsl-modem': {
    name: 'DSL modem',
    kind: 'modem',
    class: 'intermediary',
    bridges: 'hub',
    ports: [...ports('l', 0, 1, { connector: 'phone', speeds: [100] }), ...ports('e', 0, 1, fast('mdix'))],
  },
  'media-converter': {
    name: 'Media converter',
    kind: 'converter',
    class: 'intermediary',
    bridges: 'hub',
    ports: [...ports('e', 0, 1, gigabit('mdix')), ...ports('f', 0, 1, fibre('mm-fibre'))],
  },
  'shared-segment': {
    name: 'Shared bus segment',
    kind: 'segment',
    class: 'intermediary',
    bridges: 'hub',
    // Taps of copper on one wire: whatever has a copper port can be plugged in, as many as one likes.
    ports: ports('c', 0, 1, fast('mdix', { auto: true, many: true })),
  },
  'provider-cloud': {
    name: 'Provider cloud',
    kind: 'cloud',
    class: 'cloud',
    forwards: true,
    ports: [
      ...ports('g', 0, 4, gigabit('mdi')),
      ...ports('c', 0, 1, { connector: 'coax', speeds: [100] }),
      ...ports('l', 0, 1, { connector: 'phone', speeds: [100] }),
    ],
  },
  'wan-cloud': {
    name: 'WAN cloud',
    kind: 'cloud',
    class: 'cloud',
    bridges: 'hub',
    ports: [...ports('s', 0, 4, serial), ...ports('g', 0, 4, gigabit('mdix'))],
  },
  desktop: end('Desktop', 'desktop', fast('mdi')),
  laptop: {
    ...end('Laptop', 'laptop', fast('mdi')),
    ports: [...ports('e', 0, 1, fast('mdi')), ...ports('w', 0, 1, { ...radio, many: false }), consolePort],
  },
  server: end('Server', 'server', gigabit('mdi')),
  printer: end('Printer', 'printer', fast('mdi')),
  phone: {
    name: 'Phone',
    kind: 'phone',
    class: 'end',
    bridges: 'hub',
    ports: [...ports('e', 0, 1, fast('mdi', { poe: 'sink', watts: 7 })), ...ports('d', 0, 1, fast('mdix'))],
  },
  tablet: end('Tablet', 'tablet', { ...radio, many: false }),
  smartphone: end('Smartphone', 'smartphone', { ...radio, many: false }),
  camera: end('Camera', 'camera', fast('mdi', { poe: 'sink' })),
  till: end('Till', 'till', fast('mdi')),
  turnstile: end('Turnstile', 'turnstile', fast('mdi')),
  controller: end('Controller', 'controller', fast('mdi')),
  sensor: end('Sensor', 'sensor', fast('mdi')),
  [WIRED]: wiredDevice(1).model,
  'patch-panel-24': passive('Patch panel 24', 'patch-panel', 24),
  'outlet-2': passive('Outlet 2', 'outlet', 2),
};

/** A part that goes into a bay; its ports get the key of the bay in front: "b1/f0". */
export interface Module {
  readonly name: string;
  readonly ports: readonly PortFacts[];
}
/** Modules that can be put into bays, by their ids. */
export const MODULES: Readonly<Record<string, Module>> = {
  'serial-1': { name: 'Serial 1', ports: ports('s', 0, 1, serial) },
  'serial-4': { name: 'Serial 4', ports: ports('s', 0, 4, serial) },
  'switch-8': { name: 'Switch 8', ports: ports('p', 1, 8, fast('mdix', { switched: true })) },
  'fibre-mm': { name: 'Multi-mode fibre transceiver', ports: ports('f', 0, 1, fibre('mm-fibre')) },
  'fibre-sm': { name: 'Single-mode fibre transceiver', ports: ports('f', 0, 1, fibre('sm-fibre')) },
  'copper-1': { name: 'Copper transceiver', ports: ports('g', 0, 1, gigabit('mdi')) },
  power: { name: 'Power supply', ports: [] },
};

/** The model of a device: from the kit, or defined in the document; undefined where it is neither. */
export const modelOf = (topology: Topology, device: Device): Model | undefined =>
  entryOf(KIT, device.model) ?? entryOf(topology.models, device.model);

/** All ports of a device with those of its modules, in the order of the model. */
export function portsOf(topology: Topology, device: Device): PortFacts[] {
  const model = modelOf(topology, device);
  if (!model) return [];
  const inBays = Object.entries(device.modules ?? {})
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .flatMap(([bay, module]) =>
      (entryOf(MODULES, module)?.ports ?? []).map((port) => ({ ...port, key: `${bay}/${port.key}` })),
    );
  return inBays.length ? [...model.ports, ...inBays] : model.ports;
}

/** The port of a device by its key; undefined where it has none of that key. */
export const portOf = (topology: Topology, device: Device, key: string): PortFacts | undefined =>
  portsOf(topology, device).find((port) => port.key === key);

/** Whether a port belongs to the device's bridge: the model says so, and the configuration may make it routed. */
export function isSwitched(topology: Topology, device: Device, facts: PortFacts): boolean {
  if (modelOf(topology, device)?.bridges !== 'vlan' || !facts.switched) return false;
  return device.ports?.[facts.key]?.role?.kind !== 'routed';
}
