import {
  type ClassRow,
  type Conflict,
  type CourseSummary,
  type DocumentView,
  type LabView,
  type Refusal,
  type ResultsView,
  type StudentLabView,
  type SubmissionView,
} from '@sobrin/contracts';
import { type Topology, checkSubmission, readLabText } from '@sobrin/core';
import { randomUUID } from 'node:crypto';
import { readFileSync, readdirSync } from 'node:fs';
import path from 'node:path';
import Papa from 'papaparse';
import request from 'supertest';
import { DataSource } from 'typeorm';
import { REQUEST_HEADER } from './platform/config';
import { DEMO_PASSWORD } from './platform/seed';
import { migrate } from './platform/database';
import { type Person, type TestApplication, startApplication } from './tests/application';

const demo = path.resolve(__dirname, '..', '..', '..', 'demo');
let running: TestApplication;
let maren: Person;
let zofia: Person;
beforeAll(async () => {
  running = await startApplication();
  [maren, zofia] = [await running.as('maren'), await running.as('zofia.wrona')];
}, 60_000);
afterAll(() => running.close());

const courses = async (who: Person): Promise<CourseSummary[]> =>
  (await who.get('courses').expect(200)).body as CourseSummary[];
const labId = async (title: string): Promise<string> =>
  (await courses(maren))[0]!.labs.find((one) => one.title === title)!.id;
const labOf = async (title: string): Promise<LabView> =>
  (await maren.get(`labs/${await labId(title)}`).expect(200)).body as LabView;
const refusal = (response: { body: unknown }): Refusal => response.body as Refusal;
const myLab = async (who: Person, title: string): Promise<StudentLabView> =>
  (await who.get(`my/labs/${await labId(title)}`).expect(200)).body as StudentLabView;
const drawing = async (who: Person, id: string): Promise<DocumentView> =>
  (await who.get(`documents/${id}`).expect(200)).body as DocumentView;

describe('signing in', () => {
  const signIn = (body: object) =>
    request(running.app.getHttpServer()).post('/api/auth/sign-in').set(REQUEST_HEADER, '1').send(body);

  test('with name and password; the cookie is not for scripts and not for other sites', async () => {
    const response = await signIn({ login: 'maren', password: DEMO_PASSWORD }).expect(200);
    expect(response.body).toMatchObject({ name: 'Maren Osterkamp', role: 'instructor' });
    expect((response.headers['set-cookie'] as unknown as string[])[0]).toMatch(/HttpOnly.*SameSite=Strict/);
  });
  test.each([[{ login: 'maren', password: 'wrong' }], [{ login: 'nobody', password: 'x' }]])(
    '%j is refused with the same sentence',
    async (body) => {
      expect(refusal(await signIn(body).expect(401)).message).toMatch(/do not go together/);
    },
  );
  test('guessing is slowed down', async () => {
    const answers: number[] = [];
    for (let at = 0; at < 14; at++)
      answers.push((await signIn({ login: 'ilse.haverkamp', password: `guess${at}` })).status);
    expect(answers.slice(-1)).toEqual([429]);
    expect(refusal(await signIn({ login: 'ilse.haverkamp', password: 'guess' })).message).toMatch(/Wait a minute/);
  });
  test('a password is changed by who knows the old one; other sessions end, this one stays', async () => {
    const [first, second] = [await running.as('rosalba.ferri'), await running.as('rosalba.ferri')];
    const change = (current: string, next: string) => first.send('post', 'auth/password', { current, next });
    expect(refusal(await change('wrong', 'a new pass phrase').expect(400)).message).toMatch(/present password/);
    expect(refusal(await change(DEMO_PASSWORD, 'short').expect(400)).message).toMatch(/at least 10/);
    await change(DEMO_PASSWORD, 'a new pass phrase').expect(204);
    await signIn({ login: 'rosalba.ferri', password: DEMO_PASSWORD }).expect(401);
    await signIn({ login: 'rosalba.ferri', password: 'a new pass phrase' }).expect(200);
    await first.get('courses').expect(200);
    await second.get('courses').expect(401);
  });
  test('signing out ends the session', async () => {
    const person = await running.as('tobias.ferreira');
    await person.send('post', 'auth/sign-out').expect(204);
    await person.get('courses').expect(401);
  });
  test('a change without our own header is refused: another site cannot make one', async () => {
    await request(running.app.getHttpServer()).post('/api/auth/demo-sign-in').send({ login: 'maren' }).expect(403);
  });
});

