import fc from 'fast-check';
import { Sheet, demoLab } from '../tests/topologies';
import { type Topology, applyBatch, emptyTopology, withGiven } from '../topology';
import {
  CHIP,
  addressUnder,
  LEGEND_ROW,
  NOTE_ROW,
  legendLines,
  legendTones,
  lengthOf,
  linkVlans,
  mediumForm,
  sceneOf,
  shortAddress,
  spread,
  stationAt,
  textsBox,
  tilesOf,
  toneOfVlan,
  vlansOf,
} from '.';

const labOf = (slug: string): Topology => demoLab(slug).reference;
const at = (x: number, y: number) => ({ at: { x, y } });

test('network devices lie with room for their name, hosts stand 40 by 40', () => {
  const { topology } = new Sheet().device('a-rather-long-switch-name', 'access-switch-12').host('PC', '10.0.0.1/24');
  const tiles = tilesOf(topology);
  expect(tiles.get('PC')).toMatchObject({ shape: 'standing', width: 40, height: 40, tag: 'PC' });
  expect(tiles.get('a-rather-long-switch-name')!.width).toBeGreaterThan(25 * 7);
});

test('a link between tiles one above the other is upright, and its chips touch the edges from outside', () => {
  const { topology } = new Sheet()
    .device('R', 'border-router', {}, at(0, 0))
    .device('S', 'access-switch-12', {}, at(30, 120))
    .cable('R g0', 'S u1');
  const tiles = tilesOf(topology);
  const [line] = [...sceneOf(topology).lines.values()];
  expect(line!.a.x).toBe(line!.b.x);
  expect([line!.a.side, line!.b.side]).toEqual(['bottom', 'top']);
  expect([line!.a.y, line!.b.y]).toEqual([tiles.get('R')!.height + 5, 115]);
});

test('parallel links do not touch, and neither do the chips of one edge', () => {
  const sheet = new Sheet().device('A', 'l3-switch', {}, at(0, 0)).device('B', 'l3-switch', {}, at(400, 0));
  for (const port of ['p1', 'p2']) sheet.cable(`A ${port}`, `B ${port}`);
  const lines = [...sceneOf(sheet.topology).lines.values()];
  expect(Math.abs(lines[0]!.a.y - lines[1]!.a.y)).toBeGreaterThanOrEqual(16);
  expect(lines[0]!.a.y).toBe(lines[0]!.b.y);
});

test.each(['valley-lan', 'three-stations'])(
  'in %s no two chips lie on each other and every line has its own ends',
  (slug) => {
    const { lines, tiles } = sceneOf(labOf(slug));
    const chips = [...lines.values()].flatMap((line) => [line.a, line.b]);
    for (const [index, chip] of chips.entries())
      for (const other of chips.slice(index + 1))
        expect(Math.hypot(chip.x - other.x, chip.y - other.y)).toBeGreaterThanOrEqual(9.5);
    const boxes = [...tiles.values()];
    for (const [index, tile] of boxes.entries())
      for (const other of boxes.slice(index + 1)) {
        const apart =
          tile.x + tile.width <= other.x ||
          other.x + other.width <= tile.x ||
          tile.y + tile.height <= other.y ||
          other.y + other.height <= tile.y;
        expect(apart).toBe(true);
      }
  },
);

test('the sites of Three Stations stand beside each other and hold all that belongs to them', () => {
  const topology = labOf('three-stations');
  const { sites, tiles } = sceneOf(topology);
  for (const [index, site] of sites.entries())
    for (const other of sites.slice(index + 1))
      expect(site.x + site.width <= other.x || other.x + other.width <= site.x).toBe(true);
  for (const [id, device] of Object.entries(topology.devices)) {
    const [site, tile] = [sites.find((site) => site.id === device.site)!, tiles.get(id)!];
    expect(
      tile.x >= site.x &&
        tile.x + tile.width <= site.x + site.width &&
        tile.y >= site.y &&
        tile.y + tile.height <= site.y + site.height,
    ).toBe(true);
  }
});

