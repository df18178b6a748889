import { type Conflict, type LabView, type LookInView, type Present } from '@sobrin/contracts';
import { type Command, type Comment } from '@sobrin/core/topology';
import { randomUUID } from 'node:crypto';
import { filter, firstValueFrom, timeout } from 'rxjs';
import { PresenceService } from '../documents/presence.service';
import { type Person } from '../tests/application';
import { refusal, useDemo } from '../tests/demo';

const demo = useDemo();
const TITLE = 'Three Stations';
let lab: LabView;
let documentId: string;
let planId: string;

/** The lab's rules with one of them set. */
const rule = async (lookIn: boolean | undefined): Promise<void> => {
  const { id, revision, policy } = await demo.labOf(TITLE);
  const { lookIn: _before, ...others } = policy;
  await demo.maren
    .send('patch', `labs/${id}`, { base: revision, policy: { ...others, ...(lookIn !== undefined && { lookIn }) } })
    .expect(200);
};
const save = async (who: Person, ...commands: Command[]) => {
  const { revision } = await demo.drawing(demo.zofia, documentId);
  return who.send('post', `documents/${documentId}/changes`, { save: randomUUID(), base: revision, commands });
};
const said = (text: string, by = 'Maren Osterkamp') => ({ by, at: '2026-11-30T10:00:00Z', text });
const talk = (id: string, entries: Comment['entries'], more: Partial<Comment> = {}): Command => ({
  kind: 'setComment',
  id,
  set: { at: { x: 1, y: 2 }, entries, ...more },
});
const talks = async () => (await demo.drawing(demo.zofia, documentId)).document.comments ?? {};

beforeAll(async () => {
  lab = await demo.labOf(TITLE);
  ({ documentId, planId } = await demo.myLab(demo.zofia, TITLE));
});

test('where the lab does not say so, nobody sees a drawing before it is handed in, and is told why', async () => {
  const asked = await demo.maren.get(`labs/${lab.id}/drawings/${demo.zofia.me.id}`).expect(403);
  expect(refusal(asked).message).toMatch(/drawings are seen when they are handed in/);
  await demo.maren.get(`documents/${documentId}`).expect(404);
  expect((await save(demo.maren, talk('c', [said('x')]))).status).toBe(404);
  expect((await demo.myLab(demo.zofia, TITLE)).lookIn).toBe(false);
});