describe('who may see what', () => {
  test('a stranger sees nothing, a student nothing of the instructor’s', async () => {
    const { id, referenceId } = await labOf('Valley Station LAN');
    const submission = ((await maren.get(`labs/${id}/submissions`)).body as ClassRow[]).find(
      (one) => one.submissionId,
    )!.submissionId!;
    await request(running.app.getHttpServer()).get('/api/courses').expect(401);
    for (const place of [
      `labs/${id}`,
      `labs/${id}/file`,
      `labs/${id}/submissions`,
      `labs/${id}/results`,
      `labs/${id}/results.csv`,
      `submissions/${submission}`,
    ])
      await zofia.get(place).expect(403);
    await zofia.get(`documents/${referenceId}`).expect(404);
    await zofia
      .send('post', `documents/${referenceId}/changes`, {
        save: randomUUID(),
        base: 0,
        commands: [{ kind: 'setDocument', set: { title: 'mine' } }],
      })
      .expect(404);
    await zofia.send('post', `submissions/${submission}/check`).expect(403);
  });
  test('a student neither sees nor changes the work of another', async () => {
    const adaeze = await running.as('adaeze.okonjo');
    const { documentId } = await myLab(adaeze, 'Valley Station LAN');
    await zofia.get(`documents/${documentId}`).expect(404);
    await zofia
      .send('post', `documents/${documentId}/changes`, {
        save: randomUUID(),
        base: 0,
        commands: [{ kind: 'setDocument', set: { title: 'x' } }],
      })
      .expect(404);
  });
  test('what a student gets holds no word of spec or reference', async () => {
    const text = JSON.stringify([await myLab(zofia, 'Valley Station LAN'), await courses(zofia)]);
    for (const secret of ['"spec"', '"reference"', 'referenceId', 'requirements', 'sections'])
      expect(text).not.toContain(secret);
  });
});

describe('the demo', () => {
  test('all 24 hand-ins are checked on the server, and the marks are those of the core', async () => {
    for (const [title, slug] of [
      ['Valley Station LAN', 'valley-lan'],
      ['Three Stations', 'three-stations'],
    ] as const) {
      const id = await labId(title);
      expect((await maren.send('post', `labs/${id}/check`).expect(200)).body).toEqual({ checked: 12 });
      expect((await maren.send('post', `labs/${id}/check`).expect(200)).body).toEqual({ checked: 0 });
      const rows = (await maren.get(`labs/${id}/submissions`).expect(200)).body as ClassRow[];
      const lab = readLabText(readFileSync(path.join(demo, slug, 'lab.json'), 'utf8'));
      if (!lab.ok) throw new Error('lab');
      for (const name of readdirSync(path.join(demo, slug, 'submissions'))) {
        const file = JSON.parse(readFileSync(path.join(demo, slug, 'submissions', name), 'utf8')) as {
          student: string;
          topology: Topology;
        };
        expect([file.student, rows.find((one) => one.name === file.student)!.points]).toEqual([
          file.student,
          checkSubmission(lab.value, file.topology).points,
        ]);
      }
    }
  }, 60_000);

  test('results are a grid of students and requirements, and come as CSV', async () => {
    const id = await labId('Three Stations');
    const results = (await maren.get(`labs/${id}/results`).expect(200)).body as ResultsView;
    expect(results.rows.filter((one) => one.cells.length)).toHaveLength(12);
    const { data } = Papa.parse<string[]>((await maren.get(`labs/${id}/results.csv`).expect(200)).text);
    expect(data[0]).toEqual(['Student', ...results.requirements.map((one) => one.id), 'Points', 'Of']);
    expect(data.find((one) => one[0] === 'Samir Haddadin')!.slice(-2)).toEqual(['61', '61']);
    expect(data.find((one) => one[0] === 'Zofia Wrona')!.slice(-2)).toEqual(['', '61']);
  });
});

