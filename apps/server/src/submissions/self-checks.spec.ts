import { type SelfChecksView } from '@sobrin/contracts';
import { type Policy } from '@sobrin/core/spec';
import { randomUUID } from 'node:crypto';
import { refusal, useDemo } from '../tests/demo';
import { type Person } from '../tests/application';

const demo = useDemo();
const TITLE = 'Valley Station LAN';
/** Three times the connections that the server has for all requests. */
const AT_ONCE = 30;

async function rule(selfChecks: Policy['selfChecks'], more: Partial<Policy> = {}, title = TITLE): Promise<string> {
  const { id, revision, policy } = await demo.labOf(title);
  const { selfChecks: _old, ...rest } = policy;
  await demo.maren
    .send('patch', `labs/${id}`, { base: revision, policy: { ...rest, ...more, ...(selfChecks && { selfChecks }) } })
    .expect(200);
  return id;
}
const ask = async (who: Person, lab: string, id = randomUUID(), title = TITLE) =>
  who.send('post', `my/labs/${lab}/self-checks`, { id, drawing: (await demo.myLab(who, title)).documentId });

test('where the lab says nothing, nothing is told', async () => {
  const lab = await rule(undefined);
  const answer = await ask(demo.zofia, lab);
  expect([answer.status, refusal(answer).message]).toEqual([409, expect.stringContaining('nothing is told')]);
  expect((await demo.myLab(demo.zofia, TITLE)).selfChecks).toBeNull();
});

test('section sums are told so often and no more, stay to be read, and hold nothing of questions', async () => {
  const lab = await rule({ most: 2 });
  const first = (await ask(demo.zofia, lab)).body as SelfChecksView;
  expect(first).toMatchObject({ most: 2, used: 1 });
  const { spec } = await demo.labOf(TITLE);
  expect(first.last!.sections!.map(({ title }) => title)).toEqual(
    spec.sections.map(({ title }) => title).filter((title) => title !== 'Questions'),
  );
  expect(first.last!).not.toHaveProperty('requirements');
  expect(Object.keys(first.last!.sections![0]!).sort()).toEqual(['of', 'points', 'title']);
  expect((await ask(demo.zofia, lab)).status).toBe(200);
  const third = await ask(demo.zofia, lab);
  expect([third.status, refusal(third).message]).toEqual([409, expect.stringContaining('all 2 self-checks')]);
  const { selfChecks, submissions } = await demo.myLab(demo.zofia, TITLE);
  expect(selfChecks).toMatchObject({ used: 2, last: { sections: first.last!.sections } });
  expect(submissions).toEqual([]);
  await demo.maren.get(`labs/${lab}/submissions`).expect(200);
});

test('of chosen requirements it is told whether they are met', async () => {
  const { spec } = await demo.labOf(TITLE);
  const [one] = spec.sections[0]!.requirements;
  const lab = await rule({ most: 5, requirements: [one!.id] });
  const eero = await demo.running.as('eero.lahtinen');
  const { last } = (await ask(eero, lab)).body as SelfChecksView;
  expect(last).not.toHaveProperty('sections');
  expect(last!.requirements).toEqual([
    { sentence: expect.any(String) as string, verdict: expect.stringMatching(/^(met|lost|partly)$/) as string },
  ]);
});

test('where nothing is chosen that may be told, that is said and nothing is counted', async () => {
  const lab = await rule({ most: 1, requirements: ['gone'] });
  const greta = await demo.running.as('greta.holzapfel');
  const answer = await ask(greta, lab);
  expect([answer.status, refusal(answer).message]).toEqual([409, expect.stringContaining('Nothing was counted')]);
  expect((await demo.myLab(greta, TITLE)).selfChecks).toEqual({ most: 1, used: 0, last: null });
});

test('whoever presses thirty times is told three times; the same question thirty times is one', async () => {
  const lab = await rule({ most: 3 });
  const tobias = await demo.running.as('tobias.ferreira');
  await demo.myLab(tobias, TITLE);
  const all = await Promise.all(Array.from({ length: AT_ONCE }, () => ask(tobias, lab)));
  expect(all.map(({ status }) => status).filter((status) => status === 200)).toHaveLength(3);
  // The others are told that there are no more, or to wait for what they asked for.
  expect(all.filter(({ status }) => ![200, 409, 429].includes(status))).toEqual([]);
  const ilse = await demo.running.as('ilse.haverkamp');
  const id = randomUUID();
  await demo.myLab(ilse, TITLE);
  const same = await Promise.all(Array.from({ length: 8 }, () => ask(ilse, lab, id)));
  expect(same.map(({ status }) => status)).toEqual(same.map(() => 200));
  expect((await demo.myLab(ilse, TITLE)).selfChecks!.used).toBe(1);
  // Nobody asks under somebody else's id, and nobody asks of somebody else's drawing.
  const stolen = await ask(demo.zofia, lab, id);
  expect([stolen.status, refusal(stolen).message]).toEqual([400, expect.stringContaining('Nothing was checked')]);
  const { documentId } = await demo.myLab(ilse, TITLE);
  await demo.zofia.send('post', `my/labs/${lab}/self-checks`, { id: randomUUID(), drawing: documentId }).expect(409);
  for (const body of [{}, { id: 'x', drawing: documentId }, { id: randomUUID() }, { id, drawing: documentId, more: 1 }])
    await ilse.send('post', `my/labs/${lab}/self-checks`, body).expect(400);
  await demo.maren.send('post', `my/labs/${lab}/self-checks`, { id, drawing: documentId }).expect(403);
});

test('where nothing more can be handed in, nothing more is told', async () => {
  const farid = await demo.running.as('farid.benali');
  const { used } = (await demo.myLab(farid, TITLE)).attempts;
  const lab = await rule({ most: 50 }, { attempts: used + 1 });
  expect((await ask(farid, lab)).status).toBe(200);
  await farid.send('post', `my/labs/${lab}/hand-in`, { handIn: randomUUID() }).expect(201);
  const after = await ask(farid, lab);
  expect([after.status, refusal(after).message]).toEqual([409, expect.stringMatching(/^You have used all \d attempt/)]);
});
