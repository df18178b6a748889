import { SHEETS } from '../bench';
import { demoLab } from '../tests/topologies';
import { type Topology, emptyTopology } from '../topology';
import { type Imported, readDrawingFiles, readSheets, writeSheet, writeTables } from '.';

const got = (tables: Record<string, string>, there: Topology = emptyTopology()): Imported => {
  const read = readSheets(tables, there);
  if (!read.ok) throw new Error(read.error[0]!.text);
  return read.value;
};
const named = ({ topology: { devices } }: Imported, name: string) =>
  Object.values(devices).find((device) => device.name === name)!;
const cables = ({ topology: { devices, links } }: Imported): string[] =>
  Object.values(links)
    .map(({ a, b, medium }) => `${devices[a.device]!.name} ${a.port} ${medium} ${devices[b.device]!.name} ${b.port}`)
    .sort();

const DEVICES = `Device name;Type;Location;IP address;Subnet mask;Default gateway
SUMMIT-RT;router;Summit;10.84.1.1;255.255.255.192;
SUMMIT-SW;switch;Summit;;;
TILL-1;till;Summit;10.84.1.2;255.255.255.192;10.84.1.1
TILL-2;till;Summit;dhcp;;
`;
const LINKS = `From;Port;To;Port;Cable type;Length;Cable
SUMMIT-RT;g0;SUMMIT-SW;u1;straight-through copper;2,5 m;C-1
summit-sw;p1;TILL-1;;copper;;C-2
SUMMIT-SW;;TILL-2;;;;
`;

test('tables of devices and links become a drawing, with everyday headings and words', () => {
  const read = got({ 'devices.csv': DEVICES, 'links.csv': LINKS });
  expect(read.left).toEqual([]);
  expect(read.joined).toBeUndefined();
  expect(named(read, 'SUMMIT-RT')).toMatchObject({
    model: 'border-router',
    interfaces: { g0: { v4: { addresses: ['10.84.1.1 255.255.255.192'] } } },
  });
  expect(named(read, 'TILL-1')).toMatchObject({ model: 'till', settings: { gateway4: '10.84.1.1' } });
  expect(named(read, 'TILL-2').interfaces).toMatchObject({ e0: { v4: { dhcp: true } } });
  expect(Object.values(read.topology.sites)).toEqual([{ name: 'Summit' }]);
  expect(cables(read)).toEqual([
    'SUMMIT-RT g0 straight SUMMIT-SW u1',
    'SUMMIT-SW p1 straight TILL-1 e0',
    'SUMMIT-SW p2 straight TILL-2 e0',
  ]);
  expect(Object.values(read.topology.links)[0]).toMatchObject({ cableId: 'C-1', lengthM: 2.5 });
});

test('devices with a name that is there are changed, others are added below them', () => {
  const first = got({ 'devices.csv': DEVICES, 'links.csv': LINKS }).topology;
  const again = got({ 'devices.csv': DEVICES, 'links.csv': LINKS }, first);
  expect(again).toEqual({ topology: first, left: [], joined: true });
  const more = got({ 'd.csv': 'Name,Site,Gateway\ntill-1,,10.84.1.62\nCAM-1,Valley,\n' }, first);
  expect(more.left).toEqual([]);
  expect(named(more, 'TILL-1')).toMatchObject({ model: 'till', settings: { gateway4: '10.84.1.62' } });
  expect(named(more, 'CAM-1').model).toBe('camera');
  const lowest = Math.max(...Object.values(first.devices).map((device) => device.at.y));
  expect(named(more, 'CAM-1').at.y).toBeGreaterThan(lowest);
});

test('links alone join devices that are there, and make those that are not', () => {
  const { topology } = got({ 'devices.csv': DEVICES });
  const read = got({ 'l.csv': 'Source,Destination\nTILL-1,SUMMIT-SW\nPRINTER-9,SUMMIT-SW\n' }, topology);
  expect(cables(read)).toEqual(['PRINTER-9 e0 straight SUMMIT-SW p2', 'TILL-1 e0 straight SUMMIT-SW p1']);
  expect(named(read, 'PRINTER-9').model).toBe('printer');
});

test('a line for each interface, as address tables have it', () => {
  const read = got({
    'a.csv': 'Device,Interface,IP,Mask\nRT-1,Gig 0/0,10.84.1.1,/26\nRT-1,Gig 0/1,10.84.1.65,/26\n',
  });
  expect(read.left).toEqual([]);
  expect(named(read, 'RT-1').interfaces).toMatchObject({
    'Gig-0/0': { v4: { addresses: ['10.84.1.1/26'] } },
    'Gig-0/1': { v4: { addresses: ['10.84.1.65/26'] } },
  });
});

test('the tables that the strip gives come back: the same drawing, and from nothing the same network', () => {
  const drawing = demoLab('three-stations').reference;
  const sheet = (id: string) =>
    writeSheet(
      drawing,
      SHEETS.find((sheet) => sheet.id === id)!,
    );
  const tables = { 'devices.csv': sheet('devices'), 'links.csv': sheet('links') };
  expect(got(tables, drawing)).toEqual({ topology: drawing, left: [], joined: true });
  const fresh = got(tables);
  expect(fresh.left).toEqual([]);
  expect(cables(fresh)).toEqual(cables({ topology: drawing, left: [] }));
  const addresses = ({ devices }: Topology) =>
    Object.fromEntries(
      Object.values(devices).map(({ name, interfaces }) => [name, Object.values(interfaces ?? {})[0]?.v4 ?? null]),
    );
  const hosts = (topology: Topology) =>
    Object.entries(addresses(topology)).filter(([name]) => /TILL|DESK|CAM/.test(name));
  expect(hosts(fresh.topology)).toEqual(expect.arrayContaining(hosts(drawing)));
});

