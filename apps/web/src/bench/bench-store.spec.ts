import { type Saved } from '@sobrin/contracts';
import { type Topology, emptyTopology } from '@sobrin/core/topology';
import { ApiError } from '../api/client';
import { createBenchStore } from './bench-store';
import { type Pending, type Save } from '../documents/pending';

const device = { name: 'PC-1', model: 'desktop', at: { x: 0, y: 0 } };

function open(
  topology: Topology = emptyTopology(),
  post: (save: Save) => Promise<Saved> = (save) => Promise.resolve({ revision: save.base + 1, merged: null }),
) {
  let ids = 0;
  const saves: Save[] = [];
  const kept: Pending[] = [];
  const aside: object[] = [];
  let isReachable = true;
  const store = createBenchStore(
    { document: topology, revision: 0 },
    {
      post: (save) => (saves.push(save), post(save)),
      keep: (pending) => {
        kept.push(pending);
        return Promise.resolve();
      },
      newId: () => `${++ids}`,
      later: (run) => void setTimeout(run, 0),
      others: {
        read: () => Promise.resolve({ document: { ...emptyTopology(), title: 'saved' }, revision: 9 }),
        listen: () => () => undefined,
        setAside: (request) => {
          if (!isReachable) return Promise.reject(new ApiError(0, 'Sobrin does not answer.'));
          aside.push(request);
          return Promise.resolve({ revision: 8, left: 0 });
        },
      },
    },
  );
  return { store, saves, kept, aside, now: () => store.getState(), lose: () => void (isReachable = false) };
}

test('undo brings back exactly what was there, redo what was done, and both are saved as changes', async () => {
  const { now, saves } = open();
  const before = now().document;
  now().do('add', { kind: 'addDevice', id: 'a', device });
  now().do('rename', { kind: 'setDevice', id: 'a', set: { name: 'DESK' } });
  const after = now().document;
  now().undo();
  now().undo();
  expect(now().document).toEqual(before);
  now().redo();
  now().redo();
  expect(now().document).toEqual(after);
  expect(await now().flush()).toBe(true);
  expect(saves.flatMap((save) => save.commands)).toHaveLength(6);
});

test('a new change ends what could be redone', () => {
  const { now } = open();
  now().do('add', { kind: 'addDevice', id: 'a', device });
  now().undo();
  now().do('add', { kind: 'addDevice', id: 'b', device });
  expect(now().future).toEqual([]);
  expect(Object.keys(now().document.devices)).toEqual(['b']);
});

test('what cannot be done changes nothing and is said', () => {
  const { now, saves } = open();
  expect(
    now().do('link', {
      kind: 'connect',
      id: 'l',
      link: { a: { device: 'x', port: 'e0' }, b: { device: 'y', port: 'e0' }, medium: 'straight' },
    }),
  ).toBe(false);
  expect(now().refusal).toMatch(/^This cannot be done: .*no device "x"/);
  expect(now().document).toEqual(emptyTopology());
  expect(saves).toEqual([]);
});

test('a change that would leave a drawing that does not hold together is not made: the server would refuse it and all after it', () => {
  const { now, saves } = open({ ...emptyTopology(), devices: { a: device } });
  expect(now().do('to nowhere', { kind: 'setDevice', id: 'a', set: { site: 'moon' } })).toBe(false);
  expect(now().refusal).toBe('This cannot be done: There is no site "moon".');
  expect([now().document.devices.a, saves]).toEqual([device, []]);
});

describe('what the server refuses for good', () => {
  const refused = () =>
    open(emptyTopology(), () => Promise.reject(new ApiError(422, 'The drawing would have 2.1 MB.')));
  test('is kept as a version before what is saved takes its place, and is then forgotten in this browser', async () => {
    const { now, kept, aside } = refused();
    now().do('add', { kind: 'addDevice', id: 'a', device });
    await now().flush();
    expect(now().save).toEqual({ kind: 'refused', text: 'The drawing would have 2.1 MB.' });
    expect(await now().giveUp()).toBe(true);
    expect(aside).toMatchObject([{ base: 0, met: false, commands: [{ kind: 'addDevice', id: 'a' }] }]);
    expect([now().document.title, now().save.kind]).toEqual(['saved', 'saved']);
    expect(now().told).toContain('kept among the versions');
    await Promise.resolve();
    expect(kept.at(-1)).toMatchObject({ sent: null, waiting: [], base: 9 });
  });
  test('stays as it is, and says why, where it cannot be kept; only a person throws it away', async () => {
    const { now, kept, lose } = refused();
    lose();
    now().do('add', { kind: 'addDevice', id: 'a', device });
    await now().flush();
    expect(await now().giveUp()).toBe(false);
    expect(now().refusal).toMatch(/could not be kept as a version: Sobrin does not answer/);
    expect([Object.keys(now().document.devices), kept.at(-1)!.sent!.commands]).toMatchObject([['a'], [{ id: 'a' }]]);
    await now().throwAway();
    expect([now().document.title, now().save.kind]).toEqual(['saved', 'saved']);
  });
});

test('what is removed is no longer chosen', () => {
  const { now } = open({ ...emptyTopology(), devices: { a: device, b: device } });
  now().select({ devices: ['a', 'b'], links: [], sites: [] });
  now().do('remove', { kind: 'removeDevices', ids: ['a'] });
  expect(now().selection.devices).toEqual(['b']);
});

