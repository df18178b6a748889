import {
  type CourseSummary,
  ROUTES,
  type RouteName,
  type StudentAttempt,
  type StudentLabView,
} from '@sobrin/contracts';
import { randomUUID } from 'node:crypto';
import { firstValueFrom } from 'rxjs';
import { DataSource } from 'typeorm';
import { DocumentsController } from '../submissions/documents.controller';
import { useDemo } from '../tests/demo';
import { type Person } from '../tests/application';

const demo = useDemo();
const TITLE = 'Valley Station LAN';
/** Words that stand only where a student must not look; no part of any other word. */
const CANARIES = [
  'KANARIREFERENCE',
  'KANARISPEC',
  'KANARIPLAN',
  'KANARIGROUP',
  'KANARIOTHER',
  'KANARIANSWER',
  'KANARIFILE',
  'KANARIDEVICE',
  'KANARIHINT',
];

async function save(who: Person, id: string, command: object): Promise<void> {
  const { revision: base } = await demo.drawing(who, id);
  await who.send('post', `documents/${id}/changes`, { save: randomUUID(), base, commands: [command] }).expect(200);
}

/** Plants them in the reference, the spec, the plan, and in another student's drawing, answers and files. */
async function plant(): Promise<void> {
  const lab = await demo.labOf(TITLE);
  await save(demo.maren, lab.referenceId, { kind: 'setDocument', set: { legend: 'KANARIREFERENCE' } });
  // Every device of the reference: whatever a sentence speaks of has a name that does not go out.
  const { document } = await demo.drawing(demo.maren, lab.referenceId);
  for (const [at, id] of Object.keys(document.devices).entries())
    await save(demo.maren, lab.referenceId, { kind: 'setDevice', id, set: { name: `KANARIDEVICE${at}` } });
  await save(demo.maren, lab.planId, {
    kind: 'addBlock',
    id: 'k',
    block: { prefix: '10.99.0.0/24', name: 'KANARIPLAN' },
  });
  const { revision, spec } = await demo.labOf(TITLE);
  spec.sections[0]!.requirements[0]!.wording = 'KANARISPEC';
  spec.sections[0]!.requirements[1]!.hints = { what: 'KANARIHINT' };
  spec.groups.k = { title: 'KANARIGROUP', roles: [] };
  await demo.maren.send('patch', `labs/${lab.id}`, { base: revision, spec }).expect(200);
  await demo.maren.send('post', `labs/${lab.id}/versions`).expect(200);
  const other = await demo.running.as('adaeze.okonjo');
  const { documentId, tasks } = await demo.myLab(other, TITLE);
  await save(other, documentId, { kind: 'setDocument', set: { legend: 'KANARIOTHER' } });
  await other.send('put', `my/labs/${lab.id}/answers`, { answers: { [tasks[0]!.id]: 'KANARIANSWER' } }).expect(204);
  await other
    .send('post', `my/labs/${lab.id}/attachments`, { name: 'KANARIFILE.txt', type: 'text/plain', base64: '' })
    .expect(201);
  await other.send('post', `my/labs/${lab.id}/hand-in`, { handIn: randomUUID() }).expect(201);
}