describe('a lab', () => {
  test('goes out as a file and comes back as another lab that judges alike', async () => {
    const id = await labId('Valley Station LAN');
    const file = await maren.get(`labs/${id}/file`).expect(200);
    const course = (await courses(maren))[0]!.id;
    const copy = (
      await maren.send('post', `courses/${course}/labs/import`, { text: JSON.stringify(file.body) }).expect(201)
    ).body as { id: string };
    expect((await maren.get(`labs/${copy.id}/file`).expect(200)).body).toEqual(file.body);
  });
  test('a file that is no lab is refused with the place, and nothing is stored', async () => {
    const course = (await courses(maren))[0]!;
    const file = (await maren.get(`labs/${await labId('Valley Station LAN')}/file`)).body as {
      spec: { sections: { requirements: { rule: { who: string } }[] }[] };
    };
    file.spec.sections[0]!.requirements[0]!.rule.who = 'nobody';
    const response = await maren
      .send('post', `courses/${course.id}/labs/import`, { text: JSON.stringify(file) })
      .expect(422);
    expect(refusal(response).problems).toEqual([
      {
        place: 'spec › sections › 0 › requirements › 0 › rule › who',
        text: '"nobody" is no group of the spec and no device of the reference.',
      },
    ]);
    expect(
      refusal(await maren.send('post', `courses/${course.id}/labs/import`, { text: '{' }).expect(422)).problems![0]!
        .text,
    ).toMatch(/line 1, column/);
    expect((await courses(maren))[0]!.labs).toHaveLength(course.labs.length);
  });
  test('a stale change of the spec is refused, and the newer one stays', async () => {
    const lab = await labOf('Valley Station LAN');
    await maren
      .send('patch', `labs/${lab.id}`, { base: lab.revision, brief: { ...lab.brief, scenario: 'first' } })
      .expect(200);
    expect(
      refusal(
        await maren.send('patch', `labs/${lab.id}`, { base: lab.revision, brief: { scenario: 'second' } }).expect(409),
      ).message,
    ).toMatch(/was not stored/);
    expect((await labOf('Valley Station LAN')).brief.scenario).toBe('first');
    expect(
      refusal(
        await maren.send('patch', `labs/${lab.id}`, { base: lab.revision + 1, policy: { bench: 'loud' } }).expect(422),
      ).problems![0]!.place,
    ).toBe('policy › bench');
  });
  test('changing the spec makes results stale, and checking again makes them current', async () => {
    const lab = await labOf('Three Stations');
    const first = lab.spec.sections[0]!.requirements[0]!;
    const spec = structuredClone(lab.spec);
    spec.sections[0]!.requirements[0]!.points = first.points + 1;
    await maren.send('patch', `labs/${lab.id}`, { base: lab.revision, spec }).expect(200);
    const stale = async (): Promise<number> =>
      ((await maren.get(`labs/${lab.id}/submissions`)).body as ClassRow[]).filter((one) => one.stale).length;
    expect(await stale()).toBe(12);
    await maren.send('post', `labs/${lab.id}/check`).expect(200);
    expect(await stale()).toBe(0);
  });
});

