import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { sobrin } from './tests/sobrin';

const root = path.resolve(__dirname, '..', '..', '..');
const demo = (...parts: string[]): string => path.join(root, 'demo', 'valley-lan', ...parts);
let folder: string;
beforeAll(() => void (folder = mkdtempSync(path.join(tmpdir(), 'sobrin-cli-'))));
afterAll(() => rmSync(folder, { recursive: true }));

const written = (name: string, text: string): string => {
  const file = path.join(folder, name);
  writeFileSync(file, text);
  return file;
};

test('a faultless submission has full marks and status 0', async () => {
  const { status, out } = await sobrin('check', '--lab', demo('lab.json'), demo('submissions', 'eero-lahtinen.json'));
  expect([status, out.split('\n')[0]]).toEqual([0, `${demo('submissions', 'eero-lahtinen.json')}: 41 of 41`]);
});

test('--json prints the findings of every file in the promised shape, status 1 where something fell short', async () => {
  const files = ['eero-lahtinen.json', 'bojana-ristic.json'].map((name) => demo('submissions', name));
  const { status, out } = await sobrin('check', '--lab', demo('lab.json'), ...files, '--json');
  const { submissions } = JSON.parse(out) as {
    submissions: {
      file: string;
      points: number;
      of: number;
      sections: object[];
      requirements: { id: string; verdict: string; items: { text: string; met: boolean }[] }[];
    }[];
  };
  expect(status).toBe(1);
  expect(submissions.map((submission) => [submission.file, submission.points, submission.of])).toEqual([
    [files[0], 41, 41],
    [files[1], 34.5, 41],
  ]);
  expect(
    submissions[1]!.requirements
      .filter((requirement) => requirement.verdict !== 'met')
      .map((requirement) => requirement.id),
  ).toEqual(['3.7', '4.1', '4.2', '4.3']);
  expect(Object.keys(submissions[1]!.requirements[0]!)).toEqual([
    'id',
    'section',
    'sentence',
    'points',
    'of',
    'verdict',
    'items',
  ]);
  expect(submissions[1]!.sections[0]).toEqual({ title: 'Components', points: 7, of: 7 });
});

test('--json tells who plays each role, as ids of reference and drawing', async () => {
  const { out } = await sobrin('check', '--lab', demo('lab.json'), demo('submissions', 'imre-szalai.json'), '--json');
  const [submission] = (
    JSON.parse(out) as {
      submissions: { roles: { role: string; device: string | null; sure: string; also: string[] }[] }[];
    }
  ).submissions;
  const { reference } = JSON.parse(readFileSync(demo('lab.json'), 'utf8')) as { reference: { devices: object } };
  expect(submission!.roles.map(({ role }) => role).sort()).toEqual(Object.keys(reference.devices).sort());
  for (const role of submission!.roles) {
    expect(Object.keys(role)).toEqual(['role', 'device', 'sure', 'also']);
    expect(['sure', 'likely', 'unsure']).toContain(role.sure);
  }
});

test('a folder is checked in one process, one line a submission as they come', async () => {
  const { status, out } = await sobrin('check', '--lab', demo('lab.json'), demo('submissions'), '--json-lines');
  expect(status).toBe(1);
  const lines = out
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line) as { file: string; points: number });
  expect(lines).toHaveLength(12);
  expect(lines.map(({ file }) => path.basename(file))).toEqual(
    [...lines.map(({ file }) => path.basename(file))].sort(),
  );
  expect(lines.filter(({ points }) => points === 41)).toHaveLength(2);
});

test('a plain topology file is taken as a submission too', async () => {
  const { topology } = JSON.parse(readFileSync(demo('submissions', 'oskar-thorsen.json'), 'utf8')) as {
    topology: object;
  };
  expect(
    (await sobrin('check', '--lab', demo('lab.json'), written('plain.json', JSON.stringify(topology)))).status,
  ).toBe(0);
});

test('unusable input gets status 2 and says where; the good files are still judged', async () => {
  const broken = written('broken.json', '{\n "format": }');
  const { status, out, err } = await sobrin(
    'check',
    '--lab',
    demo('lab.json'),
    broken,
    demo('submissions', 'eero-lahtinen.json'),
  );
  expect([status, err, out.includes('41 of 41')]).toEqual([
    2,
    expect.stringMatching(/broken\.json: This is no JSON: line 2, column/),
    true,
  ]);
  expect((await sobrin('check', '--lab', path.join(folder, 'none.json'), broken)).err).toMatch(
    /none\.json: There is no such file\./,
  );
  expect((await sobrin('check', broken)).status).toBe(2);
  expect((await sobrin('fly')).status).toBe(2);
});

test('validate reads every format a drawing can come in, and tells by line what cannot be', async () => {
  const table = written('devices.csv', 'Name,Type,IP\nPC-1,pc,10.84.1.300/24\n');
  expect(await sobrin('validate', table)).toMatchObject({
    status: 1,
    err: expect.stringMatching(/row 2: .*300/) as string,
  });
  const text =
    'format: sobrin-topology\nversion: 1\nsites: {}\ndevices:\n  a: { name: A, model: desktop }\nlinks: {}\n';
  expect(await sobrin('validate', written('a.yaml', text))).toMatchObject({
    status: 0,
    out: expect.stringMatching(/Line 5: It has no place[^]*a sound drawing/) as string,
  });
  expect(await sobrin('validate', written('b.yaml', text.replace('desktop', 'toaster')))).toMatchObject({
    status: 2,
    err: expect.stringMatching(/line 5: .*unknown model "toaster"/) as string,
  });
  expect((await sobrin('validate', written('c.dot', 'graph {}'))).status).toBe(2);
});

test('validate names what is wrong and where', async () => {
  const { topology } = JSON.parse(readFileSync(demo('submissions', 'oskar-thorsen.json'), 'utf8')) as {
    topology: { devices: Record<string, { model: string }> };
  };
  expect(await sobrin('validate', demo('lab.json'))).toEqual({
    status: 0,
    out: `${demo('lab.json')}: a sound lab.\n`,
    err: '',
  });
  topology.devices.n1!.model = 'toaster';
  const { status, err } = await sobrin('validate', written('toaster.json', JSON.stringify(topology)));
  expect([status, err]).toEqual([
    2,
    expect.stringMatching(/toaster\.json: devices › n1 › model: .*unknown model "toaster"/),
  ]);
});