test('a subnet is written once under its hosts, and brackets of one row never overlap', () => {
  const { brackets, linkSubnets } = sceneOf(labOf('three-stations'));
  expect(brackets.map((bracket) => bracket.prefix).sort()).toEqual([
    '10.84.1.0/26',
    '10.84.1.64/27',
    '10.84.4.0/28',
    '10.84.4.64/26',
    '10.84.9.0/27',
    '10.84.9.32/29',
  ]);
  for (const [index, bracket] of brackets.entries())
    for (const other of brackets.slice(index + 1))
      expect(bracket.y !== other.y || bracket.to < other.from || other.to < bracket.from).toBe(true);
  expect(linkSubnets.map((subnet) => subnet.prefix).sort()).toEqual(['10.84.15.0/30', '10.84.15.4/30']);
});

test('both families are written, and of a link what its two ends share or a trunk carries', () => {
  const on = (port: string, four: string[], six: string[], vlan?: number) => ({
    on: vlan === undefined ? { kind: 'port' as const, port } : { kind: 'sub' as const, port, vlan },
    v4: { addresses: four },
    v6: { addresses: six },
  });
  const { topology } = new Sheet()
    .device('R', 'border-router', {}, at(0, 0))
    .device('Q', 'border-router', {}, at(600, 0))
    .device('S', 'access-switch-12', {}, at(0, 260))
    .device('A', 'desktop', {}, at(0, 500))
    .device('B', 'desktop', {}, at(240, 500))
    .cable('R g0', 'Q g0')
    .cable('R g1', 'S u1')
    .cable('S p1', 'A e0')
    .cable('S p2', 'B e0');
  topology.devices.R!.interfaces = {
    g0: on('g0', ['10.0.0.1/30', '10.9.0.1/24'], ['fd00:1::1/64']),
    'g1.20': on('g1', ['10.0.20.1/24'], [], 20),
    'g1.30': on('g1', ['10.0.30.1/24'], ['fd00:30::1/64'], 30),
  };
  topology.devices.Q!.interfaces = { g0: on('g0', ['10.0.0.2/30'], ['fd00:1::2/64']) };
  topology.devices.A!.interfaces = { e0: on('e0', ['10.0.30.11/24'], ['fd00:30::11/64']) };
  topology.devices.B!.interfaces = { e0: on('e0', ['10.0.30.12/24'], []) };
  const { brackets, linkSubnets } = sceneOf(topology);
  expect(brackets.map(({ lines, members }) => [lines, members])).toEqual([
    [
      ['10.0.30.0/24', 'fd00:30::/64'],
      ['A', 'B'],
    ],
  ]);
  expect(linkSubnets.map(({ prefix }) => prefix)).toEqual([
    '10.0.0.0/30 · fd00:1::/64',
    '10.0.20.0/24 · 10.0.30.0/24 · fd00:30::/64',
  ]);
});

test('a host that leases shows its lease as such, and lies in the bracket of its subnet', () => {
  const { topology } = new Sheet()
    .device('A', 'desktop', { e0: '10.0.0.2/24' }, at(0, 0))
    .device('B', 'desktop', {}, at(90, 0));
  topology.devices.B!.interfaces = { e0: { on: { kind: 'port', port: 'e0' }, v4: { dhcp: true } } };
  const given = [{ device: 'B', member: null, interface: 'e0', addresses: ['10.0.0.9/24', 'fd00::9/64'] }];
  const seen = withGiven(topology, given);
  expect(sceneOf(topology).brackets[0]!.members).toEqual(['A']);
  expect(sceneOf(seen).brackets[0]).toMatchObject({
    members: ['A', 'B'],
    lines: ['10.0.0.0/24, 1 leased', 'fd00::/64'],
  });
  const written = (bracketed: boolean) => Object.values(seen.devices).map((device) => addressUnder(device, bracketed));
  expect([written(true), written(false)]).toEqual([
    ['.2', '.9'],
    ['10.0.0.2/24', '10.0.0.9/24 leased'],
  ]);
  expect(topology.devices.B!.interfaces.e0!.v4).toEqual({ dhcp: true });
  // What did not change stays the same value, and is not drawn anew.
  expect(seen.devices.A).toBe(topology.devices.A);
  expect(withGiven({ ...topology }, structuredClone(given)).devices.B).toBe(seen.devices.B);
});

