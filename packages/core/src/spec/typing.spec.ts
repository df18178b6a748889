import { readJson } from '../tests/topologies';
import { type LabFile, type Rule, RULE_KINDS, namesOf, refsOf, rulesTyped, sentenceOf, wordsOf } from '.';

const lab = (slug: string): LabFile => readJson('demo', slug, 'lab.json') as LabFile;
const sayableOf = ({ spec, reference, brief, tasks }: LabFile) => ({
  names: namesOf({ spec, reference, brief, tasks }),
  refs: refsOf(spec, reference),
  sites: Object.entries(reference.sites).map(([id, { name }]) => ({ id, name })),
  groups: (brief.groups ?? []).map(({ id, name }) => ({ id, name })),
  tasks,
  blocks: [{ prefix: '10.84.4.0/22', name: 'Middle Station' }],
});
const three = sayableOf(lab('three-stations'));
const first = (text: string, sayable = three) => rulesTyped(text, sayable)[0];

test.each<[string, Partial<Rule> & Record<string, unknown>]>([
  ['tills reach shop', { kind: 'reach', to: 'SHOP' }],
  ['the tills can reach SHOP over IPv4 by tcp 443.', { kind: 'reach', to: 'SHOP', family: '4', service: 'tcp 443' }],
  ['cameras must not reach office-1 by tcp 502', { kind: 'apart', to: 'OFFICE-1', service: 'tcp 502' }],
  ["weather mast can't ping shop", { kind: 'apart', to: 'SHOP' }],
  ['every host can reach the gateway', { kind: 'reachesGateway', who: '@hosts' }],
  ['all hosts can reach gateway', { kind: 'reachesGateway', who: '@hosts' }],
  ['packets from tills to SHOP avoid RT-M', { kind: 'pathThrough', to: 'SHOP', via: 'RTM', way: 'avoid' }],
  ['packets from tills to SHOP pass at most two routers', { kind: 'hops', to: 'SHOP', n: 2 }],
])('"%s" is understood', (text, wanted) => {
  expect(first(text)!.rule).toMatchObject(wanted);
});

test('groups are told from one another by their names, articles and plurals left aside', () => {
  const rule = first('the ticket desks can reach the cameras')!.rule as Rule & { from: string; to: string };
  expect([three.names.ref(rule.from), three.names.ref(rule.to)]).toEqual(['the ticket desks', 'the cameras']);
});

test('a part of a longer name is enough, and where something stands may be said last', () => {
  const rule = first('cameras must not reach the sensors')!.rule as Rule & { to: string };
  expect(three.names.ref(rule.to)).toBe('the sensors of the mast');
  expect(first('at least 3 switches at valley')!.sentence).toMatch(/^At Valley Station there are at least 3 switches/);
});

test('what a person is to see is taken as it was typed, articles and all', () => {
  expect(first('a person has seen that the till prints a slip, 2 points')).toMatchObject({
    points: 2,
    rule: { kind: 'signedOff', what: 'the till prints a slip' },
  });
});

test('points and bonus at the end are taken, and are no part of the sentence', () => {
  expect(first('tills reach shop, 3 points')).toMatchObject({ points: 3, rule: { kind: 'reach' } });
  expect(first('tills reach shop for 2,5 points bonus')).toMatchObject({ points: 2.5, bonus: true });
  expect(first('tills reach shop bonus')).toMatchObject({ bonus: true });
  expect(first('tills reach shop')).not.toHaveProperty('points');
});

test('the last word may be begun only: what fits is offered', () => {
  expect(rulesTyped('tills rea', three).map(({ rule }) => rule.kind)).toEqual(
    expect.arrayContaining(['reach', 'reachesGateway']),
  );
  const rule = first('tills can reach ca')!.rule as Rule & { to: string };
  expect(three.names.ref(rule.to)).toMatch(/camera/);
  expect(rulesTyped('gatew', three).map(({ rule }) => rule.kind)).toEqual(
    expect.arrayContaining(['gateway', 'reachesGateway']),
  );
});

test('where no sentence has all of it, the nearest are offered', () => {
  expect(rulesTyped('every tiger is powered', three).map(({ rule }) => rule.kind)).toContain('fedByCable');
});

test('a word that is no part of any sentence finds nothing, and harmful ones do no harm', () => {
  for (const text of [
    '',
    '   ',
    'xyzzy',
    '__proto__',
    'constructor prototype',
    '('.repeat(500),
    'a '.repeat(5000),
    '{from} {to}',
  ])
    expect(rulesTyped(text, three).length).toBeLessThanOrEqual(8);
  expect(rulesTyped('xyzzy', three)).toEqual([]);
});

/** The sentence of a rule, typed as it is read, means the rule. */
test.each(['three-stations', 'winch-isolation', 'valley-lan', 'summit-dual-stack', 'season-opening'])(
  'sentences of the spec of %s that are typed as they are read are among what is offered, nearly all at first place',
  (slug) => {
    const given = lab(slug);
    const sayable = sayableOf(given);
    const rules = given.spec.sections
      .flatMap(({ requirements }) => requirements.map(({ rule }) => rule))
      .filter(({ kind }) => RULE_KINDS.some((each) => each.kind === kind));
    const missed: string[] = [];
    let isFirst = 0;
    for (const rule of rules) {
      const sentence = sentenceOf(wordsOf(rule, sayable.names));
      const found = rulesTyped(sentence, sayable).map((each) => each.sentence);
      if (found[0] === sentence) isFirst++;
      if (!found.includes(sentence)) missed.push(`${sentence} => ${found[0]}`);
    }
    expect([missed.slice(0, 12), missed.length]).toEqual([[], 0]);
    expect(isFirst).toBeGreaterThanOrEqual(Math.floor(rules.length * 0.9));
  },
);

test('each kind is found by the sentence it begins with', () => {
  const missed = RULE_KINDS.filter(({ fresh }) => {
    const rule = fresh as Rule & { task?: string };
    const sayable = {
      ...three,
      names: { ...three.names, task: () => 'task 1' },
      tasks: [{ id: rule.task ?? '' }],
    };
    const sentence = sentenceOf(wordsOf(rule, sayable.names));
    return !rulesTyped(sentence, sayable).some((each) => each.sentence === sentence);
  });
  // Where answers to choose from end and the right one begins is not seen in its words.
  expect(missed.map(({ kind }) => kind)).toEqual(['answerChosen']);
});
