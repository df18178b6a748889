import { Sheet } from '../tests/topologies';
import { planTree } from '../plan';
import { type Topology, applyBatch } from '../topology';
import { type Completion, type FieldContext, completions } from '.';
import { giveAddresses } from '../editing';

const sheet = (): Topology => {
  const { topology } = new Sheet()
    .device('SW-V1', 'access-switch-12', {}, { at: { x: 0, y: 0 } })
    .device('RT-V', 'border-router', { g0: '10.84.1.1/26' }, { at: { x: 0, y: -200 } })
    .device('PC-1', 'desktop', { e0: '10.84.1.11/26' }, { at: { x: 0, y: 200 } })
    .device('PC-2', 'desktop', {}, { at: { x: 60, y: 200 } })
    .device('Till one', 'till', {}, { at: { x: 400, y: 200 } })
    .cable('PC-1 e0', 'SW-V1 p1', 'straight', { cableId: 'KR-007' });
  return { ...topology, sites: { v: { name: 'Valley Station' }, m: { name: 'Middle Station' } } };
};
const ask = (text: string, more: Partial<FieldContext> = {}): Completion[] =>
  completions(text, {
    topology: sheet(),
    chosen: [],
    automatic: true,
    menu: [{ id: 'undo', text: 'Undo' }],
    ...more,
  });
const first = (text: string, more: Partial<FieldContext> = {}) => ask(text, more)[0]!;

describe('adding', () => {
  test('"switch 20 x3 at Valley" adds three of that switch at that site and says how they will be called', () => {
    expect(first('switch 20 x3 at Valley')).toMatchObject({
      text: 'add 3 × Access switch 20 + 4',
      more: 'at Valley Station, as SW-1 to SW-3',
      action: { do: 'add', model: 'access-switch-20', count: 3, site: 'v' },
    });
    expect(first('add 3x switch 20 at valley').action).toEqual(first('switch 20 x3 at Valley').action);
  });
  test('everyday words find a model, and a whole word counts more than a part of one', () => {
    expect(first('add pc').action).toMatchObject({ model: 'desktop', count: 1 });
    expect(first('add cash register').action).toMatchObject({ model: 'till' });
  });
  test('names follow the scheme of the lab', () => {
    expect(first('add pc x2 at Middle', { namingScheme: '{kind}-{site}{nn}' }).more).toBe(
      'at Middle Station, as PC-M01 to PC-M02',
    );
  });
  test('"site Col Refuge" adds a site, with what is chosen in it; a name is there once', () => {
    expect(first('add site Col Refuge', { chosen: ['PC-1', 'PC-2'] })).toMatchObject({
      text: 'add the site Col Refuge',
      more: 'with 2 devices that are chosen',
      action: { do: 'addSite', name: 'Col Refuge' },
    });
    expect(first('add site Valley Station')).toMatchObject({
      text: 'There is a site “Valley Station” already',
      action: null,
    });
  });
  test('without a site, new devices go where the chosen one stands', () => {
    const topology = sheet();
    topology.devices['SW-V1']!.site = 'm';
    expect(first('add pc', { topology, chosen: ['SW-V1'] }).action).toMatchObject({ site: 'm' });
  });
  test.each([
    ['add', 'Say which model'],
    ['add zeppelin', 'No model fits “zeppelin”'],
    ['add pc at Moon', 'There is no site “Moon”'],
    ['add pc x900', '900 devices at once'],
  ])('%p cannot be done, and the line says why', (text, why) => {
    expect(ask(`${text} `).map((completion) => [completion.text, completion.action])).toEqual([[why, null]]);
  });
});

