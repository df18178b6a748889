import { type ClassRow, type CourseSummary, type ResultsView, type StudentLabView } from '@sobrin/contracts';
import { readLabText } from '@sobrin/core/formats';
import { type Plan } from '@sobrin/core/plan';
import { type Policy, checkSubmission } from '@sobrin/core/spec';
import { type Topology, emptyTopology } from '@sobrin/core/topology';
import { readFileSync, readdirSync } from 'node:fs';
import path from 'node:path';
import Papa from 'papaparse';
import { DataSource } from 'typeorm';
import { config } from '../platform/config';
import { type Person } from '../tests/application';
import { useDemo } from '../tests/demo';
import { type Marking, countingOf } from './counting-attempts';

const demo = useDemo();

describe('the demo', () => {
  test('all 54 hand-ins are checked on the server, and the marks are those of the core', async () => {
    for (const [title, slug, count] of [
      ['Valley Station LAN', 'valley-lan', 12],
      ['Three Stations', 'three-stations', 12],
      ['Season Opening', 'season-opening', 6],
      ['Winch Isolation', 'winch-isolation', 12],
      ['Summit Dual Stack', 'summit-dual-stack', 12],
    ] as const) {
      const id = await demo.labId(title);
      expect((await demo.maren.send('post', `labs/${id}/check`).expect(200)).body).toEqual({ checked: count });
      expect((await demo.maren.send('post', `labs/${id}/check`).expect(200)).body).toEqual({ checked: 0 });
      const rows = (await demo.maren.get(`labs/${id}/submissions`).expect(200)).body as ClassRow[];
      const lab = readLabText(readFileSync(path.join(config.demoFolder, slug, 'lab.json'), 'utf8'));
      if (!lab.ok) throw new Error('lab');
      for (const name of readdirSync(path.join(config.demoFolder, slug, 'submissions'))) {
        const file = JSON.parse(readFileSync(path.join(config.demoFolder, slug, 'submissions', name), 'utf8')) as {
          student: string;
          topology?: Topology;
          plan?: Plan;
        };
        expect([file.student, rows.find((row) => row.name === file.student)!.points]).toEqual([
          file.student,
          checkSubmission(lab.value, file.topology ?? emptyTopology(), file.plan).points,
        ]);
      }
    }
  });

  test('results are a grid of students and requirements, and come as CSV', async () => {
    const id = await demo.labId('Three Stations');
    const results = (await demo.maren.get(`labs/${id}/results`).expect(200)).body as ResultsView;
    expect(results.rows.filter((row) => row.cells.length)).toHaveLength(12);
    const { data } = Papa.parse<string[]>((await demo.maren.get(`labs/${id}/results.csv`).expect(200)).text);
    expect(data[0]).toEqual([
      'Student',
      'Sign-in name',
      'Attempt',
      'Handed in (Europe/Vienna)',
      'Version',
      ...results.requirements.map((requirement) => requirement.id),
      'Points',
      'Of',
    ]);
    expect(data.find((row) => row[0] === 'Samir Haddadin')!.slice(-2)).toEqual(['63', '63']);
    expect(data.find((row) => row[0] === 'Zofia Wrona')!.slice(-2)).toEqual(['', '63']);
    expect(data.find((row) => row[0] === 'Samir Haddadin')!.slice(1, 4)).toEqual([
      'samir.haddadin',
      '1',
      expect.stringMatching(/^\d{4}-\d{2}-\d{2} \d{2}:\d{2}$/),
    ]);
    expect(data.find((row) => row[0] === 'Zofia Wrona')!.slice(1, 4)).toEqual(['zofia.wrona', '', '']);
  });
});

test('a hand-in that cannot be judged stays to be checked, and all others are', async () => {
  const id = await demo.labId('Winch Isolation');
  const rows = (): Promise<ClassRow[]> =>
    demo.maren.get(`labs/${id}/submissions`).then(({ body }) => body as ClassRow[]);
  const db = demo.running.app.get(DataSource);
  await db.query('DELETE FROM check_result');
  const broken = (await rows()).find((row) => row.submissionId)!;
  await db.query(`UPDATE submission SET topology = '{"devices": {"a": null}, "links": {}}' WHERE id = $1`, [
    broken.submissionId,
  ]);
  expect((await demo.maren.send('post', `labs/${id}/check`).expect(200)).body).toEqual({ checked: 11 });
  const after = await rows();
  expect(after.filter((row) => row.submissionId && row.points === null).map((row) => row.name)).toEqual([broken.name]);
  await demo.maren.get(`labs/${id}/results`).expect(200);
});

