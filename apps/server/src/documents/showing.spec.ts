import { type ShownDrawing, type Showing } from '@sobrin/contracts';
import request from 'supertest';
import { type Person } from '../tests/application';
import { refusal, useDemo } from '../tests/demo';

const demo = useDemo();
const look = (key: string) => request(demo.running.app.getHttpServer()).get(`/api/shown/${key}`);
const showing = (who: Person, method: 'post' | 'delete', id: string) => who.send(method, `documents/${id}/showing`);

test('a reference is shown to nobody until an address is made, and to nobody after it is taken back', async () => {
  const { referenceId: id, title } = await demo.labOf('Three Stations');
  expect((await demo.maren.get(`documents/${id}/showing`).expect(200)).body).toEqual({ key: null });
  const { key } = (await showing(demo.maren, 'post', id).expect(200)).body as Showing;
  expect(key).toMatch(/^[\w-]{32}$/);
  expect((await showing(demo.maren, 'post', id).expect(200)).body).toEqual({ key });
  const answer = await look(key!).expect(200);
  const shown = answer.body as ShownDrawing;
  expect([shown.title, Object.keys(shown.document.devices).length]).toEqual([title, 39]);
  expect(JSON.stringify(shown.document)).not.toContain('"settings"');
  expect(answer.headers).toMatchObject({ 'cache-control': 'no-store', 'x-robots-tag': 'noindex' });
  await showing(demo.maren, 'delete', id).expect(204);
  await look(key!).expect(404);
  const again = (await showing(demo.maren, 'post', id).expect(200)).body as Showing;
  expect(again.key).not.toBe(key);
  await look(key!).expect(404);
});

test('a key that is none opens nothing', async () => {
  for (const key of ['x', 'A'.repeat(32), '%27%20OR%201=1'])
    expect(refusal(await look(key).expect(404)).message).toBe('There is no such drawing, or it is not yours to see.');
});

test('only those who teach the lab show its reference; plans and the drawings of students are not shown', async () => {
  const { referenceId, planId } = await demo.labOf('Three Stations');
  const { documentId } = await demo.myLab(demo.zofia, 'Three Stations');
  await showing(demo.zofia, 'post', referenceId).expect(404);
  await showing(demo.zofia, 'post', documentId).expect(403);
  await showing(demo.maren, 'post', documentId).expect(404);
  await showing(demo.maren, 'post', planId).expect(400);
});
