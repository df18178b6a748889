// How many roles are found in drawings that somebody else could have made, and how long matching and a check take. Shares
// are of seeded variations of the demo references; times are medians of this run, as ratios to the smallest network.
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { builtCore, root } from '../scripts/lib/root.mjs';
import { seededReference } from './references.mjs';

const LABS = ['valley-lan', 'winch-isolation', 'summit-dual-stack', 'three-stations'];
const SEEDS = 25;
const SIZES = Array.from({ length: 12 }, (_, at) => 5 + at * 5);
const VARIATIONS = {
  renamed: ['renamed'],
  're-addressed': ['readdressed'],
  'renamed, re-addressed, moved': ['renamed', 'readdressed', 'moved'],
  'other models': ['renamed', 'readdressed', 'moved', 'otherModels'],
  '20 % more': ['renamed', 'readdressed', 'moved', 'withExtra'],
  '10 % less': ['renamed', 'readdressed', 'moved', 'withoutSome'],
  '10 % re-cabled': ['renamed', 'readdressed', 'moved', 'recabled'],
  'two switches as one': ['renamed', 'readdressed', 'moved', 'merged'],
  'one switch as two': ['renamed', 'readdressed', 'moved', 'split'],
  'all together': ['renamed', 'readdressed', 'moved', 'otherModels', 'withExtra', 'withoutSome', 'recabled'],
};

/** Each link between routers and switches, and each switch, off in turn. */
const FAILURES = [
  {
    id: 'f1',
    points: 1,
    credit: 'share',
    rule: { kind: 'survives', from: 'desks', to: 'SHOP', what: 'link', of: 'core' },
  },
  {
    id: 'f2',
    points: 1,
    credit: 'share',
    rule: { kind: 'survives', from: 'till', to: 'SHOP', what: 'device', of: 'switches' },
  },
];

function median(run, times = 15) {
  for (let at = 0; at < 10; at++) run();
  const taken = Array.from({ length: times }, () => {
    const start = process.hrtime.bigint();
    run();
    return Number(process.hrtime.bigint() - start) / 1e6;
  });
  return taken.sort((a, b) => a - b)[times >> 1];
}

/** One switch with so many hosts, all alike but for name and address. */
function oneSwitch({ emptyTopology }, hosts) {
  const topology = emptyTopology();
  const port = (key) => ({ key, connector: 'copper', speeds: [1000], pairing: 'mdix', auto: true, switched: true });
  const ports = Array.from({ length: hosts }, (_, at) => port(`p${at}`));
  topology.models = { large: { name: 'Large switch', kind: 'switch', class: 'intermediary', bridges: 'vlan', ports } };
  topology.devices.S = { name: 'S', model: 'large', at: { x: 0, y: 0 } };
  for (let at = 0; at < hosts; at++) {
    const v4 = { addresses: [`10.0.${at >> 8}.${at & 255}/20`] };
    const interfaces = { e0: { on: { kind: 'port', port: 'e0' }, v4 } };
    topology.devices[`h${at}`] = { name: `PC-${at}`, model: 'desktop', at: { x: 0, y: 0 }, interfaces };
    topology.links[`l${at}`] = {
      a: { device: 'S', port: `p${at}` },
      b: { device: `h${at}`, port: 'e0' },
      medium: 'straight',
    };
  }
  return topology;
}

export function benchJudging(say) {
  const core = builtCore('topology', 'engine', 'faults', 'spec');
  const labs = LABS.map((slug) => JSON.parse(readFileSync(path.join(root, 'demo', slug, 'lab.json'), 'utf8')));
  const seeds = core.seeded(20);
  const references = SIZES.map((size) => seededReference(core, size, seeds));
  for (const [what, set] of [
    ['the demo references', labs.map(({ reference }) => reference)],
    [`${references.length} seeded references of ${SIZES[0]} to ${SIZES.at(-1)} devices`, references],
  ]) {
    say(`  Roles found in variations of ${what}`);
    shares(core, set, say);
  }
  times(core, labs, references.at(-1), say);
}

function shares(core, references, say) {
  for (const [name, operators] of Object.entries(VARIATIONS)) {
    let [right, of] = [0, 0];
    for (const reference of references)
      for (let seed = 1; seed <= SEEDS; seed++) {
        const random = core.seeded(seed);
        const found = core.rolesRight(
          reference,
          operators.reduce((varied, operator) => core[operator](varied, random), core.unvaried(reference)),
        );
        right += found.right;
        of += found.of;
      }
    say(`  ${name.padEnd(30)} ${((100 * right) / of).toFixed(1)} % of ${of} roles`);
  }
}

function times(core, labs, largest, say) {
  let first = null;
  for (const [at, lab] of labs.entries()) {
    const model = core.analyse(lab.reference);
    const prepared = core.prepareLab(lab);
    const [matching, whole] = [
      median(() => core.matchRoles(model, model)),
      median(() => core.judge(prepared, { drawing: lab.reference })),
    ];
    first ??= { matching, whole };
    const size = `${Object.keys(lab.reference.devices).length} devices`.padEnd(12);
    const ratios = `${(matching / first.matching).toFixed(1)} and ${(whole / first.whole).toFixed(1)} of ${LABS[0]}`;
    say(`  ${size} matching ${matching.toFixed(1)} ms, a check ${whole.toFixed(1)} ms (${ratios}; ${LABS[at]})`);
  }
  const stations = labs.at(-1);
  const failing = core.prepareLab({
    ...stations,
    spec: {
      ...stations.spec,
      sections: [...stations.spec.sections, { id: 'failures', title: 'Failures', requirements: FAILURES }],
    },
  });
  const withFailures = median(() => core.judge(failing, { drawing: stations.reference }), 7);
  say(`  39 devices   a check with failure rules ${withFailures.toFixed(1)} ms`);
  const sixty = core.analyse(largest);
  say(`  60 devices   matching ${median(() => core.matchRoles(sixty, sixty)).toFixed(1)} ms`);
  const large = core.analyse(oneSwitch(core, 400));
  say(`  400 hosts with 400: ${median(() => core.matchRoles(large, large), 3).toFixed(0)} ms`);
}
