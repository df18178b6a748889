// The engine on a campus with OSPF: the first answer, the whole reach grid, and how both grow.
import path from 'node:path';
import { root, require } from '../scripts/lib/root.mjs';

const HOSTS = 7;
const SWITCHES = 3;

/** Routers in a square with OSPF, three switches each with a VLAN of its own, and seven hosts at each switch. */
export function routedCampus({ emptyTopology }, routers) {
  const topology = emptyTopology();
  const at = { x: 0, y: 0 };
  const ports = (prefix, count, more = {}) =>
    Array.from({ length: count }, (_, index) => ({
      key: `${prefix}${index}`,
      connector: 'copper',
      speeds: [1000],
      pairing: 'mdi',
      auto: true,
      ...more,
    }));
  topology.models = {
    router: { name: 'Router', kind: 'router', class: 'intermediary', forwards: true, ports: ports('g', 12) },
    switch: {
      name: 'Switch',
      kind: 'switch',
      class: 'intermediary',
      bridges: 'vlan',
      ports: ports('p', HOSTS + 1, { switched: true }),
    },
    host: { name: 'Host', kind: 'desktop', class: 'end', ports: ports('e', 1) },
  };
  const link = (a, portA, b, portB) => {
    const id = `l${Object.keys(topology.links).length}`;
    topology.links[id] = { a: { device: a, port: portA }, b: { device: b, port: portB }, medium: 'straight' };
  };
  const face = (port, address) => ({ [port]: { on: { kind: 'port', port }, v4: { addresses: [address] } } });
  const used = new Map();
  const nextPort = (id) => {
    used.set(id, (used.get(id) ?? -1) + 1);
    return `g${used.get(id)}`;
  };
  for (let at0 = 0; at0 < routers; at0++)
    topology.devices[`r${at0}`] = {
      name: `R${at0}`,
      model: 'router',
      at,
      interfaces: {},
      settings: { ospf: { networks: [{ prefix: '10.0.0.0/8', area: 0 }] } },
    };
  let transfers = 0;
  const join = (one, other) => {
    const [a, b] = [`r${one}`, `r${other}`];
    const [portA, portB] = [nextPort(a), nextPort(b)];
    link(a, portA, b, portB);
    const base = `10.255.${Math.floor(transfers / 64)}`;
    const first = (transfers++ % 64) * 4 + 1;
    Object.assign(topology.devices[a].interfaces, face(portA, `${base}.${first}/30`));
    Object.assign(topology.devices[b].interfaces, face(portB, `${base}.${first + 1}/30`));
  };
  const across = Math.ceil(Math.sqrt(routers));
  for (let one = 0; one < routers; one++) {
    if ((one + 1) % across && one + 1 < routers) join(one, one + 1);
    if (one + across < routers) join(one, one + across);
  }
  for (let one = 0; one < routers; one++)
    for (let each = 0; each < SWITCHES; each++) {
      const [id, router] = [`s${one}-${each}`, `r${one}`];
      const role = { role: { kind: 'switched', mode: 'access', accessVlan: 10 + each } };
      const subnet = `10.${Math.floor(one / 80)}.${(one % 80) * SWITCHES + each}`;
      topology.devices[id] = { name: id, model: 'switch', at, ports: { p0: role } };
      const port = nextPort(router);
      link(router, port, id, 'p0');
      Object.assign(topology.devices[router].interfaces, face(port, `${subnet}.1/24`));
      for (let host = 0; host < HOSTS; host++) {
        const name = `h${one}-${each}-${host}`;
        topology.devices[name] = {
          name,
          model: 'host',
          at,
          interfaces: face('e0', `${subnet}.${10 + host}/24`),
          settings: { gateway4: `${subnet}.1` },
        };
        topology.devices[id].ports[`p${host + 1}`] = role;
        link(id, `p${host + 1}`, name, 'e0');
      }
    }
  return topology;
}

function timed(run) {
  const start = performance.now();
  const value = run();
  return { value, ms: performance.now() - start };
}
const median = (list) => [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)];

export function benchEngine(say) {
  const core = require(path.join(root, 'packages/core/dist/index.js'));
  const measure = (routers) => {
    const topology = routedCampus(core, routers);
    const runs = [1, 2, 3].map(() => {
      const analysed = timed(() => core.analyse(topology));
      const { reach } = analysed.value;
      const grid = timed(() => {
        let yes = 0;
        const targets = reach.targets();
        for (const device of new Set(targets.map((one) => one.device)))
          for (const target of targets)
            if (target.device !== device && reach.answer(device, target).answer === 'yes') yes++;
        return yes;
      });
      return { analyse: analysed.ms, grid: grid.ms, yes: grid.value };
    });
    return {
      devices: Object.keys(topology.devices).length,
      analyse: median(runs.map((one) => one.analyse)),
      grid: median(runs.map((one) => one.grid)),
      yes: runs[0].yes,
    };
  };
  const [small, large] = [measure(10), measure(40)];
  for (const one of [small, large])
    say(
      `  ${one.devices} devices: analysed in ${one.analyse.toFixed(0)} ms, whole grid of ${one.yes} pairs in ${one.grid.toFixed(0)} ms more`,
    );
  const times = (key) => (large[key] / small[key]).toFixed(1);
  say(`  four times as many: analysing ${times('analyse')} times, the grid ${times('grid')} times as long`);
}
