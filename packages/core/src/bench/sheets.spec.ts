import { Sheet as Drawn } from '../tests/topologies';
import { type Topology, applyBatch, readTopology } from '../topology';
import { SHEETS, type SheetId, refusedWords, writeCells } from '.';

const sheet = (): Topology => {
  const { topology } = new Drawn()
    .device('RT-1', 'border-router', { g0: '10.84.1.1/26' })
    .device('SW-10', 'access-switch-12', {}, { settings: { vlans: { 20: 'Tickets', 3: 'Shop' } } })
    .device('SW-9', 'access-switch-12')
    .device('PC-1', 'desktop', { e0: '10.84.1.11/26' }, { site: 'v' })
    .device('PC-2', 'desktop')
    .cable('PC-1 e0', 'SW-10 p1', 'straight', { cableId: 'KR-2', lengthM: 12 });
  return { ...topology, sites: { v: { name: 'Valley' } } };
};
const of = (id: SheetId) => SHEETS.find((sheet) => sheet.id === id)!;
function table(id: SheetId, topology = sheet()): string[][] {
  return of(id)
    .rows(topology)
    .map((row) => of(id).columns.map((column) => column.read(topology, row)));
}
/** Types texts into cells named "row key/column". */
function typed(id: SheetId, cells: Record<string, string>): { topology: Topology; refused: string[] } {
  const rows = of(id).rows(sheet());
  const { commands, refused } = writeCells(
    sheet(),
    Object.entries(cells).map(([name, text]) => {
      const [key, column] = name.split('/') as [string, string];
      return {
        row: rows.find((row) => row.key === key)!,
        column: of(id).columns.find((candidate) => candidate.key === column)!,
        text,
      };
    }),
  );
  const done = applyBatch(sheet(), 'typed', commands);
  if (!done.ok) throw new Error(done.error);
  const sound = readTopology(done.value.document);
  if (!sound.ok) throw new Error(sound.error[0]!.text);
  return { topology: sound.value, refused };
}

describe('what stands in them', () => {
  test('devices in the order in which people count', () => {
    expect(table('devices').map((row) => row[0])).toEqual(['PC-1', 'PC-2', 'RT-1', 'SW-9', 'SW-10']);
    expect(table('devices')[0]).toEqual(['PC-1', 'Desktop', 'Valley', '10.84.1.11/26', '', '', 'on', '1']);
  });
  test('every port with where it leads', () => {
    const ports = table('ports');
    expect(ports).toContainEqual(['PC-1', 'e0', '', 'SW-10 p1', 'on', '', '10.84.1.11/26']);
    expect(ports).toContainEqual(['SW-10', 'p1', '', 'PC-1 e0', 'on', '1', '']);
    expect(ports.filter((row) => row[0] === 'SW-9')).toHaveLength(17);
  });
  test('links, addresses and VLANs', () => {
    expect(table('links')).toEqual([['KR-2', 'PC-1', 'e0', 'SW-10', 'p1', 'straight-through copper', '12 m']]);
    expect(table('addresses')).toEqual([
      ['PC-1', 'e0', '10.84.1.11/26', '10.84.1.0/26', ''],
      ['RT-1', 'g0', '10.84.1.1/26', '10.84.1.0/26', ''],
    ]);
    expect(table('vlans').map((row) => row.slice(0, 3))).toEqual([
      ['3', 'SW-10', 'Shop'],
      ['20', 'SW-10', 'Tickets'],
    ]);
  });
});

