import fc from 'fast-check';
import { planTree } from '../plan';
import { Sheet } from '../tests/topologies';
import { runs } from '../tests/runs';
import { type Command, type Device, type Topology, applyBatch, invariantProblems, readTopology } from '../topology';
import { align, cableMany, countUp, freshNames, partOf, pastePart, shiftForCopy, spaceEvenly } from '.';

let given = 0;
const newId = (): string => `n${++given}`;
function after(topology: Topology, ...commands: (Command | null)[]): Topology {
  const done = applyBatch(topology, 'test', commands as Command[]);
  if (!done.ok) throw new Error(done.error);
  const sound = readTopology(done.value.document);
  if (!sound.ok) throw new Error(sound.error[0]!.text);
  return sound.value;
}
const office = (): Topology => {
  const { topology } = new Sheet()
    .device('SW-V9', 'access-switch-12', {}, { at: { x: 0, y: 0 }, site: 'v', settings: { hostname: 'SW-V9' } })
    .device('PC-1', 'desktop', { e0: '10.84.1.11/29' }, { at: { x: 0, y: 120 }, settings: { gateway4: '10.84.1.9' } })
    .device('PC-2', 'desktop', { e0: '10.84.1.12/29' }, { at: { x: 80, y: 120 } })
    .device('SHOP', 'server', { e0: '10.84.1. 13/29' }, { at: { x: 160, y: 120 } })
    .cable('PC-1 e0', 'SW-V9 p1', 'straight', { cableId: 'KR-009' });
  return {
    ...topology,
    sites: { v: { name: 'Valley' } },
    notes: { t: { text: 'root', at: { x: 5, y: 5 }, anchor: { kind: 'device', id: 'SW-V9' } } },
  };
};
const addressOf = (device: Device | undefined): string | undefined => device?.interfaces?.e0?.v4?.addresses?.[0];
const copied = (topology: Topology, devices: string[], more: Partial<Parameters<typeof pastePart>[2]> = {}) => {
  const part = partOf(topology, devices);
  const { commands, ids: made } = pastePart(topology, part, {
    newId,
    shift: shiftForCopy(topology, part),
    ...more,
  });
  return { topology: after(topology, ...commands), made };
};
const made = (topology: Topology, name: string): Device =>
  Object.values(topology.devices).find((device) => device.name === name)!;