test('nothing of reference, spec, plan or others’ work is in any answer, stream or file that a student gets', async () => {
  await plant();
  const { id: lab, courseId, referenceId, planId } = await demo.labOf(TITLE);
  // What is looked for is there for those who may see it.
  const seen = JSON.stringify([
    (await demo.maren.get(`labs/${lab}`)).body,
    (await demo.maren.get(`documents/${referenceId}`)).body,
    (await demo.maren.get(`documents/${planId}`)).body,
  ]);
  for (const canary of CANARIES.slice(0, 4)) expect(seen).toContain(canary);

  const mine = await demo.myLab(demo.zofia, TITLE);
  const attempt = (await demo.zofia.send('post', `my/labs/${lab}/hand-in`, { handIn: randomUUID() }).expect(201))
    .body as {
    id: string;
  };
  await demo.maren.send('post', `labs/${lab}/check`).expect(200);
  const others = await demo.running.app
    .get(DataSource)
    .query<{ id: string }[]>(
      'SELECT id FROM submission UNION SELECT id FROM attachment UNION SELECT document_id FROM work',
    );
  const ids: Record<string, string[]> = {
    'courses/:id': [courseId],
    'labs/:id': [lab],
    'my/labs/:id': [lab],
    'documents/:id': [mine.documentId, mine.planId, referenceId, planId, ...others.map(({ id }) => id)],
    'submissions/:id': [attempt.id, ...others.map(({ id }) => id)],
    'attachments/:id': others.map(({ id }) => id),
  };
  let answers = 0;
  for (const name of Object.keys(ROUTES) as RouteName[]) {
    const [method, route] = name.split(' ') as [string, string];
    if (method !== 'GET' || route.endsWith('/live')) continue;
    const prefix = Object.keys(ids).find((each) => route.startsWith(each));
    for (const id of prefix ? ids[prefix]! : ['']) {
      const place = route
        .replace(':id', id)
        .replace(':revision', '0')
        .replace(':attempt', attempt.id)
        .replace(':format', 'svg')
        .replace(':file', 'f1')
        .replace(':key', 'k');
      const { text, body } = (await demo.zofia.get(place)) as { text?: string; body: unknown };
      const said = `${text ?? ''} ${JSON.stringify(body)} ${Buffer.isBuffer(body) ? body.toString() : ''}`;
      expect([name, CANARIES.filter((canary) => said.includes(canary))]).toEqual([name, []]);
      answers++;
    }
  }
  expect(answers).toBeGreaterThan(100);
  const line = demo.running.app
    .get(DocumentsController)
    .live(demo.zofia.me, { id: mine.documentId, lab: null, mayEdit: true, speaksAs: null }, () =>
      Promise.resolve(true),
    );
  const first = firstValueFrom(line);
  expect(JSON.stringify(await first)).not.toMatch(/KANARI/);
  // Of what was judged a student gets the points and nothing else, unless the lab says so.
  const [submission] = ((await demo.zofia.get(`my/labs/${lab}`)).body as StudentLabView).submissions;
  expect(Object.keys(submission!).sort()).toEqual([
    'attempt',
    'counts',
    'handedInAt',
    'id',
    'late',
    'of',
    'penalty',
    'points',
  ]);
  const whatIsShown = async (shown: object): Promise<StudentAttempt> => {
    const { revision, policy } = await demo.labOf(TITLE);
    await demo.maren.send('patch', `labs/${lab}`, { base: revision, policy: { ...policy, shown } }).expect(200);
    return (await demo.zofia.get(`my/labs/${lab}/attempts/${attempt.id}`).expect(200)).body as StudentAttempt;
  };
  const pointsSeen = async (): Promise<unknown[]> => {
    const courses = (await demo.zofia.get('courses')).body as CourseSummary[];
    const { submissions } = (await demo.zofia.get(`my/labs/${lab}`)).body as StudentLabView;
    return [courses[0]!.labs.find(({ id }) => id === lab)!.mine!.points, submissions[0]!.points];
  };
  expect(await pointsSeen()).toEqual([expect.any(Number), expect.any(Number)]);
  expect((await whatIsShown({ what: 'nothing' })).result).toBeNull();
  expect(await pointsSeen()).toEqual([null, null]);
  const keys = ({ result }: StudentAttempt): string[] => Object.keys(result!).sort();
  expect(keys(await whatIsShown({ what: 'sections' }))).toEqual(['of', 'penalty', 'points', 'sections']);
  for (const strength of ['that', 'where', 'what']) {
    const { result } = await whatIsShown({ what: 'findings', strength });
    expect(result!.findings!.length).toBeGreaterThan(10);
    const said = JSON.stringify(result);
    // What is written for students in place of a sentence, and the hint of what they have not met where so much may be
    // told, is all of the spec that goes out.
    const isLost = ['lost', 'partly'].includes(result!.findings![1]!.verdict);
    expect(CANARIES.filter((canary) => said.includes(canary))).toEqual([
      'KANARISPEC',
      ...(strength === 'what' && isLost ? ['KANARIHINT'] : []),
    ]);
    for (const word of ['confidence', 'role', 'forStudents', 'theirText'])
      expect([strength, word, said.includes(`"${word}"`)]).toEqual([strength, word, false]);
    expect(said.includes('"places"')).toBe(strength !== 'that');
    expect(said.includes('"text"')).toBe(strength === 'what');
  }
  // Nor does what is told before handing in say more.
  const { spec } = await demo.labOf(TITLE);
  const all = spec.sections.flatMap(({ requirements }) => requirements.map(({ id }) => id));
  for (const [rule, known] of [
    [{ most: 9 }, []],
    [{ most: 9, requirements: all }, ['KANARISPEC']],
  ] as const) {
    const { revision, policy } = await demo.labOf(TITLE);
    await demo.maren
      .send('patch', `labs/${lab}`, { base: revision, policy: { ...policy, selfChecks: rule } })
      .expect(200);
    const asked = { id: randomUUID(), drawing: mine.documentId };
    const said = JSON.stringify((await demo.zofia.send('post', `my/labs/${lab}/self-checks`, asked).expect(200)).body);
    expect(CANARIES.filter((canary) => said.includes(canary))).toEqual(known);
    expect(said).not.toMatch(/"(items|confidence|role|theirText)"/);
  }
  // A hint that is asked for is told, and nothing of what it belongs to.
  const ruled = await demo.labOf(TITLE);
  await demo.maren
    .send('patch', `labs/${lab}`, { base: ruled.revision, policy: { ...ruled.policy, hintCost: 1, tries: 1 } })
    .expect(200);
  const { hints } = (await demo.zofia.get(`my/labs/${lab}`)).body as StudentLabView;
  expect(JSON.stringify(hints)).not.toMatch(/KANARI/);
  const wanted = { id: randomUUID(), drawing: mine.documentId, key: hints!.of[0]!.key, cost: 1 };
  const hint = JSON.stringify((await demo.zofia.send('post', `my/labs/${lab}/hints`, wanted).expect(200)).body);
  expect(CANARIES.filter((canary) => hint.includes(canary))).toEqual(['KANARIHINT']);
  expect(all.filter((id) => hint.includes(`"${id}"`))).toEqual([]);
  await demo.running
    .as('adaeze.okonjo')
    .then((other) => other.get(`my/labs/${lab}/attempts/${attempt.id}`).expect(404));
});
