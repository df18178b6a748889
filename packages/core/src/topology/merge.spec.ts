import fc from 'fast-check';
import { type Merge, decided, mergeOf } from '../changes';
import { drawings } from '../tests/arbitrary';
import { runs } from '../tests/runs';
import {
  type Command,
  type Topology,
  DRAWING_MERGE,
  applyBatch,
  doubled,
  emptyTopology,
  placeInDrawing,
  readTopology,
} from '.';

const made = (start: Topology, ...commands: Command[]): Topology => {
  const done = applyBatch(start, 'made', commands);
  if (!done.ok) throw new Error(done.error);
  return done.value.document;
};
const add = (id: string, x = 0): Command => ({
  kind: 'addDevice',
  id,
  device: { name: id.toUpperCase(), model: 'border-router', at: { x, y: 0 } },
});
const cable = (id: string, a: string, b: string): Command => ({
  kind: 'connect',
  id,
  link: { a: { device: a, port: 'g0' }, b: { device: b, port: 'g1' }, medium: 'straight' },
});
const called = (id: string, name: string): Command => ({ kind: 'setDevice', id, set: { name } });
const start = made(emptyTopology(), add('a'), add('b', 100), cable('ab', 'a', 'b'));

/** What two make of one drawing, put together; `as` says whose hold where a person must say. */
function meet(mine: readonly Command[], theirs: readonly Command[], base = start) {
  const sides = { base, mine: made(base, ...mine), theirs: made(base, ...theirs) };
  const merge: Merge<Topology> = mergeOf(sides.base, sides.mine, sides.theirs, DRAWING_MERGE);
  const as = (whose: 'mine' | 'theirs'): Topology => decided(merge, () => whose === 'mine', sides, DRAWING_MERGE);
  return { ...merge, places: merge.contests.map(({ place }) => place.join(' › ')), as };
}

test('only what both changed is asked; seven devices that met nothing are there whoever is right about the name', () => {
  const seven = ['c', 'd', 'e', 'f', 'g', 'h', 'i'];
  const { places, as } = meet([called('a', 'MINE'), ...seven.map((id) => add(id))], [called('a', 'THEIRS'), add('j')]);
  expect(places).toEqual(['devices › a › name']);
  for (const [whose, name] of [
    ['mine', 'MINE'],
    ['theirs', 'THEIRS'],
  ] as const) {
    expect(Object.keys(as(whose).devices).sort()).toEqual(['a', 'b', ...seven, 'j']);
    expect(as(whose).devices.a!.name).toBe(name);
  }
});

test('what both changed alike, and different things of one device, need no asking', () => {
  const { places, together } = meet(
    [called('a', 'SAME'), { kind: 'changePort', device: 'a', port: 'g0', set: { label: 'to the mast' } }],
    [called('a', 'SAME'), { kind: 'changePort', device: 'a', port: 'g1', set: { enabled: false } }],
  );
  expect(places).toEqual([]);
  expect(together.devices.a).toMatchObject({
    name: 'SAME',
    ports: { g0: { label: 'to the mast' }, g1: { enabled: false } },
  });
});

test('of two drags of one device the later holds as a whole, and it is told', () => {
  const { places, later, together } = meet(
    [{ kind: 'move', to: { a: { x: 300, y: 0 } } }],
    [{ kind: 'move', to: { a: { x: 0, y: 300 } } }],
  );
  expect([places, later, together.devices.a!.at]).toEqual([[], [['devices', 'a', 'at']], { x: 300, y: 0 }]);
});

test('two answers in one thread both stand, whoever wrote first; so do two first notes', () => {
  const entry = (by: string) => ({ by, at: '2026-11-30T08:00:00Z', text: `${by} says` });
  const thread = (...by: string[]): Command => ({
    kind: 'setComment',
    id: 'talk',
    set: { anchor: { kind: 'device', id: 'a' }, entries: by.map(entry) },
  });
  const note = (id: string): Command => ({ kind: 'setNote', id, set: { text: id, at: { x: 0, y: 0 } } });
  const base = made(start, thread('Ana'));
  const { places, together } = meet([thread('Ana', 'Mine'), note('m')], [thread('Ana', 'Theirs'), note('t')], base);
  expect(places).toEqual([]);
  expect(together.comments!.talk!.entries.map(({ by }) => by)).toEqual(['Ana', 'Theirs', 'Mine']);
  expect(Object.keys(together.notes!).sort()).toEqual(['m', 't']);
  const last = meet([{ kind: 'setNote', id: 'n', set: null }], [note('t')], made(start, note('n')));
  expect([last.places, Object.keys(last.together.notes!)]).toEqual([[], ['t']]);
});

