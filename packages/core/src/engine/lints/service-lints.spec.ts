import { Sheet, demoLab, twoLans } from '../../tests/topologies';
import { type Device, type Topology } from '../../topology';
import { type ReasonCode, analyse, problemsOf } from '..';

const problemTexts = (topology: Topology, code: ReasonCode, options = {}): string[] =>
  problemsOf(analyse(topology, options)).flatMap((problem) => (problem.code === code ? problem.text : []));
const changed = (change: (topology: Topology) => void): Topology => {
  const topology = structuredClone(twoLans());
  change(topology);
  return topology;
};
const automatic = (id: string) => (topology: Topology) => {
  topology.devices[id]!.interfaces = { e0: { on: { kind: 'port', port: 'e0' }, v4: { dhcp: true } } };
  delete topology.devices[id]!.settings;
};
const pool = (network: string, more = {}) => ({ dhcpPools: [{ network, ...more }] });

test.each(['valley-lan', 'three-stations', 'season-opening', 'winch-isolation', 'summit-dual-stack'])(
  'the reference of %s is without problems',
  (slug) => {
    expect(problemsOf(analyse(demoLab(slug).reference)).map((problem) => problem.text)).toEqual([]);
  },
);

test('a host inside with a public address is told, with what was likely meant; the provider’s may have one', () => {
  const mistyped = changed((topology) => {
    topology.devices.A!.interfaces!.e0!.v4!.addresses = ['18.84.1.11/24'];
    delete topology.devices.A!.settings;
  });
  expect(problemTexts(mistyped, 'NOT_PRIVATE')).toEqual([
    'A e0 has 18.84.1.11, which is no private address (10 meant?).',
  ]);
  mistyped.sites.p = { name: 'Provider', kind: 'provider' };
  mistyped.devices.A!.site = 'p';
  expect(problemTexts(mistyped, 'NOT_PRIVATE')).toEqual([]);
});

