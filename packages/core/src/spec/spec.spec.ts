import { type Topology, emptyTopology } from '../topology';
import { labOf } from '../tests/labs';
import { Sheet, filesIn, readJson, twoLans } from '../tests/topologies';
import { readLab, readLabText, readSubmissionText } from '../formats';
import {
  type CheckResult,
  type LabFile,
  type Rule,
  RULE_KINDS,
  assign,
  checkSubmission,
  matchRoles,
  namesOf,
  requirementWords,
  ruleKind,
  sentenceOf,
  specProblems,
} from '.';
import { analyse } from '../engine';

const only = (rule: Rule, drawing: Topology, reference?: Topology) =>
  checkSubmission(labOf([rule], reference), drawing).requirements[0]!;
const changed = (change: (topology: Topology) => void): Topology => {
  const topology = structuredClone(twoLans());
  change(topology);
  return topology;
};
const setAddress = (topology: Topology, device: string, text: string): void =>
  void (topology.devices[device]!.interfaces!.e0!.v4 = { addresses: [text] });

/** Two networks with a filter between them at the first one's port, and a third where both of them may go. */
const filtered = (direction: 'in' | 'out'): Topology =>
  changed((topology) => {
    topology.devices.SC = { name: 'SC', model: 'access-switch-12', at: { x: 0, y: 0 } };
    topology.devices.C = {
      name: 'C',
      model: 'desktop',
      at: { x: 0, y: 0 },
      interfaces: { e0: { on: { kind: 'port', port: 'e0' }, v4: { addresses: ['10.84.3.11/24'] } } },
      settings: { gateway4: '10.84.3.1' },
    };
    topology.links.c = { a: { device: 'SC', port: 'p1' }, b: { device: 'C', port: 'e0' }, medium: 'straight' };
    topology.links.rc = { a: { device: 'R', port: 'g2' }, b: { device: 'SC', port: 'u1' }, medium: 'straight' };
    const router = topology.devices.R!;
    router.settings = {
      filters: {
        F: {
          family: 4,
          rules: [
            {
              action: 'deny',
              proto: 'ip',
              src: { kind: 'prefix', prefix: direction === 'in' ? '10.84.1.0/24' : '10.84.2.0/24' },
              dst: { kind: 'prefix', prefix: direction === 'in' ? '10.84.2.0/24' : '10.84.1.0/24' },
            },
            { action: 'permit', proto: 'ip', src: { kind: 'any' }, dst: { kind: 'any' } },
          ],
        },
      },
    };
    router.interfaces!.g2 = { on: { kind: 'port', port: 'g2' }, v4: { addresses: ['10.84.3.1/24'] } };
    router.interfaces!.g0 = { ...router.interfaces!.g0!, [direction === 'in' ? 'filterIn4' : 'filterOut4']: 'F' };
  });

