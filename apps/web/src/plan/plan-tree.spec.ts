import { planRows } from './plan-tree';

const rows = (...prefixes: string[]) =>
  planRows({ blocks: Object.fromEntries(prefixes.map((prefix, at) => [`b${at}`, { prefix, name: prefix }])) });

test('which block lies in which follows from the prefixes', () => {
  expect(
    rows('10.84.1.0/26', '10.84.0.0/20', '10.84.4.0/22', '10.84.0.0/22').map((one) => [one.block.prefix, one.depth]),
  ).toEqual([
    ['10.84.0.0/20', 0],
    ['10.84.0.0/22', 1],
    ['10.84.1.0/26', 2],
    ['10.84.4.0/22', 1],
  ]);
});
test('a prefix that cannot be read and a block that is there twice are told', () => {
  expect(rows('10.84.0.1/20')[0]!.problem).toMatch(/10\.84\.0\.0\/20/);
  expect(rows('10.84.0.0/24', '10.84.0.0/24').map((one) => one.problem !== null)).toEqual([false, true]);
});
