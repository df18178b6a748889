import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { emptyTopology } from '@sobrin/core/topology';
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
    const addresses = new Set(pairs.map((pair) => `${pair.to.device} ${pair.to.address}`));
    const devices = new Set(pairs.map((pair) => pair.from));
    expect(addresses.size).toBe(40);
    expect(pairs).toHaveLength(devices.size * addresses.size - addresses.size);
    expect(pairs.find((pair) => pair.from === 'DESK-1' && pair.to.device === 'CAM-1')).toEqual({
      from: 'DESK-1',
      to: { device: 'CAM-1', address: '10.84.4.66' },
      outcome: 'yes',
      reached: true,
      reason: null,
    });
    for (const { from, reason } of pairs.filter((pair) => pair.reason?.code === 'NO_GATEWAY'))
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
        (await pairsOf(kernel(name))).map((pair) => [key(pair.from, pair.to.device, pair.to.address), pair]),
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
        const ours = pairs.find((pair) => key(pair.from, pair.to.device, pair.to.address) === key(from, to, address));
        expect([from, to, port, ours?.outcome]).toEqual([from, to, port, measured]);
      }
    },
    120_000,
  );
  test('one family, and in words those pairs that fail', async () => {
    expect(
      (await pairsOf(kernel('008-dual.json'), '--family', '6')).every((pair) => pair.to.address.includes(':')),
    ).toBe(true);
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
  const report = JSON.parse(out) as {
    outcome: string;
    request: { hops: { device: string; out: string | null }[] };
    reply: { delivered: string };
  };
  expect(report.request.hops.map((hop) => hop.device)).toEqual(['DESK-1', 'RT-V', 'RT-M', 'CAM-1']);
  expect([report.outcome, report.reply.delivered]).toEqual(['yes', 'DESK-1']);
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

describe('sobrin trace --pcap', () => {
  const TSHARK_CHECKS = ['ip', 'tcp', 'udp'].flatMap((protocol) => ['-o', `${protocol}.check_checksum:TRUE`]);
  /** Fields of each frame as an analyser made by others reads them; the last column holds what it finds wrong. */
  function analysed(capture: string, ...fields: string[]): { rows: string[][]; wrong: string[] } {
    const wanted = [...fields, '_ws.expert.message'].flatMap((field) => ['-e', field]);
    const args = ['-n', '-r', capture, ...TSHARK_CHECKS, '-T', 'fields', '-E', 'separator=|', ...wanted];
    const { stdout, status } = spawnSync('tshark', args, { encoding: 'utf8' });
    expect(status).toBe(0);
    const rows = stdout
      .trim()
      .split('\n')
      .map((line) => line.split('|'));
    return {
      rows,
      wrong: rows.map((row) => row.at(-1)!).filter((text) => /malformed|incorrect|bad checksum/i.test(text)),
    };
  }
  async function captured(...args: string[]): Promise<string> {
    const file = path.join(
      folder,
      `${args
        .join('-')
        .replaceAll(/[^A-Za-z0-9]+/g, '-')
        .slice(-60)}.pcap`,
    );
    await sobrin('trace', ...args, '--pcap', file);
    return file;
  }
  let folder = '';
  beforeAll(() => (folder = mkdtempSync(path.join(tmpdir(), 'sobrin-pcap-'))));
  afterAll(() => rmSync(folder, { recursive: true }));

  test('a ping is what an analyser says it is: same addresses, tags on the trunk, right checksums', async () => {
    const file = await captured(kernel('002-roas.json'), '--from', 'h2', '--to', '10.6.10.111');
    const { rows, wrong } = analysed(file, '_ws.col.Protocol', 'ip.src', 'ip.dst', 'vlan.id', 'icmp.type');
    expect(wrong).toEqual([]);
    const pings = rows.filter(([protocol]) => protocol === 'ICMP');
    expect(new Set(pings.map(([, from, to, , type]) => `${from} ${to} ${type}`))).toEqual(
      new Set(['10.6.30.34 10.6.10.111 8', '10.6.10.111 10.6.30.34 0']),
    );
    expect(new Set(pings.map(([, , , tag]) => tag))).toEqual(new Set(['', '30']));
    expect(rows.filter(([protocol]) => protocol === 'ARP')).toHaveLength(6);
  });
  test('a connection is asked for, accepted and acknowledged; one that is refused is reset', async () => {
    const at = (port: string) =>
      captured(kernel('010-filter.json'), '--from', tcp[0], '--to', tcp[2], '--protocol', 'tcp', '--port', port);
    const { expected } = JSON.parse(readFileSync(kernel('010-filter.json'), 'utf8')) as {
      expected: { tcp: [string, string, string, number, string][] };
    };
    const tcp = expected.tcp.find((row) => row[4] === 'open')!;
    const open = analysed(await at(String(tcp[3])), 'tcp.flags.str', 'tcp.dstport');
    expect(open.wrong).toEqual([]);
    const flags = open.rows.map(([text]) => text!.replaceAll('·', '')).filter(Boolean);
    expect([...new Set(flags)]).toEqual(['S', 'AS', 'A']);
  });
  test('IPv6 asks by neighbour discovery', async () => {
    const file = kernel('008-dual.json');
    const { expected } = JSON.parse(readFileSync(file, 'utf8')) as {
      expected: { pings: [string, string, string, string][] };
    };
    const [from, , address] = expected.pings.filter((ping) => ping[2].includes(':') && ping[3] === 'ok').at(-1)!;
    const { rows, wrong } = analysed(
      await captured(file, '--from', from, '--to', address),
      '_ws.col.Protocol',
      'icmpv6.type',
      'ipv6.dst',
    );
    expect(wrong).toEqual([]);
    expect(new Set(rows.map(([, type]) => type))).toEqual(new Set(['135', '136', '128', '129']));
    expect(rows.filter(([, type]) => type === '128').every(([, , to]) => to === address)).toBe(true);
  });
  test('a network of each family that was measured gives captures that an analyser reads without a complaint', async () => {
    const captures: string[] = [];
    for (const name of readdirSync(path.join(root, 'fixtures', 'kernel-cases'))
      .filter((name) => name.endsWith('.json'))
      // The families come in turn, twelve of them; the long form takes all networks.
      .slice(0, 12 * Number(process.env.SOBRIN_RUNS ?? 1))) {
      const { expected } = JSON.parse(readFileSync(kernel(name), 'utf8')) as { expected: { pings: string[][] } };
      for (const answer of ['ok', 'fail']) {
        const ping = expected.pings.filter((ping) => ping[3] === answer).at(-1);
        if (ping) captures.push(await captured(kernel(name), '--from', ping[0]!, '--to', ping[2]!));
      }
    }
    expect(captures.length).toBeGreaterThan(15);
    // One after the other in one file: starting the analyser takes longer than what it does.
    const together = path.join(folder, 'together.pcap');
    expect(spawnSync('mergecap', ['-a', '-F', 'pcap', '-w', together, ...captures]).status).toBe(0);
    const { rows, wrong } = analysed(together, 'frame.number');
    expect(rows.length).toBeGreaterThan(captures.length);
    if (wrong.length)
      expect(captures.map((capture) => [capture, analysed(capture, 'frame.number').wrong])).toEqual(
        captures.map((capture) => [capture, []]),
      );
    expect(wrong).toEqual([]);
  });
  const on = (port: string, more: object) => ({ [port]: { on: { kind: 'port', port }, ...more } });
  /** A, which leases its address, a router that relays, and a server for addresses and names. */
  const leased = (a: object, g0: object, g1: object, s: object, settings: object) => {
    const at = { x: 0, y: 0 };
    return {
      ...emptyTopology(),
      devices: {
        a: { name: 'A', model: 'desktop', at, interfaces: on('e0', a) },
        r: { name: 'R', model: 'border-router', at, interfaces: { ...on('g0', g0), ...on('g1', g1) } },
        s: {
          name: 'S',
          model: 'server',
          at,
          interfaces: on('e0', s),
          settings: { services: { dns: { enabled: true } }, ...settings },
        },
      },
      links: {
        one: { a: { device: 'a', port: 'e0' }, b: { device: 'r', port: 'g0' }, medium: 'crossover' },
        two: { a: { device: 's', port: 'e0' }, b: { device: 'r', port: 'g1' }, medium: 'crossover' },
      },
    };
  };
  test('a leased host that asks for a name: the lease by a relay, the name, and the ping, each as its standard has it', async () => {
    const drawing = leased(
      { v4: { dhcp: true } },
      { v4: { addresses: ['10.84.1.1/24'] }, relays: ['10.84.2.53'] },
      { v4: { addresses: ['10.84.2.1/24'] } },
      { v4: { addresses: ['10.84.2.53/24'] } },
      {
        gateway4: '10.84.2.1',
        dnsRecords: [{ name: 'shop.kestrel.example', type: 'A', value: '10.84.2.53' }],
        dhcpPools: [{ network: '10.84.1.0/24', router: '10.84.1.1', dns: ['10.84.2.53'] }],
      },
    );
    const file = path.join(folder, 'leased.json');
    writeFileSync(file, JSON.stringify(drawing));
    const capture = await captured(file, '--from', 'A', '--to', 'shop.kestrel.example');
    const { rows, wrong } = analysed(
      capture,
      ...['_ws.col.Protocol', 'dhcp.option.dhcp', 'dhcp.ip.your', 'dhcp.ip.relay', 'dhcp.option.router'],
      ...['dns.qry.name', 'dns.a', 'icmp.type', 'ip.src', 'ip.dst'],
    );
    expect(wrong).toEqual([]);
    const leases = rows.filter(([protocol]) => protocol === 'DHCP');
    // Discover, offer, request and acknowledgement, each on both sides of the relay.
    expect(leases.map(([, type]) => type)).toEqual(['1', '1', '2', '2', '3', '3', '5', '5']);
    expect(leases.map(([, , , relay]) => relay)).toEqual([
      ...['0.0.0.0', '10.84.1.1', '10.84.1.1', '10.84.1.1', '0.0.0.0', '10.84.1.1', '10.84.1.1', '10.84.1.1'],
    ]);
    expect(leases.at(-1)!.slice(2, 5)).toEqual(['10.84.1.2', '10.84.1.1', '10.84.1.1']);
    const names = rows.filter(([protocol]) => protocol === 'DNS');
    expect(new Set(names.map((row) => row[5]))).toEqual(new Set(['shop.kestrel.example']));
    expect(names.at(-1)![6]).toBe('10.84.2.53');
    const pings = rows.filter((row) => row[7]);
    expect(new Set(pings.map((row) => row.slice(7, 10).join(' ')))).toEqual(
      new Set(['8 10.84.1.2 10.84.2.53', '0 10.84.2.53 10.84.1.2']),
    );
  });
  test('the same by IPv6: what the relay passes on is the whole message, and the address given is the one that is used', async () => {
    const drawing = leased(
      { v6: { dhcp: 'stateful' } },
      { v6: { addresses: ['2001:db8:84:1::1/64'], ra: { managed: true } }, relays: ['2001:db8:84:2::53'] },
      { v6: { addresses: ['2001:db8:84:2::1/64'] } },
      { v6: { addresses: ['2001:db8:84:2::53/64'] } },
      {
        gateway6: '2001:db8:84:2::1',
        dnsRecords: [{ name: 'shop.kestrel.example', type: 'AAAA', value: '2001:db8:84:2::53' }],
        dhcp6Pools: [{ network: '2001:db8:84:1::/64', dns: ['2001:db8:84:2::53'] }],
      },
    );
    const file = path.join(folder, 'leased6.json');
    writeFileSync(file, JSON.stringify(drawing));
    const capture = await captured(file, '--from', 'A', '--to', 'shop.kestrel.example', '--family', '6');
    const { rows, wrong } = analysed(
      capture,
      ...['_ws.col.Protocol', 'dhcpv6.msgtype', 'dhcpv6.iaaddr.ip', 'dhcpv6.linkaddr', 'dhcpv6.dns_server'],
      ...['dns.aaaa', 'icmpv6.type', 'ipv6.src', 'ipv6.dst'],
    );
    expect(wrong).toEqual([]);
    const leases = rows.filter(([protocol]) => protocol === 'DHCPv6');
    // Solicit, advertise, request and reply; those of the relay have the message of the client or the server in them.
    expect(leases.map(([, type]) => type)).toEqual(['1', '12,1', '13,2', '2', '3', '12,3', '13,7', '7']);
    expect(leases[1]![3]).toBe('2001:db8:84:1::1');
    expect(leases.at(-1)![4]).toBe('2001:db8:84:2::53');
    const [own] = [leases.at(-1)![2]!];
    expect(own).toMatch(/^2001:db8:84:1::/);
    expect(rows.filter((row) => row[5]).at(-1)![5]).toBe('2001:db8:84:2::53');
    const pings = rows.filter(([, , , , , , type]) => type === '128' || type === '129');
    expect(new Set(pings.map((row) => row.slice(6, 9).join(' ')))).toEqual(
      new Set([`128 ${own} 2001:db8:84:2::53`, `129 2001:db8:84:2::53 ${own}`]),
    );
  });
  test('a place that cannot be written to is told', async () => {
    const { status, err } = await sobrin(
      'trace',
      demo,
      '--from',
      'DESK-1',
      '--to',
      'CAM-1',
      '--pcap',
      '/nowhere/x.pcap',
    );
    expect(status).toBe(2);
    expect(err).toMatch(/nowhere\/x\.pcap: it cannot be written/);
  });
});

test('a trace goes to a name that a server of the source knows', async () => {
  const folder = mkdtempSync(path.join(tmpdir(), 'sobrin-names-'));
  const interfaceConfig = (address: string) => ({
    e0: { on: { kind: 'port', port: 'e0' }, v4: { addresses: [address] } },
  });
  const at = { x: 0, y: 0 };
  const file = path.join(folder, 'names.json');
  const records = [{ name: 'shop.example', type: 'A', value: '10.0.0.2' }];
  writeFileSync(
    file,
    JSON.stringify({
      format: 'sobrin-topology',
      version: 1,
      sites: {},
      devices: {
        a: {
          name: 'A',
          model: 'desktop',
          at,
          interfaces: interfaceConfig('10.0.0.1/24'),
          settings: { dns: ['10.0.0.2'] },
        },
        b: {
          name: 'B',
          model: 'server',
          at,
          interfaces: interfaceConfig('10.0.0.2/24'),
          settings: { dnsRecords: records, services: { dns: { enabled: true } } },
        },
      },
      links: { l: { a: { device: 'a', port: 'e0' }, b: { device: 'b', port: 'e0' }, medium: 'crossover' } },
    }),
  );
  expect((await sobrin('trace', file, '--from', 'A', '--to', 'shop.example')).out).toMatch(/yes/);
  const { status, err } = await sobrin('trace', file, '--from', 'A', '--to', 'nobody.example');
  expect([status, err]).toEqual([2, expect.stringMatching(/“nobody\.example”\. B knows no nobody\.example\./)]);
  rmSync(folder, { recursive: true });
});

test('sobrin sign-in says whether one gets in, by each way, and whether one may change settings there', async () => {
  const folder = mkdtempSync(path.join(tmpdir(), 'sobrin-sign-in-'));
  try {
    const file = path.join(folder, 'a.json');
    const at = { x: 0, y: 0 };
    const address = (text: string) => ({ v4: { addresses: [text] } });
    writeFileSync(
      file,
      JSON.stringify({
        ...emptyTopology(),
        devices: {
          r: {
            name: 'RT',
            model: 'border-router',
            at,
            interfaces: { g0: { on: { kind: 'port', port: 'g0' }, ...address('10.0.0.1/24') } },
            settings: { management: { ssh: true, users: [{ name: 'maren', password: 'x' }] } },
          },
          p: {
            name: 'PC',
            model: 'desktop',
            at,
            interfaces: { e0: { on: { kind: 'port', port: 'e0' }, ...address('10.0.0.9/24') } },
          },
        },
        links: { l: { a: { device: 'r', port: 'g0' }, b: { device: 'p', port: 'e0' }, medium: 'crossover' } },
      }),
    );
    const asked = (...more: string[]) => sobrin('sign-in', file, '--from', 'PC', '--to', 'RT', ...more);
    expect(await asked('--by', 'ssh')).toMatchObject({ status: 0, out: 'yes: maren can sign in at RT by ssh.\n' });
    expect(await asked('--by', 'telnet')).toMatchObject({ status: 1, out: 'no: RT does not take telnet.\n' });
    expect(await asked('--by', 'console')).toMatchObject({ status: 1 });
    const changing = await asked('--by', 'ssh', '--changing', '--json');
    expect([changing.status, JSON.parse(changing.out)]).toMatchObject([1, { answer: 'no' }]);
    expect(await asked('--by', 'pigeon')).toMatchObject({
      status: 2,
      err: expect.stringMatching(/ssh, telnet, console/) as string,
    });
  } finally {
    rmSync(folder, { recursive: true });
  }
});
