import { after, plan, smallBrief, smallPlan } from '../tests/plans';
import { type PlanCommand, rebase } from '.';

describe('changes that met others', () => {
  const mine: PlanCommand[] = [
    { kind: 'takeAddresses', addresses: { '10.84.1.9': { name: 'MINE' }, '10.84.1.10': { name: 'ALSO MINE' } } },
    { kind: 'addBlock', id: 'm', block: { prefix: '10.84.2.0/26', name: 'My shop' } },
    { kind: 'setBlock', id: 'winch', set: { vlan: 51 } },
  ];
  test('go onto the other version but for what both took, which is shown with both takers and has the next free one instead', () => {
    const theirs = plan((plan) => {
      plan.addresses!['10.84.1.9'] = { name: 'THEIRS' };
      plan.blocks.t = { prefix: '10.84.2.0/25', name: 'Their store', site: 'Valley' };
      plan.blocks.u = { prefix: '10.84.2.0/27', name: 'Their shelf' };
    });
    const done = rebase(theirs, mine, smallBrief());
    expect(done.met).toEqual([
      { what: '10.84.1.9', mine: 'MINE', theirs: 'THEIRS' },
      { what: '10.84.2.0/26', mine: 'My shop', theirs: 'Their shelf' },
    ]);
    const both = after(theirs, ...done.kept, ...done.instead);
    expect(both.addresses).toMatchObject({
      '10.84.1.9': { name: 'THEIRS' },
      '10.84.1.10': { name: 'ALSO MINE' },
      '10.84.1.4': { name: 'MINE' },
    });
    expect([both.blocks.winch!.vlan, both.blocks.m!.prefix]).toEqual([51, '10.84.2.64/26']);
  });
  test('that met nobody all go', () => {
    const done = rebase(smallPlan(), mine, smallBrief());
    expect([done.met, done.instead]).toEqual([[], []]);
    expect(after(smallPlan(), ...done.kept)).toEqual(after(smallPlan(), ...mine));
  });
});
