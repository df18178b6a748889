import { parse } from 'yaml';
import { RULE_KINDS, type Requirement, type Rule, type Spec, specProblems } from '../spec';
import { demoLab } from '../tests/topologies';
import { readSpecYaml, specHints, updateYaml, writeSpecYaml } from '.';

const DEMO = ['season-opening', 'summit-dual-stack', 'three-stations', 'valley-lan', 'winch-isolation'];

const requirement = (id: string, rule: Rule, more: Partial<Requirement> = {}): Requirement => ({
  id,
  points: 1,
  rule,
  ...more,
});
const most = (n: number): Rule => ({ kind: 'deviceCount', what: 'switch', op: 'atMost', n, site: 'anywhere' });
const specOf = (...sections: Requirement[][]): Spec => ({
  groups: { tills: { title: 'Tills', roles: [] } },
  sections: sections.map((requirements, at) => ({ id: `s${at + 1}`, title: `Part ${at + 1}`, requirements })),
});
const specIn = (text: string): Spec => {
  const read = readSpecYaml(text);
  if (!read.ok) throw new Error(JSON.stringify(read.error));
  return read.value.spec;
};

test('the specs of all demo labs, and every kind and combination, are read back to the letter', () => {
  const each: Rule[] = RULE_KINDS.map(({ fresh }) => fresh as Rule);
  const around: Rule[] = [
    { kind: 'nOf', n: 1, rules: [most(1), { kind: 'not', rule: { kind: 'allOf', rules: [most(2), most(3)] } }] },
    { kind: 'ifThen', if: most(1), then: { kind: 'forEach', who: '@hosts', rule: most(2) }, else: most(3) },
  ];
  const all = specOf(
    [...each, ...around].map((rule, at) => requirement(`1.${at + 1}`, rule, { hints: { that: 'x' } })),
  );
  for (const spec of [...DEMO.map((slug) => demoLab(slug).spec), all])
    expect(specIn(writeSpecYaml(spec))).toEqual(spec);
});

const TYPED = `# What the evening is about
groups: {}
sections:
  - id: s1
    title: Part 1
    requirements:
      # the first thing to look at
      - id: 1.1
        points: 2 # half of it
        rule: { kind: deviceCount, what: switch, op: atMost, n: 5, site: anywhere }

      - id: "1.2"
        points: 1
        rule: { kind: deviceCount, what: switch, op: atMost, n: 6, site: anywhere }
  - id: s2
    title: Part 2
    requirements: []
`;

test('comments of the author stay: where points change, and with a requirement that is moved to another section', () => {
  const spec = specIn(TYPED);
  const [first, second] = spec.sections[0]!.requirements as [Requirement, Requirement];
  expect(first.id).toBe('1.1');
  const dearer = {
    ...spec,
    sections: [{ ...spec.sections[0]!, requirements: [{ ...first, points: 4 }, second] }, spec.sections[1]!],
  };
  expect(updateYaml(TYPED, dearer)).toContain('points: 4 # half of it');
  const turned = { ...spec, sections: [{ ...spec.sections[0]!, requirements: [second, first] }, spec.sections[1]!] };
  expect(specIn(updateYaml(TYPED, turned)!)).toEqual(turned);
  expect(updateYaml(TYPED, turned)).toContain('points: 2 # half of it');
  const moved = {
    ...spec,
    sections: [
      { ...spec.sections[0]!, requirements: [second] },
      { ...spec.sections[1]!, requirements: [first] },
    ],
  };
  const text = updateYaml(TYPED, moved)!;
  expect(specIn(text)).toEqual(moved);
  expect(text).toContain('points: 2 # half of it');
  expect(text).toContain('# What the evening is about');
});

test('a text follows whatever is changed in a spec', () => {
  const empty: Spec = { groups: {}, sections: [] };
  const one = specOf([requirement('1.1', most(1))]);
  const two = specOf([requirement('1.1', most(1), { hints: { that: 'Count.' } }), requirement('1.2', most(2))], []);
  const three = specOf([requirement('1.2', most(3), { standsOn: ['2.1'] })], [requirement('2.1', most(1))]);
  const demo = demoLab('winch-isolation').spec;
  for (const before of [empty, one, two, three, demo])
    for (const after of [empty, one, two, three, demo]) {
      const text = updateYaml(writeSpecYaml(before), after)!;
      expect(parse(text)).toEqual(after);
      expect(specIn(text)).toEqual(after);
    }
});