describe('linking', () => {
  test('two devices are linked by their next free ports and the fitting medium', () => {
    expect(first('link pc-2 sw-v1')).toMatchObject({
      text: 'link PC-2 e0 → SW-V1 p2',
      more: 'straight-through copper',
      action: { do: 'link', cable: { a: { device: 'PC-2', port: 'e0' }, b: { device: 'SW-V1', port: 'p2' } } },
    });
  });
  test('ports and medium that are said are taken, also where they do not fit', () => {
    expect(first('link PC-2 e0 to SW-V1 u2 crossover').action).toMatchObject({
      do: 'link',
      cable: { b: { port: 'u2' }, medium: 'crossover' },
    });
    expect(first('link PC-2 e0 SW-V1 p9 nonsense').text).toMatch(/“nonsense” is no free port and no medium/);
  });
  test('names with spaces and small letters are read', () => {
    expect(first('link till one rt-v').text).toBe('link Till one e0 → RT-V g0');
  });
  test('where the lab does not choose, the chooser is opened', () => {
    expect(first('link PC-2 SW-V1', { automatic: false }).action).toEqual({
      do: 'chooseLink',
      a: 'PC-2',
      b: 'SW-V1',
    });
    expect(first('link PC-* SW-V1', { automatic: false }).action).toBeNull();
  });
  test('after one end the nearest devices that are not linked to it yet are offered', () => {
    const offered = ask('link SW-V1 ');
    expect(offered.map((completion) => completion.text)).not.toContainEqual(expect.stringContaining('PC-1'));
    expect(offered[0]!.text).toMatch(/→ (RT-V|PC-2)/);
    expect(offered.at(-1)!.action).toEqual({ do: 'list', sheet: 'links', devices: ['SW-V1'] });
  });
  test('many are linked to one, by a pattern or as chosen', () => {
    const topology = sheet();
    delete (topology.links as Record<string, unknown>)[Object.keys(topology.links)[0]!];
    expect(first('link PC-* SW-V1', { topology }).action).toEqual({
      do: 'linkMany',
      devices: ['PC-1', 'PC-2'],
      to: 'SW-V1',
    });
    expect(first('link to sw', { topology, chosen: ['PC-2', 'Till one'] }).text).toBe('link 2 devices → SW-V1');
  });
});

describe('finding and changing', () => {
  test('what the menu says is offered also where it begins with a verb, first where all its words are typed', () => {
    const menu = [
      { id: 'note', text: 'Add a note' },
      { id: 'site', text: 'Add a site' },
      { id: 'clicking', text: 'Link by clicking' },
    ];
    expect(first('add a note', { menu }).action).toEqual({ do: 'menu', id: 'note' });
    expect(first('add note', { menu }).action).toEqual({ do: 'menu', id: 'note' });
    expect(first('link by clicking', { menu }).action).toEqual({ do: 'menu', id: 'clicking' });
    // What begins alike stands behind what the verb itself says.
    expect(first('add printer', { menu }).action).toMatchObject({ do: 'add', model: 'printer' });
    expect(first('add site Col Refuge', { menu }).action).toMatchObject({ do: 'addSite' });
    expect(ask('add a n', { menu }).map(({ action }) => action)).toContainEqual({ do: 'menu', id: 'note' });
  });
  test('a name jumps to its device, and the menu is reached by typing', () => {
    expect(first('pc-2')).toMatchObject({ sign: 'jump', action: { do: 'select', devices: ['PC-2'] } });
    expect(first('undo').action).toEqual({ do: 'menu', id: 'undo' });
  });
  test('addresses, models and cables are found', () => {
    expect(first('find 10.84.1').action).toEqual({ do: 'select', devices: ['PC-1', 'RT-V'] });
    expect(first('find desktop').more).toBe('2 devices');
    expect(first('find kr-007').action).toMatchObject({ do: 'select', links: [expect.any(String)] });
    expect(first('find nothing').action).toBeNull();
  });
  test('renaming says when the name is taken, and does it all the same', () => {
    expect(first('rename PC-1 DESK-1')).toMatchObject({
      more: '',
      action: { do: 'rename', device: 'PC-1', name: 'DESK-1' },
    });
    expect(first('rename PC-1 PC-2').more).toMatch(/called so already/);
    expect(first('rename PC-1 PC-2').action).not.toBeNull();
  });
  test('aligning, spacing and duplicating need something that is chosen', () => {
    expect(first('align left').action).toBeNull();
    expect(first('align l', { chosen: ['PC-1', 'PC-2'] }).action).toEqual({ do: 'align', edge: 'left' });
    expect(first('space across', { chosen: ['PC-1', 'PC-2'] }).action).toBeNull();
    expect(first('space d', { chosen: ['PC-1', 'PC-2', 'RT-V'] }).action).toEqual({ do: 'space', direction: 'down' });
    expect(first('duplicate x3', { chosen: ['PC-1'] })).toMatchObject({
      text: 'duplicate PC-1 3 times',
      action: { do: 'duplicate', times: 3 },
    });
  });
  test('a trace goes between devices that have addresses', () => {
    expect(ask('trace ').map((completion) => completion.text)).toEqual(['trace PC-1', 'trace RT-V']);
    expect(first('trace PC-1 r').action).toEqual({ do: 'trace', from: 'PC-1', to: 'RT-V' });
    expect(first('trace PC-1 to RT-V').action).toEqual({ do: 'trace', from: 'PC-1', to: 'RT-V' });
  });
  test('a trace goes to an address or a name that is typed, too', () => {
    const to = (typed: string) => ({ do: 'trace', from: 'PC-1', to: '', typed });
    expect(first('trace PC-1 192.0.2.7').action).toEqual(to('192.0.2.7'));
    expect(first('trace PC-1 shop.example').action).toEqual(to('shop.example'));
    expect(first('trace PC-1 nobody').text).toMatch(/No other device/);
  });
});

