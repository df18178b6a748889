import fc from 'fast-check';
import { meetingPlaces } from '../changes';
import { good, refusal, smallPlan } from '../tests/plans';
import { runs } from '../tests/runs';
import { type PlanCommand, applyPlanCommand, meetingWords, readPlan } from '.';

describe('changes of a plan', () => {
  const take = (address: string, name: string): PlanCommand => ({
    kind: 'takeAddresses',
    addresses: { [address]: { name } },
  });
  const print = (command: PlanCommand, document = smallPlan()) => {
    const { reads, writes } = good(applyPlanCommand(document, command));
    return { reads, writes };
  };
  test('an address that somebody has is never given to another', () => {
    expect(refusal(applyPlanCommand(smallPlan(), take('10.84.1.2', 'THIEF')))).toBe('10.84.1.2 is taken by DESK-1.');
    expect(refusal(applyPlanCommand(smallPlan(), take('fd5e::0001', 'X')))).toMatch(/is written fd5e::1/);
    expect(refusal(applyPlanCommand(smallPlan(), { kind: 'freeAddresses', addresses: ['10.84.1.9'] }))).toMatch(
      /not in the plan any more/,
    );
  });
  test('two takers of one address meet; takers of two do not', () => {
    expect(meetingPlaces(print(take('10.84.1.9', 'A')), print(take('10.84.1.9', 'B')))).toEqual([
      ['addresses', '10.84.1.9'],
    ]);
    expect(meetingPlaces(print(take('10.84.1.9', 'A')), print(take('10.84.1.10', 'B')))).toEqual([]);
  });
  test('two blocks put into the same space meet, whatever their ids; blocks apart do not', () => {
    const add = (id: string, prefix: string): PlanCommand => ({ kind: 'addBlock', id, block: { prefix, name: id } });
    const meet = (a: PlanCommand, b: PlanCommand): string[] =>
      meetingPlaces(print(a), print(b)).map((path) => meetingWords(path, smallPlan()));
    expect(meet(add('a', '10.84.2.0/24'), add('b', '10.84.2.64/26'))).toEqual(['10.84.2.0/24']);
    expect(meet(add('b', '10.84.2.64/26'), add('a', '10.84.2.0/24'))).toEqual(['10.84.2.64/26']);
    expect(meet(add('a', '10.84.2.0/24'), add('b', '10.84.3.0/24'))).toEqual([]);
    expect(meet(add('a', 'fd5e:7a3c:90b1:7::/64'), add('b', 'fd5e:7a3c:90b1:7::/64'))).toEqual([
      'fd5e:7a3c:90b1:7::/64',
    ]);
    expect(meet(add('a', '10.84.2.0/24'), { kind: 'setBlock', id: 'winch', set: { prefix: '10.84.2.0/28' } })).toEqual([
      '10.84.2.0/24',
    ]);
    expect(
      meet({ kind: 'setBlock', id: 'winch', set: { name: 'x' } }, { kind: 'setBlock', id: 'winch', set: { vlan: 7 } }),
    ).toEqual([]);
    expect(
      meet(
        { kind: 'setBlock', id: 'winch', set: { name: 'x' } },
        { kind: 'setBlock', id: 'winch', set: { name: 'y' } },
      ),
    ).toEqual(['name of Winch']);
    expect(
      meet({ kind: 'setBlock', id: 'winch', set: { name: 'x' } }, { kind: 'removeBlocks', ids: ['winch'] }),
    ).toEqual(['name of Winch', 'Winch']);
  });
  test('undoing the removal of a block claims its space again', () => {
    const removed = good(applyPlanCommand(smallPlan(), { kind: 'removeBlocks', ids: ['winch'] }));
    const back = print(removed.inverse, removed.document);
    const other = print(
      { kind: 'addBlock', id: 'new', block: { prefix: '10.84.4.0/27', name: 'new' } },
      removed.document,
    );
    expect(meetingPlaces(back, other).length).toBeGreaterThan(0);
  });
  test('any sequence undone in reverse brings back the plan to the letter', () => {
    const anyCommand: fc.Arbitrary<PlanCommand> = fc.oneof(
      fc.integer({ min: 2, max: 40 }).map((last) => take(`10.84.1.${last}`, 'X')),
      fc
        .integer({ min: 2, max: 40 })
        .map((last): PlanCommand => ({ kind: 'freeAddresses', addresses: [`10.84.1.${last}`] })),
      fc.constantFrom('root', 'tickets', 'winch').map((id): PlanCommand => ({ kind: 'removeBlocks', ids: [id] })),
      fc
        .constantFrom('tickets', 'winch')
        .map((id): PlanCommand => ({ kind: 'setBlock', id, set: { vlan: null, name: 'other' } })),
      fc.constant<PlanCommand>({ kind: 'setRange', id: 'pool', set: null }),
      fc.integer({ min: 0, max: 3 }).map((at): PlanCommand => ({
        kind: 'addBlock',
        id: `n${at}`,
        block: { prefix: `10.84.${at + 8}.0/24`, name: 'n' },
      })),
    );
    fc.assert(
      fc.property(fc.array(anyCommand, { maxLength: 20 }), (commands) => {
        let document = smallPlan();
        const inverses: PlanCommand[] = [];
        for (const command of commands) {
          const done = applyPlanCommand(document, command);
          if (!done.ok) continue;
          document = done.value.document;
          expect(readPlan(document).ok).toBe(true);
          inverses.unshift(done.value.inverse);
        }
        for (const inverse of inverses) document = good(applyPlanCommand(document, inverse)).document;
        expect(document).toEqual(smallPlan());
      }),
      { numRuns: runs(30) },
    );
  });
  test('20,000 addresses are taken and given back at once without copying the plan 20,000 times', () => {
    const addresses = Object.fromEntries(
      Array.from({ length: 20_000 }, (_, at) => [`10.84.${16 + (at >> 8)}.${at & 255}`, { name: `h${at}` }]),
    );
    const done = good(applyPlanCommand(smallPlan(), { kind: 'takeAddresses', addresses }));
    expect(Object.keys(done.document.addresses!)).toHaveLength(20_002);
    expect(good(applyPlanCommand(done.document, done.inverse)).document).toEqual(smallPlan());
  });
  test.each([
    [{ blocks: {}, addresses: { '10.84.1.300': { name: '' } } }, /300/],
    [{ blocks: {}, addresses: { 'fd5e:0::1': { name: '' } } }, /is written fd5e::1 here/],
    [{ blocks: { 'a b': { prefix: '', name: '' } } }, /"a b" has a form that ids do not have/],
    [{ blocks: { a: { prefix: '', name: '', colour: 'red' } } }, /"colour" is not known here/],
  ])('a plan that does not hold together is refused: %#', (value, wanted) => {
    const read = readPlan(value);
    expect(read.ok ? '' : read.error[0]!.text).toMatch(wanted);
  });
});
