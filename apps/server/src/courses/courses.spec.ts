import { type CourseSummary } from '@sobrin/contracts';
import request from 'supertest';
import { REQUEST_HEADER } from '../platform/config';
import { refusal, useDemo } from '../tests/demo';

const demo = useDemo();

describe('courses', () => {
  test('an instructor makes one, puts people on the roster, and they can sign in with their first password', async () => {
    const course = (await demo.maren.send('post', 'courses', { title: 'Networks 2', term: 'Spring' }).expect(201))
      .body as CourseSummary;
    const added = (
      await demo.maren
        .send('post', `courses/${course.id}/roster`, { students: [{ name: 'Nils Ådahl', login: 'nils.adahl' }] })
        .expect(201)
    ).body as { login: string; password: string }[];
    await request(demo.running.app.getHttpServer())
      .post('/api/auth/sign-in')
      .set(REQUEST_HEADER, '1')
      .send({ login: 'nils.adahl', password: added[0]!.password })
      .expect(200);
    expect((await demo.maren.get(`courses/${course.id}/roster`).expect(200)).body).toMatchObject([
      { name: 'Nils Ådahl' },
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
});