describe('a student’s drawing', () => {
  const device = { name: 'PC', model: 'desktop', at: { x: 0, y: 0 } };
  const save = (who: Person, id: string, base: number, commands: object[]) =>
    who.send('post', `documents/${id}/changes`, { save: randomUUID(), base, commands });

  test('a stale save that goes together with the newer one is replayed; one that does not shows both versions', async () => {
    const { documentId } = await myLab(zofia, 'Three Stations');
    await save(zofia, documentId, 0, [
      { kind: 'addDevice', id: 'a', device },
      { kind: 'addDevice', id: 'b', device: { ...device, name: 'B' } },
    ]).expect(200);
    await save(zofia, documentId, 1, [{ kind: 'setDevice', id: 'a', set: { name: 'first' } }]).expect(200);
    const replayed = await save(zofia, documentId, 1, [{ kind: 'move', to: { a: { x: 7, y: 7 } } }]).expect(200);
    expect((replayed.body as { merged: Topology }).merged.devices.a).toEqual({
      ...device,
      name: 'first',
      at: { x: 7, y: 7 },
    });
    const clash = (
      await save(zofia, documentId, 1, [{ kind: 'setDevice', id: 'a', set: { name: 'second' } }]).expect(409)
    ).body as Conflict;
    expect([clash.place, clash.mine.devices.a!.name, clash.theirs.devices.a!.name, clash.revision]).toEqual([
      'devices › a › name',
      'second',
      'first',
      3,
    ]);
    expect((await drawing(zofia, documentId)).topology.devices.a!.name).toBe('first');
    expect((await save(zofia, documentId, 2, [{ kind: 'removeDevices', ids: ['a'] }])).status).toBe(409);
  });

  test('a save that is sent again because its answer got lost is answered and not made twice', async () => {
    const { documentId } = await myLab(zofia, 'Three Stations');
    const { revision } = await drawing(zofia, documentId);
    const again = { save: randomUUID(), base: revision, commands: [{ kind: 'addDevice', id: 'once', device }] };
    for (const _turn of ['first', 'again'])
      expect((await zofia.send('post', `documents/${documentId}/changes`, again).expect(200)).body).toMatchObject({
        revision: revision + 1,
      });
    expect((await drawing(zofia, documentId)).revision).toBe(revision + 1);
  });

  test('two saves at the same moment: each is kept or refused, none is lost', async () => {
    const { documentId } = await myLab(zofia, 'Three Stations');
    const { revision } = await drawing(zofia, documentId);
    const answers = await Promise.all(
      [1, 2, 3, 4].map((n) => save(zofia, documentId, revision, [{ kind: 'addDevice', id: `p${n}`, device }])),
    );
    expect(answers.map((one) => one.status)).toEqual([200, 200, 200, 200]);
    expect(Object.keys((await drawing(zofia, documentId)).topology.devices)).toEqual(
      expect.arrayContaining(['p1', 'p2', 'p3', 'p4']),
    );
  });

  test.each<[string, object[], RegExp]>([
    ['a command that is none', [{ kind: 'explode' }], /cannot be read/],
    [
      'a link to a missing port',
      [
        {
          kind: 'connect',
          id: 'l',
          link: { a: { device: 'a', port: 'e9' }, b: { device: 'b', port: 'e0' }, medium: 'straight' },
        },
      ],
      /has no port "e9"/,
    ],
    [
      'raw edits that break the drawing',
      [{ kind: 'edits', edits: [{ path: ['devices', 'a', 'site'], value: 'moon' }] }],
      /does not hold together/,
    ],
    [
      'raw edits of a wrong shape',
      [{ kind: 'edits', edits: [{ path: ['devices', 'a', 'name'], value: 7 }] }],
      /does not hold together/,
    ],
  ])('%s is refused and nothing is stored', async (_what, commands, wanted) => {
    const { documentId } = await myLab(zofia, 'Three Stations');
    const before = await drawing(zofia, documentId);
    expect(refusal(await save(zofia, documentId, before.revision, commands).expect(422)).message).toMatch(wanted);
    expect(await drawing(zofia, documentId)).toEqual(before);
  });

  const upload = async (who: Person, text: string) =>
    who.send('post', `my/labs/${await labId('Three Stations')}/topology`, { text });
  test.each<[string, () => string, number, RegExp]>([
    ['broken JSON', () => '{"format": "sobrin-topology",\n}', 422, /line 2, column/],
    [
      'a wrong version',
      () => JSON.stringify({ format: 'sobrin-topology', version: 9, sites: {}, devices: {}, links: {} }),
      422,
      /Version 9/,
    ],
    [
      'an unknown model',
      () =>
        JSON.stringify({
          format: 'sobrin-topology',
          version: 1,
          sites: {},
          devices: { a: { ...device, model: 'toaster' } },
          links: {},
        }),
      422,
      /unknown model "toaster"/,
    ],
    [
      'a double id',
      () =>
        '{"format":"sobrin-topology","version":1,"sites":{},"links":{},"devices":{"a":{"name":"A","model":"hub","at":{"x":0,"y":0}},"a":{"name":"B","model":"hub","at":{"x":0,"y":0}}}}',
      422,
      /"a" is there twice/,
    ],
    [
      'a link to a missing port',
      () =>
        JSON.stringify({
          format: 'sobrin-topology',
          version: 1,
          sites: {},
          devices: { a: device },
          links: { l: { a: { device: 'a', port: 'z' }, b: { device: 'a', port: 'e0' }, medium: 'straight' } },
        }),
      422,
      /has no port "z"/,
    ],
    [
      '3 MB',
      () =>
        JSON.stringify({
          format: 'sobrin-topology',
          version: 1,
          sites: {},
          devices: {},
          links: {},
          legend: 'x'.repeat(3_000_000),
        }),
      422,
      /3\.0 MB: at most 2\.0 MB/,
    ],
    ['16 MB', () => 'x'.repeat(16_000_000), 413, /at most 10 MB/],
    [
      '5,001 devices',
      () =>
        JSON.stringify({
          format: 'sobrin-topology',
          version: 1,
          sites: {},
          links: {},
          devices: Object.fromEntries(Array.from({ length: 5001 }, (_, at) => [`d${at}`, device])),
        }),
      422,
      /5001 devices: at most 5000/,
    ],
  ])('an upload with %s is refused with a sentence, and the drawing stays', async (_what, text, status, wanted) => {
    const { documentId } = await myLab(zofia, 'Three Stations');
    const before = await drawing(zofia, documentId);
    const response = await upload(zofia, text());
    expect(response.status).toBe(status);
    const { message, problems } = refusal(response);
    expect(problems?.length ? problems.map((one) => one.text).join(' ') : message).toMatch(wanted);
    expect(await drawing(zofia, documentId)).toEqual(before);
  });

  test('names with HTML in them are kept as the text they are', async () => {
    const name = '<img src=x onerror=alert(1)>';
    const { documentId } = await myLab(zofia, 'Three Stations');
    const { revision } = await drawing(zofia, documentId);
    await save(zofia, documentId, revision, [{ kind: 'addDevice', id: 'html', device: { ...device, name } }]).expect(
      200,
    );
    expect((await drawing(zofia, documentId)).topology.devices.html!.name).toBe(name);
  });
});