describe('automatic addresses', () => {
  test('a host that waits with nobody answering is told, with its companions in one sentence', () => {
    const both = changed((topology) => {
      automatic('A')(topology);
      topology.devices.A2 = { ...topology.devices.A!, name: 'A2' };
      topology.links.x = { a: { device: 'SA', port: 'p2' }, b: { device: 'A2', port: 'e0' }, medium: 'straight' };
    });
    expect(problemTexts(both, 'DHCP_NOBODY')).toEqual([
      'A, A2 wait for an address, and nobody on the wire gives one: add a DHCP pool or a relay.',
    ]);
  });
  test('a pool on the wire answers, and so does one that a relay asks', () => {
    const near = changed((topology) => {
      automatic('A')(topology);
      topology.devices.R!.settings = pool('10.84.1.0/24');
    });
    expect(problemTexts(near, 'DHCP_NOBODY')).toEqual([]);
    const far = changed((topology) => {
      automatic('A')(topology);
      topology.devices.B!.settings = { ...topology.devices.B!.settings, ...pool('10.84.1.0/24') };
    });
    expect(problemTexts(far, 'DHCP_NOBODY')).toHaveLength(1);
    far.devices.R!.interfaces!.g0!.relays = ['10.84.2.11'];
    expect(problemTexts(far, 'DHCP_NOBODY')).toEqual([]);
  });
  test('in IPv6 it is the same: nobody answers, a pool here or behind a relay does, too small a pool is told', () => {
    const six = (more: (topology: Topology) => void) =>
      changed((topology) => {
        topology.devices.A!.interfaces = { e0: { on: { kind: 'port', port: 'e0' }, v6: { dhcp: 'stateful' } } };
        topology.devices.R!.interfaces!.g0!.v6 = { addresses: ['fd84:1::1/64'] };
        more(topology);
      });
    const pool6 = { network: 'fd84:1::/64' };
    expect(
      problemTexts(
        six(() => {}),
        'DHCP_NOBODY',
      ),
    ).toEqual(['A waits for an address, and nobody on the wire gives one: add a DHCPv6 pool or a relay.']);
    const here = (settings: object) => six((topology) => void (topology.devices.R!.settings = settings));
    expect(problemTexts(here({ dhcp6Pools: [pool6] }), 'DHCP_NOBODY')).toEqual([]);
    expect(problemTexts(here({ dhcpPools: [{ network: '10.84.1.0/24' }] }), 'DHCP_NOBODY')).toHaveLength(1);
    const full = here({
      dhcp6Pools: [{ ...pool6, ranges: [{ from: 'fd84:1::5', to: 'fd84:1::5' }], router: 'fd84:1::5' }],
    });
    expect(problemTexts(full, 'POOL_TOO_SMALL')).toEqual([
      '1 host waits for an address of fd84:1::/64, the DHCPv6 pool has 0.',
    ]);
    const far = six((topology) => {
      topology.devices.R!.interfaces!.g0!.relays = ['fd84:2::b'];
      topology.devices.B!.interfaces!.e0!.v6 = { addresses: ['fd84:2::b/64'] };
      topology.devices.B!.settings = { ...topology.devices.B!.settings, dhcp6Pools: [pool6] };
    });
    expect([problemTexts(far, 'DHCP_NOBODY'), problemTexts(far, 'POOL_FOREIGN')]).toEqual([[], []]);
  });
  test('what a pool keeps for whom can be read, and lies in its subnet', () => {
    const keeping = (mac: string, address: string) =>
      changed((topology) => {
        topology.devices.R!.settings = {
          dhcpPools: [{ network: '10.84.1.0/24', reservations: [{ mac, address }] }],
        };
      });
    expect(problemTexts(keeping('02-00-5E-00-00-0A', '10.84.1.9'), 'ADDRESS_UNREADABLE')).toEqual([]);
    expect(problemTexts(keeping('A', '10.84.1.9'), 'ADDRESS_UNREADABLE')).toEqual([
      expect.stringMatching(/^R, DHCP pool: “A” is no MAC address/),
    ]);
    expect(problemTexts(keeping('02005e00000a', '10.84.9.9'), 'POOL_FOREIGN')).toEqual([
      'The DHCP pool 10.84.1.0/24 of R keeps 10.84.9.9 for 02:00:5e:00:00:0a, which is no address of its subnet.',
    ]);
  });
  test('two servers for one subnet on one wire are told', () => {
    const two = changed((topology) => {
      topology.devices.R!.settings = pool('10.84.1.0/24');
      topology.devices.A!.settings = { ...topology.devices.A!.settings, ...pool('10.84.1.0/24') };
    });
    expect(problemTexts(two, 'DHCP_TWICE')).toEqual([
      'A and R both give out addresses of 10.84.1.0/24 on one wire: leave one of them.',
    ]);
    two.devices.A!.settings = {};
    expect(problemTexts(two, 'DHCP_TWICE')).toEqual([]);
  });
  test('a pool with less room than hosts that wait is told; excluded addresses count as taken', () => {
    const small = changed((topology) => {
      automatic('A')(topology);
      topology.devices.R!.settings = pool('10.84.1.0/24', {
        ranges: [{ from: '10.84.1.10', to: '10.84.1.11' }],
        exclusions: [{ from: '10.84.1.11', to: '10.84.1.20' }],
      });
      topology.devices.A!.members = { m1: {}, m2: {} };
      topology.links['SA-p1-A-e0']!.b.member = 'm1';
      topology.links.x = {
        a: { device: 'SA', port: 'p2' },
        b: { device: 'A', member: 'm2', port: 'e0' },
        medium: 'straight',
      };
    });
    expect(problemTexts(small, 'POOL_TOO_SMALL')).toEqual([
      '2 hosts wait for an address of 10.84.1.0/24, the pool has 1.',
    ]);
    small.devices.R!.settings = pool('10.84.1.0/29');
    expect(problemTexts(small, 'POOL_TOO_SMALL')).toEqual([]);
  });
});

