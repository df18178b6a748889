import { cellWords, writeGrid, writePairs } from '../../formats';
import { Sheet, demoLab, twoLans } from '../../tests/topologies';
import { type Topology } from '../../topology';
import {
  type Grid,
  type GridRequest,
  analyse,
  cellReasons,
  failingParts,
  failureOf,
  gridOf,
  partName,
  signIn,
  switchOff,
} from '..';

const gridFor = (drawing: Topology, wish: Partial<GridRequest> = {}): Grid =>
  gridOf(analyse(drawing), { by: 'device', ...wish });
const cellOf = (grid: Grid, from: string, to: string): string => {
  const place = (name: string): number => grid.rows.findIndex((row) => row.name === name);
  return cellWords(grid, place(from), place(to));
};

test('every pair of devices with addresses is asked, both ways, and nobody about oneself', () => {
  const grid = gridFor(twoLans());
  expect(grid.rows.map((row) => row.name)).toEqual(['A', 'B', 'R']);
  expect([cellOf(grid, 'A', 'B'), cellOf(grid, 'B', 'A'), cellOf(grid, 'A', 'R'), cellOf(grid, 'A', 'A')]).toEqual([
    'yes',
    'yes',
    'yes',
    '',
  ]);
});

test('a router with one address that cannot be reached is reached in part', () => {
  const drawing = twoLans();
  // Nothing on the second LAN: that interface of the router is down, its address is nobody's.
  const { 'R-g1-SB-u1': _cut, ...links } = drawing.links;
  const grid = gridFor({ ...drawing, links });
  expect(cellOf(grid, 'A', 'R')).toBe('1 of 2');
  expect(cellOf(grid, 'A', 'B')).toBe('no');
});

test('by subnet a sender speaks for its subnet, and the address that is asked for counts in its own', () => {
  const grid = gridFor(twoLans(), { by: 'subnet' });
  expect(grid.rows.map((row) => row.name)).toEqual(['10.84.1.0/24', '10.84.2.0/24']);
  expect(cellOf(grid, '10.84.1.0/24', '10.84.2.0/24')).toBe('yes');
  // A asks R, R asks A; the router is in both.
  const [at] = [grid.rows.length + 1];
  expect(grid.yes[0]! + grid.yes[at]!).toBe(4);
});

test('by site, by kind, and one family only', () => {
  const lab = demoLab('three-stations').reference;
  const sites = gridFor(lab, { by: 'site' });
  expect(sites.rows.map((row) => row.name)).toEqual(['Middle Station', 'Summit Station', 'Valley Station']);
  expect(gridFor(lab, { by: 'kind' }).rows.map((row) => row.name)).toContain('camera');
  expect(gridFor(lab, { family: 6 }).yes.some((count) => count > 0)).toBe(false);
});

test('by groups that somebody named: a device may be in several, and one that is in none is not asked', () => {
  const groups = {
    ends: { name: 'ends', devices: ['A', 'B'] },
    all: { name: 'all', devices: ['A', 'B', 'R'] },
    none: { name: 'none', devices: ['X'] },
  };
  const grid = gridFor(twoLans(), { by: 'group', groups });
  expect(grid.rows.map((row) => row.name)).toEqual(['all', 'ends']);
  expect(cellOf(grid, 'ends', 'ends')).toBe('yes');
  // A and B ask one another; each of them and R ask for the others’ addresses.
  expect([...grid.yes]).toEqual([8, 4, 6, 2]);
});

