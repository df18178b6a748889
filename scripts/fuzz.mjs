// npm run fuzz [-- MINUTES [SEED]]: documents that are broken at random, through every reader and the engine. Whatever
// comes, there must be an answer or a sentence: no exception, and no turn that takes longer than LIMIT_MS. After that the
// random tests of core and command line in their long form.
import { spawnSync } from 'node:child_process';
import { readFileSync, readdirSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { Worker, isMainThread, parentPort, workerData } from 'node:worker_threads';
import { buildPackages } from './lib/build.mjs';
import { builtCore, root } from './lib/root.mjs';

const LIMIT_MS = 20_000;
/** So many times as often as with the other tests. */
const LONG_FORM = 10;
const MAX_FAILURES = 5;
const ENDINGS = ['.json', '.yaml', '.graphml', '.rfc8345.json'];
const HOSTILE = [
  null,
  true,
  -1,
  0,
  1e308,
  0.5,
  '',
  ' ',
  '\u0000',
  '__proto__',
  'constructor',
  '0.0.0.0/0',
  '10.0.0.1/0',
  '255.255.255.255/32',
  '10.0.0.1/33',
  '::/0',
  'fe80::1/64',
  '10.0.0.1',
  '=1+1',
  'x'.repeat(3000),
  [],
  {},
  [[[[[]]]]],
  4094,
  4095,
  65_536,
];

if (isMainThread) await main();
else work(workerData.seed);

async function main() {
  const minutes = Number(process.argv[2] ?? 10);
  const seed = Number(process.argv[3] ?? Date.now() % 1e9);
  await buildPackages(['packages/core'], (text) => console.log(text));
  const end = Date.now() + minutes * 60_000;
  const failures = [];
  let turns = 0;
  let next = seed;
  console.log(`Seed ${seed}, for ${minutes} minutes.`);
  while (Date.now() < end && failures.length < MAX_FAILURES) {
    const outcome = await run(next, end, () => turns++);
    if (outcome.failure) failures.push(outcome.failure);
    next = outcome.seed + 1;
  }
  for (const failure of failures) console.error(`Seed ${failure.seed}: ${failure.text.slice(0, 1000)}`);
  console.log(`${turns} documents, ${failures.length} failures.`);
  const args = ['node_modules/jest/bin/jest.js', '--selectProjects', 'core', 'cli'];
  const long = spawnSync(process.execPath, args, {
    cwd: root,
    stdio: 'inherit',
    env: { ...process.env, SOBRIN_RUNS: String(LONG_FORM), NODE_OPTIONS: '--max-old-space-size=4096' },
  });
  process.exitCode = failures.length || long.status !== 0 ? 1 : 0;
}

/** Runs turns from a seed on until one fails or hangs, or time is up. */
function run(from, end, onTurn) {
  return new Promise((resolve) => {
    const worker = new Worker(fileURLToPath(import.meta.url), { workerData: { seed: from } });
    let seed = from;
    let since = Date.now();
    const stop = (failure) => {
      clearInterval(watch);
      void worker.terminate().then(() => resolve({ seed, failure }));
    };
    const watch = setInterval(() => {
      if (Date.now() - since > LIMIT_MS) stop({ seed, text: `no answer within ${LIMIT_MS / 1000} s` });
      else if (Date.now() > end) stop(null);
    }, 500);
    worker.on('message', (message) => {
      since = Date.now();
      seed = message.seed;
      if (message.failure) stop({ seed, text: message.failure });
      else onTurn();
    });
    worker.on('error', (error) => stop({ seed, text: String(error.stack ?? error) }));
  });
}

function work(from) {
  const core = builtCore('topology', 'engine', 'frames', 'formats', 'bench');
  const documents = originals(core);
  for (let seed = from; ; seed++) {
    let failure = null;
    try {
      turn(core, documents, numbers(seed));
    } catch (error) {
      failure = error.stack;
    }
    parentPort.postMessage({ seed, failure });
    if (failure) return;
  }
}

function originals(core) {
  const folder = path.join(root, 'fixtures/kernel-cases');
  const measured = readdirSync(folder)
    .filter((name) => name.endsWith('.json'))
    .map((name) => core.readCase(JSON.parse(readFileSync(path.join(folder, name), 'utf8')).topology));
  const labs = readdirSync(path.join(root, 'demo')).flatMap((name) => {
    try {
      return [JSON.parse(readFileSync(path.join(root, 'demo', name, 'lab.json'), 'utf8')).reference];
    } catch {
      return [];
    }
  });
  return [...measured, ...labs, ...core.STARTERS.map((starter) => starter.make()), furnished(core)];
}

/** A drawing with what the others lack: virtual routers, zones, names, telephones, a provider, both DHCPs, OSPFv3. */
function furnished(core) {
  const topology = core.emptyTopology();
  const device = (id, model, faces, settings = {}, ports = {}) => {
    const interfaces = Object.fromEntries(
      Object.entries(faces).map(([port, more]) => [port, { on: { kind: 'port', port }, ...more }]),
    );
    topology.devices[id] = { name: id, model, at: { x: 0, y: 0 }, interfaces, settings, ports };
  };
  const link = (a, portA, b, portB, medium = 'straight') => {
    topology.links[`${a}-${b}-${portA}`] = { a: { device: a, port: portA }, b: { device: b, port: portB }, medium };
  };
  const four = (...addresses) => ({ v4: { addresses } });
  const router = (nth, priority) => [
    {
      g0: {
        ...four(`10.84.1.${nth}/24`),
        v6: { enabled: true, addresses: [`2001:db8:1::${nth}/64`], ra: { managed: true } },
        vrrp: [{ group: 1, addresses: ['10.84.1.254'], priority }],
        relays: ['10.84.2.9'],
        ospf6: { area: 0 },
      },
      g1: { ...four(`10.84.2.${nth}/24`), ospf6: { area: 0, cost: 7 } },
    },
    {
      ospf: { networks: [{ prefix: '10.84.0.0/16', area: 0 }], redistribute: ['static'], externalType: 1 },
      ospf6: { routerId: `1.1.1.${nth}` },
      dhcp6Pools: [{ network: '2001:db8:1::/64', dns: ['2001:db8:1::9'] }],
    },
  ];
  device('R1', 'border-router', ...router(1, 120));
  device('R2', 'border-router', ...router(2, 90));
  const voice = { role: { kind: 'switched', mode: 'access', accessVlan: 1, voiceVlan: 40 } };
  device('S1', 'access-switch-12', {}, {}, { p3: voice, p4: voice });
  device('S2', 'access-switch-12', {});
  device(
    'FW',
    'firewall',
    { g0: four('10.84.2.5/24'), g1: four('198.51.100.2/30') },
    {
      routes: [{ prefix: '0.0.0.0/0', via: '198.51.100.1' }],
      firewall: {
        zones: { in: { name: 'inside', interfaces: ['g0'] }, out: { name: 'outside', interfaces: ['g1'] } },
        policies: [{ from: 'in', to: 'out', action: 'permit' }],
      },
      nat: [{ kind: 'overload', outsideInterface: 'g1' }],
    },
  );
  device(
    'NET',
    'provider-cloud',
    { g0: four('198.51.100.1/30') },
    {
      dnsRecords: [{ name: 'weather.example', type: 'A', value: '203.0.113.80' }],
      dhcpPools: [{ network: '198.51.100.0/30' }],
    },
  );
  device(
    'SRV',
    'server',
    { e0: four('10.84.2.9/24') },
    {
      gateway4: '10.84.2.1',
      services: { dns: { enabled: true }, calls: { enabled: true }, web: { enabled: true } },
      dnsRecords: [
        { name: 'shop.example', type: 'CNAME', value: 'srv.example' },
        { name: 'srv.example', type: 'A', value: '10.84.2.9' },
      ],
      dhcpPools: [
        {
          network: '10.84.1.0/24',
          router: '10.84.1.254',
          dns: ['10.84.2.9'],
          exclusions: [{ from: '10.84.1.1', to: '10.84.1.9' }],
        },
      ],
      management: { ssh: true, users: [{ name: 'maren', password: 'x' }] },
    },
  );
  for (const nth of [1, 2])
    device(
      `P${nth}`,
      'phone',
      { e0: four(`10.84.40.${nth}/24`) },
      { telephony: { extension: `20${nth}`, callServer: '10.84.2.9' } },
    );
  device('A', 'desktop', { e0: { v4: { dhcp: true }, v6: { dhcp: 'stateful' } } });
  device('B', 'desktop', { e0: { v4: { dhcp: true }, v6: { slaac: true, dhcp: 'stateless' } } });
  for (const nth of [1, 2]) {
    link(`R${nth}`, 'g0', 'S1', `p${nth}`);
    link(`R${nth}`, 'g1', 'S2', `p${nth}`);
    link(`P${nth}`, 'e0', 'S1', `p${nth + 2}`);
  }
  link('A', 'e0', 'P1', 'd0', 'crossover');
  link('B', 'e0', 'S1', 'p5');
  link('SRV', 'e0', 'S2', 'p3');
  link('FW', 'g0', 'S2', 'p4');
  link('FW', 'g1', 'NET', 'g0', 'crossover');
  const read = core.readTopology(topology);
  if (!read.ok) throw new Error(`The furnished drawing does not hold together: ${read.error[0].text}`);
  return read.value;
}

/** A small repeatable source of numbers (mulberry32). */
function numbers(seed) {
  let state = seed;
  return (below) => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) % below;
  };
}

