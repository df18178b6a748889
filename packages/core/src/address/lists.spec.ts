import fc from 'fast-check';
import { runs } from '../tests/runs';
import {
  AddressList,
  FreeSpace,
  bitsOf,
  contains,
  firstOf,
  formatAddress,
  formatPrefix,
  formatRange,
  freeBlocks,
  lastOf,
  nextFreeAddress,
  overlaps,
  parseAddress,
  parsePrefix,
  parseRange,
  placeBlocks,
  practiceSheet,
  prefixOf,
  rangeToPrefixes,
  sizeOf,
  sizeWords,
  split,
  summarise,
  workings,
  type Prefix,
} from '.';

const block = (text: string): Prefix => {
  const read = parsePrefix(text);
  if (!read.ok) throw new Error(read.error.text);
  return read.value;
};
const address = (text: string) => {
  const read = parseAddress(text);
  if (!read.ok) throw new Error(read.error.text);
  return read.value;
};

describe('a list of addresses answers as a plain set does', () => {
  const values = fc.uniqueArray(fc.bigInt({ min: 0n, max: 300n }), { maxLength: 120 });
  test('for counting, finding and the next free one', () => {
    fc.assert(
      fc.property(values, fc.bigInt({ min: 0n, max: 300n }), fc.bigInt({ min: 0n, max: 300n }), (all, a, b) => {
        const [from, to] = a < b ? [a, b] : [b, a];
        const list = AddressList.of(4, all);
        const inside = all.filter((value) => value >= from && value <= to);
        expect(list.countIn(from, to)).toBe(inside.length);
        expect([...list.within(from, to)]).toEqual(inside.sort((x, y) => Number(x - y)));
        let free: bigint | null = null;
        for (let at = from; at <= to && free === null; at++) if (!all.includes(at)) free = at;
        expect(list.nextFree(from, to)).toBe(free);
        expect(list.has(a)).toBe(all.includes(a));
      }),
      { numRuns: runs(150) },
    );
  });
  test('with and without one address, the old list staying as it is', () => {
    fc.assert(
      fc.property(values, fc.bigInt({ min: 0n, max: 300n }), (all, wanted) => {
        const list = AddressList.of(6, all);
        expect(list.with(wanted).has(wanted)).toBe(true);
        expect(list.without(wanted).has(wanted)).toBe(false);
        expect(list.size).toBe(all.length);
        expect(list.with(wanted).size).toBe(new Set([...all, wanted]).size);
      }),
    );
  });
  test('in 128 bits', () => {
    const start = address('fd5e:7a3c:90b1::1').value;
    const list = AddressList.of(6, [start, start + 1n, start + 3n]);
    expect(list.nextFree(start, start + (1n << 64n))).toBe(start + 2n);
  });
});

describe('a range', () => {
  test.each([
    ['10.84.16.21 - 10.84.16.40', '10.84.16.21 - 10.84.16.40'],
    ['10.84.16.21-40', '10.84.16.21 - 10.84.16.40'],
    [' 10.84.16.21 – 10.84.16.40 ', '10.84.16.21 - 10.84.16.40'],
    ['10.84.16.250 to 10.84.17.3', '10.84.16.250 - 10.84.17.3'],
    ['fd5e:7a3c:90b1::21-2f', 'fd5e:7a3c:90b1::21 - fd5e:7a3c:90b1::2f'],
    ['10.84.16.21 - 10.84.16.21', '10.84.16.21'],
  ])('%s is read', (text, wanted) => {
    const read = parseRange(text);
    expect(read.ok && formatRange(read.value)).toBe(wanted);
  });
  test.each([
    ['10.84.16.40-21', /runs backwards/],
    ['10.84.16.21', /is no range/],
    ['10.84.16.21-300', /300 in "10\.84\.16\.300" is more than 255/],
    ['10.84.16.21 - fd5e::1', /begins as IPv4 and ends as IPv6/],
    ['10.84.16.021-40', /begins with a zero/],
  ])('%s is refused with a sentence', (text, wanted) => {
    const read = parseRange(text);
    expect(read.ok ? '' : read.error.text).toMatch(wanted);
  });
});

