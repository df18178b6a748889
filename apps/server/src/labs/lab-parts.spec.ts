import { type Conflict, type DocumentView, type LabView, type VersionView } from '@sobrin/contracts';
import { type Spec } from '@sobrin/core/spec';
import { randomUUID } from 'node:crypto';
import { refusal, useDemo } from '../tests/demo';

const demo = useDemo();
const save = (id: string, base: number, edits: object[], who = demo.maren) =>
  who.send('post', `documents/${id}/changes`, { save: randomUUID(), base, commands: [{ kind: 'edits', edits }] });
const partOf = async <D>(id: string): Promise<{ revision: number; document: D }> =>
  (await demo.maren.get(`documents/${id}`).expect(200)).body as { revision: number; document: D };

describe('parts of a lab', () => {
  const inSpec = (lab: LabView, section: number, requirement: number): string[] => {
    const { id, requirements } = lab.spec.sections[section]!;
    return ['sections', id, 'requirements', requirements[requirement]!.id];
  };

  test('two requirements that are changed at once both stand; one that is changed twice is put before people', async () => {
    const lab = await demo.labOf('Three Stations');
    const { revision } = await partOf<Spec>(lab.documents.spec);
    const [first, second] = [inSpec(lab, 0, 0), inSpec(lab, 0, 1)];
    await save(lab.documents.spec, revision, [{ path: [...first, 'points'], value: 7 }]).expect(200);
    const both = await save(lab.documents.spec, revision, [{ path: [...second, 'points'], value: 9 }]).expect(200);
    const merged = (both.body as { merged: Spec }).merged;
    expect(merged.sections[0]!.requirements.slice(0, 2).map((each) => each.points)).toEqual([7, 9]);
    const clash = (await save(lab.documents.spec, revision, [{ path: [...first, 'points'], value: 8 }]).expect(409))
      .body as Conflict<Spec>;
    expect(clash.places).toEqual([`sections › ${lab.spec.sections[0]!.title} › requirements › ${first[3]} › points`]);
    expect(clash.theirs.sections[0]!.requirements[0]!.points).toBe(7);
    expect((await demo.labOf('Three Stations')).spec.sections[0]!.requirements[0]!.points).toBe(7);
  });

  test('an entry that is gone is not changed any more; one that is added stands where it was put', async () => {
    const lab = await demo.labOf('Three Stations');
    const { revision, document } = await partOf<{ tasks: { id: string }[] }>(lab.documents.tasks);
    const gone = await save(lab.documents.tasks, revision, [{ path: ['tasks', 'nobody', 'text'], value: 'x' }]);
    expect([gone.status, refusal(gone).message]).toEqual([422, '“nobody” is not there any more. Nothing was stored.']);
    await save(lab.documents.tasks, revision, [
      { path: ['tasks', 'new'], value: { id: 'new', text: 'First of all.' }, at: 0 },
    ]).expect(200);
    const after = await partOf<{ tasks: { id: string }[] }>(lab.documents.tasks);
    expect(after.document.tasks.map(({ id }) => id)).toEqual(['new', ...document.tasks.map(({ id }) => id)]);
  });

  test.each<[string, 'brief' | 'policy' | 'spec' | 'tasks', object]>([
    ['a property that there is not', 'policy', { path: ['loud'], value: true }],
    ['a value that cannot be', 'policy', { path: ['bench'], value: 'loud' }],
    ['what all objects inherit', 'brief', { path: ['__proto__', 'scenario'], value: 'x' }],
    [
      'a group that is there twice',
      'brief',
      { path: ['groups'], value: ['a', 'a'].map((id) => ({ id, name: id, now: 1, later: 1 })) },
    ],
    ['a spec without sections', 'spec', { path: ['sections'] }],
    ['something else in its place', 'tasks', { path: [], value: { groups: [] } }],
  ])('%s is refused with its place, and nothing is stored', async (_what, part, edit) => {
    const lab = await demo.labOf('Three Stations');
    const before = await partOf(lab.documents[part]);
    const refused = await save(lab.documents[part], before.revision, [edit]);
    expect(refused.status).toBe(422);
    expect(refusal(refused).message).toMatch(/Nothing was stored/);
    expect(await partOf(lab.documents[part])).toEqual(before);
  });

  const long = 'x'.repeat(4000);
  test.each<[string, 'brief' | 'spec' | 'tasks', object[]]>([
    ['a step into a text', 'brief', [{ path: ['scenario', '0'], value: 'x' }]],
    ['a step into what is not there', 'brief', [{ path: ['no', 'such', 'place'], value: 'x' }]],
    ['an entry under another’s id', 'tasks', [{ path: ['tasks', 'a'], value: { id: 'b', text: 'x' } }]],
    ['an entry without an id', 'tasks', [{ path: ['tasks', 'a'], value: { text: 'x' } }]],
    ['a list in which something is no entry', 'tasks', [{ path: ['tasks'], value: [null, 7, 'x'] }]],
    [
      'more than a part may hold',
      'tasks',
      Array.from({ length: 1000 }, (_, at) => ({ path: ['tasks', `t${at}`], value: { id: `t${at}`, text: long } })),
    ],
    ['nothing at all', 'spec', [{ path: [] }]],
    ['a part that was taken away first', 'brief', [{ path: [] }, { path: ['groups'], value: 7 }]],
    ['a word', 'brief', [{ path: [], value: 'x' }]],
    ['what the constructor is', 'spec', [{ path: ['constructor', 'prototype', 'x'], value: 1 }]],
    ['a path as long as it may not be', 'spec', [{ path: Array.from({ length: 17 }, () => 'a'), value: 1 }]],
  ])(
    '%s, from somebody who means harm, is refused with a sentence, and nothing is stored',
    async (_what, part, edits) => {
      const lab = await demo.labOf('Three Stations');
      const before = await partOf(lab.documents[part]);
      const refused = await save(lab.documents[part], before.revision, edits);
      expect(refused.status).toBe(422);
      expect(refusal(refused).message).toMatch(/\.$/);
      expect(await partOf(lab.documents[part])).toEqual(before);
    },
  );

  test('a part is replaced as a whole, as somebody does who keeps their own version, and gets back what it was', async () => {
    const lab = await demo.labOf('Three Stations');
    const { revision, document } = await partOf<{ tasks: object[] }>(lab.documents.tasks);
    const mine = { tasks: [{ id: 'only', text: 'The only one.' }] };
    await save(lab.documents.tasks, revision, [{ path: [], value: mine }]).expect(200);
    expect((await partOf(lab.documents.tasks)).document).toEqual(mine);
    await save(lab.documents.tasks, revision + 1, [{ path: [], value: document }]).expect(200);
    expect((await partOf(lab.documents.tasks)).document).toEqual(document);
  });

  test('two servers on one database take turns: what each took stands once, in one row of revisions', async () => {
    const lab = await demo.labOf('Three Stations');
    const { revision, document } = await partOf<{ tasks: { id: string }[] }>(lab.documents.tasks);
    const other = await demo.running.again();
    try {
      const people = [demo.maren, await other.as('maren')];
      const answers = await Promise.all(
        Array.from({ length: 40 }, (_, at) =>
          save(
            lab.documents.tasks,
            revision,
            [{ path: ['tasks', `t${at}`], value: { id: `t${at}`, text: `Task ${at}.` } }],
            people[at % 2],
          ),
        ),
      );
      expect(answers.map(({ status }) => status)).toEqual(answers.map(() => 200));
      const after = await partOf<{ tasks: { id: string }[] }>(lab.documents.tasks);
      expect(after.revision).toBe(revision + 40);
      expect(new Set(after.document.tasks.map(({ id }) => id))).toEqual(
        new Set([...document.tasks.map(({ id }) => id), ...answers.map((_answer, at) => `t${at}`)]),
      );
    } finally {
      await other.close();
    }
  });

  test('whoever changes the lab as a whole, knowing it as it was before a part was saved, is refused', async () => {
    const lab = await demo.labOf('Three Stations');
    const { revision } = await partOf(lab.documents.brief);
    await save(lab.documents.brief, revision, [{ path: ['scenario'], value: 'By the document.' }]).expect(200);
    await demo.maren.send('patch', `labs/${lab.id}`, { base: lab.revision, brief: { scenario: 'Whole.' } }).expect(409);
    const now = await demo.labOf('Three Stations');
    expect(now.brief.scenario).toBe('By the document.');
    await demo.maren
      .send('patch', `labs/${lab.id}`, { base: now.revision, brief: { ...now.brief, scenario: 'Whole.' } })
      .expect(200);
    const after = await partOf<{ scenario: string }>(lab.documents.brief);
    expect([after.document.scenario, after.revision]).toEqual(['Whole.', revision + 2]);
  });

  test('they have versions like drawings, and students see none of them', async () => {
    const lab = await demo.labOf('Three Stations');
    const { revision } = await partOf(lab.documents.brief);
    await demo.maren
      .send('post', `documents/${lab.documents.brief}/versions`, { revision, name: 'Agreed' })
      .expect(204);
    const versions = (await demo.maren.get(`documents/${lab.documents.brief}/versions`).expect(200))
      .body as VersionView[];
    expect(versions.map(({ name }) => name)).toContain('Agreed');
    const first = (await demo.maren.get(`documents/${lab.documents.brief}/versions/0`).expect(200))
      .body as DocumentView;
    expect(first.document).not.toEqual((await partOf(lab.documents.brief)).document);
    for (const id of Object.values(lab.documents)) {
      await demo.zofia.get(`documents/${id}`).expect(404);
      await save(id, 0, [{ path: ['x'], value: 1 }], demo.zofia).expect(404);
    }
    await demo.maren.get(`documents/${lab.documents.brief}/picture.svg`).expect(400);
  });

  test('thirty saves of one part and thirty changes of the whole lab at once: each is answered, and all that were taken stand', async () => {
    const lab = await demo.labOf('Winch Isolation');
    const { revision } = await partOf(lab.documents.brief);
    const many = Array.from({ length: 30 }, (_, at) => at);
    const saves = many.map((at) =>
      save(lab.documents.brief, revision, [
        { path: ['ratios', ['perAccessPoint', 'oversubscription', 'hostMbps'][at % 3]!], value: 10 + at },
      ]),
    );
    const wholes = many.map((at) =>
      demo.maren.send('patch', `labs/${lab.id}`, { base: lab.revision, title: `Winch ${at}` }),
    );
    const answers = await Promise.all([...saves, ...wholes]);
    const statuses = new Set(answers.map(({ status }) => status));
    expect([...statuses].sort()).toEqual([200, 409]);
    const taken = answers.slice(0, 30).filter(({ status }) => status === 200);
    expect((await partOf(lab.documents.brief)).revision).toBe(revision + taken.length);
  });
});