describe('ways', () => {
  const three = (back: boolean): Topology => {
    const route = (prefix: string, via: string) => ({ settings: { routes: [{ prefix, via }] } });
    return new Sheet()
      .device('R', 'border-router', { g0: '10.84.1.1/24', g1: '10.84.9.1/30' }, route('10.84.2.0/24', '10.84.9.2'))
      .device(
        'Q',
        'border-router',
        { g0: '10.84.2.1/24', g1: '10.84.9.2/30' },
        back ? route('10.84.1.0/24', '10.84.9.1') : {},
      )
      .host('A', '10.84.1.11/24', '10.84.1.1')
      .host('B', '10.84.2.11/24', '10.84.2.1')
      .cable('R g1', 'Q g1')
      .cable('R g0', 'A e0')
      .cable('Q g0', 'B e0').topology;
  };
  test('an answer that does not find home is told at the router that lacks the route', () => {
    expect(problemTexts(three(false), 'NO_RETURN_ROUTE')).toEqual([
      'Q has no route back to 10.84.1.0/24: packets from A reach B, the answers end here.',
    ]);
    expect(problemTexts(three(true), 'NO_RETURN_ROUTE')).toEqual([]);
  });
  test('a router with several subnets that does not forward is told', () => {
    const off = changed((topology) => void (topology.devices.R!.settings = { forwarding: { v4: false } }));
    expect(problemTexts(off, 'FORWARDING_OFF')).toEqual([
      'R stands in 2 subnets and does not forward: switch forwarding on.',
    ]);
  });
  test.each(['ospf', 'ospf6'] as const)(
    'neighbours of %s in different areas, with different intervals, or that take an area for another kind are told (RFC 2328 §10.5)',
    (protocol) => {
      const drawn = three(true);
      const on = (device: string, config: object, settings: object = {}): string[] => {
        const found = drawn.devices[device]!;
        found.interfaces!.g1!.v6 = { enabled: true };
        found.interfaces!.g1![protocol] = config;
        found.settings = { ...found.settings, [protocol]: { routerId: `1.1.1.${device.charCodeAt(0)}`, ...settings } };
        return problemTexts(drawn, 'OSPF_DIFFERS');
      };
      const name = protocol === 'ospf' ? 'OSPF' : 'OSPFv3';
      on('R', { area: 1 });
      expect(on('Q', { area: 0 })).toEqual([
        expect.stringMatching(new RegExp(`has ${name} area \\d, . g1 on the same wire area \\d: they do not become`)),
      ]);
      expect(on('Q', { area: 1, hello: 30 })).toEqual([expect.stringMatching(/hello interval of 30 s|wire 30 s/)]);
      expect(on('Q', { area: 1, dead: 30 })).toEqual([expect.stringMatching(/dead interval/)]);
      expect(on('Q', { area: 1 }, { areas: { 1: { type: 'stub' } } })).toEqual([
        expect.stringMatching(/area 1 as (a stub|a normal one), . g1 on the same wire as (a stub|a normal one):/),
      ]);
      // One that is told to be silent has no neighbours, and wants none.
      expect(on('Q', { area: 0, passive: true })).toEqual([]);
      expect(on('Q', { area: 1, hello: 10, dead: 40 })).toEqual([]);
    },
  );
  test('also where the area comes of a line of networks', () => {
    const drawn = three(true);
    for (const [device, area] of [
      ['R', 0],
      ['Q', 7],
    ] as const)
      drawn.devices[device]!.settings = { ospf: { networks: [{ prefix: '0.0.0.0/0', area }] } };
    expect(problemTexts(drawn, 'OSPF_DIFFERS')).toEqual([expect.stringMatching(/area 7.*area 0|area 0.*area 7/)]);
  });
  test('translation without sides is told', () => {
    const drawn = three(true);
    drawn.devices.R!.settings!.nat = [{ kind: 'overload', sources: ['10.84.1.0/24'] }];
    drawn.devices.R!.interfaces!.g0!.natSide = 'inside';
    expect(problemTexts(drawn, 'NAT_SIDE_MISSING')).toEqual([
      'R translates addresses, but no interface of it is “outside”.',
    ]);
    drawn.devices.R!.interfaces!.g1!.natSide = 'outside';
    expect(problemTexts(drawn, 'NAT_SIDE_MISSING')).toEqual([]);
  });
  test('a fixed translation needs both sides as well, a port that is let in only the outside', () => {
    const drawn = three(true);
    drawn.devices.R!.settings!.nat = [{ kind: 'static', inside: '10.84.1.10', outside: '198.51.100.3' }];
    expect(problemTexts(drawn, 'NAT_SIDE_MISSING')).toEqual([
      'R translates addresses, but no interface of it is “inside” or “outside”.',
    ]);
    drawn.devices.R!.settings!.nat = [{ kind: 'portForward', inside: '10.84.1.10', insidePort: 80, outsidePort: 80 }];
    expect(problemTexts(drawn, 'NAT_SIDE_MISSING')).toEqual([
      'R translates addresses, but no interface of it is “outside”.',
    ]);
    drawn.devices.R!.interfaces!.g1!.natSide = 'outside';
    expect(problemTexts(drawn, 'NAT_SIDE_MISSING')).toEqual([]);
  });
});

