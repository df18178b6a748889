// The engine on a campus with OSPF: the first answer, the whole reach grid, and how both grow.
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { builtCore, root } from '../scripts/lib/root.mjs';

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
  const join = (from, to) => {
    const [a, b] = [`r${from}`, `r${to}`];
    const [portA, portB] = [nextPort(a), nextPort(b)];
    link(a, portA, b, portB);
    const base = `10.255.${Math.floor(transfers / 64)}`;
    const first = (transfers++ % 64) * 4 + 1;
    Object.assign(topology.devices[a].interfaces, face(portA, `${base}.${first}/30`));
    Object.assign(topology.devices[b].interfaces, face(portB, `${base}.${first + 1}/30`));
  };
  const across = Math.ceil(Math.sqrt(routers));
  for (let index = 0; index < routers; index++) {
    if ((index + 1) % across && index + 1 < routers) join(index, index + 1);
    if (index + across < routers) join(index, index + across);
  }
  for (let index = 0; index < routers; index++)
    for (let each = 0; each < SWITCHES; each++) {
      const [id, router] = [`s${index}-${each}`, `r${index}`];
      const role = { role: { kind: 'switched', mode: 'access', accessVlan: 10 + each } };
      const subnet = `10.${Math.floor(index / 80)}.${(index % 80) * SWITCHES + each}`;
      topology.devices[id] = { name: id, model: 'switch', at, ports: { p0: role } };
      const port = nextPort(router);
      link(router, port, id, 'p0');
      Object.assign(topology.devices[router].interfaces, face(port, `${subnet}.1/24`));
      for (let host = 0; host < HOSTS; host++) {
        const name = `h${index}-${each}-${host}`;
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

/** The whole grid of a model, a device at a time, as who draws it or writes it down goes through it. */
function everyPair({ reach }) {
  let yes = 0;
  const targets = reach.targets();
  for (const device of new Set(targets.map((target) => target.device))) {
    const answerAt = reach.answersTo(device);
    for (const [at, target] of targets.entries()) if (target.device !== device && answerAt(at).answer === 'yes') yes++;
  }
  return yes;
}

const cablesOf = ({ links }, isMeant) =>
  Object.keys(links).filter((id) => isMeant(links[id].a.device, links[id].b.device));
const cut = (id, isCut) => ({ kind: 'setLink', id, set: { broken: isCut || null } });

/** Cables are cut and mended one after the other; each time the whole grid is asked for. Milliseconds, the middle one. */
function afterEdits({ AnalysisSession }, topology, isMeant) {
  const session = AnalysisSession.open(topology);
  session.model.reach.tally();
  const cables = cablesOf(topology, isMeant);
  const runs = Array.from({ length: EDITS }, (_, at) => {
    const id = cables[((at >> 1) * 37) % cables.length];
    return timed(() => {
      session.apply(cut(id, at % 2 === 0));
      session.model.reach.tally();
    }).ms;
  });
  return median(runs.slice(EDITS / 2));
}

/** Bytes that are held after everything that nobody holds is gone. */
function held() {
  for (let turn = 0; turn < 8; turn++) globalThis.gc();
  const { heapUsed, arrayBuffers } = process.memoryUsage();
  return heapUsed + arrayBuffers;
}

/** What an analysis with its whole grid takes, and what forks of it take in which one access link is cut. Bytes. */
function memoryOf({ AnalysisSession }, topology, isMeant) {
  const cables = cablesOf(topology, isMeant);
  const start = held();
  const session = AnalysisSession.open(topology);
  session.model.reach.tally();
  const whole = held() - start;
  const forks = Array.from({ length: FORKS }, (_, at) => {
    const fork = session.fork();
    fork.apply(cut(cables[(at * 7) % cables.length], true));
    fork.model.reach.tally();
    return fork;
  });
  const more = held() - start - whole;
  return { whole, more, forks };
}
const FORKS = 100;

const LARGEST = 160;
/** Enough for the machine to have warmed up. */
const [TRACES, LAB_RUNS, EDITS] = [3000, 200, 80];

export function benchEngine(say) {
  const core = builtCore('topology', 'engine');
  const measure = (routers, times = 3) => {
    const topology = routedCampus(core, routers);
    const runs = Array.from({ length: times }, () => {
      const analysed = timed(() => core.analyse(topology));
      const grid = timed(() => analysed.value.reach.tally());
      const pairs = timed(() => everyPair(analysed.value));
      const { classCount } = analysed.value.reach;
      return { analyse: analysed.ms, grid: grid.ms, pairs: pairs.ms, yes: grid.value.yes, classes: classCount };
    });
    const { yes, classes } = runs[0];
    const devices = Object.keys(topology.devices).length;
    const of = (key) => median(runs.map((run) => run[key]));
    return { topology, devices, yes, classes, analyse: of('analyse'), grid: of('grid'), pairs: of('pairs') };
  };
  const sizes = [measure(10, 9), measure(40, 9), measure(LARGEST, 3)];
  const large = sizes[1];
  for (const siz of sizes)
    say(
      `  ${siz.devices} devices, ${siz.classes} classes: analysed in ${siz.analyse.toFixed(0)} ms, the whole grid by classes in ${siz.grid.toFixed(0)} ms more, each of its ${siz.yes} pairs looked at in ${siz.pairs.toFixed(0)} ms`,
    );
  for (const [small, big] of [
    [sizes[0], sizes[1]],
    [sizes[1], sizes[2]],
  ]) {
    const work = (figures) => figures.devices + figures.classes ** 2;
    const times = (key) => (big[key] / small[key]).toFixed(1);
    say(
      `  ${small.devices} to ${big.devices} devices: analysing ${times('analyse')} times, the grid ${times('grid')} times as long; devices + classes² are ${(work(big) / work(small)).toFixed(1)} times as many`,
    );
  }
  const isHost = (id) => id.startsWith('h');
  const isRouter = (id) => id.startsWith('r');
  const access = afterEdits(core, large.topology, (a, b) => isHost(a) || isHost(b));
  const between = afterEdits(core, large.topology, (a, b) => isRouter(a) && isRouter(b));
  const anew = large.analyse + large.grid;
  for (const [name, ms] of [
    ['access', access],
    ['core', between],
  ])
    say(
      `  after an edit of a ${name} link, analysis and whole grid: ${ms.toFixed(0)} ms, ${(anew / ms).toFixed(1)} times as quick as anew`,
    );
  const { whole, more, forks } = memoryOf(core, routedCampus(core, 40), (a, b) => isHost(a) || isHost(b));
  say(
    `  memory: ${(whole / 1e6).toFixed(1)} MB for one analysis with its grid, ${(more / 1e6).toFixed(1)} MB for ${forks.length} forks of it with an access link cut in each: ${(more / whole).toFixed(2)} times`,
  );
  const model = core.analyse(large.topology);
  const [first, second] = [model.reach.targets().at(1), model.reach.targets().at(-1)];
  const traces = timed(() => {
    for (let turn = 0; turn < TRACES; turn++) core.trace(model, first.device, second.device, second.address);
  });
  say(`  a single trace through it: ${(traces.ms / TRACES).toFixed(3)} ms`);
  const lab = JSON.parse(readFileSync(path.join(root, 'demo/three-stations/lab.json'), 'utf8')).reference;
  const runs = Array.from({ length: LAB_RUNS }, () => timed(() => everyPair(core.analyse({ ...lab }))).ms);
  say(`  the demo lab of 39 devices, everything anew: ${median(runs).toFixed(1)} ms`);
  globalThis.gc?.();
  const before = process.memoryUsage().heapUsed;
  const kept = core.analyse(large.topology);
  kept.reach.tally();
  globalThis.gc?.();
  say(
    `  kept for ${large.devices} devices with their grid: ${((process.memoryUsage().heapUsed - before) / 1e6).toFixed(0)} MB${globalThis.gc ? '' : ' and what is not collected yet'}, of ${kept.reach.classCount} classes`,
  );
}
