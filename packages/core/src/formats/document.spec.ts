import { twoLans } from '../tests/topologies';
import {
  MAX_FILE_BYTES,
  MAX_TOPOLOGY_BYTES,
  parseJson,
  readLab,
  readLabText,
  readSubmissionText,
  readTopologyText,
  readYaml,
} from '.';

const lab = () => ({
  format: 'sobrin-lab',
  version: 9,
  title: 'Lab',
  brief: {},
  tasks: [],
  plan: { blocks: {} },
  reference: twoLans(),
  spec: { groups: {}, sections: [] },
  policy: {},
});
const problems = (read: { ok: true } | { ok: false; error: { place: string; text: string }[] }) =>
  read.ok ? [] : read.error;
const only = (read: Parameters<typeof problems>[0]) => problems(read)[0]!;

describe('JSON text', () => {
  test.each([
    ['', /The file is empty/],
    ['  \n ', /The file is empty/],
    ['{"a": 1,}', /line 1, column \d+/],
    ['{\n  "a": 1\n  "b": 2\n}', /line 3, column 3/],
    ['{"a": 1} x', /line 1/],
    ['// note\n{}', /This is no JSON/],
    ["{'a': 1}", /This is no JSON/],
  ])('%j is told with its place', (text, sentence) => expect(only(parseJson(text, 1000)).text).toMatch(sentence));

  test('a key that stands twice in one object is told with its line; in two objects it is two keys', () => {
    expect(only(parseJson('{\n "a": {"x": 1},\n "b": {"x": 2, "x": 3}\n}', 1000))).toEqual({
      place: 'b › x',
      text: 'Line 3: "x" is there twice: give one of the two another id.',
    });
    expect(parseJson('{"a": {"x": 1}, "b": {"x": 2}}', 1000)).toEqual({
      ok: true,
      value: { a: { x: 1 }, b: { x: 2 } },
    });
  });
  test('a key that all objects inherit stays a key, in JSON and in YAML: no document has such a one', () => {
    const inherited =
      '{"format": "sobrin-topology", "version": 1, "__proto__": {"sites": {}, "devices": {}, "links": {}}}';
    expect(problems(readTopologyText(inherited)).map((problem) => problem.place)).toEqual(
      expect.arrayContaining(['__proto__', 'devices']),
    );
    const yaml = 'format: sobrin-topology\nversion: 1\n__proto__:\n  sites: {}\n  devices: {}\n  links: {}\n';
    const read = readYaml(yaml);
    expect(read.ok ? [] : read.error.map((problem) => problem.text)).toEqual(
      expect.arrayContaining([expect.stringContaining('__proto__')]),
    );
  });
  test('nesting without end is refused before anybody follows it, brackets inside texts do not count', () => {
    expect(only(parseJson(`\n${'['.repeat(100_000)}`, 1_000_000)).text).toMatch(
      /^Line 2: the file is nested deeper than 64 levels/,
    );
    expect(parseJson(JSON.stringify({ text: '['.repeat(500) }), 1000).ok).toBe(true);
  });
  test.each<[string, string]>([
    ['items', `[${'1,'.repeat(1_000_001)}1]`],
    ['properties', `{${Array.from({ length: 500_001 }, (_, at) => `"k${at}":1`).join(',')}}`],
    ['lists side by side', '[]'.repeat(1_000_001)],
  ])('more %s than any file has are refused before they are made', (_what, text) =>
    expect(only(parseJson(text, MAX_FILE_BYTES)).text).toMatch(/^The file holds more than 1,000,000 values/),
  );
  test('of keys that stand twice, a hundred are told', () => {
    const read = parseJson(`{${'"a":1,'.repeat(5000)}"a":1}`, MAX_FILE_BYTES);
    expect(!read.ok && read.error.length).toBe(100);
  });
  test('sizes are counted in bytes, not in letters', () => {
    expect(parseJson(JSON.stringify('ü'.repeat(40)), 83).ok).toBe(true);
    expect(only(parseJson(JSON.stringify('ü'.repeat(41)), 83)).text).toMatch(/at most/);
    expect([MAX_TOPOLOGY_BYTES, MAX_FILE_BYTES]).toEqual([2_000_000, 10_000_000]);
  });
});

