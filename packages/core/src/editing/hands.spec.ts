import { Sheet } from '../tests/topologies';
import { type Command, type Topology, applyBatch, readTopology } from '../topology';
import {
  group,
  inLayer,
  addDevices,
  kitRefusal,
  kitRefusalOf,
  leftInKit,
  leftWords,
  moveBy,
  moveSite,
  moveTo,
  partOf,
  pastePart,
  placeDevice,
  replugged,
  ungroup,
  wholeGroups,
} from '.';

const newIds = () => {
  let at = 0;
  return () => `n${++at}`;
};
function after(topology: Topology, commands: readonly Command[]): Topology {
  const done = applyBatch(topology, 'test', commands);
  if (!done.ok) throw new Error(done.error);
  const sound = readTopology(done.value.document);
  if (!sound.ok) throw new Error(sound.error[0]!.text);
  return sound.value;
}
const drawn = (): Topology => ({
  ...new Sheet()
    .device('R', 'border-router', {}, { at: { x: 0, y: 0 }, site: 'v' })
    .device('S', 'access-switch-12', {}, { at: { x: 0, y: 200 }, site: 'v' })
    .device('T', 'access-switch-12', {}, { at: { x: 400, y: 200 } })
    .device('H', 'desktop', {}, { at: { x: 0, y: 400 } })
    .cable('R g0', 'S u1', 'straight', { bends: [{ x: 50, y: 120 }] })
    .cable('H e0', 'S p1').topology,
  sites: { v: { name: 'Valley' }, w: { name: 'Hall', area: { x: 600, y: 0, width: 200, height: 200 } } },
});

describe('bends made by hand', () => {
  const bends = (topology: Topology) => topology.links['R-g0-S-u1']!.bends;
  test('go along when both ends go the same way', () => {
    expect(bends(after(drawn(), moveBy(drawn(), ['R', 'S'], { x: 30, y: -10 })))).toEqual([{ x: 80, y: 110 }]);
    expect(bends(after(drawn(), moveSite(drawn(), 'v', { x: 8, y: 8 })))).toEqual([{ x: 58, y: 128 }]);
  });
  test('stay where they were put when only one end moves, or both go different ways', () => {
    expect(bends(after(drawn(), moveBy(drawn(), ['S'], { x: 30, y: 0 })))).toEqual([{ x: 50, y: 120 }]);
    expect(bends(after(drawn(), moveTo(drawn(), { R: { x: 9, y: 0 }, S: { x: 0, y: 250 } })))).toEqual([
      { x: 50, y: 120 },
    ]);
  });
});

describe('plugging an end elsewhere', () => {
  test('takes the next free port there and the medium that fits', () => {
    expect(replugged(drawn(), 'H-e0-S-p1', 'b', 'T')).toEqual({
      a: { device: 'H', port: 'e0' },
      b: { device: 'T', port: 'p1' },
      medium: 'straight',
    });
    expect(replugged(drawn(), 'R-g0-S-u1', 'a', 'T')).toMatchObject({
      a: { device: 'T' },
      b: { device: 'S', port: 'u1' },
    });
  });
  test('is not done where nothing fits', () => {
    const full = new Sheet()
      .device('H', 'desktop')
      .device('J', 'desktop')
      .device('K', 'desktop')
      .cable('H e0', 'J e0', 'crossover').topology;
    expect(replugged(full, 'H-e0-J-e0', 'b', 'H')).toBeNull();
    expect(replugged(full, 'nowhere', 'b', 'K')).toBeNull();
    expect(replugged(full, 'H-e0-J-e0', 'b', 'K')).toMatchObject({ b: { device: 'K' }, medium: 'crossover' });
  });
});

