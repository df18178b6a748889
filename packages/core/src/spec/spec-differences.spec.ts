import { demoLab } from '../tests/topologies';
import { type LabFile, type Requirement, specDifferences } from '.';

const lab = (): LabFile => demoLab('winch-isolation');
const changed = (change: (lab: LabFile) => void): LabFile => {
  const next = structuredClone(lab());
  change(next);
  return next;
};
const one = (lab: LabFile, id: string): Requirement =>
  lab.spec.sections.flatMap(({ requirements }) => requirements).find((each) => each.id === id)!;

test('a lab is not otherwise than itself, nor where only what judges nothing was changed', () => {
  for (const slug of ['season-opening', 'summit-dual-stack', 'three-stations', 'valley-lan', 'winch-isolation'])
    expect(specDifferences(demoLab(slug), demoLab(slug))).toEqual([]);
  const moved = changed(({ reference, policy }) => {
    for (const device of Object.values(reference.devices)) device.at.x += 10;
    policy.shown = { what: 'nothing' };
  });
  expect(specDifferences(lab(), moved)).toEqual([]);
});

test('what is new, gone and otherwise is told with its sentence, in the order of the spec', () => {
  const after = changed(({ spec }) => {
    const [components, cabling] = spec.sections;
    const [first, second, third] = components!.requirements;
    components!.requirements = [{ ...first!, points: 5, credit: 'all' }, second!];
    cabling!.requirements.push({ ...third!, hints: { that: 'Look again.' } });
    spec.sections[2]!.requirements.push({ id: '3.9', points: 2, rule: { kind: 'titled' } });
    spec.sections.at(-1)!.requirements.shift();
  });
  const found = specDifferences(lab(), after);
  expect(found.map(({ what, text, changes }) => [what, text.split(' ')[0], changes])).toEqual([
    ['changed', '1.1', ['2 points → 5 points', 'a share for each part → all or nothing']],
    ['changed', '1.3', ['moved from Components to Cabling', 'its hints are others']],
    ['added', '3.9', ['2 points']],
    ['removed', '1.4', ['1 point']],
    ['removed', '7.1', ['2 points']],
  ]);
  expect(found[0]!.text).toBe('1.1 The drawing has a device of the right kind for every device.');
});

test('another sentence is told with what it was; a device that is called otherwise says so by its sentences', () => {
  const after = changed((lab) => {
    Object.assign(one(lab, '1.2').rule, { n: 4 });
    one(lab, '5.1').bonus = true;
    one(lab, '5.2').standsOn = ['5.1'];
  });
  expect(specDifferences(lab(), after).map(({ changes }) => changes)).toEqual([
    ['it was: At Middle Station there are exactly 3 switches.'],
    ['required → a bonus'],
    ['counts by itself → counts once 5.1 is met'],
  ]);
});

test('groups, reference, rules and sections are told by their names', () => {
  const after = changed(({ spec, reference, policy }) => {
    spec.groups.guests!.roles = spec.groups.guests!.roles.slice(1);
    spec.sections[0]!.hurdle = 50;
    spec.sections[1]!.title = 'Cables';
    Object.values(reference.devices)[0]!.model = 'hub';
    policy.rounding = 1;
  });
  expect(specDifferences(lab(), after).filter(({ what }) => what === 'other')).toEqual([
    { what: 'other', text: 'Section Components', changes: ['what is needed of it'] },
    { what: 'other', text: 'Section Cables', changes: ['it was: Cabling'] },
    { what: 'other', text: 'Groups', changes: ['the guests'] },
    { what: 'other', text: 'The reference', changes: [] },
    { what: 'other', text: 'The rules by which is judged', changes: [] },
  ]);
});
