import { type ClassRow, type LabView } from '@sobrin/contracts';
import { type Person } from '../tests/application';
import { useDemo } from '../tests/demo';

const demo = useDemo();
/** Three times the connections that the server has for all requests. */
const AT_ONCE = 30;

const policyOf = (lab: LabView, policy: object) =>
  demo.maren.send('patch', `labs/${lab.id}`, { base: lab.revision, policy }).expect(200);

describe('at the bell', () => {
  test('one student who presses thirty times gets thirty attempts, each with its own number', async () => {
    const lab = await demo.labOf('Three Stations');
    await policyOf(lab, { ...lab.policy, attempts: AT_ONCE + 1 });
    const answers = await Promise.all(
      Array.from({ length: AT_ONCE }, () => demo.zofia.send('post', `my/labs/${lab.id}/hand-in`)),
    );
    expect(answers.map((answer) => answer.status)).toEqual(answers.map(() => 201));
    expect(answers.map((answer) => (answer.body as { attempt: number }).attempt).sort((a, b) => a - b)).toEqual(
      Array.from({ length: AT_ONCE }, (_, at) => at + 1),
    );
    await demo.maren.get('courses').expect(200);
  });

  test('a whole class hands in at the same moment, and the instructor changes the spec meanwhile', async () => {
    const lab = await demo.labOf('Winch Isolation');
    const students: Person[] = [];
    for (const { login } of (await demo.maren.get('auth/demo')).body as { login: string }[])
      if (login !== 'maren') students.push(await demo.running.as(login));
    const handingIn = students.map((student) => student.send('post', `my/labs/${lab.id}/hand-in`));
    const changing = Array.from({ length: AT_ONCE }, () =>
      demo.maren.send('patch', `labs/${lab.id}`, { base: lab.revision, spec: lab.spec }),
    );
    const answers = await Promise.all([...handingIn, ...changing]);
    expect(answers.slice(0, students.length).map((answer) => answer.status)).toEqual(students.map(() => 201));
    // One change of the revision they all knew was taken, the others were told so.
    expect(
      answers
        .slice(students.length)
        .map((answer) => answer.status)
        .sort(),
    ).toEqual([200, ...Array.from({ length: AT_ONCE - 1 }, () => 409)]);
    const rows = (await demo.maren.get(`labs/${lab.id}/submissions`).expect(200)).body as ClassRow[];
    expect(rows.filter((row) => row.attempts > 0)).toHaveLength(students.length);
  });
});