test('what cannot be read is told with its row, and the rest is taken', () => {
  const { left, topology } = got({
    'd.csv': 'Name,Type,Power,Colour\nA-1,desktop,maybe,red\n,desktop,,\nB-1,=1+1,,\n',
    'l.csv': 'From,To,Length,Medium\nA-1,,,\nA-1,Z-9,,\nA-1,B-1,long,rope\n',
  });
  expect(left).toEqual([
    'd.csv: the column Colour.',
    'd.csv, row 4: "=1+1" is a formula, not a value.',
    'd.csv, row 3: the device has no name.',
    'l.csv, row 2: a link needs a device at both ends.',
    'l.csv, row 4: “long” is no length in metres.',
    expect.stringMatching(/^The kind of B-1 is not said/),
    'The link from "A-1" to "Z-9" was left out: there is no "Z-9".',
    'The link from "A-1" to "B-1" has the unknown medium "rope": it got one that fits.',
    'd.csv, row 2: “maybe” is neither on nor off.',
  ]);
  expect(Object.values(topology.devices).map((device) => device.name)).toEqual(['A-1', 'B-1']);
});

test('a table that tells neither devices nor links, and files that do not go together, are refused', () => {
  const refused = (files: Record<string, string>): string => {
    const read = readDrawingFiles(files, emptyTopology());
    if (read.ok) throw new Error('It was taken.');
    return `${read.error[0]!.place}: ${read.error[0]!.text}`;
  };
  expect(refused({ 'marks.csv': 'Student,Mark\nA,1\n' })).toMatch(/^marks\.csv, line 1: The first line tells neither/);
  expect(refused({ 'a.yaml': '', 'b.json': '{}' })).toMatch(/one is taken at a time/);
  expect(refused({ 'a.yaml': '', 'b.csv': '' })).toMatch(/Choose either tables or one other file/);
  expect(refused({ 'big.csv': `Name\n${'x'.repeat(10_500_000)}` })).toMatch(/at most 10 MB/);
});

test('a folder of Sobrin’s own tables is known as such, and is the drawing to the letter', () => {
  const drawing = demoLab('three-stations').reference;
  expect(readDrawingFiles(writeTables(drawing), emptyTopology())).toEqual({
    ok: true,
    value: { topology: drawing, left: [] },
  });
});

test('two cables never come into one port because a cell is empty: what is said of ports holds first', () => {
  const links = 'From,From port,To\nSW-1,,PC-1\nSW-1,p1,PC-2\nSW-1,,PC-3\n';
  const read = got({ 'devices.csv': 'Name,Type\nSW-1,switch\nPC-1,pc\nPC-2,pc\nPC-3,pc\n', 'links.csv': links });
  const ports = Object.values(read.topology.links).map(({ a }) => a.port);
  expect(new Set(ports).size).toBe(3);
  expect(cables(read)).toContain('SW-1 p1 straight PC-2 e0');
});

test('an address that none can be, and a kind that nobody knows, are told by their row', () => {
  const { topology, left } = got({
    'a.csv': 'Name,Type,IP,Mask\nPC-1,pc,10.84.1.300,24\nX-1,warp drive,,\nPC-2,spaceship,,\n',
  });
  expect(left).toEqual([
    expect.stringMatching(
      /^a\.csv, row 3: “warp drive” is no kind of device that is known: X-1 was taken as a desktop/,
    ),
    // Whatever its name says: what is written in the column is not dropped without a word.
    expect.stringMatching(/^a\.csv, row 4: “spaceship” is no kind .*: PC-2 was taken as a desktop by its name/),
    expect.stringMatching(/^a\.csv, row 2: .*300/),
  ]);
  // It is a mistake that somebody may want to see: it stands as it was written.
  expect(Object.values(topology.devices)[0]!.interfaces!.e0!.v4!.addresses).toEqual(['10.84.1.300/24']);
});

test.each([
  ['Equipment,Category,Location,IP addr,Net mask,GW', 'SW,multilayer switch,Valley,,,', 'l3-switch'],
  ['Computer,Kind,Floor,IP,CIDR,Default router', 'A,notebook,1,10.84.1.2,26,10.84.1.1', 'laptop'],
  ['Device,Role,Area,IP address,Prefix,Gateway', 'A,wlan ap,Summit,,,', 'access-point'],
  ['Host name,Device type,Department,Address,Netmask,Default GW', 'A,IP phone,Shop,,,', 'phone'],
])('everyday headings are known: %s', (head, row, model) => {
  const { topology, left } = got({ 'a.csv': `${head}\n${row}\n` });
  expect([left, Object.values(topology.devices).map((device) => device.model)]).toEqual([[], [model]]);
});
test('and those of tables of cables', () => {
  const read = got({
    'a.csv':
      'Local device,Local port,Neighbour,Neighbour port,Link type,Cable length,Cable no\nSW,u1,RT,g0,Cat 6,3 m,7\n',
  });
  expect(Object.values(read.topology.links)).toMatchObject([{ medium: 'straight', lengthM: 3, cableId: '7' }]);
  expect(read.left.join()).not.toMatch(/column/);
});
test('ids of what is new end as whoever reads it says, so that two readings never meet', () => {
  const table = { 'a.csv': 'Name,Type\nSW-1,switch\n' };
  const ids = ['-k3f9x', '-8m2qa'].map((ending) => {
    const read = readSheets(table, emptyTopology(), () => ending);
    return read.ok ? Object.keys(read.value.topology.devices)[0] : '';
  });
  expect(ids).toEqual(['SW-1-k3f9x', 'SW-1-8m2qa']);
});
