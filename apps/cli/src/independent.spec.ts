import { spawnSync } from 'node:child_process';
import { type Prefix, bitsOf, formatPrefix, parsePrefix, prefixOf, split, summarise } from '@sobrin/core/address';
import { infoOf } from './address';

/** Python's own address module, one answer a line; written by others, after the same RFCs. */
const PYTHON = `
import ipaddress, json, sys
for line in sys.stdin:
    on = ipaddress.ip_interface(line.strip())
    net = on.network
    small = net.max_prefixlen - net.prefixlen <= 1
    v4 = on.version == 4
    first = net[0] if small else net[1]
    last = net[-1] if small or not v4 else net[-2]
    print(json.dumps({
        "family": on.version, "address": str(on.ip), "prefix": str(net), "network": str(net.network_address),
        "netmask": str(net.netmask) if v4 else None, "wildcard": str(net.hostmask) if v4 else None,
        "broadcast": str(net.broadcast_address) if v4 and not small else None,
        "first": str(first), "last": str(last), "usable": str(int(last) - int(first) + 1),
    }))
`;
/** Lists of blocks joined, and a block cut into parts, by the same module. */
const PYTHON_SETS = `
import ipaddress, json, sys
for line in sys.stdin:
    nets = [ipaddress.ip_network(one) for one in line.split()]
    first = nets[0]
    longer = min(first.max_prefixlen, first.prefixlen + 3)
    print(json.dumps({
        "joined": [str(one) for one in ipaddress.collapse_addresses(nets)],
        "parts": [str(one) for one in first.subnets(new_prefix=longer)],
    }))
`;
const RUNS = Number(process.env.SOBRIN_RUNS ?? 1);
const CASES = 4000 * RUNS;
const SETS = 2000 * RUNS;

/** A small repeatable source of numbers (mulberry32). */
function numbers(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return (t ^ (t >>> 14)) >>> 0;
  };
}
const next = numbers(84);
const groups = (count: number, size: number): number[] =>
  Array.from({ length: count }, () => (next() % 3 === 0 ? 0 : next() % size));
/** IPv6 addresses with runs of zeros, as RFC 5952 has most to say about these. */
const inputs = Array.from({ length: CASES }, (_one, at) =>
  at % 2
    ? `${groups(4, 256).join('.')}/${next() % 33}`
    : `${[0x2000 + (next() % 0x1000), ...groups(7, 65_536)].map((group) => group.toString(16)).join(':')}/${next() % 129}`,
);

/** Blocks of one family that lie close together, so that many of them are neighbours or lie in each other. */
const sets = Array.from({ length: SETS }, (_one, at) =>
  Array.from({ length: 1 + (next() % 12) }, () => {
    const [family, bits, start] = at % 2 ? ([4, 32, 0x0a540000n] as const) : ([6, 128, 0xfd5en << 112n] as const);
    const length = bits - (next() % 10);
    const value = start + BigInt(next() % 2048);
    return formatPrefix(prefixOf({ family, value }, length));
  }),
);

const python = spawnSync('python3', ['-c', PYTHON], { input: inputs.join('\n'), encoding: 'utf8', maxBuffer: 1 << 28 });
const present = python.error === undefined;
if (!present)
  console.warn('NOT TESTED: python3 is not on this machine, so addresses are not compared with its own module.');

(present ? test : test.skip)(`${CASES} random addresses are described as Python’s own module describes them`, () => {
  expect(python.stderr).toBe('');
  const answers = python.stdout.trim().split('\n');
  expect(answers).toHaveLength(CASES);
  for (const [at, answer] of answers.entries()) {
    const { input: _input, scope: _scope, ...ours } = infoOf(inputs[at]!) as unknown as Record<string, unknown>;
    expect({ case: inputs[at], ...ours }).toEqual({ case: inputs[at], ...(JSON.parse(answer) as object) });
  }
});

(present ? test : test.skip)(`${SETS} lists of blocks are joined, and cut, as Python’s own module does it`, () => {
  const answer = spawnSync('python3', ['-c', PYTHON_SETS], {
    input: sets.map((set) => set.join(' ')).join('\n'),
    encoding: 'utf8',
    maxBuffer: 1 << 28,
  });
  expect(answer.stderr).toBe('');
  const lines = answer.stdout.trim().split('\n');
  expect(lines).toHaveLength(SETS);
  for (const [at, line] of lines.entries()) {
    const blocks = sets[at]!.map((text) => {
      const read = parsePrefix(text);
      if (!read.ok) throw new Error(read.error.text);
      return read.value;
    });
    const [first] = blocks as [Prefix, ...Prefix[]];
    const parts = split(first, Math.min(bitsOf(first.family), first.length + 3));
    expect({
      case: sets[at],
      joined: summarise(blocks).map(formatPrefix),
      parts: parts.ok && parts.value.map(formatPrefix),
    }).toEqual({
      case: sets[at],
      ...(JSON.parse(line) as object),
    });
  }
});
