import { planTree, readRanges } from '@sobrin/core/plan';
import { plan } from '../tests/plans';
import { fillWords, percent, planRows, shortSix } from './plan-rows';

const none: ReadonlySet<string> = new Set();
const tree = planTree(plan());
const rows = (state: Partial<Parameters<typeof planRows>[2]> = {}): string[] =>
  planRows(tree, readRanges(tree), { closed: none, opened: none, search: '', ...state }).map(
    (row) => `${'·'.repeat(row.depth)}${row.key}`,
  );

test('blocks are open, subnets are closed until they are opened', () => {
  expect(rows()).toEqual(['root', '·valley', '··guests', '··tickets', '·middle']);
  expect(rows({ closed: new Set(['valley']) })).toEqual(['root', '·valley', '·middle']);
  expect(rows({ opened: new Set(['tickets']) })).toEqual([
    'root',
    '·valley',
    '··guests',
    '··tickets',
    '···10.84.1.2',
    '···10.84.1.3',
    '···range pool',
    '·middle',
  ]);
});
test.each([
  ['desk-2', ['root', '·valley', '··tickets', '···10.84.1.3']],
  ['door', ['root', '·valley', '··tickets', '···10.84.1.3']],
  ['vlan 90', ['root', '·valley', '··guests']],
  ['10.84.1', ['root', '·valley', '··tickets', '···10.84.1.2', '···10.84.1.3', '···range pool']],
  ['90b1:1:', ['root', '·valley', '··tickets']],
  ['nothing of the kind', []],
])('looking for "%s" shows what matches, with the blocks around it', (search, wanted) => {
  expect(rows({ search })).toEqual(wanted);
});
test('how full in words: never 0 where something is taken, never 100 where something is free', () => {
  expect([percent(0n, 100n), percent(1n, 4096n), percent(4095n, 4096n), percent(4096n, 4096n)]).toEqual([
    0, 1, 99, 100,
  ]);
  expect(fillWords({ divided: true, taken: 320n, of: 1024n, reserved: 0n })).toBe('31 %');
  expect(fillWords({ divided: false, taken: 3n, of: 62n, reserved: 13n })).toBe('3 of 62');
  expect(fillWords({ divided: false, taken: 3n, of: 1n << 64n, reserved: 0n })).toBe('3');
});
test('IPv6 prefixes are short beside the root they share, and the root itself is whole', () => {
  expect(shortSix('fd5e:7a3c:90b1:1::/64', tree)).toBe('…:1::/64');
  expect(shortSix('fd5e:7a3c:90b1::/48', tree)).toBe('fd5e:7a3c:90b1::/48');
  expect(shortSix('2001:db8:84:1::/64', tree)).toBe('2001:db8:84:1::/64');
});
