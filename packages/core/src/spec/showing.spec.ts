import { labOf } from '../tests/labs';
import { twoLans } from '../tests/topologies';
import {
  type LabFile,
  type Policy,
  type Rule,
  checkSubmission,
  findingsFor,
  latePenalty,
  penaltyFor,
  notInForce,
  shownNow,
} from '.';

const DUE = new Date('2026-11-20T12:00:00Z');
const after = (hours: number): Date => new Date(DUE.getTime() + hours * 3_600_000);

describe('what a student may see at a moment', () => {
  test.each<[Policy['shown'], Date | null, number, string]>([
    [undefined, DUE, -1, 'points'],
    [{ what: 'findings' }, DUE, -1, 'findings'],
    [{ what: 'findings', when: 'after-due' }, DUE, -1, 'nothing'],
    [{ what: 'findings', when: 'after-due' }, DUE, 1, 'findings'],
    [{ what: 'sections', when: 'when-returned' }, DUE, -1, 'nothing'],
    [{ what: 'sections', when: 'when-returned' }, DUE, 1, 'sections'],
    [{ what: 'points', when: 'after-due' }, null, 1, 'nothing'],
    [{ what: 'nothing' }, DUE, 1, 'nothing'],
  ])('%j, due %p, %p h from it: %s', (shown, due, hours, what) => {
    expect(shownNow(shown ? { shown } : {}, due, after(hours))).toBe(what);
  });
});

describe('what lateness takes off', () => {
  const policy: Policy = { late: 'accepted', latePenalty: { percentPerDay: 15, most: 40 } };
  test.each([
    ['in time', 0, null],
    ['a minute late: one begun day', 1 / 60, { days: 1, percent: 15, points: 4.5 }],
    ['24 hours late to the instant: still one', 24, { days: 1, percent: 15, points: 4.5 }],
    ['a minute more: two', 24 + 1 / 60, { days: 2, percent: 30, points: 9 }],
    ['never more than is said', 200, { days: 9, percent: 40, points: 12 }],
  ])('%s', (_what, hours, penalty) => expect(latePenalty(policy, DUE, after(hours), 30)).toEqual(penalty));
  test('is at most everything, and nothing where the lab says nothing or is never due', () => {
    expect(latePenalty({ latePenalty: { percentPerDay: 60 } }, DUE, after(100), 8)).toMatchObject({
      percent: 100,
      points: 8,
    });
    expect(latePenalty({}, DUE, after(100), 8)).toBeNull();
    expect(latePenalty(policy, null, after(100), 8)).toBeNull();
  });
});

describe('what hints and lateness take off', () => {
  const policy: Policy = { late: 'accepted', latePenalty: { percentPerDay: 10 } };
  const asked = [
    { at: after(-5), cost: 0.5 },
    { at: after(-1), cost: 1 },
    { at: after(30), cost: 4 },
  ];
  test('what was asked for before it was handed in, then the lateness of what is left', () => {
    expect(penaltyFor(policy, DUE, { handedInAt: after(-2), late: false }, 30, asked)).toEqual({
      points: 0.5,
      hints: { count: 1, points: 0.5 },
      late: null,
    });
    expect(penaltyFor(policy, DUE, { handedInAt: after(1), late: true }, 31.5, asked)).toEqual({
      points: 4.5,
      hints: { count: 2, points: 1.5 },
      late: { days: 1, percent: 10, points: 3 },
    });
  });
  test('nobody goes below nothing by hints, and hints that cost nothing are told all the same', () => {
    const late = { handedInAt: after(40), late: true };
    expect(penaltyFor(policy, DUE, late, 2, asked)).toEqual({
      points: 2,
      hints: { count: 3, points: 2 },
      late: { days: 2, percent: 20, points: 0 },
    });
    expect(penaltyFor({}, DUE, late, 5, [{ at: after(1), cost: 0 }])).toEqual({
      points: 0,
      hints: { count: 1, points: 0 },
      late: null,
    });
    expect(penaltyFor({}, DUE, late, -3, asked)).toMatchObject({ points: 0 });
    expect(penaltyFor(policy, DUE, { handedInAt: after(-9), late: false }, 30, asked)).toBeNull();
  });
});

