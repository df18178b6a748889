import { type Device, type Interface, type PortConfig, type Topology, emptyTopology } from '../topology';
import { cableBetween } from '../editing';

/** A small drawing to begin with: everything in it is cabled, addressed and reaches everything else. */
export interface Starter {
  readonly id: string;
  readonly name: string;
  readonly use: string;
  readonly make: () => Topology;
}

/** Puts a drawing together: devices with their places, and cables with the ports and the medium that fit. */
class Sheet {
  readonly topology: Topology = emptyTopology();

  constructor(readonly id: string) {
    this.topology.origin = { kind: 'starter', id };
  }

  site(id: string, name: string): void {
    this.topology.sites[id] = { name };
  }

  add(id: string, model: string, x: number, y: number, more: Partial<Device> = {}): void {
    this.topology.devices[id] = { name: id, model, at: { x, y }, ...more };
  }

  /** A row of desktops below a switch, each with an address and the gateway. */
  row(
    ids: readonly string[],
    to: string,
    x: number,
    y: number,
    addressOf: (at: number) => string,
    gateway: string | null,
    more: Partial<Device> = {},
  ): void {
    for (const [at, id] of ids.entries()) {
      const settings = gateway === null ? {} : { settings: { gateway4: gateway } };
      this.add(id, 'desktop', x + at * 70, y, {
        interfaces: { e0: interfaceConfig('e0', addressOf(at)) },
        ...settings,
        ...more,
      });
      this.link(id, to);
    }
  }

  link(a: string, b: string, portA?: string, portB?: string): string {
    const cable = cableBetween(
      this.topology,
      { device: a, ...(portA && { port: portA }) },
      { device: b, ...(portB && { port: portB }) },
    )!;
    const id = `l${Object.keys(this.topology.links).length + 1}`;
    this.topology.links[id] = cable;
    return id;
  }
}

const interfaceConfig = (port: string, address: string): Interface => ({
  on: { kind: 'port', port },
  v4: { addresses: [address] },
});
const count = (n: number, word: string, from = 1): string[] =>
  Array.from({ length: n }, (_one, at) => `${word}-${from + at}`);

function lan(): Topology {
  const sheet = new Sheet('lan');
  sheet.add('RT-1', 'border-router', 90, 0, { interfaces: { g0: interfaceConfig('g0', '10.84.1.1/24') } });
  sheet.add('SW-1', 'access-switch-12', 80, 130);
  sheet.link('RT-1', 'SW-1', 'g0', 'u1');
  sheet.row(count(4, 'PC'), 'SW-1', 0, 270, (at) => `10.84.1.${11 + at}/24`, '10.84.1.1');
  return sheet.topology;
}

function star(): Topology {
  const sheet = new Sheet('star');
  sheet.add('SW-1', 'access-switch-12', 120, 0);
  sheet.row(count(6, 'PC'), 'SW-1', 0, 150, (at) => `10.84.1.${11 + at}/24`, null);
  return sheet.topology;
}

function extendedStar(): Topology {
  const sheet = new Sheet('extended-star');
  sheet.add('SW-1', 'access-switch-12', 300, 0);
  for (const at of [0, 1, 2]) {
    const id = `SW-${at + 2}`;
    sheet.add(id, 'access-switch-12', 20 + at * 280, 130);
    sheet.link(id, 'SW-1', 'u1', `u${at + 1}`);
    sheet.row(count(3, 'PC', 3 * at + 1), id, at * 280, 270, (host) => `10.84.1.${11 + 3 * at + host}/24`, null);
  }
  return sheet.topology;
}

function routerOnAStick(): Topology {
  const sheet = new Sheet('router-on-a-stick');
  const sub = (vlan: number, address: string): Interface => ({
    on: { kind: 'sub', port: 'g0', vlan },
    v4: { addresses: [address] },
  });
  sheet.add('RT-1', 'border-router', 90, 0, {
    interfaces: { 'g0.10': sub(10, '10.84.10.1/24'), 'g0.20': sub(20, '10.84.20.1/24') },
  });
  sheet.add('SW-1', 'access-switch-12', 80, 130, {
    settings: { vlans: { 10: 'Tickets', 20: 'Cameras' } },
    ports: { u1: { role: { kind: 'switched', mode: 'trunk', allowed: [10, 20] } } },
  });
  sheet.link('RT-1', 'SW-1', 'g0', 'u1');
  sheet.row(['PC-1', 'PC-2'], 'SW-1', 0, 270, (at) => `10.84.10.${11 + at}/24`, '10.84.10.1');
  sheet.row(['PC-3', 'PC-4'], 'SW-1', 160, 270, (at) => `10.84.20.${11 + at}/24`, '10.84.20.1');
  const ports: Record<string, PortConfig> = sheet.topology.devices['SW-1']!.ports!;
  for (const { a, b } of Object.values(sheet.topology.links)) {
    const [host, port] = a.device === 'SW-1' ? [b.device, a.port] : [a.device, b.port];
    if (host.startsWith('PC'))
      ports[port] = { role: { kind: 'switched', mode: 'access', accessVlan: Number(host.at(-1)) <= 2 ? 10 : 20 } };
  }
  return sheet.topology;
}

