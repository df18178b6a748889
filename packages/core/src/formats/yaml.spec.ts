import fc from 'fast-check';
import { applyEdits } from '../changes';
import { drawings } from '../tests/arbitrary';
import { type Topology } from '../topology';
import { demoLab } from '../tests/topologies';
import { runs } from '../tests/runs';
import { parse } from 'yaml';
import { readYaml, updateYaml, writeYaml } from '.';

const problemsOf = (text: string) => {
  const read = readYaml(text);
  if (read.ok) throw new Error('No problems.');
  return read.error;
};

test('every drawing written as YAML is read back to the letter', () => {
  fc.assert(
    fc.property(drawings, (topology) => {
      expect(readYaml(writeYaml(topology))).toEqual({ ok: true, value: { topology, told: [] } });
    }),
    { numRuns: runs(25) },
  );
});

test('a text follows every change of its drawing', () => {
  fc.assert(
    fc.property(drawings, drawings, (before, after) => {
      expect(parse(updateYaml(writeYaml(before), after)!)).toEqual(after);
    }),
    { numRuns: runs(15) },
  );
});

const TYPED = `# The small lab of the first evening.
format: sobrin-topology
version: 4
links: {}   # none yet

sites:
  v: { name: Valley Station }

devices:
  # the desk beside the door
  b:
    model: desktop # an old one
    name: DESK-2
    at: { x: 10, y: 20 }

  a:
    name: "DESK-1"
    model: desktop
    at: { x: 1, y: 2 }
`;

test('comments, order and blank lines of the author stay when the drawing is changed', () => {
  const read = readYaml(TYPED);
  if (!read.ok) throw new Error(read.error[0]!.text);
  expect(updateYaml(TYPED, read.value.topology)).toBe(TYPED);
  const { document } = applyEdits(read.value.topology, [
    { path: ['devices', 'b', 'name'], value: 'DESK-9' },
    { path: ['devices', 'a', 'site'], value: 'v' },
    { path: ['devices', 'b', 'at', 'x'], value: 11 },
  ]);
  expect(updateYaml(TYPED, document)!.split('\n')).toEqual(
    TYPED.replace('name: DESK-2', 'name: DESK-9')
      .replace('x: 10', 'x: 11')
      .replace('    at: { x: 1, y: 2 }', '    at: { x: 1, y: 2 }\n    site: v')
      .replace('{}   # none', '{} # none')
      .split('\n'),
  );
});

test('the drawing of the demo is one line for each place and end, and under its 39 devices nothing else', () => {
  const text = writeYaml(demoLab('three-stations').reference);
  expect(text).toMatch(/^ {4}at: \{ x: -?\d+, y: -?\d+ \}$/m);
  expect(text).toMatch(/^ {4}a: \{ device: \S+, port: \S+ \}$/m);
});

test('keys stand in one order, whatever order they were stored in', () => {
  const { reference } = demoLab('three-stations');
  const turned = (value: unknown): unknown =>
    Array.isArray(value)
      ? value.map(turned)
      : value !== null && typeof value === 'object'
        ? Object.fromEntries(
            Object.entries(value)
              .reverse()
              .map(([key, item]) => [key, turned(item)]),
          )
        : value;
  expect(writeYaml(turned(reference) as Topology)).toBe(writeYaml(reference));
  expect(writeYaml(reference)).toMatch(/^format: sobrin-topology\nversion: 4\ntitle: Three Stations\n/);
});

