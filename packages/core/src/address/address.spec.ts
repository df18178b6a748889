import fc from 'fast-check';
import ipaddr from 'ipaddr.js';
import {
  type Prefix,
  broadcastAddress,
  contains,
  formatAddress,
  formatPrefix,
  freeBlocks,
  isPrivate,
  lastOf,
  lengthForHosts,
  networkAddress,
  nextFreeAddress,
  nextFreeBlock,
  overlaps,
  parseAddress,
  parseInterfaceAddress,
  parseMask,
  parsePrefix,
  prefixOf,
  rangeToPrefixes,
  scopeOf,
  sizeOf,
  split,
  summarise,
  usableCount,
  usableRange,
} from '.';

const prefix = (text: string): Prefix => {
  const read = parsePrefix(text);
  if (!read.ok) throw new Error(read.error.text);
  return read.value;
};
const address = (text: string) => {
  const read = parseAddress(text);
  if (!read.ok) throw new Error(read.error.text);
  return read.value;
};
const texts = (list: readonly Prefix[]): string[] => list.map(formatPrefix);

describe('reading addresses', () => {
  test.each([
    ['', 'EMPTY'],
    ['10.84.1. 5', 'SPACE'],
    [' 10.84.1.5', 'SPACE'],
    ['10.84,1.5', 'COMMA'],
    ['10.84.1.5/24', 'PREFIX_NOT_WANTED'],
    ['10.84.1', 'OCTET_COUNT'],
    ['10.84.1.2.3', 'OCTET_COUNT'],
    ['10.84..5', 'OCTET_EMPTY'],
    ['10.84.1.256', 'OCTET_RANGE'],
    ['10.84.1.1000', 'OCTET_RANGE'],
    ['10.084.1.5', 'LEADING_ZERO'],
    ['10.84.1.x', 'CHARACTER'],
    ['l0.84.1.5', 'CHARACTER'],
    ['fd5e:7a3c', 'GROUP_COUNT'],
    ['1:2:3:4:5:6:7:8:9', 'GROUP_COUNT'],
    ['::1::2', 'DOUBLE_COLON'],
    ['fd5e:::1', 'DOUBLE_COLON'],
    ['fd5e:12345::1', 'GROUP_LENGTH'],
    ['fe80::1%eth0', 'ZONE'],
    ['fd5g::1', 'CHARACTER'],
    [':1::2', 'DOUBLE_COLON'],
  ])('%j is refused as %s, in a sentence', (text, code) => {
    const read = parseAddress(text);
    expect(read.ok).toBe(false);
    if (!read.ok) {
      expect(read.error.code).toBe(code);
      expect(read.error.text).toMatch(/\.$/);
    }
  });

  test('a mask may be written as a length or dotted; gaps and wildcard masks are named', () => {
    for (const text of ['10.84.1.5/26', '10.84.1.5/255.255.255.192', '10.84.1.5 255.255.255.192']) {
      const read = parseInterfaceAddress(text);
      expect(read.ok && [formatAddress(read.value.address), read.value.length]).toEqual(['10.84.1.5', 26]);
    }
    expect(parseMask('0.0.0.63')).toMatchObject({
      ok: false,
      error: { code: 'WILDCARD_MASK', text: expect.stringContaining('255.255.255.192') as string },
    });
    expect(parseMask('255.0.255.0')).toMatchObject({ ok: false, error: { code: 'MASK_GAP' } });
    expect(parseInterfaceAddress('10.84.1.5')).toMatchObject({ ok: false, error: { code: 'PREFIX_MISSING' } });
    expect(parseInterfaceAddress('10.84.1.5/33')).toMatchObject({ ok: false, error: { code: 'PREFIX_RANGE' } });
    expect(parsePrefix('10.84.1.5/26')).toMatchObject({
      ok: false,
      error: { code: 'HOST_BITS', text: expect.stringContaining('10.84.1.0/26') as string },
    });
  });
});

