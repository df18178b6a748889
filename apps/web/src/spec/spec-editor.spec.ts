import { type Spec } from '@sobrin/core/spec';
import {
  addRequirement,
  addSection,
  copyRequirement,
  freshId,
  moveRequirement,
  moveSection,
  pointsOf,
  removeSection,
  setGroup,
  usersOfGroup,
} from './spec-editor';

const requirement = (id: string, points = 1) => ({
  id,
  points,
  rule: { kind: 'reach', from: 'desks', to: '@hosts', family: '4' },
});
const spec: Spec = {
  groups: { desks: { title: 'the desks', roles: ['a'] }, tills: { title: 'the tills', roles: [] } },
  sections: [
    {
      id: 'one',
      title: 'One',
      requirements: [requirement('1.1', 2), requirement('1.2'), { ...requirement('1.3', 5), bonus: true }],
    },
    { id: 'two', title: 'Two', requirements: [requirement('2.1')] },
  ],
};
const order = (spec: Spec): string[] =>
  spec.sections.map((section) => section.requirements.map((each) => each.id).join(' '));

test('requirements move within and between sections and keep their ids', () => {
  expect(order(moveRequirement(spec, '1.1', 'one', null))).toEqual(['1.2 1.3 1.1', '2.1']);
  expect(order(moveRequirement(spec, '1.3', 'one', '1.1'))).toEqual(['1.3 1.1 1.2', '2.1']);
  expect(order(moveRequirement(spec, '1.2', 'two', '2.1'))).toEqual(['1.1 1.3', '1.2 2.1']);
  expect(moveRequirement(spec, '1.2', 'one', '1.2')).toBe(spec);
});

test('ids are never used twice', () => {
  expect(freshId(spec, 'one')).toBe('1.4');
  expect(order(copyRequirement(spec, 'one', '1.1'))).toEqual(['1.1 1.4 1.2 1.3', '2.1']);
  expect(addRequirement(moveSection(spec, 'two', -1), 'two', { kind: 'titled' }).id).toBe('1.4');
});

test('sections are added, moved and removed; bonus points do not count as points to be had', () => {
  expect(addSection(spec, 'Three').sections.map((section) => section.id)).toEqual(['one', 'two', 's3']);
  expect(moveSection(spec, 'two', -1).sections.map((section) => section.id)).toEqual(['two', 'one']);
  expect(removeSection(spec, 'two').sections).toHaveLength(1);
  expect(pointsOf(spec.sections[0]!)).toBe(3);
});

test('who uses a group is known, so that it is not removed under a sentence', () => {
  expect(usersOfGroup(spec, 'desks')).toEqual(['1.1', '1.2', '1.3', '2.1']);
  expect(usersOfGroup(spec, 'tills')).toEqual([]);
  expect(Object.keys(setGroup(spec, 'tills', null).groups)).toEqual(['desks']);
});
