import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { type SubmissionView } from '@sobrin/contracts';
import { type JudgingLab, type Requirement, askedBy, judge, prepareLab } from '@sobrin/core/spec';
import { type Topology, emptyTopology } from '@sobrin/core/topology';
import { ApiError } from '../api/client';
import { serve, show } from '../tests/render';
import { useShownLab } from './lab-shell';
import { type Tried, isOtherMark, triedOn } from './trial';
import { type Trial } from './use-trial';
import { VersionStrip } from './version-strip';

const desk = (name: string) => ({ name, model: 'desktop', at: { x: 0, y: 0 } });
const drawing = (...names: string[]): Topology => ({
  ...emptyTopology(),
  devices: Object.fromEntries(names.map((name) => [name, desk(name)])),
});
const desks = (op: string, n: number, points = 2): Requirement => ({
  id: '1.1',
  points,
  rule: { kind: 'deviceCount', what: 'desktop', op, n, site: 'anywhere' },
});
const names: Requirement = { id: '1.2', points: 1, rule: { kind: 'namesUnique', who: '@all' } };
const lab = (...requirements: Requirement[]): JudgingLab => ({
  brief: {},
  policy: {},
  reference: drawing('A', 'B'),
  spec: { groups: {}, sections: [{ id: 's', title: 'S', requirements }] },
});
/** Two desks, as they are judged by a lab. */
const handedIn = (by: JudgingLab | null, more: Partial<SubmissionView> = {}): SubmissionView =>
  ({
    id: 'sub',
    student: { id: 'z', name: 'Zofia Wrona' },
    topology: drawing('A', 'B'),
    plan: null,
    answers: {},
    decisions: [],
    comments: [],
    pins: [],
    result: by && judge(prepareLab(by), { drawing: drawing('A', 'B') }),
    ...more,
  }) as SubmissionView;
const decision = (of: Requirement, points: number, ended: SubmissionView['decisions'][number]['ended'] = null) => ({
  id: 'd',
  requirement: of.id,
  item: null,
  isMet: null,
  points,
  reason: 'fair',
  by: 'Maren Osterkamp',
  at: '2026-11-21T08:00:00Z',
  version: 1,
  holds: true,
  asked: askedBy(of),
  ended,
});

describe('a submission that is judged by one spec, tried with another', () => {
  const now = lab(desks('exactly', 2), names);
  test('says from what to what, and by which requirement', () => {
    const tried = triedOn(prepareLab(lab(desks('exactly', 3), names)), handedIn(now));
    expect(tried).toMatchObject({ student: 'Zofia Wrona', now: { points: 3, of: 3 }, then: { points: 1, of: 3 } });
    expect(tried.changes).toEqual([{ id: '1.1', sentence: 'Anywhere there are exactly 3 desktops.', now: 2, then: 0 }]);
    expect(isOtherMark(tried)).toBe(true);
  });
  test('also what is no longer asked, and what is asked newly', () => {
    const tried = triedOn(prepareLab(lab(names, { ...desks('atLeast', 1, 4), id: '1.3' })), handedIn(now));
    expect(tried.changes.map(({ id, now: was, then }) => [id, was, then])).toEqual([
      ['1.3', null, 4],
      ['1.1', 2, null],
    ]);
    expect(tried.then).toEqual({ points: 5, of: 5 });
  });
  test('nothing changes where the same comes of it', () => {
    const tried = triedOn(prepareLab(lab(desks('atLeast', 2), names)), handedIn(now));
    expect([tried.changes, isOtherMark(tried)]).toEqual([[], false]);
  });
  test('a decision goes along where the same is asked for the same points, and no further', () => {
    const wanted = desks('exactly', 3);
    const decided = handedIn(now, { decisions: [decision(wanted, 1.5)] });
    expect(triedOn(prepareLab(lab(wanted, names)), decided).then.points).toBe(2.5);
    expect(triedOn(prepareLab(lab(desks('exactly', 4), names)), decided).then.points).toBe(1);
    const ended = handedIn(now, { decisions: [decision(wanted, 1.5, { by: 'M', at: '2026-11-22T08:00:00Z' })] });
    expect(triedOn(prepareLab(lab(wanted, names)), ended).then.points).toBe(1);
  });
  test('one that is not checked yet has no mark that changes, and would get one', () => {
    const tried = triedOn(prepareLab(now), handedIn(null));
    expect(tried).toMatchObject({ now: null, then: { points: 3, of: 3 }, changes: [] });
    expect(isOtherMark(tried)).toBe(true);
  });
});

