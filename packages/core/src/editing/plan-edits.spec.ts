import { parsePrefix } from '../address';
import {
  type Difference,
  type Plan,
  type PlanCommand,
  applyPlanCommands,
  compareWithDrawing,
  newBlockIn,
  placeForNeed,
  planTree,
  readRanges,
  removePlanned,
  subnetNeeds,
  takeTypedAddresses,
  touchedBy,
} from '../plan';
import { smallBrief, smallPlan } from '../tests/plans';
import { type Command, type Topology, applyBatch, emptyTopology } from '../topology';
import { intoDrawing, intoPlan } from '.';

const brief = smallBrief();
/** The small plan, in which the winch has no place yet. */
const plan = (): Plan => {
  const { winch: _winch, ...blocks } = smallPlan().blocks;
  return { ...smallPlan(), blocks };
};
const after = (document: Plan, command: PlanCommand): Plan => {
  const done = applyPlanCommands(document, 'test', [command]);
  if (!done.ok) throw new Error(done.error);
  return done.value.document;
};
const tree = planTree(plan());
const tickets = tree.nodes.get('tickets')!;
const prefix = (text: string) => {
  const read = parsePrefix(text);
  if (!read.ok) throw new Error(text);
  return read.value;
};

describe('taking addresses', () => {
  const wish = (text: string, name = 'TILL') => takeTypedAddresses(tree, tickets, text, name, brief, readRanges(tree));
  test('nothing typed takes the next free one, passing over gateway, taken ones and ranges', () => {
    expect(wish('')).toEqual({
      ok: true,
      value: { first: '10.84.1.4', command: { kind: 'takeAddresses', addresses: { '10.84.1.4': { name: 'TILL' } } } },
    });
  });
  test('one address, or a range of numbered ones', () => {
    expect(wish(' 10.84.1.9 ')).toMatchObject({ value: { first: '10.84.1.9' } });
    expect(wish('10.84.1.20-22')).toMatchObject({
      value: {
        command: {
          addresses: {
            '10.84.1.20': { name: 'TILL-1' },
            '10.84.1.21': { name: 'TILL-2' },
            '10.84.1.22': { name: 'TILL-3' },
          },
        },
      },
    });
  });
  test.each([
    ['10.84.1.300', /more than 255/],
    ['10.84.1.40-20', /runs backwards/],
    ['10.0.0.0-10.84.0.0', /too many to list/],
  ])('%s is told', (text, wanted) => {
    const done = wish(text);
    expect(done.ok ? '' : done.error).toMatch(wanted);
  });
});

test('a block put into free space takes the site around it and gets an IPv6 place beside', () => {
  expect(newBlockIn(tree, 'valley', prefix('10.84.2.0/24'))).toEqual({
    prefix: '10.84.2.0/24',
    prefix6: 'fd5e:7a3c:90b1:2::/64',
    name: 'New block',
    standing: 'proposed',
    site: 'Valley',
  });
});
test('a subnet for a group is found in the block of its site, as small as its later number allows', () => {
  const winch = subnetNeeds(brief).find((need) => need.key === 'winch')!;
  expect(placeForNeed(tree, winch)).toMatchObject({
    block: { prefix: '10.84.4.0/28', group: 'winch', site: 'Middle' },
  });
  const tiny = planTree({ blocks: { a: { prefix: '10.84.0.0/29', name: 'A' } } });
  expect(placeForNeed(tiny, winch)).toBeNull();
});
test('removing a block takes all that lies in it, an address only itself', () => {
  expect(removePlanned(tree, { blocks: ['valley'], address: null, range: null })).toEqual([
    { kind: 'removeBlocks', ids: ['valley', 'guests', 'tickets'] },
  ]);
  expect(removePlanned(tree, { blocks: ['tickets'], address: '10.84.1.2', range: null })).toEqual([
    { kind: 'freeAddresses', addresses: ['10.84.1.2'] },
  ]);
  expect(removePlanned(tree, { blocks: [], address: null, range: 'pool' })).toEqual([
    { kind: 'setRange', id: 'pool', set: null },
  ]);
  expect(removePlanned(tree, { blocks: [], address: null, range: null })).toEqual([]);
});
test('what the server has not confirmed is known by block and address, also in a batch', () => {
  expect([
    ...touchedBy([
      { kind: 'takeAddresses', addresses: { '10.84.1.9': { name: 'x' } } },
      { kind: 'batch', title: 'b', commands: [{ kind: 'addBlock', id: 'n', block: { prefix: '', name: '' } }] },
      { kind: 'setBlock', id: 'tickets', set: {} },
    ]),
  ]).toEqual(['10.84.1.9', 'n', 'tickets']);
});

describe('taking over between plan and drawing', () => {
  const host = (name: string, address: string): Topology['devices'][string] => ({
    name,
    model: 'desktop',
    at: { x: 0, y: 0 },
    ...(address && { interfaces: { e0: { on: { kind: 'port', port: 'e0' }, v4: { addresses: [address] } } } }),
  });
  const drawing = (...hosts: Topology['devices'][string][]): Topology => ({
    ...emptyTopology(),
    devices: Object.fromEntries(hosts.map((host, at) => [`d${at}`, host])),
  });
  const differences = (topology: Topology): Difference[] => compareWithDrawing(tree, brief, topology);
  const drawn = (topology: Topology, commands: Command[] | null): Topology => {
    const done = applyBatch(topology, 'test', commands ?? []);
    if (!done.ok) throw new Error(done.error);
    return done.value.document;
  };
  test.each<[string, Topology]>([
    [
      'an address the plan does not know',
      drawing(host('DESK-1', '10.84.1.2/26'), host('DESK-2', '10.84.1.3/26'), host('NEW', '10.84.1.9/26')),
    ],
    ['another address', drawing(host('DESK-1', '10.84.1.7/26'), host('DESK-2', '10.84.1.3/26'))],
    ['another name', drawing(host('DESK-1', '10.84.1.2/26'), host('OTHER', '10.84.1.3/26'))],
    ['an address that is not set yet', drawing(host('DESK-1', ''), host('DESK-2', '10.84.1.3/26'))],
  ])('%s: into the plan, after which both agree', (_what, topology) => {
    const [difference] = differences(topology);
    const command = intoPlan(difference!);
    expect(compareWithDrawing(planTree(after(plan(), command!)), brief, topology)).toEqual([]);
  });
  test.each<[string, Topology]>([
    ['another address', drawing(host('DESK-1', '10.84.1.7/26'), host('DESK-2', '10.84.1.3/26'))],
    ['another name', drawing(host('DESK-1', '10.84.1.2/26'), host('OTHER', '10.84.1.3/26'))],
    ['another prefix length', drawing(host('DESK-1', '10.84.1.2/25'), host('DESK-2', '10.84.1.3/26'))],
    ['an address that is not set yet', drawing(host('DESK-1', ''), host('DESK-2', '10.84.1.3/26'))],
  ])('%s: into the drawing, after which both agree', (_what, topology) => {
    const [difference] = differences(topology);
    const changed = drawn(topology, intoDrawing(difference!, tree, topology));
    expect(differences(changed)).toEqual([]);
  });
  test('where a person must choose nothing is offered', () => {
    const twice = drawing(host('DESK-1', '10.84.1.2/26'), host('DESK-2', '10.84.1.2/26'));
    const found = differences(twice).find((difference) => difference.kind === 'drawnTwice')!;
    expect([intoPlan(found), intoDrawing(found, tree, twice)]).toEqual([null, null]);
    const far = drawing(host('FAR', '10.99.0.1/24'));
    expect(intoPlan(differences(far)[0]!)).toBeNull();
  });
});