test('an empty field says what can be typed, and half a word completes to it', () => {
  expect(ask('').map((completion) => completion.text)).toContain('link');
  expect(first('ren')).toMatchObject({ fill: 'rename ', action: { do: 'fill' } });
});
test('what means nothing is told in one line', () => {
  expect(ask('qqqq').map((completion) => [completion.text, completion.action])).toEqual([
    ['Nothing is called “qqqq”', null],
  ]);
});

describe('addressing', () => {
  const plan = {
    brief: {},
    tree: planTree({
      blocks: { t: { prefix: '10.84.1.0/26', prefix6: 'fd5e::/64', name: 'Tickets', vlan: 10, gateway: '10.84.1.1' } },
      addresses: { '10.84.1.2': { name: 'SHOP' } },
    }),
  };
  const done = (text: string, more: Partial<FieldContext> = {}) => {
    const { action } = first(text, more);
    if (action?.do !== 'address') throw new Error(`No address line for ${text}: ${first(text, more).text}`);
    const { commands, left } = giveAddresses(sheet(), action.devices, action.source, action.port);
    const after = applyBatch(sheet(), 'test', commands);
    if (!after.ok) throw new Error(after.error);
    return { devices: after.value.document.devices, left };
  };
  test('many hosts get addresses one by one from a first one on, past those in use, and the gateway drawn there', () => {
    const { devices } = done('address PC-* 10.84.1.10/26');
    expect(devices['PC-1']).toMatchObject({
      interfaces: { e0: { v4: { addresses: ['10.84.1.10/26'] } } },
      settings: { gateway4: '10.84.1.1' },
    });
    // 10.84.1.11 is what PC-1 had: it gives it up.
    expect(devices['PC-2']!.interfaces!.e0!.v4!.addresses).toEqual(['10.84.1.11/26']);
    expect(first('address PC-* 10.84.1.10/26').more).toBe('10.84.1.10/26 and on');
  });
  test('a subnet of the plan gives the next free ones of both families with its gateway', () => {
    const { devices } = done('address pc-2 tick', { plan });
    expect(devices['PC-2']).toMatchObject({
      interfaces: {
        e0: { v4: { addresses: ['10.84.1.3/26'] }, v6: { addresses: [expect.stringMatching(/^fd5e::/)] } },
      },
      settings: { gateway4: '10.84.1.1' },
    });
    expect(first('address pc-2 vlan 10', { plan }).text).toBe('address PC-2 from Tickets');
  });
  test('a router gets one at the port that is said, else at one that has none yet, and the line tells which', () => {
    const interfaces = (text: string) => done(text).devices['RT-V']!.interfaces!;
    const at = (port: string) => ({ on: { kind: 'port', port }, v4: { addresses: ['10.84.1.65/27'] } });
    expect(Object.values(interfaces('address RT-V g3 10.84.1.65/27'))).toContainEqual(
      expect.objectContaining(at('g3')),
    );
    expect(Object.values(interfaces('address RT-V 10.84.1.65/27'))).toContainEqual(expect.objectContaining(at('g1')));
    expect(interfaces('address RT-V 10.84.1.65/27').g0).toMatchObject({ v4: { addresses: ['10.84.1.1/26'] } });
    expect(first('address RT-V 10.84.1.65/27').text).toBe('address RT-V g1 from 10.84.1.65/27');
  });
  test('what is chosen is addressed when no name is said; a switch has no port for one', () => {
    const { devices, left } = done('address 10.84.1.20/26', { chosen: ['PC-2', 'SW-V1'] });
    expect(devices['PC-2']!.interfaces!.e0!.v4!.addresses).toEqual(['10.84.1.20/26']);
    expect(left).toEqual(['SW-V1']);
  });
  test.each([
    ['address 10.84.1.20/26', 'Say whose address'],
    ['address PC-1 10.84.1.300/26', '300 in "10.84.1.300" is more than 255.'],
    ['address PC-1 10.84.1.9', '"10.84.1.9" has no prefix length: write for instance 10.84.1.9/24.'],
    ['address SW-V1 10.84.1.9/26', 'There is no address for SW-V1'],
  ])('%p says what is missing', (text, wanted) => {
    expect(first(text)).toMatchObject({ text: wanted, action: null });
  });
});