describe('what is wrong is told where it stands', () => {
  const at = (text: string) =>
    problemsOf(text).map(({ from, to, line, text: why }) => [text.slice(from, to), line, why]);
  test.each<[string, string, unknown[]]>([
    [
      'a word for a number',
      TYPED.replace('x: 10', 'x: ten'),
      ['x: ten', 14, '"ten" does not fit here: wanted is a number from -1000000 to 1000000.'],
    ],
    [
      'an unknown key',
      TYPED.replace('name: DESK-2', 'nam: DESK-2'),
      ['nam: DESK-2', 13, '"nam" is not known here: remove it, or check its spelling.'],
    ],
    [
      'an unknown model',
      TYPED.replace('model: desktop #', 'model: toaster #'),
      ['model: toaster', 12, expect.stringMatching(/unknown model "toaster"/)],
    ],
    [
      'a key that stands twice',
      TYPED.replace('  a:', '  b:'),
      ['b', 16, 'This key is there twice: give one of the two another name.'],
    ],
    ['a missing part', TYPED.replace('    model: desktop # an old one\n', ''), ['b', 11, '"model" is missing.']],
  ])('%s', (_what, text, wanted) => {
    expect(at(text)).toContainEqual(wanted);
  });
  test('a tab, an alias, a bomb, nothing at all', () => {
    expect(problemsOf('devices:\n\ta: 1')[0]).toMatchObject({ line: 2, text: expect.stringMatching(/tab/) as string });
    expect(problemsOf(`x: &a 1\ny: *a\n`)[0]).toMatchObject({
      line: 2,
      text: 'Aliases (*name) are not taken here: write it out.',
    });
    expect(problemsOf('['.repeat(100_000))[0]!.text).toBe('The text is nested deeper than 64 levels.');
    expect(problemsOf(Array.from({ length: 400 }, (_, depth) => `${'  '.repeat(depth)}a:`).join('\n'))[0]!.text).toBe(
      'The text is nested deeper than 64 levels.',
    );
    expect(problemsOf('  \n')[0]!.text).toBe('The text is empty.');
  });
});

describe('what a text leaves out is filled in, and told by its line', () => {
  const text = (links: string, more = '') => `format: sobrin-topology
version: 4
sites: {}
devices:
  sw:
    name: SW-1
    model: access-switch-12
    at: { x: 0, y: 0 }
  pc:
    name: PC-1
    model: desktop
${more}links:
${links}`;
  const read = (typed: string) => {
    const result = readYaml(typed);
    if (!result.ok) throw new Error(result.error.map((problem) => problem.text).join(' '));
    return result.value;
  };

  test('a device without a place stands free, a link gets the first ports and the medium that fit', () => {
    const { topology, told } = read(text('  l1:\n    a: { device: sw }\n    b: { device: pc }\n'));
    expect(topology.devices.pc!.at.y).toBeGreaterThan(topology.devices.sw!.at.y);
    expect(topology.links.l1).toEqual({
      a: { device: 'sw', port: 'p1' },
      b: { device: 'pc', port: 'e0' },
      medium: 'straight',
    });
    expect(told.map(({ line, text: what }) => [line, what])).toEqual([
      [9, expect.stringMatching(/has no place: it was put at/)],
      [13, expect.stringMatching(/goes from SW-1 p1 to PC-1 e0, straight/)],
    ]);
    // Written into the text it is no longer missing, and stays where it is.
    const again = read(updateYaml(text('  l1:\n    a: { device: sw }\n    b: { device: pc }\n'), topology)!);
    expect(again).toEqual({ topology, told: [] });
  });
  test('what is said holds: a port that another link names is not given away', () => {
    const more = '  tv:\n    name: PC-2\n    model: desktop\n    at: { x: 9, y: 300 }\n';
    const { topology } = read(
      text(
        '  a:\n    a: { device: sw }\n    b: { device: pc }\n  b:\n    a: { device: sw, port: p1 }\n    b: { device: tv }\n',
        more,
      ),
    );
    expect([topology.links.a!.a.port, topology.links.b!.a.port]).toEqual(['p2', 'p1']);
  });
  test.each([
    ['nothing fits', '  l1:\n    a: { device: pc }\n    b: { device: pc }\n'],
    ['a device is not there', '  l1:\n    a: { device: sw }\n    b: { device: nobody }\n'],
    ['an end is missing', '  l1:\n    a: { device: sw }\n'],
  ])('where %s the link is named as it is, at its line', (_what, links) => {
    const result = readYaml(text(links));
    expect(result.ok).toBe(false);
    if (!result.ok) for (const { line } of result.error) expect(line).toBeGreaterThanOrEqual(12);
  });
});
