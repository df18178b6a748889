// A campus of 1,000 devices and 1,500 links in ten sites; one switch of it has 72 links.
const SITES = 10;
const HOSTS = 80;
const ACCESS = 16;
const CORE = 4;
const HUB_HOSTS = 53;
const SITE = { width: 3300, height: 1000 };

/** The switch with 72 links: the 16 access switches of its site, three others of the core and 53 hosts. */
export const HUB = 's0-core-0';

const copper = (key, extra) => ({ key, connector: 'copper', speeds: [100, 1000], auto: true, ...extra });
const MODELS = {
  'wide-switch': {
    name: 'Wide switch',
    kind: 'switch',
    class: 'intermediary',
    bridges: 'vlan',
    ports: Array.from({ length: 96 }, (_one, at) => copper(`p${at + 1}`, { switched: true, pairing: 'mdix' })),
  },
  'two-port-host': {
    name: 'Host with two ports',
    kind: 'desktop',
    class: 'end',
    ports: [copper('eth0', { pairing: 'mdi' }), copper('eth1', { pairing: 'mdi' })],
  },
};

/** The campus as a drawing of Sobrin's. */
export function campus() {
  const topology = { format: 'sobrin-topology', version: 1, sites: {}, devices: {}, links: {}, models: MODELS };
  const used = {};
  const link = (a, b) => {
    const end = (device) => {
      used[device] = (used[device] ?? 0) + 1;
      const isHost = topology.devices[device].model === 'two-port-host';
      return { device, port: isHost ? `eth${used[device] - 1}` : `p${used[device]}` };
    };
    topology.links[`l${Object.keys(topology.links).length}`] = { a: end(a), b: end(b), medium: 'straight' };
  };
  for (let site = 0; site < SITES; site++) {
    const id = `s${site}`;
    const left = (site % 3) * SITE.width;
    const top = Math.floor(site / 3) * SITE.height;
    topology.sites[id] = { name: `Site ${site + 1}` };
    const add = (key, name, model, x, y, address) => {
      const face = address && {
        interfaces: { eth0: { on: { kind: 'port', port: 'eth0' }, v4: { addresses: [address] } } },
      };
      topology.devices[key] = { name, model, site: id, at: { x: left + x, y: top + y }, ...face };
      return key;
    };
    const row = (count, word, name, model, step, y) =>
      Array.from({ length: count }, (_one, at) =>
        add(`${id}-${word}-${at}`, `${name}${site}-${at + 1}`, model, 20 + at * step, y),
      );
    const core = row(CORE, 'core', 'CORE', 'wide-switch', 900, 0);
    const access = row(ACCESS, 'access', 'SW', 'wide-switch', 200, 220);
    const hosts = Array.from({ length: HOSTS }, (_one, at) =>
      add(
        `${id}-host-${at}`,
        `PC${site}-${at + 1}`,
        'two-port-host',
        20 + (at % 20) * 160,
        420 + Math.floor(at / 20) * 120,
        `10.${site}.0.${at + 10}/24`,
      ),
    );
    for (const [at, host] of hosts.entries()) link(host, site === 0 && at < HUB_HOSTS ? core[0] : access[at % ACCESS]);
    for (const [at, device] of access.entries()) for (const uplink of [0, 1 + (at % 3)]) link(device, core[uplink]);
    for (const [at, device] of core.entries()) for (const other of core.slice(at + 1)) link(device, other);
    for (let at = 0; at < 32; at++) link(hosts[HOSTS - 1 - at], access[(at * 7) % ACCESS]);
  }
  return topology;
}

/** The same scene for a page that knows nothing of Sobrin: boxes with three lines, links with three labels. */
export function plainScene(topology) {
  const boxes = Object.entries(topology.devices).map(([id, device]) => {
    const address = device.interfaces?.eth0.v4.addresses[0];
    const isHost = device.model === 'two-port-host';
    return {
      id,
      x: device.at.x,
      y: device.at.y,
      width: isHost ? 44 : 112,
      height: 44,
      name: device.name,
      lines: address ? [address, '255.255.255.0'] : ['Wide switch', '96 ports'],
    };
  });
  const links = Object.entries(topology.links).map(([id, { a, b }], at) => ({
    id,
    from: a.device,
    to: b.device,
    labels: [a.port, `C-${at + 1}`, b.port],
  }));
  return { boxes, links };
}