function twoSites(): Topology {
  const sheet = new Sheet('two-sites');
  for (const [at, name] of ['Valley', 'Summit'].entries()) {
    const [site, own, other] = [`s${at + 1}`, at + 1, 2 - at];
    const left = at * 420;
    sheet.site(site, name);
    sheet.add(`RT-${own}`, 'modular-router', left + 70, 0, {
      site,
      modules: { b1: 'serial-1' },
      interfaces: {
        g0: interfaceConfig('g0', `10.84.${own}.1/24`),
        'b1/s0': interfaceConfig('b1/s0', `10.84.0.${own}/30`),
      },
      settings: { routes: [{ prefix: `10.84.${other}.0/24`, via: `10.84.0.${other}` }] },
      ...(at === 0 && { ports: { 'b1/s0': { clockEnd: true } } }),
    });
    sheet.add(`SW-${own}`, 'access-switch-12', left + 60, 130, { site });
    sheet.link(`RT-${own}`, `SW-${own}`, 'g0', 'u1');
    sheet.row(
      count(3, 'PC', 3 * at + 1),
      `SW-${own}`,
      left + 20,
      270,
      (host) => `10.84.${own}.${11 + host}/24`,
      `10.84.${own}.1`,
      { site },
    );
  }
  sheet.link('RT-1', 'RT-2', 'b1/s0', 'b1/s0');
  return sheet.topology;
}

/** The starters that come with Sobrin, in the order in which they are offered. */
export const STARTERS: readonly Starter[] = [
  { id: 'lan', name: 'One LAN', use: 'a router, a switch and four hosts', make: lan },
  { id: 'star', name: 'Star', use: 'six hosts round one switch', make: star },
  { id: 'extended-star', name: 'Extended star', use: 'three switches round a fourth', make: extendedStar },
  { id: 'router-on-a-stick', name: 'Router on a stick', use: 'two VLANs, routed over one trunk', make: routerOnAStick },
  { id: 'two-sites', name: 'Two sites', use: 'two LANs over a serial line', make: twoSites },
];

/** How much of a drawing another one begins with. */
export type Built = 'all' | 'cabled' | 'placed';

/**
 * A drawing as the beginning of another one: all of it, cabled but not configured, or with devices that stand in their
 * places and nothing more. Comments stay behind; parts that are in the bays, power and names stay. Pure.
 */
export function beginningOf(topology: Topology, built: Built): Topology {
  const { comments: _said, locked: _held, ...drawing } = topology;
  const origin = { kind: 'copy' as const };
  if (built === 'all') return { ...drawing, origin };
  return {
    ...drawing,
    origin,
    links: built === 'placed' ? {} : drawing.links,
    devices: Object.fromEntries(
      Object.entries(drawing.devices).map(([id, { interfaces: _a, settings: _s, ports, members, ...device }]) => [
        id,
        {
          ...device,
          ...(built === 'cabled' && clocksOf(ports)),
          ...(members && {
            members: Object.fromEntries(
              Object.entries(members).map(([key, { name }]) => [key, name === undefined ? {} : { name }]),
            ),
          }),
        },
      ]),
    ),
    ...(drawing.notes &&
      built === 'placed' && {
        notes: Object.fromEntries(Object.entries(drawing.notes).filter(([, note]) => note.anchor?.kind !== 'link')),
      }),
  };
}

/** Which end of a serial cable gives the clock belongs to the cable. */
function clocksOf(ports: Device['ports']): Pick<Device, 'ports'> {
  const clocks = Object.entries(ports ?? {}).filter(([, port]) => port.clockEnd);
  return clocks.length ? { ports: Object.fromEntries(clocks.map(([key]) => [key, { clockEnd: true }])) } : {};
}
