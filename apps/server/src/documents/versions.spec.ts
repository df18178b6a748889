import { type VersionView } from '@sobrin/contracts';
import { type Topology } from '@sobrin/core/topology';
import { randomUUID } from 'node:crypto';
import { type Person } from '../tests/application';
import { refusal, useDemo } from '../tests/demo';

const demo = useDemo();
const change = (who: Person, id: string, base: number, ...commands: object[]) =>
  who.send('post', `documents/${id}/changes`, { save: randomUUID(), base, commands }).expect(200);
const name = (who: Person, id: string, revision: number, text: string) =>
  who.send('post', `documents/${id}/versions`, { revision, name: text });
const versions = async (who: Person, id: string): Promise<VersionView[]> =>
  (await who.get(`documents/${id}/versions`).expect(200)).body as VersionView[];
const at = async (who: Person, id: string, revision: number): Promise<Topology> =>
  ((await who.get(`documents/${id}/versions/${revision}`).expect(200)).body as { document: Topology }).document;

test('every revision can be read again as it was, whatever came after it', async () => {
  const { documentId: id } = await demo.myLab(demo.zofia, 'Three Stations');
  const device = (text: string) => ({ name: text, model: 'desktop', at: { x: 0, y: 0 } });
  const before = await demo.drawing(demo.zofia, id);
  const seen: Topology[] = [before.document];
  for (const [turn, command] of [
    { kind: 'addDevice', id: 'a', device: device('A') },
    { kind: 'setDevice', id: 'a', set: { name: 'B' } },
    { kind: 'move', to: { a: { x: 5, y: 6 } } },
    { kind: 'removeDevices', ids: ['a'] },
  ].entries()) {
    await change(demo.zofia, id, before.revision + turn, command);
    seen.push((await demo.drawing(demo.zofia, id)).document);
  }
  for (const [turn, document] of seen.entries())
    expect(await at(demo.zofia, id, before.revision + turn)).toEqual(document);
  await demo.zofia.get(`documents/${id}/versions/${before.revision + 99}`).expect(404);
});

test('a version gets a name, and a second name takes its place; the end of a sitting is listed without one', async () => {
  const { documentId: id } = await demo.myLab(demo.zofia, 'Three Stations');
  const { revision } = await demo.drawing(demo.zofia, id);
  await change(demo.zofia, id, revision, { kind: 'setDocument', set: { title: 'Evening' } });
  await name(demo.zofia, id, revision, 'Half done').expect(204);
  await name(demo.zofia, id, revision, 'Before dinner').expect(204);
  const [newest, older] = await versions(demo.zofia, id);
  expect(newest).toMatchObject({ revision: revision + 1, name: null, by: 'Zofia Wrona' });
  expect(older).toMatchObject({ revision, name: 'Before dinner', by: 'Zofia Wrona' });
});

test('a name that is none, and a revision that is not there yet, are refused in a sentence', async () => {
  const { documentId: id } = await demo.myLab(demo.zofia, 'Three Stations');
  const { revision } = await demo.drawing(demo.zofia, id);
  expect(refusal(await name(demo.zofia, id, revision, '  ').expect(400)).message).toMatch(/wants a name/);
  expect(refusal(await name(demo.zofia, id, revision + 5, 'x').expect(400)).message).toMatch(/there is no revision/);
});

test('versions are seen by those who may change the document, and by nobody else', async () => {
  const { documentId: id } = await demo.myLab(demo.zofia, 'Three Stations');
  const { revision } = await demo.drawing(demo.zofia, id);
  for (const path of [`documents/${id}/versions`, `documents/${id}/versions/${revision}`]) {
    await demo.maren.get(path).expect(404);
    await (await demo.running.as('eero.lahtinen')).get(path).expect(404);
  }
  await name(demo.maren, id, revision, 'mine').expect(404);
});

test('a drawing and each of its versions is a picture or a paper without a browser', async () => {
  const { documentId: id, planId } = await demo.myLab(demo.zofia, 'Three Stations');
  const { revision } = await demo.drawing(demo.zofia, id);
  const device = { name: 'PICTURED', model: 'desktop', at: { x: 0, y: 0 } };
  await change(demo.zofia, id, revision, { kind: 'addDevice', id: 'pictured', device });
  const picture = (query: string) => demo.zofia.get(`documents/${id}/picture.${query}`);
  const textOf = async (query: string): Promise<string> => String((await picture(query).expect(200)).body);
  expect(await textOf('svg')).toContain('>PICTURED</text>');
  const older = await picture(`svg?revision=${revision}`).expect(200);
  expect(String(older.body)).not.toContain('PICTURED');
  expect(older.headers['cache-control']).toMatch(/immutable/);
  const png = (await picture('png?width=240&scheme=dark').expect(200).expect('Content-Type', 'image/png'))
    .body as Buffer;
  expect([png.subarray(1, 4).toString(), png.readUInt32BE(16)]).toEqual(['PNG', 240]);
  const paper = (await picture('pdf').expect(200)).body as Buffer;
  expect(paper.subarray(0, 5).toString()).toBe('%PDF-');
  expect(refusal(await picture('bmp').expect(400)).message).toBe('A picture is one of svg, png, pdf, not “bmp”.');
  await picture('png?width=1').expect(400);
  await demo.zofia.get(`documents/${planId}/picture.png`).expect(400);
  await demo.maren.get(`documents/${id}/picture.png`).expect(404);
});