function turn(core, documents, number) {
  const document = structuredClone(documents[number(documents.length)]);
  for (let count = 1 + number(6); count > 0; count--) mutate(document, documents, number);
  const ending = ENDINGS[number(ENDINGS.length)];
  const format = core.DRAWING_FORMATS.find((candidate) => candidate.ending === ending);
  let text;
  // What is broken can only be written plainly; formats are written from what holds together, and broken as text.
  if (ending === '.json' || !core.readTopology(document).ok) text = JSON.stringify(document);
  else text = format.write(document);
  for (let count = number(3); count > 0; count--) text = breakText(text, number);
  const name = text.startsWith('{') ? 'drawing.json' : `drawing${ending}`;
  const read = core.readDrawingFiles({ [name]: text }, core.emptyTopology());
  if (!read.ok) {
    if (!read.error.length || read.error.some((error) => !error.text))
      throw new Error('It was refused without a sentence.');
    return;
  }
  ask(core, read.value.topology, number);
}

function ask(core, topology, number) {
  const model = core.analyse(topology, {
    autoPairing: number(2) === 0,
    vlanPolicy: number(2) ? 'implicit' : 'created',
  });
  core.problemsOf(model);
  core.gridOf(model, { by: ['device', 'site', 'subnet', 'kind'][number(4)] });
  for (const id of [...model.instances.keys()].slice(0, 12)) core.tablesOf(model, id);
  const targets = model.reach.targets();
  const sources = [...model.instances.keys()];
  for (let count = 0; count < 12 && targets.length; count++) {
    const target = targets[number(targets.length)];
    const probe = [{ protocol: 'icmp' }, { protocol: 'tcp', port: 80 }, { protocol: 'udp', port: 53 }][number(3)];
    const found = core.trace(model, sources[number(sources.length)], target.device, target.address, probe);
    core.writePcap(core.captureOf(model, found, probe), 0);
    core.resolveName(model, sources[number(sources.length)], ['shop.example', 'weather.example', ''][number(3)]);
    core.signIn(model, sources[number(sources.length)], target.device, target.address, ['ssh', 'telnet'][number(2)]);
  }
  core.countsOf(model);
  const parts = core.failingParts(topology);
  if (parts.length) core.failureOf(model, parts[number(parts.length)]);
}

