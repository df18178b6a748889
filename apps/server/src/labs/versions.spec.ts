import {
  type ClassRow,
  type LabVersionView,
  type LabView,
  type ResultsView,
  type SubmissionView,
} from '@sobrin/contracts';
import { type LabFile } from '@sobrin/core/spec';
import { randomUUID } from 'node:crypto';
import Papa from 'papaparse';
import { DataSource } from 'typeorm';
import { refusal, useDemo } from '../tests/demo';

const demo = useDemo();
const TITLE = 'Three Stations';
const lab = (): Promise<LabView> => demo.labOf(TITLE);
const rows = async (): Promise<ClassRow[]> =>
  (await demo.maren.get(`labs/${await demo.labId(TITLE)}/submissions`).expect(200)).body as ClassRow[];
const stale = async (): Promise<number> => (await rows()).filter((row) => row.stale).length;
const versions = async (): Promise<LabVersionView[]> =>
  (await demo.maren.get(`labs/${await demo.labId(TITLE)}/versions`).expect(200)).body as LabVersionView[];

/** One more point for the first requirement. */
async function raise(): Promise<void> {
  const { id, revision, spec } = await lab();
  spec.sections[0]!.requirements[0]!.points += 1;
  await demo.maren.send('patch', `labs/${id}`, { base: revision, spec }).expect(200);
}

describe('versions of a lab', () => {
  test('what is changed in a lab judges nobody until somebody makes it final', async () => {
    const { id, version, isChanged } = await lab();
    expect([version?.number, isChanged]).toEqual([1, false]);
    await demo.maren.send('post', `labs/${id}/check`).expect(200);
    await raise();
    expect([await stale(), (await lab()).isChanged]).toEqual([0, true]);
    // What is otherwise is told to staff alone.
    const found = (await demo.maren.get(`labs/${id}/versions/1/differences`).expect(200)).body as unknown;
    expect(found).toEqual([
      { what: 'changed', text: expect.stringMatching(/^1\.1 /) as string, changes: ['3 points → 4 points'] },
    ]);
    await demo.zofia.get(`labs/${id}/versions/1/differences`).expect(403);
    await demo.maren.get(`labs/${id}/versions/7/differences`).expect(404);
    await demo.maren.get(`labs/${id}/versions/x/differences`).expect(400);
    expect((await demo.maren.send('post', `labs/${id}/check`).expect(200)).body).toEqual({ checked: 0 });
    expect((await demo.maren.send('post', `labs/${id}/versions`).expect(200)).body).toMatchObject({
      version: { number: 2, by: 'Maren Osterkamp', judges: true },
      isChanged: false,
    });
    expect(await stale()).toBe(12);
  });

  test('making the same final again makes no version', async () => {
    const { id } = await lab();
    await demo.maren.send('post', `labs/${id}/versions`).expect(200);
    expect((await versions()).map(({ number, judges }) => [number, judges])).toEqual([
      [2, true],
      [1, false],
    ]);
  });

  test('marks of another version stand with what that version gave, and have no cells', async () => {
    const { id } = await lab();
    const { requirements, of, rows } = (await demo.maren.get(`labs/${id}/results`).expect(200)).body as ResultsView;
    expect([of, requirements[0]!.of]).toEqual([64, 4]);
    const samir = rows.find((row) => row.name === 'Samir Haddadin')!;
    expect(samir).toMatchObject({ points: 63, of: 63, version: 1, stale: true, cells: [] });
    const { data } = Papa.parse<string[]>((await demo.maren.get(`labs/${id}/results.csv`).expect(200)).text);
    expect(data.find((row) => row[0] === 'Samir Haddadin')).toEqual([
      'Samir Haddadin',
      'samir.haddadin',
      '1',
      expect.stringMatching(/^\d{4}-\d{2}-\d{2} /),
      '1',
      ...requirements.map(() => ''),
      '63',
      '63',
    ]);
  });

  test('a course goes back to an earlier version, and its results hold again without a check', async () => {
    const { id } = await lab();
    expect((await demo.maren.send('put', `labs/${id}/version`, { number: 1 }).expect(200)).body).toMatchObject({
      version: { number: 1 },
      isChanged: true,
    });
    expect(await stale()).toBe(0);
    expect(refusal(await demo.maren.send('put', `labs/${id}/version`, { number: 9 }).expect(404)).message).toMatch(
      /version/,
    );
    await demo.maren.send('put', `labs/${id}/version`, { number: 0 }).expect(400);
  });

  test('a result names all it was made from; the same check is not kept twice', async () => {
    const submission = (await rows()).find((row) => row.submissionId)!.submissionId!;
    const db = demo.running.app.get(DataSource);
    const kept = (): Promise<{ inputs: string; version_hash: string; core_version: string }[]> =>
      db.query('SELECT inputs, version_hash, core_version FROM check_result WHERE submission_id = $1', [submission]);
    const before = await kept();
    expect(before).toHaveLength(1);
    for (const hash of Object.values(before[0]!)) expect(hash).toMatch(/^[0-9a-f]{64}$/);
    await Promise.all(
      Array.from({ length: 6 }, () => demo.maren.send('post', `submissions/${submission}/check`).expect(200)),
    );
    expect(await kept()).toEqual(before);
  });

  test('a version is never changed, by nobody', async () => {
    const db = demo.running.app.get(DataSource);
    await expect(db.query(`UPDATE lab_version SET content = '{}'`)).rejects.toThrow(/never changed/);
  });

  test('thirty at once of each of its routes are all answered, and one version judges afterwards', async () => {
    const { id } = await lab();
    const thirty = (ask: (at: number) => Promise<unknown>): Promise<unknown> =>
      Promise.all(Array.from({ length: 30 }, (_none, at) => ask(at)));
    await Promise.all([
      thirty((at) =>
        Promise.resolve(demo.maren.send('put', `labs/${id}/version`, { number: 1 + (at % 2) }).expect(200)),
      ),
      thirty(() => Promise.resolve(demo.maren.send('post', `labs/${id}/release`).expect(200))),
      thirty(() => Promise.resolve(demo.maren.send('post', `labs/${id}/checks`).expect(202))),
    ]);
    expect((await versions()).filter((version) => version.judges)).toHaveLength(1);
  });

  test('thirty who make it final at once make one version', async () => {
    await raise();
    const { id } = await lab();
    const before = (await versions()).length;
    await Promise.all(Array.from({ length: 30 }, () => demo.maren.send('post', `labs/${id}/versions`).expect(200)));
    expect(await versions()).toHaveLength(before + 1);
  });
});

