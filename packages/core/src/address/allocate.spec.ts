import fc from 'fast-check';
import {
  type Prefix,
  contains,
  formatPrefix,
  freeBlocks,
  layOut,
  overlaps,
  parsePrefix,
  sizeOf,
  subnetLength,
  summarise,
  usableCount,
} from '.';

const block = (text: string): Prefix => {
  const read = parsePrefix(text);
  if (!read.ok) throw new Error(read.error.text);
  return read.value;
};
const laidOut = (text: string, ...hosts: number[]): string[] | string => {
  const done = layOut(block(text), hosts.map(BigInt));
  return done.ok ? done.value.map((subnet) => formatPrefix(subnet.prefix)) : done.error;
};

test.each([
  [500, 23],
  [254, 24],
  [255, 23],
  [60, 26],
  [62, 26],
  [63, 25],
  [3, 29],
  [2, 30],
  [1, 30],
])('%i hosts need a /%i', (hosts, length) => expect(subnetLength(4, BigInt(hosts))).toBe(length));
test('an IPv6 subnet for hosts is a /64, however few they are', () => expect(subnetLength(6, 2n)).toBe(64));

test('the largest comes first, and the parts stand in the order of the wishes', () => {
  expect(laidOut('10.84.0.0/16', 500, 200, 60, 2)).toEqual([
    '10.84.0.0/23',
    '10.84.2.0/24',
    '10.84.3.0/26',
    '10.84.3.64/30',
  ]);
  expect(laidOut('10.84.0.0/16', 2, 60, 200, 500)).toEqual([
    '10.84.3.64/30',
    '10.84.3.0/26',
    '10.84.2.0/24',
    '10.84.0.0/23',
  ]);
  expect(laidOut('fd5e:7a3c:90b1::/48', 10, 20)).toEqual(['fd5e:7a3c:90b1::/64', 'fd5e:7a3c:90b1:1::/64']);
});
test('what does not fit is said, with what is wanted', () => {
  expect(laidOut('10.84.0.0/24', 100, 100, 10)).toBe(
    '10.84.0.0/24 has no room left for 10 hosts: a /28 (16 addresses) is wanted.',
  );
  expect(laidOut('10.84.0.0/24', 300)).toMatch(/a \/23 \(512 addresses\) is wanted/);
  expect(laidOut('10.84.0.0/24')).toEqual([]);
});

describe('laws', () => {
  const wishes = fc.array(fc.integer({ min: 1, max: 2000 }), { minLength: 1, maxLength: 12 });
  test('parts are inside, disjoint, large enough and no larger than needed; with what is free they make the block', () => {
    fc.assert(
      fc.property(wishes, (hosts) => {
        const root = block('10.84.0.0/16');
        const done = layOut(root, hosts.map(BigInt));
        if (!done.ok) return;
        const prefixes = done.value.map((subnet) => subnet.prefix);
        for (const [at, { hosts: wanted, prefix }] of done.value.entries()) {
          expect(contains(root, prefix)).toBe(true);
          expect(usableCount(prefix)).toBeGreaterThanOrEqual(wanted);
          if (prefix.length < 30) expect(usableCount({ ...prefix, length: prefix.length + 1 })).toBeLessThan(wanted);
          for (const other of prefixes.slice(at + 1)) expect(overlaps(prefix, other)).toBe(false);
        }
        expect(summarise([...prefixes, ...freeBlocks(root, prefixes)])).toEqual([root]);
      }),
    );
  });
  test('whatever fits by size fits in place: nothing is lost between the parts', () => {
    fc.assert(
      fc.property(wishes, (hosts) => {
        const root = block('10.84.0.0/20');
        const needed = hosts.reduce(
          (sum, host) => sum + sizeOf({ ...root, length: subnetLength(4, BigInt(host))! }),
          0n,
        );
        expect(layOut(root, hosts.map(BigInt)).ok).toBe(needed <= sizeOf(root));
      }),
    );
  });
});