describe('where the lab says so', () => {
  beforeAll(() => rule(true));

  test('its staff see it, know in whose name they speak, and the student is told that they may', async () => {
    const found = (await demo.maren.get(`labs/${lab.id}/drawings/${demo.zofia.me.id}`).expect(200)).body as LookInView;
    expect(found).toEqual({ student: 'Zofia Wrona', documentId, planId, speaksAs: 'Maren Osterkamp' });
    for (const id of [documentId, planId]) await demo.maren.get(`documents/${id}`).expect(200);
    expect((await demo.myLab(demo.zofia, TITLE)).lookIn).toBe(true);
  });
  test('what it was, and changing it, stay the student’s; so it is for other students, and for strangers to the course', async () => {
    await demo.maren.get(`documents/${documentId}/versions`).expect(403);
    await demo.maren.get(`documents/${documentId}/versions/0`).expect(403);
    await demo.maren.send('post', `documents/${documentId}/versions`, { revision: 0, name: 'Mine' }).expect(403);
    const other = await demo.running.as('adaeze.okonjo');
    await other.get(`documents/${documentId}`).expect(404);
    await other.get(`labs/${lab.id}/drawings/${demo.zofia.me.id}`).expect(403);
    expect((await save(other, talk('c', [said('x', 'Adaeze Okonjo')]))).status).toBe(404);
  });
  test.each<[string, () => Command[], RegExp]>([
    [
      'a device',
      () => [
        { kind: 'addDevice', id: 'mine', device: { name: 'MINE', model: 'hub', at: { x: 0, y: 0 } } },
        talk('c1', [said('And a hub.')]),
      ],
      /the drawing is its student’s/,
    ],
    ['somebody else’s words', () => [talk('c2', [said('I am done.', 'Zofia Wrona')])], /not said by Zofia Wrona/],
    [
      'a drawing in place of it',
      () => [
        {
          kind: 'replace',
          topology: { format: 'sobrin-topology', version: 4, sites: {}, devices: {}, links: {} },
        },
      ],
      /the drawing is its student’s/,
    ],
    ['edits by hand', () => [{ kind: 'edits', edits: [{ path: ['title'], value: 'mine' }] }], /the drawing is/],
  ])(
    'nobody but the student changes it: %s is refused, with all that came along',
    async (_what, commands, sentence) => {
      const before = await demo.drawing(demo.zofia, documentId);
      const refused = await save(demo.maren, ...commands());
      expect([refused.status, refusal(refused).message]).toEqual([403, expect.stringMatching(sentence) as string]);
      expect(await demo.drawing(demo.zofia, documentId)).toEqual(before);
    },
  );
  test('the plan is looked at only', async () => {
    const { revision } = await demo.plan(demo.zofia, planId);
    const commands = [{ kind: 'replace', plan: { blocks: { b: { prefix: '10.84.0.0/24', name: 'Mine' } } } }];
    await demo.maren
      .send('post', `documents/${planId}/changes`, { save: randomUUID(), base: revision, commands })
      .expect(403);
  });
  test('they comment, the student answers, and what was said stays as it was said', async () => {
    const first = said('Why two hubs?');
    expect((await save(demo.maren, talk('t', [first]))).status).toBe(200);
    const answer = said('One was free.', 'Zofia Wrona');
    expect((await save(demo.zofia, talk('t', [first, answer]))).status).toBe(200);
    for (const entries of [[first], [first, said('Two were free.', 'Zofia Wrona')], [said('Never mind.'), answer]])
      expect((await save(demo.maren, talk('t', entries))).status).toBe(403);
    expect((await save(demo.maren, { kind: 'setComment', id: 't', set: null })).status).toBe(403);
    expect((await save(demo.maren, talk('t', [first, answer, said('Fine.')], { at: { x: 9, y: 9 } }))).status).toBe(
      403,
    );
    expect((await save(demo.maren, talk('t', [first, answer, said('Fine.')], { resolved: true }))).status).toBe(200);
    expect((await talks()).t).toMatchObject({ resolved: true, entries: [first, answer, said('Fine.')] });
    // One’s own talk, in which nobody else has spoken, one may take back.
    expect((await save(demo.maren, talk('own', [said('Oops.')]))).status).toBe(200);
    expect((await save(demo.maren, { kind: 'setComment', id: 'own', set: null })).status).toBe(200);
    expect(Object.keys(await talks())).toEqual(['t']);
  });
  test('thirty comments at once, while the student draws, all stand', async () => {
    const { revision } = await demo.drawing(demo.zofia, documentId);
    const post = (who: Person, ...commands: Command[]) =>
      who.send('post', `documents/${documentId}/changes`, { save: randomUUID(), base: revision, commands });
    const done = await Promise.all([
      ...Array.from({ length: 30 }, (_one, at) => post(demo.maren, talk(`m${at}`, [said(String(at))]))),
      post(demo.zofia, { kind: 'addDevice', id: 'hub', device: { name: 'HB-1', model: 'hub', at: { x: 0, y: 0 } } }),
    ]);
    expect(done.map(({ status, body }) => [status, (body as Partial<Conflict>).places])).toEqual(
      done.map(() => [200, undefined]),
    );
    expect(Object.keys(await talks())).toHaveLength(31);
    expect((await demo.drawing(demo.zofia, documentId)).document.devices.hub?.name).toBe('HB-1');
  });
  test('each is told who else has it open, as the course writes their names', async () => {
    const { courseId } = lab;
    await demo.maren
      .send('patch', `courses/${courseId}/roster/${demo.zofia.me.id}`, { name: 'Wrona, Zofia' })
      .expect(200);
    const presence = demo.running.app.get(PresenceService);
    const line = presence.at(demo.zofia.me, documentId).subscribe();
    const told = await firstValueFrom(
      presence.at(demo.maren.me, documentId).pipe(
        filter((others: Present[]) => others.length > 0),
        timeout(30_000),
      ),
    );
    expect(told).toEqual([{ id: demo.zofia.me.id, name: 'Wrona, Zofia' }]);
    line.unsubscribe();
  });
  test('a student who has not begun has nothing to be looked at, and one of no course is missing', async () => {
    const yrsa = await demo.running.as('tobias.ferreira');
    const rows = (await demo.maren.get(`labs/${lab.id}/submissions`)).body as {
      studentId: string;
      hasBegun: boolean;
    }[];
    expect(rows.find(({ studentId }) => studentId === demo.zofia.me.id)!.hasBegun).toBe(true);
    const { hasBegun } = rows.find(({ studentId }) => studentId === yrsa.me.id)!;
    const asked = await demo.maren.get(`labs/${lab.id}/drawings/${yrsa.me.id}`);
    expect(asked.status).toBe(hasBegun ? 200 : 409);
    await demo.maren.get(`labs/${lab.id}/drawings/${randomUUID()}`).expect(404);
  });
  test('when the rule is taken back, the door is shut again', async () => {
    await rule(undefined);
    await demo.maren.get(`documents/${documentId}`).expect(404);
    expect((await save(demo.maren, talk('late', [said('x')]))).status).toBe(404);
  });
});
