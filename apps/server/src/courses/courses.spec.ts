import { type CourseSummary, type LabSummary } from '@sobrin/contracts';
import { randomUUID } from 'node:crypto';
import request from 'supertest';
import { REQUEST_HEADER } from '../platform/config';
import { refusal, useDemo } from '../tests/demo';

const demo = useDemo();
const choosePassword = (link: string) =>
  request(demo.running.app.getHttpServer())
    .post('/api/auth/enter')
    .set(REQUEST_HEADER, '1')
    .send({ token: link.split('#')[1], password: 'lantern gondola 7 pumpkin' });

describe('courses', () => {
  test('who is taken off the roster sees and saves nothing of the course, and finds it again when back and accepted', async () => {
    const { documentId } = await demo.myLab(demo.zofia, 'Three Stations');
    const { id: lab, courseId } = await demo.labOf('Three Stations');
    const command = { kind: 'setDocument', set: { title: 'Still here' } };
    const { revision } = await demo.drawing(demo.zofia, documentId);
    const tries = (): Promise<number[]> =>
      Promise.all([
        demo.zofia.get(`documents/${documentId}`),
        demo.zofia.get(`documents/${documentId}/live`),
        demo.zofia.get(`documents/${documentId}/versions`),
        demo.zofia.send('post', `documents/${documentId}/changes`, {
          save: randomUUID(),
          base: revision,
          commands: [command],
        }),
        demo.zofia.get(`my/labs/${lab}`),
        demo.zofia.send('post', `my/labs/${lab}/hand-in`),
      ]).then((answers) => answers.map(({ status }) => status));
    await demo.maren.send('delete', `courses/${courseId}/roster/${demo.zofia.me.id}`).expect(204);
    expect(await tries()).toEqual([404, 404, 404, 404, 404, 404]);
    const { login, name } = demo.zofia.me;
    await demo.maren.send('post', `courses/${courseId}/roster`, { students: [{ login, name }] }).expect(201);
    expect(await tries()).toEqual([404, 404, 404, 404, 404, 404]);
    await demo.zofia.send('post', `courses/${courseId}/membership`).expect(204);
    expect((await demo.drawing(demo.zofia, documentId)).revision).toBe(revision);
  });

  test('a lab shows what is drawn for it: the reference to who teaches, the own drawing to a student, nothing to others', async () => {
    const pictureFor = async (person: typeof demo.maren): Promise<LabSummary['picture']> => {
      const courses = (await person.get('courses').expect(200)).body as CourseSummary[];
      return courses.flatMap(({ labs }) => labs).find(({ title }) => title === 'Three Stations')!.picture;
    };
    const { referenceId } = await demo.labOf('Three Stations');
    const reference = await pictureFor(demo.maren);
    expect(reference).toEqual({ document: referenceId, revision: expect.any(Number) as number });
    await demo.maren.get(`documents/${referenceId}/picture.png?revision=${reference!.revision}&width=240`).expect(200);
    const { documentId } = await demo.myLab(demo.zofia, 'Three Stations');
    const { revision, document } = await demo.drawing(demo.zofia, documentId);
    const clear = { kind: 'removeDevices', ids: Object.keys(document.devices) };
    const add = { kind: 'addDevice', id: 'h', device: { name: 'HB-1', model: 'hub', at: { x: 0, y: 0 } } };
    const save = (base: number, ...commands: object[]) =>
      demo.zofia.send('post', `documents/${documentId}/changes`, { save: randomUUID(), base, commands }).expect(200);
    await save(revision, ...(clear.ids.length ? [clear] : []), { kind: 'setDocument', set: { title: 'Empty' } });
    expect(await pictureFor(demo.zofia)).toBeNull();
    await save(revision + 1, add);
    const own = await pictureFor(demo.zofia);
    expect(own).toEqual({ document: documentId, revision: revision + 2 });
    await demo.zofia.get(`documents/${documentId}/picture.png?revision=${own!.revision}&width=240`).expect(200);
    const other = await pictureFor(await demo.running.as('eero.lahtinen'));
    expect(other?.document).not.toBe(documentId);
  });

  test('an instructor makes one, puts people on the roster, and they choose a password with their address', async () => {
    const course = (await demo.maren.send('post', 'courses', { title: 'Networks 2', term: 'Spring' }).expect(201))
      .body as CourseSummary;
    const added = (
      await demo.maren
        .send('post', `courses/${course.id}/roster`, { students: [{ name: 'Nils Ådahl', login: 'nils.adahl' }] })
        .expect(201)
    ).body as { login: string; link: string }[];
    await choosePassword(added[0]!.link).expect(200);
    expect((await demo.maren.get(`courses/${course.id}/roster`).expect(200)).body).toMatchObject([
      { name: 'Maren Osterkamp', role: 'instructor' },
      { name: 'Nils Ådahl', role: 'student', isInvited: false },
    ]);
    expect(
      refusal(
        await demo.maren
          .send('post', `courses/${course.id}/roster`, { students: [{ name: 'X', login: 'With Space' }] })
          .expect(400),
      ).message,
    ).toMatch(/sign-in name has/);
    await demo.zofia.send('post', 'courses', { title: 'Mine' }).expect(403);
  });

  const rosterOf = async (course: string): Promise<string[]> =>
    ((await demo.maren.get(`courses/${course}/roster`).expect(200)).body as { login: string }[]).flatMap(({ login }) =>
      login === 'maren' ? [] : login,
    );
  const someCourse = async (): Promise<string> =>
    ((await demo.maren.send('post', 'courses', { title: 'N', term: '' }).expect(201)).body as CourseSummary).id;

  test('a roster with a line that cannot be taken is not taken at all', async () => {
    const course = await someCourse();
    const refused = await demo.maren.send('post', `courses/${course}/roster`, {
      students: ['first.new', 'With Space', 'last.new'].map((login) => ({ name: login, login })),
    });
    expect([refused.status, refusal(refused).message]).toEqual([
      400,
      expect.stringMatching(/"With Space" does not fit/),
    ]);
    expect(await rosterOf(course)).toEqual([]);
    // Nor is there an account of those before.
    const again = await demo.maren
      .send('post', `courses/${course}/roster`, { students: [{ name: 'First', login: 'first.new' }] })
      .expect(201);
    expect((again.body as { link: string | null }[])[0]!.link).toMatch(/^\/enter#/);
  });

  test('thirty rosters with the same new people at once: each has one account, and one address that works', async () => {
    const course = await someCourse();
    const logins = ['p.one', 'p.two', 'p.three', 'p.two'];
    const answers = await Promise.all(
      Array.from({ length: 30 }, (_, at) =>
        demo.maren.send('post', `courses/${course}/roster`, {
          students: (at % 2 ? logins : [...logins].reverse()).map((login) => ({ name: login, login })),
        }),
      ),
    );
    expect(answers.map(({ status }) => status)).toEqual(answers.map(() => 201));
    expect((await rosterOf(course)).sort()).toEqual(['p.one', 'p.three', 'p.two']);
    const told = answers.flatMap(({ body }) => body as { login: string; link: string | null }[]);
    for (const login of ['p.one', 'p.two', 'p.three']) {
      const links = told.flatMap((each) => (each.login === login && each.link ? [each.link] : []));
      expect([login, links.length]).toEqual([login, 1]);
      await choosePassword(links[0]!).expect(200);
    }
  });
});
