import { labOf } from '../tests/labs';
import { Sheet, demoLab, twoLans } from '../tests/topologies';
import { KIT, type Topology } from '../topology';
import { type CheckResult, type LabFile, type Rule, checkSubmission } from '.';

const only = (rule: Rule, drawing: Topology, reference: Topology = twoLans()) =>
  checkSubmission(labOf([rule], reference), drawing).requirements[0]!;
const changed = (topology: Topology, change: (topology: Topology) => void): Topology => {
  const copy = structuredClone(topology);
  change(copy);
  return copy;
};
const points = (result: CheckResult, id: string): number => result.requirements.find((each) => each.id === id)!.points;

describe('separation is not won by breaking things', () => {
  const lab = demoLab('winch-isolation');
  const separation = (drawing: Topology): number => {
    const result = checkSubmission(lab, drawing);
    return result.requirements.filter(({ id }) => id.startsWith('5.')).reduce((sum, each) => sum + each.points, 0);
  };
  test('the reference has all twelve points', () => expect(separation(lab.reference)).toBe(12));
  test.each<[string, (topology: Topology) => void]>([
    [
      'a router that neither forwards nor filters',
      (topology) => {
        const router = Object.values(topology.devices).find(({ name }) => name === 'RT-M')!;
        delete router.settings!.filters;
        for (const face of Object.values(router.interfaces!))
          for (const key of ['filterIn4', 'filterOut4'] as const) delete face[key];
        router.settings!.forwarding = { v4: false };
      },
    ],
    ['no links', (topology) => void (topology.links = {})],
    [
      'winches in a subnet that nobody routes',
      (topology) => {
        for (const device of Object.values(topology.devices).filter(({ name }) => name.startsWith('WINCH')))
          for (const face of Object.values(device.interfaces!))
            face.v4 = { addresses: face.v4!.addresses!.map((text) => text.replace('10.84.10.', '10.99.10.')) };
      },
    ],
  ])('%s earns none of those of the winches', (_what, breaks) => {
    const drawing = changed(lab.reference, breaks);
    const result = checkSubmission(lab, drawing);
    expect(points(result, '5.1') + points(result, '5.2')).toBe(0);
  });
  test('one laptop more among the winches loses the sentence', () => {
    const drawing = changed(lab.reference, (topology) => {
      const [, winch] = Object.entries(topology.devices).find(([, { name }]) => name === 'WINCH-1')!;
      topology.devices.extra = {
        ...structuredClone(winch),
        name: 'SPY',
        model: 'laptop',
        interfaces: { e0: { on: { kind: 'port', port: 'e0' }, v4: { addresses: ['10.84.10.9/28'] } } },
      };
      const [, cable] = Object.entries(topology.links).find(
        ([, { a, b }]) =>
          topology.devices[a.device]!.name === 'WINCH-1' || topology.devices[b.device]!.name === 'WINCH-1',
      )!;
      const end = topology.devices[cable.a.device]!.name === 'WINCH-1' ? cable.b : cable.a;
      const { p1 } = topology.devices[end.device]!.ports!;
      topology.devices[end.device]!.ports!.p9 = structuredClone(p1!);
      topology.links.spy = {
        a: { device: end.device, port: 'p9' },
        b: { device: 'extra', port: 'e0' },
        medium: 'straight',
      };
    });
    const lost = checkSubmission(lab, drawing).requirements.find(({ id }) => id === '5.1')!;
    expect(lost.points).toBeLessThan(lost.of);
    expect(
      lost.items.some(({ text }) => /^SPY, which nobody asked for, stands in the subnet of WINCH-\d/.test(text)),
    ).toBe(true);
  });
});

describe('what is outside belongs to the lab', () => {
  const lab = demoLab('winch-isolation');
  test('translation left out and a private route typed at the provider earns no way to the outside', () => {
    const drawing = changed(lab.reference, (topology) => {
      const router = topology.devices.RT!;
      router.settings!.nat = [];
      delete router.interfaces!.g0!.filterOut4;
      topology.devices.PROV!.settings = { routes: [{ prefix: '10.0.0.0/8', via: '198.51.100.2' }] };
    });
    const result = checkSubmission(lab, drawing);
    expect([points(result, '4.4'), points(result, '4.5')]).toEqual([0, 0]);
    expect(result.remarks).toMatchObject([{ text: expect.stringMatching(/^North Pass stands outside/) as string }]);
  });
  test('a provider that nobody asked for cannot know the way inside either', () => {
    const drawing = changed(lab.reference, (topology) => {
      topology.devices.more = {
        ...structuredClone(topology.devices.PROV!),
        name: 'Another',
        settings: { routes: [{ prefix: '0.0.0.0/0', via: '198.51.100.2' }] },
      };
    });
    expect(checkSubmission(lab, drawing).remarks).toHaveLength(1);
  });
  test('the outside as it was given is nothing to speak of', () => {
    expect(checkSubmission(lab, lab.reference).remarks).toBeUndefined();
  });
});

