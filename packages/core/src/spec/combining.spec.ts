import fc from 'fast-check';
import { readLab } from '../formats';
import { labOf } from '../tests/labs';
import { runs } from '../tests/runs';
import { demoLab, twoLans } from '../tests/topologies';
import { type Topology, emptyTopology } from '../topology';
import { type Rule, RULE_KINDS, checkSubmission, specProblems } from '.';

const judged = (rule: Rule, drawing: Topology = twoLans(), reference = twoLans()) => {
  const result = checkSubmission(labOf([rule], reference), drawing);
  return { ...result.requirements[0]!, total: result.of, mark: result.points };
};
const inside: Rule = { kind: 'inBlock', who: 'A', block: '10.84.0.0/16' };
const elsewhere: Rule = { kind: 'inBlock', who: 'A', block: '10.99.0.0/16' };
/** Of the two hosts, one lies in this block. */
const oneOfTwo: Rule = { kind: 'inBlock', who: '@hosts', block: '10.84.1.0/24' };

describe('not', () => {
  test('means that none of it holds; not all is a word of its own', () => {
    expect(judged({ kind: 'not', rule: oneOfTwo }).verdict).toBe('lost');
    expect(judged({ kind: 'notAll', rule: oneOfTwo }).verdict).toBe('met');
    expect(judged({ kind: 'not', rule: elsewhere }).verdict).toBe('met');
    expect(judged({ kind: 'notAll', rule: inside }).verdict).toBe('lost');
  });
});

describe('at least n of', () => {
  test.each([
    [1, 2],
    [2, 2],
    [3, 4 / 3],
  ])('%i: each statement that holds counts as one, whatever it is about', (n, points) => {
    const found = judged({ kind: 'nOf', n, rules: [elsewhere, inside, { kind: 'private', who: '@hosts' }] });
    expect(found.points).toBeCloseTo(points, 1);
    expect(found.items).toHaveLength(n);
  });
});

describe('if – then', () => {
  const then: Rule = { kind: 'private', who: 'A' };
  test('asks only where the condition holds', () => {
    expect(judged({ kind: 'ifThen', if: inside, then })).toMatchObject({ verdict: 'met', points: 2, total: 2 });
    expect(judged({ kind: 'ifThen', if: inside, then: elsewhere })).toMatchObject({ verdict: 'lost', total: 2 });
  });
  test('where it does not, the points are in neither mark nor total, or something else is asked', () => {
    expect(judged({ kind: 'ifThen', if: elsewhere, then })).toMatchObject({
      verdict: 'notApplying',
      points: 0,
      total: 0,
      items: [],
    });
    expect(judged({ kind: 'ifThen', if: elsewhere, then: elsewhere, else: then })).toMatchObject({ verdict: 'met' });
  });
  test('a condition about what is missing is no way out', () => {
    expect(judged({ kind: 'ifThen', if: elsewhere, then }, emptyTopology())).toMatchObject({
      verdict: 'lost',
      total: 2,
    });
  });
  test('what does not apply is no part of all, any or some', () => {
    const apart: Rule = { kind: 'ifThen', if: elsewhere, then };
    expect(judged({ kind: 'allOf', rules: [inside, apart] })).toMatchObject({ verdict: 'met', total: 2 });
    expect(judged({ kind: 'anyOf', rules: [elsewhere, apart] })).toMatchObject({ verdict: 'lost', total: 2 });
    expect(judged({ kind: 'allOf', rules: [apart, apart] })).toMatchObject({ verdict: 'notApplying', total: 0 });
  });
});

describe('for each', () => {
  test('judges the members one by one, each as a whole', () => {
    const rule: Rule = {
      kind: 'forEach',
      who: '@hosts',
      rule: {
        kind: 'allOf',
        rules: [
          { kind: 'inBlock', who: '@each', block: '10.84.1.0/24' },
          { kind: 'reachesGateway', who: '@each' },
        ],
      },
    };
    const found = judged(rule);
    expect(found).toMatchObject({ points: 1, verdict: 'partly' });
    expect(found.items.map((item) => [item.met, item.key])).toEqual([
      [true, '|A'],
      [false, '|B'],
    ]);
    expect(found.sentence).toMatch(/^For each of every host: All of: The addresses of it lie in/);
  });
  test('"each" outside of it, and more statements than there are, are refused with the place', () => {
    const wrong = [
      { kind: 'private', who: '@each' },
      { kind: 'nOf', n: 3, rules: [inside] },
      { kind: 'forEach', who: 'ghosts', rule: inside },
    ] satisfies Rule[];
    expect(specProblems(labOf(wrong)).map(({ place }) => place)).toEqual([
      'sections › 0 › requirements › 0 › rule › who',
      'sections › 0 › requirements › 1 › rule › n',
      'sections › 0 › requirements › 2 › rule › who',
    ]);
  });
});

test('combinations are read from a file as they are written', () => {
  const rule: Rule = {
    kind: 'ifThen',
    if: { kind: 'notAll', rule: inside },
    then: { kind: 'nOf', n: 1, rules: [{ kind: 'forEach', who: 'A', rule: { kind: 'private', who: '@each' } }] },
    else: { kind: 'not', rule: elsewhere },
  };
  const read = readLab(JSON.parse(JSON.stringify(labOf([rule]))));
  expect(read.ok && read.value.spec.sections[0]!.requirements[0]!.rule).toEqual(rule);
  expect(readLab(labOf([{ kind: 'ifThen', if: inside }])).ok).toBe(false);
});

describe('nothing for nothing', () => {
  const { reference } = demoLab('winch-isolation');
  const leaf = fc.constantFrom(...RULE_KINDS.map((kind) => kind.fresh as Rule));
  const { rule } = fc.letrec<{ rule: Rule }>((tie) => ({
    rule: fc.oneof(
      { maxDepth: 3, depthSize: 'small' },
      leaf,
      fc.record({
        kind: fc.constantFrom('allOf' as const, 'anyOf' as const),
        rules: fc.array(tie('rule'), { minLength: 1, maxLength: 3 }),
      }),
      fc.record({
        kind: fc.constant('nOf' as const),
        n: fc.constant(1),
        rules: fc.array(tie('rule'), { minLength: 1, maxLength: 3 }),
      }),
      fc.record({ kind: fc.constantFrom('not' as const, 'notAll' as const), rule: tie('rule') }),
      fc.record({ kind: fc.constant('ifThen' as const), if: tie('rule'), then: tie('rule'), else: tie('rule') }),
      fc.record({ kind: fc.constant('forEach' as const), who: fc.constant('@hosts'), rule: tie('rule') }),
    ),
  }));
  test('no rule, however it is put together, gives a point to an empty drawing', () => {
    fc.assert(
      fc.property(rule, (each) => {
        expect(checkSubmission(labOf([each], reference), emptyTopology()).points).toBe(0);
      }),
      { numRuns: runs(60) },
    );
  });
  test.each<[string, (topology: Topology) => void]>([
    ['without links', (topology) => void (topology.links = {})],
    [
      'without addresses',
      (topology) => {
        for (const device of Object.values(topology.devices)) {
          delete device.interfaces;
          delete device.settings;
        }
      },
    ],
  ])('nothing about packets holds in a drawing %s', (_what, strip) => {
    const bare = structuredClone(reference);
    strip(bare);
    for (const kind of RULE_KINDS.filter((each) => each.family === 'connectivity'))
      for (const each of [kind.fresh as Rule, { kind: 'not', rule: kind.fresh as Rule } as Rule])
        expect([kind.kind, checkSubmission(labOf([each], reference, 'all'), bare).points]).toEqual([kind.kind, 0]);
  });
});
