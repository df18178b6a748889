import { randomUUID } from 'node:crypto';
import request, { type Response } from 'supertest';
import { refusal, useDemo } from '../tests/demo';
import { type Person } from '../tests/application';
import { REQUEST_HEADER } from './config';

const demo = useDemo();

/** Sends a text as it is, which need not be what a client would send. */
const sendText = async (person: Person | null, path: string, text: string): Promise<Response> => {
  const asked = person
    ? person.send('post', path)
    : request(demo.running.app.getHttpServer()).post(`/api/${path}`).set(REQUEST_HEADER, '1');
  return asked.set('Content-Type', 'application/json').send(text);
};
const keys = (count: number): string => `{${Array.from({ length: count }, (_, at) => `"k${at}":1`).join(',')}}`;
const saveOf = (commands: string): string => `{"save":"${randomUUID()}","base":0,"commands":${commands}}`;
const nested = (levels: number): string => '['.repeat(levels) + ']'.repeat(levels);

describe('a stranger', () => {
  test.each<[string, string]>([
    ['80,000 unknown keys', keys(80_000)],
    ['twenty unknown keys', keys(20)],
    ['a name of a megabyte', JSON.stringify({ login: 'x'.repeat(1_000_000), password: 'x' })],
    ['lists in lists', nested(900)],
    ['no JSON', '{"login": '],
  ])('who signs in with %s is refused in a short sentence', async (_what, body) => {
    const refused = await sendText(null, 'auth/sign-in', body);
    expect([400, 413]).toContain(refused.status);
    expect(refusal(refused).message).toMatch(/\.$/);
    expect(refused.text.length).toBeLessThan(600);
  });

  test('is not listened to where signing in is needed: whatever is sent, the answer is the same', async () => {
    const { documentId } = await demo.myLab(demo.zofia, 'Three Stations');
    for (const body of [
      '{}',
      saveOf('[]'),
      saveOf(`[${'{},'.repeat(1_000_000)}{}]`),
      'no JSON',
      'x'.repeat(16_000_000),
    ])
      for (const cookie of ['', 'sobrin-session=made-up']) {
        const answer = await request(demo.running.app.getHttpServer())
          .post(`/api/documents/${documentId}/changes`)
          .set(REQUEST_HEADER, '1')
          .set('Cookie', cookie)
          .set('Content-Type', 'application/json')
          .send(body);
        expect([answer.status, refusal(answer).message]).toEqual([401, expect.stringMatching(/not signed in/)]);
      }
  });
});

describe('somebody who is signed in', () => {
  test.each<[string, () => string]>([
    ['four million empty commands', () => saveOf(`[${'{},'.repeat(3_900_000)}{}]`)],
    [
      '400,000 edits',
      () => saveOf(`[{"kind":"edits","edits":[${'{"path":["a"],"value":1},'.repeat(400_000)}{"path":[]}]}]`),
    ],
    ['ten thousand levels', () => saveOf(`[{"kind":"edits","edits":[{"path":["a"],"value":${nested(10_000)}}]}]`)],
    ['a NUL', () => saveOf('[{"kind":"edits","edits":[{"path":["title"],"value":"a\\u0000b"}]}]')],
    ['half a character', () => saveOf('[{"kind":"edits","edits":[{"path":["title"],"value":"a\\ud83d"}]}]')],
    ['a key that is half a character', () => saveOf('[{"kind":"edits","edits":[{"path":["\\udc00"],"value":1}]}]')],
  ])('saves %s: refused with a sentence, and the drawing stays', async (_what, body) => {
    const { documentId } = await demo.myLab(demo.zofia, 'Three Stations');
    const before = await demo.drawing(demo.zofia, documentId);
    const refused = await sendText(demo.zofia, `documents/${documentId}/changes`, body());
    expect([400, 413, 422]).toContain(refused.status);
    expect(refusal(refused).message).toMatch(/\.$/);
    expect(refused.text.length).toBeLessThan(60_000);
    expect(await demo.drawing(demo.zofia, documentId)).toEqual(before);
  });

  test('writes of a pair of halves that are one character, and of what looks like a NUL and is none', async () => {
    const { documentId } = await demo.myLab(demo.zofia, 'Three Stations');
    const { revision } = await demo.drawing(demo.zofia, documentId);
    const title = '\\ud83d\\ude80 \\\\u0000';
    const body = saveOf(`[{"kind":"edits","edits":[{"path":["title"],"value":"${title}"}]}]`);
    const saved = await sendText(
      demo.zofia,
      `documents/${documentId}/changes`,
      body.replace('"base":0', `"base":${revision}`),
    );
    expect(saved.status).toBe(200);
    expect((await demo.drawing(demo.zofia, documentId)).document.title).toBe('🚀 \\u0000');
  });

  test.each<[string, string]>([
    ['nothing but blanks', ' '.repeat(9_900_000)],
    ['pairs of brackets', '[]'.repeat(4_900_000)],
    ['brackets that are never closed', '['.repeat(9_900_000)],
    ['600,000 devices', `{"format":"sobrin-topology","version":1,"sites":{},"links":{},"devices":${keys(600_000)}}`],
    [
      'a NUL in a name',
      '{"format":"sobrin-topology","version":1,"title":"a\\u0000","sites":{},"links":{},"devices":{}}',
    ],
  ])('uploads %s: refused with a sentence', async (_what, text) => {
    const lab = await demo.labId('Three Stations');
    const refused = await sendText(demo.zofia, `my/labs/${lab}/upload`, JSON.stringify({ text }));
    expect([400, 413, 422]).toContain(refused.status);
    expect(refusal(refused).message).toMatch(/\.$/);
    expect(refused.text.length).toBeLessThan(60_000);
  });

  test('hears no more than a part of what they sent', async () => {
    const lab = await demo.labId('Three Stations');
    const long = 'y'.repeat(5000);
    const sent = [
      await demo.zofia.send('put', `my/labs/${lab}/answers`, { answers: { [long]: 'x' } }),
      await demo.zofia.send('put', `my/labs/${lab}/answers`, { answers: {}, [long]: 'x' }),
      await demo.maren.send('post', 'courses', { title: 'T', [long]: long }),
      await sendText(demo.zofia, `my/labs/${lab}/upload`, JSON.stringify({ text: JSON.stringify({ format: long }) })),
      await sendText(
        demo.zofia,
        `my/labs/${lab}/upload`,
        JSON.stringify({ text: `{"format":"sobrin-topology","${long}":1}` }),
      ),
    ];
    for (const { status, text } of sent) {
      expect([400, 422]).toContain(status);
      expect(text).not.toContain('y'.repeat(201));
    }
  });
});

test.each([
  'shown/a%00b',
  'labs/%00',
  'documents/%00/live',
  'shown/%ff',
  'shown/%',
  'shown/x?y=%00',
  'courses/%2e%2e/roster',
])('an address like %s has an answer, and it is none of the server’s mistakes', async (path) => {
  const { status } = await demo.maren.get(path);
  expect([400, 404]).toContain(status);
});
