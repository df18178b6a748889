import { applyCommand, type Topology, emptyTopology } from '../topology';
import { plan, smallBrief, smallPlan } from '../tests/plans';
import {
  adoptDrawing,
  compareWithDrawing,
  differenceWords,
  drawnAddresses,
  offeredAddresses,
  offeredGateways,
  planProblems,
  planTree,
} from '.';

/** A router and hosts at Valley as the small plan has them, and one change of it. */
function drawing(
  change: (set: (name: string, address: string, more?: { model?: string; site?: string }) => void) => void = () => {},
): Topology {
  let topology: Topology = { ...emptyTopology(), sites: { v: { name: 'Valley' }, m: { name: 'Middle' } } };
  const set = (name: string, address: string, { model = 'desktop', site = 'v' } = {}): void => {
    const port = model === 'border-router' ? 'g0' : 'e0';
    const family = address.includes(':') ? 'v6' : 'v4';
    const { [name]: _old, ...devices } = topology.devices;
    topology = { ...topology, devices };
    const done = applyCommand(topology, {
      kind: 'addDevice',
      id: name,
      device: {
        name,
        model,
        site,
        at: { x: 0, y: 0 },
        interfaces: { [port]: { on: { kind: 'port', port }, [family]: { addresses: [address] } } },
      },
    });
    if (!done.ok) throw new Error(done.error);
    topology = done.value.document;
  };
  set('RT-V', '10.84.1.1/26', { model: 'border-router' });
  set('DESK-1', '10.84.1.2/26');
  set('DESK-2', '10.84.1.3/26');
  change(set);
  return topology;
}
const differences = (topology: Topology, document = smallPlan()): string[] =>
  compareWithDrawing(planTree(document), smallBrief(), topology).map(differenceWords);

describe('plan and drawing are compared both ways', () => {
  test('where they agree nothing is said; the gateway of the scheme and the provider’s addresses need no line in the plan', () => {
    expect(differences(drawing((set) => set('EDGE', '198.51.100.2/30')))).toEqual([]);
  });
  test.each<[string, Topology, RegExp]>([
    [
      'an address the plan does not know',
      drawing((set) => set('DESK-3', '10.84.1.9/26')),
      /^DESK-3 uses 10\.84\.1\.9; the plan does not know it\.$/,
    ],
    [
      'an address outside every subnet',
      drawing((set) => set('DESK-3', '10.90.1.9/26')),
      /lies in no subnet of the plan/,
    ],
    [
      'another address than planned',
      drawing((set) => set('DESK-2', '10.84.1.9/26')),
      /^DESK-2 uses 10\.84\.1\.9; the plan gives it 10\.84\.1\.3\.$/,
    ],
    [
      'a planned address with somebody else',
      drawing((set) => {
        set('DESK-2', '10.84.1.7/26');
        set('COPY', '10.84.1.3/26');
      }),
      /10\.84\.1\.3 is used by COPY; the plan gives it to DESK-2\./,
    ],
    [
      'another prefix length',
      drawing((set) => set('DESK-2', '10.84.1.3/25')),
      /DESK-2 has 10\.84\.1\.3\/25; the plan’s subnet is 10\.84\.1\.0\/26\./,
    ],
    [
      'an address used twice',
      drawing((set) => set('DESK-3', '10.84.1.2/26')),
      /10\.84\.1\.2 is used twice in the drawing/,
    ],
    [
      'a host at another site',
      drawing((set) => set('DESK-2', '10.84.1.3/26', { site: 'm' })),
      /stands at Middle, but 10\.84\.1\.3 belongs to a subnet at Valley/,
    ],
  ])('%s', (_what, topology, wanted) => {
    expect(differences(topology).join('\n')).toMatch(wanted);
  });
  test('what the plan gives and the drawing lacks, with and without the device', () => {
    const more = plan((plan) =>
      Object.assign(plan.addresses!, { '10.84.1.8': { name: 'TILL' }, '10.84.1.9': { name: 'RT-V' } }),
    );
    expect(differences(drawing(), more)).toEqual([
      'The plan gives 10.84.1.8 to TILL; the drawing has no device of that name.',
      'The plan gives 10.84.1.9 to RT-V; in the drawing it has no such address.',
    ]);
  });
  test('IPv6, and the members of a tile one by one', () => {
    const topology = drawing((set) => set('DESK-9', 'fd5e:7a3c:90b1:1::9/64'));
    expect(differences(topology)).toEqual(['DESK-9 uses fd5e:7a3c:90b1:1::9; the plan does not know it.']);
    const tile: Topology = {
      ...drawing(),
      devices: {
        ...drawing().devices,
        CAMS: {
          name: 'CAM',
          model: 'camera',
          at: { x: 0, y: 0 },
          members: {
            a: {
              name: 'CAM-1',
              interfaces: { e0: { on: { kind: 'port', port: 'e0' }, v4: { addresses: ['10.84.1.20/26'] } } },
            },
            b: { interfaces: { e0: { on: { kind: 'port', port: 'e0' }, v4: { addresses: ['10.84.1.21/26'] } } } },
          },
        },
      },
    };
    expect(
      drawnAddresses(tile)
        .filter((address) => address.device === 'CAMS')
        .map((address) => address.name),
    ).toEqual(['CAM-1', 'CAM-2']);
  });
});