describe('switches', () => {
  const trunk = { role: { kind: 'switched' as const, mode: 'trunk' as const } };
  const access = (more: object) => ({ role: { kind: 'switched' as const, mode: 'access' as const, ...more } });
  test('a VLAN that a switch in between does not have is told where VLANs must be created', () => {
    const at = (ports: Device['ports'], vlans?: Record<string, string>): Partial<Device> => ({
      ...(ports && { ports }),
      ...(vlans && { settings: { vlans } }),
    });
    const { topology } = new Sheet()
      .device('S', 'access-switch-12', {}, at({ p1: access({ accessVlan: 20 }), u1: trunk }, { 20: 'Tills' }))
      .device('M', 'access-switch-12', {}, at({ u1: trunk, u2: trunk }))
      .device('T', 'access-switch-12', {}, at({ p1: access({ accessVlan: 20 }), u1: trunk }, { 20: 'Tills' }))
      .cable('S u1', 'M u1')
      .cable('M u2', 'T u1');
    const created = { vlanPolicy: 'created' };
    expect(problemTexts(topology, 'VLAN_NOT_CREATED', created)).toEqual([
      'M stands between switches that use VLAN 20, which does not exist on M: create it.',
    ]);
    expect(problemTexts(topology, 'VLAN_NOT_CREATED')).toEqual([]);
    topology.devices.M!.settings = { vlans: { 20: 'Tills' } };
    expect(problemTexts(topology, 'VLAN_NOT_CREATED', created)).toEqual([]);
  });
  test('a phone at a port without a voice VLAN is told where others have one', () => {
    const { topology } = new Sheet()
      .device('S', 'access-switch-12', {}, { ports: { p1: access({ voiceVlan: 40 }) } })
      .device('P', 'phone')
      .device('Q', 'phone')
      .cable('S p1', 'P e0')
      .cable('S p2', 'Q e0');
    expect(problemTexts(topology, 'NO_VOICE_VLAN')).toEqual(['Q is a phone, but S p2 has no VLAN for voice.']);
  });
  test('a bundle whose other end is none is told', () => {
    const { topology } = new Sheet()
      .device('S', 'access-switch-12', {}, { settings: { bundles: { b1: { members: ['u1'], protocol: 'active' } } } })
      .device('T', 'access-switch-12')
      .cable('S u1', 'T u1');
    expect(problemTexts(topology, 'BUNDLE_NOT_FORMED')).toEqual([
      'S bundles u1, but u1 of T at the other end belongs to no bundle.',
    ]);
  });
  test('between hosts and switches a slower port is no mistake', () => {
    expect(problemTexts(twoLans(), 'SLOWER_PORT')).toEqual([]);
  });
});

test('remote access without a password for changing settings is told', () => {
  const open = changed((topology) => void (topology.devices.R!.settings = { management: { ssh: true } }));
  expect(problemTexts(open, 'NO_PRIVILEGED_PASSWORD')).toHaveLength(1);
  open.devices.R!.settings!.management!.privileged = 'hashed';
  expect(problemTexts(open, 'NO_PRIVILEGED_PASSWORD')).toEqual([]);
});

test('a key of WPA2 that no equipment takes is told, at either end', () => {
  const keyed = (key: string): string[] => {
    const radio = { ssid: 'hut', security: 'wpa2' as const, key };
    const { topology } = new Sheet()
      .device('AP', 'access-point', {}, { settings: { ssids: [radio] } })
      .device('L', 'laptop', {}, { ports: { w0: { radio } } });
    return problemTexts(topology, 'RADIO_KEY');
  };
  expect(keyed('seven77')).toEqual([
    'AP, network “hut”: A key of WPA2 has 8 to 63 characters.',
    'L, network “hut”: A key of WPA2 has 8 to 63 characters.',
  ]);
  expect([keyed('eight888'), keyed('x'.repeat(63)), keyed('a1'.repeat(32))]).toEqual([[], [], []]);
  expect(keyed('x'.repeat(64))).toHaveLength(2);
});
