// How questions to an address plan grow with its addresses. All figures come from this run, as ratios to the smallest plan.
import { builtCore } from '../scripts/lib/root.mjs';

/** Median time of one call in microseconds, from enough calls to be measured. */
export function microseconds(run, calls = 200) {
  for (let at = 0; at < (calls > 10 ? 2000 : 3); at++) run(at); // until the machine has it compiled
  const times = [];
  for (let round = 0; round < 7; round++) {
    const start = process.hrtime.bigint();
    for (let at = 0; at < calls; at++) run(at);
    times.push(Number(process.hrtime.bigint() - start) / 1000 / calls);
  }
  return times.sort((a, b) => a - b)[3];
}

/** A plan of /24 subnets in 10.0.0.0/8, each with 40 addresses from the second on. */
export function largePlan(addresses, perSubnet = 40) {
  const plan = { blocks: { root: { prefix: '10.0.0.0/8', name: 'Root', standing: 'decided' } }, addresses: {} };
  const subnets = Math.ceil(addresses / perSubnet);
  for (let at = 0; at < subnets; at++) {
    const start = `10.${at >> 8}.${at & 255}`;
    plan.blocks[`s${at}`] = { prefix: `${start}.0/24`, name: `Subnet ${at}`, standing: 'decided' };
    for (let host = 0; host < perSubnet; host++) plan.addresses[`${start}.${host + 2}`] = { name: `h${at}-${host}` };
  }
  return plan;
}

export function benchPlan(say) {
  const core = builtCore('address', 'plan');
  const sizes = [1_000, 10_000, 100_000];
  const rows = sizes.map((size) => {
    const plan = largePlan(size);
    const tree = core.planTree(plan);
    const list = tree.addresses[4];
    const node = tree.nodes.get('s7');
    const ranges = core.readRanges(tree);
    const space = core.FreeSpace.of(tree.nodes.get('root').space[4], core.spacesIn(tree, 'root', 4));
    const first = node.space[4].value;
    const changed = { ...plan, addresses: { ...plan.addresses, '10.0.7.200': { name: 'new' } } };
    return {
      'next free address': microseconds(() => core.nextFreeIn(tree, node, 4, {}, ranges)),
      'whether a range meets one in use': microseconds((at) =>
        list.countIn(first + BigInt(at), first + BigInt(at) + 9n),
      ),
      'next free block of a size': microseconds(() => space.next(26)),
      'after one address more': microseconds(() => core.planTree(changed, tree), 5),
      'everything read anew': microseconds(() => core.planTree(plan), 1),
      'all problems': microseconds(() => core.planProblems(plan, {}, tree), 1),
    };
  });
  say(`Addresses:                           ${sizes.map((siz) => siz.toLocaleString('en').padStart(10)).join('')}`);
  for (const name of Object.keys(rows[0])) {
    const base = rows[0][name];
    const ratios = rows.map((row) => `× ${(row[name] / base).toFixed(1)}`.padStart(10)).join('');
    say(
      `${name.padEnd(36)} ${ratios}   (largest: ${(rows.at(-1)[name] / 1000).toFixed(rows.at(-1)[name] > 1000 ? 0 : 3)} ms)`,
    );
  }
}
