import { type CheckResult, type Penalty, markLines } from '.';

const requirement = (id: string, points: number, more: object = {}): CheckResult['requirements'][number] => ({
  id,
  section: id.slice(0, 1),
  sentence: id,
  points,
  of: 5,
  bonus: false,
  verdict: 'partly',
  items: [],
  ...more,
});
const section = (id: string, points: number) => ({ id, title: id, points, of: 10 });
const lines = (
  points: number,
  sections: CheckResult['sections'],
  requirements: CheckResult['requirements'],
  penalty: Penalty | null = null,
) => markLines({ points, sections, requirements }, penalty);

test('of a plain answer there is one line', () => {
  expect(lines(7, [section('1', 7)], [requirement('1.1', 4), requirement('1.2', 3)])).toEqual([
    { what: 'requirements', points: 7, count: 2 },
  ]);
});

test('each step stands in its order, and all of them together are the mark', () => {
  const found = lines(
    7.5,
    [section('1', 7.7), section('2', 0)],
    [
      requirement('1.1', 4.2),
      requirement('1.2', 3, { decided: true }),
      requirement('1.3', 0.5, { bonus: true }),
      requirement('1.4', 0, { bonus: true }),
      requirement('2.1', 1),
      requirement('2.2', -3, { deduction: true }),
      requirement('2.3', 0, { deduction: true }),
    ],
    { points: 2, hints: { count: 1, points: 0.5 }, late: { days: 2, percent: 20, points: 1.5 } },
  );
  expect(found).toEqual([
    { what: 'requirements', points: 5.2, count: 2 },
    { what: 'decisions', points: 3, count: 1 },
    { what: 'deductions', points: -3, count: 1 },
    { what: 'bonus', points: 0.5, count: 1 },
    { what: 'sections', points: 2 },
    { what: 'rounding', points: -0.2 },
    { what: 'hints', points: -0.5, count: 1 },
    { what: 'late', points: -1.5, count: 2 },
  ]);
  expect(found.reduce((sum, line) => sum + line.points, 0)).toBeCloseTo(7.5 - 2);
});

test('a decision that gives nothing is told as well', () => {
  expect(lines(4, [section('1', 4)], [requirement('1.1', 4), requirement('1.2', 0, { decided: true })])).toEqual([
    { what: 'requirements', points: 4, count: 1 },
    { what: 'decisions', points: 0, count: 1 },
  ]);
});
