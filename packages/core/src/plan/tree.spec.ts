import fc from 'fast-check';
import { formatAddress } from '../address';
import { after, plan, smallBrief, smallPlan } from '../tests/plans';
import { runs } from '../tests/runs';
import { type Block, type Brief, type Plan, fillOf, nextFreeIn, planTree } from '.';

describe('the tree follows from the prefixes', () => {
  test('blocks lie in the smallest block that holds them, in order of their addresses, in both families', () => {
    const tree = planTree(smallPlan());
    expect(tree.order).toEqual(['root', 'valley', 'guests', 'tickets', 'middle', 'winch']);
    expect(
      [...tree.nodes.values()].map((node) => [node.id, node.depth, node.parents[4], node.parents[6]]).sort(),
    ).toEqual([
      ['guests', 2, 'valley', 'valley'],
      ['middle', 1, 'root', 'root'],
      ['root', 0, null, null],
      ['tickets', 2, 'valley', 'valley'],
      ['valley', 1, 'root', 'root'],
      ['winch', 2, 'middle', 'middle'],
    ]);
  });
  test('a plan of IPv6 alone, and blocks that cannot be read, which come last', () => {
    const tree = planTree({
      blocks: {
        bad: { prefix: '10.84.1.7/24', name: 'typed wrong' },
        sub: { prefix: 'fd5e:7a3c:90b1:5::/64', name: 'sub' },
        all: { prefix: 'fd5e:7a3c:90b1::/48', name: 'all' },
      },
    });
    expect(tree.order).toEqual(['all', 'sub', 'bad']);
    expect(tree.nodes.get('sub')!.parent).toBe('all');
  });
  test('reading a changed plan with the help of the one before gives the same as reading it anew', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 62 }), { maxLength: 20 }), (lasts) => {
        let document = smallPlan();
        let tree = planTree(document);
        for (const last of lasts) {
          const key = `10.84.1.${last}`;
          document = after(
            document,
            document.addresses?.[key]
              ? { kind: 'freeAddresses', addresses: [key] }
              : { kind: 'takeAddresses', addresses: { [key]: { name: 'x' } } },
          );
          tree = planTree(document, tree);
        }
        expect(tree).toEqual(planTree(document));
      }),
      { numRuns: runs(20) },
    );
  });
});

describe('how full', () => {
  const brief = smallBrief();
  const fill = (document: Plan, id: string) => {
    const tree = planTree(document);
    const { divided, taken, of, reserved } = fillOf(tree, tree.nodes.get(id)!, brief)!;
    return { divided, taken: Number(taken), of: Number(of), reserved: Number(reserved) };
  };
  test('a divided block is measured by what is divided out of it', () => {
    expect(fill(smallPlan(), 'valley')).toEqual({ divided: true, taken: 256 + 64, of: 1024, reserved: 0 });
    const kept = plan(
      (plan) => void (plan.blocks.spare = { prefix: '10.84.2.0/24', name: 'spare', standing: 'kept-free' }),
    );
    expect(fill(kept, 'valley').taken).toBe(256 + 64);
  });
  test('a subnet by addresses in use and its gateway against usable ones; ranges are set aside', () => {
    expect(fill(smallPlan(), 'tickets')).toEqual({ divided: false, taken: 3, of: 62, reserved: 0 });
    expect(fill(smallPlan(), 'guests')).toEqual({ divided: false, taken: 1, of: 254, reserved: 155 });
  });
  test.each<[string, Partial<Block>, number]>([
    ['a /30 for a link', { prefix: '10.84.15.0/30', use: 'link' }, 2],
    ['a /31 for a link, RFC 3021', { prefix: '10.84.15.0/31', use: 'link' }, 2],
    ['a /32', { prefix: '10.84.15.0/32', use: 'loopback' }, 1],
    ['a pool for address translation uses all', { prefix: '10.84.15.0/29', use: 'translation' }, 8],
    ['unless it is set otherwise', { prefix: '10.84.15.0/29', use: 'translation', ends: 'kept' }, 6],
    ['a subnet of hosts with its ends set usable', { prefix: '10.84.15.0/29', ends: 'usable' }, 8],
  ])('%s', (_what, block, usable) => {
    expect(fill({ blocks: { x: { prefix: '', name: 'x', ...block } } }, 'x').of).toBe(usable);
  });
  test('the next free address passes over gateway, ranges, what is taken, and what a drawing uses', () => {
    const tree = planTree(
      plan((plan) => void (plan.ranges!.eq = { from: '10.84.1.4', to: '10.84.1.9', use: 'infrastructure' })),
    );
    const node = tree.nodes.get('tickets')!;
    const next = (used?: ReadonlySet<bigint>): string =>
      formatAddress(nextFreeIn(tree, node, 4, brief, undefined, used)!);
    expect(next()).toBe('10.84.1.10');
    expect(next(new Set([0x0a54010an]))).toBe('10.84.1.11');
    const last: Brief = { ...brief, schemes: { gateway: 'last' } };
    expect(formatAddress(nextFreeIn(tree, node, 4, last)!)).toBe('10.84.1.1');
    const full = planTree({
      blocks: { x: { prefix: '10.84.15.0/30', name: 'x' } },
      addresses: { '10.84.15.2': { name: 'a' } },
    });
    expect(nextFreeIn(full, full.nodes.get('x')!, 4, brief)).toBeNull();
  });
});