describe('signing in', () => {
  test('wants two devices, then offers the ways, with and without changing settings', () => {
    expect(first('sign-in').fill).toBe('sign-in ');
    expect(first('sign-in PC-1').text).toBe('sign-in PC-1 PC-2');
    expect(ask('sign-in PC-1 RT-V').map(({ text }) => text)).toEqual([
      'sign-in PC-1 → RT-V by ssh',
      'sign-in PC-1 → RT-V by ssh, changing settings',
      'sign-in PC-1 → RT-V by telnet',
      'sign-in PC-1 → RT-V by telnet, changing settings',
      'sign-in PC-1 → RT-V by console',
      'sign-in PC-1 → RT-V by console, changing settings',
    ]);
    expect(first('sign-in PC-1 RT-V tel changing')).toMatchObject({
      fill: 'sign-in PC-1 RT-V telnet changing',
      action: { do: 'signIn', from: 'PC-1', to: 'RT-V', by: 'telnet', changing: true },
    });
    expect(first('sign-in PC-1 RT-V pigeon').action).toBeNull();
  });
});

test('an address of one link is traced with its interface', () => {
  expect(first('trace PC-1 fe80::1%e0')).toMatchObject({
    text: 'trace PC-1 → fe80::1%e0',
    action: { do: 'trace', from: 'PC-1', to: '', typed: 'fe80::1%e0' },
  });
});