describe('each kind of rule is met by the reference and lost by the mistake it is for', () => {
  test.each<[Rule & { kind: string }, (topology: Topology) => void]>([
    [{ kind: 'rightKind', who: 'SA' }, (topology) => void (topology.devices.SA!.model = 'hub')],
    [
      { kind: 'deviceCount', what: 'switch', op: 'exactly', n: 2, site: 'anywhere' },
      (topology) => void (topology.devices.X = { name: 'X', model: 'access-switch-12', at: { x: 0, y: 0 } }),
    ],
    [{ kind: 'accessPorts', who: 'SA', n: 12 }, (topology) => void (topology.devices.SA!.model = 'hub')],
    [{ kind: 'namesUnique', who: '@all' }, (topology) => void (topology.devices.B!.name = ' a ')],
    [
      { kind: 'connected', who: '@all' },
      (topology) => void (topology.devices.X = { name: 'X', model: 'printer', at: { x: 0, y: 0 } }),
    ],
    [{ kind: 'powered', who: '@all' }, (topology) => void (topology.devices.SA!.powered = false)],
    [{ kind: 'linked', a: 'R', b: 'SA' }, (topology) => void delete topology.links['R-g0-SA-u1']],
    [
      { kind: 'medium', a: 'R', b: 'SA', media: ['straight'] },
      (topology) => void (topology.links['R-g0-SA-u1']!.medium = 'crossover'),
    ],
    [{ kind: 'linksUp', who: '@all' }, (topology) => void (topology.links['SA-p1-A-e0']!.broken = true)],
    [{ kind: 'speed', a: 'R', b: 'SA', mbps: 1000 }, (topology) => void (topology.links['R-g0-SA-u1']!.b.port = 'p12')],
    [
      { kind: 'duplexAgrees', who: '@network' },
      (topology) => void (topology.devices.R!.ports = { g0: { speed: 100, duplex: 'full' } }),
    ],
    [{ kind: 'oneSubnet', who: 'A', family: '4' }, (topology) => setAddress(topology, 'A', '10.84.1.11')],
    [
      { kind: 'roomFor', who: 'A', n: 200, block: '10.84.0.0/16' },
      (topology) => setAddress(topology, 'A', '10.84.1.11/25'),
    ],
    [{ kind: 'inBlock', who: 'both', block: '10.84.0.0/16' }, (topology) => setAddress(topology, 'A', '10.85.1.11/24')],
    [
      { kind: 'outsideBlock', who: 'both', block: '198.51.100.0/24' },
      (topology) => setAddress(topology, 'A', '198.51.100.7/24'),
    ],
    [{ kind: 'private', who: 'both' }, (topology) => setAddress(topology, 'A', '127.16.0.11/24')],
    [{ kind: 'usable', who: 'both', family: '4' }, (topology) => setAddress(topology, 'A', '10.84.1.255/24')],
    [{ kind: 'prefixLength', who: 'both', length: 24 }, (topology) => setAddress(topology, 'A', '10.84.1.11/25')],
    [{ kind: 'address', who: 'A', address: '10.84.1.11' }, (topology) => setAddress(topology, 'A', '10.84.1.12/24')],
    [
      { kind: 'gateway', who: 'A', router: 'R' },
      (topology) => void (topology.devices.A!.settings = { gateway4: '10.84.1.2' }),
    ],
    [
      { kind: 'firstUsable', who: 'A', router: 'R' },
      (topology) => void (topology.devices.R!.interfaces!.g0!.v4 = { addresses: ['10.84.1.2/24'] }),
    ],
    [{ kind: 'uniqueAddresses', who: 'both', family: '4' }, (topology) => setAddress(topology, 'A', '10.84.2.11/24')],
    [{ kind: 'noOverlap', groups: ['A', 'B'] }, (topology) => setAddress(topology, 'A', '10.84.1.11/22')],
    [{ kind: 'reach', from: 'A', to: 'B', family: '4' }, (topology) => void delete topology.devices.B!.settings],
    [
      { kind: 'reachesGateway', who: 'A' },
      (topology) => void (topology.devices.A!.settings = { gateway4: '10.84.1.77' }),
    ],
    [
      { kind: 'within', who: 'both', family: '4' },
      (topology) => void (topology.devices.R!.settings = { forwarding: { v4: false } }),
    ],
    [
      { kind: 'pathThrough', from: 'A', to: 'B', via: 'R' },
      (topology) => void (topology.devices.A!.settings = { gateway4: '10.84.1.77' }),
    ],
    [
      { kind: 'not', rule: { kind: 'inBlock', who: 'both', block: '10.99.0.0/16' } },
      (topology) => {
        setAddress(topology, 'A', '10.99.0.1/24');
        setAddress(topology, 'B', '10.99.0.2/24');
      },
    ],
  ])('%j', (rule, mistake) => {
    expect(only(rule, twoLans())).toMatchObject({ verdict: 'met', points: 2 });
    const failed = only(rule, changed(mistake));
    expect(failed.points).toBeLessThan(2);
    const items = failed.items.filter((item) => item.met !== true);
    expect(items.length).toBeGreaterThan(0);
    for (const item of items) expect(item.text).toMatch(/[A-Za-z].*\.$/);
  });

  test('kept apart counts only when both sides are seen working', () => {
    const rule: Rule = { kind: 'apart', from: 'A', to: 'B', family: '4' };
    const apart = changed((topology) => {
      topology.devices.A!.settings!.gateway4 = '10.84.1.1';
      topology.devices.R!.settings = { routes: [{ prefix: '10.84.2.11/32' }, { prefix: '10.84.1.11/32' }] };
    });
    expect(only(rule, twoLans()).points).toBe(0);
    // the router throws away what is meant for either host, so neither has a working gateway any more
    expect(only(rule, apart).items[0]!.text).toMatch(/earns nothing yet/);
    // A router that does not forward leaves the hosts with nothing beyond their subnets.
    const still = changed((topology) => {
      topology.devices.R!.settings = { forwarding: { v4: false } };
    });
    expect(only(rule, still)).toMatchObject({ verdict: 'lost', points: 0 });
    expect(only(rule, filtered('in'), filtered('in'))).toMatchObject({ verdict: 'met', points: 2 });
    // A host that the lab does not ask for and that reaches what is kept apart.
    expect(only(rule, filtered('in')).items.map((item) => item.text)).toContainEqual(
      'C, which nobody asked for, reaches B.',
    );
    expect(only({ ...rule, whose: 'asked' }, filtered('in'))).toMatchObject({ verdict: 'met', points: 2 });
    // Only what comes back is dropped: packets of the first network do arrive in the second.
    const [arrives] = only(rule, filtered('out')).items;
    expect(arrives).toMatchObject({ met: false, code: 'REQUEST_ARRIVES' });
    expect(arrives!.text).toMatch(/the packet arrives, and only its answer is dropped/);
    expect(only({ ...rule, what: 'answer' }, filtered('out'), filtered('out'))).toMatchObject({ verdict: 'met' });
    const dead = changed((topology) => {
      topology.links = {};
    });
    expect(only(rule, dead).points).toBe(0);
  });

  test('all of, any of, not', () => {
    const [yes, no]: Rule[] = [
      { kind: 'private', who: 'A' },
      { kind: 'inBlock', who: 'A', block: '10.99.0.0/16' },
    ];
    const points = (rule: Rule) => only(rule, twoLans()).points;
    expect([
      points({ kind: 'allOf', rules: [yes!, no!] }),
      points({ kind: 'anyOf', rules: [no!, yes!] }),
      points({ kind: 'anyOf', rules: [no!] }),
      points({ kind: 'not', rule: no! }),
      points({ kind: 'not', rule: yes! }),
    ]).toEqual([1, 2, 0, 2, 0]);
    expect(only({ kind: 'not', rule: no! }, emptyTopology()).points).toBe(0);
  });

  test('a share of the points for a share of the items, rounded down to the step; all or nothing otherwise', () => {
    const drawing = changed((topology) => setAddress(topology, 'A', '10.99.1.11/24'));
    const rule: Rule = { kind: 'inBlock', who: 'both', block: '10.84.0.0/16' };
    expect(only(rule, drawing)).toMatchObject({ points: 1, verdict: 'partly' });
    expect(checkSubmission(labOf([rule], twoLans(), 'all'), drawing).requirements[0]).toMatchObject({
      points: 0,
      verdict: 'lost',
    });
  });

  test('what is uncertain is for a person to decide', () => {
    const drawing = changed((topology) => {
      topology.devices.C = { ...topology.devices.B!, name: 'C' };
      topology.links.c = { a: { device: 'SB', port: 'p2' }, b: { device: 'C', port: 'e0' }, medium: 'straight' };
    });
    const found = only({ kind: 'reach', from: 'A', to: 'B', family: '4' }, drawing);
    expect([found.verdict, found.points, found.items[0]!.met]).toEqual(['unjudged', 0, null]);
  });
});

