import { type Spec } from '@sobrin/core/spec';
import {
  addRequirement,
  addSection,
  copiedText,
  copyRequirement,
  freshId,
  moveAll,
  moveRequirement,
  moveSection,
  pastedInto,
  pointsOf,
  removeAll,
  removeSection,
  setGroup,
  setPointsOfAll,
  setRequirement,
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

test('several get the same points, move in their order, or go', () => {
  const both = new Set(['1.1', '2.1']);
  const points = setPointsOfAll(spec, both, 4).sections.flatMap((section) =>
    section.requirements.map((each) => each.points),
  );
  expect(points).toEqual([4, 1, 5, 4]);
  expect(order(moveAll(spec, new Set(['1.3', '1.1']), 'two'))).toEqual(['1.2', '2.1 1.1 1.3']);
  expect(order(removeAll(spec, both))).toEqual(['1.2 1.3', '']);
});

describe('copied into another spec', () => {
  const copied = copiedText(spec, new Set(['1.1', '1.3']));
  const put = (text: string, into: Spec) => {
    const read = pastedInto(into, text);
    if (!read.ok) throw new Error(read.error);
    return read.value;
  };
  const ruleOf = (given: Spec, id: string) =>
    given.sections.flatMap(({ requirements }) => requirements).find((each) => each.id === id)!.rule;

  test('they get fresh ids there, with the groups they speak of and no others', () => {
    const { spec: next, ids } = put(copied, { groups: {}, sections: [] });
    expect(ids).toEqual(['1.1', '1.2']);
    expect(Object.values(next.groups).map(({ title }) => title)).toEqual(['the desks']);
    expect(next.sections[0]!.requirements.map(({ points, bonus }) => [points, bonus])).toEqual([
      [2, undefined],
      [5, true],
    ]);
  });
  test('a group of the same name is the same one; another one with its id is left alone', () => {
    const same = put(copied, { groups: { g: { title: 'the desks', roles: ['x'] } }, sections: [] }).spec;
    expect(ruleOf(same, '1.1')).toMatchObject({ from: 'g', to: '@hosts' });
    expect(same.groups).toEqual({ g: { title: 'the desks', roles: ['x'] } });
    const other = put(copied, { groups: { desks: { title: 'the cats', roles: ['x'] } }, sections: [] }).spec;
    const { from } = ruleOf(other, '1.1') as unknown as { from: string };
    expect([from === 'desks', other.groups[from]!.title, other.groups.desks!.title]).toEqual([
      false,
      'the desks',
      'the cats',
    ]);
  });
  test('what one stands on goes along where that was copied as well, and is left out else', () => {
    const standing = setRequirement(
      setRequirement(spec, 'one', { ...requirement('1.2'), standsOn: ['1.1', '2.1'] }),
      'one',
      requirement('1.1'),
    );
    const { spec: next } = put(copiedText(standing, new Set(['1.1', '1.2'])), spec);
    expect(next.sections[1]!.requirements.map(({ id, standsOn }) => [id, standsOn])).toEqual([
      ['2.1', undefined],
      ['2.2', undefined],
      ['2.3', ['2.2']],
    ]);
  });
  test.each([
    ['not JSON', /are no requirements/],
    ['null', /are no requirements/],
    ['{"format":"sobrin-topology"}', /are no requirements/],
    ['{"format":"sobrin-requirements","groups":{},"requirements":[{"id":1}]}', /not as Sobrin writes them/],
    [
      '{"format":"sobrin-requirements","groups":{"__proto__":{"title":"x","roles":1}},"requirements":[]}',
      /not as Sobrin/,
    ],
  ])('%s is refused with a sentence', (text, said) => {
    const read = pastedInto(spec, text);
    expect(read.ok ? '' : read.error).toMatch(said);
  });
});