describe('copies', () => {
  test('go by the order in which people count: the copy of PC-9 comes before that of PC-10', () => {
    const sheet = new Sheet();
    for (const n of [10, 9, 8])
      sheet.device(`PC-${n}`, 'desktop', { e0: `10.84.1.${n}/24` }, { at: { x: n * 80, y: 0 } });
    const { topology, made: ids } = copied(sheet.topology, ['PC-10', 'PC-9', 'PC-8']);
    expect(
      ids.map((id) => [topology.devices[id]!.name, addressOf(topology.devices[id]), topology.devices[id]!.at.x]),
    ).toEqual(
      [...ids.keys()].map((at) => [
        `PC-${11 + at}`,
        `10.84.1.${11 + at}/24`,
        topology.devices[ids[0]!]!.at.x + 80 * at,
      ]),
    );
  });
  test('get names counted up, the next free address, and keep gateway, links and notes among themselves', () => {
    const { topology } = copied(office(), ['SW-V9', 'PC-1']);
    expect(made(topology, 'SW-V10').settings).toEqual({ hostname: 'SW-V10' });
    expect(addressOf(made(topology, 'PC-3'))).toBe('10.84.1.13/29');
    expect(made(topology, 'PC-3').settings).toEqual({ gateway4: '10.84.1.9' });
    const links = Object.values(topology.links);
    expect(links.map((link) => link.cableId).sort()).toEqual(['KR-009', 'KR-010']);
    expect(Object.values(topology.notes!).filter((note) => note.anchor)).toHaveLength(2);
    expect(made(topology, 'SW-V10').site).toBe('v');
  });
  test('never carry an address as it stands: one that is mistyped or has no room is left out', () => {
    expect(addressOf(made(copied(office(), ['SHOP']).topology, 'SHOP-2'))).toBeUndefined();
    let topology = office();
    for (let at = 0; at < 6; at++) topology = copied(topology, ['PC-1']).topology;
    const addresses = Object.values(topology.devices).flatMap((device) => addressOf(device) ?? []);
    expect(new Set(addresses).size).toBe(addresses.length);
    // 10.84.1.8/29 has six addresses for hosts; the seventh and eighth copy go without.
    expect(addresses.filter((address) => !address.includes(' ')).sort()).toEqual(
      [10, 11, 12, 13, 14, 9].map((last) => `10.84.1.${last}/29`),
    );
  });
  test('take what the plan gives next, which keeps gateway, pools and reserved ranges out', () => {
    const plan = planTree({
      blocks: { o: { prefix: '10.84.1.8/29', name: 'Office', gateway: '10.84.1.9' } },
      ranges: { r: { from: '10.84.1.10', to: '10.84.1.13', use: 'pool' } },
    });
    const { topology } = copied(office(), ['PC-1'], { plan: { tree: plan, brief: {} } });
    expect(addressOf(made(topology, 'PC-3'))).toBe('10.84.1.14/29');
  });
  test('do not lie on what is there', () => {
    const { topology, made: added } = copied(office(), ['PC-1', 'PC-2']);
    const places = Object.values(topology.devices).map(({ at }) => `${at.x} ${at.y}`);
    expect(new Set(places).size).toBe(places.length);
    expect(added).toHaveLength(2);
  });
  test('into another drawing bring their site and their own models along', () => {
    const from = office();
    from.devices['SW-V9']!.model = 'mine';
    const model = { name: 'Mine', kind: 'switch' as const, class: 'intermediary' as const, ports: [] };
    const part = partOf({ ...from, models: { mine: model, other: model }, links: {} }, ['SW-V9']);
    expect(Object.keys(part.models!)).toEqual(['mine']);
    const empty = new Sheet().topology;
    const pasted = after(empty, ...pastePart(empty, part, { newId, shift: { x: 0, y: 0 } }).commands);
    expect(Object.values(pasted.sites).map((site) => site.name)).toEqual(['Valley']);
    expect(Object.values(pasted.devices)[0]).toMatchObject({ name: 'SW-V9', model: 'mine' });
  });
  test('of anything leave a sound drawing in which no address is there twice', () => {
    fc.assert(
      fc.property(
        fc.subarray(['SW-V9', 'PC-1', 'PC-2', 'SHOP'], { minLength: 1 }),
        fc.integer({ min: 1, max: 4 }),
        (chosen, times) => {
          let topology = office();
          for (let at = 0; at < times; at++) {
            const part = partOf(topology, chosen);
            const { commands } = pastePart(topology, part, { newId, shift: { x: 9, y: 9 } });
            topology = after(topology, ...commands);
          }
          const addresses = Object.values(topology.devices).flatMap((device) => addressOf(device) ?? []);
          const names = Object.values(topology.devices).map((device) => device.name);
          expect(invariantProblems(topology)).toEqual([]);
          expect([new Set(addresses).size, new Set(names).size]).toEqual([addresses.length, names.length]);
        },
      ),
      { numRuns: runs(15) },
    );
  });
});

test.each([
  ['SW-V09', ['SW-V10'], 'SW-V11'],
  ['SHOP', [], 'SHOP-2'],
  ['T1-east', ['T2-east'], 'T3-east'],
])('%s counted up past %p is %s', (name, taken, next) => {
  expect(countUp(name, new Set([name, ...taken]))).toBe(next);
});
test('a scheme without a number gets one, so that names differ', () => {
  expect(freshNames(office(), 'desktop', 2, '{kind}/{site}', 'Valley')).toEqual(['PC/V-1', 'PC/V-2']);
});
test('a scheme told in a sentence names nothing by itself', () => {
  expect(freshNames(office(), 'desktop', 1, '{kind}-{site} for routers, by use for hosts')).toEqual(['PC-3']);
});