test('nothing for nothing: no rule of any kind gives a point to an empty drawing, not even turned round', () => {
  for (const kind of RULE_KINDS) {
    const rule = kind.fresh as Rule;
    for (const judged of [rule, { kind: 'not', rule } as Rule])
      for (const drawing of [emptyTopology(), { ...emptyTopology(), title: 'T', author: 'A', legend: 'L' }])
        expect([kind.kind, only(judged, drawing).points]).toEqual([kind.kind, 0]);
  }
});

test('every kind reads as a sentence whose choosable words are its slots', () => {
  const names = namesOf(labOf([]));
  for (const kind of RULE_KINDS) {
    const parts = kind.words(kind.fresh, names);
    expect(sentenceOf(parts)).toMatch(/^[A-Z].*\.$/);
    expect(parts.flatMap((part) => (typeof part === 'string' ? [] : [part.slot])).sort()).toEqual(
      Object.keys(kind.slots).sort(),
    );
    expect(ruleKind(kind.kind)).toBe(kind);
  }
  for (const family of ['components', 'cabling', 'addressing', 'connectivity'])
    expect(RULE_KINDS.filter((kind) => kind.family === family).length).toBeGreaterThanOrEqual(3);
});

test('a spec that points at nothing is refused with the place', () => {
  const wrong = labOf([
    { kind: 'private', who: 'ghosts' },
    { kind: 'allOf', rules: [{ kind: 'inBlock', who: 'A', block: '10.84.1.5/24' }] },
  ]);
  expect(specProblems(wrong)).toEqual([
    {
      place: 'sections › 0 › requirements › 0 › rule › who',
      text: '"ghosts" is no group of the spec and no device of the reference.',
    },
    {
      place: 'sections › 0 › requirements › 1 › rule › rules › 0 › block',
      text: '"10.84.1.5/24" is an address inside a block: the block is 10.84.1.0/24.',
    },
  ]);
  const unknown = readLab({
    ...labOf([]),
    spec: {
      groups: {},
      sections: [{ id: 's', title: 'S', requirements: [{ id: 'r', points: 1, rule: { kind: 'magic' } }] }],
    },
  });
  expect(unknown.ok).toBe(false);
});

