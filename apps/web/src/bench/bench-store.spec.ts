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
    },
  );
  return { store, saves, kept, now: () => store.getState() };
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

test('what the server refuses for good can be given up, and is then forgotten in this browser too', async () => {
  const { now, kept } = open(emptyTopology(), () =>
    Promise.reject(new ApiError(422, 'The drawing would have 2.1 MB.')),
  );
  now().do('add', { kind: 'addDevice', id: 'a', device });
  await now().flush();
  expect(now().save).toEqual({ kind: 'refused', text: 'The drawing would have 2.1 MB.' });
  await now().giveUp();
  expect(kept.at(-1)).toMatchObject({ sent: null, waiting: [] });
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

test('in a conflict one can take the other version, or put one’s own in its place', async () => {
  const theirs = { ...emptyTopology(), title: 'theirs' };
  let refuse = true;
  const { now, saves } = open(emptyTopology(), (save) =>
    refuse
      ? Promise.reject(
          new ApiError(409, 'met', [], {
            message: 'met',
            places: ['title'],
            by: [],
            revision: 3,
            mine: emptyTopology(),
            theirs,
          }),
        )
      : Promise.resolve({ revision: save.base + 1, merged: null }),
  );
  now().do('title', { kind: 'setDocument', set: { title: 'mine' } });
  await now().flush();
  expect(now().save.kind).toBe('conflict');
  refuse = false;
  now().keepMine();
  await now().flush();
  expect(saves.at(-1)).toMatchObject({ base: 3, commands: [{ kind: 'replace', topology: { title: 'mine' } }] });
  refuse = true;
  now().do('title', { kind: 'setDocument', set: { title: 'again' } });
  await now().flush();
  now().takeTheirs();
  expect([now().document.title, now().past, now().save]).toEqual(['theirs', [], { kind: 'saved' }]);
});