describe('why', () => {
  const cut = twoLans();
  cut.devices.A!.settings = {};
  test('a cell tells what keeps its pairs apart, most first', () => {
    const wish = { by: 'kind' as const, row: 'desktop', column: 'desktop' };
    // A cannot send to B, and cannot answer it either.
    expect(cellReasons(analyse(cut), wish)).toEqual([
      { text: '10.84.2.11 is not in a subnet of A, and it has no gateway.', count: 2 },
    ]);
    expect(cellReasons(analyse(twoLans()), wish)).toEqual([]);
  });
  test('all pairs go out as lines with their reasons', () => {
    const lines = writePairs(analyse(cut), { by: 'device' }).trim().split('\r\n');
    expect(lines[0]).toBe('from,to,address,answer,code,reason');
    expect(lines).toContainEqual(expect.stringMatching(/^A,B,10\.84\.2\.11,no,NO_GATEWAY,.*no gateway/));
    expect(lines).toContainEqual(expect.stringMatching(/^B,R,10\.84\.2\.1,yes,,$/));
  });
});

test('a connection counts as reached only where something listens', () => {
  const drawing = twoLans();
  const services = { web: { enabled: true, port: 80 } };
  drawing.devices.B = { ...drawing.devices.B!, settings: { ...drawing.devices.B!.settings, services } };
  const grid = gridFor(drawing, { probe: { protocol: 'tcp', port: 80 } });
  expect([cellOf(grid, 'A', 'B'), cellOf(grid, 'B', 'A')]).toEqual(['yes', 'no']);
});

test('as a table: a row for whoever sends; names that a spreadsheet would calculate are not', () => {
  const drawing = twoLans();
  drawing.devices.A!.name = '=A1';
  const lines = writeGrid(gridFor(drawing)).split('\r\n');
  expect(lines[0]).toBe("from \\ to,'=A1,B,R");
  expect(lines[2]).toBe('B,yes,,yes');
});

describe('switched off for the moment', () => {
  test.each([
    ['a device', { kind: 'device', id: 'R' }, 'no'],
    ['a link', { kind: 'link', id: 'SB-p1-B-e0' }, 'no'],
    ['a port', { kind: 'port', device: 'SA', port: 'p1' }, 'no'],
    ['a device that is not there', { kind: 'device', id: 'nobody' }, 'yes'],
  ] as const)('%s', (_what, part, answer) => {
    const drawing = twoLans();
    const before = JSON.stringify(drawing);
    expect(cellOf(gridFor(drawing, { off: [part] }), 'A', 'B')).toBe(answer);
    expect(JSON.stringify(drawing)).toBe(before);
  });
  test('a filter lets everything through while it is off', () => {
    const drawing = twoLans();
    const r = drawing.devices.R!;
    const any = { kind: 'any' } as const;
    r.settings = { filters: { SHUT: { family: 4, rules: [{ action: 'deny', proto: 'ip', src: any, dst: any }] } } };
    r.interfaces = { ...r.interfaces, g0: { ...r.interfaces!.g0!, filterIn4: 'SHUT' } };
    const part = { kind: 'filter', device: 'R', filter: 'SHUT' } as const;
    expect([cellOf(gridFor(drawing), 'A', 'B'), cellOf(gridFor(drawing, { off: [part] }), 'A', 'B')]).toEqual([
      'no',
      'yes',
    ]);
    expect(partName(drawing, part)).toBe('filter SHUT of R');
    expect(partName(drawing, { ...part, filter: 'filter-1' })).toBe('filter-1 of R');
  });
});

