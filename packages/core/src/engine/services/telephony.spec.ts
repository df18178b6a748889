import { parseAddress } from '../../address';
import { Sheet } from '../../tests/topologies';
import { type Device, type Settings, type Topology } from '../../topology';
import { analyse, callOf, listensAt, numberOf, problemsOf, registrationOf, resolveName, tablesOf, trace } from '..';

const VOICE = 40;
const phone = (extension: string, more: Partial<Settings> = {}): Partial<Device> => ({
  settings: { telephony: { extension, callServer: '10.84.40.5' }, ...more },
});
/** Two telephones at an access switch with a VLAN for voice, a desktop behind one of them, and a call server. */
interface Office {
  first?: Partial<Device>;
  second?: Partial<Device>;
  voice?: { voiceVlan?: number };
  server?: Settings;
}
function office({
  first = phone('201'),
  second = phone('202'),
  voice = { voiceVlan: VOICE },
  server = { services: { calls: { enabled: true } } },
}: Office = {}): Topology {
  const port = { role: { kind: 'switched' as const, mode: 'access' as const, accessVlan: 10, ...voice } };
  const inVoice = { role: { kind: 'switched' as const, mode: 'access' as const, accessVlan: VOICE } };
  return new Sheet()
    .device('S', 'access-switch-12', {}, { ports: { p1: port, p2: port, p3: inVoice, p4: port } })
    .device('P1', 'phone', { e0: '10.84.40.11/24' }, first)
    .device('P2', 'phone', { e0: '10.84.40.12/24' }, second)
    .device('CALLS', 'server', { e0: '10.84.40.5/24' }, { settings: server })
    .host('PC', '10.84.10.9/24')
    .host('DESK', '10.84.10.8/24')
    .cable('P1 e0', 'S p1')
    .cable('P2 e0', 'S p2')
    .cable('CALLS e0', 'S p3')
    .cable('DESK e0', 'S p4')
    .cable('PC e0', 'P1 d0').topology;
}
const call = (drawing: Topology, from = 'P1', extension = '202') => callOf(analyse(drawing), from, extension);

describe('telephones', () => {
  test('take the VLAN for voice that their switch has, register there, and call one another', () => {
    const model = analyse(office());
    expect(registrationOf(model, 'P1')).toEqual({
      answer: 'yes',
      server: 'CALLS',
      text: 'P1 is registered at CALLS as 201.',
    });
    expect(call(office())).toMatchObject({ answer: 'yes', device: 'P2' });
  });
  test('what is behind a telephone is in the VLAN for data, and not in that of voice', () => {
    const model = analyse(office());
    const at = (device: string) => ({
      device,
      address: model.reach.targets().find((target) => target.device === device)!.address,
    });
    expect(model.reach.answer('PC', at('DESK')).answer).toBe('yes');
    expect(model.reach.answer('PC', at('P2')).answer).toBe('no');
  });
  test.each<[string, Office, RegExp]>([
    ['no power', { first: { ...phone('201'), powered: false } }, /^P1 is switched off/],
    ['no extension', { first: { settings: {} } }, /^P1 has no extension/],
    ['no call server', { first: { settings: { telephony: { extension: '201' } } } }, /^P1 has no call server/],
    [
      'a call server that nobody is',
      { first: { settings: { telephony: { extension: '201', callServer: '10.84.40.99' } } } },
      /^Nobody in the drawing has 10\.84\.40\.99/,
    ],
    ['no VLAN for voice, so that it is in that for data', { voice: {} }, /^P1 does not get to its call server/],
    ['no service for calls', { server: {} }, /^CALLS takes no calls/],
    ['an extension that nobody has', { second: phone('999') }, /^Nobody has extension 202/],
    ['the other one is not registered', { second: { ...phone('202'), powered: false } }, /^P2 is switched off/],
  ])('a call does not come about: %s', (_why, change, text) => {
    const found = call(office(change));
    expect(found.answer).toBe('no');
    expect(found.text).toMatch(text);
  });
  test('two with one extension: who rings is not certain', () => {
    expect(registrationOf(analyse(office({ second: phone('201') })), 'P1').answer).toBe('uncertain');
  });
  test('tables and problems tell of it', () => {
    const tables = tablesOf(analyse(office()), 'P1');
    expect(tables.registration).toMatchObject([{ extension: '201', server: 'CALLS', answer: 'yes' }]);
    expect(tables.calls).toMatchObject([{ extension: '202', answer: 'yes' }]);
    const silent = problemsOf(analyse(office({ server: {} }))).filter((problem) => problem.code === 'NOT_REGISTERED');
    expect(silent.map((reason) => reason.at.device)).toEqual(['P1', 'P2']);
  });
});

describe('the cloud of a provider', () => {
  const address = (text: string) => (parseAddress(text) as { value: { family: 4; value: bigint } }).value;
  const site = (nat: boolean): Topology =>
    new Sheet()
      .device(
        'NET',
        'provider-cloud',
        { g0: '198.51.100.1/30' },
        {
          settings: {
            dhcpPools: [{ network: '198.51.100.0/30', router: '198.51.100.1', dns: ['198.51.100.1'] }],
            dnsRecords: [
              { name: 'weather.example', type: 'A', value: '203.0.113.80' },
              { name: 'shop.kestrel.example', type: 'A', value: '198.51.100.2' },
            ],
          },
        },
      )
      .device(
        'R',
        'border-router',
        { g1: '10.84.1.1/24' },
        {
          interfaces: {
            g0: { on: { kind: 'port', port: 'g0' }, v4: { dhcp: true }, natSide: 'outside' },
            g1: { on: { kind: 'port', port: 'g1' }, v4: { addresses: ['10.84.1.1/24'] }, natSide: 'inside' },
          },
          settings: nat ? { nat: [{ kind: 'overload', outsideInterface: 'g0' }] } : {},
        },
      )
      .device('A', 'desktop', { e0: '10.84.1.9/24' }, { settings: { gateway4: '10.84.1.1', dns: ['198.51.100.1'] } })
      .cable('R g0', 'NET g0', 'crossover')
      .cable('A e0', 'R g1', 'crossover').topology;

  test('gives its customer an address and a way out, tells names, and has the pages that are outside', () => {
    const model = analyse(site(true));
    expect(tablesOf(model, 'R').interfaces[0]).toMatchObject({ addresses: ['198.51.100.2/30'] });
    const found = resolveName(model, 'A', 'weather.example');
    expect(found.address).toEqual(address('203.0.113.80'));
    expect(trace(model, 'A', 'NET', found.address!, { protocol: 'tcp', port: 443 }).answer).toBe('yes');
    expect([listensAt(model, 'NET', 443), listensAt(model, 'NET', 25)]).toEqual([true, false]);
  });
  test('a private address finds no way back from it: that takes translation', () => {
    const model = analyse(site(false));
    expect(trace(model, 'A', 'NET', address('203.0.113.80'))).toMatchObject({
      answer: 'no',
      direction: 'reply',
      reason: { code: 'NO_ROUTE' },
    });
  });
  test('what it knows a way to is not its own: the name of a customer leads to the customer', () => {
    const owners = analyse(site(true)).layer3.owners;
    expect(owners.get(numberOf(address('198.51.100.2')))!.map((interfaceState) => interfaceState.instance)).toEqual([
      'R',
    ]);
  });
});
