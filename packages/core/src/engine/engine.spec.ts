import fc from 'fast-check';
import { parseAddress } from '../address';
import { type Topology } from '../topology';
import { Sheet, readJson, twoLans } from '../tests/topologies';
import { runs } from '../tests/runs';
import { type NetworkModel, type Trace, analyse, complaints, problemsOf, whoStops } from '.';

const at = (text: string) => {
  const read = parseAddress(text);
  if (!read.ok) throw new Error(read.error.text);
  return read.value;
};
const ask = (model: NetworkModel, from: string, device: string, text: string): Trace =>
  model.reach.ask(from, { device, address: at(text) });
const onlyLink = (topology: Topology, options = {}) => [...analyse(topology, options).layer1.links.values()][0]!;

describe('physical: cables between two ports', () => {
  const pair = (
    a: string,
    b: string,
    medium: Parameters<Sheet['cable']>[2],
    more = {},
    ends: { a?: object; b?: object } = {},
  ) =>
    new Sheet()
      .device('A', a.split(' ')[0]!, {}, { powered: true, ...ends.a })
      .device('B', b.split(' ')[0]!, {}, { powered: true, ...ends.b })
      .cable(`A ${a.split(' ')[1]}`, `B ${b.split(' ')[1]}`, medium, more).topology;

  test.each<[string, Topology, string | null]>([
    ['host and switch take a straight cable', pair('desktop e0', 'access-switch-12 p1', 'straight'), null],
    [
      'host and switch do not take a crossover cable',
      pair('desktop e0', 'access-switch-12 p1', 'crossover'),
      'WRONG_PAIRING',
    ],
    ['two hosts need a crossover cable', pair('desktop e0', 'desktop e0', 'straight'), 'WRONG_PAIRING'],
    ['two hosts with a crossover cable', pair('desktop e0', 'desktop e0', 'crossover'), null],
    [
      'two slow switch ports need a crossover cable',
      pair('access-switch-12 p1', 'access-switch-12 p2', 'straight'),
      'WRONG_PAIRING',
    ],
    ['gigabit ports find the pairing themselves', pair('access-switch-12 u1', 'access-switch-12 u1', 'straight'), null],
    [
      'fibre does not fit a copper port',
      pair('border-router g0', 'access-switch-12 u1', 'sm-fibre'),
      'CONNECTOR_MISMATCH',
    ],
    [
      'multi-mode fibre does not fit a single-mode port',
      pair('border-router f1', 'border-router f1', 'mm-fibre'),
      'FIBRE_MISMATCH',
    ],
    ['a rollover cable carries no frames', pair('laptop con', 'border-router con', 'rollover'), 'CONSOLE_CABLE'],
    ['copper reaches 100 m', pair('desktop e0', 'access-switch-12 p1', 'straight', { lengthM: 100 }), null],
    ['and not more', pair('desktop e0', 'access-switch-12 p1', 'straight', { lengthM: 101 }), 'CABLE_TOO_LONG'],
    ['a broken cable', pair('desktop e0', 'access-switch-12 p1', 'straight', { broken: true }), 'CABLE_BROKEN'],
    [
      'a port that is off',
      pair('desktop e0', 'access-switch-12 p1', 'straight', {}, { b: { ports: { p1: { enabled: false } } } }),
      'PORT_OFF',
    ],
    [
      'speeds that do not meet',
      pair(
        'desktop e0',
        'access-switch-12 p1',
        'straight',
        {},
        { a: { ports: { e0: { speed: 10 } } }, b: { ports: { p1: { speed: 100 } } } },
      ),
      'NO_COMMON_SPEED',
    ],
    [
      'a device without power',
      pair('desktop e0', 'access-switch-12 p1', 'straight', {}, { b: { powered: false } }),
      'NO_POWER',
    ],
    ['serial without a clock', pair('wan-cloud s0', 'wan-cloud s1', 'serial'), 'NO_CLOCK'],
    [
      'serial with one clock',
      pair('wan-cloud s0', 'wan-cloud s1', 'serial', {}, { a: { ports: { s0: { clockEnd: true } } } }),
      null,
    ],
    [
      'serial with two clocks',
      pair(
        'wan-cloud s0',
        'wan-cloud s1',
        'serial',
        {},
        { a: { ports: { s0: { clockEnd: true } } }, b: { ports: { s1: { clockEnd: true } } } },
      ),
      'TWO_CLOCKS',
    ],
    [
      'radios of different networks',
      pair(
        'access-point w0',
        'tablet w0',
        'wireless',
        {},
        {
          a: { ports: { w0: { radio: { ssid: 'hut', security: 'wpa2', key: 'k' } } } },
          b: { ports: { w0: { radio: { ssid: 'hut', security: 'wpa2', key: 'q' } } } },
        },
      ),
      'RADIO_MISMATCH',
    ],
    [
      'radios of one network',
      pair(
        'access-point w0',
        'tablet w0',
        'wireless',
        {},
        {
          a: { ports: { w0: { radio: { ssid: 'hut', security: 'wpa2', key: 'k' } } } },
          b: { ports: { w0: { radio: { ssid: 'hut', security: 'wpa2', key: 'k' } } } },
        },
      ),
      null,
    ],
  ])('%s', (_what, topology, code) => {
    const state = onlyLink(topology);
    expect(state.reason?.code ?? null).toBe(code);
    expect(state.up).toBe(code === null);
  });

  test('a lab may switch off automatic pairing, as in older kit', () =>
    expect(
      onlyLink(pair('border-router g0', 'border-router g1', 'straight'), { autoPairing: false }).reason?.code,
    ).toBe('WRONG_PAIRING'));
  test('the speed is the highest that both ends know', () =>
    expect([
      onlyLink(pair('server e0', 'access-switch-12 u1', 'straight')).speedMbps,
      onlyLink(pair('server e0', 'access-switch-12 p1', 'straight')).speedMbps,
    ]).toEqual([1000, 100]));
  test('a fixed speed against an automatic one leaves half duplex at one end (IEEE 802.3 clause 28)', () => {
    const state = onlyLink(
      pair(
        'border-router g0',
        'access-switch-12 u1',
        'straight',
        {},
        { a: { ports: { g0: { speed: 1000, duplex: 'full' } } } },
      ),
    );
    expect([state.up, state.warnings.map((warning) => warning.code)]).toEqual([true, ['DUPLEX_DIFFERS']]);
  });
  test('a port with two cables passes nothing on either', () => {
    const topology = new Sheet()
      .device('S', 'access-switch-12')
      .host('A', '10.0.0.1/24')
      .host('B', '10.0.0.2/24')
      .cable('S p1', 'A e0')
      .cable('S p1', 'B e0').topology;
    expect([...analyse(topology).layer1.links.values()].map((link) => link.reason?.code)).toEqual([
      'PORT_TAKEN_TWICE',
      'PORT_TAKEN_TWICE',
    ]);
  });
  test('a camera is fed by a switch port, not by a router, unless it has a supply of its own', () => {
    const fed = (model: string, port: string, more = {}) =>
      analyse(
        new Sheet().device('X', model).device('C', 'camera', {}, more).cable(`X ${port}`, 'C e0').topology,
      ).layer1.unpowered.has('C');
    expect([
      fed('access-switch-12', 'p1'),
      fed('border-router', 'g0'),
      fed('border-router', 'g0', { powered: true }),
    ]).toEqual([false, true, false]);
  });
  test('a switch feeds its first ports until its budget is spent (IEEE 802.3 clause 33); whoever has a supply takes none', () => {
    const sheet = new Sheet().device('S', 'access-switch-12');
    // Eight cameras of 15.4 W are more than the 120 W of the switch: seven are fed.
    for (let nth = 1; nth <= 8; nth++) sheet.device(`C${nth}`, 'camera').cable(`C${nth} e0`, `S p${nth}`);
    const dark = (topology: Topology) => [...analyse(topology).layer1.unpowered];
    expect(dark(sheet.topology)).toEqual([
      [
        'C8',
        expect.objectContaining({ text: expect.stringMatching(/^C8 gets no power: S feeds 120 W in all/) as string }),
      ],
    ]);
    sheet.topology.devices.C1!.powered = true;
    expect(dark(sheet.topology)).toEqual([]);
    // Telephones take less: twelve of 7 W are fed.
    const office = new Sheet().device('S', 'access-switch-12');
    for (let nth = 1; nth <= 12; nth++) office.device(`P${nth}`, 'phone').cable(`P${nth} e0`, `S p${nth}`);
    expect(dark(office.topology)).toEqual([]);
  });
});