describe('free space', () => {
  const root = block('10.84.0.0/24');
  const used = fc
    .array(fc.record({ length: fc.integer({ min: 25, max: 30 }), at: fc.integer({ min: 0, max: 63 }) }), {
      maxLength: 6,
    })
    .map((wishes) =>
      wishes.map(({ length, at }): Prefix => {
        const size = sizeOf({ ...root, length });
        return { ...root, length, value: root.value + ((BigInt(at) * size) % 256n) };
      }),
    );
  test('is what is left, and taking a free block takes exactly that', () => {
    fc.assert(
      fc.property(used, fc.integer({ min: 24, max: 30 }), (taken, length) => {
        const space = FreeSpace.of(root, taken);
        expect(space.all).toEqual(freeBlocks(root, taken));
        for (const place of [space.next(length), space.tightest(length)]) {
          const possible = space.all.some((prefix) => prefix.length <= length);
          expect(place !== null).toBe(possible);
          if (!place) continue;
          expect(taken.some((prefix) => overlaps(prefix, place))).toBe(false);
          expect(space.take(place).all).toEqual(freeBlocks(root, [...taken, place]));
        }
        const lowest = space.next(length);
        if (lowest)
          expect(space.all.some((prefix) => prefix.length <= length && prefix.value < lowest.value)).toBe(false);
      }),
      { numRuns: runs(120) },
    );
  });
  test('whatever can be placed in any order is placed, compared with trying all orders and places', () => {
    const fits = (free: readonly Prefix[], lengths: readonly number[]): boolean => {
      const [first, ...rest] = lengths;
      if (first === undefined) return true;
      return free.some((prefix) => {
        if (prefix.length > first) return false;
        for (let at = prefix.value; at < prefix.value + sizeOf(prefix); at += sizeOf({ ...prefix, length: first })) {
          const place = { ...prefix, value: at, length: first };
          if (
            fits(
              free.flatMap((each) => (each === prefix ? freeBlocks(prefix, [place]) : [each])),
              rest,
            )
          )
            return true;
        }
        return false;
      });
    };
    const small = block('10.84.0.0/28');
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 0, max: 15 }), { maxLength: 3 }),
        fc.array(fc.integer({ min: 29, max: 32 }), { minLength: 1, maxLength: 4 }),
        (singles, lengths) => {
          const taken = singles.map((at) => ({ ...small, value: small.value + BigInt(at), length: 32 }));
          const space = FreeSpace.of(small, taken);
          const placed = placeBlocks(space, lengths);
          expect(placed.ok).toBe(fits(space.all, lengths));
          if (!placed.ok) return;
          for (const [at, block] of placed.value.entries()) {
            expect(block.length).toBe(lengths[at]);
            expect([...taken, ...placed.value.slice(0, at)].some((other) => overlaps(block, other))).toBe(false);
          }
        },
      ),
      { numRuns: runs(50) },
    );
  });
  test('names its largest block', () => {
    expect(formatPrefix(FreeSpace.of(root, [block('10.84.0.64/26')]).largest!)).toBe('10.84.0.128/25');
    expect(FreeSpace.of(root, [root]).largest).toBeNull();
    expect(FreeSpace.of(root, [root]).next(32)).toBeNull();
  });
});

test('the next free address of a full list and of a plain search agree', () => {
  const subnet = block('10.84.1.0/28');
  const used = [1, 2, 3, 5].map((last) => address(`10.84.1.${last}`));
  const list = AddressList.of(
    4,
    used.map((address) => address.value),
  );
  expect(formatAddress({ family: 4, value: list.nextFree(subnet.value + 1n, subnet.value + 14n)! })).toBe('10.84.1.4');
  expect(nextFreeAddress(subnet, used)!.value).toBe(list.nextFree(subnet.value + 1n, subnet.value + 14n));
});

describe('workings', () => {
  const words = (text: string, length: number): string =>
    workings(address(text), length)
      .map((working) => `${working.title}: ${working.words}`)
      .join('\n');
  test('show an IPv4 class how 10.84.3.7/26 comes to 10.84.3.0', () => {
    const all = words('10.84.3.7', 26);
    expect(all).toMatch(/256 − 192 = 64: blocks begin at every multiple of 64\. 7 lies in the one that begins at 0\./);
    expect(all).toMatch(
      /2\^6 − 2 = 62: the network address 10\.84\.3\.0 and the broadcast address are no host’s\. Usable are 10\.84\.3\.1 to 10\.84\.3\.62/,
    );
    expect(all).toMatch(/Next block: .*10\.84\.3\.64\/26/);
  });
  test('the bits are those of address, mask and block', () => {
    const and = workings(address('10.84.3.7'), 26)[1]!;
    expect(and.bits.map((bit) => bit.groups.join('.'))).toEqual([
      '00001010.01010100.00000011.00000111',
      '11111111.11111111.11111111.11000000',
      '00001010.01010100.00000011.00000000',
    ]);
  });
  test('show IPv6 by hexadecimal digits', () => {
    const all = words('fd5e:7a3c:90b1:25::7', 58);
    expect(all).toMatch(
      /digit 15 .* 16 ÷ 2\^2 = 4: blocks begin at every multiple of 4 of that digit\. 2 lies in the one that begins at 0\./,
    );
    expect(all).toMatch(/fd5e:7a3c:90b1:40::\/58/);
    expect(words('fd5e::1', 64)).toMatch(/A subnet for hosts is a \/64/);
  });
  test.each([
    ['10.84.15.4', 31, /both usable for the two ends of a link \(RFC 3021\): 10\.84\.15\.4 to 10\.84\.15\.5/],
    ['10.84.15.4', 32, /A \/32 is one address alone/],
    ['10.84.15.4', 24, /ends exactly behind octet 3/],
    ['255.255.255.7', 24, /this block is the last of the address space/],
    ['10.1.2.3', 0, /the whole address space/],
    ['fd5e::', 127, /RFC 6164/],
  ])('%s/%i', (text, length, wanted) => {
    expect(words(text, length)).toMatch(wanted);
  });
  test('sizes are explained by the size that is too small and the one that fits', () => {
    expect(sizeWords(41)).toEqual({ length: 26, words: '2^5 − 2 = 30 is too few, 2^6 − 2 = 62 fits' });
    expect(sizeWords(2)).toEqual({ length: 30, words: '2^2 − 2 = 2 fits' });
    expect(sizeWords(255).length).toBe(23);
  });
});