test('a device of a model of one’s own proves nothing: a person decides', () => {
  const own = changed(twoLans(), (topology) => {
    const router = topology.devices.R!;
    topology.models = { wonder: { ...structuredClone(KIT['border-router']!), name: 'Wonder router' } };
    router.model = 'wonder';
  });
  const found = only({ kind: 'rightKind', who: 'R' }, own);
  expect(found).toMatchObject({ verdict: 'unjudged', points: 0 });
  expect(found.items[0]!.text).toMatch(/a model which the lab does not have \(Wonder router\)/);
  // One that the lab's reference has, and the kit's, are as good as any.
  expect(only({ kind: 'rightKind', who: 'R' }, own, own).verdict).toBe('met');
  expect(only({ kind: 'rightKind', who: 'A' }, own).verdict).toBe('met');
  // What a drawing brings under a name of the kit is not looked at: the kit's holds.
  const disguised = changed(twoLans(), (topology) => {
    topology.models = { 'access-switch-12': { ...structuredClone(KIT['access-switch-12']!), forwards: true } };
  });
  expect(only({ kind: 'rightKind', who: 'SA' }, disguised).verdict).toBe('met');
});

test('where more than a fifth of the points does not apply, a person is asked to look', () => {
  const apart: Rule = {
    kind: 'ifThen',
    if: { kind: 'inBlock', who: 'A', block: '10.99.0.0/16' },
    then: { kind: 'private', who: 'A' },
  };
  const rules = (n: number): Rule[] => [
    apart,
    ...Array.from({ length: n }, (): Rule => ({ kind: 'private', who: 'A' })),
  ];
  expect(checkSubmission(labOf(rules(3)), twoLans()).remarks).toHaveLength(1);
  expect(checkSubmission(labOf(rules(4)), twoLans()).remarks).toBeUndefined();
});

describe('a gateway', () => {
  test('need not answer an echo where more is reached through it', () => {
    const drawing = changed(twoLans(), (topology) => {
      const router = topology.devices.R!;
      router.settings = {
        filters: {
          F: {
            family: 4,
            rules: [
              { action: 'deny', proto: 'ip', src: { kind: 'any' }, dst: { kind: 'prefix', prefix: '10.84.1.1/32' } },
              { action: 'permit', proto: 'ip', src: { kind: 'any' }, dst: { kind: 'any' } },
            ],
          },
        },
      };
      router.interfaces!.g0!.filterIn4 = 'F';
    });
    expect(only({ kind: 'reachesGateway', who: 'A' }, drawing).items[0]!.text).toMatch(/answers on the wire/);
    expect(only({ kind: 'reachesGateway', who: 'A' }, drawing).verdict).toBe('met');
  });
});

