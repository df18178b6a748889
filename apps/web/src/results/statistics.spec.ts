import { type ResultsView } from '@sobrin/contracts';
import { distribution, mean, median, shares } from './statistics';

const row = (name: string, points: number | null, won: number[]): ResultsView['rows'][number] => ({
  studentId: name,
  group: '',
  submissionId: name,
  name,
  points,
  of: 20,
  penalty: null,
  version: 1,
  stale: false,
  cells: won.map((points, at) => ({
    id: `r${at + 1}`,
    points,
    of: 2,
    verdict: points === 2 ? 'met' : points ? 'partly' : 'lost',
  })),
});
const results: ResultsView = {
  requirements: ['r1', 'r2', 'r3'].map((id) => ({ id, section: 's', sectionTitle: 'S', sentence: id, of: 2 })),
  of: 20,
  rows: [row('Ada', 20, [2, 2]), row('Ben', 9.5, [2, 0]), row('Cem', 0, [1, 0]), row('Dora', null, [])],
};

test('the share of points won counts those who were checked; nobody checked is not nothing won', () => {
  expect(shares(results)).toEqual([
    { id: 'r1', share: 5 / 6 },
    { id: 'r2', share: 1 / 3 },
    { id: 'r3', share: null },
  ]);
});
test('marks fall into steps of whole points, the full mark into the last one', () => {
  const bins = distribution(results);
  expect(bins.map((bin) => [bin.from, bin.to])).toEqual(Array.from({ length: 10 }, (_one, at) => [2 * at, 2 * at + 2]));
  expect(bins.filter((bin) => bin.names.length).map((bin) => [bin.from, bin.names])).toEqual([
    [0, ['Cem']],
    [8, ['Ben']],
    [18, ['Ada']],
  ]);
  expect(distribution({ ...results, of: 61 }).at(-1)!.to).toBeGreaterThanOrEqual(61);
});
test('median and mean', () => {
  expect([median([3, 1, 2]), median([4, 1, 2, 3]), median([]), mean([1, 2]), mean([])]).toEqual([
    2,
    2.5,
    null,
    1.5,
    null,
  ]);
});