describe('which of several attempts counts', () => {
  const TITLE = 'Valley Station LAN';
  const rule = async (more: object): Promise<string> => {
    const { id, revision, policy } = await demo.labOf(TITLE);
    await demo.maren.send('patch', `labs/${id}`, { base: revision, policy: { ...policy, ...more } }).expect(200);
    return id;
  };
  const rowOf = async (lab: string, name: string): Promise<ClassRow> =>
    ((await demo.maren.get(`labs/${lab}/submissions`).expect(200)).body as ClassRow[]).find(
      (row) => row.name === name,
    )!;
  /** Two attempts: a drawing that earns much, then an empty one. */
  async function twoAttempts(login: string, lab: string): Promise<Person> {
    const [student, eero] = [await demo.running.as(login), await demo.running.as('eero.lahtinen')];
    const { document } = await demo.drawing(eero, (await demo.myLab(eero, TITLE)).documentId);
    await student.send('post', `my/labs/${lab}/upload`, { text: JSON.stringify(document) }).expect(200);
    await student.send('post', `my/labs/${lab}/hand-in`).expect(201);
    const empty = { ...document, devices: {}, links: {}, sites: {} };
    await student.send('post', `my/labs/${lab}/upload`, { text: JSON.stringify(empty) }).expect(200);
    await student.send('post', `my/labs/${lab}/hand-in`).expect(201);
    return student;
  }

  test('the last one, or as the lab says the best: in class, results, CSV and for the student', async () => {
    const lab = await rule({ attempts: 10, shown: { what: 'points' } });
    const student = await twoAttempts('rosalba.ferri', lab);
    const { name } = ((await student.get('auth/me')).body as { me: { name: string } }).me;
    await demo.maren.send('post', `labs/${lab}/check`).expect(200);
    expect(await rowOf(lab, name)).toMatchObject({ attempts: 2, counts: 2, points: 0, toCheck: 0 });
    await rule({ counts: 'best' });
    // The first one was not judged, as it did not count: until it is, the other is the best that is known.
    expect(await rowOf(lab, name)).toMatchObject({ attempts: 2, counts: 2, points: 0, toCheck: 1 });
    await demo.maren.send('post', `labs/${lab}/check`).expect(200);
    const best = await rowOf(lab, name);
    expect(best).toMatchObject({ attempts: 2, counts: 1, toCheck: 0 });
    expect(best.points).toBeGreaterThan(10);
    const { rows } = (await demo.maren.get(`labs/${lab}/results`).expect(200)).body as ResultsView;
    expect(rows.find((row) => row.name === name)).toMatchObject({
      points: best.points,
      submissionId: best.submissionId,
    });
    const csv = (await demo.maren.get(`labs/${lab}/results.csv`).expect(200)).text;
    expect(
      csv
        .split('\r\n')
        .find((line) => line.startsWith(name))!
        .split(','),
    ).toContain(String(best.points));
    const view = async () => (await demo.myLab(student, TITLE)) satisfies StudentLabView;
    expect((await view()).submissions.map(({ counts }) => counts)).toEqual([true, false]);
    const mine = async (): Promise<unknown> =>
      ((await student.get('courses')).body as CourseSummary[]).flatMap(({ labs }) => labs).find(({ id }) => id === lab)!
        .mine;
    expect(await mine()).toMatchObject({ attempts: 2, points: best.points });
    // Which is the best is a mark, too: where none is shown, it is not told.
    await rule({ shown: { what: 'nothing' } });
    expect((await view()).submissions.map(({ counts }) => counts)).toEqual([false, false]);
    await rule({ counts: 'last' });
    expect((await view()).submissions.map(({ counts }) => counts)).toEqual([false, true]);
    expect(await rowOf(lab, name)).toMatchObject({ counts: 2, points: 0 });
  });

  test('of late attempts what is left after the lateness is compared', () => {
    const attempt = (nth: number, day: number, late: boolean) => ({
      id: `a${nth}`,
      studentId: 's',
      attempt: nth,
      handedInAt: new Date(Date.UTC(2026, 10, day)),
      late,
    });
    const attempts = [attempt(1, 10, false), attempt(2, 14, true), attempt(3, 15, true)];
    const checks = new Map([
      ['a1', { points: 20 }],
      ['a2', { points: 30 }],
      ['a3', { points: 20 }],
    ]);
    const marking = (
      policy: Policy,
      hints: Marking['hints'] = new Map<string, never>(),
      chosen: Marking['chosen'] = new Map<string, never>(),
    ): Marking => ({
      policy,
      dueAt: new Date(Date.UTC(2026, 10, 12)),
      hints,
      chosen,
    });
    const counting = (percentPerDay: number) =>
      countingOf(attempts, checks, marking({ counts: 'best', latePenalty: { percentPerDay } }))?.id;
    expect([counting(0), counting(10), counting(40)]).toEqual(['a2', 'a2', 'a1']);
    expect(countingOf(attempts, new Map(), marking({ counts: 'best' }))?.id).toBe('a3');
    expect(
      countingOf(
        attempts,
        new Map([
          ['a1', { points: 5 }],
          ['a2', { points: 5 }],
        ]),
        marking({ counts: 'best' }),
      )?.id,
    ).toBe('a2');
    expect(countingOf([], checks, marking({ counts: 'best' }))).toBeUndefined();
    const chose = (id: string) => marking({ counts: 'chosen' }, undefined, new Map([['s', id]]));
    expect(['a1', 'gone'].map((id) => countingOf(attempts, checks, chose(id))?.id)).toEqual(['a1', 'a3']);
    // A hint that was asked for between the first and the second is paid for from the second on.
    const asked = new Map([['s', [{ at: new Date(Date.UTC(2026, 10, 11)), cost: 11 }]]]);
    expect(countingOf(attempts, checks, marking({ counts: 'best' }, asked))?.id).toBe('a1');
  });
});