describe('handing in', () => {
  test('one student’s exported drawing, uploaded by another, is checked, and the mark is in the CSV', async () => {
    const tobias = await running.as('tobias.ferreira');
    const id = await labId('Valley Station LAN');
    const eero = await running.as('eero.lahtinen');
    const exported = (await drawing(eero, (await myLab(eero, 'Valley Station LAN')).documentId)).topology;
    await tobias.send('post', `my/labs/${id}/topology`, { text: JSON.stringify(exported) }).expect(200);
    await tobias.send('put', `my/labs/${id}/answers`, { answers: { t1: 'a border router' } }).expect(204);
    const file = (
      await tobias
        .send('post', `my/labs/${id}/attachments`, {
          name: 'plan.txt',
          type: 'text/plain',
          base64: Buffer.from('10.84.1.0/26').toString('base64'),
        })
        .expect(201)
    ).body as { id: string };
    const handedIn = (await tobias.send('post', `my/labs/${id}/hand-in`).expect(201)).body as {
      id: string;
      attempt: number;
    };
    expect(handedIn.attempt).toBe(1);
    await tobias.send('delete', `my/labs/${id}/attachments/${file.id}`).expect(204);
    const view = (await maren.send('post', `submissions/${handedIn.id}/check`).expect(200)).body as SubmissionView;
    expect([view.result!.points, view.result!.of, view.answers, view.attachments.map((one) => one.name)]).toEqual([
      39,
      39,
      { t1: 'a border router' },
      ['plan.txt'],
    ]);
    expect(
      (
        await maren
          .get(`attachments/${file.id}`)
          .buffer(true)
          .parse((res, done) => {
            let text = '';
            res.on('data', (chunk: Buffer) => (text += chunk.toString()));
            res.on('end', () => done(null, text));
          })
          .expect(200)
      ).body,
    ).toBe('10.84.1.0/26');
    await zofia.get(`attachments/${file.id}`).expect(404);
    const { data } = Papa.parse<string[]>((await maren.get(`labs/${id}/results.csv`).expect(200)).text);
    expect(data.find((one) => one[0] === 'Tobias Ferreira')!.slice(-2)).toEqual(['39', '39']);
  });

  test('what was handed in stays as it was, whatever is drawn afterwards', async () => {
    const tobias = await running.as('tobias.ferreira');
    const { documentId, submissions } = await myLab(tobias, 'Valley Station LAN');
    const { revision, topology } = await drawing(tobias, documentId);
    await tobias
      .send('post', `documents/${documentId}/changes`, {
        save: randomUUID(),
        base: revision,
        commands: [{ kind: 'removeDevices', ids: [Object.keys(topology.devices)[0]] }],
      })
      .expect(200);
    expect(((await maren.get(`submissions/${submissions[0]!.id}`)).body as SubmissionView).topology).toEqual(topology);
  });

  test('attempts run out with a sentence', async () => {
    const tobias = await running.as('tobias.ferreira');
    const id = await labId('Valley Station LAN');
    for (const attempt of [2, 3])
      expect((await tobias.send('post', `my/labs/${id}/hand-in`).expect(201)).body).toMatchObject({ attempt });
    expect(refusal(await tobias.send('post', `my/labs/${id}/hand-in`).expect(409)).message).toMatch(
      /used all 3 attempts\. Attempt 3 stays/,
    );
  });

  test('a second hand-in after the deadline is refused, and the first stays', async () => {
    const eero = await running.as('eero.lahtinen');
    const lab = await labOf('Valley Station LAN');
    await maren.send('patch', `labs/${lab.id}`, { base: lab.revision, dueAt: '2026-01-01T12:00:00Z' }).expect(200);
    expect(refusal(await eero.send('post', `my/labs/${lab.id}/hand-in`).expect(409)).message).toMatch(
      /was due on 2026-01-01 at 12:00 UTC.*Attempt 1.*stays as it is/,
    );
    expect((await myLab(eero, 'Valley Station LAN')).submissions).toHaveLength(1);
    const late = await labOf('Valley Station LAN');
    await maren
      .send('patch', `labs/${lab.id}`, { base: late.revision, policy: { ...late.policy, late: 'accepted' } })
      .expect(200);
    expect((await eero.send('post', `my/labs/${lab.id}/hand-in`).expect(201)).body).toMatchObject({
      attempt: 2,
      late: true,
    });
  });
});

