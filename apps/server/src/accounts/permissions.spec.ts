import { type ClassRow } from '@sobrin/contracts';
import { randomUUID } from 'node:crypto';
import request from 'supertest';
import { DataSource } from 'typeorm';
import { REQUEST_HEADER } from '../platform/config';
import { refusal, useDemo } from '../tests/demo';
import { Account } from './account.entity';

const demo = useDemo();

describe('who may see what', () => {
  test('a stranger sees nothing, a student nothing of the instructor’s', async () => {
    const { id, referenceId, planId } = await demo.labOf('Valley Station LAN');
    const submission = ((await demo.maren.get(`labs/${id}/submissions`)).body as ClassRow[]).find(
      (row) => row.submissionId,
    )!.submissionId!;
    await request(demo.running.app.getHttpServer()).get('/api/courses').expect(401);
    for (const place of [
      `labs/${id}`,
      `labs/${id}/file`,
      `labs/${id}/submissions`,
      `labs/${id}/results`,
      `labs/${id}/results.csv`,
      `submissions/${submission}`,
    ])
      await demo.zofia.get(place).expect(403);
    for (const id of [referenceId, planId]) await demo.zofia.get(`documents/${id}`).expect(404);
    await demo.zofia
      .send('post', `documents/${referenceId}/changes`, {
        save: randomUUID(),
        base: 0,
        commands: [{ kind: 'setDocument', set: { title: 'mine' } }],
      })
      .expect(404);
    await demo.zofia.send('post', `submissions/${submission}/check`).expect(403);
  });
  test('a student neither sees nor changes the work of another', async () => {
    const adaeze = await demo.running.as('adaeze.okonjo');
    const { documentId } = await demo.myLab(adaeze, 'Valley Station LAN');
    await demo.zofia.get(`documents/${documentId}`).expect(404);
    await demo.zofia
      .send('post', `documents/${documentId}/changes`, {
        save: randomUUID(),
        base: 0,
        commands: [{ kind: 'setDocument', set: { title: 'x' } }],
      })
      .expect(404);
  });
  test('what a student gets holds no word of spec or reference', async () => {
    const text = JSON.stringify([await demo.myLab(demo.zofia, 'Valley Station LAN'), await demo.courses(demo.zofia)]);
    const { planId } = await demo.labOf('Valley Station LAN');
    for (const secret of [planId, 'Room to double', '"spec"', '"reference"', 'referenceId', 'requirements', 'sections'])
      expect(text).not.toContain(secret);
  });
});

/** What a student's bench may tell is worked out from the student's own drawing: nothing else is sent for it. */
describe('how much the bench tells', () => {
  test.each(['coach', 'plain', 'examination'] as const)(
    'in a %s lab the server sends its rules and no more',
    async (bench) => {
      const { id, revision, policy } = await demo.labOf('Valley Station LAN');
      await demo.maren.send('patch', `labs/${id}`, { base: revision, policy: { ...policy, bench } }).expect(200);
      const lab = await demo.myLab(demo.zofia, 'Valley Station LAN');
      expect(lab.bench).toBe(bench);
      const fields = new Set(Object.keys(lab));
      for (const known of [
        'id',
        'courseTitle',
        'timeZone',
        'title',
        'dueAt',
        'brief',
        'tasks',
        'choices',
        'bench',
        'attempts',
        'documentId',
        'planId',
      ])
        fields.delete(known);
      for (const known of ['files', 'answers', 'attachments', 'submissions', 'counts', 'selfChecks'])
        fields.delete(known);
      // Rules of the equipment and of the kit, that the bench works by; and what of results will be seen.
      for (const rule of [
        'autoPairing',
        'vlanDatabase',
        'autoCabling',
        'kit',
        'modules',
        'shown',
        'lookIn',
        'names',
        'tries',
        'hints',
      ])
        fields.delete(rule);
      expect([...fields]).toEqual([]);
      const document = (await demo.zofia.get(`documents/${lab.documentId}`).expect(200)).body as object;
      expect(Object.keys(document).sort()).toEqual(['document', 'id', 'revision']);
    },
  );
});

