import { formatAddress, formatInterfaceAddress } from '../../address';
import { Sheet } from '../../tests/topologies';
import { type Settings, type Topology } from '../../topology';
import { analyse, macOf, problemsOf } from '..';

type Pool = NonNullable<Settings['dhcpPools']>[number];
const pool = (network: string, more: Partial<Pool> = {}): Pool => ({ network, ...more });
const client = { interfaces: { e0: { on: { kind: 'port' as const, port: 'e0' }, v4: { dhcp: true } } } };

/** A switch with a router that gives addresses, and clients. */
function lan(dhcpPools: Pool[], ...clients: string[]): Topology {
  const sheet = new Sheet()
    .device('R', 'border-router', { g0: '10.84.1.1/24' }, { settings: { dhcpPools } })
    .device('S', 'access-switch-12')
    .cable('R g0', 'S u1');
  for (const [at, id] of clients.entries()) sheet.device(id, 'desktop', {}, client).cable(`S p${at + 1}`, `${id} e0`);
  return sheet.topology;
}
/** What each client was given, as "address via router". */
const given = (topology: Topology): Record<string, string> =>
  Object.fromEntries(
    [...analyse(topology).layer3.leases].map(([key, { address, router }]): [string, string] => [
      key.split(' ')[0]!,
      `${formatInterfaceAddress(address)} via ${router ? formatAddress(router) : 'nobody'}`,
    ]),
  );

describe('a server on the wire (RFC 2131)', () => {
  test('gives one address after the other, neither its own nor the router’s', () => {
    expect(given(lan([pool('10.84.1.0/24', { router: '10.84.1.1' })], 'A', 'B'))).toEqual({
      A: '10.84.1.2/24 via 10.84.1.1',
      B: '10.84.1.3/24 via 10.84.1.1',
    });
  });
  test('takes ranges, exclusions, reservations and typed addresses into account', () => {
    const topology = lan(
      [
        pool('10.84.1.0/24', {
          ranges: [{ from: '10.84.1.10', to: '10.84.1.14' }],
          exclusions: [{ from: '10.84.1.10', to: '10.84.1.11' }],
          reservations: [{ mac: macOf('B', 'e0'), address: '10.84.1.13' }],
        }),
      ],
      'A',
      'B',
      'C',
    );
    topology.devices.T = {
      name: 'T',
      model: 'desktop',
      at: { x: 0, y: 0 },
      interfaces: { e0: { on: { kind: 'port', port: 'e0' }, v4: { addresses: ['10.84.1.12/24'] } } },
    };
    topology.links.t = { a: { device: 'S', port: 'p9' }, b: { device: 'T', port: 'e0' }, medium: 'straight' };
    expect(given(topology)).toEqual({ A: '10.84.1.14/24 via nobody', B: '10.84.1.13/24 via nobody' });
  });
  test('an exhausted pool gives nothing more', () => {
    const small = pool('10.84.1.0/24', { ranges: [{ from: '10.84.1.10', to: '10.84.1.10' }] });
    expect(Object.keys(given(lan([small], 'A', 'B')))).toEqual(['A']);
  });
  test('what was leased reaches its neighbours, and others through the router that was told', () => {
    const topology = lan([pool('10.84.1.0/24', { router: '10.84.1.1' })], 'A', 'B');
    topology.devices.R!.interfaces!.g1 = { on: { kind: 'port', port: 'g1' }, v4: { addresses: ['10.84.2.1/24'] } };
    topology.devices.X = {
      name: 'X',
      model: 'desktop',
      at: { x: 0, y: 0 },
      interfaces: { e0: { on: { kind: 'port', port: 'e0' }, v4: { addresses: ['10.84.2.11/24'] } } },
      settings: { gateway4: '10.84.2.1' },
    };
    topology.links.x = { a: { device: 'R', port: 'g1' }, b: { device: 'X', port: 'e0' }, medium: 'crossover' };
    const { reach } = analyse(topology);
    for (const target of reach.targets().filter((target) => target.device !== 'A'))
      expect([target.device, reach.ask('A', target).answer]).toEqual([target.device, 'yes']);
  });
  test('another VLAN, a filter or a broken cable leaves clients without', () => {
    const cut: [string, (topology: Topology) => void][] = [
      [
        'VLAN',
        (topology) =>
          void (topology.devices.S!.ports = { p1: { role: { kind: 'switched', mode: 'access', accessVlan: 20 } } }),
      ],
      ['cable', (topology) => void (topology.links['S-p1-A-e0']!.broken = true)],
      [
        'filter',
        (topology) => {
          topology.devices.R!.settings!.filters = {
            f: { family: 4, rules: [{ action: 'permit', proto: 'tcp', src: { kind: 'any' }, dst: { kind: 'any' } }] },
          };
          topology.devices.R!.interfaces!.g0!.filterIn4 = 'f';
        },
      ],
    ];
    for (const [what, change] of cut) {
      const topology = lan([pool('10.84.1.0/24')], 'A');
      change(topology);
      expect([what, given(topology)]).toEqual([what, {}]);
    }
  });
  test('of two servers it is not certain who is taken', () => {
    const topology = lan([pool('10.84.1.0/24', { ranges: [{ from: '10.84.1.10', to: '10.84.1.20' }] })], 'A', 'B');
    topology.devices.Z = {
      name: 'Z',
      model: 'server',
      at: { x: 0, y: 0 },
      interfaces: { e0: { on: { kind: 'port', port: 'e0' }, v4: { addresses: ['10.84.1.5/24'] } } },
      settings: { dhcpPools: [pool('10.84.1.0/24', { ranges: [{ from: '10.84.1.30', to: '10.84.1.40' }] })] },
    };
    topology.links.z = { a: { device: 'S', port: 'p9' }, b: { device: 'Z', port: 'e0' }, medium: 'straight' };
    const { reach } = analyse(topology);
    const target = reach.targets().find((target) => target.device === 'R')!;
    expect(reach.ask('A', target)).toMatchObject({ answer: 'uncertain', reason: { code: 'DHCP_TWICE' } });
  });
});