describe('findings', () => {
  const reference = () => {
    const topology = twoLans();
    topology.sites = { v: { name: 'Valley' } };
    for (const [id, device] of Object.entries(topology.devices)) {
      device.name = `REF-${id}`;
      device.site = 'v';
    }
    return topology;
  };
  const found = (rule: Rule, drawing = twoLans(), wording?: string) => {
    const lab: LabFile = {
      format: 'sobrin-lab',
      version: 9,
      title: 'x',
      brief: {},
      tasks: [],
      plan: { blocks: {} },
      reference: reference(),
      policy: {},
      spec: {
        groups: { g: { title: 'those behind REF-SA', roles: ['A'] } },
        sections: [{ id: 's', title: 'S', requirements: [{ id: 'r', points: 2, rule, ...(wording && { wording }) }] }],
      },
    };
    const result = checkSubmission(lab, drawing);
    expect(JSON.stringify(findingsFor(result, 'what'))).not.toMatch(/REF-/);
    return { result, finding: findingsFor(result, 'what')[0]! };
  };
  const without = (id: string) => {
    const topology = twoLans();
    delete topology.devices[id];
    for (const [key, { a, b }] of Object.entries(topology.links))
      if ([a.device, b.device].includes(id)) delete topology.links[key];
    return topology;
  };

  test('name the student’s own device where one plays the part, and those who teach read both', () => {
    const { result, finding } = found({ kind: 'linked', a: 'R', b: 'SA' });
    expect(finding.sentence).toBe('Between R and SA there are the links that the lab asks for.');
    expect(result.requirements[0]!.sentence).toBe(
      'Between REF-R and REF-SA there are the links that the lab asks for.',
    );
  });
  test('speak of kind and site where nobody does', () => {
    const { finding } = found({ kind: 'linked', a: 'R', b: 'SA' }, without('R'));
    expect(finding).toMatchObject({
      verdict: 'lost',
      items: [{ text: 'Nothing in the drawing plays the part of a router at Valley.' }],
    });
    expect(finding.sentence).toMatch(/^Between a router at Valley and SA /);
  });
  test('do not say what the reference has and the sentence does not', () => {
    const hub = twoLans();
    hub.devices.SA!.model = 'hub';
    const { result, finding } = found({ kind: 'rightKind', who: 'SA' }, hub);
    expect(result.requirements[0]!.items[0]!.text).toMatch(/wanted is a .*switch/i);
    expect(finding.items![0]!.text).not.toMatch(/wanted/);
  });
  test('say the value of a rule where the sentence has it, and not where other words stand for it', () => {
    const rule = { kind: 'prefixLength', who: 'A', length: 26 };
    expect(found(rule).finding.items![0]!.text).toMatch(/Wanted is \/26\./);
    const worded = found(rule, twoLans(), 'REF-A is addressed well.').finding;
    expect(worded.sentence).toBe('A is addressed well.');
    expect(worded.items![0]!.text).toMatch(/Wanted is another length\./);
  });
  test('replace names in the titles of groups, too', () => {
    expect(found({ kind: 'connected', who: 'g' }).finding.sentence).toMatch(/those behind SA/);
  });
  test('with less strength have neither places nor texts', () => {
    const { result } = found({ kind: 'prefixLength', who: 'A', length: 26 });
    expect(Object.keys(findingsFor(result, 'that')[0]!)).toEqual([
      'section',
      'sentence',
      'points',
      'of',
      'bonus',
      'verdict',
    ]);
    expect(findingsFor(result, 'where')[0]).toMatchObject({ places: [{ device: 'A' }] });
    expect(findingsFor(result, 'where')[0]).not.toHaveProperty('items');
  });
  test('hold the hint of the spec that tells most of what may be told, in the student’s names, where something is lost', () => {
    const lab = labOf([
      { kind: 'prefixLength', who: 'A', length: 26 },
      { kind: 'connected', who: 'A' },
    ]);
    for (const requirement of lab.spec.sections[0]!.requirements)
      requirement.hints = { that: 'Look at the masks.', what: 'A needs a longer prefix.' };
    const drawing = twoLans();
    drawing.devices.A!.name = 'TILL-1';
    const result = checkSubmission(lab, drawing);
    const hints = (strength: 'that' | 'where' | 'what') => findingsFor(result, strength).map(({ hint }) => hint);
    expect(hints('that')).toEqual(['Look at the masks.', undefined]);
    expect(hints('where')).toEqual(['Look at the masks.', undefined]);
    expect(hints('what')).toEqual(['TILL-1 needs a longer prefix.', undefined]);
  });
  test('of a result from before say no sentence rather than one with names of the reference', () => {
    const { result } = found({ kind: 'linked', a: 'R', b: 'SA' });
    const { forStudents: _new, ...old } = result;
    expect(findingsFor(old, 'what')[0]).toMatchObject({ sentence: null, points: 2 });
    expect(findingsFor(old, 'what')[0]).not.toHaveProperty('items');
  });
  test('a student who knows how texts are made cannot read what is not theirs', () => {
    const drawing = twoLans();
    for (const [at, device] of Object.values(drawing.devices).entries()) device.name = `\uE000${at}\uE001`;
    found({ kind: 'linked', a: 'R', b: 'SA' }, drawing);
  });
});

test('what a lab holds that nothing acts upon yet is told in one sentence', () => {
  expect(notInForce({})).toBeNull();
  expect(notInForce({ stages: [{ id: 'a', title: 'A', kind: 'plan' }] })).toBe(
    'Kept with the lab, but not in force yet: 1 stage.',
  );
});
