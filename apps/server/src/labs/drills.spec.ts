import { type DrillView } from '@sobrin/contracts';
import { specHash } from '@sobrin/core/spec';
import { randomBytes } from 'node:crypto';
import { DataSource } from 'typeorm';
import { useDemo } from '../tests/demo';

const demo = useDemo();
const came = (hash: string, more: object = {}) => ({ specHash: hash, noticed: 90, missed: 10, score: 0.9, ...more });
const drills = async (lab: string): Promise<DrillView[]> =>
  (await demo.maren.get(`labs/${lab}/drills`).expect(200)).body as DrillView[];

test('what came of a drill stands with the version that was drilled; the same spec has one, however many say so', async () => {
  const { id: lab, referenceId, spec, policy, brief, tasks } = await demo.labOf('Valley Station LAN');
  expect(await drills(lab)).toEqual([]);
  const { document: reference } = await demo.drawing(demo.maren, referenceId);
  const hash = specHash({ reference, spec, policy, brief, tasks });
  await Promise.all(
    Array.from({ length: 30 }, () => demo.maren.send('post', `labs/${lab}/drills`, came(hash)).expect(200)),
  );
  expect(await drills(lab)).toMatchObject([{ noticed: 90, missed: 10, score: 0.9, version: 1 }]);
  await demo.maren.send('post', `labs/${lab}/drills`, came('0'.repeat(64), { score: 1 })).expect(200);
  expect((await drills(lab)).map(({ version, score }) => [version, score])).toEqual([
    [1, 0.9],
    [null, 1],
  ]);
});

test('no more are kept than are shown, the newest of them', async () => {
  const lab = await demo.labId('Three Stations');
  for (let n = 0; n < 45; n++)
    await demo.maren
      .send('post', `labs/${lab}/drills`, came(randomBytes(32).toString('hex'), { noticed: n }))
      .expect(200);
  expect((await drills(lab)).map(({ noticed }) => noticed)).toEqual(Array.from({ length: 40 }, (_, at) => at + 5));
  const [row] = await demo.running.app
    .get(DataSource)
    .query<{ n: number }[]>('SELECT count(*)::int AS n FROM drill WHERE missed = 10');
  expect(row!.n).toBeLessThanOrEqual(42);
});

test('what is no drill is refused, and students have nothing to do with it', async () => {
  const lab = await demo.labId('Three Stations');
  for (const [body, text] of [
    [came('x'), /64 hexadecimal digits/],
    [came('0'.repeat(64), { score: 2 }), /score/],
    [came('0'.repeat(64), { noticed: -1 }), /noticed/],
    [{ ...came('0'.repeat(64)), more: 1 }, /more/],
  ] as const) {
    const answer = await demo.maren.send('post', `labs/${lab}/drills`, body);
    expect([answer.status, JSON.stringify(answer.body)]).toEqual([400, expect.stringMatching(text)]);
  }
  await demo.zofia.get(`labs/${lab}/drills`).expect(403);
  await demo.zofia.send('post', `labs/${lab}/drills`, came('0'.repeat(64))).expect(403);
});
