import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { sobrin } from './tests/sobrin';

const root = path.resolve(__dirname, '..', '..', '..');
const demo = path.join(root, 'demo', 'three-stations', 'lab.json');
const kernel = (name: string): string => path.join(root, 'fixtures', 'kernel-cases', name);

interface Pair {
  from: string;
  to: { device: string; address: string };
  outcome: string;
  reached: boolean;
  reason: null | { code: string; direction: string; at: { device?: string; port?: string }; text: string };
}
async function pairsOf(...args: string[]): Promise<Pair[]> {
  const { out } = await sobrin('reach', ...args, '--json');
  return (JSON.parse(out) as { pairs: Pair[] }).pairs;
}

describe('sobrin reach', () => {
  test('tells every pair of a device and an address of another, by name, with the reason of its own', async () => {
    const pairs = await pairsOf(demo);
    // 32 hosts with one address, a router with three and two with four, less what one has oneself.
    const addresses = new Set(pairs.map((one) => `${one.to.device} ${one.to.address}`));
    const devices = new Set(pairs.map((one) => one.from));
    expect(addresses.size).toBe(40);
    expect(pairs).toHaveLength(devices.size * addresses.size - addresses.size);
    expect(pairs.find((one) => one.from === 'DESK-1' && one.to.device === 'CAM-1')).toEqual({
      from: 'DESK-1',
      to: { device: 'CAM-1', address: '10.84.4.66' },
      outcome: 'yes',
      reached: true,
      reason: null,
    });
    for (const { from, reason } of pairs.filter((one) => one.reason?.code === 'NO_GATEWAY'))
      expect(reason!.text).toContain(from);
  });
  test.each(['010-filter.json', '031-nat.json', '006-ospf.json'])(
    'of %s it tells what was measured in a Linux kernel',
    async (name) => {
      const { expected } = JSON.parse(readFileSync(kernel(name), 'utf8')) as {
        expected: { pings: [string, string, string, string][]; tcp: [string, string, string, number, string][] };
      };
      const key = (from: string, to: string, address: string): string => `${from} ${to} ${address}`;
      const answers = new Map(
        (await pairsOf(kernel(name))).map((one) => [key(one.from, one.to.device, one.to.address), one]),
      );
      let compared = 0;
      for (const [from, to, address, measured] of expected.pings) {
        const ours = answers.get(key(from, to, address));
        if (!ours) continue; // an address that the source has itself
        compared++;
        expect([from, to, address, ours.outcome]).toEqual([from, to, address, measured === 'ok' ? 'yes' : 'no']);
      }
      expect(compared).toBeGreaterThan(10);
      for (const [from, to, address, port, measured] of expected.tcp ?? []) {
        const pairs = await pairsOf(kernel(name), '--protocol', 'tcp', '--port', String(port));
        const ours = pairs.find((one) => key(one.from, one.to.device, one.to.address) === key(from, to, address));
        expect([from, to, port, ours?.outcome]).toEqual([from, to, port, measured]);
      }
    },
    120_000,
  );
  test('one family, and in words those pairs that fail', async () => {
    expect((await pairsOf(kernel('008-dual.json'), '--family', '6')).every((one) => one.to.address.includes(':'))).toBe(
      true,
    );
    const { status, out } = await sobrin('reach', kernel('014-faulty.json'));
    expect(status).toBe(1);
    expect(out).toMatch(/ -> .*: no\. /);
    expect(out).toMatch(/\d+ yes, \d+ no\n$|\d+ no, \d+ yes\n$/);
  });
  test('questions that are none are refused in a sentence', async () => {
    for (const [args, why] of [
      [['--family', '5'], '--family is 4 or 6, not “5”.\n'],
      [['--protocol', 'tcp'], '--protocol tcp wants a --port from 1 to 65535.\n'],
      [['--port', '80'], '--port goes with --protocol tcp or udp.\n'],
      [['--protocol', 'x'], '--protocol is icmp, tcp or udp, not “x”.\n'],
    ] as const)
      expect(await sobrin('reach', demo, ...args)).toEqual({ status: 2, out: '', err: why });
    expect((await sobrin('reach', 'nowhere.json')).err).toBe('nowhere.json: There is no such file.\n');
    const folder = mkdtempSync(path.join(tmpdir(), 'sobrin-reach-'));
    writeFileSync(path.join(folder, 'a.json'), '{');
    expect((await sobrin('reach', path.join(folder, 'a.json'))).status).toBe(2);
    rmSync(folder, { recursive: true });
  });
});

test('sobrin trace tells each hop there and back, by name or address', async () => {
  const { status, out } = await sobrin('trace', demo, '--from', 'desk-1', '--to', '10.84.4.66', '--json');
  expect(status).toBe(0);
  const told = JSON.parse(out) as {
    outcome: string;
    request: { hops: { device: string; out: string | null }[] };
    reply: { delivered: string };
  };
  expect(told.request.hops.map((one) => one.device)).toEqual(['DESK-1', 'RT-V', 'RT-M', 'CAM-1']);
  expect([told.outcome, told.reply.delivered]).toEqual(['yes', 'DESK-1']);
  expect((await sobrin('trace', demo, '--from', 'DESK-1', '--to', 'CAM-1')).out).toMatch(
    /^there 1 {2}DESK-1: .*\nthere 2 {2}RT-V: /,
  );
  expect((await sobrin('trace', demo, '--from', 'DESK-1', '--to', 'NOBODY')).err).toContain('“NOBODY”');
  expect((await sobrin('trace', demo, '--from', 'NOBODY', '--to', 'CAM-1')).err).toContain('“NOBODY”');
});

test('sobrin tables tells interfaces, routes, leases, spanning tree and neighbours of a device', async () => {
  const tables = async (file: string, device: string): Promise<Record<string, unknown[]>> =>
    JSON.parse((await sobrin('tables', file, '--device', device, '--json')).out) as Record<string, unknown[]>;
  const ospf = await tables(kernel('006-ospf.json'), 'r1');
  expect(ospf.routes).toEqual(expect.arrayContaining([expect.objectContaining({ source: 'ospf', distance: 110 })]));
  expect(ospf.ospfNeighbours!.length).toBeGreaterThan(0);
  const [tree] = (await tables(kernel('005-stp.json'), 's1')).spanningTree as { root: string; ports: object[] }[];
  expect(tree!.ports.length).toBeGreaterThan(0);
  const { out } = await sobrin('tables', demo, '--device', 'RT-M');
  expect(out).toMatch(/prefix 10\.84\.0\.0\/22, via 10\.84\.15\.1, interface b1\.f0, source static/);
  expect((await sobrin('tables', demo, '--device', 'NOBODY')).err).toContain('“NOBODY”');
});