describe('a lab file', () => {
  test('is read as it is, with all that a lab may hold', () => {
    const whole = {
      ...lab(),
      starter: twoLans(),
      handout: {
        introduction: 'Read this first.',
        blanks: [{ device: 'A', field: 'address' }],
        resources: [{ title: 'Pylons', address: 'https://kestrel.example/pylons' }],
      },
      stages: [{ id: 'plan', title: 'Plan', kind: 'plan', dueAt: '2026-12-01T18:00:00Z' }],
      policy: {
        bench: 'plain',
        latePenalty: { percentPerDay: 10, most: 30 },
        followThrough: 'on',
        shown: { what: 'findings', strength: 'where', when: 'after-due' },
        autoCabling: false,
      },
    };
    expect(readLabText(JSON.stringify(whole))).toEqual({ ok: true, value: whole });
  });
  test.each<[string, (file: ReturnType<typeof lab> & Record<string, unknown>) => void, string, RegExp]>([
    ['another format', (file) => void (file.format = 'sobrin-topology'), 'format', /wanted is "sobrin-lab"/],
    ['a newer version', (file) => void (file.version = 10), 'version', /reads versions up to 9/],
    [
      'two groups of one id',
      (file) =>
        Object.assign(file.brief, {
          groups: [1, 2].map((n) => ({ id: 'g', name: `G${n}`, now: 1, later: 1 })),
        }),
      'brief › groups › 1 › id',
      /"g" is there twice/,
    ],
    [
      'two files of one id',
      (file) =>
        void Object.assign(file, { files: [1, 2].map(() => ({ id: 'f', name: 'a', type: 'image/png', base64: '' })) }),
      'files › 1 › id',
      /"f" is there twice/,
    ],
    ['a missing part', (file) => void delete (file as Record<string, unknown>).spec, 'spec', /missing/],
    ['a part that is not known', (file) => void (file.marks = []), 'marks', /not known/],
    [
      'a drawing that does not hold together',
      (file) => void (file.reference.devices.A!.site = 'moon'),
      'reference › devices › A › site',
      /no site "moon"/,
    ],
    ['a starter that does not', (file) => void (file.starter = { ...twoLans(), version: 9 }), 'starter › version', /9/],
    [
      'a rule of no kind',
      (file) =>
        void Object.assign(file.spec, {
          sections: [{ id: 's', title: 'S', requirements: [{ id: '1', points: 1, rule: { kind: 'magic' } }] }],
        }),
      'spec › sections › 0 › requirements › 0 › rule › kind',
      /"magic" is no kind/,
    ],
    [
      'a rule that speaks of nobody',
      (file) =>
        void Object.assign(file.spec, {
          sections: [
            { id: 's', title: 'S', requirements: [{ id: '1', points: 1, rule: { kind: 'connected', who: 'ghost' } }] },
          ],
        }),
      'spec › sections › 0 › requirements › 0 › rule › who',
      /"ghost" is no group/,
    ],
    [
      'two requirements of one id',
      (file) =>
        void Object.assign(file.spec, {
          sections: [
            { id: 's', title: 'S', requirements: [1, 2].map(() => ({ id: '1', points: 1, rule: { kind: 'titled' } })) },
          ],
        }),
      'spec › sections › 0 › requirements › 1 › id',
      /twice/,
    ],
    [
      'negative points',
      (file) =>
        void Object.assign(file.spec, {
          sections: [{ id: 's', title: 'S', requirements: [{ id: '1', points: -1, rule: { kind: 'titled' } }] }],
        }),
      'spec › sections › 0 › requirements › 0 › points',
      /-1/,
    ],
  ])('with %s is refused at its place', (_what, spoil, place, sentence) => {
    const file = lab() as ReturnType<typeof lab> & Record<string, unknown>;
    spoil(file);
    expect(only(readLab(file))).toEqual({ place, text: expect.stringMatching(sentence) as string });
  });
});

describe('what a student hands in', () => {
  test('is a submission file or a drawing alone', () => {
    const submission = {
      format: 'sobrin-submission',
      version: 3,
      student: 'Ilse Haverkamp',
      topology: twoLans(),
      answers: { t1: 'a router' },
    };
    expect(readSubmissionText(JSON.stringify(submission))).toEqual({ ok: true, value: submission });
    expect(readSubmissionText(JSON.stringify(twoLans()))).toMatchObject({
      ok: true,
      value: { format: 'sobrin-submission', topology: twoLans() },
    });
  });
  test.each<[string, unknown, string, RegExp]>([
    ['something else', { hello: 1 }, 'format', /wanted is "sobrin-submission" or "sobrin-topology"/],
    ['a list', [], 'format', /missing/],
    [
      'a submission with nothing in it',
      { format: 'sobrin-submission', version: 2 },
      'topology',
      /neither a drawing nor a plan/,
    ],
    [
      'a submission whose plan is broken',
      { format: 'sobrin-submission', version: 2, plan: { blocks: {}, addresses: { 'fd5e:0::1': { name: 'x' } } } },
      'plan › addresses › fd5e:0::1',
      /is written fd5e::1 here/,
    ],
    [
      'a submission whose drawing is broken',
      { format: 'sobrin-submission', version: 1, topology: { ...twoLans(), devices: {} } },
      'topology › links › R-g0-SA-u1 › a › device',
      /no device "R"/,
    ],
  ])('%s is refused', (_what, value, place, sentence) => {
    expect(only(readSubmissionText(JSON.stringify(value)))).toEqual({
      place,
      text: expect.stringMatching(sentence) as string,
    });
  });
  test('a drawing alone may not be larger than a drawing, also as a submission', () => {
    const big = JSON.stringify({ ...twoLans(), legend: 'x'.repeat(2_100_000) });
    expect(only(readSubmissionText(big)).text).toMatch(/2\.1 MB: at most 2\.0 MB/);
    expect(only(readTopologyText(big)).text).toMatch(/2\.1 MB: at most 2\.0 MB/);
  });
});
