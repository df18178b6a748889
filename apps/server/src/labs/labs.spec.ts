import { refusal, useDemo } from '../tests/demo';

const demo = useDemo();

describe('a lab', () => {
  test('goes out as a file and comes back as another lab that judges alike', async () => {
    const id = await demo.labId('Valley Station LAN');
    const file = await demo.maren.get(`labs/${id}/file`).expect(200);
    const course = (await demo.courses(demo.maren))[0]!.id;
    const copy = (
      await demo.maren.send('post', `courses/${course}/labs/import`, { text: JSON.stringify(file.body) }).expect(201)
    ).body as { id: string };
    expect((await demo.maren.get(`labs/${copy.id}/file`).expect(200)).body).toEqual(file.body);
  });
  test('a file that is no lab is refused with the place, and nothing is stored', async () => {
    const course = (await demo.courses(demo.maren))[0]!;
    const file = (await demo.maren.get(`labs/${await demo.labId('Valley Station LAN')}/file`)).body as {
      spec: { sections: { requirements: { rule: { who: string } }[] }[] };
    };
    file.spec.sections[0]!.requirements[0]!.rule.who = 'nobody';
    const response = await demo.maren
      .send('post', `courses/${course.id}/labs/import`, { text: JSON.stringify(file) })
      .expect(422);
    expect(refusal(response).problems).toEqual([
      {
        place: 'spec › sections › 0 › requirements › 0 › rule › who',
        text: '"nobody" is no group of the spec and no device of the reference.',
      },
    ]);
    expect(
      refusal(await demo.maren.send('post', `courses/${course.id}/labs/import`, { text: '{' }).expect(422))
        .problems![0]!.text,
    ).toMatch(/line 1, column/);
    expect((await demo.courses(demo.maren))[0]!.labs).toHaveLength(course.labs.length);
  });
  test('a stale change of the spec is refused, and the newer one stays', async () => {
    const lab = await demo.labOf('Valley Station LAN');
    await demo.maren
      .send('patch', `labs/${lab.id}`, { base: lab.revision, brief: { ...lab.brief, scenario: 'first' } })
      .expect(200);
    expect(
      refusal(
        await demo.maren
          .send('patch', `labs/${lab.id}`, { base: lab.revision, brief: { scenario: 'second' } })
          .expect(409),
      ).message,
    ).toMatch(/was not stored/);
    expect((await demo.labOf('Valley Station LAN')).brief.scenario).toBe('first');
    expect(
      refusal(
        await demo.maren
          .send('patch', `labs/${lab.id}`, { base: lab.revision + 1, policy: { bench: 'loud' } })
          .expect(422),
      ).problems![0]!.place,
    ).toBe('policy › bench');
  });
  test('its tasks are saved, each with its id, and read back; what is no list of tasks is refused with the place', async () => {
    const lab = await demo.labOf('Valley Station LAN');
    const tasks = [...lab.tasks, { id: 'extra', text: 'Label every port.' }];
    await demo.maren.send('patch', `labs/${lab.id}`, { base: lab.revision, tasks }).expect(200);
    const changed = await demo.labOf('Valley Station LAN');
    expect(changed.tasks).toEqual(tasks);
    await demo.maren
      .send('patch', `labs/${lab.id}`, {
        base: changed.revision,
        brief: { ...lab.brief, scenario: 'Later.' },
        tasks: [],
      })
      .expect(200);
    const emptied = await demo.labOf('Valley Station LAN');
    expect([emptied.tasks, emptied.brief.scenario]).toEqual([[], 'Later.']);
    const refused = await demo.maren
      .send('patch', `labs/${lab.id}`, { base: emptied.revision, tasks: [{ id: 't1' }] })
      .expect(422);
    expect(refusal(refused).problems).toEqual([{ place: 'tasks › 0 › text', text: '"text" is missing.' }]);
    await demo.maren.send('patch', `labs/${lab.id}`, { base: emptied.revision, tasks: { 0: tasks[0] } }).expect(400);
  });
  test.each([
    '2026-02-30T12:00:00Z',
    '2026-12-01T18:00',
    '2026-12-01',
    '99999-01-01T00:00:00Z',
    '0000-01-01T00:00:00Z',
    '2026-13-01T00:00:00Z',
    '2026-12-01T25:00:00Z',
    'tomorrow',
  ])('a due date of %s is refused in a sentence, and the one before stays', async (dueAt) => {
    const lab = await demo.labOf('Three Stations');
    const refused = await demo.maren.send('patch', `labs/${lab.id}`, { base: lab.revision, dueAt });
    expect([refused.status, refusal(refused).message]).toEqual([
      400,
      expect.stringMatching(/^The due date is no date/),
    ]);
    expect((await demo.labOf('Three Stations')).dueAt).toBe(lab.dueAt);
  });
  test('a due date with its offset is the instant it tells', async () => {
    const lab = await demo.labOf('Three Stations');
    await demo.maren
      .send('patch', `labs/${lab.id}`, { base: lab.revision, dueAt: '2026-12-01T18:00+01:00' })
      .expect(200);
    expect((await demo.labOf('Three Stations')).dueAt).toBe('2026-12-01T17:00:00.000Z');
  });
});