describe('both families', () => {
  /** A router and two networks that have IPv6 as well; the hosts' gateways are typed. */
  const dual = (): Topology =>
    changed(twoLans(), (topology) => {
      for (const [id, port, address] of [
        ['R', 'g0', 'fd5e:7a3c:1::1/64'],
        ['R', 'g1', 'fd5e:7a3c:2::1/64'],
        ['A', 'e0', 'fd5e:7a3c:1::11/64'],
        ['B', 'e0', 'fd5e:7a3c:2::11/64'],
      ] as const)
        topology.devices[id]!.interfaces![port]!.v6 = { addresses: [address] };
      topology.devices.A!.settings = { ...topology.devices.A!.settings, gateway6: 'fd5e:7a3c:1::1' };
      topology.devices.B!.settings = { ...topology.devices.B!.settings, gateway6: 'fd5e:7a3c:2::1' };
    });
  test.each<[string, Rule, (topology: Topology) => void]>([
    [
      'gateway',
      { kind: 'gateway', who: 'A', router: 'R' },
      (topology) => void delete topology.devices.A!.settings!.gateway6,
    ],
    [
      'reachesGateway',
      { kind: 'reachesGateway', who: 'A' },
      (topology) => void delete topology.devices.A!.settings!.gateway6,
    ],
    ['reach', { kind: 'reach', from: 'A', to: 'B' }, (topology) => void delete topology.devices.B!.settings!.gateway6],
    ['within', { kind: 'within', who: 'both' }, (topology) => void delete topology.devices.B!.settings!.gateway6],
    [
      'pathThrough',
      { kind: 'pathThrough', from: 'A', to: 'B', via: 'R' },
      (topology) => void delete topology.devices.B!.settings!.gateway6,
    ],
    [
      'private',
      { kind: 'private', who: 'A' },
      (topology) => void (topology.devices.A!.interfaces!.e0!.v6 = { addresses: ['2001:db8:1::1/64'] }),
    ],
    [
      'firstUsable',
      { kind: 'firstUsable', router: 'R', who: 'A' },
      (topology) => void (topology.devices.R!.interfaces!.g0!.v6 = { addresses: ['fd5e:7a3c:1::7/64'] }),
    ],
    [
      'usable',
      { kind: 'usable', who: 'A' },
      (topology) => void (topology.devices.A!.interfaces!.e0!.v6 = { addresses: ['fd5e:7a3c:1::/64'] }),
    ],
    [
      'uniqueAddresses',
      { kind: 'uniqueAddresses', who: 'both' },
      (topology) => void (topology.devices.B!.interfaces!.e0!.v6 = { addresses: ['fd5e:7a3c:1::11/64'] }),
    ],
    [
      'noOverlap',
      { kind: 'noOverlap', groups: ['A', 'B'] },
      (topology) => void (topology.devices.B!.interfaces!.e0!.v6 = { addresses: ['fd5e:7a3c:1::12/64'] }),
    ],
  ])('%s without a family is judged in each that the reference has, one item a family', (_kind, rule, breaksSix) => {
    const whole = only(rule, dual(), dual());
    expect(whole.verdict).toBe('met');
    expect(new Set(whole.items.map(({ key }) => key!.split('|').at(-1)))).toEqual(new Set(['4', '6']));
    const broken = only(rule, changed(dual(), breaksSix), dual());
    expect(broken.points).toBeLessThan(2);
    // IPv4 is as it was.
    expect(broken.items.some(({ met }) => met === true)).toBe(true);
    // Where the reference has IPv4 alone, IPv6 is not asked for.
    expect(only(rule, twoLans()).items.every(({ key }) => !key!.endsWith('6'))).toBe(true);
  });
  test('addresses of one link are no plan: cabled hosts left alone earn neither addressing nor reach', () => {
    const alone = changed(dual(), (topology) => {
      for (const id of ['A', 'B', 'R']) {
        topology.devices[id]!.interfaces = Object.fromEntries(
          Object.entries(topology.devices[id]!.interfaces!).map(([port, face]) => [
            port,
            { on: face.on, v6: { addresses: ['fe80::1/64'] }, v4: { addresses: [`169.254.0.${id.charCodeAt(0)}/16`] } },
          ]),
        );
        delete topology.devices[id]!.settings;
      }
    });
    for (const rule of [
      { kind: 'oneSubnet', who: 'A' },
      { kind: 'uniqueAddresses', who: 'both' },
      { kind: 'usable', who: 'both' },
      { kind: 'reach', from: 'A', to: 'R' },
      { kind: 'private', who: 'A' },
    ] satisfies Rule[])
      expect([rule.kind, only(rule, alone, dual()).points]).toEqual([rule.kind, 0]);
  });
});