describe('single failures', () => {
  test('hosts are not asked about, and what fails cuts off those behind it', () => {
    const drawing = twoLans();
    const parts = failingParts(drawing);
    expect(parts.map((part) => partName(drawing, part))).toEqual([
      'R',
      'SA',
      'SB',
      'R g0 – SA u1',
      'R g1 – SB u1',
      'SA p1 – A e0',
      'SB p1 – B e0',
    ]);
    const model = analyse(drawing);
    // A and B reach one another and the router's two addresses each, and it them: 2 + 4 + 2 pairs.
    expect(failureOf(model, { kind: 'link', id: 'SB-p1-B-e0' })).toMatchObject({
      of: 8,
      cutOff: expect.arrayContaining(['A', 'B', 'R']) as string[],
    });
    // Without the router only its own pairs are not counted: A to B and back are lost.
    expect(failureOf(model, { kind: 'device', id: 'R' })).toMatchObject({ lost: 2, of: 2, cutOff: ['A', 'B'] });
  });
  test('where there are two ways nothing is cut off', () => {
    const ring = new Sheet()
      .device('S1', 'access-switch-12')
      .device('S2', 'access-switch-12')
      .device('S3', 'access-switch-12')
      .host('A', '10.84.1.11/24')
      .host('B', '10.84.1.12/24')
      .cable('S1 u1', 'S2 u1', 'crossover')
      .cable('S2 u2', 'S3 u2', 'crossover')
      .cable('S3 u1', 'S1 u2', 'crossover')
      .cable('S1 p1', 'A e0')
      .cable('S2 p1', 'B e0').topology;
    for (const id of Object.keys(ring.devices))
      if (id.startsWith('S')) ring.devices[id]!.settings = { spanningTree: { on: true } };
    const model = analyse(ring);
    const lost = (id: string): number => failureOf(model, { kind: 'link', id }).lost;
    expect(['S1-u1-S2-u1', 'S2-u2-S3-u2', 'S3-u1-S1-u2'].map(lost)).toEqual([0, 0, 0]);
    expect(lost('S1-p1-A-e0')).toBe(2);
  });
});

test('what is off is off, and nothing else changes; what is not there is not made', () => {
  const drawing = twoLans();
  const link = 'SA-p1-A-e0';
  expect(switchOff(drawing, [{ kind: 'link', id: link }])).toEqual({
    kind: 'edits',
    edits: [{ path: ['links', link, 'broken'], value: true }],
  });
  const gone = { device: 'gone', port: 'p1', filter: 'F' };
  const parts = (['device', 'link', 'port', 'filter'] as const).map((kind) => ({ kind, id: 'gone', ...gone }));
  expect(switchOff(drawing, parts)).toEqual({ kind: 'edits', edits: [] });
});

test('who can sign in where: reached, taken, known there, and with the password to change settings', () => {
  const drawing = twoLans();
  const manage = (management: object) => ({ ...drawing.devices.R!.settings, management });
  const asked = (management: object, signIn: GridRequest['signIn']) => {
    drawing.devices.R!.settings = manage(management);
    return cellOf(gridFor(drawing, { signIn }), 'A', 'R');
  };
  const users = [{ name: 'maren', password: 'p' }];
  const [look, change] = [
    { by: 'ssh', changing: false },
    { by: 'ssh', changing: true },
  ] as const;
  expect(asked({ ssh: true, users }, look)).toBe('yes');
  expect(asked({ telnet: true, users }, look)).toBe('no');
  expect(asked({ telnet: true, users }, { by: 'telnet', changing: false })).toBe('yes');
  expect(asked({ ssh: true, users: [{ name: 'maren' }] }, look)).toBe('no');
  expect(asked({ ssh: true, users }, change)).toBe('no');
  expect(asked({ ssh: true, users, privileged: 'hashed' }, change)).toBe('yes');
  // Hosts take nobody; and the reason of a cell is what the question itself would say.
  expect(cellOf(gridFor(drawing, { signIn: look }), 'B', 'A')).toBe('no');
  drawing.devices.R!.settings = manage({ ssh: true, users });
  expect(cellReasons(analyse(drawing), { by: 'device', signIn: change, row: 'A', column: 'R' })).toEqual([
    {
      count: 2,
      text: 'maren can sign in at R by ssh. Nobody may change settings over the network: R has no password for that.',
    },
  ]);
});

test('one signs in at whichever address of a device is reached', () => {
  const drawing = twoLans();
  drawing.devices.R!.settings = { management: { ssh: true, users: [{ name: 'maren', password: 'p' }] } };
  const { 'R-g0-SA-u1': _cut, ...links } = drawing.links;
  const model = analyse({ ...drawing, links });
  expect(signIn(model, { from: 'B', to: 'R', address: null, by: 'ssh' }).answer).toBe('yes');
  expect(signIn(model, { from: 'A', to: 'R', address: null, by: 'ssh' }).answer).toBe('no');
});
