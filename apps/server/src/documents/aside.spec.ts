import { type SetAside, type VersionView } from '@sobrin/contracts';
import { type Topology } from '@sobrin/core/topology';
import { randomUUID } from 'node:crypto';
import { type Person } from '../tests/application';
import { useDemo } from '../tests/demo';

const demo = useDemo();
const device = { name: 'PC', model: 'desktop', at: { x: 0, y: 0 } };
const add = (id: string) => ({ kind: 'addDevice', id, device: { ...device, name: id } });
const rename = (id: string, name: string) => ({ kind: 'setDevice', id, set: { name } });

const save = (who: Person, id: string, base: number, commands: object[]) =>
  who.send('post', `documents/${id}/changes`, { save: randomUUID(), base, commands });
const aside = (who: Person, id: string, request: { base: number; commands: object[]; met?: boolean; save?: string }) =>
  who.send('post', `documents/${id}/aside`, { save: randomUUID(), met: true, ...request });
const versions = async (who: Person, id: string): Promise<[number, string | null][]> =>
  ((await who.get(`documents/${id}/versions`).expect(200)).body as VersionView[]).map(({ revision, name }) => [
    revision,
    name,
  ]);
const versionAt = async (who: Person, id: string, revision: number): Promise<Topology> =>
  ((await who.get(`documents/${id}/versions/${revision}`).expect(200)).body as { document: Topology }).document;

/** A drawing of Zofia with a device, whose name was saved twice since the revision that is given. */
async function drawing(): Promise<{ id: string; base: number }> {
  const { documentId: id } = await demo.myLab(demo.zofia, 'Three Stations');
  const { revision } = await demo.drawing(demo.zofia, id);
  await save(demo.zofia, id, revision, [{ kind: 'edits', edits: [{ path: ['devices'], value: {} }] }, add('a')]).expect(
    200,
  );
  await save(demo.zofia, id, revision + 1, [rename('a', 'theirs')]).expect(200);
  return { id, base: revision + 1 };
}

test('of two versions that met both are kept by name, and what is saved stays what it is', async () => {
  const { id, base } = await drawing();
  const before = await demo.drawing(demo.zofia, id);
  const request = { base, commands: [rename('a', 'mine'), add('b')], save: randomUUID() };
  const [first, again] = [
    (await aside(demo.zofia, id, request).expect(200)).body as SetAside,
    (await aside(demo.zofia, id, request).expect(200)).body as SetAside,
  ];
  expect(first).toEqual({ revision: base + 2, left: 0 });
  expect(again).toEqual(first);
  const now = await demo.drawing(demo.zofia, id);
  expect([now.document, now.revision]).toEqual([before.document, base + 3]);
  expect(await versions(demo.zofia, id)).toEqual(
    expect.arrayContaining([
      [base + 1, 'Saved, when two versions met'],
      [base + 2, 'Not saved, when two versions met'],
    ]),
  );
  const { devices } = await versionAt(demo.zofia, id, base + 2);
  expect([devices.a!.name, devices.b!.name]).toEqual(['mine', 'b']);
  expect((await versionAt(demo.zofia, id, base + 1)).devices.a!.name).toBe('theirs');
});

test('whoever knew the drawing before goes on to save, and meets nothing of what was set aside', async () => {
  const { id, base } = await drawing();
  await aside(demo.zofia, id, { base, commands: [rename('a', 'mine')] }).expect(200);
  const saved = await save(demo.zofia, id, base + 1, [rename('a', 'newer')]).expect(200);
  expect((saved.body as { merged: Topology }).merged.devices.a!.name).toBe('newer');
});

test('of what was refused all is kept that can be made and leaves a whole drawing, and the rest is counted', async () => {
  const { id, base } = await drawing();
  const commands = [
    add('b'),
    { kind: 'addDevice', id: 'c', device: { ...device, model: 'no such model' } },
    { kind: 'no such command' },
    { kind: 'edits', edits: [{ path: ['devices', 'a', 'site'], value: 'nowhere' }] },
    rename('b', 'kept'),
  ];
  const { revision, left } = (await aside(demo.zofia, id, { base, commands, met: false }).expect(200)).body as SetAside;
  expect(left).toBe(3);
  expect((await versionAt(demo.zofia, id, revision!)).devices).toMatchObject({ a: { name: 'a' }, b: { name: 'kept' } });
  expect(await versions(demo.zofia, id)).toEqual(expect.arrayContaining([[revision, 'Could not be saved']]));
});

test('nothing is kept where nothing differs; a revision that is not known any more is taken for the newest', async () => {
  const { id, base } = await drawing();
  expect((await aside(demo.zofia, id, { base: base + 1, commands: [rename('a', 'theirs')] })).body).toEqual({
    revision: null,
    left: 0,
  });
  const far = (await aside(demo.zofia, id, { base: 1_000_000, commands: [add('z')] }).expect(200)).body as SetAside;
  expect(Object.keys((await versionAt(demo.zofia, id, far.revision!)).devices)).toEqual(['a', 'z']);
});

test('thirty at once keep thirty versions, and the drawing is as it was', async () => {
  const { id, base } = await drawing();
  const before = await demo.drawing(demo.zofia, id);
  const kept = await Promise.all(
    Array.from(
      { length: 30 },
      async (_each, at) => (await aside(demo.zofia, id, { base, commands: [add(`n${at}`)] })).body as SetAside,
    ),
  );
  expect(new Set(kept.map(({ revision }) => revision)).size).toBe(30);
  expect((await demo.drawing(demo.zofia, id)).document).toEqual(before.document);
});
