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
    signIn(network({ router: { management } }), { from: 'A', to: 'R', address: address('10.0.0.1'), by });
  test('wants the protocol and a user with a password', () => {
    expect(at({ ssh: true, users })).toEqual({ answer: 'yes', text: 'maren can sign in at R by ssh.' });
    expect(at({ ssh: true, users }, 'telnet')).toEqual({ answer: 'no', text: 'R does not take telnet.' });
    expect(at({ ssh: true, users: [{ name: 'maren' }] }).text).toMatch(/no user with a password/);
  });
  test('wants the password for changing settings, or a user of the highest level, for more than looking', () => {
    const changing = (management: NonNullable<Settings['management']>) =>
      signIn(network({ router: { management } }), {
        from: 'A',
        to: 'R',
        address: address('10.0.0.1'),
        by: 'ssh',
        changing: true,
      });
    expect(changing({ ssh: true, users })).toMatchObject({
      answer: 'no',
      text: expect.stringMatching(/Nobody may change/) as string,
    });
    expect(changing({ ssh: true, users, privileged: 'hashed' }).answer).toBe('yes');
    expect(changing({ ssh: true, users: [{ name: 'maren', password: 'x', level: 15 }] }).text).toMatch(
      /maren may change/,
    );
    expect(changing({ users, privileged: 'hashed' })).toEqual({ answer: 'no', text: 'R does not take ssh.' });
  });
  describe('at a console', () => {
    const console = (
      management: NonNullable<Settings['management']>,
      cable: string | null = 'R con',
      changing = false,
    ) => {
      const sheet = new Sheet().device('R', 'border-router', {}, { settings: { management } }).host('A', '10.0.0.9/24');
      if (cable) sheet.cable('A e0', cable, 'rollover');
      return signIn(analyse(sheet.topology), { from: 'A', to: 'R', address: null, by: 'console', changing });
    };
    test('a cable to the console must be there', () => {
      expect(console({}, null)).toMatchObject({
        answer: 'no',
        text: 'No console cable goes from A to the console of R.',
      });
      expect(console({}, 'R g0').answer).toBe('no');
      expect(console({})).toEqual({ answer: 'yes', text: 'The console of R lets in whoever is there.' });
    });
    test('and what it asks for', () => {
      expect(console({ console: 'password' }).text).toMatch(/whoever knows its password/);
      expect(console({ console: 'user' }).answer).toBe('no');
      expect(console({ console: 'user', users })).toEqual({
        answer: 'yes',
        text: 'maren can sign in at the console of R.',
      });
    });
    test('without a password for changing settings whoever is there may, and with one who knows it', () => {
      expect(console({}, 'R con', true).text).toMatch(/no password for changing settings: whoever is there may/);
      expect(console({ privileged: 'clear' }, 'R con', true).text).toMatch(/With the password for changing settings/);
    });
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
