import { type ClassRow, type ResultsView } from '@sobrin/contracts';
import { readLabText } from '@sobrin/core/formats';
import { type Plan } from '@sobrin/core/plan';
import { checkSubmission } from '@sobrin/core/spec';
import { type Topology, emptyTopology } from '@sobrin/core/topology';
import { readFileSync, readdirSync } from 'node:fs';
import path from 'node:path';
import Papa from 'papaparse';
import { DataSource } from 'typeorm';
import { config } from '../platform/config';
import { useDemo } from '../tests/demo';

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
  }, 60_000);

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