describe('network: reasons where a packet ends', () => {
  const changed = (change: (topology: Topology) => void): NetworkModel => {
    const topology = twoLans();
    change(topology);
    return analyse(topology);
  };
  const setAddress = (topology: Topology, device: string, text: string): void =>
    void (topology.devices[device]!.interfaces!.e0!.v4 = { addresses: [text] });

  test('there and back over a router, with the way told hop by hop', () => {
    const trace = ask(analyse(twoLans()), 'A', 'B', '10.84.2.11');
    expect(trace.answer).toBe('yes');
    expect(trace.request.hops.map((hop) => hop.device)).toEqual(['A', 'R', 'B']);
    expect(trace.request.hops[0]!.frames).toEqual([
      { kind: 'link', link: 'SA-p1-A-e0', tag: 0 },
      { kind: 'bridge', device: 'SA', vlan: 1 },
      { kind: 'link', link: 'R-g0-SA-u1', tag: 0 },
    ]);
    expect(trace.reply!.hops.map((hop) => hop.device)).toEqual(['B', 'R', 'A']);
  });

  test.each<[string, (topology: Topology) => void, string, 'request' | 'reply', string]>([
    ['no gateway', (topology) => void delete topology.devices.A!.settings, 'NO_GATEWAY', 'request', 'A'],
    [
      'gateway outside the subnet',
      (topology) => void (topology.devices.A!.settings = { gateway4: '10.84.2.1' }),
      'GATEWAY_OUTSIDE',
      'request',
      'A',
    ],
    [
      'gateway that nobody has',
      (topology) => void (topology.devices.A!.settings = { gateway4: '10.84.1.9' }),
      'NEXT_HOP_UNREACHABLE',
      'request',
      'A',
    ],
    [
      'gateway missing at the other side',
      (topology) => void delete topology.devices.B!.settings,
      'NO_GATEWAY',
      'reply',
      'B',
    ],
    [
      'a stray space in the address',
      (topology) => setAddress(topology, 'A', '10.84.1. 11/24'),
      'NO_ADDRESS',
      'request',
      'A',
    ],
    [
      'forwarding off',
      (topology) => void (topology.devices.R!.settings = { forwarding: { v4: false } }),
      'NOT_FORWARDING',
      'request',
      'R',
    ],
    [
      'interface of the router off',
      (topology) => void (topology.devices.R!.interfaces!.g1!.enabled = false),
      'NO_ROUTE',
      'request',
      'R',
    ],
    [
      'null route',
      (topology) => void (topology.devices.R!.settings = { routes: [{ prefix: '10.84.2.8/29' }] }),
      'NULL_ROUTE',
      'request',
      'R',
    ],
    [
      'access VLAN wrong on one port',
      (topology) =>
        void (topology.devices.SB!.ports = { p1: { role: { kind: 'switched', mode: 'access', accessVlan: 30 } } }),
      'NO_ANSWER',
      'request',
      'R',
    ],
    [
      'too short a mask: the target looks local',
      (topology) => setAddress(topology, 'A', '10.84.1.11/16'),
      'NO_ANSWER',
      'request',
      'A',
    ],
  ])('%s', (_what, change, code, direction, device) => {
    const trace = ask(changed(change), 'A', 'B', '10.84.2.11');
    expect([trace.answer, trace.reason?.code, trace.direction, trace.reason?.at.device]).toEqual([
      'no',
      code,
      direction,
      device,
    ]);
    expect(trace.reason!.text).toMatch(/^[A-Z0-9].*\.$/);
  });

  test('a broadcast address is nobody', () =>
    expect(
      ask(
        changed((topology) => setAddress(topology, 'B', '10.84.2.255/24')),
        'A',
        'B',
        '10.84.2.255',
      ).reason?.code,
    ).toBe('BROADCAST_ADDRESS'));
  test('an address used twice is uncertain, not a guess', () => {
    const topology = twoLans();
    topology.devices.C = { ...topology.devices.B!, name: 'C' };
    topology.links.c = { a: { device: 'SB', port: 'p2' }, b: { device: 'C', port: 'e0' }, medium: 'straight' };
    const trace = ask(analyse(topology), 'A', 'B', '10.84.2.11');
    expect([trace.answer, trace.reason?.code]).toEqual(['uncertain', 'DUPLICATE_ADDRESS']);
  });
  test('two routers that send a packet to one another end it, and the 64th that has it tells the sender', () => {
    const topology = new Sheet()
      .device(
        'R1',
        'border-router',
        { g0: '10.0.0.1/30', g1: '10.1.0.1/24' },
        { settings: { routes: [{ prefix: '10.9.0.0/16', via: '10.0.0.2' }] } },
      )
      .device(
        'R2',
        'border-router',
        { g0: '10.0.0.2/30' },
        { settings: { routes: [{ prefix: '0.0.0.0/0', via: '10.0.0.1' }] } },
      )
      .host('A', '10.1.0.2/24', '10.1.0.1')
      .device('B', 'desktop', { e0: '10.9.0.9/16' })
      .cable('R1 g0', 'R2 g0')
      .cable('R1 g1', 'A e0').topology;
    const found = ask(analyse(topology), 'A', 'B', '10.9.0.9');
    expect(found.reason?.code).toBe('ROUTE_LOOP');
    // R1 is the first, R2 the second, and so every even one.
    expect(whoStops(found.request)).toBe('R2');
    expect(complaints(analyse(topology), found).map((complaint) => complaint.hops.map(({ device }) => device))).toEqual(
      [['R2', 'R1', 'A']],
    );
  });
  test('a floating static route takes over when the better one has lost its next hop', () => {
    const build = (broken: boolean) =>
      analyse(
        new Sheet()
          .device(
            'R',
            'border-router',
            { g0: '10.0.0.1/30', g1: '10.0.1.1/30', g2: '10.1.0.1/24' },
            {
              settings: {
                routes: [
                  { prefix: '10.2.0.0/24', via: '10.0.0.2' },
                  { prefix: '10.2.0.0/24', via: '10.0.1.2', distance: 50 },
                ],
              },
            },
          )
          .device(
            'X',
            'border-router',
            { g0: '10.0.0.2/30', g1: '10.0.1.2/30', g2: '10.2.0.1/24' },
            {
              settings: {
                routes: [
                  { prefix: '10.1.0.0/24', via: '10.0.0.1' },
                  { prefix: '10.1.0.0/24', via: '10.0.1.1', distance: 50 },
                ],
              },
            },
          )
          .host('A', '10.1.0.2/24', '10.1.0.1')
          .host('B', '10.2.0.2/24', '10.2.0.1')
          .cable('R g0', 'X g0', 'straight', broken ? { broken: true } : {})
          .cable('R g1', 'X g1')
          .cable('R g2', 'A e0')
          .cable('X g2', 'B e0').topology,
      );
    const via = (model: NetworkModel) => ask(model, 'A', 'B', '10.2.0.2').request.hops.map((hop) => hop.out);
    expect([via(build(false)), via(build(true))]).toEqual([
      ['e0', 'g0', 'g2', null],
      ['e0', 'g1', 'g2', null],
    ]);
  });
  test('hosts of a tile are devices of their own', () => {
    const topology = new Sheet()
      .device('S', 'access-switch-12')
      .host('A', '10.0.0.1/24')
      .cable('S p1', 'A e0').topology;
    topology.devices.T = {
      name: 'T',
      model: 'turnstile',
      at: { x: 0, y: 0 },
      members: Object.fromEntries(
        [2, 3].map((n) => [
          `m${n}`,
          { interfaces: { e0: { on: { kind: 'port', port: 'e0' }, v4: { addresses: [`10.0.0.${n}/24`] } } } },
        ]),
      ),
    };
    for (const n of [2, 3])
      topology.links[`t${n}`] = {
        a: { device: 'S', port: `p${n}` },
        b: { device: 'T', member: `m${n}`, port: 'e0' },
        medium: 'straight',
      };
    expect(ask(analyse(topology), 'A', 'T/m3', '10.0.0.3').answer).toBe('yes');
  });
});

