import { type LabView } from '@sobrin/contracts';
import { stationsOf } from './rail';

const lab = (more: Partial<LabView> = {}): LabView => ({
  id: 'l',
  courseId: 'c',
  courseTitle: '',
  timeZone: 'UTC',
  teaches: true,
  mayEdit: true,
  isOwner: true,
  starterId: null,
  owner: 'Maren Osterkamp',
  title: '',
  revision: 0,
  dueAt: null,
  releasedAt: null,
  version: null,
  versions: 0,
  isChanged: false,
  brief: {},
  tasks: [],
  documents: { brief: 'b', tasks: 't', spec: 's', policy: 'o' },
  planId: 'p',
  plan: { blocks: 0, proposed: 0, problems: 0 },
  drawn: 0,
  files: [],
  spec: { groups: {}, sections: [] },
  policy: {},
  referenceId: 'r',
  notInForce: null,
  untoldNames: [],
  specProblems: [],
  handedIn: 0,
  checked: 0,
  students: 20,
  ...more,
});
const states = (more: Partial<LabView>) =>
  Object.fromEntries(stationsOf(lab(more)).map((station) => [station.path, station.state]));
const requirement = { id: '1.1', points: 1, rule: { kind: 'titled' } };

test('the stations stand in the order of the work', () => {
  expect(stationsOf(lab()).map((station) => station.name)).toEqual([
    'Brief',
    'Plan',
    'Bench',
    'Spec',
    'Class',
    'Results',
  ]);
});
test('a new lab is empty everywhere', () => {
  expect(states({})).toMatchObject({
    brief: { kind: 'empty' },
    plan: { kind: 'empty' },
    bench: { kind: 'empty' },
    spec: { kind: 'empty' },
    class: { kind: 'empty' },
    results: { kind: 'empty' },
  });
});
test('a station is begun, then ready', () => {
  expect(states({ brief: { scenario: 'x' } }).brief).toEqual({ kind: 'begun' });
  expect(states({ brief: { scenario: 'x' }, tasks: [{ id: 't', text: 'y' }] }).brief).toEqual({ kind: 'ready' });
  expect([states({}).bench, states({ drawn: 3 }).bench]).toEqual([{ kind: 'empty' }, { kind: 'ready' }]);
  expect(states({ plan: { blocks: 2, proposed: 1, problems: 0 } }).plan).toEqual({ kind: 'begun' });
  expect(states({ plan: { blocks: 2, proposed: 0, problems: 0 } }).plan).toEqual({ kind: 'ready' });
  expect(states({ plan: { blocks: 2, proposed: 0, problems: 3 } }).plan).toEqual({ kind: 'problems', count: 3 });
  expect(states({ handedIn: 3 }).class).toEqual({ kind: 'begun' });
  expect(states({ handedIn: 20 }).class).toEqual({ kind: 'ready' });
  expect(states({ handedIn: 20, checked: 4 }).results).toEqual({ kind: 'begun' });
  expect(states({ handedIn: 20, checked: 20 }).results).toEqual({ kind: 'ready' });
});
test('problems of the spec are counted at its stop', () => {
  const spec = { groups: {}, sections: [{ id: 's', title: 'S', requirements: [requirement] }] };
  expect(states({ spec }).spec).toEqual({ kind: 'ready' });
  expect(
    states({
      spec,
      notInForce: null,
      untoldNames: [],
      specProblems: [
        { place: 'a', text: 'b' },
        { place: 'c', text: 'd' },
      ],
    }).spec,
  ).toEqual({ kind: 'problems', count: 2 });
});
