import { type Topology } from '../../topology';
import { Sheet } from '../../tests/topologies';
import { analyse } from '..';

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
  test.each([10, 100])(
    'a fixed speed of %s Mb/s against an automatic one is sensed, and leaves half duplex at one end (IEEE 802.3 28.2.3.1)',
    (speed) => {
      const state = onlyLink(
        pair(
          'border-router g0',
          'access-switch-12 u1',
          'straight',
          {},
          { a: { ports: { g0: { speed, duplex: 'full' } } } },
        ),
      );
      expect([state.up, state.speedMbps, state.warnings.map((warning) => warning.code)]).toEqual([
        true,
        speed,
        ['DUPLEX_DIFFERS'],
      ]);
    },
  );
  test.each<[string, Topology]>([
    [
      'copper (40.5.1)',
      pair('border-router g0', 'access-switch-12 u1', 'straight', {}, { b: { ports: { u1: { speed: 1000 } } } }),
    ],
    [
      'fibre (clause 37)',
      pair('border-router f1', 'border-router f1', 'sm-fibre', {}, { a: { ports: { f1: { speed: 1000 } } } }),
    ],
  ])(
    'at 1000 Mb/s %s needs negotiation at both ends: a fixed speed against an automatic one is no link',
    (_what, topology) => {
      expect([onlyLink(topology).up, onlyLink(topology).reason?.code]).toEqual([false, 'NO_NEGOTIATION']);
      // Both fixed alike is what both offer.
      const both = structuredClone(topology);
      for (const { a, b } of Object.values(both.links))
        for (const end of [a, b]) both.devices[end.device]!.ports = { [end.port]: { speed: 1000 } };
      expect(onlyLink(both).up).toBe(true);
    },
  );
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
