import { type ClassRow, type StudentAttempt, type SubmissionView } from '@sobrin/contracts';
import { randomUUID } from 'node:crypto';
import { DataSource } from 'typeorm';
import { refusal, useDemo } from '../tests/demo';
import { MOST_COMMENTS } from './comments.service';

const demo = useDemo();

const viewOf = async (id: string): Promise<SubmissionView> =>
  (await demo.maren.get(`submissions/${id}`).expect(200)).body as SubmissionView;

/** A checked submission of a lab with whoever handed it in. */
async function handedIn(title: string) {
  const lab = await demo.labId(title);
  await demo.maren.send('post', `labs/${lab}/check`).expect(200);
  const rows = (await demo.maren.get(`labs/${lab}/submissions`).expect(200)).body as ClassRow[];
  const id = rows.find(({ submissionId }) => submissionId !== null)!.submissionId!;
  const view = await viewOf(id);
  const [account] = await demo.running.app
    .get(DataSource)
    .query<{ login: string }[]>('SELECT login FROM account WHERE id = $1', [view.student.id]);
  return { lab, id, view, student: await demo.running.as(account!.login) };
}
/** Changes what students of Valley Station LAN are shown. */
const shown = (policy: string): Promise<unknown> =>
  demo.running.app
    .get(DataSource)
    .query(
      `UPDATE document SET content = content || $1::jsonb WHERE id = (SELECT policy_id FROM lab WHERE title = 'Valley Station LAN')`,
      [policy],
    );
const say = (
  id: string,
  text: string,
  on: { kind: string; target: string } = { kind: 'work', target: '' },
  own = randomUUID(),
) => demo.maren.send('post', `submissions/${id}/comments`, { id: own, ...on, text });

test('what is said of a submission, its devices, links and requirements is read by its student with the mark', async () => {
  const { lab, id, view, student } = await handedIn('Valley Station LAN');
  const [device] = Object.keys(view.topology.devices);
  const [link] = Object.keys(view.topology.links);
  const requirement = view.result!.requirements[1]!.id;
  for (const [kind, target] of [
    ['work', ''],
    ['device', device!],
    ['link', link!],
    ['requirement', requirement],
  ] as const)
    await say(id, `About the ${kind}.`, { kind, target }).expect(200);
  expect((await viewOf(id)).comments).toMatchObject([
    { kind: 'work', target: '', text: 'About the work.', by: 'Maren Osterkamp', isOwn: true },
    { kind: 'device', target: device, text: 'About the device.' },
    { kind: 'link', target: link, text: 'About the link.' },
    { kind: 'requirement', target: requirement, text: 'About the requirement.' },
  ]);
  const attempt = async () => (await student.get(`my/labs/${lab}/attempts/${id}`).expect(200)).body as StudentAttempt;
  const { comments } = await attempt();
  // Points alone are shown: which requirement it is about is not told by an id of the spec.
  expect(comments.map(({ kind, target, by }) => [kind, target, by])).toEqual([
    ['work', '', 'Maren Osterkamp'],
    ['device', device, 'Maren Osterkamp'],
    ['link', link, 'Maren Osterkamp'],
    ['work', '', 'Maren Osterkamp'],
  ]);
  await shown('{"shown": {"what": "findings", "strength": "what"}}');
  expect((await attempt()).comments.at(-1)).toMatchObject({ kind: 'requirement', target: '1' });
  // Where nothing is shown yet, comments wait with the mark.
  await shown('{"shown": {"what": "findings", "when": "when-returned"}}');
  await demo.running.app.get(DataSource).query('UPDATE assignment SET due_at = NULL WHERE id = $1', [lab]);
  expect((await attempt()).comments).toEqual([]);
  await student
    .send('post', `submissions/${id}/comments`, { id: randomUUID(), kind: 'work', target: '', text: 'Mine' })
    .expect(403);
});

