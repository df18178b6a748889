import { parseAddress } from '../../address';
import { type Topology } from '../../topology';
import { Sheet, twoLans } from '../../tests/topologies';
import { type NetworkModel, type Trace, analyse, complaints, whoStops } from '..';

const at = (text: string) => {
  const read = parseAddress(text);
  if (!read.ok) throw new Error(read.error.text);
  return read.value;
};
const ask = (model: NetworkModel, from: string, device: string, text: string): Trace =>
  model.reach.ask(from, { device, address: at(text) });

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
