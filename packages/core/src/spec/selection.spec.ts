import { labOf } from '../tests/labs';
import { Sheet, demoLab, twoLans } from '../tests/topologies';
import { type Topology, emptyTopology } from '../topology';
import { type LabFile, type Rule, RULE_KINDS, checkSubmission, specProblems } from '.';
import { type Selection } from './selection';

/** A lab that asks of the devices which a selection chooses. */
const labWith = (rules: readonly Rule[], select: Selection, reference: Topology = emptyTopology()): LabFile => {
  const lab = labOf(rules, reference);
  return { ...lab, spec: { ...lab.spec, groups: { chosen: { title: 'the chosen', roles: [], select } } } };
};
const texts = (lab: LabFile, drawing: Topology, plan?: LabFile['plan']): [number, string[]] => {
  const { points, requirements } = checkSubmission(lab, drawing, plan);
  return [points, requirements.flatMap(({ items }) => items.map(({ text }) => text))];
};
const isPrivate: Rule = { kind: 'private', who: 'chosen' };
/** Two sites with a switch and two hosts each, and a router between them. */
const sites = (): Topology => {
  const sheet = new Sheet().device('R', 'border-router', { g0: '10.84.1.1/24', g1: '10.84.2.1/24' });
  for (const at of [1, 2]) {
    sheet.device(`S${at}`, 'access-switch-12', {}, { site: `s${at}` }).cable(`R g${at - 1}`, `S${at} u1`);
    for (const nth of [1, 2])
      sheet
        .device(
          `H${at}${nth}`,
          'desktop',
          { e0: `10.84.${at}.1${nth}/24` },
          { site: `s${at}`, settings: { gateway4: `10.84.${at}.1` } },
        )
        .cable(`S${at} p${nth}`, `H${at}${nth} e0`);
  }
  return { ...sheet.topology, sites: { s1: { name: 'Valley' }, s2: { name: 'Summit' } } };
};

describe('without a reference devices are chosen in the drawing', () => {
  test.each<[string, Selection, string[]]>([
    ['hosts', { sort: 'hosts', least: 1 }, ['H11', 'H12', 'H21', 'H22']],
    ['hosts of a site, by its name', { sort: 'hosts', site: 'valley ', least: 1 }, ['H11', 'H12']],
    ['what hangs on something chosen', { behind: '@network', sort: 'hosts', least: 1 }, ['H11', 'H12', 'H21', 'H22']],
    ['routers', { kind: 'router', least: 1 }, ['R', 'R']],
  ])('%s', (_what, select, names) => {
    const [points, found] = texts(labWith([isPrivate], select), sites());
    expect([points, found.map((text) => text.split(' ')[0])]).toEqual([2, names]);
  });
  test('there must be as many as are asked for: who is missing is lost', () => {
    expect(texts(labWith([isPrivate], { sort: 'hosts', site: 'Valley', least: 4 }), sites())).toEqual([
      1,
      [
        'H11 has 10.84.1.11.',
        'H12 has 10.84.1.12.',
        'Nothing in the drawing plays the part of one more of the chosen.',
        'Nothing in the drawing plays the part of one more of the chosen.',
      ],
    ]);
    expect(texts(labWith([isPrivate], { sort: 'hosts', least: 1 }), emptyTopology())[0]).toBe(0);
  });
  test('those in the planned subnet of a group of the brief', () => {
    const plan: LabFile['plan'] = { blocks: { b: { prefix: '10.84.2.0/24', name: 'Summit', group: 'cameras' } } };
    const lab = labWith([isPrivate], { sort: 'hosts', group: 'cameras', least: 2 });
    expect(texts(lab, sites(), plan)).toEqual([2, ['H21 has 10.84.2.11.', 'H22 has 10.84.2.12.']]);
    expect(texts(lab, sites())[0]).toBe(0);
  });
  test('every host and all pairs of them, as sentences usually speak', () => {
    const lab = labOf(
      [
        { kind: 'reach', from: '@hosts', to: '@hosts' },
        { kind: 'uniqueAddresses', who: '@all' },
      ],
      emptyTopology(),
    );
    expect(checkSubmission(lab, sites()).points).toBe(4);
    expect(checkSubmission(lab, sites()).requirements[0]!.items).toHaveLength(12);
    const cut = sites();
    delete cut.links['R-g1-S2-u1'];
    const { requirements } = checkSubmission(lab, cut);
    expect(requirements[0]!.points).toBeCloseTo(2 / 3, 1);
    // Nothing of the student's stands in the key of a fact.
    expect(requirements[0]!.items[0]!.key).toBe('|~@hosts~0~~@hosts~1|4');
  });
  test('cables of devices that are linked', () => {
    const lab = labOf([{ kind: 'medium', a: '@hosts', b: '@network', media: ['straight'] }], emptyTopology());
    expect(checkSubmission(lab, sites()).points).toBe(2);
    const wrong = sites();
    wrong.links['S1-p1-H11-e0']!.medium = 'crossover';
    expect(checkSubmission(lab, wrong).points).toBe(1.5);
  });
  test('no kind of requirement breaks, whatever is drawn, and none is met by nothing', () => {
    for (const { fresh } of RULE_KINDS) {
      const lab = labOf([fresh as Rule], emptyTopology());
      expect(checkSubmission(lab, sites()).requirements[0]!.items.length).toBeGreaterThan(0);
      expect([fresh, checkSubmission(lab, emptyTopology()).points]).toEqual([fresh, 0]);
    }
  });
});

