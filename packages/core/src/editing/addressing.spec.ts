import { parseInterfaceAddress } from '../address';
import { Sheet } from '../tests/topologies';
import { type Topology, applyCommand } from '../topology';
import { type AddressSource, giveAddresses } from '.';

const from = (text: string): AddressSource => {
  const read = parseInterfaceAddress(text);
  if (!read.ok) throw new Error(read.error.text);
  return { kind: 'from', first: read.value };
};
const hosts = (...addresses: (string | null)[]): Topology =>
  addresses.reduce(
    (sheet, address, at) => (address === null ? sheet.device(`H${at}`, 'desktop') : sheet.host(`H${at}`, address)),
    new Sheet(),
  ).topology;
const after = (topology: Topology, { commands }: ReturnType<typeof giveAddresses>): Topology =>
  commands.reduce((draft, command) => {
    const done = applyCommand(draft, command);
    if (!done.ok) throw new Error(JSON.stringify(done.error));
    return done.value.document;
  }, topology);
const all = (topology: Topology): string[] =>
  Object.values(topology.devices).map(({ interfaces }) => interfaces?.e0?.v4?.addresses?.[0] ?? '');

describe('addressing hosts from a first address on', () => {
  test('a second time gives them what they have: their own addresses are not in their way', () => {
    const ids = ['H0', 'H1', 'H2'];
    const first = giveAddresses(hosts(null, null, null), ids, from('10.84.1.10/24'));
    expect(first.addresses).toEqual(['10.84.1.10/24', '10.84.1.11/24', '10.84.1.12/24']);
    const again = giveAddresses(after(hosts(null, null, null), first), ids, from('10.84.1.10/24'));
    expect(again.addresses).toEqual(first.addresses);
  });
  test('goes round what others have, also where one of these has the same by mistake', () => {
    const topology = hosts('10.84.1.10/24', '10.84.1.10/24', '10.84.1.11/24');
    expect(giveAddresses(topology, ['H0'], from('10.84.1.10/24')).addresses).toEqual(['10.84.1.12/24']);
  });
  test('where there is not room for all, nobody is given what another one keeps', () => {
    const topology = hosts('10.84.1.1/30', '10.84.1.2/30', '10.84.9.1/24');
    const result = giveAddresses(topology, ['H2', 'H0', 'H1'], from('10.84.1.1/30'));
    expect(result.left).toContain('H2');
    expect(all(after(topology, result))).toEqual(['10.84.1.1/30', '10.84.1.2/30', '10.84.9.1/24']);
  });
  test.each([
    ['10.84.1.0/24', ['10.84.1.1/24', '10.84.1.2/24']],
    ['10.84.1.64/26', ['10.84.1.65/26', '10.84.1.66/26']],
    ['10.84.1.254/24', ['10.84.1.254/24', '10.84.1.1/24']],
    ['10.84.1.0/31', ['10.84.1.0/31', '10.84.1.1/31']],
    ['fd5e:7a3c::/64', ['fd5e:7a3c::1/64', 'fd5e:7a3c::2/64']],
  ])('from %s never gives what no host may carry: %j', (first, addresses) => {
    expect(giveAddresses(hosts(null, null), ['H0', 'H1'], from(first)).addresses).toEqual(addresses);
  });
});

test('the gateway is the router that stands there: one of the world outside too, and the address that two share', () => {
  const gateway = (topology: Topology): string | undefined =>
    after(topology, giveAddresses(topology, ['H'], from('203.0.113.10/24'))).devices.H!.settings?.gateway4;
  const port = (address: string, more = {}) => ({
    interfaces: { g0: { on: { kind: 'port' as const, port: 'g0' }, v4: { addresses: [address] }, ...more } },
  });
  const cloud = new Sheet().device('C', 'provider-cloud', {}, port('203.0.113.1/24')).device('H', 'server');
  expect(gateway(cloud.topology)).toBe('203.0.113.1');
  const vrrp = [{ group: 1, addresses: ['203.0.113.254'] }];
  const shared = new Sheet().device('R', 'border-router', {}, port('203.0.113.2/24', { vrrp })).device('H', 'server');
  expect(gateway(shared.topology)).toBe('203.0.113.254');
  const none = new Sheet().host('Q', '203.0.113.1/24').device('H', 'server');
  expect(gateway(none.topology)).toBeUndefined();
});
test('a router’s address goes to its next port where the first one is a trunk with sub-interfaces', () => {
  const { topology } = new Sheet().device('R', 'border-router');
  topology.devices.R!.interfaces = {
    'g0.10': { on: { kind: 'sub', port: 'g0', vlan: 10 }, v4: { addresses: ['10.84.1.1/26'] } },
  };
  const given = after(topology, giveAddresses(topology, ['R'], from('198.51.100.2/30')));
  expect(given.devices.R!.interfaces!.g1).toEqual({
    on: { kind: 'port', port: 'g1' },
    v4: { addresses: ['198.51.100.2/30'] },
  });
});