test('the name of a host stands where none of its links leaves, and its subnet on the same side', () => {
  const sheet = new Sheet().device('S', 'access-switch-12', {}, at(0, 200));
  for (const index of [1, 2]) {
    sheet
      .device(`UP${index}`, 'desktop', { e0: `10.84.1.${index}/24` }, at(index * 70, 0))
      .cable(`UP${index} e0`, `S p${index}`);
    sheet.device(`LOW${index}`, 'desktop', { e0: `10.84.1.1${index}/24` }, at(index * 70, 400));
    sheet.cable(`LOW${index} e0`, `S p${index + 4}`);
  }
  const { tiles, brackets } = sceneOf(sheet.topology);
  expect(['UP1', 'UP2', 'LOW1', 'LOW2'].map((id) => tiles.get(id)!.texts)).toEqual(['top', 'top', 'bottom', 'bottom']);
  expect(brackets.map((bracket) => [bracket.members[0], bracket.above, bracket.y < 0])).toEqual([
    ['LOW1', false, false],
    ['UP1', true, true],
  ]);
});

test('a name whose side was chosen keeps that side, clear of the chip there', () => {
  const { topology } = new Sheet()
    .device('S', 'access-switch-12', {}, at(0, 200))
    .device('PC', 'desktop', {}, { ...at(20, 0), label: { side: 'bottom' } })
    .cable('PC e0', 'S p1');
  const { tiles, lines } = sceneOf(topology);
  const tile = tiles.get('PC')!;
  const { a: chip } = [...lines.values()][0]!;
  expect(tile.texts).toBe('bottom');
  expect(textsBox(tile, '')!.y).toBeGreaterThan(chip.y + CHIP / 2);
});

test('a column of hosts has no room for brackets between them, and gets none', () => {
  const sheet = new Sheet();
  for (const at of [0, 1, 2])
    sheet.device(`H${at}`, 'desktop', { e0: `10.84.1.${at + 1}/24` }, { at: { x: 0, y: at * 90 } });
  expect(sceneOf(sheet.topology).brackets.map((bracket) => bracket.members)).toEqual([['H2']]);
});

test('an address is short where its subnet is written, and left alone where it cannot be read', () => {
  expect([shortAddress('10.84.1.11/26'), shortAddress('10.84.1.300/26'), shortAddress('fd00::1/64')]).toEqual([
    '.11',
    '10.84.1.300/26',
    'fd00::1/64',
  ]);
});

test('places along an edge keep their distance, their order and the bounds', () => {
  fc.assert(
    fc.property(fc.array(fc.integer({ min: -200, max: 400 }), { minLength: 1, maxLength: 9 }), (wishes) => {
      const sorted = [...wishes].sort((a, b) => a - b);
      const places = spread(sorted, 0, 200, 20);
      for (const [index, place] of places.entries()) {
        expect(place).toBeGreaterThanOrEqual(-1e-9);
        expect(place).toBeLessThanOrEqual(200 + 1e-9);
        if (index) expect(place - places[index - 1]!).toBeGreaterThanOrEqual(20 - 1e-9);
      }
    }),
  );
});

test('media are told apart by form: every one has its own strokes or beads', () => {
  const points = [
    { x: 0, y: 0 },
    { x: 140, y: 0 },
  ];
  const media = ['straight', 'crossover', 'rollover', 'mm-fibre', 'sm-fibre', 'serial', 'coax', 'phone'] as const;
  expect(new Set(media.map((medium) => JSON.stringify(mediumForm({ medium, points })))).size).toBe(media.length);
  expect(mediumForm({ medium: 'sm-fibre', points }).beads.length).toBeGreaterThan(8);
  const serial = { medium: 'serial' as const, points };
  expect(mediumForm({ ...serial, clock: 'a' })).not.toEqual(mediumForm({ ...serial, clock: 'b' }));
});