describe('matching', () => {
  const { reference } = readJson('demo', 'three-stations', 'lab.json') as LabFile;
  test('a drawing matches itself, whatever its names', () => {
    const drawing = structuredClone(reference);
    for (const [at, device] of Object.values(drawing.devices).entries()) device.name = `n${(at * 7) % 39}`;
    for (const role of matchRoles(analyse(reference), analyse(drawing)).roles) expect(role.device).toBe(role.role);
  });
  test('a missing device leaves its role empty, and the others keep theirs', () => {
    const drawing = structuredClone(reference);
    delete drawing.devices.CTRL;
    delete drawing.links['SWM1-5'];
    const matching = matchRoles(analyse(reference), analyse(drawing)).roles;
    expect(matching.filter((match) => match.device === null).map((match) => match.role)).toEqual(['CTRL']);
    expect(matching.filter((match) => match.device !== null && match.device !== match.role)).toEqual([]);
  });
  test('names decide only between devices that structure cannot tell apart', () => {
    const drawing = new Sheet()
      .device('R', 'border-router')
      .device('SA', 'access-switch-12')
      .host('A', '10.84.1.11/24')
      .cable('R g0', 'SA u1')
      .cable('SA p1', 'A e0').topology;
    const swapped = structuredClone(drawing);
    [swapped.devices.R!.name, swapped.devices.SA!.name] = ['SA', 'R'];
    expect(matchRoles(analyse(drawing), analyse(swapped)).roles.map((role) => [role.role, role.device])).toEqual([
      ['A', 'A'],
      ['R', 'R'],
      ['SA', 'SA'],
    ]);
  });
  test('assignment finds the largest total, not the greedy one', () => {
    const values = [
      [9, 8, 0],
      [8, 1, 0],
      [0, 0, 0],
    ];
    expect(assign(3, 3, (row, column) => values[row]![column]!)).toEqual([1, 0, -1]);
    expect(assign(2, 1, (row) => row + 1)).toEqual([-1, 0]);
    expect(assign(0, 5, () => 1)).toEqual([]);
  });
});