test('what is wrong is told where it stands: its shape, and what it points at', () => {
  const told = (text: string): [line: number, text: string][] => {
    const read = readSpecYaml(text);
    if (!read.ok) return read.error.map(({ line, text }) => [line, text]);
    const { spec, placed } = read.value;
    const lab = demoLab('winch-isolation');
    return placed(specProblems({ ...lab, spec })).map(({ line, text }) => [line, text]);
  };
  expect(told(TYPED)).toEqual([]);
  expect(told(TYPED.replace('points: 2', 'points: two'))).toEqual([
    [9, '"two" does not fit here: wanted is a number from 0 to 1000.'],
  ]);
  expect(told(TYPED.replace('op: atMost, n: 5', 'op: atMost, n: 5, colour: red'))).toEqual([
    [10, '"colour" is not known here: remove it, or check its spelling.'],
  ]);
  expect(told(TYPED.replace('kind: deviceCount', 'kind: deviceCuont'))).toEqual([
    [10, '"deviceCuont" is no kind that is known here: is deviceCount meant?'],
  ]);
  expect(told(TYPED.replace('kind: deviceCount, ', ''))).toEqual([[10, '"kind" is missing.']]);
  expect(told(TYPED.replace('"1.2"', '1.1'))).toEqual([[12, 'The id "1.1" is there twice.']]);
  expect(told(TYPED.replace('site: anywhere', 'site: moon'))[0]![0]).toBe(10);
  expect(told(TYPED.replace('    points', '\tpoints')).length).toBeGreaterThan(0);
  expect(told('')).toEqual([[1, 'The text is empty.']]);
});

describe('what fits where somebody types', () => {
  const lab = demoLab('winch-isolation');
  const around = { spec: lab.spec, reference: lab.reference, groups: lab.brief.groups ?? [], tasks: lab.tasks };
  const at = (text: string) => {
    const offset = text.indexOf('|');
    const hints = specHints(text.replace('|', ''), offset, around);
    return (
      hints && {
        typed: text.slice(hints.from, offset),
        options: hints.options,
        labels: hints.options.map(({ label }) => label),
      }
    );
  };
  const head = 'sections:\n  - id: s1\n    requirements:\n      - id: "1.1"\n        points: 1\n';

  test('keys of a requirement and of a section, without those that stand there, also those of the entry before', () => {
    const here = at(`${head}        |\n      - id: "1.2"\n        hints:\n          that: x\n`)!;
    expect(here.labels).toEqual(expect.arrayContaining(['bonus', 'hints', 'standsOn', 'rule']));
    expect(here.labels).not.toContain('points');
    expect(here.labels).not.toContain('id');
    expect(at('sections:\n  - id: s1\n    |')!.labels).toEqual(['title', 'standsOn', 'hurdle', 'requirements']);
    expect(at('sections:\n  - |')!.labels).toContain('id');
    expect(at(`${head}      - |`)!.labels).toContain('id');
    // A list may stand as far to the left as its key.
    expect(at('sections:\n- id: s1\n  |')!.labels).toContain('requirements');
  });

  test('a rule says its kind first, then what belongs to it', () => {
    expect(at(`${head}        rule:\n          |`)!.labels).toEqual(['kind']);
    const kinds = at(`${head}        rule:\n          kind: de|`)!;
    expect(kinds.typed).toBe('de');
    expect(kinds.options).toContainEqual({
      label: 'deviceCount',
      detail: 'Number of devices of a kind',
      insert: 'deviceCount',
    });
    expect(kinds.labels).toEqual(expect.arrayContaining(['reach', 'anyOf', 'forEach']));
    expect(at(`${head}        rule:\n          kind: deviceCount\n          n: 2\n          |`)!.labels).toEqual(
      expect.arrayContaining(['what', 'op', 'site']),
    );
    expect(at(`${head}        rule:\n          kind: deviceCount\n          |`)!.labels).not.toContain('from');
  });

  test('values: choices, sites, groups and devices by what the lab has, in rules of rules too', () => {
    const rule = `${head}        rule:\n          kind: deviceCount\n`;
    expect(at(`${rule}          op: |`)!.labels).toEqual(expect.arrayContaining(['atMost', 'exactly']));
    expect(at(`${rule}          site: |`)!.labels).toContain('anywhere');
    const reach = `${head}        rule:\n          kind: not\n          rule:\n            kind: reach\n            from: |`;
    expect(at(reach)!.options).toContainEqual({ label: '@hosts', detail: 'every host', insert: '"@hosts"' });
    const [role] = Object.keys(lab.reference.devices) as [string];
    expect(at(reach)!.labels).toContain(role);
    expect(at(`groups:\n  g:\n    roles:\n      - |`)!.labels).toContain(role);
    expect(at(`groups:\n  g:\n    roles: [ x, ${role.slice(0, 1)}|`)!).toMatchObject({ typed: role.slice(0, 1) });
    expect(at(`groups:\n  g:\n    roles: [|`)!.labels).toContain(role);
    expect(at(`groups:\n  g:\n    roles:\n      - |`)!.labels).not.toContain('@hosts');
    expect(at(`${head}        standsOn:\n          - |`)!.options).toContainEqual({
      label: lab.spec.sections[0]!.requirements[0]!.id,
      detail: 'a requirement',
      insert: JSON.stringify(lab.spec.sections[0]!.requirements[0]!.id),
    });
    expect(at(`${head}        bonus: |`)!.labels).toEqual(['true', 'false']);
    expect(at(`# |`)).toBeNull();
  });
});
