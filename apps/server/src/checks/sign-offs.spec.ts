import { type SignOffsView } from '@sobrin/contracts';
import { type Spec } from '@sobrin/core/spec';
import { randomUUID } from 'node:crypto';
import { useDemo } from '../tests/demo';

const demo = useDemo();

/** Valley Station LAN with something to be signed off, made final. */
async function asking(points: number): Promise<string> {
  const { id, documents } = await demo.labOf('Valley Station LAN');
  const { revision, document } = (await demo.maren.get(`documents/${documents.spec}`).expect(200)).body as {
    revision: number;
    document: Spec;
  };
  const [first, ...rest] = document.sections;
  const requirements = [
    ...first!.requirements.filter((each) => each.id !== 'seen'),
    { id: 'seen', points, rule: { kind: 'signedOff', what: 'the till prints' } },
  ];
  const edits = [{ path: ['sections'], value: [{ ...first, requirements }, ...rest] }];
  await demo.maren
    .send('post', `documents/${documents.spec}/changes`, {
      save: randomUUID(),
      base: revision,
      commands: [{ kind: 'edits', edits }],
    })
    .expect(200);
  await demo.maren.send('post', `labs/${id}/versions`, {}).expect(200);
  return id;
}
const view = async (lab: string): Promise<SignOffsView> =>
  (await demo.maren.get(`labs/${lab}/sign-offs`).expect(200)).body as SignOffsView;

test('what a person has seen is asked of everybody, and told with who saw it and when, as long as the same is asked', async () => {
  const before = await view(await demo.labId('Valley Station LAN'));
  expect(before.signOffs).toEqual([]);
  const lab = await asking(2);
  const open = await view(lab);
  expect(open.signOffs).toEqual([{ id: 'seen', sentence: 'A person has seen that the till prints.', of: 2 }]);
  const row = open.rows.find(({ submissionId }) => submissionId !== null)!;
  expect(row).toMatchObject({ isChecked: false, cells: [{ id: 'seen', state: 'open', by: null, at: null }] });
  expect(open.rows.some(({ submissionId }) => submissionId === null)).toBe(true);
  await demo.maren.send('post', `submissions/${row.submissionId}/check`).expect(200);
  const decide = (points: number) =>
    demo.maren
      .send('post', `submissions/${row.submissionId}/decisions`, {
        requirement: 'seen',
        item: null,
        isMet: null,
        points,
        reason: 'Seen.',
      })
      .expect(200);
  const cell = async () => (await view(lab)).rows.find(({ studentId }) => studentId === row.studentId)!;
  await decide(2);
  expect(await cell()).toMatchObject({ isChecked: true, cells: [{ state: 'seen', by: 'Maren Osterkamp' }] });
  await decide(1);
  const [otherwise] = (await cell()).cells;
  expect(otherwise!.state).toBe('otherwise');
  await demo.maren.send('delete', `submissions/${row.submissionId}/decisions/${otherwise!.decision}`).expect(200);
  expect((await cell()).cells).toMatchObject([{ state: 'open', decision: null }]);
  await decide(2);
  // For other points it is asked anew.
  await asking(3);
  expect((await cell()).cells).toMatchObject([{ state: 'open' }]);
  await demo.zofia.get(`labs/${lab}/sign-offs`).expect(403);
});