/** Which requirements each hand-in must lose points in, and why: one line a mistake. */
const MUST_LOSE: Record<string, Record<string, string[]>> = {
  'valley-lan': {
    'eero-lahtinen': [],
    'oskar-thorsen': [],
    // address of DESK-1 copied to DESK-4: not unique; whatever concerns the two desks is uncertain
    'adaeze-okonjo': ['3.6', '4.1', '4.2', '4.5'],
    // TURN-2's address has a space and so is none at all; OFFICE has no gateway
    'anselm-bruckner': ['3.1', '3.3', '3.4', '3.6', '3.7', '3.8', '3.9', '3.10', '4.1', '4.3'],
    // SHOP has the broadcast address: nobody reaches it, and it reaches nobody
    'bojana-ristic': ['3.7', '4.1', '4.2', '4.3'],
    // all is a /28: works, but has no room for forty
    'caoimhe-daly': ['3.2'],
    // DESK-2 has an address of 18/8: outside, not private, no gateway; PRINT's port is off
    'dilnoza-yusupova': ['2.3', '3.1', '3.2', '3.3', '3.4', '3.9', '4.1', '4.2', '4.4', '4.5'],
    // a crossover cable to TURN-1 is down; the router sits on a slow port, beside the label of the quick one
    'farid-benali': ['2.3', '2.4', '2.5', '2.7', '4.1', '4.3'],
    // PRINT's gateway is nobody's address; one label and the title are missing
    'greta-holzapfel': ['2.6', '3.4', '4.1', '5.1'],
    // DESK-3 in another VLAN; two turnstiles of one name
    'hoang-minh-thu': ['1.4', '4.1', '4.2', '4.5'],
    // the provider's range inside: works, but is outside the block, not private, and not to be used
    'ilse-haverkamp': ['3.1', '3.2', '3.8', '3.9'],
    // a second switch stands about; wrong hostname; OFFICE has no cable, which counts as a missing link alone
    'imre-szalai': ['1.2', '1.5', '1.6', '2.1', '2.3', '4.1', '4.4'],
  },
  'three-stations': {
    'samir-haddadin': [],
    'yrsa-dahlgaard': [],
    // RT-M's route to the Valley ends at 10.84.0.0/24: no way back to the desks and the shop in 10.84.1.0/24
    'jamila-conteh': ['4.2', '4.3', '4.6', '4.7', '4.8'],
    // the Summit has no route out
    'kasper-lindqvist': ['4.2', '4.6', '4.7', '4.8'],
    // the cameras' /28 has no room for forty
    'leilani-kahale': ['3.4'],
    // RT-M does not forward: nothing passes the Middle, and OFFICE does not get to the cameras behind it
    'mateusz-gawron': ['4.2', '4.3', '4.6', '4.7', '4.8'],
    // multi-mode fibre in single-mode ports: the Summit is cut off
    'nadia-qureshi': ['2.2', '2.5', '4.2', '4.6', '4.7', '4.8'],
    // TILL-2 and TILL-3 share an address; one label and the legend are missing
    'pilar-echeverria': ['2.8', '3.8', '4.1', '4.2', '4.8', '5.1'],
    // TILL-1's gateway lies outside its subnet; SW-V2 hangs on a slow port, labelled as the quick one
    'quentin-marchal': ['2.6', '2.9', '3.10', '4.1', '4.2', '4.8'],
    // the tills' /26 swallows the mast's subnet, whose masks are others; everything asked still works by luck
    'rosalba-ferri': ['3.7', '3.11'],
    // duplex fixed at both ends, and not alike; CTRL's cable, labelled p5, shares a port with WINCH-4's; SW-S1 is drawn at the Middle
    'tamsin-pryce': ['1.3', '2.5', '2.7', '2.9', '4.1', '4.5'],
    // two devices of one name; OFFICE-1's address has no prefix; WEATHER has the network address
    'uchenna-eze': ['1.4', '3.2', '3.8', '3.9', '3.10', '3.11', '4.1', '4.3'],
  },
  'winch-isolation': {
    'samir-haddadin': [],
    'yrsa-dahlgaard': [],
    // the trunk to the guests' switch carries the office's VLAN: the guests have no lease, so nothing is shown of them
    'jamila-conteh': ['3.3', '3.5', '3.6', '3.7', '4.1', '4.4', '5.1', '5.3', '5.4', '7.2', '7.3'],
    // WINCH-3 stands in the office's VLAN, which the trunk does not carry: it reaches nobody
    'kasper-lindqvist': ['4.1', '4.2', '5.1', '5.2'],
    // the guests' filter permits all: the winches have one of their own, the others not
    'leilani-kahale': ['5.3', '5.4'],
    // the office is not translated: NEWS does not answer it, and nothing else shows that it works
    'mateusz-gawron': ['4.5', '5.2', '5.3', '7.3'],
    // leases tell a way out that nobody has
    'nadia-qureshi': ['3.7', '4.1', '4.4', '5.1', '5.3', '5.4', '7.3'],
    // native VLANs differ: replies of the winches end among the control desks, and the other way round
    'pilar-echeverria': ['4.1', '4.2', '5.1', '5.2', '5.4'],
    // the winches' filter looks at what comes from them: they answer nobody, and the office arrives there
    'quentin-marchal': ['4.1', '4.2', '5.1', '5.2', '5.4'],
    // no way out: nothing shows that guests and office work
    'rosalba-ferri': ['4.4', '4.5', '5.1', '5.2', '5.3', '5.4', '7.3'],
    // the control desks have no gateway in their VLAN, and nobody else is to reach the winches
    'tamsin-pryce': ['4.1', '4.2', '5.1', '5.2', '5.4'],
    // VLAN 20 is missing on the switch in the middle; the outside is taken for the inside, so nothing is translated
    'uchenna-eze': ['4.1', '4.2', '4.4', '4.5', '5.1', '5.2', '5.3', '5.4', '7.1', '7.3'],
  },
  'summit-dual-stack': {
    'quentin-marchal': [],
    'leilani-kahale': [],
    // another area at the summit's ends, for IPv6 alone: no neighbours there, and no ways in IPv6
    'jamila-conteh': ['6.1', '6.2', '6.4', '7.1', '7.3'],
    // other timers at the summit's ends, for IPv4 alone
    'kasper-lindqvist': ['4.1', '4.2', '4.4', '7.1', '7.3'],
    // RT-M passes no IPv6 on, and tells hosts no prefix: the office has no addresses
    'mateusz-gawron': ['3.2', '3.4', '3.6', '3.7', '6.1', '6.2', '6.3', '6.4', '7.1'],
    // one router id twice: no neighbours, and whatever goes by OSPF is left to chance
    'nadia-qureshi': ['4.1', '4.2', '4.3', '4.4', '6.1', '6.2', '6.3', '6.4', '7.1', '7.3', '7.4'],
    // the others never hear of the summit's network in IPv6
    'pilar-echeverria': ['6.1', '6.2', '6.4', '7.1'],
    // RT-V is silent: the desks have no IPv6 address; SHOP has one that is typed
    'rosalba-ferri': ['3.1', '3.4', '3.7', '6.2'],
    // a prefix of 80 bits: the office makes no addresses of it
    'samir-haddadin': ['3.2', '3.4', '3.6', '3.7', '6.3', '6.4'],
    // a pylon is passive: the long way is taken
    'tamsin-pryce': ['7.1', '7.3'],
    // the long way costs no more than the short one
    'uchenna-eze': ['7.1'],
    // SHOP has WEATHER's address and way out
    'yrsa-dahlgaard': ['3.1', '3.4', '3.6', '6.1', '6.3', '7.1'],
  },
};

