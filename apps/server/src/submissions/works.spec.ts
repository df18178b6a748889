import { type ClassRow, type SubmissionView } from '@sobrin/contracts';
import { randomUUID } from 'node:crypto';
import Papa from 'papaparse';
import { refusal, useDemo } from '../tests/demo';

const demo = useDemo();

describe('handing in', () => {
  test('one student’s exported drawing, uploaded by another, is checked, and the mark is in the CSV', async () => {
    const tobias = await demo.running.as('tobias.ferreira');
    const id = await demo.labId('Valley Station LAN');
    const eero = await demo.running.as('eero.lahtinen');
    const exported = (await demo.drawing(eero, (await demo.myLab(eero, 'Valley Station LAN')).documentId)).document;
    await tobias.send('post', `my/labs/${id}/upload`, { text: JSON.stringify(exported) }).expect(200);
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
    const view = (await demo.maren.send('post', `submissions/${handedIn.id}/check`).expect(200)).body as SubmissionView;
    expect([
      view.result!.points,
      view.result!.of,
      view.answers,
      view.attachments.map((attachment) => attachment.name),
    ]).toEqual([41, 41, { t1: 'a border router' }, ['plan.txt']]);
    expect(
      (
        await demo.maren
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
    await demo.zofia.get(`attachments/${file.id}`).expect(404);
    const { data } = Papa.parse<string[]>((await demo.maren.get(`labs/${id}/results.csv`).expect(200)).text);
    expect(data.find((row) => row[0] === 'Tobias Ferreira')!.slice(-2)).toEqual(['41', '41']);
  });

  test('each attempt is a version of the drawing by name, beside the name that somebody gave it', async () => {
    const student = await demo.running.as('farid.benali');
    const id = await demo.labId('Valley Station LAN');
    const { documentId } = await demo.myLab(student, 'Valley Station LAN');
    const { revision } = await demo.drawing(student, documentId);
    await student.send('post', `documents/${documentId}/versions`, { revision, name: 'Mine, so far' }).expect(204);
    const { attempt } = (await student.send('post', `my/labs/${id}/hand-in`).expect(201)).body as { attempt: number };
    const versions = (await student.get(`documents/${documentId}/versions`)).body as { name: string }[];
    expect(versions.map(({ name }) => name)).toContain(`Mine, so far, Attempt ${attempt}`);
  });

  test('answers that are given at once all stand, whichever other ones their senders knew', async () => {
    const student = await demo.running.as('farid.benali');
    const id = await demo.labId('Valley Station LAN');
    const { tasks } = await demo.myLab(student, 'Valley Station LAN');
    await Promise.all(
      tasks.map(({ id: task }) =>
        student.send('put', `my/labs/${id}/answers`, { answers: { [task]: `about ${task}` } }).expect(204),
      ),
    );
    expect(tasks.length).toBeGreaterThan(1);
    expect((await demo.myLab(student, 'Valley Station LAN')).answers).toEqual(
      Object.fromEntries(tasks.map(({ id: task }) => [task, `about ${task}`])),
    );
  });

  test('what a page of somebody else sends, who was signed in in this browser before, is not taken for one’s own', async () => {
    const [before, now] = [await demo.running.as('farid.benali'), await demo.running.as('greta.holzapfel')];
    const id = await demo.labId('Valley Station LAN');
    const { documentId: drawing } = await demo.myLab(before, 'Valley Station LAN');
    const { answers, submissions } = await demo.myLab(now, 'Valley Station LAN');
    for (const refused of [
      await now.send('put', `my/labs/${id}/answers`, { answers: { t1: 'of Farid' }, drawing }).expect(409),
      await now.send('post', `my/labs/${id}/hand-in`, { drawing }).expect(409),
    ])
      expect(refusal(refused).message).toMatch(/^Somebody else has signed in in this browser.*Nothing was taken/);
    expect(await demo.myLab(now, 'Valley Station LAN')).toMatchObject({ answers, submissions });
  });

  test('what was handed in stays as it was, whatever is drawn afterwards', async () => {
    const tobias = await demo.running.as('tobias.ferreira');
    const { documentId, submissions } = await demo.myLab(tobias, 'Valley Station LAN');
    const { revision, document: topology } = await demo.drawing(tobias, documentId);
    await tobias
      .send('post', `documents/${documentId}/changes`, {
        save: randomUUID(),
        base: revision,
        commands: [{ kind: 'removeDevices', ids: [Object.keys(topology.devices)[0]] }],
      })
      .expect(200);
    expect(((await demo.maren.get(`submissions/${submissions[0]!.id}`)).body as SubmissionView).topology).toEqual(
      topology,
    );
  });

  test('attempts run out with a sentence', async () => {
    const tobias = await demo.running.as('tobias.ferreira');
    const id = await demo.labId('Valley Station LAN');
    for (const attempt of [2, 3])
      expect((await tobias.send('post', `my/labs/${id}/hand-in`).expect(201)).body).toMatchObject({ attempt });
    expect(refusal(await tobias.send('post', `my/labs/${id}/hand-in`).expect(409)).message).toMatch(
      /used all 3 attempts\. Attempt 3 stays/,
    );
  });

  test('a second hand-in after the deadline is refused, and the first stays', async () => {
    const eero = await demo.running.as('eero.lahtinen');
    const lab = await demo.labOf('Valley Station LAN');
    await demo.maren.send('patch', `labs/${lab.id}`, { base: lab.revision, dueAt: '2026-01-01T12:00:00Z' }).expect(200);
    expect(refusal(await eero.send('post', `my/labs/${lab.id}/hand-in`).expect(409)).message).toMatch(
      /was due on 1 January 2026 at 13:00:00 CET.*Attempt 1.*stays as it is/,
    );
    expect((await demo.myLab(eero, 'Valley Station LAN')).submissions).toHaveLength(1);
    const late = await demo.labOf('Valley Station LAN');
    await demo.maren
      .send('patch', `labs/${lab.id}`, { base: late.revision, policy: { ...late.policy, late: 'accepted' } })
      .expect(200);
    expect((await eero.send('post', `my/labs/${lab.id}/hand-in`).expect(201)).body).toMatchObject({
      attempt: 2,
      late: true,
    });
  });

  test('what lateness takes off is told beside what was won, to both sides and in the table', async () => {
    const eero = await demo.running.as('eero.lahtinen');
    const lab = await demo.labOf('Valley Station LAN');
    await demo.maren.send('post', `labs/${lab.id}/check`).expect(200);
    const due = new Date(Date.now() - 25 * 3_600_000).toISOString();
    const { revision, policy } = await demo.labOf('Valley Station LAN');
    await demo.maren
      .send('patch', `labs/${lab.id}`, {
        base: revision,
        dueAt: due,
        policy: { ...policy, latePenalty: { percentPerDay: 10 } },
      })
      .expect(200);
    const mine = (await demo.myLab(eero, 'Valley Station LAN')).submissions.at(-1)!;
    expect(mine.points).toBeGreaterThan(0);
    const off = Math.round(mine.points! * 20) / 100;
    const penalty = { points: off, hints: null, late: { days: 2, percent: 20, points: off } };
    expect(mine.penalty).toEqual(penalty);
    const rows = (await demo.maren.get(`labs/${lab.id}/submissions`)).body as ClassRow[];
    expect(rows.find(({ submissionId }) => submissionId === mine.id)).toMatchObject({ points: mine.points, penalty });
    expect(rows.filter(({ penalty }) => penalty !== null)).toHaveLength(1);
    const { text } = (await demo.maren.get(`labs/${lab.id}/results.csv`)) as { text: string };
    const [header, ...lines] = text.split('\r\n').map((line) => line.split(','));
    expect(header!.slice(-4)).toEqual(['Points', 'Of', 'Off for lateness', 'Counts']);
    expect(
      lines
        .find(([name]) => name === 'Eero Lahtinen')!
        .slice(-2)
        .map(Number),
    ).toEqual([penalty.points, Math.round((mine.points! - penalty.points) * 100) / 100]);
    expect((await demo.maren.get(`submissions/${mine.id}`)).body).toMatchObject({
      penalty,
      attempts: [{ attempt: 1 }, { attempt: 2, id: mine.id, late: true }],
    });
  });

  test('an earlier attempt can be opened by its student and by those who teach', async () => {
    const eero = await demo.running.as('eero.lahtinen');
    const lab = await demo.labOf('Valley Station LAN');
    const [first] = (await demo.myLab(eero, 'Valley Station LAN')).submissions;
    expect((await eero.get(`my/labs/${lab.id}/attempts/${first!.id}`).expect(200)).body).toMatchObject({ attempt: 1 });
    expect((await demo.maren.send('post', `submissions/${first!.id}/check`).expect(200)).body).toMatchObject({
      attempt: 1,
      result: { of: 41 },
    });
  });
});

describe('a file of a submission', () => {
  const TITLE = 'Valley Station LAN';
  const plan = { blocks: { a: { prefix: '10.84.0.0/24', name: 'A' } } };
  const file = (more: object) => ({
    text: JSON.stringify({ format: 'sobrin-submission', version: 2, plan, ...more }),
  });

  test('is taken over with its answers, files and configuration texts, which are handed in; what is not is told', async () => {
    const greta = await demo.running.as('greta.holzapfel');
    const { id, tasks, attachments } = await demo.myLab(greta, TITLE);
    const uploaded = await greta
      .send(
        'post',
        `my/labs/${id}/upload`,
        file({
          student: 'Somebody Else',
          stage: 'plan',
          answers: { [tasks[0]!.id]: 'two switches', nowhere: 'x' },
          attachments: [{ name: 'photo.txt', type: 'text/plain', base64: Buffer.from('a photo').toString('base64') }],
          configTexts: [{ device: 'RT-V', text: 'hostname RT-V' }],
        }),
      )
      .expect(200);
    expect(uploaded.body).toEqual({
      taken: ['plan', '1 answer', '1 file', '1 configuration text'],
      left: [
        expect.stringMatching(/no task "nowhere"/),
        expect.stringMatching(/Stages are not in force yet: "plan"/),
        expect.stringMatching(/names "Somebody Else"/),
      ],
    });
    const now = await demo.myLab(greta, TITLE);
    expect(now.answers[tasks[0]!.id]).toBe('two switches');
    expect(now.attachments.map(({ name }) => name).sort()).toEqual(
      [...attachments.map(({ name }) => name), 'RT-V.txt', 'photo.txt'].sort(),
    );
    // The text of a device takes the place of the one before.
    await greta
      .send('post', `my/labs/${id}/upload`, file({ configTexts: [{ device: 'RT-V', text: 'hostname RT-V2' }] }))
      .expect(200);
    const handedIn = await greta.send('post', `my/labs/${id}/hand-in`).expect(201);
    const view = (await demo.maren.get(`submissions/${(handedIn.body as { id: string }).id}`)).body as SubmissionView;
    const text = view.attachments.filter(({ name }) => name === 'RT-V.txt');
    expect(text).toHaveLength(1);
    const download = await demo.maren.get(`attachments/${text[0]!.id}`).expect(200);
    expect(Buffer.from(download.body as Uint8Array).toString() || download.text).toBe('hostname RT-V2');
  });

  test('with too many files changes nothing', async () => {
    const greta = await demo.running.as('greta.holzapfel');
    const before = await demo.myLab(greta, TITLE);
    const many = Array.from({ length: 20 }, (_, at) => ({ name: `${at}.txt`, type: 'text/plain', base64: '' }));
    const refused = await greta
      .send(
        'post',
        `my/labs/${before.id}/upload`,
        file({ answers: { [before.tasks[0]!.id]: 'lost' }, attachments: many }),
      )
      .expect(400);
    expect(refusal(refused).message).toMatch(/At most 16 files/);
    expect(await demo.myLab(greta, TITLE)).toEqual(before);
  });
});
