import { demoLab } from '../tests/topologies';
import { labOf } from '../tests/labs';
import { type LabFile, type Rule, toldOf, untoldNames } from '.';

const asking = (rule: Rule, texts: string[], brief: LabFile['brief'] = {}): LabFile => ({
  ...labOf([rule]),
  brief,
  tasks: texts.map((text, at) => ({ id: `t${at + 1}`, text })),
});
const told = (rule: Rule, texts: string[], brief?: LabFile['brief']) => toldOf(asking(rule, texts, brief)).of.get('r0');

describe('where students are told what is asked', () => {
  test.each<[string, Rule]>([
    ['one of several', { kind: 'answerChosen', task: 't2', choices: 'hub | switch', right: 'switch' }],
    ['a number', { kind: 'answerNumber', task: 't2', value: '62' }],
    ['words', { kind: 'answerIs', task: 't2', accepted: 'broadcast' }],
    ['what is read by a person', { kind: 'answerRead', task: 't2', ideas: 'it would flood' }],
  ])('a question is its task, and no text need give the answer: %s', (_what, rule) => {
    expect(told(rule, ['Draw.', 'What hangs together?'])).toEqual({ by: 'task', task: 1 });
    expect(toldOf(asking(rule, ['Draw.', 'What hangs together?'])).idle).toEqual([0]);
  });
  const inBlock: Rule = { kind: 'inBlock', who: 'A', block: '10.84.0.0/16' };
  test.each<[string, Rule, string[], LabFile['brief'], object]>([
    [
      'a task that has the block and the device',
      inBlock,
      ['Draw.', 'A lies in **10.84.0.0/16**.'],
      {},
      { by: 'task', task: 1 },
    ],
    ['the brief', inBlock, ['Draw.'], { scenario: 'The desk A is in 10.84.0.0/16.' }, { by: 'brief' }],
    ['one half here, the other there', inBlock, ['Draw A.', 'All is in 10.84.0.0/16.'], {}, { by: 'together' }],
    [
      'a longer block is another one',
      inBlock,
      ['A is in 110.84.0.0/16 or 10.84.0.0/160.'],
      {},
      { by: 'nowhere', lacks: ['10.84.0.0/16'] },
    ],
    [
      'nowhere',
      { kind: 'portsLabelled', who: '@network' },
      ['Draw and cable it.'],
      {},
      { by: 'nowhere', lacks: ['labels'] },
    ],
    [
      'in other forms of a word',
      { kind: 'portsLabelled', who: '@network' },
      ['Every port is labelled.'],
      {},
      { by: 'task', task: 0 },
    ],
    [
      'a number as a word',
      { kind: 'deviceCount', what: 'router', op: 'exactly', n: 3, site: 'anywhere' },
      ['Draw three routers.'],
      {},
      { by: 'task', task: 0 },
    ],
    [
      'a number within another one',
      { kind: 'deviceCount', what: 'router', op: 'exactly', n: 3, site: 'anywhere' },
      ['Draw 30 hosts at 10.3.0.1.'],
      {},
      { by: 'nowhere', lacks: ['3'] },
    ],
    ['what any network needs', { kind: 'uniqueAddresses', who: '@all' }, ['Draw.'], {}, { by: 'itself' }],
    [
      'what is combined',
      { kind: 'allOf', rules: [inBlock, { kind: 'titled' }] },
      ['A is in 10.84.0.0/16.'],
      {},
      { by: 'nowhere', lacks: ['a title'] },
    ],
  ])('%s', (_what, rule, texts, brief, where) => expect(told(rule, texts, brief)).toEqual(where));

  test('a requirement that is put under a task is told there', () => {
    const lab = asking(inBlock, ['Draw.', 'Address it.']);
    lab.spec.sections[0]!.requirements[0]!.task = 't2';
    expect(toldOf(lab).of.get('r0')).toEqual({ by: 'task', task: 1 });
    lab.spec.sections[0]!.requirements[0]!.task = 'gone';
    expect(toldOf(lab).of.get('r0')!.by).toBe('nowhere');
  });
  test('the words of somebody who means harm are words', () => {
    const evil = `${'('.repeat(40)}a+)+$ [x] ${'\\'.repeat(9)}`;
    expect(told({ kind: 'vlanExists', who: 'A', vlan: 10, name: evil }, [evil])).toBeDefined();
  });
  test('a task on which no point hangs is named', () => {
    expect(toldOf(asking(inBlock, ['A is in 10.84.0.0/16.', 'Say what you learnt.'])).idle).toEqual([1]);
  });
  test.each(['valley-lan', 'three-stations', 'winch-isolation', 'summit-dual-stack', 'season-opening'])(
    'in the demo lab %s all that is asked is told somewhere',
    (slug) => {
      const { of } = toldOf(demoLab(slug));
      expect([...of].filter(([, { by }]) => by === 'nowhere')).toEqual([]);
    },
  );
});

describe('names that are prescribed', () => {
  const names = (text: string, starter?: LabFile['starter']) => {
    const lab = { ...asking({ kind: 'titled' }, [text]), ...(starter && { starter }) };
    for (const [id, name] of [
      ['A', 'DESK-1'],
      ['B', 'DESK-10'],
    ] as const)
      lab.reference.devices[id]!.name = name;
    return untoldNames(lab).filter((name) => name.startsWith('DESK'));
  };
  test('are told where a text has them as they are, in any case', () => {
    expect(names('Draw DESK-1 and desk-10.')).toEqual([]);
    expect(names('Draw DESK-10.')).toEqual(['DESK-1']);
    expect(names('Draw all desks, DESK-n.')).toEqual(['DESK-1', 'DESK-10']);
  });
  test('and where the starter has a device of that name', () => {
    const { reference } = labOf([]);
    reference.devices.A!.name = 'desk 1';
    expect(names('Draw DESK-10.', reference)).toEqual([]);
  });
  test('a demo lab lists those that it calls by a pattern only', () => {
    expect(untoldNames(demoLab('valley-lan'))).toEqual(expect.arrayContaining(['DESK-2', 'TURN-1']));
    expect(untoldNames(demoLab('valley-lan'))).not.toContain('RT-V');
  });
});
