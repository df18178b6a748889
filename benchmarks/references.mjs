// Networks of 5 to 60 devices as labs have them, seeded: stations with a router, switches one behind another or side by
// side, hosts of several kinds, and one subnet or one VLAN for each kind of work.

const HOSTS = ['desktop', 'laptop', 'printer', 'server', 'till', 'camera', 'phone', 'controller'];

/** @param size how many devices there are, from 5 to 60 */
export function seededReference({ emptyTopology }, size, random) {
  const topology = emptyTopology();
  const pick = (list) => list[Math.floor(random() * list.length)];
  const place = { x: 0, y: 0 };
  const link = (id, a, b, medium) => {
    topology.links[id] = { a, b, medium };
  };
  const stations = Math.max(1, Math.min(5, Math.round(size / 14)));
  const free = [];
  let left = size;
  for (let s = 0; s < stations; s++) {
    const [id, hangs] = [`R${s}`, random() < 0.5 ? 'behind' : 'beside'];
    topology.devices[id] = {
      name: `RT-${s}`,
      model: 'modular-router',
      at: place,
      modules: { b1: 'fibre-sm', b2: 'fibre-sm' },
      interfaces: {},
      settings: { ospf: { networks: [{ prefix: '10.0.0.0/8', area: 0 }] } },
    };
    left--;
    if (s > 0) {
      const on = (device, port, last) => {
        topology.devices[device].interfaces[port.replace('/', '.')] = {
          on: { kind: 'port', port },
          v4: { addresses: [`10.255.${s}.${last}/30`] },
        };
      };
      link(`w${s}`, { device: `R${s - 1}`, port: 'b2/f0' }, { device: id, port: 'b1/f0' }, 'sm-fibre');
      on(`R${s - 1}`, 'b2/f0', 1);
      on(id, 'b1/f0', 2);
    }
    // Switches of one station serve different people.
    const kinds = [...HOSTS].sort(() => random() - 0.5);
    const switches = Math.max(1, Math.min(3, Math.round(size / stations / 6)));
    for (let w = 0; w < switches && left > stations - s; w++) {
      const at = `S${s}-${w}`;
      topology.devices[at] = { name: `SW-${s}${w}`, model: 'access-switch-12', at: place, ports: {} };
      left--;
      const above =
        w === 0 || hangs === 'beside' ? { device: id, port: `g${w + 1}` } : { device: `S${s}-${w - 1}`, port: 'u2' };
      link(`u${s}-${w}`, above, { device: at, port: 'u1' }, above.port === 'u2' ? 'crossover' : 'straight');
      if (above.device === id)
        topology.devices[id].interfaces[above.port] = {
          on: { kind: 'port', port: above.port },
          v4: { addresses: [`10.${s}.${w}.1/24`] },
        };
      free.push({ switch: at, net: above.device === id ? w : 0, station: s, kind: kinds[w], n: 0 });
    }
  }
  for (let h = 0; left > 0; h++) {
    const home = pick(free.filter(({ n }) => n < 12));
    if (!home) break;
    if (random() < 0.3) home.kind = pick(HOSTS);
    home.n++;
    left--;
    const id = `H${h}`;
    topology.devices[id] = {
      name: `${home.kind.toUpperCase()}-${h}`,
      model: home.kind,
      at: place,
      interfaces: {
        e0: { on: { kind: 'port', port: 'e0' }, v4: { addresses: [`10.${home.station}.${home.net}.${h + 10}/24`] } },
      },
      settings: { gateway4: `10.${home.station}.${home.net}.1` },
    };
    link(`l${h}`, { device: home.switch, port: `p${home.n}` }, { device: id, port: 'e0' }, 'straight');
  }
  return topology;
}