describe('lines and spaces', () => {
  const three = (): Topology =>
    new Sheet()
      .device('a', 'desktop', {}, { at: { x: 0, y: 0 } })
      .device('b', 'desktop', {}, { at: { x: 50, y: 30 } })
      .device('c', 'desktop', {}, { at: { x: 300, y: 60 } }).topology;
  const places = (topology: Topology) => Object.values(topology.devices).map(({ at }) => [at.x, at.y]);
  test('edges are brought to the outermost edge, centres to the middle of all', () => {
    expect(places(after(three(), align(three(), ['a', 'b', 'c'], 'bottom'))).map(([, y]) => y)).toEqual([60, 60, 60]);
    expect(places(after(three(), align(three(), ['a', 'b', 'c'], 'centre'))).map(([x]) => x)).toEqual([150, 150, 150]);
    expect(align(three(), ['a'], 'left')).toBeNull();
  });
  test('spaces become equal; the outermost stay, unless there is no room between them', () => {
    expect(places(after(three(), spaceEvenly(three(), ['a', 'b', 'c'], 'across'))).map(([x]) => x)).toEqual([
      0, 150, 300,
    ]);
    expect(places(after(three(), spaceEvenly(three(), ['a', 'b', 'c'], 'down'))).map(([, y]) => y)).toEqual([
      0, 56, 112,
    ]);
    expect(spaceEvenly(three(), ['a', 'b'], 'down')).toBeNull();
  });
});

test('many are cabled to one, members of tiles one by one, until its ports are full', () => {
  const { topology } = new Sheet()
    .device('HUB', 'hub')
    .device('DESK', 'desktop', {}, { members: { m1: {}, m2: {} } })
    .device('R', 'border-router');
  for (let at = 1; at <= 7; at++)
    topology.devices[`H${at}`] = { name: `H${at}`, model: 'desktop', at: { x: at, y: 0 } };
  const hosts = ['DESK', ...Array.from({ length: 7 }, (_, at) => `H${at + 1}`)];
  const { commands, left } = cableMany(topology, hosts, 'HUB', newId);
  const done = after(topology, ...commands);
  expect(left).toEqual(['H7']);
  expect(new Set(Object.values(done.links).map((link) => link.b.port)).size).toBe(8);
  expect(Object.values(done.links).flatMap((link) => link.a.member ?? [])).toEqual(['m1', 'm2']);
});

describe('a part of a foreign drawing', () => {
  const model = (port: string) => ({
    name: `With ${port}`,
    kind: 'router' as const,
    class: 'intermediary' as const,
    ports: [{ key: port, connector: 'copper' as const, speeds: [1000] }],
  });
  const foreign = (port: string): Topology => ({
    ...new Sheet()
      .device('X', 'own', { [port]: '10.9.9.5/24' })
      .host('Y', '10.84.1.11/29')
      .cable(`X ${port}`, 'Y e0').topology,
    models: { own: model(port) },
  });
  const added = (topology: Topology, part: Topology) =>
    after(topology, ...pastePart(topology, part, { newId, shift: { x: 0, y: 0 }, foreign: true }).commands);

  test('keeps addresses that nobody has, and gives the others the next free one', () => {
    const topology = added(office(), foreign('wan0'));
    expect(made(topology, 'X').interfaces!.wan0!.v4).toEqual({ addresses: ['10.9.9.5/24'] });
    expect(addressOf(made(topology, 'Y'))).toBe('10.84.1.13/29');
  });
  test('brings its own models along, also where another one has their id', () => {
    const topology = added(added(office(), foreign('wan0')), foreign('lan0'));
    const ports = Object.values(topology.devices).flatMap(
      (device) => topology.models![device.model]?.ports[0]!.key ?? [],
    );
    expect(ports.sort()).toEqual(['lan0', 'wan0']);
    expect(Object.keys(added(topology, foreign('wan0')).models!)).toHaveLength(2);
  });
});