test.each([
  // RFC 5952 §4 and §5
  ['2001:DB8:0:0:1:0:0:1', '2001:db8::1:0:0:1'],
  ['2001:db8:0:1:1:1:1:1', '2001:db8:0:1:1:1:1:1'],
  ['2001:0:0:1:0:0:0:1', '2001:0:0:1::1'],
  ['0:0:0:0:0:0:0:0', '::'],
  ['::ffff:192.0.2.1', '::ffff:192.0.2.1'],
  ['fe80:0:0:0:0:0:0:0', 'fe80::'],
  ['64:ff9b::192.0.2.33', '64:ff9b::c000:221'],
])('%s is written %s', (text, canonical) => expect(formatAddress(address(text))).toBe(canonical));

test('usable addresses: /31 and /127 have two, /32 one, others all but network and broadcast', () => {
  expect(
    [
      '10.84.15.0/30',
      '10.84.15.0/31',
      '10.84.15.0/32',
      '10.84.0.0/22',
      'fd5e:7a3c:90b1::/127',
      'fd5e:7a3c:90b1::/128',
    ].map((text) => Number(usableCount(prefix(text)))),
  ).toEqual([2, 2, 1, 1022, 2, 1]);
  expect(formatAddress(usableRange(prefix('10.84.1.64/27')).from)).toBe('10.84.1.65');
  expect(formatAddress(usableRange(prefix('fd5e:7a3c:90b1::/64')).to)).toBe('fd5e:7a3c:90b1:0:ffff:ffff:ffff:ffff');
  expect([
    networkAddress(prefix('10.0.0.0/31')),
    broadcastAddress(prefix('10.0.0.0/31')),
    broadcastAddress(prefix('fd00::/64')),
  ]).toEqual([null, null, null]);
  // 40 hosts and the gateway need 64 addresses; 30 fit into a /27 with its 30 usable ones
  expect([
    lengthForHosts(4, 41n),
    lengthForHosts(4, 30n),
    lengthForHosts(4, 31n),
    lengthForHosts(4, 2n),
    lengthForHosts(4, 1n << 33n),
  ]).toEqual([26, 27, 26, 31, null]);
});

test('splitting, summarising, ranges and free space', () => {
  const parts = split(prefix('10.84.0.0/22'), 24);
  expect(parts.ok && texts(parts.value)).toEqual(['10.84.0.0/24', '10.84.1.0/24', '10.84.2.0/24', '10.84.3.0/24']);
  expect(split(prefix('10.84.0.0/22'), 20).ok).toBe(false);
  expect(split(prefix('fd5e::/16'), 64).ok).toBe(false);
  expect(
    texts(summarise(['10.84.1.0/24', '10.84.0.0/24', '10.84.3.0/24', '10.84.3.128/25', '10.84.2.0/24'].map(prefix))),
  ).toEqual(['10.84.0.0/22']);
  expect(texts(rangeToPrefixes({ from: address('10.84.16.21'), to: address('10.84.16.40') }))).toEqual([
    '10.84.16.21/32',
    '10.84.16.22/31',
    '10.84.16.24/29',
    '10.84.16.32/29',
    '10.84.16.40/32',
  ]);
  const used = ['10.84.0.0/24', '10.84.1.0/26'].map(prefix);
  expect(formatPrefix(nextFreeBlock(prefix('10.84.0.0/22'), used, 26)!)).toBe('10.84.1.64/26');
  expect(formatPrefix(nextFreeBlock(prefix('10.84.0.0/22'), used, 24)!)).toBe('10.84.2.0/24');
  expect(nextFreeBlock(prefix('10.84.0.0/24'), used, 25)).toBeNull();
  expect(texts(freeBlocks(prefix('10.84.0.0/22'), used))).toEqual(['10.84.1.64/26', '10.84.1.128/25', '10.84.2.0/23']);
  expect(formatAddress(nextFreeAddress(prefix('10.84.1.0/30'), [address('10.84.1.1')])!)).toBe('10.84.1.2');
  expect(nextFreeAddress(prefix('10.84.1.0/30'), ['10.84.1.1', '10.84.1.2'].map(address))).toBeNull();
});