describe('a plan made from a drawing', () => {
  const id = (nth: number): string => `n${nth}`;
  test('has the subnets in use with their addresses, sites and gateways, under one root', () => {
    const topology = drawing((set) => {
      set('RT-M', '10.84.4.1/28', { model: 'border-router', site: 'm' });
      set('WINCH-1', '10.84.4.2/28', { site: 'm' });
    });
    const { plan: made, inconsistent } = adoptDrawing(topology, id);
    expect(inconsistent).toEqual([]);
    expect(Object.values(made.blocks).map((block) => [block.prefix, block.name, block.site, block.gateway])).toEqual([
      ['10.84.1.0/26', 'Valley', 'Valley', '10.84.1.1'],
      ['10.84.4.0/28', 'Middle', 'Middle', '10.84.4.1'],
      ['10.84.0.0/21', 'All subnets', undefined, undefined],
    ]);
    expect(made.addresses!['10.84.4.2']).toEqual({ name: 'WINCH-1' });
    expect(planProblems(made, {})).toEqual([]);
    expect(compareWithDrawing(planTree(made), {}, topology)).toEqual([]);
  });
  test('names what does not agree with itself: masks, doubled addresses, one subnet at two sites', () => {
    const topology = drawing((set) => {
      set('DESK-3', '10.84.1.9/25');
      set('DESK-4', '10.84.1.2/26');
      set('FAR', '10.84.1.30/26', { site: 'm' });
    });
    const { plan: made, inconsistent } = adoptDrawing(topology, id);
    expect(inconsistent.join('\n')).toMatch(/DESK-3 has 10\.84\.1\.9\/25, most of its neighbours \/26/);
    expect(inconsistent.join('\n')).toMatch(/10\.84\.1\.2 is used by DESK-1 and by DESK-4/);
    expect(inconsistent.join('\n')).toMatch(/10\.84\.1\.0\/26 is used at Valley and Middle/);
    expect(Object.keys(made.blocks)).toHaveLength(1);
  });
  test('an empty sheet gives an empty plan', () => {
    expect(adoptDrawing(emptyTopology(), id)).toEqual({ plan: { blocks: {} }, inconsistent: [] });
  });
});

describe('what a plan offers to a device of the drawing', () => {
  const tree = planTree(plan((plan) => void (plan.addresses!['10.84.1.30'] = { name: 'DESK-3' })));
  const offers = (topology: Topology, id: string): string[] => offeredAddresses(tree, smallBrief(), topology, id);
  test('what it gives to that name first, then the next free one of each subnet, its own site’s first', () => {
    const topology = drawing((set) => set('DESK-3', '', { site: 'v' }));
    expect(offers(topology, 'DESK-3').slice(0, 3)).toEqual(['10.84.1.30/26', '10.84.0.2/24', 'fd5e:7a3c:90b1::2/64']);
    expect(offers(topology, 'DESK-3')).toContain('10.84.1.4/26'); // .2 and .3 are drawn and planned
  });
  test('to a router the gateways that nobody has', () => {
    const topology = drawing((set) => set('RT-M', '', { model: 'border-router', site: 'm' }));
    expect(offers(topology, 'RT-M').slice(0, 3)).toEqual(['10.84.4.1/28', 'fd5e:7a3c:90b1:100::1/64', '10.84.0.1/24']);
    expect(offers(topology, 'RT-M')).not.toContain('10.84.1.1/26'); // RT-V has it
  });
  test('gateways for hosts, of the own site first; nothing to a device that is not there', () => {
    expect(offeredGateways(tree, smallBrief(), 'Middle', 4)).toEqual(['10.84.4.1', '10.84.0.1', '10.84.1.1']);
    expect(offers(drawing(), 'ghost')).toEqual([]);
  });
});
