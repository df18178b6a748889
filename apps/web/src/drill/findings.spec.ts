import { type Drill, type DrilledFault } from '@sobrin/core/spec';
import { emptyTopology } from '@sobrin/core/topology';
import { faultsWith, missedByKind, noticedBySection, oddPrices, watchedMarks } from './findings';

const fault = (operator: string, outcome: DrilledFault['outcome'], more: Partial<DrilledFault> = {}): DrilledFault => ({
  operator,
  title: operator,
  text: `${operator} at a device`,
  places: [],
  alike: [],
  times: 1,
  outcome,
  noticedBy: outcome === 'noticed' ? ['1.1'] : [],
  cost: outcome === 'noticed' ? 4 : 0,
  proposal: null,
  ...more,
});

test('what a proposal that was taken notices is noticed, and nothing else is otherwise', () => {
  const faults = [fault('a', 'missed'), fault('b', 'missed'), fault('c', 'harmless'), fault('d', 'noticed')];
  const found = { faults, proposals: [{ id: 'p', notices: [1, 2] }] } as unknown as Drill;
  expect(faultsWith(found, new Set()).map(({ outcome }) => outcome)).toEqual([
    'missed',
    'missed',
    'harmless',
    'noticed',
  ]);
  expect(faultsWith(found, new Set(['p'])).map(({ outcome }) => outcome)).toEqual([
    'missed',
    'noticed',
    'harmless',
    'noticed',
  ]);
});

test('the map tells of each device how many of the mistakes there are noticed, also where another stands for it', () => {
  const { devices, links, words } = watchedMarks(
    [
      fault('a', 'noticed', { places: [{ device: 'R' }], alike: [{ device: 'Q' }] }),
      fault('b', 'missed', { places: [{ device: 'R', port: 'g0' }] }),
      fault('c', 'missed', { places: [{ device: 'S/m1' }, { link: 'l' }] }),
      fault('d', 'harmless', { places: [{ device: 'Q' }] }),
    ],
    {
      ...emptyTopology(),
      links: { l: { a: { device: 'R', port: 'g0' }, b: { device: 'S', port: 'e0' }, medium: 'straight' } },
    },
  );
  expect([...words!]).toEqual([
    ['R', '1/2'],
    ['Q', '1/1'],
    ['S', '0/1'],
  ]);
  expect([devices.get('R'), devices.get('Q'), devices.get('S'), links.get('l')]).toEqual([
    'unsure',
    'met',
    'lost',
    'lost',
  ]);
});

test('misses stand by kind, those of which most are missed first', () => {
  const kinds = missedByKind([fault('a', 'missed'), fault('b', 'missed'), fault('b', 'missed'), fault('c', 'noticed')]);
  expect(kinds.map(({ operator, list }) => [operator, list.map(({ at }) => at)])).toEqual([
    ['b', [1, 2]],
    ['a', [0]],
  ]);
});

test('a section counts a mistake once, however many of its requirements notice it', () => {
  const spec = {
    groups: {},
    sections: [
      { id: 's', title: 'S', requirements: ['1.1', '1.2'].map((id) => ({ id, points: 1, rule: { kind: 'titled' } })) },
    ],
  };
  const count = noticedBySection([fault('a', 'noticed', { noticedBy: ['1.1', '1.2'] })], spec);
  expect([...count]).toEqual([['s', 1]]);
});

test('a price is odd over 15 % and under 1 % of the mark, as it is where a mistake counts once', () => {
  const odd = oddPrices(
    [
      fault('dear', 'noticed', { cost: 20 }),
      fault('fair', 'noticed', { cost: 20, costOnce: 3 }),
      fault('cheap', 'noticed', { cost: 0.4 }),
      fault('missed', 'missed'),
    ],
    60,
  );
  expect(odd.map(({ operator }) => operator)).toEqual(['dear', 'cheap']);
});
