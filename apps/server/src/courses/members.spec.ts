import {
  type AddedMember,
  type ClassRow,
  type CourseSummary,
  type Invitation,
  type LabView,
  type Member,
  type ResultsView,
  type StudentLabView,
  type SubmissionView,
} from '@sobrin/contracts';
import { randomUUID } from 'node:crypto';
import { type Response } from 'supertest';
import { DataSource } from 'typeorm';
import { Account } from '../accounts/account.entity';
import { type Person } from '../tests/application';
import { refusal, useDemo } from '../tests/demo';

const demo = useDemo();
const body = <Answer>(response: Response): Answer => response.body as Answer;

/** Somebody of the demo who is in no course. */
async function somebody(login: string, mayCreateCourses = false): Promise<Person> {
  const accounts = demo.running.app.get(DataSource).getRepository(Account);
  const name = `Real name of ${login}`;
  await accounts.insert({ id: randomUUID(), login, name, mayCreateCourses, passwordHash: 'x', demo: true });
  return demo.running.as(login);
}
const add = async (who: Person, course: string, ...students: object[]): Promise<AddedMember[]> =>
  body(await who.send('post', `courses/${course}/roster`, { students }).expect(201));
const roster = async (who: Person, course: string): Promise<Member[]> =>
  body(await who.get(`courses/${course}/roster`).expect(200));
const newCourse = async (who: Person, more: object = {}): Promise<string> =>
  body<CourseSummary>(await who.send('post', 'courses', { title: 'Evening class', ...more }).expect(201)).id;
const accept = (who: Person, course: string) => who.send('post', `courses/${course}/membership`).expect(204);
const invitations = async (who: Person): Promise<Invitation[]> => body(await who.get('invitations').expect(200));
const rows = async (who: Person, lab: string): Promise<ClassRow[]> =>
  body(await who.get(`labs/${lab}/submissions`).expect(200));