describe.each(Object.entries(MUST_LOSE))('demo lab %s', (slug, expected) => {
  const read = readLabText(JSON.stringify(readJson('demo', slug, 'lab.json')));
  if (!read.ok) throw new Error(JSON.stringify(read.error));
  const check = (name: string): CheckResult => {
    const submission = readSubmissionText(JSON.stringify(readJson('demo', slug, 'submissions', name)));
    if (!submission.ok) throw new Error(JSON.stringify(submission.error));
    return checkSubmission(read.value, submission.value.topology!);
  };

  test('has at least 20 requirements, a reference with full marks, and twelve submissions', () => {
    expect(read.value.spec.sections.flatMap((section) => section.requirements).length).toBeGreaterThanOrEqual(20);
    const result = checkSubmission(read.value, read.value.reference);
    expect(result.points).toBe(result.of);
    expect(filesIn('demo', slug, 'submissions').map((name) => name.replace('.json', ''))).toEqual(
      Object.keys(expected).sort(),
    );
    expect(checkSubmission(read.value, emptyTopology()).points).toBe(0);
  });

  test.each(Object.entries(expected))('%s loses exactly what the mistakes cost', (name, lost) => {
    const result = check(`${name}.json`);
    expect(
      result.requirements
        .filter((requirement) => requirement.points < requirement.of)
        .map((requirement) => requirement.id),
    ).toEqual(lost);
    if (!lost.length) expect(result.points).toBe(result.of);
    // Sections are kept to a hundredth; the mark alone is rounded, down to half a point.
    const sum = result.sections.reduce((all, section) => all + section.points, 0);
    expect(result.points).toBe(Math.floor(sum * 2 + 1e-6) / 2);
    for (const requirement of result.requirements.filter((each) => each.points < each.of))
      expect(requirement.items.some((item) => item.met !== true && item.text.length > 10)).toBe(true);
  });

  test('every requirement reads as a sentence', () => {
    const names = namesOf(read.value);
    for (const requirement of read.value.spec.sections.flatMap((section) => section.requirements))
      expect(sentenceOf(requirementWords(requirement, names))).toMatch(/^[A-Z].*\.$/);
  });
});