describe('data link', () => {
  const vlanPair = (trunk: { a: object; b: object }, options = {}, vlans?: Record<string, string>) => {
    const access = { p1: { role: { kind: 'switched' as const, mode: 'access' as const, accessVlan: 10 } } };
    const side = (port: object) => ({
      ports: { ...access, u1: { role: { kind: 'switched' as const, mode: 'trunk' as const, ...port } } },
      ...(vlans && { settings: { vlans } }),
    });
    const topology = new Sheet()
      .device('S1', 'access-switch-12', {}, side(trunk.a))
      .device('S2', 'access-switch-12', {}, side(trunk.b))
      .host('A', '10.0.0.1/24')
      .host('B', '10.0.0.2/24')
      .cable('S1 u1', 'S2 u1')
      .cable('S1 p1', 'A e0')
      .cable('S2 p1', 'B e0').topology;
    return analyse(topology, options);
  };
  test('a trunk carries what both ends allow', () => {
    expect(ask(vlanPair({ a: {}, b: { allowed: [10, 20] } }), 'A', 'B', '10.0.0.2').answer).toBe('yes');
    expect(ask(vlanPair({ a: {}, b: { allowed: [20] } }), 'A', 'B', '10.0.0.2').answer).toBe('no');
  });
  test('differing native VLANs are reported, and the VLAN works one way only', () => {
    const model = vlanPair({ a: { native: 10 }, b: { native: 99 } });
    expect(model.layer2.warnings.map((warning) => warning.code)).toEqual(['NATIVE_MISMATCH']);
    expect(ask(model, 'A', 'B', '10.0.0.2').answer).toBe('no');
  });
  test('where VLANs must be created, a switch without the VLAN does not pass it', () => {
    expect(ask(vlanPair({ a: {}, b: {} }, { vlanPolicy: 'created' }), 'A', 'B', '10.0.0.2').answer).toBe('no');
    expect(
      ask(vlanPair({ a: {}, b: {} }, { vlanPolicy: 'created' }, { 10: 'tickets' }), 'A', 'B', '10.0.0.2').answer,
    ).toBe('yes');
  });
  test('a loop is harmless with a spanning tree and a storm without', () => {
    const looped = (on: boolean) => {
      const settings = { settings: { spanningTree: { on } } };
      return analyse(
        new Sheet()
          .device('S1', 'access-switch-12', {}, settings)
          .device('S2', 'access-switch-12', {}, settings)
          .host('A', '10.0.0.1/24')
          .host('B', '10.0.0.2/24')
          .cable('S1 u1', 'S2 u1')
          .cable('S1 u2', 'S2 u2')
          .cable('S1 p1', 'A e0')
          .cable('S2 p1', 'B e0').topology,
      );
    };
    expect(ask(looped(true), 'A', 'B', '10.0.0.2').answer).toBe('yes');
    expect(ask(looped(false), 'A', 'B', '10.0.0.2')).toMatchObject({ answer: 'uncertain', reason: { code: 'STORM' } });
    const storms = (model: NetworkModel) => problemsOf(model).filter((problem) => problem.code === 'STORM');
    expect(storms(looped(true))).toEqual([]);
    expect(storms(looped(false))).toEqual([
      {
        code: 'STORM',
        text: 'A loop closes at S2 u2, and frames circle in it without end: take a link out, or let a switch on it take part in the spanning tree.',
        at: { device: 'S2', port: 'u2' },
      },
    ]);
  });
  test('a loop of hubs is a storm even beside a switch with a spanning tree', () => {
    const sheet = new Sheet().device('H1', 'hub').device('H2', 'hub').device('S', 'access-switch-12');
    sheet.cable('H1 p1', 'H2 p1', 'crossover').cable('H1 p2', 'H2 p2', 'crossover').cable('H1 p3', 'S p1');
    expect(problemsOf(analyse(sheet.topology)).filter((problem) => problem.code === 'STORM')).toMatchObject([
      {
        text: expect.stringMatching(/^A loop closes at H\d p\d, .*hubs cannot break it: take a link out\.$/) as string,
      },
    ]);
  });
});