describe('what is typed into them', () => {
  test('names, sites by name, addresses, gateways and power of devices', () => {
    const { topology, refused } = typed('devices', {
      'PC-2/name': 'DESK-2',
      'PC-2/site': 'valley',
      'PC-2/address': '10.84.1.12/26',
      'PC-2/gateway': '10.84.1.1',
      'PC-1/power': 'off',
      'PC-1/dns': '10.84.1.2, 10.84.1.3',
    });
    expect(refused).toEqual([]);
    expect(topology.devices['PC-2']).toMatchObject({
      name: 'DESK-2',
      site: 'v',
      interfaces: { e0: { v4: { addresses: ['10.84.1.12/26'] } } },
      settings: { gateway4: '10.84.1.1' },
    });
    expect(topology.devices['PC-1']).toMatchObject({
      powered: false,
      settings: { dns: ['10.84.1.2', '10.84.1.3'] },
    });
  });
  test('a mistake in an address is kept as it is typed: it becomes a problem that is counted', () => {
    const { topology, refused } = typed('devices', { 'PC-2/address': '10.84.1.300/26' });
    expect(refused).toEqual([]);
    expect(topology.devices['PC-2']!.interfaces!.e0!.v4!.addresses).toEqual(['10.84.1.300/26']);
  });
  test('what cannot be is refused cell by cell, and the others are written', () => {
    const { topology, refused } = typed('devices', {
      'PC-1/site': 'Moon',
      'PC-1/links': '7',
      'SW-9/address': '10.84.1.9/26',
      'PC-2/name': 'DESK-2',
    });
    expect(refused).toEqual([
      'There is no site “Moon”.',
      'Links is worked out and cannot be typed.',
      'SW-9 has no port that carries an address.',
    ]);
    expect(refusedWords(refused)).toMatch(/^3 cells could not take the text/);
    expect(topology.devices['PC-2']!.name).toBe('DESK-2');
  });
  test.each([
    ['20', { kind: 'switched', mode: 'access', accessVlan: 20 }, '20'],
    ['trunk', { kind: 'switched', mode: 'trunk' }, 'trunk all'],
    [
      'trunk 10, 20-22 native 99',
      { kind: 'switched', mode: 'trunk', allowed: [10, 20, 21, 22], native: 99 },
      'trunk 10, 20-22 native 99',
    ],
    ['routed', { kind: 'routed' }, 'routed'],
    ['1', undefined, '1'],
  ])('a switched port in %p', (text, role, shown) => {
    const { topology } = typed('ports', { 'SW-9 p2/role': text });
    expect(topology.devices['SW-9']!.ports?.p2?.role).toEqual(role);
    const row = of('ports')
      .rows(topology)
      .find((row) => row.key === 'SW-9 p2')!;
    expect(
      of('ports')
        .columns.find((column) => column.key === 'role')!
        .read(topology, row),
    ).toBe(shown);
  });
  test.each([
    ['ports', 'SW-9 p2/role', 'trunk 5000', /5000/],
    ['ports', 'SW-9 p2/address', '10.84.1.9/26', /switched port/],
    ['ports', 'PC-1 e0/role', '20', /no switched port/],
    ['ports', 'PC-1 e0/on', 'maybe', /neither on nor off/],
    ['links', 'PC-1-e0-SW-10-p1/b-port', 'p99', /no port “p99”/],
    ['links', 'PC-1-e0-SW-10-p1/medium', 'string', /no medium/],
    ['links', 'PC-1-e0-SW-10-p1/length', 'long', /no length/],
  ] as const)('in %s, %s cannot be %p', (id, cell, text, why) => {
    const { topology, refused } = typed(id, { [cell]: text });
    expect(refused).toEqual([expect.stringMatching(why)]);
    expect(topology).toEqual(sheet());
  });
  test('a cable is replugged, given another medium and length', () => {
    const cell = 'PC-1-e0-SW-10-p1';
    const { topology } = typed('links', {
      [`${cell}/b-port`]: 'p7',
      [`${cell}/medium`]: 'crossover copper',
      [`${cell}/length`]: '7,5 m',
    });
    expect(topology.links[cell]).toMatchObject({ b: { port: 'p7' }, medium: 'crossover', lengthM: 7.5 });
  });
  test('an address that is emptied goes away, VLANs are renamed', () => {
    const gone = typed('addresses', { 'PC-1 e0 4 0/address': '' }).topology;
    expect(gone.devices['PC-1']!.interfaces!.e0!.v4).toBeUndefined();
    const named = typed('vlans', { 'SW-10 20/name': 'Desks' }).topology;
    expect(named.devices['SW-10']!.settings!.vlans).toEqual({ 20: 'Desks', 3: 'Shop' });
  });
});