describe('a practice sheet', () => {
  test('is the same for the same seed, another for another, and never longer than 200', () => {
    expect(practiceSheet(7, 12)).toEqual(practiceSheet(7, 12));
    expect(practiceSheet(8, 12)).not.toEqual(practiceSheet(7, 12));
    expect(practiceSheet(7, 100_000)).toHaveLength(200);
  });
  test('its answers to "which block" and "same block" are right by plain counting', () => {
    const inBlock = (text: string, length: number): string => {
      const numbers = text.split('.').map(Number);
      const value = numbers.reduce((sum, number) => sum * 256 + number, 0);
      const size = 2 ** (32 - length);
      const start = Math.floor(value / size) * size;
      return `${[16777216, 65536, 256, 1].map((unit) => Math.floor(start / unit) % 256).join('.')}/${length}`;
    };
    let seen = 0;
    for (const { question, answer } of practiceSheet(3, 200)) {
      const which = /^Which block does ([\d.]+)\/(\d+) lie in/.exec(question);
      const same = /^Do ([\d.]+) and ([\d.]+) lie in the same \/(\d+)/.exec(question);
      if (which) expect(answer).toBe(inBlock(which[1]!, Number(which[2])));
      if (same) {
        const [a, b] = [inBlock(same[1]!, Number(same[3])), inBlock(same[2]!, Number(same[3]))];
        expect(answer.startsWith(a === b ? 'Yes' : 'No')).toBe(true);
        expect(answer).toContain(a);
      }
      seen += which || same ? 1 : 0;
      expect(question).toMatch(/\?$|notation\.$|length\.$|host|usable address/);
      expect(answer).not.toBe('');
    }
    expect(seen).toBe(40);
  });
});

describe('laws of blocks, in both families', () => {
  const anyBlock = fc.oneof(
    fc.tuple(fc.constant(4 as const), fc.bigInt({ min: 0n, max: (1n << 32n) - 1n }), fc.integer({ min: 0, max: 32 })),
    fc.tuple(fc.constant(6 as const), fc.bigInt({ min: 0n, max: (1n << 128n) - 1n }), fc.integer({ min: 0, max: 128 })),
  );
  const blockOf = ([family, value, length]: [4 | 6, bigint, number]): Prefix => prefixOf({ family, value }, length);
  const partsOf = (whole: Prefix, bits: number): Prefix[] => {
    const done = split(whole, Math.min(bitsOf(whole.family), whole.length + bits));
    if (!done.ok) throw new Error(done.error);
    return done.value;
  };
  test('the parts of a split are disjoint, in order, and cover the whole; joined again they are the whole', () => {
    fc.assert(
      fc.property(anyBlock, fc.integer({ min: 0, max: 6 }), (wish, bits) => {
        const whole = blockOf(wish);
        const parts = partsOf(whole, bits);
        expect(parts.reduce((sum, part) => sum + sizeOf(part), 0n)).toBe(sizeOf(whole));
        for (const [at, part] of parts.entries()) {
          expect(contains(whole, part)).toBe(true);
          if (at) expect(part.value).toBe(parts[at - 1]!.value + sizeOf(parts[at - 1]!));
        }
        expect(summarise([...parts].reverse())).toEqual([whole]);
      }),
      { numRuns: runs(300) },
    );
  });
  test('what is written is read as the same; a range is the blocks that cover it, joined', () => {
    fc.assert(
      fc.property(anyBlock, (wish) => {
        const prefix = blockOf(wish);
        expect(block(formatPrefix(prefix))).toEqual(prefix);
        expect(address(formatAddress(firstOf(prefix)))).toEqual(firstOf(prefix));
        expect(rangeToPrefixes({ from: firstOf(prefix), to: lastOf(prefix) })).toEqual([prefix]);
        const span = parseRange(`${formatAddress(firstOf(prefix))} - ${formatAddress(lastOf(prefix))}`);
        expect(span).toEqual({ ok: true, value: { from: firstOf(prefix), to: lastOf(prefix) } });
      }),
      { numRuns: runs(500) },
    );
  });
  test('two blocks are apart, or one holds the other', () => {
    fc.assert(
      fc.property(anyBlock, anyBlock, (a, b) => {
        const [x, y] = [blockOf(a), blockOf(b)];
        const meet = x.family === y.family && x.value <= lastOf(y).value && y.value <= lastOf(x).value;
        expect(overlaps(x, y)).toBe(meet);
        expect(overlaps(x, y)).toBe(contains(x, y) || contains(y, x));
      }),
      { numRuns: runs(500) },
    );
  });
});