describe('as people say it', () => {
  const applied = (text: string, more: Partial<FieldContext> = {}): Topology => {
    const topology = more.topology ?? sheet();
    const { action } = first(text, { topology, ...more });
    if (action?.do !== 'edit') throw new Error(`${text}: ${JSON.stringify(first(text, { topology, ...more }))}`);
    const done = applyBatch(topology, action.title, action.commands);
    if (!done.ok) throw new Error(done.error);
    return done.value.document;
  };
  test.each<[string, object]>([
    ['4 desktops', { model: 'desktop', count: 4 }],
    ['3 pc', { model: 'desktop', count: 3 }],
    ['add 3 switches', { count: 3 }],
    ['switch 12 as SW-A', { model: 'access-switch-12', name: 'SW-A' }],
    ['router RT-A', { name: 'RT-A' }],
    ['2 patch panels', { model: 'patch-panel-24', count: 2 }],
    ['wap', { model: 'access-point' }],
    ['nas', { model: 'server' }],
    ['dns', { model: 'server' }],
    ['file server', { model: 'server' }],
    ['pbx', { model: 'server' }],
    ['call server', { model: 'server' }],
    ['access point', { model: 'access-point' }],
    ['multilayer', { count: 1 }],
  ])('"%s" adds what is meant', (text, action) => {
    expect(ask(text).find((line) => line.action?.do === 'add')?.action).toMatchObject({ do: 'add', ...action });
  });
  test('a name is one device’s, and one that is taken is said', () => {
    expect(first('add 3 switches as SW-A')).toMatchObject({ action: null, text: 'One name is for one device' });
    expect(first('add switch as SW-V1')).toMatchObject({ action: null, text: 'A device is called “SW-V1” already' });
  });
  test('"PC-2 10.84.1.12/26" is its address', () => {
    expect(first('PC-2 10.84.1.12/26').action).toMatchObject({ do: 'address', devices: ['PC-2'] });
  });
  test('"vlan 20 SW-V1 p2-p4, p6" puts ports into a VLAN, which is there then; untagged and access say the same', () => {
    const { ports, settings } = applied('vlan 20 SW-V1 p2-p4, p6').devices['SW-V1']!;
    expect(Object.keys(ports!)).toEqual(['p2', 'p3', 'p4', 'p6']);
    expect(ports!.p6!.role).toEqual({ kind: 'switched', mode: 'access', accessVlan: 20 });
    expect(settings!.vlans).toEqual({ 20: 'VLAN 20' });
    expect(first('untagged 20 SW-V1 p2-p4, p6').action).toEqual(first('vlan 20 SW-V1 p2-p4, p6').action);
    expect(applied('vlan 30 SW-V1').devices['SW-V1']!.settings!.vlans).toEqual({ 30: 'VLAN 30' });
    expect(applied('access 20 p2', { chosen: ['SW-V1'] }).devices['SW-V1']!.ports!.p2!.role).toMatchObject({
      accessVlan: 20,
    });
  });
  test('"trunk SW-V1 u1 10,20", tagged, native and PVID', () => {
    const trunked = applied('trunk SW-V1 u1 10,20-22');
    const role = (topology: Topology) => topology.devices['SW-V1']!.ports!.u1!.role;
    expect(role(trunked)).toEqual({ kind: 'switched', mode: 'trunk', allowed: [10, 20, 21, 22] });
    expect(role(applied('tagged SW-V1 u1'))).toMatchObject({ allowed: 'all' });
    expect(role(applied('pvid 99 SW-V1 u1', { topology: trunked }))).toEqual({ ...role(trunked), native: 99 });
  });
  test('"bundle SW-V1 u1,u2", LAG and link aggregation', () => {
    for (const word of ['bundle', 'lag', 'link aggregation'])
      expect(applied(`${word} SW-V1 u1,u2`).devices['SW-V1']!.settings!.bundles).toEqual({
        b1: { members: ['u1', 'u2'], protocol: 'active' },
      });
    expect(first('bundle SW-V1 u1')).toMatchObject({ action: null, text: 'A bundle has two ports or more' });
  });
  test('gateways and routes, in both families, and addresses from a server', () => {
    const gated = applied('gateway PC-* 10.84.1.1');
    expect(['PC-1', 'PC-2'].map((id) => gated.devices[id]!.settings!.gateway4)).toEqual(['10.84.1.1', '10.84.1.1']);
    expect(applied('gateway PC-1 fd5e::1').devices['PC-1']!.settings!.gateway6).toBe('fd5e::1');
    const routed = (text: string) => applied(text).devices['RT-V']!.settings!.routes;
    expect(routed('route RT-V 10.0.0.0/8 via 10.84.15.2')).toEqual([{ prefix: '10.0.0.0/8', via: '10.84.15.2' }]);
    expect(routed('route RT-V default via fd5e::1 200')).toEqual([{ prefix: '::/0', via: 'fd5e::1', distance: 200 }]);
    expect(routed('route RT-V 10.0.0.0/8 null')).toEqual([{ prefix: '10.0.0.0/8' }]);
    expect(first('route RT-V fd5e::/64 via 10.84.15.2')).toMatchObject({
      action: null,
      text: expect.stringMatching(/families/) as string,
    });
    const leased = applied('dhcp PC-*', { topology: gated }).devices['PC-1']!;
    expect([leased.interfaces!.e0!.v4, leased.settings?.gateway4]).toEqual([{ dhcp: true }, undefined]);
  });
  test('deleting takes links along, and says how many', () => {
    expect(first('delete PC-*').more).toBe('with 1 link');
    expect(Object.keys(applied('remove PC-1').devices)).not.toContain('PC-1');
  });
  test('ping is a trace, "sign in" is one word, and one telephone calls another', () => {
    const both = sheet();
    both.devices['Till one']!.interfaces = {
      e0: { on: { kind: 'port', port: 'e0' }, v4: { addresses: ['10.84.1.12/26'] } },
    };
    expect(first('ping PC-1 Till one', { topology: both }).action).toEqual({
      do: 'trace',
      from: 'PC-1',
      to: 'Till one',
    });
    expect(first('sign in PC-1 RT-V ssh').action).toMatchObject({ do: 'signIn', from: 'PC-1', to: 'RT-V', by: 'ssh' });
    for (const [id, extension] of [
      ['PC-1', '101'],
      ['PC-2', '102'],
    ] as const)
      both.devices[id]!.settings = { telephony: { extension } };
    expect(first('call PC-1 PC-2', { topology: both })).toMatchObject({
      more: 'extension 102',
      action: { do: 'call', from: 'PC-1', to: 'PC-2' },
    });
  });
  test('a laptop is plugged in somewhere by the names of device and port', () => {
    expect(first('plug SW-V1 p9').action).toEqual({ do: 'plug', device: 'SW-V1', port: 'p9' });
    expect(first('plug SW-V1').action).toMatchObject({ do: 'plug', device: 'SW-V1' });
    expect(first('plug SW-V1 p99')).toMatchObject({ action: null, text: 'SW-V1 has no copper port “p99”' });
    expect(first('plug nobody').action).toBeNull();
  });
  test('what is not there is said where it is typed', () => {
    expect(first('vlan 20 SW-V1 p99')).toMatchObject({ action: null, text: 'SW-V1 has no port “p99”' });
    expect(first('vlan 4095 SW-V1 p1').text).toMatch(/no VLAN/);
    expect(first('vlan 20 PC-1')).toMatchObject({ action: null, text: 'PC-1 has no VLANs' });
    expect(first('trunk SW-V1 u1 ten').text).toMatch(/no VLAN/);
    expect(first('gateway PC-1 10.84.1.300').text).toMatch(/300/);
  });
  test('a word with a letter wrong offers the nearest', () => {
    expect(ask('truk SW-V1 u1').map(({ fill }) => fill)).toContain('trunk SW-V1 u1');
    expect(ask('swich 12').map(({ fill }) => fill)).toContain('switch 12');
    expect(ask('Tll one').map(({ fill }) => fill)).toContain('Till one');
  });
});