describe('what is lost is lost once, and points at its place', () => {
  test('a missing link costs nothing more where the spec asks for the link itself', () => {
    const rules: Rule[] = [
      { kind: 'linked', a: 'SA', b: 'both' },
      { kind: 'medium', a: 'SA', b: '@all', media: ['straight'] },
    ];
    const drawing = changed(twoLans(), (topology) => void delete topology.links['SA-p1-A-e0']);
    const both = checkSubmission(labOf(rules), drawing).requirements;
    expect(both.map(({ points: won }) => won)).toEqual([0, 2]);
    expect(both[1]!.items.find(({ see }) => see)).toMatchObject({ see: 'r0', met: false });
    // Alone it is the only one that can say so.
    expect(only(rules[1]!, drawing).points).toBeLessThan(2);
    // Unless the lab says that it costs everywhere.
    const everywhere = checkSubmission({ ...labOf(rules), policy: { missing: 'everywhere' } }, drawing);
    expect(everywhere.requirements.map(({ points: won }) => won)).toEqual([0, 1]);
  });
  test('a missing label costs where labels are asked for, and no more where they must be right', () => {
    const rules: Rule[] = [
      { kind: 'portsLabelled', who: 'SA' },
      { kind: 'labelAgrees', who: 'SA' },
    ];
    const labelled = changed(twoLans(), (topology) => {
      topology.devices.SA!.ports = { u1: { label: 'u1' }, p1: { label: 'p1' } };
    });
    const points = (drawing: Topology, ...of: Rule[]) =>
      checkSubmission(labOf(of), drawing).requirements.map(({ points: won }) => won);
    expect(points(labelled, ...rules)).toEqual([2, 2]);
    const bare = changed(labelled, (topology) => void (topology.devices.SA!.ports = { u1: { label: 'u1' } }));
    expect(points(bare, ...rules)).toEqual([1, 2]);
    expect(points(bare, rules[1]!)).toEqual([1]);
    expect(points(twoLans(), ...rules)).toEqual([0, 0]);
  });
  test('a trunk that does not carry the VLAN is pointed at, not the host that suffers', () => {
    const lab = demoLab('winch-isolation');
    const named = (name: string) =>
      Object.keys(lab.reference.devices).find((id) => lab.reference.devices[id]!.name === name)!;
    const drawing = changed(lab.reference, (topology) => {
      topology.devices[named('SW-M1')]!.ports!.u1!.role = { kind: 'switched', mode: 'trunk', allowed: [20, 30, 40] };
    });
    const lost = checkSubmission(lab, drawing).requirements.find(({ id }) => id === '4.1')!;
    const item = lost.items.find(({ met, text }) => met === false && text.startsWith('WINCH-1'))!;
    expect(item.places[0]).toEqual({ device: named('SW-M1'), port: 'u1' });
  });
  test('a port in the wrong VLAN is pointed at', () => {
    const lab = demoLab('winch-isolation');
    const named = (name: string) =>
      Object.keys(lab.reference.devices).find((id) => lab.reference.devices[id]!.name === name)!;
    const drawing = changed(lab.reference, (topology) => {
      const port = topology.devices[named('SW-M2')]!.ports!.p2!;
      port.role = { kind: 'switched', mode: 'access', accessVlan: 30 };
    });
    const lost = checkSubmission(lab, drawing).requirements.find(({ id }) => id === '4.1')!;
    expect(lost.items.find(({ met }) => met === false)!.places[0]).toEqual({ device: named('SW-M2'), port: 'p2' });
  });
  test('of a group of two in two subnets neither is blamed alone', () => {
    const drawing = new Sheet().host('A', '10.84.1.11/24').host('B', '10.84.2.11/24').topology;
    const [first, second] = only({ kind: 'oneSubnet', who: 'both' }, drawing, drawing).items;
    expect([first!.met, second!.met]).toEqual([true, false]);
    expect(second!.text).toBe('B is in 10.84.2.0/24, A in 10.84.1.0/24: they do not agree.');
    expect(second!.places).toEqual([{ device: 'B' }, { device: 'A' }]);
  });
  test('one broken host of four is one that is lost, whatever the number of its pairs', () => {
    const sheet = new Sheet().device('S', 'access-switch-12');
    for (const [at, id] of ['A', 'B', 'C', 'D'].entries())
      sheet.host(id, `10.84.1.${11 + at}/24`).cable(`S p${at + 1}`, `${id} e0`);
    const lab = labOf([{ kind: 'within', who: '@hosts' }], sheet.topology);
    const drawing = changed(sheet.topology, (topology) => {
      topology.devices.D!.interfaces!.e0!.v4 = { addresses: ['10.84.9.14/24'] };
    });
    const [found] = checkSubmission(lab, drawing).requirements;
    expect(found).toMatchObject({ points: 1.5 });
    expect(found!.items.filter(({ met }) => met !== true)).toHaveLength(1);
  });
  test('one label of many is worth its share, and only the mark is rounded', () => {
    const lab = demoLab('three-stations');
    const labelled = (drawing: Topology): number => points(checkSubmission(lab, drawing), '2.8');
    const drawing = changed(lab.reference, (topology) => {
      const port = Object.values(topology.devices).find(({ name }) => name === 'SW-V1')!.ports!;
      delete port[Object.keys(port).find((key) => port[key]!.label)!]!.label;
    });
    const [whole, less] = [labelled(lab.reference), labelled(drawing)];
    expect(whole - less).toBeGreaterThan(0);
    expect(whole - less).toBeLessThan(0.1);
  });
});