describe('what one removed and the other used', () => {
  test('a device that was renamed and removed is asked about', () => {
    const { places, as } = meet([called('a', 'MINE')], [{ kind: 'removeDevices', ids: ['a'] }]);
    expect(places).toEqual(['devices › a']);
    expect(as('theirs').devices).not.toHaveProperty('a');
    expect(as('mine').devices.a!.name).toBe('MINE');
  });
  test('a cable to a device that is gone brings it back where it is chosen, and nothing else that was removed', () => {
    const mine = [add('c'), cable('bc', 'b', 'c')];
    const { places, as } = meet(mine, [
      { kind: 'removeDevices', ids: ['b'] },
      { kind: 'removeDevices', ids: ['a'] },
    ]);
    expect(places).toEqual(['links › bc']);
    expect(Object.keys(as('theirs').devices)).toEqual(['c']);
    expect(Object.keys(as('mine').devices).sort()).toEqual(['b', 'c']);
    expect(Object.keys(as('mine').links)).toEqual(['bc']);
  });
  test('a device that I removed and they cabled is asked about, with the other things that I removed left removed', () => {
    const base = made(start, add('x'), add('y'));
    const { places, as } = meet([{ kind: 'removeDevices', ids: ['x', 'y'] }], [add('c'), cable('xc', 'x', 'c')], base);
    expect(places).toEqual(['devices › x']);
    expect(Object.keys(as('theirs').devices).sort()).toEqual(['a', 'b', 'c', 'x']);
    expect(Object.keys(as('mine').devices).sort()).toEqual(['a', 'b', 'c']);
    expect(as('mine').links).not.toHaveProperty('xc');
  });
});

/** An optional map without entries says as much as none. */
const withoutEmpty = (drawing: Topology): unknown =>
  JSON.parse(JSON.stringify(drawing), (_key, value: unknown) =>
    value !== null && typeof value === 'object' && !Array.isArray(value) && !Object.keys(value).length
      ? undefined
      : value,
  );

test('the last entry of a map that must be there goes, and the map stays: nobody is asked', () => {
  const withZones = (zones: object): Topology => ({
    ...emptyTopology(),
    devices: {
      f: {
        name: 'FW',
        model: 'firewall',
        at: { x: 0, y: 0 },
        settings: {
          firewall: { zones: zones as Record<string, { name: string; interfaces: string[] }>, policies: [] },
        },
      },
    },
  });
  const base = withZones({ in: { name: 'Inside', interfaces: [] } });
  const theirs = { ...base, title: 'Theirs' };
  expect(mergeOf(base, withZones({}), theirs, DRAWING_MERGE)).toMatchObject({
    contests: [],
    together: { ...withZones({}), title: 'Theirs' },
  });
});

test('whatever two people draw, the drawing put together holds, however it is decided, and what one alone changed is in it', () => {
  fc.assert(
    fc.property(drawings, drawings, drawings, fc.boolean(), (base, mine, theirs, isMine) => {
      const sides = { base, mine, theirs };
      const merge = mergeOf(base, mine, theirs, DRAWING_MERGE);
      const done = decided(merge, () => isMine, sides, DRAWING_MERGE);
      for (const drawing of [merge.together, done]) expect(readTopology(drawing).ok).toBe(true);
      const about = new Set(merge.contests.map(({ place }) => place.slice(0, 2).join(' ')));
      for (const id of Object.keys(mine.devices))
        if (!Object.hasOwn(base.devices, id) && !Object.hasOwn(theirs.devices, id) && !about.has(`devices ${id}`))
          expect(merge.together.devices[id]).toEqual(mine.devices[id]);
      for (const [merged, wanted] of [
        [mergeOf(base, base, theirs, DRAWING_MERGE), theirs],
        [mergeOf(base, mine, base, DRAWING_MERGE), mine],
      ] as const) {
        expect(merged.contests).toEqual([]);
        expect(withoutEmpty(merged.together)).toEqual(withoutEmpty(wanted));
      }
    }),
    { numRuns: runs(40) },
  );
});

test('two names, two cables in one port and two devices in one place that came together are told by name', () => {
  const { together, places } = meet(
    [add('m', 300), called('m', 'SW'), add('c', 400), cable('am', 'a', 'm')],
    [add('n', 500), called('n', 'SW'), add('d', 410)],
    made(emptyTopology(), add('a'), add('b', 100), cable('ab', 'a', 'b')),
  );
  expect(places).toEqual([]);
  expect([...doubled(together).values()].sort()).toEqual([
    'C and D stand in one place: move one.',
    'Two cables are in A g0.',
    'Two devices are called SW.',
  ]);
  expect([...doubled(start).values()]).toEqual([]);
});

test.each([
  [['devices', 'a', 'name'], 'A › name'],
  [['links', 'ab'], 'A g0 – B g1'],
  [['devices', 'a', 'interfaces', 'i7', 'v4'], 'A › g0 › v4'],
  [['notes', 'n1'], 'the note “Mast to be moved”'],
  [['comments', 'k1', 'entries'], 'the comment “Why two?” › entries'],
  [[], 'the whole drawing'],
])('a place is named as people call it: %j', (path, words) => {
  const drawing = made(
    start,
    { kind: 'setInterface', device: 'a', key: 'i7', set: { on: { kind: 'port', port: 'g0' } } },
    { kind: 'setNote', id: 'n1', set: { text: 'Mast to be moved\nsoon', at: { x: 0, y: 0 } } },
    {
      kind: 'setComment',
      id: 'k1',
      set: { at: { x: 0, y: 0 }, entries: [{ by: 'Ana', at: '2026', text: 'Why two?' }] },
    },
  );
  expect(placeInDrawing(path, drawing)).toBe(words);
});
