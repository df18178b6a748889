import path from 'node:path';
import { sobrin } from './tests/sobrin';

const demo = path.resolve(__dirname, '..', '..', '..', 'demo', 'three-stations');
const lab = path.join(demo, 'lab.json');
const submission = (name: string): string => path.join(demo, 'submissions', `${name}.json`);

interface Printed {
  submissions: {
    file: string;
    points: number;
    of: number;
    complete: boolean;
    causes: {
      letter: string;
      text: string;
      places: object[];
      sure: string;
      explains: string[];
      repair: string[];
      alternatives: string[];
    }[];
    unexplained: string[];
    followThrough: { raw: number; repaired: number; mark: number; lines: string[] };
  }[];
}

test('diagnose says of each submission which mistakes are behind what failed, and what the mark would be', async () => {
  const { status, out } = await sobrin(
    'diagnose',
    '--lab',
    lab,
    submission('jamila-conteh'),
    submission('samir-haddadin'),
  );
  expect(status).toBe(1);
  expect(out).toContain('  A RT-M has the route to 10.84.0.0/24, which should be for 10.84.0.0/22.');
  expect(out).toContain('    explains 4.2, 4.3, 4.6, 4.7, 4.8; took 11');
  expect(out).toMatch(/samir-haddadin\.json: 63 of 63\n$/);
});

test('--json has the shape that is promised; one without mistakes is well', async () => {
  const { out } = await sobrin('diagnose', '--lab', lab, '--json', submission('nadia-qureshi'));
  const [found] = (JSON.parse(out) as Printed).submissions;
  expect(Object.keys(found!).sort()).toEqual(
    ['causes', 'complete', 'file', 'followThrough', 'of', 'points', 'unexplained'].sort(),
  );
  expect(found!.causes[0]).toMatchObject({
    letter: 'A',
    text: expect.stringMatching(/multi-mode fibre, and should be single-mode fibre/) as string,
    sure: expect.any(String) as string,
    explains: ['2.2', '2.5', '4.2', '4.6', '4.7', '4.8'],
    repair: [expect.any(String) as string],
  });
  expect(found!.followThrough.mark).toBeGreaterThan(found!.followThrough.raw);
  expect((await sobrin('diagnose', '--lab', lab, submission('samir-haddadin'))).status).toBe(0);
});

test('a search that is ended by time says that it is not complete', async () => {
  const { out } = await sobrin('diagnose', '--lab', lab, '--seconds', '0.000001', '--json', submission('uchenna-eze'));
  expect((JSON.parse(out) as Printed).submissions[0]!.complete).toBe(false);
  const { status, err } = await sobrin('diagnose', '--lab', lab, '--seconds', 'soon', submission('uchenna-eze'));
  expect([status, err]).toEqual([2, '--seconds: "soon" is no number above 0.\n']);
});

test('drill says what the spec of a lab would miss; --json has the shape that is promised', async () => {
  const valley = path.resolve(demo, '..', 'valley-lan', 'lab.json');
  const { status, out } = await sobrin('drill', valley, '--json');
  const found = JSON.parse(out) as {
    faults: {
      noticed: number;
      missed: number;
      harmless: number;
      list: { outcome: string; noticedBy: string[]; proposal: string | null }[];
    };
    variations: { kept: number; lost: number; list: { operator: string; text: string; requirements: string[] }[] };
  };
  const { noticed, missed, harmless, list } = found.faults;
  expect(status).toBe(1);
  expect([noticed + missed + harmless, missed > 0]).toEqual([list.length, true]);
  for (const { outcome, noticedBy } of list) expect(noticedBy.length > 0).toBe(outcome === 'noticed');
  expect(found.variations).toMatchObject({ lost: 0, kept: found.variations.list.length });
  expect((await sobrin('drill', valley, '--json', '--seed', '1')).out).toBe(out);
  const text = (await sobrin('drill', valley)).out;
  expect(text).toMatch(/^Of \d+ planted faults \d+ are noticed, \d+ missed, \d+ harmless; by kind \d+ %\.\n/);
  expect(text).toContain('  an empty sheet: 0 of 41');
  expect((await sobrin('drill', valley, '--seed', 'x')).err).toMatch(/^--seed: "x" is no whole number/);
});