test('when somebody else saved in between, the document has both changes', async () => {
  const theirs = { ...emptyTopology(), devices: { a: device, theirs: { ...device, name: 'THEIRS' } } };
  const { now } = open(emptyTopology(), () => Promise.resolve({ revision: 5, merged: theirs }));
  now().do('add', { kind: 'addDevice', id: 'a', device });
  await now().flush();
  expect(Object.keys(now().document.devices)).toEqual(['a', 'theirs']);
});

test('what came together twice is told by name', async () => {
  const theirs = { ...emptyTopology(), devices: { a: device, theirs: device } };
  const { now } = open(emptyTopology(), () => Promise.resolve({ revision: 5, merged: theirs }));
  now().do('add', { kind: 'addDevice', id: 'a', device });
  await now().flush();
  expect(now().told).toBe('Two devices are called PC-1. PC-1 and PC-1 stand in one place: move one.');
});

describe('where two versions meet', () => {
  const before = { ...emptyTopology(), devices: { a: device, b: { ...device, name: 'B' } } };
  /** A drawing on which the first save meets with what Zofia saved. */
  const meeting = (theirs: Topology) => {
    let isFirst = true;
    const met = { message: 'met', places: [], by: ['Zofia Wrona'], revision: 3, before, mine: before, theirs };
    return open(before, (save) => {
      if (!isFirst) return Promise.resolve({ revision: save.base + 1, merged: null });
      isFirst = false;
      return Promise.reject(new ApiError(409, 'met', [], met));
    });
  };
  const seven = Array.from({ length: 7 }, (_each, at) => ({ kind: 'addDevice' as const, id: `n${at}`, device }));
  const named = (name: string): Topology => ({ ...before, devices: { ...before.devices, a: { ...device, name } } });

  test('nobody is asked where all goes together; the later of two drags holds, and it is told', async () => {
    const at = { x: 0, y: 50 };
    const { now, saves, aside } = meeting({
      ...before,
      title: 'theirs',
      devices: { ...before.devices, a: { ...device, at } },
    });
    now().do('move', { kind: 'move', to: { a: { x: 50, y: 0 } } });
    await now().flush();
    expect(now().document).toMatchObject({ title: 'theirs', devices: { a: { at: { x: 50, y: 0 } } } });
    expect(now().told).toBe('Zofia Wrona moved PC-1 as well: it stands where you put it, the later of the two.');
    expect([saves.at(-1)!.base, now().save.kind, aside]).toEqual([3, 'saved', []]);
  });

  test.each([
    ['mine', 'MINE'],
    ['theirs', 'THEIRS'],
  ])(
    'only what both changed is decided, here as %s: seven new devices stand, and both versions are kept first',
    async (whose, name) => {
      const { now, saves, aside } = meeting({ ...named('THEIRS'), title: 'theirs' });
      now().do('all', ...seven, { kind: 'setDevice', id: 'a', set: { name: 'MINE' } });
      await now().flush();
      expect(now().save).toMatchObject({
        kind: 'conflict',
        merge: { contests: [{ place: ['devices', 'a', 'name'] }] },
      });
      await now().decide(() => whose === 'mine');
      await now().flush();
      expect(aside).toMatchObject([{ base: 0, met: true, commands: [...seven, { kind: 'setDevice' }] }]);
      expect([now().document.title, now().document.devices.a!.name]).toEqual(['theirs', name]);
      expect(Object.keys(now().document.devices)).toHaveLength(9);
      // Nothing but what is new to what is saved goes there.
      expect(saves.at(-1)).toMatchObject({ base: 3, commands: [{ kind: 'edits' }] });
      expect(JSON.stringify(saves.at(-1)!.commands)).not.toContain('title');
      expect(now().save.kind).toBe('saved');
    },
  );

  test('nothing is decided where the versions cannot be kept', async () => {
    const { now, lose } = meeting(named('THEIRS'));
    now().do('rename', { kind: 'setDevice', id: 'a', set: { name: 'MINE' } });
    await now().flush();
    lose();
    await now().decide(() => false);
    expect(now().refusal).toMatch(/^Nothing was decided, and both versions are as they were/);
    expect([now().save.kind, now().document.devices.a!.name]).toEqual(['conflict', 'MINE']);
  });

  test('what is changed while the versions are being kept is kept as well, and pressing twice decides once', async () => {
    const { now, aside } = meeting(named('THEIRS'));
    now().do('rename', { kind: 'setDevice', id: 'a', set: { name: 'MINE' } });
    await now().flush();
    const deciding = [now().decide(() => false), now().decide(() => true)];
    now().do('late', { kind: 'setDevice', id: 'b', set: { name: 'LATE' } });
    await Promise.all(deciding);
    expect([now().document.devices.a!.name, now().document.devices.b!.name]).toEqual(['THEIRS', 'LATE']);
    expect(aside).toHaveLength(1);
  });
  test('what is changed while it is asked is kept as well', async () => {
    const { now } = meeting(named('THEIRS'));
    now().do('rename', { kind: 'setDevice', id: 'a', set: { name: 'MINE' } });
    await now().flush();
    now().do('late', { kind: 'setDevice', id: 'b', set: { name: 'LATE' } });
    await now().decide(() => false);
    expect([now().document.devices.a!.name, now().document.devices.b!.name]).toEqual(['THEIRS', 'LATE']);
  });
});