test('where the reference has such devices they are roles like any other', () => {
  const { reference } = demoLab('three-stations');
  const lab = labWith([{ kind: 'private', who: 'chosen' }], { behind: 'SWM2', sort: 'hosts', least: 1 }, reference);
  const { requirements } = checkSubmission(lab, reference);
  expect(requirements[0]!.items.map(({ key }) => key)).toEqual([
    '|CAM-1|4',
    '|CAM-2|4',
    '|CAM-3|4',
    '|CAM-4|4',
    '|WORK|4',
  ]);
});

test('what was added since the starter', () => {
  const lab: LabFile = { ...labWith([isPrivate], { sort: 'hosts', added: true, least: 1 }), starter: twoLans() };
  expect(texts(lab, twoLans())[0]).toBe(0);
  const sheet = new Sheet();
  Object.assign(sheet.topology, twoLans());
  expect(texts(lab, sheet.host('NEW', '10.84.1.50/24').cable('SA p7', 'NEW e0').topology)).toEqual([
    2,
    ['NEW has 10.84.1.50.'],
  ]);
});

test('a selection that cannot choose is said where it stands', () => {
  const problems = (select: Selection, roles: string[] = []): string[] => {
    const lab = labWith([], select, twoLans());
    lab.spec.groups.chosen!.roles = roles;
    return specProblems(lab).map(({ place, text }) => `${place}: ${text}`);
  };
  expect(problems({ behind: 'SA', least: 1 })).toEqual([]);
  expect(problems({ behind: 'nobody', group: 'none', least: 1 }, ['A'])).toEqual([
    'groups › chosen › select: A group has devices of its own, or a selection, not both.',
    'groups › chosen › select › behind: "nobody" is no other group and no device of the reference.',
    'groups › chosen › select › group: The brief has no group "none".',
  ]);
});

test('groups that are chosen by one another are refused, and break no check', () => {
  const lab = labWith([isPrivate], { behind: 'other', least: 1 }, twoLans());
  lab.spec.groups.other = { title: 'the other', roles: [], select: { behind: 'chosen', least: 1 } };
  expect(specProblems(lab).map(({ place }) => place)).toEqual([
    'groups › chosen › select › behind',
    'groups › other › select › behind',
  ]);
  expect(checkSubmission(lab, sites()).points).toBe(0);
  expect(checkSubmission({ ...lab, reference: emptyTopology() }, sites()).points).toBe(0);
});