test.each([
  ['10.1.2.3', 'private'],
  ['172.31.255.255', 'private'],
  ['172.32.0.0', 'global'],
  ['192.168.208.1', 'private'],
  ['127.16.0.1', 'loopback'],
  ['169.254.7.7', 'link-local'],
  ['100.64.0.1', 'shared'],
  ['198.51.100.9', 'documentation'],
  ['203.0.113.1', 'documentation'],
  ['224.0.0.5', 'multicast'],
  ['255.255.255.255', 'broadcast'],
  ['18.84.1.12', 'global'],
  ['fd5e:7a3c:90b1::1', 'private'],
  ['fe80::1', 'link-local'],
  ['2001:db8:84::1', 'documentation'],
  ['ff02::1', 'multicast'],
  ['::1', 'loopback'],
  ['2a00::1', 'global'],
])('%s is %s', (text, scope) => expect(scopeOf(address(text))).toBe(scope));

test('a block is private only when all of it is', () =>
  expect(['10.0.0.0/8', '172.16.0.0/12', '172.0.0.0/11'].map((text) => isPrivate(prefix(text)))).toEqual([
    true,
    true,
    false,
  ]));

describe('agrees with an independent implementation', () => {
  const v4 = fc.ipV4();
  const v6 = fc.bigInt({ min: 0n, max: (1n << 128n) - 1n });

  test('reading and writing IPv4 and IPv6', () => {
    fc.assert(fc.property(v4, (text) => formatAddress(address(text)) === ipaddr.parse(text).toString()));
    fc.assert(
      fc.property(v6, (value) => {
        const text = formatAddress({ family: 6, value });
        expect(address(text).value).toBe(value);
        const theirs = ipaddr.IPv6.parse(text).parts.reduce((sum, part) => (sum << 16n) | BigInt(part), 0n);
        expect(theirs).toBe(value);
      }),
    );
  });

  test('membership, network and broadcast address', () => {
    fc.assert(
      fc.property(v4, v4, fc.integer({ min: 0, max: 32 }), (a, b, length) => {
        const block = prefixOf(address(a), length);
        const cidr = `${a}/${length}`;
        expect(formatAddress(block)).toBe(ipaddr.IPv4.networkAddressFromCIDR(cidr).toString());
        expect(formatAddress(lastOf(block))).toBe(ipaddr.IPv4.broadcastAddressFromCIDR(cidr).toString());
        expect(contains(block, address(b))).toBe(ipaddr.IPv4.parse(b).match(ipaddr.IPv4.parseCIDR(cidr)));
      }),
    );
  });
});

describe('laws', () => {
  const block = fc
    .tuple(fc.ipV4(), fc.integer({ min: 8, max: 32 }))
    .map(([text, length]) => prefixOf(address(text), length));
  const size = (list: readonly Prefix[]): bigint => list.reduce((sum, prefix) => sum + sizeOf(prefix), 0n);

  test('what is free and what is used make up the whole, and share nothing', () => {
    fc.assert(
      fc.property(block, fc.array(block, { maxLength: 12 }), (outer, list) => {
        const used = list.filter((prefix) => contains(outer, prefix));
        const free = freeBlocks(outer, used);
        expect(free.some((prefix) => used.some((other) => overlaps(prefix, other)))).toBe(false);
        expect(size(free) + size(summarise(used))).toBe(sizeOf(outer));
      }),
    );
  });

  test('a summary is the shortest list for the same addresses: no two neighbours can be joined, none holds another', () => {
    fc.assert(
      fc.property(fc.array(block, { maxLength: 20 }), (list) => {
        const short = summarise(list);
        expect(list.every((prefix) => short.some((other) => contains(other, prefix)))).toBe(true);
        expect(
          short.some((prefix, at) => short.some((other, beside) => at !== beside && overlaps(prefix, other))),
        ).toBe(false);
        expect(summarise(short)).toEqual(short);
      }),
    );
  });

  test('the next free block is free, inside, and there is none before it', () => {
    fc.assert(
      fc.property(block, fc.array(block, { maxLength: 8 }), fc.integer({ min: 8, max: 32 }), (outer, used, length) => {
        const found = nextFreeBlock(outer, used, length);
        const room = freeBlocks(
          outer,
          used.filter((prefix) => overlaps(outer, prefix)),
        ).filter((block) => block.length <= length);
        const taken = used.some((prefix) => contains(prefix, outer));
        if (length < outer.length || taken || !room[0]) expect(found).toBeNull();
        else expect(formatPrefix(found!)).toBe(formatPrefix({ ...room[0], length }));
      }),
    );
  });
});