test('its author says it otherwise; whoever teaches takes it away', async () => {
  const { id } = await handedIn('Three Stations');
  const own = randomUUID();
  await say(id, 'Look at the gatway.', undefined, own).expect(200);
  const changed = (
    await demo.maren.send('put', `submissions/${id}/comments/${own}`, { text: ' Look at the gateway. ' }).expect(200)
  ).body as SubmissionView;
  expect(changed.comments).toMatchObject([{ id: own, text: 'Look at the gateway.' }]);
  const db = demo.running.app.get(DataSource);
  await db.query(`UPDATE submission_comment SET by_id = (SELECT id FROM account WHERE login = 'zofia.wrona')`);
  expect((await viewOf(id)).comments).toMatchObject([{ isOwn: false }]);
  await demo.maren.send('put', `submissions/${id}/comments/${own}`, { text: 'Mine now' }).expect(404);
  const without = (await demo.maren.send('delete', `submissions/${id}/comments/${own}`).expect(200))
    .body as SubmissionView;
  expect(without.comments).toEqual([]);
  await demo.maren.send('delete', `submissions/${id}/comments/${own}`).expect(404);
});

test('sent again it is one; of many at once none is lost and none doubled; of another submission it is no one’s', async () => {
  const { id } = await handedIn('Winch Isolation');
  const own = randomUUID();
  const answers = await Promise.all([
    ...Array.from({ length: 20 }, () => say(id, 'Once.', undefined, own)),
    ...Array.from({ length: 20 }, (_, at) => say(id, `Said ${at}.`)),
  ]);
  expect(answers.map(({ status }) => status)).toEqual(answers.map(() => 200));
  const { comments } = await viewOf(id);
  expect(comments.filter(({ text }) => text === 'Once.')).toHaveLength(1);
  expect(comments).toHaveLength(21);
  const other = await handedIn('Summit Dual Stack');
  await say(other.id, 'Once.', undefined, own).expect(409);
  await demo.maren.send('put', `submissions/${other.id}/comments/${own}`, { text: 'Elsewhere' }).expect(404);
  await demo.maren.send('delete', `submissions/${other.id}/comments/${own}`).expect(404);
  expect((await viewOf(id)).comments).toHaveLength(21);
});

test('what cannot be said is refused in a sentence, and nothing is written', async () => {
  const { id } = await handedIn('Valley Station LAN');
  const { comments: before } = await viewOf(id);
  for (const [on, text, said] of [
    [{ kind: 'device', target: 'nobody' }, 'A', 'The submission has no such device.'],
    [{ kind: 'device', target: '__proto__' }, 'A', 'The submission has no such device.'],
    [{ kind: 'link', target: 'constructor' }, 'A', 'The submission has no such link.'],
    [{ kind: 'requirement', target: '9.9' }, 'A', 'The spec that judged has no requirement "9.9".'],
    [{ kind: 'work', target: 'x' }, 'A', 'What is said of the whole work names nothing in it.'],
    [{ kind: 'site', target: 'x' }, 'A', 'A comment is about one of work, requirement, device, link, not "site".'],
    [{ kind: 'work', target: '' }, '  \n', 'Say something: a comment has at least one letter.'],
    [{ kind: 'work', target: '' }, 'a'.repeat(4001), 'The comment is longer than 4,000 letters: say it shorter.'],
  ] as const) {
    const answer = await say(id, text, on);
    expect([answer.status, refusal(answer).message]).toEqual([400, expect.stringContaining(said) as string]);
  }
  const db = demo.running.app.get(DataSource);
  expect((await viewOf(id)).comments).toEqual(before);
  await db.query(
    `INSERT INTO submission_comment (id, submission_id, kind, target, text, by_id, at)
      SELECT gen_random_uuid(), $1, 'work', '', 'n', $2, now() FROM generate_series(1, ${MOST_COMMENTS - before.length})`,
    [id, demo.maren.me.id],
  );
  await say(id, 'One more').expect(409);
});