describe('an invitation', () => {
  test('is nothing until it is accepted, and the course knows the person by the name it wrote', async () => {
    const ann = await somebody('ann');
    const course = await newCourse(demo.maren, { term: 'Spring' });
    const [added] = await add(demo.maren, course, { login: 'ann', name: 'A. Lindqvist', group: 'B' });
    expect(added).toMatchObject({ name: 'A. Lindqvist', isInvited: true, link: null, wasThere: false });
    expect(JSON.stringify(await roster(demo.maren, course))).not.toContain('Real name');
    expect(await demo.courses(ann)).toEqual([]);
    expect(await invitations(ann)).toEqual([
      {
        courseId: course,
        title: 'Evening class',
        term: 'Spring',
        role: 'student',
        name: 'A. Lindqvist',
        instructors: ['Maren Osterkamp'],
      },
    ]);
    await accept(ann, course);
    await accept(ann, course);
    expect(await invitations(ann)).toEqual([]);
    expect(await demo.courses(ann)).toMatchObject([{ id: course, role: 'student' }]);
    expect((await roster(demo.maren, course)).find(({ login }) => login === 'ann')).toMatchObject({
      name: 'A. Lindqvist',
      group: 'B',
      isInvited: false,
    });
  });

  test('that is declined is gone; who has accepted does not decline, and who was never asked finds nothing', async () => {
    const bo = await somebody('bo');
    const course = await newCourse(demo.maren);
    await bo.send('post', `courses/${course}/membership`).expect(404);
    await add(demo.maren, course, { login: 'bo', name: 'Bo' });
    await bo.send('delete', `courses/${course}/membership`).expect(204);
    expect(await invitations(bo)).toEqual([]);
    expect((await roster(demo.maren, course)).map(({ login }) => login)).toEqual(['maren']);
    await add(demo.maren, course, { login: 'bo', name: 'Bo' });
    await accept(bo, course);
    await bo.send('delete', `courses/${course}/membership`).expect(409);
  });

  test('that is accepted and declined at the same moment is one of both, and each answer is true', async () => {
    const cy = await somebody('cy');
    for (let turn = 0; turn < 6; turn++) {
      const course = await newCourse(demo.maren);
      await add(demo.maren, course, { login: 'cy', name: 'Cy' });
      const answers = await Promise.all(
        Array.from({ length: 10 }, async (_each, at) => {
          const method = (at + turn) % 2 ? 'post' : 'delete';
          return { method, status: (await cy.send(method, `courses/${course}/membership`)).status };
        }),
      );
      const isIn = (await demo.courses(cy)).some(({ id }) => id === course);
      // Whoever finds it accepted cannot decline; nobody is told to be in a course that they are not in.
      for (const { method, status } of answers)
        expect(isIn ? (method === 'post' ? [204] : [409]) : [204, 404]).toContain(status);
      expect((await roster(demo.maren, course)).some(({ login, isInvited }) => login === 'cy' && !isInvited)).toBe(
        isIn,
      );
    }
  });

  test('of somebody who is in the course already changes nothing, and says so', async () => {
    const { courseId } = await demo.labOf('Three Stations');
    const [added] = await add(demo.maren, courseId, { login: 'zofia.wrona', name: 'Another', role: 'instructor' });
    expect(added).toMatchObject({ name: 'Zofia Wrona', role: 'student', wasThere: true, isInvited: false });
  });

  test('gives nobody the account: neither password nor sign-in name, before or after it is accepted elsewhere', async () => {
    const other = await somebody('other.teacher', true);
    const [theirs, mine] = [await newCourse(other), await newCourse(demo.maren)];
    const [made] = await add(other, theirs, { login: 'cai.new', name: 'Cai' });
    expect(made!.link).toMatch(/^\/enter#/);
    await add(demo.maren, mine, { login: 'cai.new', name: 'Cai' });
    const tries = (who: Person, course: string) =>
      Promise.all([
        who.send('post', `courses/${course}/roster/${made!.id}/link`),
        who.send('patch', `courses/${course}/roster/${made!.id}`, { login: 'cai.taken' }),
      ]);
    for (const refused of await tries(demo.maren, mine))
      expect([refused.status, refusal(refused).message]).toEqual([403, expect.stringMatching(/not accepted yet/)]);
    // Now that another course has a say, neither decides alone.
    for (const refused of await tries(other, theirs))
      expect([refused.status, refusal(refused).message]).toEqual([403, expect.stringMatching(/courses of others/)]);
    await demo.maren.send('delete', `courses/${mine}/roster/${made!.id}`).expect(204);
    expect((await tries(other, theirs)).map(({ status }) => status)).toEqual([201, 200]);
    expect((await roster(other, theirs)).map(({ login }) => login)).toContain('cai.taken');
  });

  test('a sign-in name that is corrected is one person’s, also where many want it at once', async () => {
    const course = await newCourse(demo.maren);
    const logins = Array.from({ length: 12 }, (_, at) => `h.new${at}`);
    const added = await add(demo.maren, course, ...logins.map((login) => ({ login, name: login })));
    const answers = await Promise.all(
      added.map(({ id }) => demo.maren.send('patch', `courses/${course}/roster/${id}`, { login: 'h.wanted' })),
    );
    expect(answers.map(({ status }) => status).sort()).toEqual([200, ...Array<number>(11).fill(409)]);
    expect(refusal(answers.find(({ status }) => status === 409)!).message).toMatch(/"h.wanted" is taken/);
    expect((await roster(demo.maren, course)).filter(({ login }) => login === 'h.wanted')).toHaveLength(1);
  });

  test('nor does teaching one course together: who may begin courses answers for themselves', async () => {
    const { courseId } = await demo.labOf('Three Stations');
    const accounts = demo.running.app.get(DataSource).getRepository(Account);
    const id = randomUUID();
    await accounts.insert({
      id,
      login: 'dag',
      name: 'Dag',
      mayCreateCourses: true,
      passwordHash: 'x',
      demo: false,
    });
    await add(demo.maren, courseId, { login: 'dag', name: 'Dag' });
    await demo.running.app
      .get(DataSource)
      .query('UPDATE membership SET accepted_at = now() WHERE account_id = $1', [id]);
    const refused = await demo.maren.send('post', `courses/${courseId}/roster/${id}/link`).expect(403);
    expect(refusal(refused).message).toMatch(/of their own.*npm run account -- reset dag/);
    await demo.maren.send('delete', `courses/${courseId}/roster/${id}`).expect(204);
  });
});

describe('the people of a course', () => {
  test('are called as the course writes it wherever it shows them; the account keeps its own name', async () => {
    const { id: lab, courseId } = await demo.labOf('Valley Station LAN');
    const before = (await rows(demo.maren, lab)).find(({ submissionId }) => submissionId)!;
    const change = { name: 'As We Say', group: 'Evening' };
    await demo.maren.send('patch', `courses/${courseId}/roster/${before.studentId}`, change).expect(200);
    expect((await rows(demo.maren, lab)).find(({ studentId }) => studentId === before.studentId)).toMatchObject(change);
    const { student } = body<SubmissionView>(await demo.maren.get(`submissions/${before.submissionId}`).expect(200));
    expect(student.name).toBe('As We Say');
    const results = body<ResultsView>(await demo.maren.get(`labs/${lab}/results`).expect(200));
    expect(results.rows.map(({ name, group }) => ({ name, group }))).toContainEqual(change);
    expect((await demo.maren.get(`labs/${lab}/results.csv`).expect(200)).text).toMatch(/^As We Say,[^,]+,Evening,/m);
    const account = await demo.running.app.get(DataSource).manager.findOneByOrFail(Account, { id: before.studentId });
    expect(account.name).toBe(before.name);
  });

  test('one teaches here and attends there', async () => {
    const eve = await somebody('eve', true);
    const taught = await newCourse(eve);
    const { courseId, id: lab } = await demo.labOf('Three Stations');
    await add(demo.maren, courseId, { login: 'eve', name: 'Eve' });
    await accept(eve, courseId);
    expect((await demo.courses(eve)).map(({ id, role }) => [id, role])).toEqual(
      expect.arrayContaining([
        [taught, 'instructor'],
        [courseId, 'student'],
      ]),
    );
    const mine = body<StudentLabView>(await eve.get(`my/labs/${lab}`).expect(200));
    await eve.send('post', `my/labs/${lab}/hand-in`).expect(201);
    expect(mine.attempts.used).toBe(0);
    await eve.get(`labs/${lab}`).expect(403);
    await demo.maren.send('delete', `courses/${courseId}/roster/${eve.me.id}`).expect(204);
  });

  test('somebody teaches it at any time, also when thirty leave at once', async () => {
    const course = await newCourse(demo.maren);
    const others = await Promise.all(['f.one', 'f.two'].map((login) => somebody(login)));
    await add(demo.maren, course, ...others.map(({ me }) => ({ login: me.login, name: me.login, role: 'instructor' })));
    const invitedOnly = await demo.maren.send('delete', `courses/${course}/roster/${demo.maren.me.id}`).expect(409);
    expect(refusal(invitedOnly).message).toMatch(/Somebody has to teach/);
    for (const person of others) await accept(person, course);
    const all = [demo.maren, ...others];
    const answers = await Promise.all(
      Array.from({ length: 30 }, (_, at) => {
        const [who, whom] = [all[at % 3]!, all[(at + 1) % 3]!];
        return at % 2
          ? who.send('delete', `courses/${course}/roster/${whom.me.id}`)
          : who.send('patch', `courses/${course}/roster/${whom.me.id}`, { role: 'student' });
      }),
    );
    expect(answers.map(({ status }) => status).filter((status) => ![200, 204, 403, 404, 409].includes(status))).toEqual(
      [],
    );
    const left = await demo.running.app
      .get(DataSource)
      .query<{ count: number }[]>(
        `SELECT count(*)::int FROM membership WHERE course_id = $1 AND role = 'instructor' AND accepted_at IS NOT NULL`,
        [course],
      );
    expect(left[0]!.count).toBeGreaterThan(0);
  });

  test('has a name: one of blanks is refused, on a roster and where it is corrected', async () => {
    const { courseId } = await demo.labOf('Three Stations');
    const [zofia] = (await roster(demo.maren, courseId)).filter(({ login }) => login === 'zofia.wrona');
    for (const refused of [
      await demo.maren.send('post', `courses/${courseId}/roster`, { students: [{ name: '  ', login: 'blank.one' }] }),
      await demo.maren.send('patch', `courses/${courseId}/roster/${zofia!.id}`, { name: '\u00a0' }),
      await demo.maren.send('patch', `courses/${courseId}`, { title: ' ' }),
    ])
      expect([refused.status, refusal(refused).message]).toEqual([400, expect.stringMatching(/at least one letter/)]);
  });

  test('whoever may not begin courses does not, and is told who allows it', async () => {
    const refused = await demo.zofia.send('post', 'courses', { title: 'Mine' }).expect(403);
    expect(refusal(refused).message).toMatch(/Whoever runs Sobrin/);
  });
});

describe('the time zone of a course', () => {
  test('is a name of the IANA database, and due dates are told on its clocks', async () => {
    const { id: lab, courseId, revision, timeZone } = await demo.labOf('Winch Isolation');
    expect(timeZone).toBe('Europe/Vienna');
    for (const wrong of ['Mars/Olympus', '+01:00', '', '__proto__']) {
      const refused = await demo.maren.send('patch', `courses/${courseId}`, { timeZone: wrong }).expect(400);
      expect(refusal(refused).message).toMatch(/timeZone|no time zone/);
    }
    await demo.maren.send('patch', `courses/${courseId}`, { timeZone: 'America/St_Johns' }).expect(204);
    await demo.maren.send('patch', `labs/${lab}`, { base: revision, dueAt: '2026-01-05T12:00Z' }).expect(200);
    const late = await demo.zofia.send('post', `my/labs/${lab}/hand-in`).expect(409);
    expect(refusal(late).message).toMatch(/5 January 2026.*08:30:00 GMT-3:30/);
    expect(body<StudentLabView>(await demo.zofia.get(`my/labs/${lab}`)).timeZone).toBe('America/St_Johns');
    const without = await demo.maren.send('patch', `labs/${lab}`, { base: revision + 1, dueAt: '2026-01-05T12:00' });
    expect([without.status, refusal(without).message]).toEqual([400, expect.stringMatching(/offset/)]);
  });
});

describe('the library', () => {
  interface Library {
    id: string;
    title: string;
    owner: string;
    mayEdit: boolean;
    courses: string[];
  }
  const library = async (who: Person): Promise<Library[]> => body(await who.get('library').expect(200));
  const view = async (who: Person, id: string): Promise<LabView> => body(await who.get(`labs/${id}`).expect(200));

  test('gives a lab to a second course, which releases it on its own; a change is one in both', async () => {
    const course = await newCourse(demo.maren);
    const lab = (await library(demo.maren)).find(({ title }) => title === 'Three Stations')!;
    expect(lab).toMatchObject({ owner: 'Maren Osterkamp', mayEdit: true, courses: ['Networks 1'] });
    const { id } = body<{ id: string }>(
      await demo.maren.send('post', `courses/${course}/assignments`, { lab: lab.id }).expect(201),
    );
    const first = await demo.labOf('Three Stations');
    expect(await view(demo.maren, id)).toMatchObject({ title: 'Three Stations', releasedAt: null, version: null });
    await demo.maren.send('post', `labs/${id}/release`).expect(200);
    expect(await view(demo.maren, id)).toMatchObject({ version: { number: 1 }, referenceId: first.referenceId });
    const again = await demo.maren.send('post', `courses/${course}/assignments`, { lab: lab.id }).expect(409);
    expect(refusal(again).message).toMatch(/has this lab already/);
    const { revision } = await view(demo.maren, id);
    await demo.maren.send('patch', `labs/${id}`, { base: revision, title: 'Three Stations, again' }).expect(200);
    expect((await view(demo.maren, first.id)).title).toBe('Three Stations, again');
    await demo.maren.send('patch', `labs/${id}`, { base: revision + 1, title: 'Three Stations' }).expect(200);
  });

  test('another instructor of the course reads and copies it, and changes it once its owner has named them', async () => {
    const gro = await somebody('gro');
    const { id, courseId, revision, referenceId } = await demo.labOf('Valley Station LAN');
    expect(await library(gro)).toEqual([]);
    await gro.send('post', `courses/${courseId}/assignments`, { lab: randomUUID() }).expect(404);
    await add(demo.maren, courseId, { login: 'gro', name: 'Gro', role: 'instructor' });
    await accept(gro, courseId);
    expect(await view(gro, id)).toMatchObject({ teaches: true, mayEdit: false, isOwner: false });
    await gro.get(`documents/${referenceId}`).expect(200);
    const save = {
      save: randomUUID(),
      base: (await demo.drawing(gro, referenceId)).revision,
      commands: [{ kind: 'setDocument', set: { author: 'Gro' } }],
    };
    const refused = await gro.send('post', `documents/${referenceId}/changes`, save).expect(403);
    expect(refusal(refused).message).toMatch(/library of Maren Osterkamp.*copy it/);
    await gro.send('patch', `labs/${id}`, { base: revision, title: 'Mine' }).expect(403);
    // The due date is the course's, which they teach.
    await gro.send('patch', `labs/${id}`, { base: revision, dueAt: '2030-01-05T12:00Z' }).expect(200);
    await gro.send('put', `labs/${id}/editors`, { accounts: [gro.me.id] }).expect(403);
    const copy = body<{ id: string }>(
      await gro
        .send('post', `courses/${courseId}/assignments`, {
          lab: (await library(gro)).find(({ title }) => title === 'Valley Station LAN')!.id,
          copy: true,
        })
        .expect(201),
    );
    expect(await view(gro, copy.id)).toMatchObject({ title: 'Valley Station LAN', mayEdit: true, isOwner: true });
    await demo.maren.send('put', `labs/${id}/editors`, { accounts: [randomUUID()] }).expect(400);
    await demo.maren.send('put', `labs/${id}/editors`, { accounts: [gro.me.id] }).expect(200);
    await gro.send('post', `documents/${referenceId}/changes`, save).expect(200);
    expect(body<{ editors: { name: string }[] }>(await gro.get(`labs/${id}/editors`)).editors).toEqual([
      { id: gro.me.id, name: 'Gro' },
    ]);
    await demo.maren.send('put', `labs/${id}/editors`, { accounts: [] }).expect(200);
    await gro.send('post', `documents/${referenceId}/changes`, { ...save, save: randomUUID() }).expect(403);
  });

  test('thirty who give the same lab at once give it once', async () => {
    const course = await newCourse(demo.maren);
    const lab = (await library(demo.maren))[0]!.id;
    const answers = await Promise.all(
      Array.from({ length: 30 }, () => demo.maren.send('post', `courses/${course}/assignments`, { lab })),
    );
    expect(answers.filter(({ status }) => status === 201)).toHaveLength(1);
    expect(answers.filter(({ status }) => status === 409)).toHaveLength(29);
  });
});
