import { type ClassRow, type FileView, type LabView } from '@sobrin/contracts';
import { DataSource } from 'typeorm';
import { type Person } from '../tests/application';
import { randomUUID } from 'node:crypto';
import { refusal, useDemo } from '../tests/demo';

const demo = useDemo();
/** Three times the connections that the server has for all requests. */
const AT_ONCE = 30;

const policyOf = (lab: LabView, policy: object) =>
  demo.maren.send('patch', `labs/${lab.id}`, { base: lab.revision, policy }).expect(200);

describe('at the bell', () => {
  test('one student who presses thirty times gets thirty attempts, each with its own number', async () => {
    const lab = await demo.labOf('Three Stations');
    await policyOf(lab, { ...lab.policy, attempts: AT_ONCE + 1 });
    const answers = await Promise.all(
      Array.from({ length: AT_ONCE }, () => demo.zofia.send('post', `my/labs/${lab.id}/hand-in`)),
    );
    expect(answers.map((answer) => answer.status)).toEqual(answers.map(() => 201));
    expect(answers.map((answer) => (answer.body as { attempt: number }).attempt).sort((a, b) => a - b)).toEqual(
      Array.from({ length: AT_ONCE }, (_, at) => at + 1),
    );
    await demo.maren.get('courses').expect(200);
  });

  test('one student who sends the same hand-in thirty times, as after lost answers, uses one attempt', async () => {
    const lab = await demo.labOf('Valley Station LAN');
    const before = await demo.myLab(demo.zofia, 'Valley Station LAN');
    const handIn = randomUUID();
    const answers = await Promise.all(
      Array.from({ length: AT_ONCE }, () => demo.zofia.send('post', `my/labs/${lab.id}/hand-in`, { handIn })),
    );
    expect(new Set(answers.map((answer) => answer.status))).toEqual(new Set([201]));
    expect(new Set(answers.map((answer) => JSON.stringify(answer.body))).size).toBe(1);
    const after = await demo.myLab(demo.zofia, 'Valley Station LAN');
    expect(after.attempts.used).toBe(before.attempts.used + 1);
    // A made-up hand-in is nobody else's, and no hand-in is taken for another lab.
    const other = await demo.running.as('ilse.haverkamp');
    const taken = await other.send('post', `my/labs/${lab.id}/hand-in`, { handIn });
    expect([taken.status, refusal(taken).message]).toEqual([400, expect.stringMatching(/Nothing was handed in/)]);
    await demo.zofia.send('post', `my/labs/${await demo.labId('Winch Isolation')}/hand-in`, { handIn }).expect(400);
    for (const body of [{ handIn: 'x' }, { handIn: 7 }, { handIn, more: 1 }])
      await demo.zofia.send('post', `my/labs/${lab.id}/hand-in`, body).expect(400);
  });

  test('the same hand-in by two servers on one database uses one attempt, and rosters by both make one account each', async () => {
    const lab = await demo.labOf('Summit Dual Stack');
    const other = await demo.running.again();
    try {
      const students = [demo.zofia, await other.as('zofia.wrona')];
      const handIn = randomUUID();
      const answers = await Promise.all(
        Array.from({ length: AT_ONCE }, (_, at) =>
          students[at % 2]!.send('post', `my/labs/${lab.id}/hand-in`, { handIn }),
        ),
      );
      expect(new Set(answers.map(({ status, body }) => `${status} ${JSON.stringify(body)}`)).size).toBe(1);
      expect((await demo.myLab(demo.zofia, 'Summit Dual Stack')).attempts.used).toBe(1);
      const instructors = [demo.maren, await other.as('maren')];
      const rosters = await Promise.all(
        Array.from({ length: AT_ONCE }, (_, at) =>
          instructors[at % 2]!.send('post', `courses/${lab.courseId}/roster`, {
            students: [{ name: 'Both', login: 'both.servers' }],
          }),
        ),
      );
      expect(new Set(rosters.map(({ status }) => status))).toEqual(new Set([201]));
      const told = rosters.flatMap(({ body }) => body as { id: string; link: string | null }[]);
      expect([new Set(told.map(({ id }) => id)).size, told.filter(({ link }) => link).length]).toEqual([1, 1]);
    } finally {
      await other.close();
    }
  });

  test('a whole class hands in at the same moment, and the instructor changes the spec meanwhile', async () => {
    const lab = await demo.labOf('Winch Isolation');
    const students: Person[] = [];
    for (const { login } of (await demo.maren.get('auth/demo')).body as { login: string }[])
      if (login !== 'maren') students.push(await demo.running.as(login));
    const handingIn = students.map((student) => student.send('post', `my/labs/${lab.id}/hand-in`));
    const changing = Array.from({ length: AT_ONCE }, () =>
      demo.maren.send('patch', `labs/${lab.id}`, { base: lab.revision, spec: lab.spec }),
    );
    const answers = await Promise.all([...handingIn, ...changing]);
    expect(answers.slice(0, students.length).map((answer) => answer.status)).toEqual(students.map(() => 201));
    // One change of the revision they all knew was taken, the others were told so.
    expect(
      answers
        .slice(students.length)
        .map((answer) => answer.status)
        .sort(),
    ).toEqual([200, ...Array.from({ length: AT_ONCE - 1 }, () => 409)]);
    const rows = (await demo.maren.get(`labs/${lab.id}/submissions`).expect(200)).body as ClassRow[];
    expect(rows.filter((row) => row.attempts > 0)).toHaveLength(students.length);
  });

  const file = { name: 'notes.txt', type: 'text/plain', base64: Buffer.from('a note').toString('base64') };
  const filesOf = async (where: string): Promise<number> => {
    const [row] = await demo.running.app
      .get(DataSource)
      .query<{ n: number }[]>(`SELECT count(*)::int AS n FROM ${where}`);
    return row!.n;
  };

  test('thirty files that are attached at once: as many are taken as may be, and those taken away are gone', async () => {
    const id = await demo.labId('Winch Isolation');
    const student = await demo.running.as('eero.lahtinen');
    const attached = await Promise.all(
      Array.from({ length: AT_ONCE }, () => student.send('post', `my/labs/${id}/attachments`, file)),
    );
    const taken = attached.filter(({ status }) => status === 201).map(({ body }) => (body as FileView).id);
    expect([taken.length, attached.filter(({ status }) => status === 400).length]).toEqual([16, AT_ONCE - 16]);
    const [kept, ...others] = taken;
    await student.send('post', `my/labs/${id}/hand-in`).expect(201);
    const before = await filesOf('attachment');
    await student.send('delete', `my/labs/${id}/attachments/${others[0]!}`).expect(204);
    expect(await filesOf('attachment')).toBe(before); // it was handed in
    for (let round = 0; round < 3; round++) {
      const added = (await student.send('post', `my/labs/${id}/attachments`, file).expect(201)).body as FileView;
      await student.send('delete', `my/labs/${id}/attachments/${added.id}`).expect(204);
    }
    expect(await filesOf('attachment')).toBe(before);
    expect((await demo.myLab(student, 'Winch Isolation')).attachments.map((each) => each.id)).toContain(kept);
  });

  test('eighty files of a lab at once: never more than a lab may have', async () => {
    const { id, files } = await demo.labOf('Winch Isolation');
    const added = await Promise.all(
      Array.from({ length: 80 }, () => demo.maren.send('post', `labs/${id}/files`, file)),
    );
    expect(added.filter(({ status }) => status === 201)).toHaveLength(64 - files.length);
    expect(new Set(added.map(({ status }) => status))).toEqual(new Set([201, 400]));
  });
});