describe('names in a sentence are those of its pair', () => {
  test.each(['three-stations', 'winch-isolation', 'summit-dual-stack'])(
    '%s, each reach of the spec, each router still',
    (slug) => {
      const lab: LabFile = demoLab(slug);
      const names = new Set(Object.values(lab.reference.devices).map(({ name }) => name));
      const ends = new Set(
        Object.values(lab.reference.devices)
          .filter(({ interfaces }) => Object.keys(interfaces ?? {}).length === 1)
          .map(({ name }) => name),
      );
      for (const [id, { model }] of Object.entries(lab.reference.devices)) {
        if (!model.includes('router')) continue;
        const drawing = changed(lab.reference, (topology) => {
          topology.devices[id]!.settings = { ...topology.devices[id]!.settings, forwarding: { v4: false, v6: false } };
        });
        for (const { items } of checkSubmission(lab, drawing).requirements)
          for (const { text, met } of items) {
            const pair = /^(\S+) → (\S+) \(/.exec(text);
            if (met !== false || !pair) continue;
            const others = [...names].filter(
              (name) =>
                ends.has(name) &&
                name !== pair[1] &&
                name !== pair[2] &&
                new RegExp(`(?<![\\w-])${name}(?![\\w-])`).test(text),
            );
            expect([text, others]).toEqual([text, []]);
          }
      }
    },
  );
});

describe('small things', () => {
  test('anywhere means at any site', () => {
    const drawing = changed(twoLans(), (topology) => {
      topology.sites.x = { name: 'Hall', kind: 'lan', area: { x: 0, y: 0, width: 9, height: 9 } };
      topology.devices.A!.site = 'x';
    });
    expect(only({ kind: 'atSite', who: 'both', site: 'anywhere' }, drawing).points).toBe(1);
  });
  test('a hostname is compared without case, blanks and underscores as hyphens', () => {
    const drawing = changed(twoLans(), (topology) => {
      topology.devices.R!.name = 'Main router';
      topology.devices.R!.settings = { hostname: 'MAIN_ROUTER' };
    });
    expect(only({ kind: 'hostnameIsName', who: 'R' }, drawing).verdict).toBe('met');
  });
  test('room is for hosts besides whatever else has an address there', () => {
    const rule: Rule = { kind: 'roomFor', who: 'A', n: 13, block: '10.84.0.0/16' };
    const small = changed(twoLans(), (topology) => {
      topology.devices.A!.interfaces!.e0!.v4 = { addresses: ['10.84.1.11/28'] };
      topology.devices.R!.interfaces!.g0!.v4 = { addresses: ['10.84.1.1/28'] };
    });
    expect(only(rule, small).verdict).toBe('met');
    const managed = changed(small, (topology) => {
      topology.devices.SA!.interfaces = { v1: { on: { kind: 'svi', vlan: 1 }, v4: { addresses: ['10.84.1.2/28'] } } };
    });
    expect(only(rule, managed).items[0]!.text).toBe('10.84.1.0/28 has 14 usable addresses, 15 are wanted.');
  });
});

test('a heap of devices of one name and one address is judged, and told in few words', () => {
  const lab = demoLab('winch-isolation');
  const heap = changed(lab.reference, (topology) => {
    topology.devices = {};
    topology.links = {};
    for (let at = 0; at < 3000; at++)
      topology.devices[`d${at}`] = {
        name: 'PC',
        model: 'desktop',
        at: { x: 0, y: 0 },
        interfaces: { e0: { on: { kind: 'port', port: 'e0' }, v4: { addresses: ['10.84.10.2/8'] } } },
      };
  });
  const result = checkSubmission(lab, heap);
  expect(points(result, '5.1') + points(result, '4.2') + points(result, '2.3')).toBe(0);
  expect(JSON.stringify(result).length).toBeLessThan(300_000);
});

describe('nothing for the starter', () => {
  /** Half of what is asked is there before anybody begins. */
  const starter = (): Topology => {
    const topology = twoLans();
    delete topology.devices.B!.interfaces;
    return { ...topology, legend: 'Given by the lab' };
  };
  const rules: Rule[] = [
    { kind: 'private', who: 'both' },
    { kind: 'linked', a: 'A', b: 'SA' },
    { kind: 'reach', from: 'A', to: 'B', both: true },
    { kind: 'titled' },
  ];
  const lab = (change: Partial<LabFile['spec']['sections'][number]['requirements'][number]> = {}): LabFile => {
    const made = labOf(rules);
    for (const requirement of made.spec.sections[0]!.requirements) Object.assign(requirement, change);
    return { ...made, starter: starter() };
  };
  const told = (drawing: Topology, of = lab()) => {
    const { points, of: total, requirements } = checkSubmission(of, drawing);
    return [points, total, ...requirements.map(({ verdict, given }) => (given ? 'given' : verdict))];
  };
  test('the untouched starter earns nothing, and a whole answer everything that is left to earn', () => {
    expect(told(starter())).toEqual([0, 6, 'lost', 'given', 'lost', 'lost']);
    expect(told({ ...twoLans(), title: 'Two LANs', author: 'A. Keller', legend: 'What I drew' })).toEqual([
      6,
      6,
      'met',
      'given',
      'met',
      'met',
    ]);
  });
  test('what came with it and is broken is lost', () => {
    const { links: _none, ...rest } = { ...starter(), title: 'T', author: 'A' };
    expect(told({ ...rest, links: {} })).toEqual([0, 8, 'lost', 'lost', 'lost', 'lost']);
  });
  test('a device in the place of one of the starter is one’s own', () => {
    const { A: first, ...devices } = starter().devices;
    const links = Object.fromEntries(
      Object.entries(starter().links).map(([id, link]) => [
        id,
        {
          ...link,
          a: link.a.device === 'A' ? { ...link.a, device: 'mine' } : link.a,
          b: link.b.device === 'A' ? { ...link.b, device: 'mine' } : link.b,
        },
      ]),
    );
    const result = checkSubmission(lab(), { ...starter(), devices: { ...devices, mine: first! }, links });
    expect(result.requirements.map(({ points }) => points)).toEqual([1, 2, 0, 0]);
  });
  test('drawn again from nothing it is given all the same', () => {
    const again = JSON.parse(
      JSON.stringify(starter())
        .replaceAll(/"(A|B|SA|SB|R)":/g, '"new$1":')
        .replaceAll(/"device":"/g, '"device":"new'),
    ) as Topology;
    expect(told(again).slice(0, 1)).toEqual([0]);
  });
  test('where a requirement says so, what is given counts, too', () =>
    expect(told(starter(), lab({ given: 'counts' }))[0]).toBeGreaterThan(0));
  test('without a starter everything counts; title and author, which Sobrin writes, earn nothing by themselves', () => {
    expect(told({ ...twoLans(), title: 'T', author: 'A' }, labOf(rules))).toEqual([6, 8, 'met', 'met', 'met', 'lost']);
    expect(told({ ...twoLans(), title: '', author: 'A', legend: 'L' }, labOf(rules))[0]).toBe(7);
  });
  test('labs with other starters judge otherwise', () => {
    const hash = (own: LabFile): string => checkSubmission(own, twoLans()).specHash;
    expect(hash(lab())).not.toBe(hash(labOf(rules)));
    expect(hash({ ...lab(), starter: { ...starter(), legend: 'Another one' } })).not.toBe(hash(lab()));
  });
});

describe('“all” is everything that is drawn there, unless a sentence asks of the devices asked for alone', () => {
  const beside = (change: (sheet: Sheet) => void): Topology => {
    const sheet = new Sheet();
    Object.assign(sheet.topology, twoLans());
    change(sheet);
    return sheet.topology;
  };
  /** How many of its two points a rule earns, asked of everything and of the devices asked for. */
  const both = (rule: Rule, drawing: Topology): [number, number] => [
    only(rule, drawing).points,
    only({ ...rule, whose: 'asked' }, drawing).points,
  ];
  const unique: Rule = { kind: 'uniqueAddresses', who: '@hosts' };
  const twins = beside((sheet) =>
    sheet
      .device('X', 'laptop', { e0: '10.84.1.90/24' })
      .device('Y', 'laptop', { e0: '10.84.1.90/24' })
      .cable('SA p5', 'X e0')
      .cable('SA p6', 'Y e0'),
  );
  test('two laptops more that share an address', () => {
    expect(both(unique, twins)).toEqual([expect.closeTo(1.33), 2]);
    const lost = only(unique, twins).items.filter((item) => item.met === false);
    expect(lost.map(({ text }) => text)).toEqual(['10.84.1.90 is used by X and Y.']);
    // Of a group it is asked where the group stands.
    expect(both({ ...unique, who: 'A' }, twins)).toEqual([1, 2]);
    expect(both({ ...unique, who: 'B' }, twins)).toEqual([2, 2]);
  });
  test('one that has the address of a device that is asked for', () => {
    const drawing = beside((sheet) => sheet.host('X', '10.84.1.11/24').cable('SA p5', 'X e0'));
    expect(both(unique, drawing)).toEqual([1, 2]);
  });
  test('a cable more that does not come up', () => {
    const drawing = beside((sheet) =>
      sheet
        .device('X', 'laptop', { e0: '10.84.1.90/24' })
        .device('Y', 'laptop', { e0: '10.84.1.91/24' })
        .cable('X e0', 'Y e0', 'rollover'),
    );
    expect(both({ kind: 'linksUp', who: '@all' }, drawing)).toEqual([expect.closeTo(1.6), 2]);
    expect(both({ kind: 'noProblems', what: ['links'] }, drawing)).toEqual([0, 2]);
  });
  test('a router more whose subnet overlaps that of a group', () => {
    const drawing = beside((sheet) => sheet.device('Q', 'border-router', { g0: '10.84.1.129/25' }));
    const rule: Rule = { kind: 'noOverlap', groups: ['A', 'B'] };
    expect(both(rule, drawing)).toEqual([1, 2]);
    expect(only(rule, drawing).items.find((item) => !item.met)!.text).toBe(
      '10.84.1.0/24 of A overlaps 10.84.1.128/25 of Q, which nobody asked for.',
    );
  });
  test('a member of a group that stands in the subnet of another one', () => {
    const three = (address: string): Topology =>
      beside((sheet) => sheet.host('C', address, '10.84.1.1').cable('SA p5', 'C e0'));
    const lab = labOf([{ kind: 'noOverlap', groups: ['first', 'B'] }], three('10.84.1.12/24'));
    lab.spec.groups.first = { title: 'the first', roles: ['A', 'C'] };
    const of = (address: string): number => checkSubmission(lab, three(address)).points;
    expect([of('10.84.1.12/24'), of('10.84.2.12/24')]).toEqual([2, 0]);
  });
});

describe('addresses are judged within one realm (RFC 2663)', () => {
  /** Two homes, each behind a router; with translation, or without. */
  const homes = (translated: boolean): Topology => {
    const sheet = new Sheet().device('ISP', 'border-router', { g0: '203.0.113.1/30', g1: '203.0.113.5/30' });
    for (const [at, name] of ['H1', 'H2'].entries()) {
      sheet
        .device(name, 'border-router', { g0: '192.168.1.1/24', g1: `203.0.113.${2 + 4 * at}/30` })
        .host(`PC${at + 1}`, '192.168.1.10/24', '192.168.1.1')
        .cable(`${name} g0`, `PC${at + 1} e0`, 'crossover')
        .cable(`${name} g1`, `ISP g${at}`, 'crossover');
      if (!translated) continue;
      const device = sheet.topology.devices[name]!;
      device.settings = { nat: [{ kind: 'overload' }] };
      device.interfaces!.g0!.natSide = 'inside';
      device.interfaces!.g1!.natSide = 'outside';
    }
    return sheet.topology;
  };
  const rules: Rule[] = [
    { kind: 'uniqueAddresses', who: '@all' },
    { kind: 'noOverlap', groups: ['PC1', 'PC2'] },
    { kind: 'noProblems', what: ['addresses'] },
    { kind: 'masksAgree', who: 'PC1' },
  ];
  const earned = (drawing: Topology): number[] =>
    checkSubmission(labOf(rules, homes(true)), drawing).requirements.map(({ points }) => points);
  test('two homes behind translations of their own may use the same addresses', () => {
    expect(earned(homes(true))).toEqual([2, 2, 2, 2]);
    const other = homes(true);
    other.devices.PC2!.interfaces!.e0!.v4!.addresses = ['192.168.1.10/25'];
    expect(earned(other)[3]).toBe(2);
  });
  test('without translation they are the same addresses', () =>
    expect(
      earned(homes(false))
        .slice(0, 3)
        .every((each) => each < 2),
    ).toBe(true));
  test('behind one translation they are there twice', () => {
    const drawing = homes(true);
    drawing.devices.X = structuredClone(drawing.devices.PC1!);
    drawing.devices.X.name = 'X';
    drawing.devices.H1!.interfaces!.g2 = {
      on: { kind: 'port', port: 'g2' },
      v4: { addresses: ['192.168.2.1/24'] },
      natSide: 'inside',
    };
    drawing.links.x = { a: { device: 'H1', port: 'g2' }, b: { device: 'X', port: 'e0' }, medium: 'crossover' };
    expect(earned(drawing)[0]).toBeLessThan(2);
  });
});

describe('what is left to chance', () => {
  /** A second device with the address of host B, so that either may answer. */
  const doubled = (): Topology => {
    const sheet = new Sheet();
    Object.assign(sheet.topology, twoLans());
    return sheet.device('X', 'laptop', { e0: '10.84.2.11/24' }).cable('SB p5', 'X e0').topology;
  };
  test.each<[string, Rule]>([
    ['reach', { kind: 'reach', from: 'A', to: 'B' }],
    ['what is turned round', { kind: 'not', rule: { kind: 'reach', from: 'A', to: 'B' } }],
  ])('is proposed as lost, and waits for a person: %s', (_what, rule) => {
    const { verdict, points, items } = only(rule, doubled());
    expect([verdict, points]).toEqual(['unjudged', 0]);
    expect(items.filter((item) => item.met === null)).toEqual([
      expect.objectContaining({ code: 'DUPLICATE_ADDRESS', proposed: 'lost' }),
    ]);
  });
  test('earns no separation either', () =>
    expect(only({ kind: 'apart', from: 'A', to: 'B', whose: 'asked' }, doubled()).points).toBe(0));
  test('what this version does not compute, and models of one’s own, are proposed as nothing', () => {
    const drawing = twoLans();
    drawing.models = { own: { ...KIT.desktop!, name: 'My desk' } };
    drawing.devices.A!.model = 'own';
    const [item] = only({ kind: 'reach', from: 'A', to: 'B' }, drawing).items;
    expect([item!.met, item!.proposed]).toEqual([null, undefined]);
  });
});

describe('what the lab does not give is told at the check, wherever it was drawn', () => {
  const told = (lab: LabFile, drawing: Topology): string[] =>
    (checkSubmission(lab, drawing).remarks ?? []).map(({ text }) => text);
  test('more of a model than the kit has, and what it has not', () => {
    const lab: LabFile = {
      ...labOf([{ kind: 'private', who: 'both' }]),
      policy: { kit: { 'border-router': {}, 'access-switch-12': { most: 1 } } },
    };
    expect(told(lab, twoLans())).toEqual([
      "The lab's kit has no “Desktop”; 2 of it are drawn.",
      "The lab's kit has 1 of “Access switch 12 + 4”; 2 are drawn.",
    ]);
    expect(told({ ...lab, policy: {} }, twoLans())).toEqual([]);
  });
  test('locked parts of the starter that were changed or removed; where they stand may be', () => {
    const starter: Topology = { ...twoLans(), locked: ['R', 'A', Object.keys(twoLans().links)[0]!] };
    const lab: LabFile = { ...labOf([{ kind: 'private', who: 'both' }]), starter };
    const moved = changed(starter, ({ devices }) => void (devices.A!.at = { x: 500, y: 9 }));
    expect(told(lab, moved)).toEqual([]);
    const other = changed(starter, (topology) => {
      topology.devices.R!.settings = { forwarding: { v4: false } };
      delete topology.devices.A;
      topology.links = {};
    });
    expect(told(lab, other)).toEqual([
      'A came with the starter and was not to be changed, but is gone.',
      'R came with the starter and was not to be changed, but was.',
      'The link R g0 – SA u1 came with the starter and was not to be changed, but is gone.',
    ]);
  });
});

describe('evidence stands at the place of the fault, not at who suffers', () => {
  const lab = demoLab('winch-isolation');
  const placesOf = (change: (topology: Topology) => void, rule: Rule) =>
    checkSubmission({ ...lab, spec: labOf([rule], lab.reference).spec }, changed(lab.reference, change))
      .requirements[0]!.items.filter(({ met }) => met !== true)
      .map(({ places }) => places[0]);
  test('translation that is missing: the router that lets private addresses out', () => {
    const { items } = checkSubmission(
      { ...lab, spec: labOf([{ kind: 'reach', from: 'OFFICE-1', to: 'NEWS' }], lab.reference).spec },
      changed(lab.reference, ({ devices }) => void delete devices.RT!.settings!.nat),
    ).requirements[0]!;
    expect([items[0]!.places[0], items[0]!.text]).toEqual([
      { device: 'RT', port: 'g0' },
      expect.stringMatching(/RT-M sends it out under its private address\.$/),
    ]);
  });
  test('leases that nobody gives: the server on the wire, or the router that asks nobody', () => {
    const lease: Rule = { kind: 'lease', who: 'GUEST-1' };
    const pools = [{ network: '10.84.99.0/24' }];
    expect(placesOf(({ devices }) => void (devices.RT!.settings!.dhcpPools = pools), lease)).toEqual([
      { device: 'RT' },
    ]);
    expect(placesOf(({ devices }) => void delete devices.RT!.settings!.dhcpPools, lease)).toEqual([
      { device: 'RT', port: 'g1.30' },
    ]);
    expect(
      placesOf(({ devices }) => void delete devices.RT!.settings!.dhcpPools, { kind: 'private', who: 'GUEST-1' }),
    ).toEqual([{ device: 'RT', port: 'g1.30' }]);
    expect(
      placesOf(({ devices }) => void delete devices.RT!.settings!.dhcpPools, {
        kind: 'reach',
        from: 'NEWS',
        to: 'GUEST-1',
        family: '4',
      }),
    ).toEqual([{ device: 'RT', port: 'g1.30' }]);
  });
});

test('among many as among few, who reaches nobody is lost, and the others are not', () => {
  const sheet = new Sheet().device('S1', 'access-switch-44').device('S2', 'access-switch-44');
  for (let at = 1; at <= 24; at++) sheet.host(`H${at}`, `10.84.1.${at}/24`).cable(`S1 p${at}`, `H${at} e0`);
  const lab = labOf([{ kind: 'within', who: '@hosts' }], sheet.topology, 'share');
  const judge = (drawing: Topology) =>
    checkSubmission(lab, drawing).requirements[0]!.items.filter(({ met }) => met !== true).length;
  expect(judge(sheet.topology)).toBe(0);
  const cut = structuredClone(sheet.topology);
  cut.devices.S1!.powered = false;
  // Of those who reach nobody each is to blame but the last, who would reach it.
  expect(judge(cut)).toBeGreaterThanOrEqual(23);
  const one = structuredClone(sheet.topology);
  one.devices.H7!.interfaces!.e0!.v4!.addresses = ['10.84.9.7/24'];
  expect(judge(one)).toBe(1);
});
