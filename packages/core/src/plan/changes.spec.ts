import { after, good, plan, refusal, smallPlan } from '../tests/plans';
import {
  type Plan,
  type PlannedChange,
  applyPlanCommand,
  applyPlanCommands,
  changePrefix,
  mergeBlocks,
  planTree,
  swapBlocks,
} from '.';

describe('moving, resizing, merging and swapping', () => {
  const made = (document: Plan, change: PlannedChange): Plan => after(document, ...change.commands);
  const said = (change: PlannedChange): string =>
    change.consequences
      .map((consequence) => (consequence.warns ? `! ${consequence.text}` : consequence.text))
      .join('\n');
  test('a block moves with the blocks, ranges and addresses in it, and undo brings all back', () => {
    const start = plan((plan) => void (plan.blocks.tickets!.gateway = '10.84.1.1'));
    const change = good(changePrefix(planTree(start), 'valley', '10.84.8.0/22'));
    const done = made(start, change);
    expect(done.blocks.tickets).toMatchObject({
      prefix: '10.84.9.0/26',
      gateway: '10.84.9.1',
      prefix6: 'fd5e:7a3c:90b1:1::/64',
    });
    expect(Object.keys(done.addresses!)).toEqual(['10.84.9.2', '10.84.9.3']);
    expect(done.ranges!.pool).toMatchObject({ from: '10.84.8.100', to: '10.84.8.254' });
    expect(said(change)).toBe(
      [
        'Valley moves from 10.84.0.0/22 to 10.84.8.0/22.',
        '2 blocks in it move along.',
        '2 addresses change: what uses them must be set anew.',
        '1 range moves along.',
        'It lies in Ridge, 10.84.0.0/20.',
      ].join('\n'),
    );
    const applied = good(applyPlanCommands(start, 'move', change.commands));
    expect(good(applyPlanCommand(applied.document, applied.inverse)).document).toEqual(start);
  });
  test('what would collide or fall out is said before', () => {
    const tree = planTree(smallPlan());
    expect(said(good(changePrefix(tree, 'tickets', '10.84.0.0/26')))).toMatch(/It lies in Guests/);
    expect(said(good(changePrefix(tree, 'guests', '10.84.0.0/23')))).toMatch(
      /grows from 10\.84\.0\.0\/24 to 10\.84\.0\.0\/23: 256 → 512 addresses\.[^]*! It takes space of Tickets\./,
    );
    expect(said(good(changePrefix(tree, 'valley', '10.84.0.0/24')))).toMatch(
      /! 1 block no longer lies in it: Tickets\.[^]*! 2 addresses in use are left outside/,
    );
    expect(refusal(changePrefix(tree, 'valley', '10.84.0.7/24'))).toMatch(/is an address inside a block/);
    expect(refusal(changePrefix(tree, 'valley', '10.84.0.0/22'))).toMatch(/already/);
  });
  test('into a smaller place only what fits goes along', () => {
    const start = smallPlan();
    const change = good(changePrefix(planTree(start), 'valley', '10.84.12.0/24'));
    expect(said(change)).toMatch(/! 3 things in it do not fit into the new size and stay where they are/);
    expect(made(start, change).blocks.tickets!.prefix).toBe('10.84.1.0/26');
  });
  test('an address that somebody has in the new place stays with them', () => {
    const start = plan((plan) => void (plan.addresses!['10.84.2.2'] = { name: 'OTHER' }));
    const change = good(changePrefix(planTree(start), 'tickets', '10.84.2.0/26'));
    expect(said(change)).toMatch(/! 1 address of the new place is in use already and stays with who has it/);
    expect(made(start, change).addresses).toMatchObject({
      '10.84.2.2': { name: 'OTHER' },
      '10.84.1.2': { name: 'DESK-1' },
      '10.84.2.3': { name: 'DESK-2' },
    });
  });
  test('two blocks of a size swap with all that is in them', () => {
    const start = plan((plan) => {
      plan.blocks.shop = { prefix: '10.84.1.64/26', prefix6: 'fd5e:7a3c:90b1:2::/64', name: 'Shop' };
      plan.addresses!['10.84.1.70'] = { name: 'TILL' };
    });
    const done = made(start, good(swapBlocks(planTree(start), 'tickets', 'shop')));
    expect([done.blocks.tickets!.prefix, done.blocks.shop!.prefix, done.blocks.shop!.prefix6]).toEqual([
      '10.84.1.64/26',
      '10.84.1.0/26',
      'fd5e:7a3c:90b1:1::/64',
    ]);
    expect(done.addresses).toEqual({
      '10.84.1.66': { name: 'DESK-1' },
      '10.84.1.67': { name: 'DESK-2' },
      '10.84.1.6': { name: 'TILL' },
    });
    expect(refusal(swapBlocks(planTree(start), 'tickets', 'winch'))).toMatch(/only blocks of the same size/);
  });
  test('neighbours that make one block merge; others do not', () => {
    const start = plan((plan) => {
      plan.blocks.shop = { prefix: '10.84.1.64/26', name: 'Shop', vlan: 30 };
      delete plan.blocks.tickets!.prefix6;
    });
    const change = good(mergeBlocks(planTree(start), ['tickets', 'shop']));
    expect(said(change)).toMatch(/Tickets becomes 10\.84\.1\.0\/25; Shop goes\.\n! They were in VLANs 10 and 30/);
    expect(made(start, change).blocks).toMatchObject({ tickets: { prefix: '10.84.1.0/25', vlan: 10 } });
    expect(refusal(mergeBlocks(planTree(start), ['tickets', 'winch']))).toMatch(/not the two halves of one block/);
  });
});