// The trial runs in a worker; here it is only told what comes of it.
let mockTrial: Trial;
jest.mock('./use-trial', () => ({ useTrial: () => mockTrial }));
const Shown = () => <VersionStrip lab={useShownLab()} />;
async function open(trial: Trial) {
  mockTrial = trial;
  const calls = serve({ 'POST labs/lab/versions': {} });
  const judging = { number: 2, madeAt: '2026-11-21T08:00:00Z', by: 'Maren Osterkamp', judges: true };
  const given = {
    id: 'lab',
    versions: 2,
    isChanged: true,
    teaches: true,
    timeZone: 'UTC',
    version: judging,
    releasedAt: judging.madeAt,
  };
  show(<Shown />, { lab: given });
  await userEvent.click(screen.getByRole('button', { name: 'Try it on the class' }));
  return {
    dialog: within(screen.getByRole('dialog')),
    sent: () => calls.map(({ method, path }) => `${method} ${path}`),
  };
}
const tried = (student: string, now: number | null, then: number): Tried => ({
  submissionId: student,
  student,
  now: now === null ? null : { points: now, of: 10 },
  then: { points: then, of: 10 },
  changes: now === null || now === then ? [] : [{ id: '3.1', sentence: 'All links pass traffic.', now, then }],
});
const ended = { failed: [], error: null };

describe('before a lab is made final', () => {
  test('one sees whose mark would change, most first, and by what; then it is made final', async () => {
    const { dialog, sent } = await open({
      of: 3,
      tried: [tried('Ann', 4, 5), tried('Ben', 7, 7), tried('Cem', 9, 2)],
      ...ended,
    });
    expect(dialog.getByRole('status')).toHaveTextContent('Of 3 attempts 2 would have another mark.');
    const rows = dialog.getAllByRole('row').slice(1);
    expect(rows.map((row) => row.textContent)).toEqual([
      'Cem9 of 102 of 103.1 9 → 2 All links pass traffic.',
      'Ann4 of 105 of 103.1 4 → 5 All links pass traffic.',
    ]);
    expect(sent()).toEqual([]);
    await userEvent.click(dialog.getByRole('button', { name: 'Make it final' }));
    expect(sent()).toContain('POST labs/lab/versions');
  });
  test('while it goes on it says how far, and nothing is made final yet', async () => {
    const { dialog, sent } = await open({ of: 4, tried: [tried('Ann', 4, 5)], ...ended });
    expect(dialog.getByText(/: 1 of 4\.$/)).toBeInTheDocument();
    expect(dialog.getByRole('button', { name: 'Make it final' })).toBeDisabled();
    await userEvent.click(dialog.getByRole('button', { name: 'Leave it as it is' }));
    expect(screen.queryByRole('table')).not.toBeInTheDocument();
    expect(sent()).toEqual([]);
  });
  test('nobody, nothing, and who could not be judged are said', async () => {
    const { dialog } = await open({ of: 2, tried: [tried('Ann', 4, 4)], failed: ['Ben'], error: null });
    expect(dialog.getByRole('status')).toHaveTextContent('No mark would change: 1 attempt tried.');
    expect(dialog.getByText('Ben could not be judged.')).toBeInTheDocument();
  });
  test('where nobody has handed in, it says so', async () => {
    const { dialog } = await open({ of: 0, tried: [], ...ended });
    expect(dialog.getByRole('status')).toHaveTextContent('Nobody has handed in yet: no mark would change.');
  });
  test('what goes wrong on the way is said', async () => {
    const { dialog } = await open({
      of: null,
      tried: [],
      failed: [],
      error: new ApiError(0, 'The server does not answer.'),
    });
    expect(dialog.getByText('The server does not answer.')).toBeInTheDocument();
  });
});