describe('a lab that is new', () => {
  test('is seen by nobody but its instructor until it is released, and has a version from then on', async () => {
    const course = (await demo.courses(demo.maren))[0]!;
    const title = 'Avalanche Radar';
    const { id } = (await demo.maren.send('post', `courses/${course.id}/labs`, { title }).expect(201)).body as {
      id: string;
    };
    const seen = async (): Promise<boolean> =>
      (await demo.courses(demo.zofia))[0]!.labs.some((each) => each.title === title);
    expect(await seen()).toBe(false);
    for (const place of [`my/labs/${id}`, `labs/${id}/files/f1`]) await demo.zofia.get(place).expect(404);
    await demo.zofia.send('post', `my/labs/${id}/hand-in`, { handIn: randomUUID() }).expect(404);
    expect((await demo.maren.get(`labs/${id}`).expect(200)).body).toMatchObject({ releasedAt: null, version: null });
    expect(refusal(await demo.maren.send('post', `labs/${id}/versions`).expect(409)).message).toMatch(/not released/);
    expect((await demo.maren.send('post', `labs/${id}/check`).expect(200)).body).toEqual({ checked: 0 });
    expect((await demo.maren.get(`labs/${id}/results`).expect(200)).body).toMatchObject({ requirements: [], of: 0 });
    const released = (await demo.maren.send('post', `labs/${id}/release`).expect(200)).body as LabView;
    expect(released.version).toMatchObject({ number: 1, judges: true });
    expect(await seen()).toBe(true);
    await demo.zofia.get(`my/labs/${id}`).expect(200);
    const attempt = (await demo.zofia.send('post', `my/labs/${id}/hand-in`, { handIn: randomUUID() }).expect(201))
      .body as { id: string };
    await demo.maren.send('post', `submissions/${attempt.id}/check`).expect(200);
    const view = (await demo.maren.get(`submissions/${attempt.id}`).expect(200)).body as SubmissionView;
    expect([view.labId, view.stale]).toEqual([id, false]);
    // Released once, it keeps its day.
    const again = (await demo.maren.send('post', `labs/${id}/release`).expect(200)).body as LabView;
    expect(again.releasedAt).toBe(released.releasedAt);
  });

  test('with a starter: who hands it in untouched earns nothing, and what judges has the starter, too', async () => {
    const course = (await demo.courses(demo.maren))[0]!;
    const file = (await demo.maren.get(`labs/${await demo.labId('Summit Dual Stack')}/file`)).body as LabFile;
    const text = JSON.stringify({ ...file, title: 'Summit, half built', starter: file.reference });
    const { id } = (await demo.maren.send('post', `courses/${course.id}/labs/import`, { text }).expect(201)).body as {
      id: string;
    };
    const lab = (await demo.maren.send('post', `labs/${id}/release`).expect(200)).body as LabView;
    expect([(await demo.drawing(demo.maren, lab.starterId!)).document.devices, lab.isChanged]).toEqual([
      file.reference.devices,
      false,
    ]);
    await demo.zofia.get(`my/labs/${id}`).expect(200);
    const attempt = (await demo.zofia.send('post', `my/labs/${id}/hand-in`, { handIn: randomUUID() }).expect(201))
      .body as { id: string };
    await demo.maren.send('post', `submissions/${attempt.id}/check`).expect(200);
    const { result } = (await demo.maren.get(`submissions/${attempt.id}`).expect(200)).body as SubmissionView;
    expect(result!.points).toBe(0);
    expect(result!.requirements.some((each) => each.given)).toBe(true);
  });

  test('with a question: what is written under a task is judged, also when results are made again, and its answer stays here', async () => {
    const course = (await demo.courses(demo.maren))[0]!;
    const file = (await demo.maren.get(`labs/${await demo.labId('Summit Dual Stack')}/file`)).body as LabFile;
    const [task] = file.tasks;
    file.spec.sections = [
      {
        id: 'q',
        title: 'Questions',
        requirements: [
          { id: '1.1', points: 3, rule: { kind: 'answerIs', task: task!.id, accepted: '42 | forty-two' } },
        ],
      },
    ];
    const text = JSON.stringify({ ...file, title: 'With a question' });
    const { id } = (await demo.maren.send('post', `courses/${course.id}/labs/import`, { text }).expect(201)).body as {
      id: string;
    };
    const refused = { ...file, tasks: [] };
    await demo.maren.send('post', `courses/${course.id}/labs/import`, { text: JSON.stringify(refused) }).expect(422);
    await demo.maren.send('post', `labs/${id}/release`).expect(200);
    const work = (await demo.zofia.get(`my/labs/${id}`).expect(200)).body as { documentId: string };
    const handedIn = async (answer: string): Promise<SubmissionView> => {
      await demo.zofia
        .send('put', `my/labs/${id}/answers`, { answers: { [task!.id]: answer }, drawing: work.documentId })
        .expect(204);
      const attempt = (await demo.zofia.send('post', `my/labs/${id}/hand-in`, { handIn: randomUUID() }).expect(201))
        .body as { id: string };
      await demo.maren.send('post', `submissions/${attempt.id}/check`).expect(200);
      return (await demo.maren.get(`submissions/${attempt.id}`).expect(200)).body as SubmissionView;
    };
    const [wrong, right] = [await handedIn('41'), await handedIn('Forty-two.')];
    expect([wrong.result!.points, right.result!.points, right.result!.of]).toEqual([0, 3, 3]);
    expect(right.result!.requirements[0]!.theirSentence).toBe('What is written under task 1 is as asked.');
  });

  test('equipment of a student works as the version that judges says, also while the lab is being changed', async () => {
    const { id, revision, policy } = await demo.labOf('Valley Station LAN');
    await demo.maren
      .send('patch', `labs/${id}`, { base: revision, policy: { ...policy, autoPairing: false, attempts: 7 } })
      .expect(200);
    const before = await demo.myLab(demo.zofia, 'Valley Station LAN');
    expect([before.autoPairing, before.attempts.allowed]).toEqual([policy.autoPairing, 7]);
    await demo.maren.send('post', `labs/${id}/versions`).expect(200);
    expect((await demo.myLab(demo.zofia, 'Valley Station LAN')).autoPairing).toBe(false);
  });
});