describe('laws', () => {
  const { reference } = readJson('demo', 'three-stations', 'lab.json') as { reference: Topology };
  const grid = (model: NetworkModel, name: (id: string) => string = (id) => id): Map<string, string> => {
    const targets = model.reach.targets();
    return new Map(
      [...model.instances.keys()].flatMap((from) =>
        targets
          .filter((target) => target.device !== from)
          .map(
            (to) =>
              [`${name(from)} ${name(to.device)} ${to.address.value}`, model.reach.ask(from, to).answer] as [
                string,
                string,
              ],
          ),
      ),
    );
  };
  const faulty = structuredClone(reference);
  faulty.devices.RTM!.settings!.routes!.pop();
  faulty.devices['TILL-1']!.interfaces!.e0!.v4!.addresses = ['10.84.9.11/16'];
  const whole = grid(analyse(faulty));

  test('every host of a sound lab reaches every other', () => {
    const isHost = (id: string): boolean => !/^(RT|SW)/.test(id);
    const between = [...grid(analyse(reference))].filter(([pair]) => pair.split(' ').slice(0, 2).every(isHost));
    expect(between).toHaveLength(30 * 29);
    expect(between.filter(([, answer]) => answer !== 'yes')).toEqual([]);
  });
  test('the order of keys changes nothing', () => {
    const turned = {
      ...faulty,
      devices: Object.fromEntries(Object.entries(faulty.devices).reverse()),
      links: Object.fromEntries(Object.entries(faulty.links).reverse()),
    };
    expect(grid(analyse(turned))).toEqual(whole);
  });
  test('renaming devices changes nothing', () => {
    const renamed = structuredClone(faulty);
    for (const device of Object.values(renamed.devices)) device.name = `x${device.name.length}`;
    expect(grid(analyse(renamed))).toEqual(whole);
  });
  test('a device that is connected to nothing changes nothing', () => {
    const more = {
      ...faulty,
      devices: { ...faulty.devices, lone: { name: 'lone', model: 'desktop', at: { x: 0, y: 0 } } },
    };
    const answers = grid(analyse(more));
    for (const [pair, answer] of whole) expect(answers.get(pair)).toBe(answer);
  });
  test('what is asked by classes equals what is asked pair by pair', () => {
    const answersOf = (topology: Topology) => {
      const [whole, single] = [analyse(topology), analyse(topology)];
      for (const from of whole.instances.keys())
        for (const to of whole.reach.targets()) {
          if (to.device === from) continue;
          const fresh = analyse(topology); // an empty memory: nothing is taken from a class
          expect([from, to.device, whole.reach.ask(from, to).answer]).toEqual([
            from,
            to.device,
            fresh.reach.ask(from, to).answer,
          ]);
        }
      return single.reach.classCount;
    };
    const small = twoLans();
    for (const n of [12, 13]) {
      small.devices[`A${n}`] = {
        ...small.devices.A!,
        name: `A${n}`,
        interfaces: { e0: { on: { kind: 'port', port: 'e0' }, v4: { addresses: [`10.84.1.${n}/24`] } } },
      };
      small.links[`a${n}`] = {
        a: { device: 'SA', port: `p${n - 8}` },
        b: { device: `A${n}`, port: 'e0' },
        medium: 'straight',
      };
    }
    expect(answersOf(small)).toBe(3); // R, three like hosts, B; nobody asks for switches without an address
  });
  test('absurd configurations end with an answer', () => {
    const text = fc.constantFrom(
      '0.0.0.0/0',
      '10.84.1.1/32',
      '255.255.255.255/32',
      '127.0.0.1/8',
      'nonsense',
      '',
      '10.84.1.11/24',
      '::/0',
      'fe80::1/64',
    );
    fc.assert(
      fc.property(fc.array(fc.tuple(text, text), { maxLength: 20 }), (rows) => {
        const topology = twoLans();
        topology.devices.R!.settings = { routes: rows.map(([prefix, via]) => ({ prefix, via: via.split('/')[0]! })) };
        topology.devices.A!.interfaces!.e0!.v4 = { addresses: rows.map(([row]) => row).slice(0, 5) };
        const model = analyse(topology);
        for (const from of model.instances.keys())
          for (const to of model.reach.targets())
            expect(['yes', 'no', 'uncertain']).toContain(model.reach.ask(from, to).answer);
      }),
      { numRuns: runs(30) },
    );
  });
});