describe('groups', () => {
  test('choosing one of a group chooses all of it, until it is taken apart', () => {
    const bound = after(drawn(), group(['R', 'S'], newIds()));
    expect(wholeGroups(bound, ['S', 'H'])).toEqual(['S', 'H', 'R']);
    expect(wholeGroups(bound, ['T'])).toEqual(['T']);
    expect(wholeGroups(after(bound, ungroup(bound, ['R'])), ['S'])).toEqual(['S']);
  });
  test('a copy is a group of its own', () => {
    const bound = after(drawn(), group(['R', 'S'], newIds()));
    const { commands, ids } = pastePart(bound, partOf(bound, ['R', 'S']), {
      newId: newIds(),
      shift: { x: 0, y: 500 },
    });
    const copied = after(bound, commands);
    expect(wholeGroups(copied, [ids[0]!]).sort()).toEqual([...ids].sort());
    expect(wholeGroups(copied, ['R']).sort()).toEqual(['R', 'S']);
  });
});

test('to the front is above all others, to the back below them', () => {
  const front = after(drawn(), inLayer(drawn(), ['R'], 'front'));
  expect(front.devices.R!.layer).toBe(1);
  expect(after(front, inLayer(front, ['S'], 'front')).devices.S!.layer).toBe(2);
  expect(after(front, inLayer(front, ['S'], 'back')).devices.S!.layer).toBe(-1);
});

test('a device that is put somewhere stands with its middle there, in the site of the place', () => {
  const put = (at: { x: number; y: number }) => {
    const { ids, commands } = placeDevice(drawn(), 'desktop', at, newIds());
    return after(drawn(), commands).devices[ids[0]!]!;
  };
  expect(put({ x: 700, y: 100 })).toMatchObject({ at: { x: 680, y: 80 }, site: 'w' });
  expect(put({ x: 2000, y: 100 }).site).toBeUndefined();
});

describe('a lab with a kit of its own', () => {
  const kit = { 'access-switch-12': { most: 3 }, desktop: {}, 'border-router': { most: 1 } };
  test('tells how many are left of each model', () => {
    expect(leftInKit(drawn(), 'access-switch-12', kit)).toBe(1);
    expect(leftInKit(drawn(), 'desktop', kit)).toBeNull();
    expect(leftInKit(drawn(), 'hub', kit)).toBe(0);
    expect(leftInKit(drawn(), 'hub', undefined)).toBeNull();
    expect(
      ['access-switch-12', 'border-router', 'hub', 'desktop'].map((model) => leftWords(drawn(), model, kit)),
    ).toEqual(['1 of 3 left', 'all 1 are in use', 'not in this lab', null]);
  });
  test('a whole drawing from a file or a text is held to it; what was there already may stay', () => {
    const more = (model: string, count: number) => {
      const { commands } = addDevices(drawn(), model, count, null, undefined, newIds());
      return after(drawn(), commands);
    };
    expect(kitRefusalOf(drawn(), more('desktop', 9), kit)).toBeNull();
    expect(kitRefusalOf(drawn(), more('access-switch-12', 1), kit)).toBeNull();
    expect(kitRefusalOf(drawn(), more('access-switch-12', 2), kit)).toMatch(/only 1 more of “Access switch 12/);
    expect(kitRefusalOf(drawn(), more('hub', 1), kit)).toMatch(/take another model/);
    expect(kitRefusalOf(more('hub', 1), more('hub', 1), kit)).toBeNull();
    expect(kitRefusalOf(drawn(), more('hub', 1), undefined)).toBeNull();
  });
  test('counts the members of tiles one by one', () => {
    const tiled = drawn();
    tiled.devices.H!.members = { m1: {}, m2: {}, m3: {} };
    expect(leftInKit(tiled, 'desktop', { desktop: { most: 5 } })).toBe(2);
  });
  test('says why more cannot be had', () => {
    expect(kitRefusal(drawn(), 'access-switch-12', 'Access switch', 1, kit)).toBeNull();
    expect(kitRefusal(drawn(), 'access-switch-12', 'Access switch', 2, kit)).toMatch(/only 1 more of “Access switch”/);
    expect(kitRefusal(drawn(), 'border-router', 'Border router', 1, kit)).toMatch(/no more of “Border router”/);
    expect(kitRefusal(drawn(), 'hub', 'Hub', 1, kit)).toMatch(/take another model/);
  });
});
