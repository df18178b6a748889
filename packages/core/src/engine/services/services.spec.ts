import { type Address, formatAddress, parseAddress } from '../../address';
import { Sheet } from '../../tests/topologies';
import { type Settings, type Topology } from '../../topology';
import { type NetworkModel, analyse, listensAt, resolveName, signIn } from '..';

const address = (text: string): Address => (parseAddress(text) as { value: Address }).value;

/** A client, a router, and a server for names behind it. */
function network({
  client = {},
  router = {},
  server = {},
}: Partial<Record<'client' | 'router' | 'server', Settings>>): NetworkModel {
  const records = [
    { name: 'shop.kestrel.example', type: 'A' as const, value: '192.0.2.40' },
    { name: 'www.kestrel.example', type: 'CNAME' as const, value: 'Shop.Kestrel.Example.' },
    { name: 'a.kestrel.example', type: 'CNAME' as const, value: 'b.kestrel.example' },
    { name: 'b.kestrel.example', type: 'CNAME' as const, value: 'a.kestrel.example' },
  ];
  const drawing: Topology = new Sheet()
    .device('R', 'border-router', { g0: '10.0.0.1/24', g1: '192.0.2.1/24' }, { settings: router })
    .device(
      'A',
      'desktop',
      { e0: '10.0.0.9/24' },
      { settings: { gateway4: '10.0.0.1', dns: ['192.0.2.53'], ...client } },
    )
    .device(
      'NS',
      'server',
      { e0: '192.0.2.53/24' },
      { settings: { gateway4: '192.0.2.1', dnsRecords: records, services: { dns: { enabled: true } }, ...server } },
    )
    .device('S', 'access-switch-12')
    .cable('R g0', 'A e0', 'crossover')
    .cable('R g1', 'S u1')
    .cable('NS e0', 'S p1').topology;
  return analyse(drawing);
}

describe('names (RFC 1034)', () => {
  const asked = (model: NetworkModel, name: string): [string | null, string] => {
    const { address: found, text } = resolveName(model, 'A', name);
    return [found && formatAddress(found), text];
  };
  test('a server tells the address, also by another name, whatever the case and the closing dot', () => {
    const model = network({});
    expect(asked(model, 'SHOP.kestrel.example.')).toEqual([
      '192.0.2.40',
      'SHOP.kestrel.example. is 192.0.2.40, by NS.',
    ]);
    expect(asked(model, 'www.kestrel.example')[0]).toBe('192.0.2.40');
  });
  test.each([
    ['the name is not known', 'nobody.example', {}, /NS knows no nobody\.example/],
    ['names stand for each other in a circle', 'a.kestrel.example', {}, /knows no a\.kestrel/],
    ['no server is set', 'shop.kestrel.example', { client: { dns: [] } }, /knows no server for names/],
    [
      'nobody has its address',
      'shop.kestrel.example',
      { client: { dns: ['192.0.2.99'] } },
      /Nobody in the drawing has 192\.0\.2\.99/,
    ],
    ['the service does not run', 'shop.kestrel.example', { server: { services: {} } }, /no service for names runs/],
    [
      'it does not find back',
      'shop.kestrel.example',
      { server: { gateway4: '192.0.2.77', services: { dns: { enabled: true } } } },
      /gets no answer from 192\.0\.2\.53/,
    ],
  ])('there is no answer where %s', (_why, name, settings, text) => {
    expect(asked(network(settings), name)).toEqual([null, expect.stringMatching(text)]);
  });
  test('the next server is asked where one does not answer', () => {
    expect(asked(network({ client: { dns: ['192.0.2.99', '192.0.2.53'] } }), 'shop.kestrel.example')[0]).toBe(
      '192.0.2.40',
    );
  });
});

describe('signing in', () => {
  const users = [{ name: 'maren', password: 'x' }];
  const at = (management: NonNullable<Settings['management']>, by: 'ssh' | 'telnet' = 'ssh') =>
    signIn(network({ router: { management } }), 'A', 'R', address('10.0.0.1'), by);
  test('wants the protocol and a user with a password', () => {
    expect(at({ ssh: true, users })).toEqual({ answer: 'yes', text: 'maren can sign in at R by ssh.' });
    expect(at({ ssh: true, users }, 'telnet')).toEqual({ answer: 'no', text: 'R does not take telnet.' });
    expect(at({ ssh: true, users: [{ name: 'maren' }] }).text).toMatch(/no user with a password/);
  });
  test('a device that can be signed in to listens there, a service where it is expected or set', () => {
    const model = network({
      router: { management: { telnet: true } },
      server: { services: { web: { enabled: true }, dns: { enabled: true, port: 5353 }, mail: { enabled: false } } },
    });
    expect([22, 23].map((port) => listensAt(model, 'R', port))).toEqual([false, true]);
    expect([80, 53, 5353, 25].map((port) => listensAt(model, 'NS', port))).toEqual([true, false, true, false]);
  });
});