describe('a relay', () => {
  /** Clients behind R; the server V elsewhere knows a way back, or does not. */
  function relayed(back: boolean): Topology {
    const topology = lan([], 'A');
    const R = topology.devices.R!;
    delete R.settings;
    R.interfaces!.g0!.relays = ['10.84.9.5'];
    R.interfaces!.g1 = { on: { kind: 'port', port: 'g1' }, v4: { addresses: ['10.84.9.1/24'] } };
    topology.devices.V = {
      name: 'V',
      model: 'server',
      at: { x: 0, y: 0 },
      interfaces: { e0: { on: { kind: 'port', port: 'e0' }, v4: { addresses: ['10.84.9.5/24'] } } },
      settings: {
        ...(back && { gateway4: '10.84.9.1' }),
        dhcpPools: [pool('10.84.9.0/24'), pool('10.84.1.0/24', { router: '10.84.1.1' })],
      },
    };
    topology.links.v = { a: { device: 'R', port: 'g1' }, b: { device: 'V', port: 'e0' }, medium: 'crossover' };
    return topology;
  }
  test('asks a server elsewhere, which gives from the pool of the relay’s subnet', () =>
    expect(given(relayed(true))).toEqual({ A: '10.84.1.2/24 via 10.84.1.1' }));
  test('a server that does not find back to the relay gives nothing', () => expect(given(relayed(false))).toEqual({}));
});

test('a client that was told a way out is not said to have none', () => {
  const between = (pool: object) =>
    new Sheet()
      .device(
        'R',
        'border-router',
        { g0: '10.84.1.1/24', g1: '10.84.2.1/24' },
        { settings: { dhcpPools: [{ network: '10.84.1.0/24', ...pool }] } },
      )
      .device('A', 'desktop', {}, client)
      .host('B', '10.84.2.11/24', '10.84.2.1')
      .cable('R g0', 'A e0', 'crossover')
      .cable('R g1', 'B e0', 'crossover').topology;
  const codes = (pool: object): string[] => problemsOf(analyse(between(pool))).map((problem) => problem.code);
  expect(codes({ router: '10.84.1.1' })).not.toContain('NO_GATEWAY');
  expect(codes({})).toContain('NO_GATEWAY');
});

test('500 servers and 500 clients on one wire: what is out goes to the next server, each address once, and a client that serves does not serve itself', () => {
  const sheet = new Sheet();
  for (let at = 0; at < 90; at++) {
    sheet.device(`S${at}`, 'access-switch-12');
    if (at) sheet.cable(`S${at - 1} u1`, `S${at} u2`, 'crossover');
  }
  const port = (at: number): string => `S${Math.floor(at / 12)} p${(at % 12) + 1}`;
  for (let at = 0; at < 500; at++) {
    const [from, to] = [`10.84.${at >> 6}.${(at & 63) * 4}`, `10.84.${at >> 6}.${(at & 63) * 4 + 1}`];
    sheet
      .device(`D${at}`, 'server', { e0: `10.84.100.${(at % 200) + 1}/16` })
      .cable(port(2 * at), `D${at} e0`)
      .device(`C${at}`, 'desktop', {}, client)
      .cable(port(2 * at + 1), `C${at} e0`);
    sheet.topology.devices[`D${at}`]!.settings = { dhcpPools: [pool('10.84.0.0/16', { ranges: [{ from, to }] })] };
  }
  sheet.topology.devices.C0!.settings = { dhcpPools: [pool('10.84.0.0/16')] };
  const { leases } = analyse(sheet.topology).layer3;
  expect(leases.size).toBe(500);
  expect(new Set([...leases.values()].map(({ address }) => formatInterfaceAddress(address))).size).toBe(500);
  expect([...leases.values()].every(({ rivals, server, client: { device } }) => rivals && server !== device)).toBe(
    true,
  );
});