test('a thicker or thinner line is the same form: no medium is taken for another at any thickness', () => {
  const points = [
    { x: 0, y: 0 },
    { x: 140, y: 0 },
  ];
  const media = ['straight', 'crossover', 'rollover', 'mm-fibre', 'sm-fibre', 'serial', 'coax', 'phone'] as const;
  const signs = new Set<string>();
  for (const medium of media) {
    const usual = mediumForm({ medium, points });
    for (const scale of [0.75, 1, 1.5]) {
      const { strokes, ...rest } = mediumForm({ medium, points, scale });
      const { strokes: known, ...same } = usual;
      expect(rest).toEqual(same);
      expect(strokes.map(({ d }) => d)).toEqual(known.map(({ d }) => d));
      expect(strokes.map(({ width }) => width)).toEqual(known.map(({ width }) => width * scale));
      signs.add(`${medium} ${JSON.stringify([strokes.map(({ d }) => d), rest])}`);
    }
  }
  expect(signs.size).toBe(media.length);
});
test('bends are round, or corners where that is said; a tint is there only beside a word', () => {
  const { topology } = new Sheet()
    .device('R', 'border-router', {}, at(0, 0))
    .device('S', 'access-switch-12', {}, at(300, 300))
    .cable('R g0', 'S u1', 'straight', { bends: [{ x: 20, y: 200 }], tint: 3, thickness: 'thick' });
  const [id] = Object.keys(topology.links);
  const line = () => sceneOf(topology).lines.get(id!)!;
  expect(mediumForm(line()).strokes[0]!.d).toContain('Q');
  expect(line()).toMatchObject({ word: '', tint: null, scale: 1.5 });
  topology.links = { [id!]: { ...topology.links[id!]!, label: ' Pylon ', corners: 'square' } };
  expect(mediumForm(line()).strokes[0]!.d).not.toContain('Q');
  expect(line()).toMatchObject({ word: 'Pylon', tint: 3 });
});

test('a station on a bent line lies at the asked distance along it', () => {
  const bent = [
    { x: 0, y: 0 },
    { x: 30, y: 0 },
    { x: 30, y: 40 },
  ];
  expect(lengthOf(bent)).toBe(70);
  expect(stationAt(bent, 50)).toMatchObject({ x: 30, y: 20, along: { x: 0, y: 1 } });
});

describe('the legend', () => {
  const withLegend = (legend: string): Topology => ({
    ...emptyTopology(),
    title: 'Valley',
    author: 'M. O.',
    legend,
    devices: { s: { name: 'SW', model: 'access-switch-12', ...at(40, 100) } },
  });
  test('stands below what is drawn, with title and author, and is absent where there is none', () => {
    expect(sceneOf(withLegend('  \n')).legend).toBeNull();
    expect(sceneOf({ ...withLegend('Beads: fibre'), devices: {} }).legend).toBeNull();
    const card = sceneOf(withLegend('Beads: fibre')).legend!;
    expect(card).toMatchObject({ x: 40, heading: 'Legend · Valley · M. O.' });
    expect(card.y).toBeGreaterThan(144);
  });
  test('grows with its lines and with lines too long for one row', () => {
    const heightOf = (legend: string): number => sceneOf(withLegend(legend)).legend!.height;
    expect(heightOf('a\nb') - heightOf('a')).toBe(LEGEND_ROW);
    expect(heightOf('a long line '.repeat(20)) - heightOf('a')).toBe(LEGEND_ROW);
  });
  test('a line that speaks of a VLAN has the tone that the number has among all that are named', () => {
    const lines = legendLines(
      'Subnets:\nOffice · VLAN 20 · 10.84.2.0/26\nDesks · VLAN 10 · 10.84.1.0/26\nLink · 10.84.9.0/31',
    );
    expect(lines.map((line) => line.vlan)).toEqual([null, 20, 10, null]);
    expect([...legendTones(lines)]).toEqual([
      [10, 1],
      [20, 2],
    ]);
  });
});