describe('every route of the API', () => {
  type Method = 'get' | 'post' | 'put' | 'patch' | 'delete';
  const OPEN = [
    '/api/shown/{key}',
    '/api/health',
    '/api/metrics',
    '/api/auth/sign-in',
    '/api/auth/demo-sign-in',
    '/api/auth/link',
    '/api/auth/enter',
    '/api/auth/demo',
    '/api/auth/me',
    '/api/auth/sign-out',
  ];
  /** Bodies that are sound, so that a refusal is one of permission and not of input. */
  const BODIES: Record<string, object> = {
    'post /api/auth/password': { current: 'x', next: 'a long enough one' },
    'post /api/auth/second-factor': { password: 'x' },
    'put /api/auth/second-factor': { code: '000000' },
    'post /api/auth/second-factor/end': { password: 'x' },
    'post /api/courses': { title: 'Mine' },
    'post /api/courses/{id}/roster': { students: [] },
    'put /api/courses': { ids: [] },
    'put /api/courses/{id}/labs': { ids: [] },
    'post /api/courses/{id}/removal': { attempts: 0 },
    'post /api/labs/{id}/removal': { attempts: 0 },
    'patch /api/courses/{id}': { title: 'Mine' },
    'patch /api/courses/{id}/roster/{student}': { name: 'Mine' },
    'post /api/courses/{id}/assignments': { lab: randomUUID() },
    'put /api/labs/{id}/editors': { accounts: [] },
    'post /api/courses/{id}/labs': { title: 'Mine' },
    'post /api/courses/{id}/labs/import': { text: '{}' },
    'patch /api/labs/{id}': { base: 0, title: 'Mine' },
    'put /api/labs/{id}/version': { number: 1 },
    'post /api/my/labs/{id}/upload': { text: '{}' },
    'post /api/labs/{id}/files': { name: 'a', type: '', base64: '' },
    'put /api/my/labs/{id}/answers': { answers: {} },
    'post /api/my/labs/{id}/attachments': { name: 'a', type: '', base64: '' },
    'post /api/documents/{id}/changes': {
      save: randomUUID(),
      base: 0,
      commands: [{ kind: 'setDocument', set: { title: 'mine' } }],
    },
    'post /api/documents/{id}/versions': { revision: 0, name: 'Mine' },
  };

  async function routes(): Promise<{ method: Method; route: string; path: string }[]> {
    const { body } = (await request(demo.running.app.getHttpServer()).get('/api/docs.json')) as {
      body: { paths: Record<string, Record<Method, object>> };
    };
    const lab = await demo.labOf('Valley Station LAN');
    const rows = (await demo.maren.get(`labs/${lab.id}/submissions`)).body as ClassRow[];
    const submitted = rows.find((row) => row.submissionId)!;
    const ids: [RegExp, string][] = [
      [/^\/api\/courses\/\{id\}/, lab.courseId],
      [/^\/api\/(my\/)?labs\/\{id\}/, lab.id],
      [/^\/api\/submissions\/\{id\}/, submitted.submissionId!],
      [/^\/api\/documents\/\{id\}/, lab.referenceId],
      [/^\/api\/(attachments|auth\/sessions|jobs|library)\/\{id\}/, randomUUID()],
    ];
    return Object.entries(body.paths).flatMap(([route, methods]) => {
      const id = ids.find(([pattern]) => pattern.test(route))?.[1] ?? '';
      const path = route
        .replace('/api/', '')
        .replace('{id}', id)
        .replace('{student}', submitted.studentId)
        .replace('{attachment}', randomUUID())
        .replace('{revision}', '0')
        .replace('{file}', 'f1');
      return (Object.keys(methods) as Method[]).map((method) => ({ method, route, path }));
    });
  }

  test('asks for a sign-in, but for those that must be open', async () => {
    const all = await routes();
    expect(all.length).toBeGreaterThan(25);
    for (const { method, route, path } of all) {
      const { status } = await request(demo.running.app.getHttpServer())
        [method](`/api/${path}`)
        .set(REQUEST_HEADER, '1')
        .send(method === 'get' ? undefined : (BODIES[`${method} ${route}`] ?? {}));
      expect([method, route, status === 401 && !OPEN.includes(route)]).toEqual([method, route, !OPEN.includes(route)]);
    }
  });

  /** Who may use the routes that name something of a course, of those in it; `nobody` where the object is somebody's own. */
  const STAFF = ['instructor', 'assistant'] as const;
  const MAY: readonly [RegExp, readonly ('owner' | 'instructor' | 'assistant' | 'student' | 'invited')[]][] = [
    [/^(post|delete) .*\/courses\/\{id\}\/membership$/, ['owner', ...STAFF, 'student', 'invited']],
    [/^get \/api\/courses\/\{id\}\/roster$/, ['owner', ...STAFF]],
    [/^\w+ \/api\/courses\/\{id\}/, ['owner', 'instructor']],
    [/^\w+ \/api\/my\//, ['student']],
    [/^get \/api\/labs\/\{id\}\/files\/\{file\}$/, ['owner', ...STAFF, 'student']],
    [/^get \/api\/(labs|submissions)\/\{id\}/, ['owner', ...STAFF]],
    [/^(put .*\/editors|patch \/api\/labs\/\{id\}|\w+ .*\/labs\/\{id\}\/files.*)$/, ['owner']],
    [/^\w+ \/api\/(labs|submissions)\/\{id\}/, ['owner', 'instructor']],
    [/^get \/api\/documents\/\{id\}/, ['owner', ...STAFF]],
    [/^\w+ \/api\/documents\/\{id\}/, ['owner']],
    [/^\w+ \/api\/(attachments|auth\/sessions|jobs|library)\/\{id\}$/, []],
  ];

  test('asks what somebody is in the course, and whose the lab is', async () => {
    const { id, revision, policy, courseId } = await demo.labOf('Valley Station LAN');
    // Where its rules let nobody look in, the lab says so to its staff as well.
    await demo.maren.send('patch', `labs/${id}`, { base: revision, policy: { ...policy, lookIn: true } }).expect(200);
    const accounts = demo.running.app.get(DataSource).getRepository(Account);
    const made = ['co.teacher', 'helper', 'asked', 'stranger'].map((login) => ({
      id: randomUUID(),
      login,
      name: login,
      mayCreateCourses: login === 'stranger',
      passwordHash: 'x',
      demo: true,
    }));
    await accounts.insert(made);
    const students = [
      { login: 'co.teacher', name: 'Co', role: 'instructor' },
      { login: 'helper', name: 'Helper', role: 'assistant' },
      { login: 'asked', name: 'Asked' },
    ];
    await demo.maren.send('post', `courses/${courseId}/roster`, { students }).expect(201);
    const people = {
      instructor: await demo.running.as('co.teacher'),
      assistant: await demo.running.as('helper'),
      student: demo.zofia,
      invited: await demo.running.as('asked'),
      stranger: await demo.running.as('stranger'),
    };
    for (const who of ['instructor', 'assistant'] as const)
      await people[who].send('post', `courses/${courseId}/membership`).expect(204);
    expect(await demo.courses(people.stranger)).toEqual([]);
    expect(await demo.courses(people.invited)).toEqual([]);
    const wrong: unknown[] = [];
    for (const { method, route, path } of await routes()) {
      if (!path.match(/[0-9a-f]{8}-/)) continue;
      const may = MAY.find(([pattern]) => pattern.test(`${method} ${route}`))?.[1];
      if (!may) throw new Error(`Who may ${method} ${route}? The table does not say.`);
      for (const [who, person] of Object.entries(people)) {
        const isAllowed = (may as readonly string[]).includes(who);
        // What is allowed and changes something is tried one by one elsewhere.
        if (isAllowed && (method !== 'get' || route.endsWith('/live'))) continue;
        const body = BODIES[`${method} ${route}`] ?? {};
        const { status } = method === 'get' ? await person.get(path) : await person.send(method, path, body);
        const isOutside = who === 'stranger' || who === 'invited';
        // What one knows nothing of is missing; what one sees and may not do is refused.
        const fits = isAllowed ? ![401, 403].includes(status) : status === 404 || (!isOutside && status === 403);
        if (!fits) wrong.push([method, route, who, status]);
      }
    }
    expect(wrong).toEqual([]);
  });

  test('keeps a student who is on no roster out of everything', async () => {
    const course = (await demo.courses(demo.maren))[0]!;
    const tobias = await demo.running.as('tobias.ferreira');
    await demo.maren.send('delete', `courses/${course.id}/roster/${tobias.me.id}`).expect(204);
    expect(await demo.courses(tobias)).toEqual([]);
    for (const { method, route, path } of await routes()) {
      if (!path.match(/[0-9a-f]{8}-/)) continue;
      const { status } =
        method === 'get' ? await tobias.get(path) : await tobias.send(method, path, BODIES[`${method} ${route}`] ?? {});
      expect([method, route, [403, 404].includes(status)]).toEqual([method, route, true]);
    }
  });

  test('refuses properties it does not know, with a sentence', async () => {
    const response = await demo.maren.send('post', 'courses', { title: 'Networks 3', owner: 'me' }).expect(400);
    expect(refusal(response).message).toMatch(/owner/);
  });
});