describe('courses', () => {
  test('an instructor makes one, puts people on the roster, and they can sign in with their first password', async () => {
    const course = (await maren.send('post', 'courses', { title: 'Networks 2', term: 'Spring' }).expect(201))
      .body as CourseSummary;
    const added = (
      await maren
        .send('post', `courses/${course.id}/roster`, { students: [{ name: 'Nils Ådahl', login: 'nils.adahl' }] })
        .expect(201)
    ).body as { login: string; password: string }[];
    await request(running.app.getHttpServer())
      .post('/api/auth/sign-in')
      .set(REQUEST_HEADER, '1')
      .send({ login: 'nils.adahl', password: added[0]!.password })
      .expect(200);
    expect((await maren.get(`courses/${course.id}/roster`).expect(200)).body).toMatchObject([{ name: 'Nils Ådahl' }]);
    expect(
      refusal(
        await maren
          .send('post', `courses/${course.id}/roster`, { students: [{ name: 'X', login: 'With Space' }] })
          .expect(400),
      ).message,
    ).toMatch(/sign-in name has/);
    await zofia.send('post', 'courses', { title: 'Mine' }).expect(403);
  });
});

test('the API is described, with the request bodies', async () => {
  const response = await request(running.app.getHttpServer()).get('/api/docs.json').expect(200);
  const { paths, components } = response.body as {
    paths: Record<string, object>;
    components: { schemas: Record<string, { properties: object; required: string[] }> };
  };
  expect(Object.keys(paths)).toEqual(
    expect.arrayContaining(['/api/labs/{id}', '/api/documents/{id}/changes', '/api/my/labs/{id}/hand-in']),
  );
  expect(components.schemas.SaveRequest).toMatchObject({
    properties: {
      save: { type: 'string', format: 'uuid' },
      base: { type: 'integer', minimum: 0 },
      commands: { type: 'array', minItems: 1 },
    },
    required: ['save', 'base', 'commands'],
  });
  expect(components.schemas.ChangeLabRequest!.required).toEqual(['base']);
});

test('a database of a newer Sobrin is refused', async () => {
  const db = running.app.get(DataSource);
  await db.query(`INSERT INTO schema_migration (timestamp, name) VALUES (9999999999999, 'FromTheFuture9999999999999')`);
  await expect(migrate()).rejects.toThrow(/newer Sobrin/);
  await db.query(`DELETE FROM schema_migration WHERE name = 'FromTheFuture9999999999999'`);
});

test('every migration has a way down', async () => {
  const db = running.app.get(DataSource);
  const runner = db.createQueryRunner();
  await runner.startTransaction();
  for (const migration of [...db.migrations].reverse()) await migration.down(runner);
  const left = (await runner.query(`SELECT tablename FROM pg_tables WHERE schemaname = 'public'`)) as {
    tablename: string;
  }[];
  expect(left.map((one) => one.tablename)).toEqual(['schema_migration']);
  await runner.rollbackTransaction();
  await runner.release();
});