/** Changes one place of a document: away, doubled, hostile, or taken from another document. */
function mutate(document, documents, number) {
  let at = document;
  let key = null;
  let parent = null;
  for (let depth = 2 + number(8); depth > 0 && at !== null && typeof at === 'object'; depth--) {
    const keys = Object.keys(at);
    if (!keys.length) break;
    [parent, key] = [at, keys[number(keys.length)]];
    at = at[key];
  }
  if (!parent) return;
  switch (number(5)) {
    case 0:
      delete parent[key];
      break;
    case 1:
      parent[key] = structuredClone(HOSTILE[number(HOSTILE.length)]);
      break;
    case 2:
      if (!Array.isArray(parent)) parent[`${key}2`] = structuredClone(at);
      break;
    case 3: {
      const other = documents[number(documents.length)];
      const section = ['devices', 'links', 'sites'][number(3)];
      const entries = Object.entries(other[section] ?? {});
      const entry = entries[number(Math.max(1, entries.length))];
      if (entry && document[section]?.constructor === Object) document[section][entry[0]] = structuredClone(entry[1]);
      break;
    }
    case 4: {
      const others = Object.keys(parent);
      parent[key] = structuredClone(parent[others[number(others.length)]]);
    }
  }
}

function breakText(text, number) {
  const at = number(text.length + 1);
  switch (number(4)) {
    case 0:
      return text.slice(0, at);
    case 1:
      return text.slice(0, at) + '{["<&\u0000\ud800:-'[number(10)] + text.slice(at);
    case 2:
      return text.slice(0, at) + text.slice(at + number(200));
    default:
      return text.slice(0, at) + text.slice(number(text.length + 1), number(text.length + 1)) + text.slice(at);
  }
}
