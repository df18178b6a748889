import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { sobrin } from './tests/sobrin';

const lab = path.resolve(__dirname, '..', '..', '..', 'demo', 'valley-lan', 'lab.json');
let folder: string;
beforeAll(() => void (folder = mkdtempSync(path.join(tmpdir(), 'sobrin-draft-'))));
afterAll(() => rmSync(folder, { recursive: true }));

interface Printed {
  faults: { noticed: number; of: number };
  sections: { title: string; requirements: { points: number; sentence: string }[] }[];
  leftOut: { sentence: string; reason: string }[];
}
const pointsIn = ({ sections }: Printed): number =>
  sections.flatMap(({ requirements }) => requirements).reduce((sum, { points }) => sum + points, 0);

test('draft-spec prints its sentences and writes a lab that can be checked with', async () => {
  const out = path.join(folder, 'drafted.json');
  const drafted = await sobrin('draft-spec', lab, '--points', '30', '--out', out);
  expect([drafted.status, drafted.out]).toEqual([
    0,
    expect.stringContaining('  1.1 The drawing has a device of the right kind'),
  ]);
  expect(drafted.out).toMatch(/Of \d+ planted faults \d+ are noticed; \d+ more sentences were left out\.\n$/);
  const { reference } = JSON.parse(readFileSync(out, 'utf8')) as { reference: unknown };
  expect(reference).toEqual((JSON.parse(readFileSync(lab, 'utf8')) as { reference: unknown }).reference);
  const submission = path.resolve(path.dirname(lab), 'submissions', 'eero-lahtinen.json');
  const checked = await sobrin('check', '--lab', out, submission);
  expect(checked.out).toMatch(/: 30 of 30\n/);
});

test('--json has the points that were asked for, and why the others were left out; --keep adds only what the lab lacks', async () => {
  const anew = JSON.parse((await sobrin('draft-spec', lab, '--points', '24', '--json')).out) as Printed;
  expect(pointsIn(anew)).toBe(24);
  expect(anew.leftOut.every(({ reason }) => reason.length > 10)).toBe(true);
  const kept = JSON.parse((await sobrin('draft-spec', lab, '--keep', '--json')).out) as Printed;
  expect(kept.faults.noticed).toBeGreaterThanOrEqual(anew.faults.noticed);
  expect(kept.sections.flatMap(({ requirements }) => requirements).length).toBeLessThan(
    anew.sections.flatMap(({ requirements }) => requirements).length,
  );
});

test.each([
  [['--points', 'many'], '--points: "many" is no whole number from 1 to 10000.'],
  [['--points', '0.5'], '--points: "0.5" is no whole number from 1 to 10000.'],
  [['--out', '/no/such/folder/lab.json'], 'The file cannot be written (ENOENT).'],
])('what cannot be done is said: %j', async (options, text) => {
  const { status, err } = await sobrin('draft-spec', lab, ...options);
  expect([status, err]).toEqual([2, expect.stringContaining(text)]);
});