describe('VLANs on links', () => {
  const access = (accessVlan: number) => ({ role: { kind: 'switched' as const, mode: 'access' as const, accessVlan } });
  const trunk = (allowed?: number[]) => ({
    role: { kind: 'switched' as const, mode: 'trunk' as const, ...(allowed && { allowed }) },
  });
  const drawn = new Sheet()
    .device('S', 'access-switch-12', {}, { ports: { p1: access(20), u1: trunk(), u2: trunk([10, 20, 30]) } })
    .device('T', 'access-switch-12', {}, { ports: { u1: trunk([10, 20]), u2: trunk([20, 30]) } })
    .device('R', 'border-router', {}, { interfaces: { 'g0.10': { on: { kind: 'sub', port: 'g0', vlan: 10 } } } })
    .host('H', '10.0.0.1/24')
    .host('J', '10.0.0.2/24')
    .cable('H e0', 'S p1')
    .cable('J e0', 'S p2')
    .cable('S u1', 'T u1')
    .cable('S u2', 'T u2')
    .cable('R g0', 'T u3').topology;
  test('a link carries what both ends let through', () => {
    const carried = linkVlans(drawn);
    expect(Object.fromEntries(carried)).toEqual({
      'H-e0-S-p1': [20],
      'J-e0-S-p2': [],
      'S-u1-T-u1': [10, 20],
      'S-u2-T-u2': [20, 30],
      'R-g0-T-u3': [],
    });
  });
  test('tones go by the place of a number among those of the drawing', () => {
    expect(vlansOf(drawn)).toEqual([10, 20, 30]);
    expect([10, 20, 30].map((vlan) => toneOfVlan(vlansOf(drawn), vlan))).toEqual([1, 2, 3]);
  });
  test('a drawing without VLANs has nothing to show', () => {
    expect(linkVlans(new Sheet().host('A', '10.0.0.1/24').topology).size).toBe(0);
  });
});

describe('notes', () => {
  const drawn = (anchor?: { kind: 'device' | 'link' | 'site'; id: string }): Topology => {
    const { topology } = new Sheet()
      .device('R', 'border-router', {}, at(100, 100))
      .device('S', 'access-switch-12', {}, at(100, 300))
      .cable('R g0', 'S u1');
    return {
      ...topology,
      notes: { n: { text: 'the root of the tree', at: { x: 60, y: -56 }, ...(anchor && { anchor }) } },
    };
  };
  const note = (topology: Topology) => sceneOf(topology).notes[0]!;
  test('stand at their place, or beside what they hang on and go along with it', () => {
    expect(note(drawn())).toMatchObject({ x: 60, y: -56, thread: null });
    const hung = drawn({ kind: 'device', id: 'R' });
    expect(note(hung)).toMatchObject({ x: 160, y: 44 });
    hung.devices.R!.at = { x: 500, y: 100 };
    expect(note(hung).x).toBe(560);
    expect(note(drawn({ kind: 'link', id: 'R-g0-S-u1' })).thread).not.toBeNull();
  });
  test('long text is put into lines, and the box grows with it', () => {
    const long = drawn();
    long.notes!.n!.text = 'The winch controllers must be kept apart from everything but the control desk.';
    expect(note(long).lines.length).toBeGreaterThan(2);
    expect(note(long).height - note(drawn()).height).toBe((note(long).lines.length - 1) * NOTE_ROW);
    expect(note(long).lines.join(' ')).toBe(long.notes!.n!.text);
  });
  test('point with an arrow at the edge of what they hang on, where that is wanted', () => {
    const hung = drawn({ kind: 'device', id: 'R' });
    expect(note(hung).arrow).toBe(false);
    hung.notes!.n!.arrow = true;
    const { thread, arrow } = note(hung);
    const tile = sceneOf(hung).tiles.get('R')!;
    expect(arrow).toBe(true);
    const isInside =
      thread!.x > tile.x && thread!.x < tile.x + tile.width && thread!.y > tile.y && thread!.y < tile.y + tile.height;
    expect(isInside).toBe(false);
  });
  test('keep their place when what they hang on is removed', () => {
    const done = applyBatch(drawn({ kind: 'device', id: 'R' }), 'remove', [{ kind: 'removeDevices', ids: ['R'] }]);
    if (!done.ok) throw new Error(done.error);
    expect(done.value.document.notes!.n).toEqual({ text: 'the root of the tree', at: { x: 160, y: 44 } });
  });
});
